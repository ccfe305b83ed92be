import { conductorsByTerminal, splitRef, type Bench, type Wire } from '../bench/index.js';
import { anatomy } from '../catalogue/index.js';
import { wiredTogether, type Circuit, type TerminalIndex } from '../circuit/index.js';
import { CONDUCTOR_AMPS } from '../tolerances.js';
import type { Rules } from './exercise.js';
import type { Evidence } from './report.js';
import { returnEnds, type RuleVerdict } from './rules.js';

/** Workmanship: conductors on each terminal, colours, areas and numbers of wires. What is judged wire by wire keeps the points of the right ones. */
export function judgeWorkmanship(circuit: Circuit, rules: Rules): RuleVerdict[] {
  const { bench } = circuit;
  const verdicts: RuleVerdict[] = [
    {
      id: 'conductors-per-terminal',
      title:
        rules.maxWiresPerTerminal === undefined
          ? 'No terminal overfilled'
          : `At most ${rules.maxWiresPerTerminal} conductors on a terminal`,
      broken: overfilled(bench, rules.maxWiresPerTerminal),
    },
    { id: 'earth-colour', title: 'Green-yellow for earth, and for earth alone', broken: earthColour(bench) },
  ];
  if (rules.wireColours) {
    const title = `Wire colours by potential, ${rules.wireColours === 'iec' ? 'IEC' : 'US'}`;
    verdicts.push(
      byWire(
        'wire-colours',
        title,
        bench.wires,
        wrongColours(circuit, rules.wireColours),
        bench.wires.filter(({ colour }) => colour !== undefined).length,
      ),
    );
  }
  if (rules.areaByProtection) {
    verdicts.push(
      byWire(
        'area-by-protection',
        'Every conductor carries what its protection lets through',
        bench.wires,
        thinWires(circuit),
        bench.wires.filter(({ area }) => area !== undefined).length,
      ),
    );
  }
  if (rules.ferruleNumbers)
    verdicts.push(
      byWire(
        'ferrule-numbers',
        'Every wire numbered, one number a potential',
        bench.wires,
        wrongNumbers(circuit),
        bench.wires.length,
      ),
    );
  return verdicts;
}

interface WireFault {
  readonly wire: number;
  readonly found: string;
}

const nameOf = ({ from, to }: Wire) => `${from} to ${to}`;

/** Names at most this many wrong wires; the rest are counted. */
const NAMED = 4;

function byWire(
  id: string,
  title: string,
  wires: readonly Wire[],
  faults: readonly WireFault[],
  judged: number,
): RuleVerdict {
  if (faults.length === 0) return { id, title, broken: null };
  const more = faults.length > NAMED ? `; and ${faults.length - NAMED} more` : '';
  const where = faults.flatMap(({ wire }) => [wires[wire]?.from ?? '', wires[wire]?.to ?? '']);
  const found = faults
    .slice(0, NAMED)
    .map(({ wire, found: what }) => `${nameOf(wires[wire] as Wire)} ${what}`);
  return {
    id,
    title,
    broken: { found: found.join('; ') + more, where },
    kept: Math.max(0, 1 - faults.length / Math.max(1, judged)),
  };
}

function overfilled(bench: Bench, most: number | undefined): Evidence | null {
  const limits = new Map(
    bench.devices.flatMap((device) =>
      anatomy(device).terminals.map(({ name, conductors }) => [`${device.tag}:${name}`, conductors] as const),
    ),
  );
  const full = [...conductorsByTerminal(bench.wires)].filter(([ref, count]) => {
    const own = limits.get(ref) ?? 2;
    // Supply terminals take any number and strips four; the house rule speaks of ordinary terminals.
    const limit = own === 2 && most !== undefined ? most : own;
    return count > limit;
  });
  if (full.length === 0) return null;
  return {
    found: full.map(([ref, count]) => `${count} conductors on ${ref}`).join(', '),
    where: full.map(([ref]) => ref),
  };
}

const EARTH = ['green-yellow', 'green/yellow', 'gnye', 'gn-ye', 'gn/ye', 'green'];
const isEarthColour = (colour: string) => EARTH.includes(colour.toLowerCase());
const isEarthTerminal = (ref: string) => ref.endsWith(':PE');

