/**
 * A second way to what a wiring protects: plain reachability over terminals and leads, with nothing of the
 * circuit in it but the state of each mechanism. It shares nothing with the properties of `proof`.
 */
import {
  OPERATED,
  LETTING_GO,
  REST,
  CLOSED,
  type Bench,
  type Device,
  type MechanicalState,
} from '@contactum/core';

/** A contact of a device, its terminals, and when it is closed; `kind` says what works it. */
interface PlainContact {
  readonly tag: string;
  readonly a: string;
  readonly b: string;
  readonly kind: 'switchgear' | 'armature' | 'other';
  readonly isPole: boolean;
  /** By the state of the device's mechanism. */
  readonly closed: (state: number) => boolean;
}

const NO = (state: number) => state === OPERATED || state === LETTING_GO;
const NC = (state: number) => state === REST;
const ends = (name: string): [string, string] => name.split('-') as [string, string];

function contactsOf(device: Device): PlainContact[] {
  const { tag } = device;
  const make = (
    text: string,
    kind: PlainContact['kind'],
    closed?: (state: number) => boolean,
    isPole = false,
  ): PlainContact => {
    const [way, name] = text.includes(' ') ? (text.split(' ') as [string, string]) : ['NO', text];
    const [a, b] = ends(name);
    return {
      tag,
      a: `${tag}:${a}`,
      b: `${tag}:${b}`,
      kind,
      isPole,
      closed: closed ?? (way === 'NC' ? NC : NO),
    };
  };
  const poles = ['1-2', '3-4', '5-6'];
  switch (device.type) {
    case 'breaker':
    case 'fuse':
    case 'disconnector':
      return poles
        .slice(0, device.options.poles)
        .map((name) => make(name, 'switchgear', (state) => state === CLOSED));
    case 'contactor':
      return [
        ...poles.map((name) => make(name, 'armature', NO, true)),
        ...device.options.aux.map((text) => make(text, 'armature')),
      ];
    case 'relay': {
      const base =
        device.options.base === 'octal-8'
          ? ['NO 1-3', 'NC 1-4', 'NO 8-6', 'NC 8-5']
          : device.options.base === 'octal-11'
            ? ['NO 1-3', 'NC 1-4', 'NO 6-7', 'NC 6-5', 'NO 11-9', 'NC 11-8']
            : device.options.contacts;
      return base.map((text) => make(text, 'armature'));
    }
    case 'overload':
      return [make('NC 95-96', 'other'), make('NO 97-98', 'other')];
    case 'pushbutton':
    case 'estop':
    case 'limit-switch':
      return device.options.contacts.map((text) => make(text, 'other'));
    case 'selector':
      return device.options.contacts.map(({ terminals, closedIn }) =>
        make(terminals, 'other', (state) => closedIn.includes(device.options.positions[state] ?? '')),
      );
    case 'timer': {
      const isOver = (state: number) =>
        device.options.function === 'off-delay' ? state === 1 || state === 2 : state === 2;
      return [
        make(
          '15-16',
          'other',
          (state) =>
            !isOver(state) && state < 3 && (device.options.function === 'on-delay' ? state < 2 : state === 0),
        ),
        make('15-18', 'other', isOver),
        ...device.options.instant.map((text) =>
          make(text, 'other', (state) => {
            const on =
              device.options.function === 'off-delay' ? state === 2 || state === 3 : state >= 1 && state <= 3;
            return text.startsWith('NO') ? on : !on;
          }),
        ),
      ];
    }
    case 'star-delta-timer':
      return [make('17-18', 'other', (state) => state === 1), make('17-28', 'other', (state) => state === 2)];
    default:
      return [];
  }
}

/** Terminals that are joined, by name, found by walking from one to the next. */
class Joined {
  private readonly beside = new Map<string, string[]>();

