import type { Bench, TerminalRef } from '../bench/index.js';
import {
  isSwitchgearDevice,
  looksOf,
  type Operator,
  anatomy,
  contactEnds,
  isSupply,
  kindOf,
  type Anatomy,
  type SensorSpec,
  type ContactSpec,
  type Device,
} from '../catalogue/index.js';
import { isCoilSymbol, type PartSymbol } from './drawing.js';
import type { Netlist } from './nets.js';

/** What is drawn as one symbol between two terminals, or at one. */
export interface Part {
  readonly device: Device;
  /** Place of the device in its bench. */
  readonly order: number;
  readonly name: string;
  readonly symbol: PartSymbol;
  readonly operator: Operator;
  readonly ends: readonly TerminalRef[];
}

/** A part of the power circuit: columns side by side, each with a terminal above, below, or both. */
export interface PowerPart extends Omit<Part, 'ends'> {
  readonly columns: readonly { readonly top?: TerminalRef; readonly bottom?: TerminalRef }[];
}

export interface Parts {
  readonly control: readonly Part[];
  readonly power: readonly PowerPart[];
}

function contactSymbol({ normally, closedIn }: ContactSpec): PartSymbol {
  if (normally === 'none') return closedIn[0] ? 'contact-nc' : 'contact-no';
  return normally === 'closed' ? 'contact-nc' : 'contact-no';
}

/** The parts of a bench that its wires reach, each on the sheet to which it belongs. */
export function partsOf(bench: Bench, netlist: Netlist): Parts {
  const control: Part[] = [];
  const power: PowerPart[] = [];
  const inPower = powerDevices(bench, netlist);
  bench.devices.forEach((device, order) => {
    const body = anatomy(device);
    if (inPower.has(device.tag)) power.push(...powerParts(device, order, body));
    control.push(...controlParts(device, order, body, inPower.has(device.tag)));
  });
  const onPower = new Set(
    power.flatMap(({ columns }) =>
      columns.flatMap(({ top, bottom }) => [top, bottom].map((ref) => netlist.netOf.get(ref!))),
    ),
  );
  const isJointOfPower = ({ symbol, ends }: Part) =>
    symbol === 'terminal' && onPower.has(netlist.netOf.get(ends[0]!));
  for (const { ends, ...part } of control.filter(isJointOfPower))
    power.push({ ...part, columns: [{ top: ends[0]! }] });
  return {
    control: shown(
      control.filter((part) => !isJointOfPower(part)),
      ({ ends }) => ends,
      netlist,
    ),
    power: shown(
      power,
      ({ columns }) => columns.flatMap(({ top, bottom }) => [top, bottom].filter((ref) => ref !== undefined)),
      netlist,
    ),
  };
}

/**
 * Parts that a wire reaches. A terminal that several parts share is shown by those whose other end is wired
 * too, where there is one.
 */
function shown<P extends { readonly name: string }>(
  parts: readonly P[],
  endsOf: (part: P) => readonly TerminalRef[],
  { wired }: Netlist,
): P[] {
  const whole = new Set(
    parts.filter((part) => endsOf(part).every((ref) => wired.has(ref))).flatMap((part) => endsOf(part)),
  );
  const taken = new Set(whole);
  return parts.filter((part) => {
    const ends = endsOf(part);
    const has = ends.filter((ref) => wired.has(ref));
    if (has.length === 0) return false;
    if (has.length === ends.length) return true;
    const isNeeded = has.some((ref) => !taken.has(ref));
    for (const ref of has) taken.add(ref);
    return isNeeded;
  });
}

/**
 * Devices with parts in the power circuit. Fuses and breakers of one or two poles stand there where they
 * feed a main pole or a winding.
 */
function powerDevices(bench: Bench, { netOf }: Netlist): ReadonlySet<string> {
  const tags = new Set<string>();
  const nets = new Set<number>();
  const protections: Device[] = [];
  for (const device of bench.devices) {
    const body = anatomy(device);
    if (isSwitchgearDevice(device) && body.contacts.length < 3) protections.push(device);
    else if (isSupply(device) || body.motor || body.transformer || body.brakes || hasPoles(body)) {
      tags.add(device.tag);
      for (const { name, role } of body.terminals)
        if (role === 'line' || role === 'winding' || role === 'primary')
          nets.add(netOf.get(`${device.tag}:${name}`)!);
    }
  }
  for (const device of protections)
    if (anatomy(device).contacts.some(({ b }) => nets.has(netOf.get(`${device.tag}:${b}`)!)))
      tags.add(device.tag);
  return tags;
}

export const hasPoles = ({ contacts, heaters }: Anatomy): boolean =>
  contacts.some(({ role }) => role === 'pole') || heaters.length > 0;

