import { START_DUTIES, type Duty, isLatchingButton, isPushbutton, type Device } from '../catalogue/index.js';
import { splitRef, type Bench, type TerminalRef, type Wire } from '../bench/index.js';
import { compile, type Circuit, type Switch } from '../circuit/index.js';
import { netlistOf, type Netlist } from '../drawing/index.js';
import { referenceBench, type Exercise } from '../marking/index.js';

/**
 * A reference wiring seen as nets and contacts, and what hands do to its leads: the ground of mistakes and
 * of other right wirings.
 */
export interface Ground {
  readonly exercise: Exercise;
  readonly board: Bench;
  readonly circuit: Circuit;
  readonly nets: Netlist;
  /** Contacts of the control circuit that are wired at both ends. */
  readonly contacts: readonly Contact[];
  /** Contacts that no lead touches. */
  readonly free: readonly Contact[];
}

export interface Contact {
  readonly tag: string;
  readonly name: string;
  readonly a: TerminalRef;
  readonly b: TerminalRef;
  readonly normally: 'open' | 'closed' | 'none';
  readonly role: Switch['spec']['role'];
  readonly duty: Duty | undefined;
  readonly device: Device;
}

export function groundOf(exercise: Exercise): Ground {
  const board = referenceBench(exercise);
  const circuit = compile(board);
  const nets = netlistOf(board);
  const all = circuit.switches
    .filter(({ spec }) => spec.role !== 'pole')
    .map(({ tag, spec }): Contact => {
      const device = board.devices.find((one) => one.tag === tag)!;
      const { name, a, b, normally, role } = spec;
      return {
        tag,
        name,
        a: `${tag}:${a}`,
        b: `${tag}:${b}`,
        normally,
        role,
        duty: device.duty,
        device,
      };
    });
  const isWired = (ref: TerminalRef) => nets.wired.has(ref);
  return {
    exercise,
    board,
    circuit,
    nets,
    contacts: all.filter(({ a, b }) => isWired(a) && isWired(b)),
    free: all.filter(({ a, b }) => !isWired(a) && !isWired(b)),
  };
}

export const isStart = ({ duty, normally, device }: Contact): boolean =>
  isPushbutton(device) && normally === 'open' && (duty === undefined || START_DUTIES.includes(duty));
export const isStop = ({ duty, normally, device }: Contact): boolean =>
  normally === 'closed' && (duty === 'stop' || isLatchingButton(device));

/** Contacts of a magnet in parallel with a start button, with the side that is fed through Stop first. */
export function sealIns(
  ground: Ground,
): { seal: Contact; start: Contact; fed: TerminalRef; run: TerminalRef }[] {
  const { contacts, nets } = ground;
  const net = (ref: TerminalRef) => nets.netOf.get(ref);
  const upstream = new Set(contacts.filter(isStop).flatMap(({ a, b }) => [net(a), net(b)]));
  return contacts.flatMap((seal) => {
    if (seal.normally !== 'open' || seal.role !== 'aux') return [];
    const start = contacts.find(
      (one) =>
        isStart(one) &&
        ((net(one.a) === net(seal.a) && net(one.b) === net(seal.b)) ||
          (net(one.a) === net(seal.b) && net(one.b) === net(seal.a))),
    );
    if (!start) return [];
    const [fed, run] = upstream.has(net(seal.b)) ? [seal.b, seal.a] : [seal.a, seal.b];
    return [{ seal, start, fed, run }];
  });
}

/** True of two contacts in series with nothing between them: in each other's place they do the same. */
export function inSeries({ nets }: Ground, one: Contact, other: Contact): boolean {
  const net = (ref: TerminalRef) => nets.netOf.get(ref);
  return [one.a, one.b].some((end) =>
    [other.a, other.b].some(
      (far) => net(end) === net(far) && nets.nets[net(end) ?? -1]?.terminals.length === 2,
    ),
  );
}

export type Change = (wires: readonly Wire[]) => Wire[];

const touches = ({ from, to }: Wire, ref: TerminalRef): boolean => from === ref || to === ref;
const otherEnd = ({ from, to }: Wire, ref: TerminalRef): TerminalRef => (from === ref ? to : from);

export const without =
  (gone: Wire): Change =>
  (wires) =>
    wires.filter(({ from, to }) => from !== gone.from || to !== gone.to);

/** Terminals in each other's place, a list against a list. */
export function exchanged(one: readonly TerminalRef[], other: readonly TerminalRef[]): Change {
  const place = new Map([
    ...one.map((ref, k) => [ref, other[k]!] as const),
    ...other.map((ref, k) => [ref, one[k]!] as const),
  ]);
  return moved(place);
}

/** Ends of leads on other terminals. */
export function moved(place: ReadonlyMap<TerminalRef, TerminalRef>): Change {
  const to = (ref: TerminalRef) => place.get(ref) ?? ref;
  return (wires) => wires.map((wire) => ({ ...wire, from: to(wire.from), to: to(wire.to) }));
}

const CONTROL = { colour: 'red', area: 1 } as const;

/** One more lead, as the control circuit of these leads looks. */
export const bridged =
  (from: TerminalRef, to: TerminalRef): Change =>
  (wires) => {
    const like = wires.find((wire) => touches(wire, from) || touches(wire, to));
    const { colour = CONTROL.colour, area = CONTROL.area } = like ?? CONTROL;
    return [...wires, { from, to, colour, area }];
  };

/** Takes a terminal out of its net; what its leads joined stays joined. */
export const detached =
  (ref: TerminalRef): Change =>
  (wires) => {
    const own = wires.filter((wire) => touches(wire, ref));
    const ends = own.map((wire) => otherEnd(wire, ref));
    const rest = wires.filter((wire) => !touches(wire, ref));
    const healed = ends.slice(1).map((to, k): Wire => ({ ...own[k + 1]!, from: ends[k]!, to }));
    return [...rest, ...healed];
  };

export const inOrder =
  (...changes: readonly Change[]): Change =>
  (wires) =>
    changes.reduce((now, change) => change(now), [...wires]);

/** The nets of a wiring as one text, the same for the same joints. */
export function jointsOf(exercise: Exercise, wires: readonly Wire[]): string {
  const { nets } = netlistOf({ ...exercise.bench, wires: [...exercise.bench.wires, ...wires] });
  return nets
    .filter(({ terminals }) => terminals.length > 1)
    .map(({ terminals }) => terminals.toSorted().join(' '))
    .toSorted()
    .join('|');
}

/** Another terminal of the net of one, of a device that is not named. */
export function alsoOn({ nets }: Ground, ref: TerminalRef, not: readonly string[]): TerminalRef | undefined {
  const net = nets.nets[nets.netOf.get(ref) ?? -1];
  return net?.terminals.find((other) => other !== ref && !not.includes(splitRef(other).tag));
}
