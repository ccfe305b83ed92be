/**
 * A second way to every verdict of the proof, as plain as can be: the whole electrical solution in every
 * situation, every order of arrival, breadth first, sets of strings. It shares nothing with `proof`, and
 * not the moves of mechanisms either.
 */
import {
  ARRIVING,
  CLOSED,
  LETTING_GO,
  OPEN,
  OPERATED,
  REST,
  RETURNING,
  SUPPLY_OPEN,
  Solver,
  TIMER_DONE,
  TIMER_IDLE,
  TIMER_PAUSE,
  TIMER_TIMING,
  TIMER_TO_DONE,
  TIMER_TO_IDLE,
  coilVoltageFault,
  coilWants,
  compile,
  isShorted,
  observerOf,
  type Bench,
  type Circuit,
  type MechanicalState,
  type Observer,
  type Stimulus,
} from '@contactum/core';

import { plainProtection } from './plain-protection.js';

/** More situations than this are left to others. */
const MOST = 12_000;
export class TooLarge extends Error {}

interface Ends {
  readonly ends: readonly MechanicalState[];
  readonly short: boolean;
  readonly bad: boolean;
  /** Some situation on the way leads neither to rest nor to a short circuit. */
  readonly endless: boolean;
}

interface Deed {
  readonly stimulus: Stimulus;
  readonly then: MechanicalState;
}

const key = (state: MechanicalState): string => state.join();

class PlainBoard {
  readonly circuit: Circuit;
  readonly solver: Solver;
  energised = false;
  private readonly known = new Map<string, Ends>();
  private count = 0;

  constructor(board: Bench) {
    this.circuit = compile(board);
    this.solver = new Solver(this.circuit);
  }

  private kind(k: number): string {
    const { kind, device } = this.circuit.mechanisms[k] as Circuit['mechanisms'][number];
    if (kind === 'timer')
      return device.type === 'star-delta-timer'
        ? 'star-delta'
        : device.type === 'timer' && device.options.function === 'off-delay'
          ? 'off-delay'
          : 'on-delay';
    return kind;
  }

  /** What a coil's armature or timer does at once when its coil has a voltage, or none. */
  private answer(k: number, now: number, wants: boolean): number {
    switch (this.kind(k)) {
      case 'armature':
        if (wants) return now === REST || now === RETURNING ? ARRIVING : now === LETTING_GO ? OPERATED : now;
        return now === OPERATED ? LETTING_GO : now;
      case 'off-delay':
        if (wants)
          return now === TIMER_IDLE || now === TIMER_TO_IDLE
            ? TIMER_TO_DONE
            : now === TIMER_TIMING
              ? TIMER_DONE
              : now;
        return now === TIMER_DONE ? TIMER_TIMING : now === TIMER_TO_DONE ? TIMER_TO_IDLE : now;
      default:
        if (wants) return now === TIMER_IDLE || now === TIMER_TO_IDLE ? TIMER_TIMING : now;
        return now === TIMER_TIMING
          ? TIMER_IDLE
          : now === TIMER_DONE || now === TIMER_TO_DONE || now === TIMER_PAUSE
            ? TIMER_TO_IDLE
            : now;
    }
  }

  /** Where something on its way may be next. */
  private arrivals(k: number, now: number, wants: boolean): number[] {
    const kind = this.kind(k);
    const moving = this.circuit.mechanisms[k];
    const positions = moving?.kind === 'selector' ? moving.positions.length : 0;
    if (kind === 'selector') return now >= positions ? [(now - positions) % positions] : [];
    if (kind === 'supply' || kind === 'switchgear' || kind === 'winding') return [];
    if (kind === 'on-delay' || kind === 'off-delay' || kind === 'star-delta')
      return now === TIMER_TO_DONE || now === TIMER_PAUSE
        ? [TIMER_DONE]
        : now === TIMER_TO_IDLE
          ? [TIMER_IDLE]
          : [];
    if (now === ARRIVING) return kind === 'armature' && !wants ? [OPERATED, RETURNING] : [OPERATED];
    return now === RETURNING ? [REST] : now === LETTING_GO ? [RETURNING] : [];
  }

