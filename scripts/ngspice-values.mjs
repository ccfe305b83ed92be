/**
 * Makes the values of packages/core/test/fixtures/ngspice anew with ngspice (Debian's package).
 * `values.json`: what it prints for the lines `*@ what = expression hertz` of the decks there, which are
 * written by hand. `exported.json`: RMS volts of every terminal of the boards in `exported.mjs`, from decks
 * that `toSpice` writes. `transient/values.json`: event times of starts in time, by hand.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { exportedBoards } from '../packages/core/test/fixtures/ngspice/exported.mjs';
import { loadCore, value } from './lib/core.mjs';
import { ROOT } from './lib/paths.mjs';

const folder = join(ROOT, 'packages', 'core', 'test', 'fixtures', 'ngspice');
const scratch = mkdtempSync(join(tmpdir(), 'decks-'));

/** Runs a deck with control lines and returns the numbers printed as answer0, answer1, … */
function ask(name, deck, questions) {
  const commands = questions.flatMap(({ expression, hertz }, k) => [
    hertz === 0 ? 'op' : `ac lin 1 ${hertz} ${hertz}`,
    `let answer${k} = ${expression}`,
    `print answer${k}`,
  ]);
  const run = join(scratch, `${name.replace(/\W+/g, '-')}.cir`);
  writeFileSync(
    run,
    deck.replace(
      /^\.end\s*$/m,
      ['.control', 'set numdgt=9', ...commands, 'quit', '.endc', '.end'].join('\n'),
    ),
  );
  const done = spawnSync('ngspice', ['-b', run], { encoding: 'utf8' });
  return questions.map((_, k) => {
    const found = new RegExp(`answer${k} = (\\S+)`).exec(done.stdout);
    if (!found)
      throw new Error(
        `${name}: ngspice gave no value for ${questions[k].expression}\n${done.stdout}\n${done.stderr}`,
      );
    return Number(found[1].split(',')[0]);
  });
}

const values = {};
for (const file of readdirSync(folder).filter((name) => name.endsWith('.cir'))) {
  const deck = readFileSync(join(folder, file), 'utf8');
  const asked = [...deck.matchAll(/^\*@ (.+?) = (.+) (\d+)$/gm)].map(([, what, expression, hertz]) => ({
    what,
    expression,
    hertz: Number(hertz),
  }));
  const answers = ask(file, deck, asked);
  values[file.replace('.cir', '')] = Object.fromEntries(asked.map(({ what }, k) => [what, answers[k]]));
}
writeFileSync(join(folder, 'values.json'), `${JSON.stringify(values, null, 2)}\n`);

const transient = {};
for (const file of readdirSync(join(folder, 'transient')).filter((name) => name.endsWith('.cir'))) {
  const { stdout } = spawnSync('ngspice', ['-b', join(folder, 'transient', file)], { encoding: 'utf8' });
  transient[file.replace('.cir', '')] = Object.fromEntries(
    [...stdout.matchAll(/^(\w+)\s+=\s+(\S+)/gm)]
      .filter(([, name]) => /^(km\d|speed)/.test(name))
      .map(([, name, value]) => [name, Number(value)]),
  );
}
writeFileSync(join(folder, 'transient', 'values.json'), `${JSON.stringify(transient, null, 2)}\n`);

const core = await loadCore();
const exported = {};
for (const { name, bench, steps, faults } of exportedBoards(core.shippedExercise)) {
  const sound = new core.Solver(core.compile(value(core.readBench(bench))));
  const simulation = new core.Simulation(sound, undefined, false, faults.map(core.readFault));
  const { circuit } = simulation.solver;
  if (core.isShorted(simulation.solver.at(circuit.initial))) {
    if (faults.length > 0) throw new Error(`${name} is shorted`);
    continue;
  }
  for (const step of steps) {
    simulation.apply(step);
    simulation.settle();
  }
  // What is lost or burnt on the way is part of the state; a board that trips tells nothing more.
  const hertz = circuit.frequencies.at(-1);
  const questions = circuit.terminals.flatMap((ref, terminal) => {
    const node = core.nodeName(circuit, terminal);
    return node === '0' ? [] : [{ ref, expression: hertz === 0 ? `v(${node})` : `mag(v(${node}))`, hertz }];
  });
  const deck = core.toSpice(circuit, simulation.state, name);
  const nodes = new Set(deck.split(/\s+/));
  const known = questions.filter(({ expression }) => nodes.has(/\((n_\w+)\)/.exec(expression)[1]));
  const answers = ask(name, deck, known);
  exported[name] = Object.fromEntries(known.map(({ ref }, k) => [ref, Number(answers[k].toPrecision(7))]));
}
writeFileSync(join(folder, 'exported.json'), `${JSON.stringify(exported)}\n`);
rmSync(scratch, { recursive: true });
const count = (sets) => Object.values(sets).reduce((n, set) => n + Object.keys(set).length, 0);
console.log(
  `${Object.keys(values).length} decks by hand, ${count(values)} values; ${Object.keys(exported).length} exported, ${count(exported)} values`,
);
