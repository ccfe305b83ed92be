import type { Bench, Wire } from '../../bench/index.js';
import { choice, optional, type TerminalRole } from '../../catalogue/index.js';
import {
  isControlProtection,
  placesOf,
  returnEnds,
  wiredTogether,
  type Circuit,
  type TerminalIndex,
} from '../../circuit/index.js';
import { breachAtEach, rule, type Breach } from './rule.js';
import { breachByWire, earthWires, nameOf, type WireFault } from './wires.js';

const EARTH_COLOURS = ['green-yellow', 'green/yellow', 'gnye', 'gn-ye', 'gn/ye', 'green'];
const isEarthColour = (colour: string) => EARTH_COLOURS.includes(colour.toLowerCase());

/**
 * IEC 60204-1, 13.2.2 (from memory): green-yellow marks the protective conductor and nothing else; green
 * alone in NFPA 79. Wires without a colour are not judged.
 */
export const earthColour = rule<undefined>({
  otherwise: undefined,
  id: () => 'earth-colour',
  title: () => 'Green-yellow for earth, and for earth alone',
  sentence: () => '',
  breach({ bench }) {
    const earth = earthWires(bench);
    const wrong = bench.wires.filter(
      (wire) => wire.colour !== undefined && isEarthColour(wire.colour) !== earth.has(wire),
    );
    return breachAtEach(
      wrong.length,
      wrong.flatMap(({ from, to }) => [from, to]),
      wrong.map((wire) => `${nameOf(wire)} is ${wire.colour ?? ''}`).join(', '),
    );
  },
});

type Use = 'earth' | 'neutral' | 'power' | 'control-ac' | 'control-dc';
/** Whose colours: of two standards, or of the habit of places where phases are red, yellow and blue. */
export const COLOUR_SCHEMES = ['iec', 'us', 'red-yellow-blue'] as const;
export type ColourScheme = (typeof COLOUR_SCHEMES)[number];
type Scheme = ColourScheme;

/**
 * Colours by use. [S] IEC 60204-1, 13.2.4 and NFPA 79, 13.2.4 (both from memory); brown and grey beside
 * black for phases by IEC 60757 practice. Red, yellow and blue phases with a black neutral and grey control
 * [P].
 */
const COLOURS: Readonly<Record<Scheme, Readonly<Record<Use, readonly string[]>>>> = {
  iec: {
    earth: EARTH_COLOURS,
    neutral: ['light blue', 'blue', 'bu'],
    power: ['black', 'brown', 'grey', 'gray', 'bk', 'bn', 'gy'],
    'control-ac': ['red', 'rd'],
    'control-dc': ['blue', 'dark blue', 'bu'],
  },
  us: {
    earth: EARTH_COLOURS,
    neutral: ['white', 'grey', 'gray', 'wh', 'gy'],
    power: ['black', 'bk'],
    'control-ac': ['red', 'rd'],
    'control-dc': ['blue', 'bu'],
  },
  'red-yellow-blue': {
    earth: EARTH_COLOURS,
    neutral: ['black', 'bk'],
    power: ['red', 'yellow', 'blue', 'rd', 'ye', 'bu'],
    'control-ac': ['grey', 'gray', 'gy', 'white', 'wh'],
    'control-dc': ['grey', 'gray', 'gy', 'white', 'wh'],
  },
};

const USE_NAMES: Readonly<Record<Use, string>> = {
  earth: 'earth',
  neutral: 'neutral',
  power: 'power',
  'control-ac': 'AC control',
  'control-dc': 'DC control',
};

const STANDARDS = {
  iec: 'IEC 60204-1',
  us: 'NFPA 79',
  'red-yellow-blue': 'common practice: phases red, yellow, blue, neutral black, control grey',
} as const;
const NAMES = { iec: 'IEC', us: 'US', 'red-yellow-blue': 'red, yellow, blue' } as const;

/** Which scheme a board is wired by: the one its rule names, else that of where 60 Hz is common. */
export const schemeOf = (wireColours: ColourScheme | undefined, bench: Bench): ColourScheme =>
  wireColours ?? (isSixtyHertz(bench) ? 'us' : 'iec');

const isSixtyHertz = ({ devices }: Bench): boolean =>
  devices.some(({ options }) => 'frequency' in options && options.frequency === 60);

/** The names of a scheme's colours with what each is for; abbreviations are left out. */
export const schemeColours = (scheme: ColourScheme): { readonly name: string; readonly use: string }[] =>
  (['power', 'neutral', 'control-ac', 'control-dc', 'earth'] as const).flatMap((use) =>
    COLOURS[scheme][use]
      .filter((name) => !ABBREVIATED.test(name))
      .map((name) => ({ name, use: USE_NAMES[use] })),
  );

const ABBREVIATED = /^..$|gray|gn|\//;

export const wireColours = {
  ...rule<Scheme>({
    id: () => 'wire-colours',
    title: (scheme) => `Wire colours by potential, ${NAMES[scheme]}`,
    sentence: (scheme) => `Colours of wires by ${STANDARDS[scheme]}.`,
    breach: colourBreach,
  }),
  field: optional(choice('Wire colours', COLOUR_SCHEMES)),
};

