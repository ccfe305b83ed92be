import type { Bench, TerminalRef } from '../../bench/index.js';
import { anatomy, type TerminalRole } from '../../catalogue/index.js';
import { LiveBench } from '../../live/index.js';
import { JOINED_OHMS, READING_SPREAD } from '../../tolerances.js';
import type { DeadTest, Practice } from '../exercise.js';

/**
 * What the dead test of a board asks for: the exercise's table, or the frames' earth and the supply's
 * conductors as the reference has them.
 */
export function deadTestsOf({ deadTest }: Practice, reference: Bench): readonly DeadTest[] {
  if (deadTest === undefined || deadTest === false) return [];
  return deadTest === true ? usualTests(reference) : deadTest;
}

/** Each frame to the supply's earth, and every two live conductors of a supply to each other. */
function usualTests(reference: Bench): DeadTest[] {
  const live = new LiveBench();
  live.load(reference);
  const bodies = reference.devices.map((device) => ({ tag: device.tag, ...anatomy(device) }));
  const ends = ({ tag, terminals }: (typeof bodies)[number], ...roles: TerminalRole[]) =>
    terminals.filter(({ role }) => roles.includes(role)).map(({ name }): TerminalRef => `${tag}:${name}`);
  const supplies = bodies.filter(({ sources }) => sources.length > 0);
  const [earth] = supplies.flatMap((one) => ends(one, 'earth'));
  const frames = bodies.filter(({ motor }) => motor !== undefined).flatMap((one) => ends(one, 'earth'));
  const pairs = [
    ...(earth === undefined ? [] : frames.map((frame): DeadTest['between'] => [earth, frame])),
    ...supplies.flatMap((one) => {
      const conductors = ends(one, 'feed', 'return');
      return conductors.flatMap((a, k) => conductors.slice(k + 1).map((b): DeadTest['between'] => [a, b]));
    }),
  ];
  return pairs.map((between) => ({ between, hold: [], expect: expectedOhms(live.ohms(...between)) }));
}

/**
 * The control circuit with each of some buttons held: what lies between the supply's conductors then, where
 * that is other than before.
 */
export function controlTests(reference: Bench, buttons: readonly string[]): DeadTest[] {
  const live = new LiveBench();
  live.load(reference);
  const feeds = reference.devices.flatMap((device) => {
    const { sources, transformer } = anatomy(device);
    if (transformer) return [transformer.secondary.map((name): TerminalRef => `${device.tag}:${name}`)];
    return sources.map(({ terminal, reference: back }): TerminalRef[] => [
      `${device.tag}:${terminal}`,
      `${device.tag}:${back}`,
    ]);
  });
  return buttons.flatMap((button) => {
    const before = feeds.map(([a, b]) => live.ohms(a!, b!));
    live.work({ press: button });
    const tests = feeds.flatMap(([a, b], k): DeadTest[] => {
      const ohms = live.ohms(a!, b!);
      return ohms === before[k] ? [] : [{ between: [a!, b!], hold: [button], expect: expectedOhms(ohms) }];
    });
    live.work({ release: button });
    return tests;
  });
}

/** A value that a meter of moderate accuracy would call the same. */
export function expectedOhms(ohms: number): DeadTest['expect'] {
  if (!Number.isFinite(ohms)) return 'open';
  return ohms <= JOINED_OHMS
    ? 'closed'
    : { min: (1 - READING_SPREAD) * ohms, max: (1 + READING_SPREAD) * ohms };
}
