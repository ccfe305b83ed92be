import { describe, expect, test } from '@jest/globals';
import {
  Simulation,
  Solver,
  WORDS_AT,
  compile,
  connectionAt,
  connectionsOf,
  controllerTables,
  crossReferences,
  describeRungEdit,
  drawingOf,
  grade,
  ladderPicture,
  planningPaper,
  programOf,
  programPdf,
  programSearchWords,
  programText,
  prove,
  readProgramText,
  referenceBench,
  repair,
  repairTask,
  withProgram,
  type Bench,
  type Exercise,
  type Program,
  type Stimulus,
  type TerminalRef,
} from '@contactum/core';
import {
  TEMPLATE_FAMILIES,
  exerciseFromTemplate,
  templateProblems,
  TEMPLATE_DEFAULTS,
  type TemplateChoices,
} from '@contactum/core/exercises';
import { renameDevice } from '../src/setting/index.js';
import { exercise, longList, rewire, solverOf } from './help.js';

const pump = exercise('brine-pump-controller');
const written = exercise('brine-pump-controller-program');
const harrow = exercise('salt-harrow-controller');
const rests = exercise('brine-pump-controller-rest');

const read = (text: string): Program => {
  const got = readProgramText(text);
  if (!got.ok) throw new Error(`${got.line}: ${got.message}`);
  return got.program;
};

/** The exercise's right board with its program changed as text. */
function changed(one: Exercise, from: string, to: string): Bench {
  const board = referenceBench(one);
  const devices = board.devices.map((device) => {
    const own = programOf(device);
    if (!own) return device;
    const text = programText(own);
    expect(text).toContain(from);
    return withProgram(device, read(text.replace(from, to)));
  });
  return { ...board, devices };
}

describe('cross references', () => {
  test('every contact, coil, block and reset is counted under its variable, by the number of its rung', () => {
    const found = crossReferences(rests.program!.A1!);
    expect(found.get('Starts')).toEqual({ written: [2], read: [1] });
    expect(found.get('Rest')).toEqual({ written: [3], read: [2] });
    expect(found.get('Runs')).toEqual({ written: [], read: [1, 2, 3] });
    expect([...found.keys()]).toEqual(rests.program!.A1!.variables.map(({ name }) => name));
  });

  test('rungs that name a variable nowhere are in none of its lists (every shipped program)', () => {
    for (const { program = {} } of [written, harrow, rests])
      for (const one of Object.values(program))
        for (const [name, { written: by, read: where }] of crossReferences(one))
          one.rungs.forEach((rung, k) => {
            const isThere =
              JSON.stringify([rung.when, rung.then]).match(new RegExp(`"${name}(\\.Q)?"`)) !== null;
            expect(by.includes(k + 1) || where.includes(k + 1)).toBe(isThere);
          });
  });
});

describe('inputs and outputs on paper', () => {
  const tables = planningPaper(referenceBench(harrow), harrow).controllers.flatMap(controllerTables);

  test('each place that is wired or named has a row with device, terminal and lead', () => {
    expect(tables.map(({ title }) => title)).toEqual(['Inputs and outputs of A1', 'Cross references of A1']);
    expect(tables[0]!.rows).toHaveLength(8);
    expect(tables[0]!.rows[0]).toEqual([
      'Stop',
      'I0.0',
      'S1 NC 21-22 (Stop)',
      'A1 I0.0',
      '5, red, to S1 22',
      'S1, wired NC',
    ]);
  });

  test('a board without a controller has no such table', () => {
    expect(planningPaper(referenceBench(exercise('brine-pump-three-wire'))).controllers).toEqual([]);
  });

  test('the printed program names the rungs that read what each rung writes', () => {
    const text = JSON.stringify(programPdf(harrow.program!.A1!));
    expect(text).toContain('GoAhead is read in rung 2');
    expect(text).toContain('GoBack is read in rung 1');
    expect(text.match(/<svg/g)).toHaveLength(2);
  });
});