  constructor(
    board: Bench,
    contacts: readonly PlainContact[],
    {
      heaters = true,
      without = new Set(),
    }: { readonly heaters?: boolean; readonly without?: ReadonlySet<string> } = {},
  ) {
    const join = (a: string, b: string) => {
      if (without.has(a) || without.has(b)) return;
      this.beside.set(a, [...(this.beside.get(a) ?? []), b]);
      this.beside.set(b, [...(this.beside.get(b) ?? []), a]);
    };
    for (const { from, to } of board.wires) join(from, to);
    for (const { a, b } of contacts) join(a, b);
    for (const device of board.devices) {
      const { tag, type } = device;
      if (type === 'busbar')
        for (let k = 1; k < device.options.count; k += 1) join(`${tag}:${k}`, `${tag}:${k + 1}`);
      if (type === 'overload' && heaters)
        for (const [a, b] of ['1-2', '3-4', '5-6'].map(ends)) join(`${tag}:${a}`, `${tag}:${b}`);
    }
  }

  /** Every terminal that is joined to one. */
  from(ref: string): ReadonlySet<string> {
    const reached = new Set([ref]);
    for (const at of reached) for (const other of this.beside.get(at) ?? []) reached.add(other);
    return reached;
  }

  are(ref: string, others: readonly string[]): boolean {
    const reached = this.from(ref);
    return others.some((other) => reached.has(other));
  }
}

interface Frame {
  readonly lines: readonly string[];
  readonly neutrals: readonly string[];
  readonly earths: readonly string[];
  readonly dc: readonly (readonly [plus: string, minus: string])[];
  readonly motors: readonly {
    readonly tag: string;
    readonly windings: readonly (readonly [string, string])[];
  }[];
  readonly loads: readonly (readonly [tag: string, a: string, b: string])[];
  readonly transformers: readonly string[];
}

function frameOf({ devices }: Bench): Frame {
  const of = <T>(pick: (device: Device) => readonly T[]): T[] => devices.flatMap(pick);
  const lamps = of((one) =>
    one.type === 'lamp' || one.type === 'buzzer'
      ? [[one.tag, `${one.tag}:X1`, `${one.tag}:X2`] as const]
      : [],
  );
  const coil = (tag: string, a: string, b: string) => [[tag, `${tag}:${a}`, `${tag}:${b}`] as const];
  const coils = of((one) => {
    switch (one.type) {
      case 'contactor':
      case 'timer':
      case 'star-delta-timer':
        return coil(one.tag, 'A1', 'A2');
      case 'relay':
        return one.options.base === 'octal-8'
          ? coil(one.tag, '2', '7')
          : one.options.base === 'octal-11'
            ? coil(one.tag, '2', '10')
            : coil(one.tag, 'A1', 'A2');
      case 'overload':
        return one.options.supply ? coil(one.tag, 'A1', 'A2') : [];
      case 'brake':
        return coil(one.tag, 'B1', 'B2');
      default:
        return [];
    }
  });
  const motors = of((one) => {
    const at = (name: string) => `${one.tag}:${name}`;
    if (one.type === 'motor-1') return [{ tag: one.tag, windings: [[at('U1'), at('U2')] as const] }];
    if (one.type !== 'motor-3') return [];
    const star = `${one.tag}:*`;
    if (one.options.leads === 6)
      return [{ tag: one.tag, windings: ['U', 'V', 'W'].map((w) => [at(`${w}1`), at(`${w}2`)] as const) }];
    return [
      {
        tag: one.tag,
        windings:
          one.options.internal === 'delta'
            ? ([
                [at('U'), at('V')],
                [at('V'), at('W')],
                [at('W'), at('U')],
              ] as const)
            : ['U', 'V', 'W'].map((w) => [at(w), star] as const),
      },
    ];
  });
  return {
    lines: of(({ tag, type }) =>
      type === 'supply-3n'
        ? ['L1', 'L2', 'L3'].map((l) => `${tag}:${l}`)
        : type === 'supply-1n'
          ? [`${tag}:L`]
          : [],
    ),
    neutrals: of(({ tag, type }) => (type === 'supply-3n' || type === 'supply-1n' ? [`${tag}:N`] : [])),
    earths: of(({ tag, type }) => (type === 'supply-3n' || type === 'supply-1n' ? [`${tag}:PE`] : [])),
    dc: of(({ tag, type }) => (type === 'supply-dc' ? [[`${tag}:+`, `${tag}:-`] as const] : [])),
    motors,
    loads: [...coils, ...lamps],
    transformers: of(({ tag, type }) => (type === 'transformer' ? [tag] : [])),
  };
}

