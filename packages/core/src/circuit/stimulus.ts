/**
 * One thing done to a bench, in the shape in which scripts, traces and counterexamples write it. `first` names armatures
 * and plungers in the order in which they arrive where several move together, one name an arrival; what is not named
 * arrives by its own travel time.
 */
export type Stimulus = Act & { readonly first?: readonly string[] | undefined };

type Act =
  | { readonly press: string }
  | { readonly release: string }
  | { readonly turn: string; readonly to: string }
  | { readonly open: string }
  | { readonly close: string }
  | { readonly lose: string; readonly phase: string }
  | { readonly restore: string; readonly phase: string }
  | { readonly trip: string }
  | { readonly reset: string }
  | { readonly set: string; readonly to: number | string | boolean }
  | { readonly wait: number }
  | { readonly elapse: string }
  | { readonly together: readonly Stimulus[] };

/** The tag that a stimulus acts on, or null. */
export function targetOf(stimulus: Stimulus): string | null {
  for (const key of [
    'press',
    'release',
    'turn',
    'open',
    'close',
    'lose',
    'restore',
    'trip',
    'reset',
    'elapse',
  ] as const) {
    if (key in stimulus) return (stimulus as Record<string, unknown>)[key] as string;
  }
  if ('set' in stimulus) return stimulus.set.slice(0, stimulus.set.lastIndexOf('.'));
  return null;
}

/** A stimulus in plain words. */
export function describeStimulus(stimulus: Stimulus): string {
  const order = [...new Set(stimulus.first)];
  return order.length < 2 ? describeAct(stimulus) : `${describeAct(stimulus)} (${order.join(' before ')})`;
}

function describeAct(stimulus: Act): string {
  if ('press' in stimulus) return `press ${stimulus.press}`;
  if ('release' in stimulus) return `let go ${stimulus.release}`;
  if ('turn' in stimulus) return `turn ${stimulus.turn} to ${stimulus.to}`;
  if ('open' in stimulus) return `switch off ${stimulus.open}`;
  if ('close' in stimulus) return `switch on ${stimulus.close}`;
  if ('lose' in stimulus) return `lose ${stimulus.phase} of ${stimulus.lose}`;
  if ('restore' in stimulus) return `restore ${stimulus.phase} of ${stimulus.restore}`;
  if ('trip' in stimulus) return `trip ${stimulus.trip}`;
  if ('reset' in stimulus) return `reset ${stimulus.reset}`;
  if ('set' in stimulus) return `set ${stimulus.set} to ${String(stimulus.to)}`;
  if ('wait' in stimulus) return `wait ${stimulus.wait} s`;
  if ('elapse' in stimulus) return `let ${stimulus.elapse} run out`;
  return `at one instant: ${stimulus.together.map(describeStimulus).join(' and ')}`;
}
