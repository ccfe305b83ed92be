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

export function proveCircuit(solver: Solver, options: ProofOptions = {}): Proof {
  const decisions = new Decisions(solver, options.hands ?? 'switchgear too');
  const parted = options.asOne ? null : proveByParts(solver, decisions, options);
  return parted ?? new Search(solver, options, { decisions }).run();
}

/** What a proof tried, in words. */
export function describeProof({
  complete,
  states,
  situations,
}: Pick<Proof, 'complete' | 'states'> & { readonly situations?: number }): string {
  const number = (n: number) => n.toLocaleString('en-GB').replaceAll(',', '\u202f');
  if (!complete)
    return `the search stopped after ${number(states)} situations at rest; what was not reached is not decided`;
  const between =
    situations === undefined ? '' : `, and the ${number(situations - states)} moments between them,`;
  return states === 1
    ? 'the one situation that this board can be in was tried'
    : `all ${number(states)} situations this board can be in${between} were tried`;
}
