import { anatomy, readContact, synchronousSpeed, type Device } from '../catalogue/index.js';
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
      if (device?.type !== 'contactor') {
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

function deviceProblems(device: Device, bench: Bench): Problem[] {
  const problems: Problem[] = [];
  switch (device.type) {
    case 'overload': {
      const { range } = device.options;
      if (range[0] > range[1])
        problems.push({
          path: 'options.range',
          message: `minimum ${range[0]} A is above maximum ${range[1]} A`,
        });
      const { dial } = device.settings;
      if (dial < range[0] || dial > range[1]) {
        problems.push({
          path: 'settings.dial',
          message: `must lie in the range ${range[0]} to ${range[1]} A, is ${dial}`,
        });
      }
      break;
    }
    case 'selector': {
      const { positions, contacts } = device.options;
      if (!positions.includes(device.settings.position)) {
        problems.push({
          path: 'settings.position',
          message: `"${device.settings.position}" is not one of ${positions.join(', ')}`,
        });
      }
      if (new Set(positions).size !== positions.length)
        problems.push({ path: 'options.positions', message: 'a position stands twice' });
      contacts.forEach((contact, k) => {
        contact.closedIn.forEach((position, m) => {
          if (!positions.includes(position)) {
            problems.push({
              path: `options.contacts[${k}].closedIn[${m}]`,
              message: `"${position}" is not one of ${positions.join(', ')}`,
            });
          }
        });
      });
      break;
    }
    case 'limit-switch': {
      const motor = device.options.travel?.motor;
      if (
        motor !== undefined &&
        !bench.devices.some((d) => d.tag === motor && (d.type === 'motor-3' || d.type === 'motor-1'))
      ) {
        problems.push({ path: 'options.travel.motor', message: `"${motor}" is not a motor of this bench` });
      }
      break;
    }
    case 'relay':
      if (device.options.base && device.options.contacts.length > 0) {
        problems.push({
          path: 'options.contacts',
          message: `a relay on base ${device.options.base} has the contacts of its base`,
        });
      }
      break;
    case 'brake': {
      const { motor } = device.options;
      if (!bench.devices.some((d) => d.tag === motor && (d.type === 'motor-3' || d.type === 'motor-1'))) {
        problems.push({ path: 'options.motor', message: `"${motor}" is not a motor of this bench` });
      }
      break;
    }
    case 'motor-1':
    case 'motor-3': {
      const { plate } = device.options;
      const synchronous = synchronousSpeed(plate.frequency, plate.speed);
      if (synchronous === null) {
        problems.push({
          path: 'options.plate.speed',
          message: `must lie below the synchronous speed of a ${plate.frequency} Hz motor, is ${plate.speed} rpm`,
        });
      }
      break;
    }
    default:
  }
  return [...problems, ...contactProblems(device)];
}

function contactProblems(device: Device): Problem[] {
  const problems: Problem[] = [];
  const declared = declaredContacts(device);
  const reserved = new Set(
    device.type === 'contactor'
      ? ['1', '2', '3', '4', '5', '6', 'A1', 'A2']
      : device.type === 'timer'
        ? ['A1', 'A2', '15', '16', '18']
        : device.type === 'relay'
          ? ['A1', 'A2']
          : [],
  );
  const names = new Set<string>();
  declared.forEach(({ name, path }) => {
    const [a, b] = name.split('-');
    if (a === b) problems.push({ path, message: `contact ${name} has the same terminal twice` });
    for (const terminal of [a, b]) {
      if (terminal !== undefined && reserved.has(terminal))
        problems.push({ path, message: `terminal ${terminal} already belongs to the ${device.type}` });
    }
    if (names.has(name)) problems.push({ path, message: `contact ${name} is declared twice` });
    names.add(name);
  });
  return problems;
}

function declaredContacts(device: Device): { name: string; path: string }[] {
  const list = (texts: readonly string[], key: string) =>
    texts.map((text, k) => ({ name: readContact(text).name, path: `options.${key}[${k}]` }));
  switch (device.type) {
    case 'contactor':
      return list(device.options.aux, 'aux');
    case 'relay':
      return list(device.options.contacts, 'contacts');
    case 'pushbutton':
    case 'estop':
    case 'limit-switch':
      return list(device.options.contacts, 'contacts');
    case 'timer':
      return list(device.options.instant, 'instant');
    case 'selector':
      return device.options.contacts.map((contact, k) => ({
        name: contact.terminals,
        path: `options.contacts[${k}].terminals`,
      }));
    default:
      return [];
  }
}
