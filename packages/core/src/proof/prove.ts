import type { Proof, ProofOptions } from './proof.js';
import type { Bench } from '../bench/index.js';
import { compile } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { proveByParts } from './by-parts.js';
import { Decisions } from './decisions.js';
import { Search } from './search.js';

/**
 * Tries every order in which the bench can be worked, breadth first, and decides the properties of the
 * format.
 */
export function prove(bench: Bench, options: ProofOptions = {}): Proof {
  return proveCircuit(new Solver(compile(bench)), options);
}

export function proveCircuit(
  solver: Solver,
  options: ProofOptions = {},
  decisions = new Decisions(solver, options.hands ?? 'switchgear too'),
): Proof {
  const proof = proofOf(solver, options, decisions);
  if (!options.untilLost) return proof;
  const first = proof.properties.findIndex(({ holds, unshown }) => !holds && !unshown);
  return first < 0 ? proof : { ...proof, properties: proof.properties.slice(0, first + 1) };
}

function proofOf(solver: Solver, options: ProofOptions, decisions: Decisions): Proof {
  const search = () => new Search(solver, options, { decisions }).run();
  if (options.asOne) return search();
  const { proof, meet } = proveByParts(solver, decisions, options);
  return proof ?? (meet.length > 0 ? { ...search(), meet } : search());
}

/** How much a proof tried. */
export interface Tried extends Pick<Proof, 'complete' | 'states' | 'meet'> {
  readonly situations?: number;
  /** Parts of the board that were worked one by one. */
  readonly parts?: number;
}

/** The same of a proof. */
export const triedBy = ({ complete, states, situations, parts, meet }: Proof): Tried => ({
  complete,
  states,
  situations,
  ...(parts ? { parts: parts.length } : {}),
  ...(meet ? { meet } : {}),
});

/** What a proof tried, in words. */
export function describeProof({ complete, states, situations, parts = 1, meet = [] }: Tried): string {
  const number = (n: number) => n.toLocaleString('en-GB').replaceAll(',', '\u202f');
  if (!complete)
    return `the search stopped after ${number(states)} situations at rest; what was not reached is not decided`;
  const between =
    situations === undefined ? '' : `, and the ${number(situations - states)} moments between them,`;
  if (states === 1) return 'the one situation that this board can be in was tried';
  const all = `all ${number(states)} situations`;
  if (parts > 1)
    return `${all} that the ${parts} parts of this board can be in${between} were tried; no part depends on another`;
  const together =
    meet.length > 0
      ? `; its parts were worked together, because the voltage of ${meet.join(', ')} depends on what else is on`
      : '';
  return `${all} this board can be in${between} were tried${together}`;
}
