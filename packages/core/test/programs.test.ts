import { describe, expect, test } from '@jest/globals';
import {
  Simulation,
  Solver,
  branchedAt,
  compile,
  connectionsOf,
  elementAt,
  freshVariable,
  grade,
  insertedAfter,
  ladderRung,
  programIn,
  programProblems,
  programText,
  prove,
  readProgramText,
  referenceBench,
  removedAt,
  renamed,
  wiredVariables,
  withTask,
  type Bench,
  type Program,
  type ReadText,
} from '@contactum/core';
import { readBench } from '@contactum/core/documents';
import { programXml, readProgramXml } from '@contactum/core/exchange';
import { ProgramExplorer, type Feed } from './fuzz/program-explorer.js';
import { PlainScanner, randomBits, randomProgram } from './fuzz/scanner.js';
import { exercise, longRuns, must, seeded } from './help.js';

const SCAN = 0.01;
const FILTER = 0.003;
const BUTTONS = ['S0', 'S1', 'S2', 'S3'] as const;

/** A controller with four buttons on its inputs. */
const controllerBoard = (program: Program): Bench =>
  must(
    readBench({
      contactum: 'bench/1',
      title: 'Controller',
      devices: [
        { tag: 'G2', type: 'supply-dc' },
        { tag: 'A1', type: 'plc', settings: { program } },
        ...BUTTONS.map((tag) => ({ tag, type: 'pushbutton', duty: 'start' })),
      ],
      wires: [
        { from: 'G2:+', to: 'A1:L+' },
        { from: 'G2:-', to: 'A1:M' },
        { from: 'A1:M', to: 'A1:IC' },
        ...BUTTONS.flatMap((tag, k) => [
          { from: 'G2:+', to: `${tag}:13` },
          { from: `${tag}:14`, to: `A1:I0.${k}` },
        ]),
      ],
    }),
  );

/** When each output changed, as the engine tells it: `0.04 Q0.0 on`. */
const told = (simulation: Simulation): string[] =>
  simulation.events.flatMap(({ t, what, state }) =>
    what.startsWith('A1.Q') ? [`${t.toFixed(3)} ${what.slice(3)} ${state}`] : [],
  );

/** Presses and releases at any moments, and when each button's contact closes and opens. */
function worked(simulation: Simulation, seconds: number, random: () => number) {
  const held = new Set<string>();
  const opened: { t: number; tag: string; on: boolean }[] = [];
  while (simulation.t < seconds) {
    // Mostly as a hand does it; now and then quicker than any filter.
    simulation.advance(simulation.t + (random() < 0.15 ? random() * 0.02 : random() * 1.5));
    const tag = BUTTONS[Math.floor(random() * BUTTONS.length)]!;
    const pressed = !held.has(tag);
    if (pressed) held.add(tag);
    else held.delete(tag);
    // The contact parts the moment its button is let go, where it had made.
    if (!pressed) opened.push({ t: simulation.t, tag, on: false });
    simulation.apply(pressed ? { press: tag } : { release: tag });
  }
  simulation.advance(seconds);
  const closed = simulation.events.flatMap(({ t, what, state }) =>
    state === 'pressed' ? [{ t, tag: what, on: true }] : [],
  );
  return [...closed, ...opened].sort((a, b) => a.t - b.t);
}

/** The same by scanning every ten milliseconds, each input through its filter. */
function scanned(program: Program, changes: ReturnType<typeof worked>, seconds: number): string[] {
  const scanner = new PlainScanner(program, SCAN);
  const found: string[] = [];
  const there = Object.fromEntries(BUTTONS.map((tag) => [tag, { on: false, since: 0, filtered: false }]));
  let shown: Record<string, boolean> = {};
  let written: Record<string, boolean> = {};
  const pass = (t: number) => {
    for (const one of Object.values(there)) if (t >= one.since + FILTER - 1e-9) one.filtered = one.on;
  };
  let next = 0;
  for (let n = 1; n * SCAN <= seconds + 1e-9; n += 1) {
    const t = n * SCAN;
    for (; next < changes.length && changes[next]!.t <= t + 1e-12; next += 1) {
      const change = changes[next]!;
      const one = there[change.tag]!;
      if (one.on === change.on) continue;
      pass(change.t);
      Object.assign(one, { on: change.on, since: change.t });
    }
    for (const [at, on] of Object.entries(written))
      if (on !== (shown[at] ?? false)) found.push(`${t.toFixed(3)} ${at} ${on ? 'on' : 'off'}`);
    shown = written;
    pass(t);
    written = scanner.work(Object.fromEntries(BUTTONS.map((tag, k) => [`I0.${k}`, there[tag]!.filtered])));
  }
  return found;
}

