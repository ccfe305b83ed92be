import { compile, kindOf, observedWords, positionsOn, type Bench, type Stimulus } from '@contactum/core';

/** What may be done to a board, in words, for a list to choose from. */
export function stimuliOf(bench: Bench): { readonly label: string; readonly stimulus: Stimulus }[] {
  const of = bench.devices.flatMap((device): { label: string; stimulus: Stimulus }[] => {
    const { tag } = device;
    const { verbs } = kindOf(device);
    const does = (verb: string, label: string) =>
      (verbs as readonly string[]).includes(verb)
        ? [{ label: `${label} ${tag}`, stimulus: { [verb]: tag } as unknown as Stimulus }]
        : [];
    const turns = positionsOn(device).map((to) => ({
      label: `turn ${tag} to ${to}`,
      stimulus: { turn: tag, to },
    }));
    return [
      ...does('press', 'press'),
      ...does('release', 'release'),
      ...turns,
      ...does('trip', 'trip'),
      ...does('reset', 'reset'),
      ...does('open', 'switch off'),
      ...does('close', 'switch on'),
      ...does('elapse', 'let run out:'),
    ];
  });
  const waits = [0.5, 1, 2, 5, 10].map((wait) => ({ label: `wait ${wait} s`, stimulus: { wait } }));
  return [...of, ...waits];
}

const STATES: Readonly<Record<string, readonly string[]>> = {
  driven: ['none', 'forward', 'reverse', 'single-phase'],
  turning: ['stopped', 'forward', 'reverse'],
  connection: ['open', 'star', 'delta', 'other'],
};

/** What may be observed of a board: mechanisms, lamps, controllers' points, motors' aspects, contacts. */
export function observablesOf(bench: Bench): string[] {
  const { mechanisms, mechanismOf, motors, switches, lamps } = compile(bench);
  return [
    ...new Set([
      ...mechanismOf.keys(),
      ...lamps.map(({ tag }) => tag),
      ...mechanisms.flatMap(({ kind, device, name }) =>
        kind === 'input' || kind === 'output' ? [`${device.tag}.${name}`] : [],
      ),
      ...motors.flatMap(({ tag }) =>
        ['driven', 'connection', 'turning', 'speed', 'current'].map((aspect) => `${tag}.${aspect}`),
      ),
      ...switches.filter(({ spec }) => spec.role !== 'pole').map(({ tag, spec }) => `${tag}:${spec.name}`),
      'bench',
    ]),
  ];
}

/** Words that a value of something observed can be. */
export function valuesOf(bench: Bench, what: string): readonly string[] {
  if (what === 'bench') return ['sound', 'short'];
  if (/:\S+-\S+$/.test(what)) return ['open', 'closed'];
  if (/\.[IQ]\d+\.\d+$/.test(what)) return ['off', 'on'];
  const aspect = STATES[what.split('.').at(-1) ?? ''];
  if (aspect && what.includes('.')) return aspect;
  const device = bench.devices.find(({ tag }) => tag === what);
  if (!device) return [];
  return observedWords(device);
}