/**
 * What a board fails to protect, by plain reachability; `states` are the settled ones, each with whether a
 * motor is driven in it.
 */
export function plainProtection(
  board: Bench,
  mechanismOf: ReadonlyMap<string, number>,
  states: readonly {
    readonly state: MechanicalState;
    readonly driven: readonly string[];
    readonly buttonHeld: boolean;
    /** Every breaker and fuse is closed and every line is there. */
    readonly isWhole: boolean;
    readonly supplyOff: ReadonlySet<string>;
  }[],
): Set<string> {
  const broken = new Set<string>();
  const frame = frameOf(board);
  const all = board.devices.flatMap(contactsOf);
  const motorEnds = frame.motors
    .flatMap(({ windings }) => windings.flat())
    .filter((ref) => !ref.endsWith('*'));
  const has = (...types: Device['type'][]) => board.devices.some(({ type }) => types.includes(type));
  if (has('breaker', 'fuse', 'disconnector')) {
    const rest = new Joined(
      board,
      all.filter(({ kind }) => kind !== 'switchgear'),
    );
    const reached = frame.lines.map((line) => rest.from(line));
    const loads = [...motorEnds, ...frame.loads.flatMap(([, a, b]) => [a, b])];
    if (loads.some((load) => reached.some((set) => set.has(load)))) broken.add('isolates');
  }
  const everything = new Joined(board, all);
  for (const tag of frame.transformers) {
    const [x1, x2] = [`${tag}:X1`, `${tag}:X2`];
    const others = [...frame.lines, ...frame.neutrals, ...frame.dc.flat()];
    if (everything.are(x1, others) || everything.are(x2, others)) broken.add('separate-secondary');
    else if (everything.are(x1, frame.earths) && everything.are(x2, frame.earths))
      broken.add('separate-secondary');
  }
  const stateOf = (state: MechanicalState, tag: string) => state[mechanismOf.get(tag) ?? -1] ?? 0;
  const hasArmature = has('contactor', 'relay', 'brake');
  const seen = new Set<string>();
  for (const { state, driven, buttonHeld, isWhole, supplyOff } of states) {
    const key = `${state.join()} ${buttonHeld}`;
    if (seen.has(key)) continue;
    seen.add(key);
    const closed = all.filter(({ tag, closed: is }) => is(stateOf(state, tag)));
    if (
      hasArmature &&
      !buttonHeld &&
      ![...supplyOff].some((tag) => frame.lines.some((l) => l.startsWith(`${tag}:`)))
    ) {
      const out = all.filter(({ tag, kind, closed: is }) =>
        is(kind === 'armature' ? REST : stateOf(state, tag)),
      );
      const joined = new Joined(board, out);
      if (motorEnds.some((end) => joined.are(end, frame.lines))) broken.add('dead-at-rest');
    }
    const now = new Joined(board, closed);
    const bare = new Joined(board, closed, { heaters: false });
    frame.motors.forEach(({ windings }, k) => {
      if (driven[k] === 'none') return;
      const own = [...new Set(windings.flat())].filter((ref) => !ref.endsWith('*'));
      if (windings.length === 3 && isWhole) {
        const on = [...frame.lines, ...frame.neutrals, ...frame.earths, ...frame.dc.flat()].filter((one) =>
          own.some((end) => now.are(end, [one])),
        );
        const isRight = on.length === 3 && on.every((one) => frame.lines.includes(one));
        if (driven[k] === 'single-phase' || !isRight) broken.add('full-phases');
      }
      if (!has('overload')) return;
      const isFed = own.some((end) => bare.are(end, frame.lines));
      const supply = [...frame.lines, ...frame.neutrals, ...frame.earths, ...frame.dc.flat()];
      const isAlone = (end: string) =>
        !end.endsWith('*') &&
        !bare.are(end, supply) &&
        windings.flat().filter((other) => bare.from(end).has(other)).length === 1;
      if (isFed && !windings.every((winding) => winding.some(isAlone))) broken.add('overload-in-line');
    });
    if (frame.earths.length > 0 && earthCarries(board, frame, closed, now, supplyOff))
      broken.add('earth-carries-nothing');
  }
  return broken;
}

