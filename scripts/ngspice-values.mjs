/**
 * Makes packages/core/test/fixtures/ngspice/values.json anew: runs every deck there through ngspice (Debian's
 * package) and keeps what it prints for the lines `*@ what = expression hertz`. The decks are written by hand.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT } from './lib/paths.mjs';

const folder = join(ROOT, 'packages', 'core', 'test', 'fixtures', 'ngspice');
const scratch = mkdtempSync(join(tmpdir(), 'decks-'));
const values = {};
for (const file of readdirSync(folder).filter((name) => name.endsWith('.cir'))) {
  const deck = readFileSync(join(folder, file), 'utf8');
  const asked = [...deck.matchAll(/^\*@ (.+?) = (.+) (\d+)$/gm)].map(([, what, expression, hertz]) => ({ what, expression, hertz: Number(hertz) }));
  const commands = asked.flatMap(({ expression, hertz }, k) => [hertz === 0 ? 'op' : `ac lin 1 ${hertz} ${hertz}`, `let answer${k} = ${expression}`, `print answer${k}`]);
  const control = ['.control', 'set numdgt=9', ...commands, 'quit', '.endc', '.end'].join('\n');
  const run = join(scratch, file);
  writeFileSync(run, deck.replace(/^\.end\s*$/m, control));
  const done = spawnSync('ngspice', ['-b', run], { encoding: 'utf8' });
  values[file.replace('.cir', '')] = Object.fromEntries(
    asked.map(({ what }, k) => {
      const found = new RegExp(`answer${k} = (\\S+)`).exec(done.stdout);
      if (!found) throw new Error(`${file}: ngspice gave no value for ${what}\n${done.stdout}\n${done.stderr}`);
      return [what, Number(found[1].split(',')[0])];
    }),
  );
}
rmSync(scratch, { recursive: true });
writeFileSync(join(folder, 'values.json'), `${JSON.stringify(values, null, 2)}\n`);
console.log(`${Object.keys(values).length} decks, ${Object.values(values).reduce((n, v) => n + Object.keys(v).length, 0)} values`);
