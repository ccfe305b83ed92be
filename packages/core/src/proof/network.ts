import type { Mechanism, MechanicalState, MechanismIndex } from '../circuit/index.js';
import { UnionFind } from '../circuit/index.js';
import { sequenceAdmittance, type Complex } from '../machines/index.js';
import type { Solver } from '../electrics/index.js';

/** A contact that the proof moves, between two spots. */
export interface MovedContact {
  readonly a: number;
  readonly b: number;
  readonly mechanism: MechanismIndex;
  readonly closedIn: readonly boolean[];
}

/** What joins two spots by a load: current passes, potential does not. */
export interface LoadWay {
  readonly a: number;
  readonly b: number;
  /** Index of the coil, or −1. */
  readonly coil: number;
  /** Mechanism whose state changes its impedance, or −1. */
  readonly mechanism: number;
}

/** A supply conductor on its spot. */
export interface Tie {
  readonly spot: number;
  readonly group: string;
  readonly re: number;
  readonly im: number;
  /** Conductors of one potential class never have a voltage between them. */
  readonly potential: number;
  /** Mechanism of the supply that makes it live, or −1 for an earthed or reference conductor. */
  readonly supply: number;
}

/** Mechanisms that no stimulus of the proof moves: they stay as the bench has them. */
export const isFixed = ({ kind }: Mechanism): boolean => kind === 'switchgear' || kind === 'filament';

/**
 * A circuit as the proof sees it: terminals that wires, inner links and fixed contacts join are one spot;
 * between spots lie contacts that move, and loads. The supply conductors hold their spots.
 */
export class Network {
  readonly spots: number;
  readonly contacts: readonly MovedContact[];
  readonly loads: readonly LoadWay[];
  readonly contactsAt: readonly (readonly number[])[];
  readonly loadsAt: readonly (readonly number[])[];
  /** Tie of each spot, or null. */
  readonly tieAt: readonly (Tie | null)[];
  readonly ties: readonly Tie[];
  /** Potential class of earth, or of the reference of a supply that is not earthed; −1 without a supply. */
  readonly earthPotential: number;
  /** Contacts could join the two ends of a transformer's secondary. */
  readonly secondaryMayShort: boolean;
  /** Supplies' mechanisms. */
  readonly supplies: readonly MechanismIndex[];
  /** Two potentials meet without any contact that moves. */
  readonly shortedAtRest: boolean;
  /** Most volts by which the loads of the whole bench can pull down a supply conductor. */
  readonly sag: number;
  /** Working store of breadth-first searches: which round a spot was reached in, from where, by which contact. */
  readonly scratch: {
    round: number;
    readonly seen: Int32Array;
    readonly cameFrom: Int32Array;
    readonly cameBy: Int32Array;
    readonly queue: Int32Array;
  };
  private readonly spotOf: Int32Array;

  constructor(solver: Solver, initial: MechanicalState) {
    const { circuit } = solver;
    const sets = new UnionFind(circuit.terminals.length);
    for (const { a, b } of circuit.conductors) sets.union(a, b);
    for (const terminal of circuit.earthed) sets.union(circuit.earthed[0] as number, terminal);
    const moved = circuit.switches.filter((contact) => {
      const fixed = isFixed(circuit.mechanisms[contact.mechanism] as Mechanism);
      const { closedIn } = contact;
      const always = closedIn.every((closed) => closed === closedIn[0]);
      if (!fixed && !always) return true;
      if (closedIn[always ? 0 : (initial[contact.mechanism] as number)]) sets.union(contact.a, contact.b);
      return false;
    });
    const number = new Map<number, number>();
    let spots = 0;
    const spot = (terminal: number): number => {
      if (terminal < 0) return spots++;
      const root = sets.find(terminal);
      const known = number.get(root);
      if (known !== undefined) return known;
      number.set(root, spots);
      spots += 1;
      return spots - 1;
    };
    this.spotOf = Int32Array.from(circuit.terminals, (_, k) => spot(k));
    this.contacts = moved.flatMap(({ a, b, mechanism, closedIn }) =>
      spot(a) === spot(b) ? [] : [{ a: spot(a), b: spot(b), mechanism, closedIn }],
    );
    const loads: LoadWay[] = [];
    const load = (a: number, b: number, coil = -1, mechanism = -1) => {
      if (a !== b) loads.push({ a, b, coil, mechanism });
    };
    circuit.coils.forEach(({ a, b, mechanism }, k) => load(spot(a), spot(b), k, mechanism));
    for (const { a, b } of [...circuit.lamps, ...circuit.loads]) load(spot(a), spot(b));
    // Windings are coupled: what reaches one end of a motor or a transformer reaches all, whatever holds another end. So each
    // hangs on a spot of its own, its core, which no conductor ever holds.
    const couple = (ends: readonly number[]) => {
      const core = spots++;
      for (const end of new Set(ends)) load(core, end);
    };
    for (const { windings } of circuit.motors) {
      const star = windings.some(([a, b]) => a < 0 || b < 0) ? spots++ : -1;
      couple(windings.flat().map((end) => (end < 0 ? star : spot(end))));
    }
    for (const { primary, secondary } of circuit.transformers) couple([...primary, ...secondary].map(spot));
    this.loads = loads;
    this.spots = spots;
    const store = () => new Int32Array(spots);
    this.scratch = { round: 0, seen: store(), cameFrom: store(), cameBy: store(), queue: store() };
    const potentials: { group: string; re: number; im: number }[] = [];
    const potentialOf = (group: string, re: number, im: number): number => {
      const known = potentials.findIndex(
        (p) =>
          p.group === group && Math.hypot(p.re - re, p.im - im) <= 1e-6 * Math.max(1, Math.hypot(re, im)),
      );
      return known >= 0 ? known : potentials.push({ group, re, im }) - 1;
    };
    this.ties = solver.conductors.map(({ terminal, group, re, im }) => ({
      spot: spot(terminal),
      group,
      re,
      im,
      potential: potentialOf(group, re, im),
      // The minus of a DC supply is held only while its supply is on; earth always.
      supply:
        circuit.sources.find(
          ({ terminal: own, reference, frequency }) =>
            own === terminal || (frequency === 0 && reference === terminal),
        )?.mechanism ?? -1,
    }));
    this.earthPotential =
      (this.ties.find(({ supply }) => supply < 0) ?? this.ties.find(({ re, im }) => re === 0 && im === 0))
        ?.potential ?? -1;
    const tieAt: (Tie | null)[] = Array.from({ length: spots }, () => null);
    let shorted = false;
    for (const tie of this.ties) {
      const other = tieAt[tie.spot];
      if (other && other.potential !== tie.potential) shorted = true;
      else tieAt[tie.spot] ??= tie;
    }
    this.tieAt = tieAt;
    this.shortedAtRest = shorted;
    this.supplies = [...new Set(circuit.sources.map(({ mechanism }) => mechanism))];
    const at = <T extends { a: number; b: number }>(ways: readonly T[]): number[][] => {
      const list: number[][] = Array.from({ length: spots }, () => []);
      ways.forEach(({ a, b }, k) => {
        list[a]?.push(k);
        list[b]?.push(k);
      });
      return list;
    };
    this.contactsAt = at(this.contacts);
    this.loadsAt = at(this.loads);
    this.sag = sagOf(solver);
    const joinable = new UnionFind(spots);
    for (const { a, b } of this.contacts) joinable.union(a, b);
    this.secondaryMayShort = circuit.transformers.some(
      ({ secondary: [x1, x2] }) => joinable.find(spot(x1)) === joinable.find(spot(x2)),
    );
  }