describe('a program in time', () => {
  test('what comes out equals scanning every 10 ms, edges, timers and counters (random programs, 60 s each)', () => {
    let changes = 0;
    for (let seed = 1; seed <= longRuns(300); seed += 1) {
      const random = seeded(seed);
      const program = randomProgram(random);
      expect(programProblems(program)).toEqual([]);
      const simulation = new Simulation(new Solver(compile(controllerBoard(program))));
      const moved = worked(simulation, 60, random);
      const plain = scanned(program, moved, simulation.t);
      changes += plain.length;
      expect({ seed, out: told(simulation).sort() }).toEqual({ seed, out: plain.sort() });
    }
    expect(changes).toBeGreaterThan(longRuns(300) * 20);
  });
});

/** Two buttons, and two contactors that outputs work and that report back to inputs. */
function reportingBoard(program: Program, feeds: readonly Feed[], outputs: readonly number[]): Bench {
  const coil = { voltage: 24, kind: 'dc' };
  return must(
    readBench({
      contactum: 'bench/1',
      title: 'Controller',
      devices: [
        { tag: 'G2', type: 'supply-dc' },
        { tag: 'A1', type: 'plc', settings: { program } },
        ...['S0', 'S1'].map((tag) => ({
          tag,
          type: 'pushbutton',
          duty: 'start',
          options: { contacts: ['NO 13-14', 'NO 23-24'] },
        })),
        ...['K0', 'K1'].map((tag) => ({
          tag,
          type: 'contactor',
          options: { coil, aux: ['NO 13-14', 'NO 23-24', 'NO 33-34'] },
        })),
      ],
      wires: [
        { from: 'G2:+', to: 'A1:L+' },
        { from: 'G2:-', to: 'A1:M' },
        { from: 'A1:M', to: 'A1:IC' },
        { from: 'G2:+', to: 'A1:QC1' },
        ...feeds.flatMap((feed, k) => {
          const tag = 'button' in feed ? `S${feed.button}` : `K${feed.contactor}`;
          const nth =
            1 + feeds.slice(0, k).filter((one) => JSON.stringify(one) === JSON.stringify(feed)).length;
          return [
            { from: 'G2:+', to: `${tag}:${nth}3` },
            { from: `${tag}:${nth}4`, to: `A1:I0.${k}` },
          ];
        }),
        ...outputs.flatMap((output, k) => [
          { from: `A1:Q0.${output}`, to: `K${k}:A1` },
          { from: `K${k}:A2`, to: 'G2:-' },
        ]),
      ],
    }),
  );
}

describe('a program in the proof', () => {
  test('every situation that a plain explorer reaches scan by scan, and no other (random programs and wirings)', () => {
    let [situations, chattering] = [0, 0];
    for (let seed = 1; seed <= longRuns(300); seed += 1) {
      const random = seeded(seed);
      const feeds: Feed[] = [
        { button: 0 },
        { button: 1 },
        { contactor: 0 },
        random() < 0.7 ? { contactor: 1 } : random() < 0.5 ? { button: 0 } : { contactor: 0 },
      ];
      const outputs = random() < 0.8 ? [0, 1] : [0, 0];
      const program = randomBits(random, feeds.length, 2);
      expect(programProblems(program)).toEqual([]);
      const plain = new ProgramExplorer(program, feeds, outputs).explore();
      const proof = prove(reportingBoard(program, feeds, outputs), { hands: 'controls', asOne: true });
      const found = proof.properties.find(({ id }) => id === 'no-chatter');
      const ours = { settled: proof.states, chatters: found?.holds === false };
      expect({ seed, complete: proof.complete, ...ours }).toEqual({ seed, complete: true, ...plain });
      situations += plain!.settled;
      if (plain!.chatters) chattering += 1;
    }
    expect(situations).toBeGreaterThan(longRuns(300) * 5);
    expect(chattering).toBeGreaterThan(longRuns(300) / 20);
  });
});

/** Keys that say what holds without them are left out. */
const plainly = (program: Program): unknown =>
  JSON.parse(JSON.stringify(program), (key, value: unknown) =>
    (key === 'retain' || key === 'initial') && value === false ? undefined : value,
  );

