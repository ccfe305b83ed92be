import { isLatchingButton, isPushbutton, settableOn, anatomy, kindOf } from '../catalogue/index.js';
import type { Bench } from '../bench/index.js';
import {
  compile,
  returns,
  wiredTerminals,
  type Circuit,
  type Stimulus,
  type TerminalIndex,
} from '../circuit/index.js';
import { Ohmmeter, Solver, rmsBetween, type Electrical } from '../electrics/index.js';
import type { Fault } from '../faults/index.js';
import { isAsExpected, isExpectation, type Simulation, type Step } from '../simulation/index.js';
import { JOINED_OHMS } from '../tolerances.js';
import { Eye, freshBoard, type Test } from './observation.js';
import { reportedSymptomOf, type Sight, type ReportedSymptom } from './reported-symptoms.js';

/** A board as it should be, and what it should do. */
export interface ReferenceCircuit {
  readonly bench: Bench;
  readonly behaviours: readonly { readonly id: string; readonly steps: readonly Step[] }[];
}

/** Faults that are on a board together; none of the sound one. */
export type Candidate = readonly Fault[];

/** A test and what it shows of each candidate: one number for all that it cannot tell apart. */
export interface Column {
  readonly test: Test;
  readonly classes: Int32Array;
}

/** What a candidate does to the behaviours of its board. */
export interface Effect {
  /** Behaviours that do not turn out as on the sound board. */
  readonly symptoms: readonly string[];
  /** Kinds of incident that the sound board does not have. */
  readonly incidents: readonly string[];
  /** What an operator would say of it, the first that shows first. */
  readonly reportedSymptoms: readonly ReportedSymptom[];
}

/** What every test of a board shows of each of some candidates. */
export interface Table {
  readonly candidates: readonly Candidate[];
  readonly columns: readonly Column[];
  readonly effects: readonly Effect[];
}

/** Longest sequence after which a voltmeter is laid. */
const WORKED = 4;
/**
 * Two readings that an instrument tells apart: further from each other than this part, and than these volts
 * or ohms.
 */
const TOLD_APART = 0.08;
const VOLTS_APART = 2;
const OHMS_APART = 1;

/** What a person sees of a board without any instrument, by the names of scripts. */
export function visibleOf({ bench }: Circuit): string[] {
  return bench.devices.flatMap((device) => {
    const body = anatomy(device);
    if (body.motor) return [`${device.tag}.driven`];
    // A fuse does not show that it is blown.
    if (kindOf(device).told === 'nothing') return [];
    return body.actuators.length > 0 ? [device.tag] : [];
  });
}

/** Dials that a person reads, by the names of scripts. */
export const dialsOf = ({ devices }: Bench): string[] =>
  devices.flatMap((device) => settableOn(device).map(({ setting }) => `${device.tag}.${setting}`));

/**
 * Terminals between which an ohmmeter is laid: the ends of every wire, contact, coil, lamp and winding, and
 * each frame to earth.
 */
function joints(circuit: Circuit): (readonly [TerminalIndex, TerminalIndex])[] {
  const wired = wiredTerminals(circuit);
  const pairs = [
    ...circuit.conductors.filter(({ wire }) => wire >= 0).map(({ a, b }) => [a, b] as const),
    ...circuit.switches.map(({ a, b }) => [a, b] as const),
    ...circuit.elements.flatMap(({ windings }) => windings),
    ...circuit.motors.flatMap(({ earth }) => circuit.earthed.slice(-1).map((back) => [earth, back] as const)),
  ];
  const seen = new Set<string>();
  return pairs.flatMap(([a, b]) => {
    const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
    if (a < 0 || b < 0 || !wired.has(a) || !wired.has(b) || seen.has(key)) return [];
    seen.add(key);
    return [[a, b] as [TerminalIndex, TerminalIndex]];
  });
}

/** A moment in the working of a board: what was done until then, and everything that shows. */
interface Situation {
  readonly steps: readonly Stimulus[];
  /** What the sound board shows. */
  sound: readonly string[];
  /** By candidate. */
  readonly seen: string[];
  /** By candidate and terminal, where a voltmeter is laid. */
  readonly volts: Float64Array[] | null;
}

/** Works candidates through the behaviours of their board, one after the other. */
class Trials {
  readonly circuit: Circuit;
  readonly situations = new Map<string, Situation>();
  readonly effects: Effect[] = [];
  private readonly ways = new Map<readonly Step[], readonly Situation[]>();
  private readonly visible: readonly string[];
  private readonly eye: Eye;
  private readonly live: readonly TerminalIndex[];
  /** Where the other probe lies, by terminal: the return of its own supply. */
  private readonly back: Int32Array;
  private readonly soundIncidents = new Set<string>();

