import { anatomy, isController, type Device } from '../catalogue/index.js';
import type { Bench } from '../bench/index.js';
import { shuffled } from '../random/index.js';
import { rewritten } from '../remade.js';

/** Other names for what a board has: of devices, and of the terminals of some. */
export interface Naming {
  readonly tags: ReadonlyMap<string, string>;
  /** By the designation that a device had: its terminals that have another number. */
  readonly terminals: ReadonlyMap<string, ReadonlyMap<string, string>>;
  /** Addresses of inputs and outputs, where the board has one controller. */
  readonly addresses: ReadonlyMap<string, string>;
}

export type Random = () => number;

/** Letters and number of a designation, whichever comes first; null of one that has another form. */
function partsOf(tag: string): { readonly letters: string; readonly of: (n: number) => string } | null {
  const [, iec] = /^([A-Z]+)\d+$/.exec(tag) ?? [];
  if (iec !== undefined) return { letters: iec, of: (n) => `${iec}${n}` };
  const [, us] = /^\d+([A-Z]+)$/.exec(tag) ?? [];
  return us === undefined ? null : { letters: us, of: (n) => `${n}${us}` };
}

/** Highest number that a designation gets, where a board has not more of its letters. */
const NUMBERS = 9;

/** What a designation may not become: it would read as a terminal, or as something that a program remembers. */
const reserved = (devices: readonly Device[], programs: unknown): Set<string> =>
  new Set([
    ...devices.flatMap((device) => anatomy(device).terminals.map(({ name }) => name)),
    ...(JSON.stringify([programs, devices.map(({ settings }) => settings)]).match(/\w+/g) ?? []),
  ]);

/** Other numbers within the same letters. A supply and a controller keep theirs: A1 is a coil's terminal too. */
export function otherTags(
  devices: readonly Device[],
  programs: unknown,
  random: Random,
): Map<string, string> {
  const taken = reserved(devices, programs);
  const own = new Set(devices.map(({ tag }) => tag));
  const groups = new Map<string, Device[]>();
  for (const device of devices) {
    const { sources } = anatomy(device);
    const parts = partsOf(device.tag);
    if (!parts || sources.length > 0 || isController(device) || namesTerminalOf(devices, device.tag))
      continue;
    groups.set(parts.letters, [...(groups.get(parts.letters) ?? []), device]);
  }
  const tags = new Map<string, string>();
  for (const group of groups.values()) {
    const { of } = partsOf(group[0]!.tag)!;
    const free = Array.from({ length: Math.max(NUMBERS, group.length + 1) }, (_, k) => of(k + 1)).filter(
      (tag) => group.some((one) => one.tag === tag) || (!taken.has(tag) && !own.has(tag)),
    );
    const numbers = shuffled(free, random);
    group.forEach((device, k) => tags.set(device.tag, numbers[k] ?? device.tag));
  }
  return tags;
}

const namesTerminalOf = (devices: readonly Device[], tag: string): boolean =>
  devices.some((device) => anatomy(device).terminals.some(({ name }) => name === tag));

/** Devices whose contacts are counted by place and function (EN 50005, from memory: 13-14 is the first NO). */
const COUNTED = new Set(['contactor', 'relay', 'pushbutton', 'estop', 'selector', 'limit-switch']);

/** The terminals of contacts that an option lists. */
function countedOf(device: Device): string[] {
  if (!COUNTED.has(device.type)) return [];
  const { aux, contacts } = device.options as { aux?: unknown; contacts?: unknown };
  return [...new Set([aux, contacts].flatMap((list) => JSON.stringify(list ?? []).match(/\b\d\d\b/g) ?? []))];
}

/** Places that contacts are counted from one to, where a device has not more of them. */
const PLACES = 4;

/**
 * Contacts in other places, with the same functions: NO 13-14 becomes NO 43-44. Those that people read of in
 * a way that is not told apart from other numbers keep theirs.
 */
export function otherTerminals(
  devices: readonly Device[],
  random: Random,
  keep: ReadonlySet<string>,
): Map<string, Map<string, string>> {
  const terminals = new Map<string, Map<string, string>>();
  for (const device of devices) {
    const names = countedOf(device);
    const places = [...new Set(names.map((name) => name[0]!))];
    const next = shuffled(
      Array.from({ length: Math.max(PLACES, places.length) }, (_, k) => String(k + 1)),
      random,
    );
    // Counted from 1 to 9: with more contacts than that a device keeps what it has.
    if (names.length === 0 || places.length > 9 || names.some((name) => keep.has(name))) continue;
    const to = new Map(places.map((place, k) => [place, next[k]!]));
    terminals.set(device.tag, new Map(names.map((name) => [name, `${to.get(name[0]!)!}${name[1]!}`])));
  }
  return terminals;
}