/** Random programs that are written and read again, each as it is compared. */
function thereAndBack(
  write: (program: Program) => string,
  read: (text: string) => ReadText,
  plain: (program: Program) => unknown,
): void {
  for (let seed = 1; seed <= 500; seed += 1) {
    const program = randomProgram(seeded(seed));
    const back = read(write(program));
    expect({ seed, ...back }).toMatchObject({ seed, ok: true });
    if (back.ok) expect({ seed, is: plain(back.program) }).toEqual({ seed, is: plain(program) });
  }
}

describe('structured text', () => {
  test('random programs are the same after text and back', () => {
    thereAndBack(programText, readProgramText, plainly);
  });

  test('as a person writes it', () => {
    const read = readProgramText(`
      (* Brine pump *)
      program Pump
      var
        Stop at %IX0.0 : bool;  // S1, wired NC
        Start at %IX0.1 : BOOL;
        Run at %QX0.0 : BOOL;
        Memo : BOOL := TRUE;
        Late : TON;
      END_VAR
      Run := stop AND (Start OR Run) AND NOT (Memo AND Late.Q);
      Late(IN := Run, PT := T#1m30s);
      IF Start & Stop THEN Memo := FALSE; END_IF;
      IF Late.Q THEN Run := FALSE; ELSE Run := TRUE; END_IF
      ;
      END_PROGRAM`);
    expect(read).toMatchObject({ ok: true });
    if (!read.ok) return;
    expect(read.program.title).toBe('Brine pump');
    expect(read.program.variables).toEqual([
      { name: 'Stop', comment: 'S1, wired NC', at: 'I0.0' },
      { name: 'Start', at: 'I0.1' },
      { name: 'Run', at: 'Q0.0' },
      { name: 'Memo', initial: true },
      { name: 'Late', timer: 'TON', preset: 90 },
    ]);
    expect(read.program.rungs.map(({ when, then }) => ({ when, then }))).toEqual([
      {
        when: [
          { no: 'Stop' },
          { any: [[{ no: 'Start' }], [{ no: 'Run' }]] },
          { any: [[{ nc: 'Memo' }], [{ nc: 'Late.Q' }]] },
        ],
        then: [{ coil: 'Run' }],
      },
      { when: [{ no: 'Run' }], then: [{ timer: 'Late' }] },
      { when: [{ no: 'Start' }, { no: 'Stop' }], then: [{ reset: 'Memo' }] },
      { when: [{ no: 'Late.Q' }], then: [{ negated: 'Run' }] },
    ]);
    expect(programProblems(read.program)).toEqual([]);
  });

  test.each([
    [
      'VAR X : BOOL; END_VAR\nX := TRUE;\nFOR I := 1 TO 3 DO X := FALSE; END_FOR;',
      3,
      'FOR has no ladder form',
    ],
    [
      'VAR X : BOOL;\n N : INT; END_VAR',
      2,
      'INT has no ladder form: a variable is BOOL, a timer or a counter',
    ],
    ['VAR X : BOOL; C : CTU; END_VAR\n\nX := C.CV >= 3;', 3, 'C.CV has no ladder form: a rung looks at bits'],
    ['VAR X : BOOL; END_VAR\nX := Y;', 2, '"Y" is not declared'],
    ['VAR X : BOOL; END_VAR\nX := X + 1;', 2, '; is expected, not +'],
    ['VAR X : BOOL; END_VAR\nX := X', 2, '; is expected, not the end of the text'],
    ['VAR X : BOOL; T1 : TON; END_VAR\nT1(IN := X, PT := 5);', 2, '5 is no duration such as T#5s'],
    ['VAR X : BOOL; END_VAR\nX := X XOR X;', 2, 'XOR has no ladder form of its own'],
    [
      'VAR X : BOOL; END_VAR\nIF X THEN X := TRUE; ELSIF X THEN X := FALSE; END_IF;',
      2,
      'ELSIF has no ladder form',
    ],
  ])('what has no ladder form is refused with its line: %#', (text, line, message) => {
    expect(readProgramText(text)).toEqual({ ok: false, line, message });
  });
});

type Series = Program['rungs'][number]['when'];