/**
 * Whether some current goes through the bond of a supply's earth: a simple way from neutral to earth
 * through an EMF, tried one by one.
 */
function earthCarries(
  board: Bench,
  frame: Frame,
  closedNow: readonly PlainContact[],
  joined: Joined,
  off: ReadonlySet<string>,
): boolean {
  const names = new Map<string, string>();
  const node = (ref: string): string => {
    const known = names.get(ref);
    if (known !== undefined) return known;
    const group = [...joined.from(ref)].sort();
    for (const one of group) names.set(one, group[0]!);
    return group[0]!;
  };
  interface Edge {
    readonly a: string;
    readonly b: string;
    readonly isEmf: boolean;
  }
  const edges: Edge[] = [];
  const load = (a: string, b: string) => {
    if (node(a) !== node(b)) edges.push({ a: node(a), b: node(b), isEmf: false });
  };
  for (const [, a, b] of frame.loads) load(a, b);
  for (const { windings } of frame.motors) for (const [a, b] of windings) load(a, b);
  for (const device of board.devices)
    if (device.type === 'impedance') load(`${device.tag}:1`, `${device.tag}:2`);
  const emf = (a: string, b: string) => edges.push({ a: node(a), b: node(b), isEmf: true });
  for (const tag of frame.transformers) load(`${tag}:H1`, `${tag}:H2`);
  for (const [plus, minus] of frame.dc) if (!off.has(plus.split(':')[0]!)) emf(plus, minus);
  for (const line of frame.lines) {
    const tag = line.split(':')[0]!;
    if (!off.has(tag)) emf(line, `${tag}:N`);
  }
  const at = new Map<string, Edge[]>();
  const index = (edge: Edge) => {
    for (const end of new Set([edge.a, edge.b])) at.set(end, [...(at.get(end) ?? []), edge]);
  };
  edges.forEach(index);
  const reaches = (here: string, goal: string, seen: ReadonlySet<string>, met: boolean): boolean => {
    if (here === goal) return met;
    return (at.get(here) ?? []).some((edge) => {
      const to = edge.a === here ? edge.b : edge.a;
      return to !== here && !seen.has(to) && reaches(to, goal, new Set([...seen, to]), met || edge.isEmf);
    });
  };
  // A secondary drives a current while its primary is fed; else it is only a winding.
  for (const tag of frame.transformers) {
    const [h1, h2] = [node(`${tag}:H1`), node(`${tag}:H2`)];
    const without = (edge: Edge) => !(edge.a === h1 && edge.b === h2 && !edge.isEmf);
    const own = at.get(h1) ?? [];
    at.set(h1, own.filter(without));
    const others = at.get(h2) ?? [];
    at.set(h2, others.filter(without));
    const isFed = h1 !== h2 && reaches(h1, h2, new Set([h1]), false);
    at.set(h1, own);
    at.set(h2, others);
    const [x1, x2] = [node(`${tag}:X1`), node(`${tag}:X2`)];
    if (x1 !== x2) index({ a: x1, b: x2, isEmf: isFed });
  }
  return frame.earths.some((earth) => {
    const neutral = earth.replace(/PE$/, 'N');
    const [from, to] = [node(neutral), node(earth)];
    if (from !== to) return reaches(from, to, new Set([from]), false);
    // Joined on the board: what matters is where the leads of something fed by a line lie.
    const past = new Joined(board, closedNow, { without: new Set(frame.neutrals) });
    return [
      ...frame.loads,
      ...frame.transformers.map((tag) => [tag, `${tag}:H1`, `${tag}:H2`] as const),
      ...frame.motors.flatMap(({ windings }) => windings.map(([a, b]) => ['', a, b] as const)),
    ].some(([, a, b]) =>
      [
        [a, b],
        [b, a],
      ].some(([end = '', other = '']) => {
        if (end.endsWith('*') || node(end) !== from || node(other) === from) return false;
        return (
          past.are(end, [earth]) &&
          reaches(node(other), from, new Set([node(other), from].slice(0, 1)), false)
        );
      }),
    );
  });
}