/** Wires of the protective conductor: those that end on a PE terminal, onwards through strips and busbars, up to whatever else they earth. */
function earthWires(bench: Bench): Set<Wire> {
  const earth = new Set<Wire>();
  const bars = new Map(
    bench.devices
      .filter(({ type }) => type === 'busbar')
      .map((device) => [device.tag, anatomy(device).terminals.map(({ name }) => `${device.tag}:${name}`)]),
  );
  const strips = new Set(
    bench.devices.filter(({ type }) => type === 'busbar' || type === 'terminal-strip').map(({ tag }) => tag),
  );
  const seen = new Set<string>();
  const queue: string[] = bench.wires.flatMap(({ from, to }) => [from, to]).filter(isEarthTerminal);
  for (const ref of queue) {
    if (seen.has(ref)) continue;
    seen.add(ref);
    queue.push(...(bars.get(splitRef(ref).tag) ?? []));
    for (const wire of bench.wires) {
      if (wire.from !== ref && wire.to !== ref) continue;
      earth.add(wire);
      const other = wire.from === ref ? wire.to : wire.from;
      if (isEarthTerminal(other) || strips.has(splitRef(other).tag)) queue.push(other);
    }
  }
  return earth;
}

/** IEC 60204-1, 13.2.2 (from memory): green-yellow marks the protective conductor and nothing else; green alone in NFPA 79. Wires without a colour are not judged. */
function earthColour(bench: Bench): Evidence | null {
  const earth = earthWires(bench);
  const wrong = bench.wires.filter(
    (wire) => wire.colour !== undefined && isEarthColour(wire.colour) !== earth.has(wire),
  );
  if (wrong.length === 0) return null;
  return {
    found: wrong.map((wire) => `${nameOf(wire)} is ${wire.colour ?? ''}`).join(', '),
    where: wrong.flatMap(({ from, to }) => [from, to]),
  };
}

type Use = 'earth' | 'neutral' | 'power' | 'control-ac' | 'control-dc';

/** Colours by use. [S] IEC 60204-1, 13.2.4 and NFPA 79, 13.2.4 (both from memory); brown and grey beside black for phases by IEC 60757 practice. */
const COLOURS: Readonly<Record<'iec' | 'us', Readonly<Record<Use, readonly string[]>>>> = {
  iec: {
    earth: EARTH,
    neutral: ['light blue', 'blue', 'bu'],
    power: ['black', 'brown', 'grey', 'gray', 'bk', 'bn', 'gy'],
    'control-ac': ['red', 'rd'],
    'control-dc': ['blue', 'dark blue', 'bu'],
  },
  us: {
    earth: EARTH,
    neutral: ['white', 'grey', 'gray', 'wh', 'gy'],
    power: ['black', 'bk'],
    'control-ac': ['red', 'rd'],
    'control-dc': ['blue', 'bu'],
  },
};

const USE_NAMES: Readonly<Record<Use, string>> = {
  earth: 'earth',
  neutral: 'neutral',
  power: 'power',
  'control-ac': 'AC control',
  'control-dc': 'DC control',
};

/** Uses of each potential, by the terminals that are joined in it. */
function usesOf(circuit: Circuit): (terminal: number) => Set<Use> {
  const sets = wiredTogether(circuit);
  const uses = new Map<number, Set<Use>>();
  const add = (terminal: number, use: Use) => {
    const root = sets.find(terminal);
    uses.set(root, (uses.get(root) ?? new Set<Use>()).add(use));
  };
  const dc = circuit.frequencies.includes(0) && circuit.frequencies.length === 1;
  const back = returnEnds(circuit);
  circuit.terminals.forEach((ref, k) => {
    const { tag, terminal } = splitRef(ref);
    const device = circuit.bench.devices.find((d) => d.tag === tag);
    if (!device) return;
    const body = anatomy(device);
    if (device.type.startsWith('supply-')) {
      if (terminal === 'N') add(k, 'neutral');
      else if (device.type === 'supply-dc') add(k, 'control-dc');
      else if (terminal !== 'PE') add(k, 'power');
    } else if (body.coil && [body.coil.a, body.coil.b].includes(terminal))
      add(k, body.coil.kind === 'dc' ? 'control-dc' : 'control-ac');
    else if (body.lamp) add(k, dc ? 'control-dc' : 'control-ac');
    else if (body.transformer) {
      add(k, body.transformer.primary.includes(terminal) ? 'power' : 'control-ac');
      if (back.includes(k as TerminalIndex)) add(k, 'neutral');
    } else if (
      body.motor ||
      body.links.flat().includes(terminal) ||
      body.contacts.some(({ role, a, b }) => role === 'pole' && [a, b].includes(terminal))
    ) {
      // A fuse or breaker of one or two poles stands in the control circuit as well.
      add(k, 'power');
      if (device.type === 'fuse' || (device.type === 'breaker' && device.options.poles < 3))
        add(k, dc ? 'control-dc' : 'control-ac');
    } else if (body.contacts.length > 0)
      add(k, circuit.frequencies.includes(0) ? 'control-dc' : 'control-ac');
  });
  return (terminal) => uses.get(sets.find(terminal)) ?? new Set<Use>();
}