/** Branches within branches that are nothing else, and branches of one, written plainly. */
const flattened = (series: Series): Series =>
  series.flatMap((element): Series => {
    if (!('any' in element)) return [element];
    const branches = element.any.map(flattened).flatMap((branch) => {
      const [only] = branch;
      return branch.length === 1 && only && 'any' in only ? [...only.any] : [branch];
    });
    return branches.length === 1 ? branches[0]! : [{ any: branches }];
  });

describe('IEC 61131-10', () => {
  test('random programs are the same after XML and back', () => {
    thereAndBack(programXml, readProgramXml, (one) => ({
      ...(plainly(one) as Program),
      rungs: one.rungs.map((rung) => ({ ...rung, when: flattened(rung.when) })),
    }));
  });

  test('comments, presets, an empty branch and signs of XML stay', () => {
    const program: Program = {
      contactum: 'program/1',
      title: 'Brine & "salt" <1>',
      variables: [
        { name: 'Stop', at: 'I0.0', comment: 'S1 <NC> & earthed' },
        { name: 'Out', at: 'Q0.1' },
        { name: 'Kept', retain: true, initial: true },
        { name: 'Idle', timer: 'TP', preset: 0.25 },
        { name: 'Runs', counter: 'CTD', preset: 3 },
      ],
      rungs: [
        {
          comment: 'first',
          when: [{ any: [[{ no: 'Stop' }], []] }, { falling: 'Kept' }],
          then: [{ coil: 'Out' }, { set: 'Kept' }],
        },
        { when: [], then: [{ counter: 'Runs', reset: 'Stop' }] },
      ],
    };
    expect(readProgramXml(programXml(program))).toEqual({ ok: true, program });
  });

  test.each([
    ['<a><b></a>', 1, 'no XML'],
    ['<Project/>', 1, 'there is no program in it'],
    ['<Program name="X">\n<BodyContent xsi:type="FBD"/></Program>', 1, 'no body in ladder'],
    [
      '<Program name="X">\n<BodyContent xsi:type="LD">\n<Rung>\n</Rung></BodyContent></Program>',
      3,
      'rung 1 has no coil',
    ],
  ])('what is no ladder is refused: %#', (text, line, message) => {
    const read = readProgramXml(text);
    expect(read).toMatchObject({ ok: false, line });
    if (!read.ok) expect(read.message).toContain(message);
  });

  test('a bridge between two branches is no series of contacts and branches', () => {
    const into = (...from: number[]) =>
      `<ConnectionPointIn>${from.map((k) => `<Connection refConnectionPointOutId="${k}"/>`).join('')}</ConnectionPointIn>`;
    const contact = (operand: string, id: number, ...from: number[]) =>
      `<LdObject xsi:type="Contact" operand="${operand}">${into(...from)}` +
      `<ConnectionPointOut connectionPointOutId="${id}"/></LdObject>`;
    const rail = '<ConnectionPointOut connectionPointOutId="1"/>';
    const text =
      '<Program name="X"><BodyContent xsi:type="LD"><Rung>' +
      `<LdObject xsi:type="LeftPowerRail">${rail}</LdObject>` +
      contact('A', 2, 1) +
      contact('B', 3, 1) +
      contact('C', 4, 2) +
      contact('D', 5, 2, 3) +
      `<LdObject xsi:type="Coil" operand="O">${into(4, 5)}</LdObject></Rung></BodyContent></Program>`;
    expect(readProgramXml(text)).toEqual({
      ok: false,
      line: 1,
      message: 'rung 1 is no series of contacts and branches',
    });
  });
});

