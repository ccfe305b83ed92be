import { spawn, spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { Plain, ROOT } from './paths.mjs';
import { SERVER_DIST, WEB_DIST } from './build.mjs';

export function serverEnvironment({ databaseUrl, sessionSecret, port, ...more }) {
  return {
    // Key derivation takes and gives back 32 MB each time: kept in the process, its pages need not be made
    // anew (a quarter of the time).
    MALLOC_MMAP_THRESHOLD_: '134217728',
    MALLOC_TRIM_THRESHOLD_: '268435456',
    ...process.env,
    NODE_ENV: 'production',
    DATABASE_URL: databaseUrl,
    SESSION_SECRET: sessionSecret,
    PORT: String(port),
    WEB_ROOT: WEB_DIST,
    ...more,
  };
}

/** Ends every process of a group that a killed one left. */
export function endGroup(pid, signal = 'SIGKILL') {
  try {
    process.kill(-pid, signal);
  } catch {
    // Already gone.
  }
}

/** Fills an empty database with the demo college. */
export function seed(env) {
  const done = spawnSync(process.execPath, [join(SERVER_DIST, 'seed.mjs')], {
    env,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  if (done.status !== 0) throw new Plain('Loading the demo data failed.');
}

/**
 * Starts the server and waits until it listens; resolves to its process and port. What it says of its own
 * processes goes to `say`.
 */
export function launch(env, say = () => {}) {
  const child = spawn(process.execPath, [join(SERVER_DIST, 'main.mjs')], {
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
    detached: true,
  });
  return new Promise((resolve, reject) => {
    let wrong = '';
    child.stderr.on('data', (chunk) => {
      wrong = (wrong + chunk).slice(-2000);
      process.stderr.write(chunk);
    });
    let text = '';
    child.stdout.on('data', (chunk) => {
      text += chunk;
      const lines = text.split('\n');
      text = lines.pop() ?? '';
      for (const line of lines) {
        const found = /^listening (\d+)$/.exec(line);
        if (found) resolve({ child, port: Number(found[1]) });
        else say(line);
      }
    });
    child.once('error', (error) => reject(new Plain(`The server cannot be started: ${error.message}`)));
    child.once('exit', (code) =>
      reject(
        new Plain(
          `The server stopped at once (exit ${code})${wrong ? `: ${wrong.trim().split('\n').at(-1)}` : ''}.`,
        ),
      ),
    );
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

/** Starts a service of some web processes over the demo's data, on a port of its own choosing. */
export async function launchDemo({ sessionSecret }, databaseUrl, webProcesses) {
  const env = serverEnvironment({ databaseUrl, sessionSecret, port: 0, WEB_PROCESSES: String(webProcesses) });
  seed(env);
  const { child, port } = await launch(env);
  return { child, base: `http://127.0.0.1:${port}` };
}
