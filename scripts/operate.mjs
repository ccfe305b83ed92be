/**
 * `npm run backup`, `npm run restore` and `npm run admin`: what whoever looks after the service does at the machine. They work on the
 * database that DATABASE_URL names, or on that of `npm start`.
 */
import { spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { buildServer, SERVER_DIST } from './lib/build.mjs';
import { Plain, dataFolder, tellAndExit } from './lib/paths.mjs';
import { backup, restore } from './lib/keeping.mjs';
import { openCluster } from './lib/postgres.mjs';

const USAGE = `usage:
  npm run backup [-- FILE]       everything into one file (contactum-DATE.backup where none is named)
  npm run restore -- FILE        the database as it was in the file; what was there is kept beside it
  npm run admin -- COMMAND …     create LOGIN "FULL NAME", reset LOGIN, people, key, keys, schema, back
`;

/** The database to work on, and what is to be undone after it. */
async function database() {
  const { DATABASE_URL } = process.env;
  if (DATABASE_URL) return { url: DATABASE_URL, done: () => undefined };
  const { url, stop } = await openCluster(dataFolder(process.env.CONTACTUM_DATA ?? 'live'));
  return { url: url('contactum'), done: stop };
}

const megabytes = (file) => (statSync(file).size / 1e6).toFixed(1);

const stamp = () => new Date().toISOString().slice(0, 19).replaceAll(':', '').replace('T', '-');

async function main([command, ...words]) {
  if (!['backup', 'restore', 'admin'].includes(command)) throw new Plain(USAGE);
  if (command === 'restore') {
    if (!words[0]) throw new Plain(USAGE);
    if (!existsSync(words[0])) throw new Plain(`There is no file ${words[0]}.`);
  }
  const { url, done } = await database();
  try {
    if (command === 'backup') {
      const file = resolve(words[0] ?? `contactum-${stamp()}.backup`);
      const { tables } = backup(url, file);
      console.log(`${file}: ${tables} tables, ${megabytes(file)} MB, read back once.`);
    } else if (command === 'restore') {
      const begun = performance.now();
      const { counts, kept } = await restore(url, resolve(words[0]));
      const seconds = ((performance.now() - begun) / 1000).toFixed(1);
      console.log(
        `Restored in ${seconds} s: ${counts.people} people, ${counts.classes} classes, ${counts.attempts} attempts, ${counts.markings} markings.`,
      );
      if (kept)
        console.log(`What was there before is the database ${kept}. Drop it when it is not wanted any more.`);
    } else {
      await buildServer();
      const { status } = spawnSync(process.execPath, [join(SERVER_DIST, 'admin.mjs'), ...words], {
        stdio: 'inherit',
        env: { ...process.env, DATABASE_URL: url },
      });
      if (status !== 0) process.exitCode = status ?? 1;
    }
  } finally {
    done();
  }
}

try {
  await main(process.argv.slice(2));
} catch (error) {
  tellAndExit(error);
}