describe('a rung as it is drawn and changed', () => {
  const a: Series = [{ no: 'Stop' }, { any: [[{ no: 'Start' }], [{ nc: 'Trip' }, { no: 'Runs' }]] }];

  test('contacts stand where power passes, branches below each other', () => {
    const { columns, rows, contacts, lines } = ladderRung(a, [{ coil: 'Pump' }, { set: 'Memo' }]);
    expect({ columns, rows }).toEqual({ columns: 3, rows: 2 });
    expect(contacts.map(({ path, column, row }) => [path.join('.'), column, row])).toEqual([
      ['0', 0, 0],
      ['1.0.0', 1, 0],
      ['1.1.0', 1, 1],
      ['1.1.1', 2, 1],
    ]);
    // What is left of the shorter branch, the two joints, and the line down to the second coil.
    expect(lines).toEqual([
      { from: [2, 0], to: [3, 0] },
      { from: [1, 0], to: [1, 1] },
      { from: [3, 0], to: [3, 1] },
      { from: [3, 0], to: [3, 1] },
    ]);
  });

  test('no two contacts of a random rung stand in one place, and every one is there', () => {
    for (let seed = 1; seed <= 200; seed += 1)
      for (const { when, then } of randomProgram(seeded(seed)).rungs) {
        const { contacts, columns, rows } = ladderRung(when, then);
        const places = contacts.map(({ column, row }) => `${column} ${row}`);
        expect(new Set(places).size).toBe(places.length);
        for (const { column, row, path, contact } of contacts) {
          expect(column).toBeLessThan(columns);
          expect(row).toBeLessThan(rows);
          expect(elementAt(when, path)).toBe(contact);
        }
      }
  });

  test('a contact put in and taken away again leaves the rung as it was', () => {
    for (let seed = 1; seed <= 200; seed += 1)
      for (const { when, then } of randomProgram(seeded(seed)).rungs)
        for (const { path } of ladderRung(when, then).contacts) {
          const last = path.at(-1)!;
          const inserted = insertedAfter(when, path, { no: 'More' });
          const behind = [...path.slice(0, -1), last + 1];
          expect(elementAt(inserted, behind)).toEqual({ no: 'More' });
          expect(flattened(removedAt(inserted, behind))).toEqual(flattened(when));
          const branched = branchedAt(when, path, { no: 'Beside' });
          expect(elementAt(branched, [...path, 1, 0])).toEqual({ no: 'Beside' });
          expect(flattened(removedAt(branched, [...path, 1, 0]))).toEqual(flattened(when));
        }
  });

  test('another name is taken over wherever it stands, and nowhere else', () => {
    const program = randomProgram(seeded(7));
    const to = renamed(program, 'TimeTON', 'Delay');
    expect(JSON.stringify(to)).not.toContain('TimeTON');
    expect(renamed(to, 'Delay', 'TimeTON')).toEqual(program);
    expect(programProblems(to)).toEqual([]);
  });
});

describe('what an exercise asks', () => {
  test.each(['wire', 'program', 'both'] as const)('the same board as a task to %s, and back', (task) => {
    for (const id of ['brine-pump-controller', 'salt-harrow-controller', 'blower-controller-star-delta']) {
      const one = exercise(id);
      const other = withTask(one, task);
      expect(referenceBench(other).wires).toHaveLength(referenceBench(one).wires.length);
      expect(programIn(other, 'A1')).toEqual(programIn(one, 'A1'));
      expect(withTask(other, one.task === 'program' || one.task === 'both' ? one.task : 'wire')).toEqual(
        withTask(one, one.task === 'program' || one.task === 'both' ? one.task : 'wire'),
      );
      const { behaviours } = other;
      expect(grade({ ...other, behaviours }, referenceBench(other), { faults: false }).passed).toBe(true);
    }
  });

  test('what is wired has variables by what it goes to; what reports is told from what is worked', () => {
    const list = connectionsOf(referenceBench(exercise('salt-harrow-controller')), 'A1');
    const program: Program = { contactum: 'program/1', title: '', variables: [], rungs: [] };
    const made = wiredVariables(program, list);
    expect(made.map((one) => [one.name, 'at' in one ? one.at : ''])).toEqual([
      ['S1', 'I0.0'],
      ['S2', 'I0.1'],
      ['S3', 'I0.2'],
      ['F2', 'I0.3'],
      ['KM1_in', 'I0.4'],
      ['KM2_in', 'I0.5'],
      // Through each other's interlock contacts.
      ['KM1', 'Q0.0'],
      ['KM2', 'Q0.1'],
    ]);
    expect(programProblems({ ...program, variables: made })).toEqual([]);
    expect(wiredVariables({ ...program, variables: made }, list)).toEqual([]);
    expect(freshVariable({ ...program, variables: [{ name: 'memo1' }] }, 'Memo')).toBe('Memo2');
  });

  test('the list of inputs and outputs says where each lead goes', () => {
    const list = connectionsOf(referenceBench(exercise('salt-harrow-controller')), 'A1');
    expect(list.find(({ at }) => at === 'I0.0')).toMatchObject({ to: 'S1 NC 21-22 (Stop)', name: 'S1' });
    expect(list.find(({ at }) => at === 'Q0.0')).toMatchObject({ to: 'KM2 NC 21-22', isWired: true });
    expect(list.find(({ at }) => at === 'I0.7')).toMatchObject({ to: '', isWired: false });
  });
});
