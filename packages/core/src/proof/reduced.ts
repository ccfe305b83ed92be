import { Network, isFixed, type Circuit, type Hands } from '../circuit/index.js';
import { perObject } from '../per-object.js';

/** By mechanism: 1 where nothing that hands do moves it. */
export const fixedOf = perObject((mechanisms: Circuit['mechanisms']): Record<Hands, Uint8Array> => {
  const by = (hands: Hands) => Uint8Array.from(mechanisms, (one) => (isFixed(one, hands) ? 1 : 0));
  return { controls: by('controls'), 'switchgear too': by('switchgear too') };
});

/** A circuit as decisions look at it: what hands do not move stays as the bench has it. */
export function networkOf(circuit: Circuit, hands: Hands): Network {
  const fixed = fixedOf(circuit.mechanisms)[hands];
  return new Network(circuit, { isFixed: ({ index }) => fixed[index] === 1, divided: true });
}
