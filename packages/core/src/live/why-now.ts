import { explain, explained, type Explanation } from '../explain/index.js';
import type { LiveBench } from './live-bench.js';

/**
 * Why a coil, a lamp or a motor of a bench that runs is as it is at this moment; null where there is none.
 * With faults on the board it says nothing: they are to be found with the meter. Apart from the bench, so that
 * a page fetches it when it is first asked.
 */
export function whyNow({ simulation, circuit }: LiveBench, tag: string): Explanation | null {
  if (!simulation || !circuit || simulation.faults.length > 0) return null;
  return explained(circuit).includes(tag) ? explain(simulation.solver, simulation.state, tag) : null;
}