  constructor(
    private readonly solver: Solver,
    private readonly behaviours: ReferenceCircuit['behaviours'],
  ) {
    this.circuit = solver.circuit;
    this.visible = visibleOf(this.circuit);
    this.eye = new Eye(this.circuit);
    this.live = [...wiredTerminals(this.circuit)] as TerminalIndex[];
    this.back = backsOf(solver);
    for (const { steps } of behaviours) this.work([], steps, -1);
  }

  /** Works one candidate through all behaviours. */
  try(candidate: Candidate): void {
    const k = this.effects.length;
    const incidents = new Set<string>();
    const symptoms = this.behaviours.flatMap(({ id, steps }) => {
      const outcome = this.work(candidate, steps, k);
      for (const kind of outcome.incidents) if (!this.soundIncidents.has(kind)) incidents.add(kind);
      return outcome.isRight ? [] : [id];
    });
    this.effects.push({ symptoms, incidents: [...incidents], reportedSymptoms: this.reportedSymptomsOf(k) });
  }

  private work(candidate: Candidate, steps: readonly Step[], k: number) {
    const board = freshBoard(this.solver, candidate);
    let isRight = true;
    const situations = this.situationsOf(steps);
    let at = 0;
    this.note(board, situations[at]!, k);
    for (const step of steps) {
      if (isExpectation(step)) {
        for (const [what, expected] of Object.entries(step.expect))
          isRight &&= isAsExpected(this.eye.read(board, what), expected);
      } else {
        board.work(step);
        at += 1;
        this.note(board, situations[at]!, k);
      }
    }
    const incidents = board.incidents.map(({ kind }) => kind);
    if (k < 0) for (const kind of incidents) this.soundIncidents.add(kind);
    return { isRight, incidents };
  }

  /** The moments in the working of a behaviour: before its first stimulus, and after each. */
  private situationsOf(steps: readonly Step[]): readonly Situation[] {
    const known = this.ways.get(steps);
    if (known) return known;
    const done = steps.filter((step): step is Stimulus => !isExpectation(step));
    const way = [0, ...done.keys()].map((_, n) => this.situation(done.slice(0, n)));
    this.ways.set(steps, way);
    return way;
  }

  private situation(steps: readonly Stimulus[]): Situation {
    const key = JSON.stringify(steps);
    const known = this.situations.get(key) ?? {
      steps,
      sound: [],
      seen: [],
      volts: steps.length <= WORKED ? [] : null,
    };
    this.situations.set(key, known);
    return known;
  }

  /** Takes what a board shows now. */
  private note(board: Simulation, situation: Situation, k: number): void {
    const { seen, volts } = situation;
    if (k < 0) {
      situation.sound = this.look(board);
      return;
    }
    if (seen[k] !== undefined) return;
    seen[k] = this.look(board).join();
    if (volts) volts[k] = this.voltsOf(board.solver, board.solution);
  }

  private look(board: Simulation): string[] {
    return this.visible.map((what) => String(dark(this.eye.read(board, what))));
  }

  /** What an operator would say of a candidate, in the order in which it shows. */
  private reportedSymptomsOf(k: number): ReportedSymptom[] {
    const reportedSymptoms = new Set<ReportedSymptom>();
    for (const { steps, sound, seen } of this.situations.values()) {
      const faulty = seen[k]?.split(',') ?? sound;
      const all = this.visible.map((what, n): Sight => ({ what, sound: sound[n]!, faulty: faulty[n]! }));
      for (const sight of all) {
        const reportedSymptom = reportedSymptomOf(sight, steps.at(-1), all);
        if (reportedSymptom) reportedSymptoms.add(reportedSymptom);
      }
    }
    // What says least is said last.
    return [...reportedSymptoms].sort((a, b) => Number(a === 'otherwise') - Number(b === 'otherwise'));
  }

  /**
   * Volts of every wired terminal to the return of its supply, as a voltmeter reads them with rotors at
   * rest.
   */
  private voltsOf({ network }: Solver, { node, island, potentials }: Electrical): Float64Array {
    return Float64Array.from(this.live, (terminal) => {
      const [a, b] = [node[network.net(terminal)]!, node[network.net(this.back[terminal]!)]!];
      return island[a] === island[b] ? rmsBetween(potentials, a, b) : 0;
    });
  }

  /** Every test that tells some candidates apart. */
  columns(): Column[] {
    const found: Column[] = [];
    const add = (test: Test, classes: Int32Array) => {
      if (classes.some((one) => one !== classes[0])) found.push({ test, classes });
    };
    for (const { steps, seen, volts } of this.situations.values()) {
      add({ steps }, named(seen));
      if (!volts) continue;
      this.live.forEach((terminal, n) => {
        const [from, to] = [this.circuit.terminals[terminal]!, this.circuit.terminals[this.back[terminal]!]!];
        const values = volts.map((one) => one[n]!);
        add({ steps, meter: { mode: 'volts', between: [from, to] } }, clustered(values, VOLTS_APART));
      });
    }
    return found;
  }
}