function colourBreach(circuit: Circuit, scheme: Scheme): Breach | null {
  const { wires } = circuit.bench;
  const earth = earthWires(circuit.bench);
  const usesAt = usesOf(circuit);
  const faults = wires.flatMap((wire, k): WireFault[] => {
    if (wire.colour === undefined) return [];
    const uses = earth.has(wire) ? new Set<Use>(['earth']) : usesAt(circuit.indexOf.get(wire.from)!);
    const allowed = [...uses].flatMap((use) => COLOURS[scheme][use]);
    if (uses.size === 0 || allowed.includes(wire.colour.toLowerCase())) return [];
    const right = [...uses].map((use) => `${USE_NAMES[use]} is ${COLOURS[scheme][use][0] ?? ''}`);
    return [{ wire: k, found: `is ${wire.colour}; ${right.join(', ')}` }];
  });
  return breachByWire(wires, faults, wires.filter(({ colour }) => colour !== undefined).length);
}

/**
 * The colour that a lead has as a rule, by what its potential is for; of several uses the one that is most
 * particular.
 */
export function usualColours(
  circuit: Circuit,
  scheme: ColourScheme = schemeOf(undefined, circuit.bench),
): (wire: Pick<Wire, 'from'>) => string {
  const earth = new Set([...earthWires(circuit.bench)].map(({ from }) => from));
  const usesAt = usesOf(circuit);
  const inOrder: readonly Use[] = ['neutral', 'control-dc', 'control-ac', 'power'];
  return ({ from }) => {
    const uses = usesAt(circuit.indexOf.get(from)!);
    const use = earth.has(from) ? 'earth' : (inOrder.find((one) => uses.has(one)) ?? 'control-ac');
    return COLOURS[scheme][use][0]!;
  };
}

/** Uses of each potential, by the roles of the terminals that are joined in it. */
function usesOf(circuit: Circuit): (terminal: number) => Set<Use> {
  const sets = wiredTogether(circuit);
  const uses = new Map<number, Set<Use>>();
  const places = placesOf(circuit.bench);
  const useOf = useByRole(circuit);
  circuit.terminals.forEach((ref, k) => {
    const place = places.get(ref);
    if (!place) return;
    const root = sets.find(k);
    const known = uses.get(root) ?? new Set<Use>();
    for (const use of useOf(place.role, k as TerminalIndex, place.device.tag)) known.add(use);
    uses.set(root, known);
  });
  return (terminal) => uses.get(sets.find(terminal)) ?? new Set<Use>();
}

/** What a terminal of a role says of the potential that it lies on. */
function useByRole(circuit: Circuit): (role: TerminalRole, terminal: TerminalIndex, tag: string) => Use[] {
  const { frequencies } = circuit;
  const anyDc = frequencies.includes(0);
  const control: Use = anyDc ? 'control-dc' : 'control-ac';
  const signal: Use = anyDc && frequencies.length === 1 ? 'control-dc' : 'control-ac';
  const back = returnEnds(circuit);
  const dcSupplies = new Set(
    circuit.sources.filter(({ frequency }) => frequency === 0).map(({ tag }) => tag),
  );
  // A fuse or breaker of one or two poles stands in the control circuit as well.
  const controlPoles = new Set(
    circuit.switches.filter((contact) => isControlProtection(circuit, contact)).flatMap(({ a, b }) => [a, b]),
  );
  const isDcCoil = (tag: string): boolean =>
    circuit.coils.some((coil) => coil.tag === tag && coil.kind === 'dc');
  const behind = anyDc && frequencies.length > 1 ? controlBehind(circuit, dcSupplies, isDcCoil) : null;
  return (role, terminal, tag) => {
    switch (role) {
      case 'feed':
        return [dcSupplies.has(tag) ? 'control-dc' : 'power'];
      case 'return':
        return [dcSupplies.has(tag) ? 'control-dc' : 'neutral'];
      case 'line':
      case 'load':
        return controlPoles.has(terminal) ? ['power', signal] : ['power'];
      case 'winding':
      case 'primary':
        return ['power'];
      case 'secondary':
        return back.includes(terminal) ? ['control-ac', 'neutral'] : ['control-ac'];
      case 'coil':
        return [isDcCoil(tag) ? 'control-dc' : 'control-ac'];
      case 'signal':
        return [signal];
      case 'contact':
        return behind?.(terminal) ?? [control];
      case 'earth':
      case 'impedance':
      case 'joint':
        return [];
    }
  };
}

/**
 * What a contact switches on a board with control circuits of both kinds: what its terminal reaches through
 * contacts and control fuses says it. Nothing where it reaches neither coil nor supply.
 */
function controlBehind(
  circuit: Circuit,
  dcSupplies: ReadonlySet<string>,
  isDcCoil: (tag: string) => boolean,
): (terminal: TerminalIndex) => Use[] | null {
  const sets = wiredTogether(
    circuit,
    (contact) => contact.spec.role !== 'pole' || isControlProtection(circuit, contact),
  );
  const uses = new Map<number, Set<Use>>();
  const places = placesOf(circuit.bench);
  circuit.terminals.forEach((ref, k) => {
    const place = places.get(ref);
    if (!place) return;
    const { role, device } = place;
    const isCoil = role === 'coil';
    if (!isCoil && role !== 'feed' && role !== 'secondary') return;
    const isDc = isCoil ? isDcCoil(device.tag) : dcSupplies.has(device.tag);
    const root = sets.find(k);
    uses.set(root, (uses.get(root) ?? new Set<Use>()).add(isDc ? 'control-dc' : 'control-ac'));
  });
  return (terminal) => {
    const found = uses.get(sets.find(terminal));
    return found ? [...found] : null;
  };
}