describe('a rung as it is painted', () => {
  const long: Program = {
    contactum: 'program/1',
    title: 'Long names',
    variables: [
      { name: 'AVeryLongNameOfAVariableIndeed01', at: 'I0.0' },
      { name: 'B', at: 'Q0.0' },
    ],
    rungs: [{ when: [{ no: 'AVeryLongNameOfAVariableIndeed01' }, { nc: 'B' }], then: [{ coil: 'B' }] }],
  };

  test('no two parts share a place, and all lie between the rails', () => {
    for (const one of [long, harrow.program!.A1!, rests.program!.A1!])
      for (const rung of one.rungs) {
        const { width, height, rails, contacts, actions } = ladderPicture(one, rung);
        const boxes = [...contacts, ...actions].map(({ box }) => box);
        for (const { x, y, width: w, height: h } of boxes) {
          expect(x).toBeGreaterThanOrEqual(rails[0]);
          expect(x + w).toBeLessThanOrEqual(rails[1]);
          expect(y >= 0 && y + h <= height && rails[1] < width).toBe(true);
        }
        for (const [k, a] of boxes.entries())
          for (const b of boxes.slice(k + 1))
            expect(
              a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y,
            ).toBe(true);
      }
  });

  test('a name that finds no room is shortened, and known whole', () => {
    const [first] = ladderPicture(long, long.rungs[0]!).contacts;
    expect(first).toMatchObject({ name: 'AVeryLongNameOfAVariableIndeed01', below: 'I0.0' });
    expect(first!.shown).toMatch(/^AVery.*…$/);
    expect(WORDS_AT.name).toBeLessThan(0);
  });

  test('a block says its preset, a counter what resets it', () => {
    const { actions } = ladderPicture(rests.program!.A1!, rests.program!.A1!.rungs[1]!);
    expect(actions[0]).toMatchObject({ letter: 'CTU 3', name: 'Starts', below: 'reset by Rest.Q' });
  });
});

describe('a terminal of the board', () => {
  const board = referenceBench(harrow);
  const connections = connectionsOf(board, 'A1');

  test('stands for the input or output that leads join it to', () => {
    expect(connectionAt(connections, 'A1', 'S1:22')?.at).toBe('I0.0');
    expect(connectionAt(connections, 'A1', 'A1:Q0.1')?.at).toBe('Q0.1');
    // Its other end lies at 24 V with everything else; the device has one input alone.
    expect(connectionAt(connections, 'A1', 'S2:13')?.at).toBe('I0.1');
  });

  test('of a device with more than one place, or with none, stands for nothing', () => {
    expect(connectionAt(connections, 'A1', 'KM1:1')).toBeNull();
    expect(connectionAt(connections, 'A1', 'M1:U')).toBeNull();
  });
});

describe('values that are held', () => {
  const running = () => new Simulation(new Solver(compile(referenceBench(pump))));

  test('an input that is held on starts the pump, and lets it run on by the report when it is let go', () => {
    const board = running();
    board.force('A1', 'I0.1', true);
    board.advance(1);
    expect(stateOf(board, 'I0.1') & 1).toBe(1);
    expect(drives(board)).toBe(true);
    board.force('A1', 'I0.1', null);
    board.advance(2);
    expect(stateOf(board, 'I0.1')).toBe(0);
    expect(drives(board)).toBe(true);
  });

  test('an output that is held off stays off whatever the program writes, and is free again', () => {
    const board = running();
    board.force('A1', 'Q0.0', false);
    board.work({ press: 'S2' });
    board.advance(board.t + 1);
    expect(drives(board)).toBe(false);
    board.force('A1', 'Q0.0', null);
    board.advance(board.t + 1);
    expect(drives(board)).toBe(true);
  });

  test('what is held is no scan without end: the board comes to rest', () => {
    const board = running();
    board.force('A1', 'Q0.0', true);
    board.settle();
    const { t } = board;
    board.settle();
    expect(board.t).toBe(t);
    expect(drives(board)).toBe(true);
  });

  test('names that are no input or output hold nothing', () => {
    const board = running();
    board.force('A1', 'L+', true);
    board.force('KM1', 'I0.1', true);
    board.advance(1);
    expect(drives(board)).toBe(false);
  });

  const stateOf = (board: Simulation, at: string): number =>
    board.state[board.solver.circuit.mechanisms.find(({ name }) => name === at)!.index]!;
  const drives = ({ solution }: Simulation): boolean => solution.motors[0]!.driven === 'forward';
});