function wrongColours(circuit: Circuit, scheme: 'iec' | 'us'): WireFault[] {
  const earth = earthWires(circuit.bench);
  const usesAt = usesOf(circuit);
  return circuit.bench.wires.flatMap((wire, k): WireFault[] => {
    if (wire.colour === undefined) return [];
    const uses = earth.has(wire) ? new Set<Use>(['earth']) : usesAt(circuit.indexOf.get(wire.from) as number);
    const allowed = [...uses].flatMap((use) => COLOURS[scheme][use]);
    if (uses.size === 0 || allowed.includes(wire.colour.toLowerCase())) return [];
    return [
      {
        wire: k,
        found: `is ${wire.colour}; ${[...uses].map((use) => `${USE_NAMES[use]} is ${COLOURS[scheme][use][0] ?? ''}`).join(', ')}`,
      },
    ];
  });
}

/** Amperes that fuses and breakers let reach each terminal: along the best fed way, the least rating on it. Infinity before any protection. */
function ratingsOf(circuit: Circuit): Float64Array {
  const rating = new Float64Array(circuit.terminals.length);
  const ways = [
    ...circuit.conductors.map(({ a, b }) => ({ a, b, limit: Number.POSITIVE_INFINITY })),
    ...circuit.switches.map(({ a, b, mechanism }) => {
      const device = circuit.mechanisms[mechanism]?.device;
      return {
        a,
        b,
        limit:
          device?.type === 'fuse' || device?.type === 'breaker'
            ? device.options.rating
            : Number.POSITIVE_INFINITY,
      };
    }),
    // A transformer's secondary is fed by what its primary's protection lets through, times its ratio.
    ...circuit.transformers.flatMap(({ primary, secondary }) =>
      primary.flatMap((a) => secondary.map((b) => ({ a, b, limit: Number.POSITIVE_INFINITY }))),
    ),
  ];
  for (const { terminal } of circuit.sources) rating[terminal] = Number.POSITIVE_INFINITY;
  for (let changed = true; changed;) {
    changed = false;
    for (const { a, b, limit } of ways) {
      for (const [from, to] of [
        [a, b],
        [b, a],
      ] as const) {
        const reach = Math.min(rating[from] as number, limit);
        if (reach > (rating[to] as number)) {
          rating[to] = reach;
          changed = true;
        }
      }
    }
  }
  return rating;
}

function thinWires(circuit: Circuit): WireFault[] {
  const rating = ratingsOf(circuit);
  const earth = earthWires(circuit.bench);
  return circuit.bench.wires.flatMap((wire, k): WireFault[] => {
    const protection = rating[circuit.indexOf.get(wire.from) as number] as number;
    if (wire.area === undefined || earth.has(wire) || !Number.isFinite(protection)) return [];
    const carries = CONDUCTOR_AMPS.findLast(([area]) => area <= (wire.area ?? 0))?.[1] ?? 0;
    if (carries >= protection) return [];
    const needed = CONDUCTOR_AMPS.find(([, amps]) => amps >= protection)?.[0];
    return [
      {
        wire: k,
        found: `of ${wire.area} mm² carries ${carries} A behind ${protection} A; it needs ${needed === undefined ? 'more' : `${needed} mm²`}`,
      },
    ];
  });
}

function wrongNumbers(circuit: Circuit): WireFault[] {
  const sets = wiredTogether(circuit);
  const { wires } = circuit.bench;
  const rootOf = ({ from }: Wire) => sets.find(circuit.indexOf.get(from) as number);
  const numbersOf = new Map<number, string>();
  const rootsOf = new Map<string, number>();
  for (const wire of wires) {
    if (!wire.number) continue;
    if (!numbersOf.has(rootOf(wire))) numbersOf.set(rootOf(wire), wire.number);
    if (!rootsOf.has(wire.number)) rootsOf.set(wire.number, rootOf(wire));
  }
  return wires.flatMap((wire, k): WireFault[] => {
    if (!wire.number) return [{ wire: k, found: 'has no number' }];
    const first = numbersOf.get(rootOf(wire));
    if (wire.number !== first)
      return [{ wire: k, found: `is ${wire.number}; its potential is ${first ?? ''}` }];
    return rootsOf.get(wire.number) === rootOf(wire)
      ? []
      : [{ wire: k, found: `is ${wire.number}, which is another potential` }];
  });
}
