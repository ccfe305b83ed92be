import { isOverloadRelay, kindOf, positionsOn, type Device, type Stimulus } from '@contactum/core';

/** Something that is done to a board, with the words for it. */
export interface Doable {
  readonly label: string;
  readonly stimulus: Stimulus;
}

/** What is done to a device while the board is worked; nothing is switched off or on. */
export function doablesOf(device: Device): Doable[] {
  const { tag } = device;
  const { verbs } = kindOf(device);
  if (verbs.includes('press'))
    return [
      { label: `press ${tag}`, stimulus: { press: tag } },
      { label: `let ${tag} go`, stimulus: { release: tag } },
    ];
  if (isOverloadRelay(device))
    return [
      { label: `trip ${tag}`, stimulus: { trip: tag } },
      { label: `reset ${tag}`, stimulus: { reset: tag } },
    ];
  if (verbs.includes('elapse')) return [{ label: `let ${tag} run out`, stimulus: { elapse: tag } }];
  return positionsOn(device).map((to) => ({ label: `turn ${tag} to ${to}`, stimulus: { turn: tag, to } }));
}