  spot(terminal: number): number {
    return this.spotOf[terminal] as number;
  }
}

/** Windings of a motor that can load one line at once, in per unit of the largest voltage across them, by how they are joined. */
const LINE_SHARE = { star: 2 / 3, delta: 2, open: 3, single: 1 } as const;

/**
 * Upper bound of the volts that all loads together, each at the largest voltage of the bench and with every rotor at
 * rest, drop in a source's impedance. Infinity where a DC supply could reach its current limit or networks of two
 * frequencies meet: then only whole solutions decide.
 */
function sagOf(solver: Solver): number {
  const { circuit } = solver;
  if (circuit.frequencies.filter((f) => f > 0).length > 1) return Number.POSITIVE_INFINITY;
  const lines = solver.conductors;
  const volts = Math.max(
    0,
    ...lines.flatMap((a) =>
      lines.map((b) =>
        a.group === b.group
          ? Math.hypot(a.re - b.re, a.im - b.im)
          : Math.hypot(a.re, a.im) + Math.hypot(b.re, b.im),
      ),
    ),
  );
  const omega = 2 * Math.PI * Math.max(...circuit.frequencies, 0);
  const admittance = (ohms: number, henries: number, dc: boolean) =>
    1 / Math.max(Math.hypot(ohms, dc ? 0 : omega * henries), 1e-9);
  const dc = circuit.frequencies.includes(0);
  let siemens = 0;
  for (const { inrush, sealed } of circuit.coils)
    siemens += Math.max(
      admittance(inrush.ohms, inrush.henries, dc),
      admittance(sealed.ohms, sealed.henries, dc),
    );
  for (const { ohms } of circuit.lamps) siemens += 1 / ohms;
  for (const { ohms, henries } of circuit.loads) siemens += admittance(ohms, henries, dc);
  solver.motors.forEach((motor, k) => {
    const rows = solver.admittances(motor, k, 1);
    const [y0, y1, y2] = rows;
    const size = (y: Complex) => Math.hypot(y.re, y.im);
    const connection = circuit.motors[k]?.connection ?? 'open';
    // Eigenvalues of the circulant are the sequence admittances; joined inside, the windings have no zero sequence.
    const zero = connection === 'open' ? size({ re: y0.re + y1.re + y2.re, im: y0.im + y1.im + y2.im }) : 0;
    siemens += Math.max(zero, size(sequenceAdmittance(motor, 1))) * LINE_SHARE[connection];
  });
  for (const { series, magnetising, ratio } of circuit.transformers) {
    siemens +=
      admittance(magnetising.ohms, magnetising.henries, false) +
      admittance(series.ohms, series.henries, false) / (ratio * ratio);
  }
  const amps = siemens * volts;
  if (circuit.sources.some(({ currentLimit }) => amps > currentLimit)) return Number.POSITIVE_INFINITY;
  const ohms = Math.max(
    0,
    ...circuit.sources.map((source) =>
      Math.hypot(source.ohms, 2 * Math.PI * source.frequency * source.henries),
    ),
  );
  return amps * ohms;
}
