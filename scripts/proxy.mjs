/**
 * `npm run proxy`: the example of HTTPS in front of the service (deploy/nginx.conf) as it stands, but for its name, ports and certificate:
 * signing in, the session's cookie, the sender's address, live lines, and what a plain connection is told.
 */
import assert from 'node:assert/strict';
import { spawn, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:https';
import { get } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { WebSocket } from 'ws';
import { buildServer, buildWeb } from './lib/build.mjs';
import { ensureNginx, ensurePostgres } from './lib/install.mjs';
import { pause } from './lib/measure.mjs';
import { ROOT, dataFolder, tellAndExit } from './lib/paths.mjs';
import { ensureDatabase, findBinaries, freePort, startCluster } from './lib/postgres.mjs';
import { halt, launch, seed, serverEnvironment } from './lib/server.mjs';

const NAME = 'board.college.example';

const cleanup = [];
try {
  ensurePostgres(findBinaries);
  ensureNginx();
  await buildServer();
  await buildWeb();
  const folder = mkdtempSync(join(tmpdir(), 'contactum-proxy-'));
  cleanup.push(() => rmSync(folder, { recursive: true, force: true }));
  const cluster = await startCluster(dataFolder('proxy'));
  cleanup.push(() => cluster.stop());
  const databaseUrl = await ensureDatabase(cluster, `proxy_${randomUUID().replaceAll('-', '')}`);
  const env = serverEnvironment({
    databaseUrl,
    sessionSecret: cluster.sessionSecret,
    port: 0,
    HOST: '127.0.0.1',
    ALLOWED_HOSTS: NAME,
    SECURE_COOKIE: '1',
    TRUST_PROXY: '1',
    WEB_PROCESSES: '2',
  });
  seed(env);
  const { child, port } = await launch(env);
  cleanup.push(() => halt(child));

  const [key, certificate] = ['key.pem', 'certificate.pem'].map((name) => join(folder, name));
  const made = spawnSync(
    'openssl',
    `req -x509 -newkey rsa:2048 -nodes -days 2 -keyout ${key} -out ${certificate} -subj /CN=${NAME} -addext subjectAltName=DNS:${NAME}`.split(
      ' ',
    ),
  );
  assert.equal(made.status, 0, String(made.stderr));
  const [plain, secure] = [await freePort(), await freePort()];
  const example = readFileSync(join(ROOT, 'deploy', 'nginx.conf'), 'utf8')
    .replace('127.0.0.1:4180', `127.0.0.1:${port}`)
    .replace('listen 80;', `listen 127.0.0.1:${plain};`)
    .replace('listen 443 ssl;', `listen 127.0.0.1:${secure} ssl;`)
    .replace(`/etc/ssl/certs/${NAME}.pem`, certificate)
    .replace(`/etc/ssl/private/${NAME}.key`, key);
  const file = join(folder, 'nginx.conf');
  const places = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
    (kind) => `${kind}_temp_path ${join(folder, kind)};`,
  );
  writeFileSync(
    file,
    `daemon off;\npid ${join(folder, 'nginx.pid')};\nerror_log ${join(folder, 'error.log')};\nevents {}\nhttp {\naccess_log off;\n${places.join('\n')}\n${example}\n}\n`,
  );
  const checked = spawnSync('nginx', ['-t', '-c', file], { encoding: 'utf8' });
  assert.equal(checked.status, 0, checked.stderr);
  const proxy = spawn('nginx', ['-c', file], { stdio: 'inherit' });
  cleanup.push(() => proxy.kill('SIGTERM'));
  await pause(800);

  const ca = readFileSync(certificate);
  const at = { host: '127.0.0.1', port: secure, servername: NAME, ca };
  const ask = (method, path, { body, cookie, address } = {}) =>
    new Promise((resolve, reject) => {
      const headers = {
        host: NAME,
        ...(body ? { 'content-type': 'application/json' } : {}),
        ...(cookie ? { cookie } : {}),
        ...(address ? { 'x-forwarded-for': address } : {}),
      };
      const call = request({ ...at, method, path, headers }, (response) => {
        let text = '';
        response.on('data', (chunk) => (text += chunk));
        response.on('end', () => resolve({ status: response.statusCode, headers: response.headers, text }));
      });
      call.on('error', reject);
      call.end(body ? JSON.stringify(body) : undefined);
    });

  const moved = await new Promise((resolve) =>
    get({ host: '127.0.0.1', port: plain, path: '/classes', headers: { host: NAME } }, resolve),
  );
  assert.deepEqual([moved.statusCode, moved.headers.location], [301, `https://${NAME}/classes`]);
  assert.match((await ask('GET', '/')).text, /<div id="root">/);
  const signed = await ask('POST', '/api/session', { body: { login: 'brack', password: 'tidewater' } });
  assert.equal(signed.status, 201, signed.text);
  const set = signed.headers['set-cookie'].find((one) => one.startsWith('contactum.session='));
  assert.match(set, /; Secure/);
  assert.match(set, /; HttpOnly/);
  const cookie = set.split(';')[0];
  const classes = JSON.parse((await ask('GET', '/api/classes', { cookie })).text);
  assert.ok(classes.length > 0);
  const live = new WebSocket(`wss://127.0.0.1:${secure}/api/classes/${classes[0].id}/floor`, {
    ca,
    servername: NAME,
    headers: { host: NAME, cookie, origin: `https://${NAME}` },
  });
  const news = await new Promise((resolve, reject) => {
    live.once('message', (data) => resolve(JSON.parse(String(data))));
    live.once('error', reject);
  });
  assert.equal(news.kind, 'benches');
  live.terminate();
  // Another site's page gets no live line, and nobody chooses the address that a sign-in is counted for.
  const strange = new WebSocket(`wss://127.0.0.1:${secure}/api/classes/${classes[0].id}/floor`, {
    ca,
    servername: NAME,
    headers: { host: NAME, cookie, origin: 'https://elsewhere.example' },
  });
  const refused = await new Promise((resolve) => strange.once('error', (error) => resolve(error.message)));
  assert.match(refused, /403/);
  const wrong = { login: 'brack', password: 'wrong' };
  await ask('POST', '/api/session', { body: wrong, address: '203.0.113.9' });
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const { rows } = await client.query('select key from sign_in_failures');
  await client.end();
  assert.ok(rows.length > 0 && rows.every((row) => !row.key.includes('203.0.113.9')), JSON.stringify(rows));
  console.log(
    'HTTPS by deploy/nginx.conf: moved from plain, signed in with a Secure cookie, a live line, a strange page refused, the address believed is the proxy’s.',
  );
} catch (error) {
  process.exitCode = 1;
  for (const undo of cleanup.reverse()) await undo();
  tellAndExit(error);
}
for (const undo of cleanup.reverse()) await undo();
process.exit(0);