/** The parts of a device that stand in the power circuit. */
export function powerParts(device: Device, order: number, body: Anatomy): PowerPart[] {
  const { tag } = device;
  const ref = (name: string): TerminalRef => `${tag}:${name}`;
  const common = { device, order, operator: 'none' } as const;
  const pole = (a: string, b: string, symbol: PartSymbol): PowerPart => ({
    ...common,
    name: `${a}-${b}`,
    symbol,
    columns: [{ top: ref(a), bottom: ref(b) }],
  });
  if (isSupply(device))
    return body.terminals.map(({ name }) => ({
      ...common,
      name,
      symbol: 'supply',
      columns: [{ bottom: ref(name) }],
    }));
  if (body.motor) {
    const six = body.terminals.length > 4;
    const ends = body.terminals.filter(({ role }) => role === 'winding').map(({ name }) => name);
    const top = six ? ends.slice(0, 3) : ends;
    return [
      {
        ...common,
        name: ends.join(' '),
        symbol: kindOf(device).symbol(device) as PartSymbol,
        columns: [
          ...top.map((name, k) => ({ top: ref(name), ...(six ? { bottom: ref(ends[k + 3]!) } : {}) })),
          { top: ref('PE') },
        ],
      },
    ];
  }
  if (body.transformer) {
    const { primary, secondary } = body.transformer;
    const columns = primary.map((name, k) => ({ top: ref(name), bottom: ref(secondary[k]!) }));
    return [{ ...common, name: [...primary, ...secondary].join(' '), symbol: 'transformer', columns }];
  }
  if (body.brakes) return body.coils.map(({ a, b }) => pole(a, b, 'brake'));
  const poles = body.contacts
    .filter(({ role }) => role === 'pole')
    .map(({ a, b }) => pole(a, b, looksOf(device).pole));
  return [...poles, ...body.heaters.map(([a, b]) => pole(a, b, 'heater'))];
}

/** The parts of a device that stand in the control circuit. */
export function controlParts(device: Device, order: number, body: Anatomy, isPower: boolean): Part[] {
  const part = (
    name: string,
    symbol: PartSymbol,
    ends: readonly string[],
    operator: Operator = 'none',
  ): Part => ({
    device,
    order,
    name,
    symbol,
    operator,
    ends: ends.map((end): TerminalRef => `${device.tag}:${end}`),
  });
  const looks = looksOf(device);
  const between = (name: string, symbol: PartSymbol) => part(name, symbol, contactEnds(name));
  const contacts = body.contacts
    .filter(({ role }) => role !== 'pole' || !isPower)
    .map((contact) =>
      part(
        contact.name,
        isOutput(body, contact)
          ? 'controller-output'
          : isSwitchgearDevice(device)
            ? looks.pole
            : contactSymbol(contact),
        [contact.a, contact.b],
        looks.operator(contact, device),
      ),
    );
  const own = kindOf(device).symbol(device) as PartSymbol;
  // The supply of an electronic relay, and an input that is measured, are drawn as a coil.
  const coil = isCoilSymbol(own) ? own : 'coil';
  return [
    ...contacts,
    ...(body.brakes ? [] : body.coils.map(({ a, b }) => between(`${a}-${b}`, coil))),
    ...body.sensors.map((sensor) => between(`${sensor.a}-${sensor.b}`, sensorSymbol(body, sensor) ?? coil)),
    ...body.lamps.map(({ a, b }) => between(`${a}-${b}`, own)),
    ...body.impedances.map(({ a, b }) => between(`${a}-${b}`, 'impedance')),
    ...(body.terminals[0]?.role === 'joint'
      ? body.terminals.map(({ name }) => part(name, 'terminal', [name]))
      : []),
  ];
}

const actuatorKind = ({ actuators }: Anatomy, name: string) =>
  actuators.find((one) => one.name === name)?.kind;

const isOutput = (body: Anatomy, { movedBy }: ContactSpec): boolean =>
  actuatorKind(body, movedBy) === 'output';

/** The electronics and the inputs of a controller have symbols of their own. */
function sensorSymbol(body: Anatomy, { moves }: SensorSpec): PartSymbol | null {
  const kind = actuatorKind(body, moves);
  if (kind === 'processor') return 'controller-supply';
  return kind === 'input' ? 'controller-input' : null;
}

const LOADS: ReadonlySet<PartSymbol> = new Set([
  'lamp',
  'buzzer',
  'impedance',
  'controller-supply',
  'controller-input',
]);

/** True of what takes current: coils, lamps and inputs, which end a current path. */
export const isLoad = ({ symbol }: { readonly symbol: PartSymbol }): boolean =>
  isCoilSymbol(symbol) || LOADS.has(symbol);
