import type { Bench } from '../bench/index.js';
import { compile } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { proveCircuit, propertyTitle, type Property } from '../proof/index.js';
import { firstMismatch, runSteps, type Step } from '../simulation/index.js';

/** A function of an exercise, tried on a wiring that is being made. */
interface FunctionSoFar {
  readonly id: string;
  readonly title: string;
  /** Where it first differs from what is asked; null where it does all of it. */
  readonly differs: string | null;
}

/** A safety property of a wiring that is being made. */
export interface PropertySoFar extends Property {
  readonly title: string;
}

/** What a wiring can do so far, whatever else is to be wired. */
export interface SoFar {
  /** False where the board is too large for its proof while it is being wired. */
  readonly complete: boolean;
  /** What meets as the supply comes on, before anything is done; null where nothing does. */
  readonly short: string | null;
  readonly properties: readonly PropertySoFar[];
  readonly functions: readonly FunctionSoFar[];
}

/** Situations after which a proof that follows the wiring stops. */
const MOST = 30_000;

/**
 * Proves a wiring as it is and tries the functions whose steps are told. It knows no reference, so it cannot
 * tell a lead of it.
 */
export function provedSoFar(
  bench: Bench,
  functions: readonly { readonly id: string; readonly title: string; readonly steps: readonly Step[] }[],
  most = MOST,
): SoFar {
  const solver = new Solver(compile(bench));
  const proof = proveCircuit(solver, { maxSituations: most });
  const short = proof.properties.find(
    ({ id, holds, trace }) => id === 'no-short' && !holds && trace.length === 0,
  );
  return {
    complete: proof.complete,
    short: short?.found ?? null,
    properties: proof.properties.map((property) => ({ ...property, title: propertyTitle(property.id) })),
    functions: functions.map(({ id, title, steps }) => {
      const result = runSteps(solver, steps);
      return { id, title, differs: firstMismatch(steps, result)?.found ?? null };
    }),
  };
}