  /** What can follow a situation; none where it rests. Null where it is shorted. */
  private next(state: MechanicalState): { states: MechanicalState[]; bad: boolean } | null {
    const { circuit, solver } = this;
    const electrical = solver.at(state);
    if (isShorted(electrical)) return null;
    const wants = circuit.coils.map((_, k) => coilWants(circuit, electrical, state, k));
    const bad = circuit.coils.some((_, k) => coilVoltageFault(circuit, electrical, k) !== null);
    if (bad || wants.some(Boolean)) this.energised = true;
    const answered = state.slice();
    const rivals: number[] = [];
    circuit.coils.forEach(({ mechanism }, k) => {
      const to = this.answer(mechanism, state[mechanism] as number, wants[k] as boolean);
      if (to === state[mechanism]) return;
      const groups = circuit.interlocks.filter((group) => group.includes(mechanism));
      if (to === ARRIVING && groups.length > 0) {
        if (groups.every((group) => group.every((other) => other === mechanism || state[other] === REST)))
          rivals.push(mechanism);
      } else answered[mechanism] = to;
    });
    if (key(answered) !== key(state)) return { states: [answered], bad };
    if (rivals.length > 0) return { states: rivals.map((mechanism) => state.with(mechanism, ARRIVING)), bad };
    const isArmature = (k: number, doing: number) => this.kind(k) === 'armature' && state[k] === doing;
    const parting = circuit.mechanisms.some(({ index }) => isArmature(index, LETTING_GO));
    const states = circuit.mechanisms.flatMap(({ index }) => {
      if (parting && isArmature(index, ARRIVING)) return [];
      const coil = circuit.coils.findIndex(({ mechanism }) => mechanism === index);
      return this.arrivals(index, state[index] as number, coil < 0 || (wants[coil] as boolean)).map((to) =>
        state.with(index, to),
      );
    });
    return { states, bad };
  }

  /** Everything that a state may lead to. */
  lead(from: MechanicalState): Ends {
    const found = this.known.get(key(from));
    if (found) return found;
    const states = new Map<string, MechanicalState>([[key(from), from]]);
    const before = new Map<string, string[]>();
    const good: string[] = [];
    const ends: MechanicalState[] = [];
    let [short, bad] = [false, false];
    for (const [name, state] of states) {
      const step = this.next(state);
      this.count += 1;
      if (this.count > MOST) throw new TooLarge();
      if (!step) {
        short = true;
        good.push(name);
        continue;
      }
      bad ||= step.bad;
      if (step.states.length === 0) {
        ends.push(state);
        good.push(name);
      }
      for (const to of step.states) {
        const other = key(to);
        before.set(other, [...(before.get(other) ?? []), name]);
        if (!states.has(other)) states.set(other, to);
      }
    }
    const resting = new Set(good);
    for (const name of resting) for (const other of before.get(name) ?? []) resting.add(other);
    const result = { ends, short, bad, endless: resting.size < states.size };
    this.known.set(key(from), result);
    return result;
  }

  /**
   * Everything that can be done in a settled state, at most two buttons held; breakers and disconnectors
   * where they are worked too.
   */
  deeds(state: MechanicalState, switchgear = false): Deed[] {
    const buttons = this.circuit.mechanisms.filter(({ device }) => device.type === 'pushbutton');
    const held = buttons.filter(({ index }) => state[index] !== REST).length;
    return this.circuit.mechanisms.flatMap((moving): Deed[] => {
      const { kind, device, index } = moving;
      const { tag } = device;
      const now = state[index] as number;
      const deed = (stimulus: Stimulus, to: number): Deed => ({ stimulus, then: state.with(index, to) });
      if (kind === 'plunger') {
        if (now === OPERATED) return [deed({ release: tag }, RETURNING)];
        return device.type === 'pushbutton' && held >= 2 ? [] : [deed({ press: tag }, ARRIVING)];
      }
      if (kind === 'selector') {
        const { positions } = moving;
        return positions.flatMap((to, k) =>
          k === now ? [] : [deed({ turn: tag, to }, positions.length + now * positions.length + k)],
        );
      }
      if (kind === 'trip')
        return [now === REST ? deed({ trip: tag }, ARRIVING) : deed({ reset: tag }, RETURNING)];
      if (kind === 'switchgear' && switchgear && device.type !== 'fuse')
        return [now === CLOSED ? deed({ open: tag }, OPEN) : deed({ close: tag }, CLOSED)];
      if (kind === 'supply') return [now === 0 ? deed({ open: tag }, SUPPLY_OPEN) : deed({ close: tag }, 0)];
      if (kind === 'timer' && now === TIMER_TIMING) {
        const to =
          this.kind(index) === 'star-delta'
            ? TIMER_PAUSE
            : this.kind(index) === 'off-delay'
              ? TIMER_TO_IDLE
              : TIMER_TO_DONE;
        return [deed({ elapse: tag }, to)];
      }
      return [];
    });
  }