/** A lamp that is burnt out looks dark. */
const dark = (value: string | number) => (value === 'burnt' ? 'dark' : value);

/** The return to which each terminal is read: of its own supply, where the sound board joins them. */
function backsOf(solver: Solver): Int32Array {
  const { circuit, network } = solver;
  const { node, island } = solver.at(circuit.initial);
  const islandOf = (terminal: number) => island[node[network.net(terminal)]!]!;
  const wired = wiredTerminals(circuit);
  const known = returns(circuit).filter((terminal) => wired.has(terminal));
  const all = known.length > 0 ? known : [...circuit.earthed, ...circuit.sources.map((one) => one.reference)];
  return Int32Array.from(
    circuit.terminals,
    (_, k) => all.find((one) => islandOf(one) === islandOf(k)) ?? all[0] ?? 0,
  );
}

/** What is held while an ohmmeter is laid: nothing, and each button by itself. */
function heldOf({ bench }: Circuit): Stimulus[][] {
  const buttons = bench.devices.filter((one) => isPushbutton(one) || isLatchingButton(one));
  return [[], ...buttons.map(({ tag }) => [{ press: tag }])];
}

/** Readings of an ohmmeter on the dead board, and what the dials stand at. */
function deadColumns(solver: Solver, candidates: readonly Candidate[]): Column[] {
  const { circuit } = solver;
  const pairs = joints(circuit);
  const eye = new Eye(circuit);
  const dials = dialsOf(circuit.bench);
  const dialled = dials.map((): number[] => []);
  const held = heldOf(circuit);
  const read = held.map(() => pairs.map((): number[] => []));
  for (const candidate of candidates) {
    held.forEach((steps, h) => {
      const board = freshBoard(solver, candidate, true);
      for (const step of steps) board.work(step);
      if (h === 0) dials.forEach((what, n) => dialled[n]!.push(Number(eye.read(board, what))));
      const meter = new Ohmmeter(board.solver, board.state);
      pairs.forEach(([a, b], n) => read[h]![n]!.push(meter.between(a, b)));
    });
  }
  const name = (terminal: TerminalIndex) => circuit.terminals[terminal]!;
  return [
    ...dials.map((what, n): Column => ({
      test: { steps: [], look: what },
      classes: clustered(dialled[n]!, 0),
    })),
    ...held.flatMap((steps, h) =>
      pairs.map(([a, b], n): Column => ({
        test: { dead: true, steps, meter: { mode: 'ohms', between: [name(a), name(b)] } },
        classes: clustered(read[h]![n]!, OHMS_APART),
      })),
    ),
  ].filter(({ classes }) => classes.some((one) => one !== classes[0]));
}

/**
 * Works every candidate through its board's behaviours and lays every instrument; yields the part that is
 * done.
 */
export function* tabulate(
  { bench, behaviours }: ReferenceCircuit,
  candidates: readonly Candidate[],
  solver = new Solver(compile(bench)),
): Generator<number, Table> {
  const trials = new Trials(solver, behaviours);
  for (const [k, candidate] of candidates.entries()) {
    trials.try(candidate);
    yield (k + 1) / (candidates.length + 1);
  }
  const columns = [...trials.columns(), ...deadColumns(solver, candidates)];
  return { candidates, columns, effects: trials.effects };
}

/** Takes a generator to its end. */
export function finished<T>(work: Generator<unknown, T>): T {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}

/** Classes of words: equal words, one class. */
function named(words: readonly string[]): Int32Array {
  const known = new Map<string, number>();
  return Int32Array.from(words, (word) => {
    const found = known.get(word) ?? known.size;
    known.set(word, found);
    return found;
  });
}

/** Classes of readings: those between which no gap is that an instrument shows. */
function clustered(values: readonly number[], apart: number): Int32Array {
  const sorted = [...new Set(values)].sort((a, b) => a - b);
  const classOf = new Map<number, number>();
  let current = 0;
  sorted.forEach((value, k) => {
    const before = sorted[k - 1];
    if (before !== undefined && value - before > Math.max(apart, TOLD_APART * before, 0)) current += 1;
    else if (before !== undefined && before <= JOINED_OHMS && value > JOINED_OHMS && apart === OHMS_APART)
      current += 1;
    classOf.set(value, current);
  });
  return Int32Array.from(values, (value) => classOf.get(value)!);
}
