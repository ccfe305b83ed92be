import {
  isContactor,
  anatomy,
  contactEnds,
  kindOf,
  readContact,
  type AnyDevice,
  type Device,
  type Field,
  type Fields,
  type Misfit,
} from '../catalogue/index.js';
import { terminalRef, type Bench, type Problem, type Wire } from './bench.js';

/** What a schema cannot say of a bench: tags, terminals, contacts and references that must fit together. */
export function benchProblems(bench: Bench, path = ''): Problem[] {
  const at = (rest: string) => (path ? `${path}.${rest}` : rest);
  const problems: Problem[] = [];
  const tags = new Map<string, number>();
  bench.devices.forEach((device, i) => {
    const first = tags.get(device.tag);
    if (first !== undefined) {
      problems.push({
        path: at(`devices[${i}].tag`),
        message: `"${device.tag}" is already the tag of devices[${first}]`,
      });
    } else tags.set(device.tag, i);
    for (const problem of deviceProblems(device, bench)) {
      problems.push({ path: at(`devices[${i}].${problem.path}`), message: problem.message });
    }
  });
  problems.push(...wireProblems(bench.wires, bench, at('wires')));
  bench.interlocks.forEach((interlock, i) => {
    interlock.between.forEach((tag, k) => {
      const device = bench.devices.find((d) => d.tag === tag);
      if (!device || !isContactor(device)) {
        problems.push({
          path: at(`interlocks[${i}].between[${k}]`),
          message: `"${tag}" is not a contactor of this bench`,
        });
      }
    });
    if (new Set(interlock.between).size !== interlock.between.length) {
      problems.push({ path: at(`interlocks[${i}].between`), message: 'names a contactor twice' });
    }
  });
  return problems;
}

/** Wires whose ends are not two different terminals of the bench. */
export function wireProblems(wires: readonly Wire[], bench: Bench, path: string): Problem[] {
  const known = new Set<string>();
  for (const device of bench.devices) {
    for (const { name } of anatomy(device).terminals) known.add(terminalRef(device.tag, name));
  }
  const problems: Problem[] = [];
  wires.forEach((wire, i) => {
    for (const end of ['from', 'to'] as const) {
      if (!known.has(wire[end])) {
        problems.push({
          path: `${path}[${i}].${end}`,
          message: `"${wire[end]}" is not a terminal of this bench`,
        });
      }
    }
    if (wire.from === wire.to) {
      problems.push({ path: `${path}[${i}]`, message: `a wire from ${wire.from} to itself` });
    }
  });
  return problems;
}

/** What the fields of a device cannot say one by one, and what its kind says beside them. */
function deviceProblems(device: Device, bench: Bench): Misfit[] {
  const kind = kindOf(device);
  const given = device as AnyDevice;
  const values = { given, bench };
  return [
    ...fieldsProblems(kind.options, given.options, 'options', values),
    ...fieldsProblems(kind.settings, given.settings, 'settings', values),
    ...(kind.misfits?.(given) ?? []),
    ...contactProblems(device),
  ];
}

interface Surroundings {
  readonly given: AnyDevice;
  readonly bench: Bench;
}

function fieldsProblems(fields: Fields, values: object, path: string, around: Surroundings): Misfit[] {
  return Object.entries(fields).flatMap(([key, field]) =>
    fieldProblems(field, (values as Record<string, unknown>)[key], `${path}.${key}`, around),
  );
}

/** Where one value does not fit another one that its field names. */
function fieldProblems({ shape }: Field, value: unknown, path: string, around: Surroundings): Misfit[] {
  if (value === undefined) return [];
  const { options } = around.given;
  switch (shape.kind) {
    case 'number': {
      if (shape.within === undefined) return [];
      const [least, most] = options[shape.within] as readonly [number, number];
      const number = value as number;
      if (number >= least && number <= most) return [];
      return [
        { path, message: `must lie in the range ${least} to ${most} ${shape.unit ?? ''}, is ${number}` },
      ];
    }
    case 'text': {
      if (shape.among === undefined) return [];
      const known = options[shape.among] as readonly string[];
      if (known.includes(value as string)) return [];
      return [{ path, message: `"${value as string}" is not one of ${known.join(', ')}` }];
    }
    case 'motor':
      return motorProblems(around.bench, value as string, path);
    case 'list':
      return (value as readonly unknown[]).flatMap((one, k) =>
        fieldProblems(shape.of, one, `${path}[${k}]`, around),
      );
    case 'limits': {
      const [least, most] = value as readonly [number, number];
      if (least <= most) return [];
      return [{ path, message: `minimum ${least} ${shape.unit} is above maximum ${most} ${shape.unit}` }];
    }
    case 'group':
      return fieldsProblems(shape.fields, value as object, path, around);
    case 'program':
    case 'choice':
    case 'flag':
    case 'contacts':
    case 'contact-name':
      return [];
  }
}

function motorProblems({ devices }: Bench, motor: string, path: string): Misfit[] {
  const isMotor = devices.some((device) => device.tag === motor && anatomy(device).motor !== undefined);
  return isMotor ? [] : [{ path, message: `"${motor}" is not a motor of this bench` }];
}

/** Contacts that a device was given whose terminals are not free. */
function contactProblems(device: Device): Misfit[] {
  const problems: Misfit[] = [];
  const reserved = kindOf(device).reserved ?? [];
  const names = new Set<string>();
  for (const { name, path } of givenContacts(device)) {
    const ends = contactEnds(name);
    if (ends[0] === ends[1]) problems.push({ path, message: `contact ${name} has the same terminal twice` });
    for (const terminal of ends)
      if (reserved.includes(terminal))
        problems.push({ path, message: `terminal ${terminal} already belongs to the ${device.type}` });
    if (names.has(name)) problems.push({ path, message: `contact ${name} is declared twice` });
    names.add(name);
  }
  return problems;
}

/** The contacts that the options of a device declare, with their paths. */
function givenContacts(device: Device): { name: string; path: string }[] {
  const within = (field: Field, value: unknown, path: string): { name: string; path: string }[] => {
    const { shape } = field;
    if (value === undefined) return [];
    if (shape.kind === 'contact-name') return [{ name: value as string, path }];
    if (shape.kind === 'contacts')
      return (value as readonly string[]).map((one, k) => ({
        name: readContact(one).name,
        path: `${path}[${k}]`,
      }));
    if (shape.kind === 'list')
      return (value as readonly unknown[]).flatMap((one, k) => within(shape.of, one, `${path}[${k}]`));
    if (shape.kind === 'group') return all(shape.fields, value, path);
    return [];
  };
  const all = (fields: Fields, values: unknown, path: string) =>
    Object.entries(fields).flatMap(([key, field]) =>
      within(field, (values as Record<string, unknown>)[key], `${path}.${key}`),
    );
  return all(kindOf(device).options, device.options, 'options');
}