describe('an output that never comes to rest', () => {
  /** Where something chatters. */
  const chatters = ({ incidents }: Simulation): string[] =>
    incidents.filter(({ kind }) => kind === 'chatter').map(({ where }) => where.join());
  /** The same of a board after some steps. */
  const chatterOf = (board: Bench, steps: readonly Stimulus[]): string[] => {
    const simulation = new Simulation(solverOf(board));
    for (const step of steps) simulation.work(step);
    return chatters(simulation);
  };
  /** The devices of a board whose controller takes so many seconds for a scan. */
  const scanning = ({ devices }: Bench, scan: number): Bench['devices'] =>
    devices.map((one) => (one.type === 'plc' ? { ...one, options: { ...one.options, scan } } : one));
  /** The harrow's controller: one output in the place of the contact that reports on the other direction. */
  const fedBack = (scan = 0.01): Bench => {
    const places = new Map<string, TerminalRef>([
      ['A1:QC1', 'KM2:13'],
      ['KM2:13', 'A1:QC1'],
      ['A1:Q0.0', 'KM2:14'],
      ['KM2:14', 'A1:Q0.0'],
    ]);
    const at = (ref: TerminalRef): TerminalRef => places.get(ref) ?? ref;
    const board = referenceBench(harrow);
    return {
      ...board,
      devices: scanning(board, scan),
      wires: board.wires.map((wire) => ({ ...wire, from: at(wire.from), to: at(wire.to) })),
    };
  };

  test.each([0.002, 0.01, 0.05])('led to an input is told (scan of %d s)', (scan) => {
    expect(chatterOf(fedBack(scan), [{ press: 'S2' }, { wait: 2 }])).toEqual(['A1']);
    expect(chatterOf(fedBack(scan), [{ wait: 2 }])).toEqual([]);
  });

  test('what the proof says of it shows when its sequence is worked', () => {
    const found = prove(fedBack()).properties.find(({ id }) => id === 'no-chatter');
    expect(found).toMatchObject({ holds: false, found: 'A1 never comes to rest' });
    expect(found!.trace.length).toBeGreaterThan(0);
    expect(chatterOf(fedBack(), found!.trace)).toEqual(['A1']);
  });

  test('a slow program whose buttons are worked as fast as one can does not chatter', () => {
    const board = referenceBench(pump);
    const simulation = new Simulation(solverOf({ ...board, devices: scanning(board, 0.05) }));
    // Every scan finds a button changed, so that none is at rest.
    for (let k = 0; k < 24; k += 1)
      for (const step of [{ press: 'S2' }, { release: 'S2' }, { press: 'S1' }, { release: 'S1' }]) {
        simulation.apply(step);
        simulation.advance(simulation.t + 0.05);
      }
    const moves = simulation.events.filter(({ what }) => what === 'A1.Q0.0');
    expect(moves.length).toBeGreaterThan(8);
    expect(chatters(simulation)).not.toContain('A1');
  });

  test('a program that blinks by its timers comes to rest between', () => {
    const board = referenceBench(pump);
    const timer = (name: string) => ({ name, timer: 'TON' as const, preset: 0.04 });
    const devices = board.devices.map((device) => {
      const own = programOf(device);
      if (!own) return device;
      const rungs = [
        { when: [{ no: 'Start' }, { nc: 'Dark.Q' }], then: [{ timer: 'Lit' }] },
        { when: [{ no: 'Lit.Q' }], then: [{ timer: 'Dark' }, { coil: 'Blinks' }] },
      ];
      const variables = [...own.variables, timer('Lit'), timer('Dark'), { name: 'Blinks', at: 'Q0.1' }];
      return withProgram(device, { ...own, variables, rungs: [...own.rungs, ...rungs] });
    });
    const simulation = new Simulation(solverOf({ ...board, devices }));
    simulation.work({ press: 'S2' });
    simulation.work({ wait: 2 });
    const blinks = simulation.events.filter(({ what, state }) => what === 'A1.Q0.1' && state === 'on');
    expect(blinks.length).toBeGreaterThan(10);
    expect(simulation.incidents).toEqual([]);
  });
});

describe('changes of a program that would do', () => {
  const repairOf = (one: Exercise, from: string, to: string) => {
    const found = repair(repairTask(one, changed(one, from, to)));
    return {
      found,
      words: found.program?.repairs.map((edits) => edits.map(describeRungEdit).join('; ')) ?? [],
    };
  };

  test.each<[string, Exercise, string, string, string]>([
    ['sealed by its own output', written, 'Runs)', 'Pump)', 'Rung 1: NO Runs instead of NO Pump'],
    ['not sealed at all', written, ' OR Runs', '', 'Rung 1: NO Runs in parallel with NO Start'],
    ['Stop examined the wrong way', written, ':= Stop', ':= NOT Stop', 'Rung 1: NO Stop instead of NC Stop'],
    ['a trip left out', written, 'AND Trip', '', 'Rung 1: NO Trip in series with the others'],
    ['no rest asked for', rests, ' AND NOT Starts.Q', '', 'Rung 1: NC Starts.Q in series with NO Start'],
  ])('%s', (_, one, from, to, way) => {
    const { found, words } = repairOf(one, from, to);
    expect(words).toContain(way);
    expect(found).toMatchObject({ found: false, program: { singles: true } });
    // Each way that is named makes the board pass.
    for (const edits of found.program!.repairs) expect(edits).toHaveLength(1);
  });

  test('a right program needs nothing, and none is named', () => {
    const found = repair(repairTask(written, referenceBench(written)));
    expect(found).toMatchObject({ found: true, repairs: [[]] });
    expect(found.program).toBeUndefined();
  });

  test('where the effort ends before, it says so', () => {
    const task = repairTask(written, changed(written, 'Stop AND Trip AND (Start OR Runs)', 'Start'));
    const { program } = repair(task, { effort: 20 });
    expect(program).toMatchObject({ repairs: [], singles: false, tried: 20 });
    expect(programSearchWords(program!)).toContain('among the 20 that were tried');
  });

  test('a lead is looked for where the program is right', () => {
    const board = rewire(referenceBench(harrow), 'S1:22>A1:I0.0');
    const found = repair(repairTask(harrow, board), { most: 1 });
    expect(found.repairs[0]).toHaveLength(1);
    expect(found.program).toBeUndefined();
  }, 120_000);
});