  driven(state: MechanicalState): string[] {
    return this.solver.at(state).motors.map(({ driven }) => driven);
  }
}

/** Which properties of the format a board breaks, and which of them nothing put to the test. */
export function plainVerdicts(board: Bench): {
  readonly broken: Set<string>;
  readonly hasRun: boolean;
  readonly isDead: boolean;
} {
  const plain = new PlainBoard(board);
  const { circuit } = plain;
  const broken = new Set<string>();
  const deviceOf = (k: number) => circuit.mechanisms[k]?.device;
  const isIn = (state: MechanicalState, k: number) => state[k] === OPERATED || state[k] === LETTING_GO;
  const runs = (state: MechanicalState) =>
    circuit.motors.length > 0
      ? plain.driven(state).some((field) => field !== 'none')
      : circuit.coils.some(({ mechanism }) => isIn(state, mechanism));
  const buttons = circuit.mechanisms.filter(({ device }) => device.type === 'pushbutton');
  const startsHeld = (state: MechanicalState) =>
    buttons.filter(
      ({ index, device }) =>
        state[index] !== REST && ['start', 'forward', 'reverse', 'jog'].includes(device.duty ?? ''),
    ).length;
  const unnamedHeld = (state: MechanicalState) =>
    buttons.some(({ index, device }) => state[index] !== REST && device.duty === undefined);
  const seen = new Map<string, MechanicalState>();
  let hasRun = false;
  const take = ({ ends, short, bad, endless }: Ends, from: MechanicalState | null, by: Stimulus | null) => {
    if (short) broken.add('no-short');
    if (bad) broken.add('coil-voltage');
    if (endless) broken.add('no-chatter');
    if (ends.length > 1 && by && startsHeld(ends[0] as MechanicalState) <= 1) broken.add('no-race');
    for (const end of ends) {
      if (runs(end)) {
        hasRun = true;
        const starter =
          by &&
          ('close' in by ||
            'reset' in by ||
            ('release' in by &&
              ['stop', 'emergency-stop'].includes(
                board.devices.find(({ tag }) => tag === by.release)?.duty ?? '',
              )));
        if (starter && from && !runs(from) && startsHeld(end) === 0 && !unnamedHeld(end))
          broken.add('no-self-start');
        circuit.mechanisms.forEach(({ kind, index }) => {
          if (end[index] !== OPERATED) return;
          const duty = deviceOf(index)?.duty;
          if (kind === 'trip') broken.add('overload-drops');
          if (kind === 'plunger' && duty === 'stop') broken.add('stop-drops');
          if (kind === 'plunger' && duty === 'emergency-stop') broken.add('estop-holds');
        });
      }
      if (!seen.has(key(end))) seen.set(key(end), end);
    }
  };
  take(plain.lead(circuit.initial), null, null);
  const isDead = seen.size === 0 && broken.has('no-short');
  if (isDead) return { broken: new Set(['no-short']), hasRun, isDead };
  for (const state of seen.values()) {
    for (const { stimulus, then } of plain.deeds(state, true)) take(plain.lead(then), state, stimulus);
    if (buttons.some(({ index }) => state[index] !== REST)) continue;
    for (const [k, one] of buttons.entries())
      for (const other of buttons.slice(k + 1))
        if (plain.lead(state.with(one.index, ARRIVING).with(other.index, ARRIVING)).short)
          broken.add('no-short');
  }
  const settled = [...seen.values()].map((state) => ({
    state,
    driven: plain.driven(state),
    buttonHeld: buttons.some(({ index }) => state[index] !== REST),
    isWhole: circuit.mechanisms.every(
      ({ kind, index, device }) =>
        (kind !== 'switchgear' || device.type === 'disconnector' || state[index] === CLOSED) &&
        (kind !== 'supply' || state[index] === 0),
    ),
    supplyOff: new Set(
      circuit.mechanisms.flatMap(({ kind, index, device }) =>
        kind === 'supply' && state[index] !== 0 ? [device.tag] : [],
      ),
    ),
  }));
  for (const id of plainProtection(board, circuit.mechanismOf, settled)) broken.add(id);
  const joined = groups(board);
  for (const { tag, type } of board.devices) {
    const supplies = board.devices.filter(
      (device) => device.type === 'supply-3n' || device.type === 'supply-1n',
    );
    if (
      (type === 'motor-3' || type === 'motor-1') &&
      !supplies.some((supply) => joined(`${supply.tag}:PE`, `${tag}:PE`))
    )
      broken.add('earth-bonded');
  }
  return { broken, hasRun, isDead };
}

