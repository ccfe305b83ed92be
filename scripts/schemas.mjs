/** `npm run schemas`: writes the JSON Schemas of the documents into docs/formats, as the code has them. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { format, resolveConfig } from 'prettier';
import { ROOT, Plain, tellAndExit } from './lib/paths.mjs';

const COMMAND = join(ROOT, 'packages', 'cli', 'bin', 'contactum.mjs');

function schema(...words) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [COMMAND, 'schema', ...words, '--json'], {
    encoding: 'utf8',
  });
  if (status !== 0) throw new Plain(stderr);
  return JSON.parse(stdout);
}

try {
  const folder = join(ROOT, 'docs', 'formats');
  mkdirSync(folder, { recursive: true });
  for (const kind of schema()) {
    const file = join(folder, `${kind}-1.schema.json`);
    const text = JSON.stringify(schema(kind), null, 2);
    writeFileSync(file, await format(text, { ...(await resolveConfig(file)), parser: 'json' }));
    console.log(file);
  }
} catch (error) {
  tellAndExit(error);
}