describe('templates by controller', () => {
  const choices: readonly Partial<TemplateChoices>[] = [
    {},
    { form: 'us', control: 'transformer', lineVoltage: 480, controlVoltage: 120 },
    { control: 'lines' },
    { control: 'dc', controlVoltage: 24 },
    { emergencyStop: true, lamps: ['off', 'run', 'trip'] },
    { relay: 'electronic', stations: 2 },
    { jog: 'selector' },
    { interlocks: ['electrical', 'mechanical', 'push-button'], limits: true },
    { changeover: 'by-hand', main: 'star' },
    { leg: 'winding', auxiliaryBlock: true },
  ];
  const cases = TEMPLATE_FAMILIES.flatMap((family) =>
    choices.map((one): TemplateChoices => ({
      ...TEMPLATE_DEFAULTS,
      ...one,
      family,
      logic: 'controller',
      limits: family === 'reversing' && one.limits === true,
    })),
  );

  test.each(longList(cases.map((one, k) => [`${one.family} ${k}`, one] as const)))(
    '%s: its reference passes with every point, and every property holds',
    (_, one) => {
      expect(templateProblems(one)).toEqual([]);
      const made = exerciseFromTemplate('from-template', one);
      expect(made).toMatchObject({ task: 'both' });
      const report = grade(made, referenceBench(made), { faults: false });
      expect(report.criteria.filter(({ points, max }) => points < max)).toEqual([]);
      expect(report.passed).toBe(true);
      expect(prove(referenceBench(made)).properties.filter(({ holds }) => !holds)).toEqual([]);
    },
  );

  test('choices that belong to contacts and relays are refused by their names', () => {
    const paths = (one: Partial<TemplateChoices>) =>
      templateProblems({ ...TEMPLATE_DEFAULTS, logic: 'controller', ...one }).map(({ path }) => path);
    expect(paths({ overload: 'coil' })).toEqual(['overload']);
    expect(paths({ family: 'reversing', relays: 'own-rung' })).toEqual(['relays']);
    expect(paths({ family: 'reversing', interlocks: ['mechanical'] })).toEqual(['interlocks']);
  });
});

test('a controller that is renamed keeps its right program', () => {
  const renamed = renameDevice(written, 'A1', 'A7');
  expect(Object.keys(renamed.program!)).toEqual(['A7']);
  expect(grade(renamed, referenceBench(renamed), { faults: false }).passed).toBe(true);
});

test('a controller’s inputs, outputs and supply have symbols of their own in both forms', () => {
  for (const form of ['iec', 'us'] as const) {
    const symbols = drawingOf(referenceBench(harrow), form).sheets.flatMap((sheet) => sheet.symbols);
    const own = symbols
      .filter(({ device }) => device === 'A1')
      .map(({ part, symbol }) => `${part} ${symbol}`);
    expect(own.sort()).toEqual([
      'I0.0-IC controller-input',
      'I0.1-IC controller-input',
      'I0.2-IC controller-input',
      'I0.3-IC controller-input',
      'I0.4-IC controller-input',
      'I0.5-IC controller-input',
      'L+-M controller-supply',
      'QC1-Q0.0 controller-output',
      'QC1-Q0.1 controller-output',
    ]);
  }
});

test('leads behind an output are coloured by what it feeds, not by the controller’s own supply', () => {
  const us = exercise('salt-harrow-controller-us');
  const board = referenceBench(us);
  const asked = { ...us, rules: { ...us.rules, wireColours: 'us' as const } };
  const right = grade(asked, board, { faults: false }).criteria.find(({ id }) => id === 'wire-colours');
  expect(right!.points).toBe(right!.max);
  const wrong = {
    ...board,
    wires: board.wires.map((wire) => (wire.from === '1PLC:Q0.0' ? { ...wire, colour: 'blue' } : wire)),
  };
  const found = grade(asked, wrong, { faults: false }).criteria.find(({ id }) => id === 'wire-colours');
  expect(JSON.stringify(found?.evidence)).toContain('AC control is red');
});