/** Whether wires and busbars alone join two terminals. */
function groups(board: Bench): (a: string, b: string) => boolean {
  const beside = (ref: string): string[] => {
    const [tag = '', terminal = ''] = ref.split(':');
    const device = board.devices.find((one) => one.tag === tag);
    if (device?.type === 'busbar')
      return Array.from({ length: device.options.count }, (_, k) => `${tag}:${k + 1}`);
    if (device?.type !== 'overload' || !/^[1-6]$/.test(terminal)) return [];
    return [`${tag}:${Number(terminal) % 2 === 1 ? Number(terminal) + 1 : Number(terminal) - 1}`];
  };
  return (a, b) => {
    const reached = new Set([a]);
    for (const ref of reached) {
      for (const { from, to } of board.wires)
        if (from === ref || to === ref) reached.add(from === ref ? to : from);
      for (const other of beside(ref)) reached.add(other);
    }
    return reached.has(b);
  };
}

/** Whether two boards can show the same after every sequence, by sets of situations. */
export function plainlyEquivalent(reference: Bench, candidate: Bench, observe: readonly string[]): boolean {
  const sides = [reference, candidate].map((board) => {
    const plain = new PlainBoard(board);
    const observers = observe.map((what): Observer => {
      const outcome = observerOf(plain.circuit, what);
      if ('problem' in outcome) throw new Error(outcome.problem);
      return outcome.observer;
    });
    const show = (state: MechanicalState) =>
      observers
        .map((observer) => observer.read({ solver: plain.solver, state, electrical: plain.solver.at(state) }))
        .join();
    /** By what is shown: the states that show it. */
    const sorted = (outcomes: readonly Ends[]) => {
      const shown = new Map<string, Map<string, MechanicalState>>();
      const put = (what: string, state?: MechanicalState) => {
        if (!shown.has(what)) shown.set(what, new Map());
        if (state) shown.get(what)?.set(key(state), state);
      };
      for (const { ends, short, endless } of outcomes) {
        if (short) put('short');
        if (endless) put('endless');
        for (const end of ends) put(show(end), end);
      }
      return shown;
    };
    return { plain, sorted };
  });
  const [left, right] = sides as [(typeof sides)[number], (typeof sides)[number]];
  const queue: [MechanicalState[], MechanicalState[]][] = [];
  const seen = new Set<string>();
  const meet = (a: ReturnType<typeof left.sorted>, b: ReturnType<typeof left.sorted>): boolean => {
    if ([...a.keys()].sort().join('|') !== [...b.keys()].sort().join('|')) return false;
    for (const [what, states] of a) {
      const others = b.get(what) as Map<string, MechanicalState>;
      const name = `${[...states.keys()].sort().join(';')} ${[...others.keys()].sort().join(';')}`;
      if (states.size === 0 || others.size === 0 || seen.has(name)) continue;
      seen.add(name);
      if (seen.size > MOST) throw new TooLarge();
      queue.push([[...states.values()], [...others.values()]]);
    }
    return true;
  };
  if (
    !meet(
      left.sorted([left.plain.lead(left.plain.circuit.initial)]),
      right.sorted([right.plain.lead(right.plain.circuit.initial)]),
    )
  )
    return false;
  for (const [ones, others] of queue) {
    const named = (plain: PlainBoard, states: readonly MechanicalState[]) =>
      states.map((state) => ({
        state,
        deeds: new Map(plain.deeds(state).map(({ stimulus, then }) => [JSON.stringify(stimulus), then])),
      }));
    const [a, b] = [named(left.plain, ones), named(right.plain, others)];
    const names = new Set([...a, ...b].flatMap(({ deeds }) => [...deeds.keys()]));
    const rests = (state: MechanicalState): Ends => ({
      ends: [state],
      short: false,
      bad: false,
      endless: false,
    });
    const after = (plain: PlainBoard, list: typeof a, name: string) =>
      list.map(({ state, deeds }) => {
        const then = deeds.get(name);
        return then ? plain.lead(then) : rests(state);
      });
    for (const name of names)
      if (!meet(left.sorted(after(left.plain, a, name)), right.sorted(after(right.plain, b, name))))
        return false;
  }
  return true;
}