/** Inputs among each other, and the outputs of each common. */
export function otherAddresses(devices: readonly Device[], random: Random): Map<string, string> {
  const [controller, more] = devices.filter(isController);
  if (!controller || more) return new Map();
  const { terminals, contacts } = anatomy(controller);
  const inputs = terminals
    .map(({ name }) => name)
    .filter((name) => name.startsWith('I') && name.includes('.'));
  const groups = new Map<string, string[]>();
  for (const { a, b } of contacts) {
    const [common, output] = a.startsWith('QC') ? [a, b] : [b, a];
    groups.set(common, [...(groups.get(common) ?? []), output]);
  }
  const next = new Map<string, string>();
  for (const list of [inputs, ...groups.values()])
    shuffled(list, random).forEach((name, k) => next.set(list[k]!, name));
  return next;
}

/** A pair of terminals as people write a contact. */
const PAIR = /\b\d\d-\d\d\b/g;

/** Terminals that a text names without saying of which device: they are not counted anew. */
export function unsaidIn(texts: readonly string[], tags: readonly string[]): Set<string> {
  const said = pattern(tags);
  const unsaid = texts.flatMap((text) => text.replace(said, '').match(PAIR) ?? []);
  return new Set(unsaid.flatMap((pair) => pair.split('-')));
}

/** What no text matches. */
const NOTHING = '(?!)';

/** A text as a pattern that matches it alone: designations may hold `+`, `.` and `=`. */
const literal = (text: string): string => text.replace(/[.+=-]/g, '\\$&');

/**
 * A designation where a document or a sentence names one, with the terminal or contact behind it: `KM1:13`,
 * `KM1 13-14`, `S1 (NO 13-14`, `21-22 of S1`. After a colon stands a terminal's name, which may be written
 * as a designation is (`M1:U1`).
 */
function pattern(tags: readonly string[]): RegExp {
  const longestFirst = [...tags].sort((a, b) => b.length - a.length);
  const tag = longestFirst.length > 0 ? `(?:${longestFirst.map(literal).join('|')})` : NOTHING;
  return new RegExp(
    `\\b(\\d\\d-\\d\\d)( of )(${tag})\\b|(?<![\\w:-])(${tag})(?!\\w)(?:(:| | \\((?:NO|NC) )(\\d\\d(?:-\\d\\d)?)(?!\\w))?`,
    'g',
  );
}

/** Rewrites a text; what it does not name stays as it is. */
export function rewriter({ tags, terminals, addresses }: Naming): (text: string) => string {
  const all = [...new Set([...tags.keys(), ...terminals.keys()])];
  const words = pattern(all);
  const terminal = (tag: string, names: string) =>
    names
      .split('-')
      .map((name) => terminals.get(tag)?.get(name) ?? name)
      .join('-');
  return (text) =>
    text
      .replace(
        words,
        (_, before?: string, of?: string, behind?: string, tag?: string, joint?: string, names?: string) =>
          behind !== undefined
            ? `${terminal(behind, before!)}${of!}${tags.get(behind) ?? behind}`
            : `${tags.get(tag!) ?? tag!}${joint === undefined ? '' : `${joint}${terminal(tag!, names!)}`}`,
      )
      .replace(/\b[IQ]\d+\.\d\b/g, (address) => addresses.get(address) ?? address);
}

/** A board with other names; contacts in the options of its devices are counted as its terminals are. */
export function renamedBoard(bench: Bench, naming: Naming): Bench {
  const rewrite = rewriter(naming);
  return {
    ...rewritten(bench, rewrite),
    devices: bench.devices.map((device) => {
      const own = naming.terminals.get(device.tag);
      const options = own
        ? rewritten(device.options as unknown, (text) =>
            text.replace(/\b\d\d\b/g, (name) => own.get(name) ?? name),
          )
        : device.options;
      return { ...rewritten(device, rewrite), options: rewritten(options, rewrite) } as Device;
    }),
  };
}
