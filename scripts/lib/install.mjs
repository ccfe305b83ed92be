import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { BROWSER } from './browser.mjs';
import { Plain, ROOT, isRoot } from './paths.mjs';

const ENV = { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' };

function run(command, args, what, env = ENV) {
  const done = spawnSync(command, args, { cwd: ROOT, stdio: ['ignore', 'inherit', 'inherit'], env });
  if (done.error || done.status !== 0)
    throw new Plain(`${what} failed (${done.error?.message ?? `exit ${done.status}`}).`);
}

export function checkNode() {
  const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 10))
    throw new Plain(`Contactum needs Node.js 20.10 or newer; this is ${process.versions.node}.`);
}

/** npm packages as the lock file names them; installed again only when the lock file has changed. */
export function ensurePackages() {
  const lock = readFileSync(join(ROOT, 'package-lock.json'), 'utf8');
  const stamp = join(ROOT, 'node_modules', '.contactum-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing npm packages …');
  run('npm', ['ci', '--no-audit', '--no-fund'], 'Installing npm packages');
  writeFileSync(stamp, lock);
}

function onPath(names) {
  return names.some((name) => spawnSync('sh', ['-c', `command -v ${name}`]).status === 0);
}

/**
 * A Debian package that gives one of these commands; as root it is installed, otherwise the command to do
 * it is told.
 */
function ensureDebian(name, present, prepare = () => {}) {
  if (present()) return;
  const command = `apt-get update && apt-get install -y --no-install-recommends ${name}`;
  if (!isRoot)
    throw new Plain(
      `${name} is missing and installing it needs root. Run this once, then start again:\n\n  sudo sh -c '${command}'`,
    );
  if (!onPath(['apt-get']))
    throw new Plain(`${name} is missing and there is no apt-get here. Install ${name} and start again.`);
  console.log(`Installing ${name} from Debian's packages …`);
  prepare();
  const env = { ...ENV, DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['-qq', 'update'], 'Updating the list of Debian packages', env);
  run('apt-get', ['-qq', 'install', '-y', '--no-install-recommends', name], `Installing ${name}`, env);
  if (!present()) throw new Plain(`${name} was installed but its programs are not found.`);
}

export function ensurePostgres(findBinaries) {
  ensureDebian(
    'postgresql',
    () => findBinaries() !== null,
    () => {
      // Debian would start a cluster of its own; this project keeps one on loopback instead.
      const folder = '/etc/postgresql-common/createcluster.d';
      mkdirSync(folder, { recursive: true });
      writeFileSync(join(folder, 'no-main.conf'), 'create_main_cluster = false\n');
    },
  );
}

/** For the check of HTTPS behind a proxy alone. */
export function ensureNginx() {
  ensureDebian('nginx-light', () => onPath(['nginx']));
}

/** What reads PDFs in the tests. */
export function ensurePoppler() {
  ensureDebian('poppler-utils', () => onPath(['pdftotext']));
}

export function ensureChromium() {
  ensureDebian(
    'chromium',
    () => existsSync(BROWSER.executablePath) && statSync(BROWSER.executablePath).size > 0,
  );
}
