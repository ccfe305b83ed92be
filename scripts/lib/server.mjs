import { spawn, spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { Plain, ROOT } from './paths.mjs';
import { SERVER_DIST, WEB_DIST } from './build.mjs';

export function serverEnvironment({ databaseUrl, sessionSecret, port, ...more }) {
  return {
    ...process.env,
    NODE_ENV: 'production',
    DATABASE_URL: databaseUrl,
    SESSION_SECRET: sessionSecret,
    PORT: String(port),
    WEB_ROOT: WEB_DIST,
    EXERCISES: join(ROOT, 'packages', 'core', 'exercises'),
    ...more,
  };
}

/** Fills an empty database with the demo college. */
export function seed(env) {
  const done = spawnSync(process.execPath, [join(SERVER_DIST, 'seed.mjs')], { env, encoding: 'utf8', stdio: ['ignore', 'pipe', 'inherit'] });
  if (done.status !== 0) throw new Plain('Loading the demo data failed.');
}

/** Starts the server and waits until it listens; resolves to its process and port. */
export function launch(env) {
  const child = spawn(process.execPath, [join(SERVER_DIST, 'main.mjs')], { env, stdio: ['ignore', 'pipe', 'inherit'], detached: true });
  return new Promise((resolve, reject) => {
    let text = '';
    child.stdout.on('data', (chunk) => {
      text += chunk;
      const found = /listening (\d+)/.exec(text);
      if (found) resolve({ child, port: Number(found[1]) });
    });
    child.once('exit', (code) => reject(new Plain(`The server stopped at once (exit ${code}).`)));
  });
}

/** Asks the server to end, and ends it where it does not. */
export async function halt(child) {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const gone = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  const timer = setTimeout(() => child.kill('SIGKILL'), 8000);
  await gone;
  clearTimeout(timer);
}
