import type { Bench } from '../bench/index.js';
import { compile, describeStimulus } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import {
  Simulation,
  isExpectation,
  momentOf,
  observableByDefault,
  observerOf,
  type Observer,
  type Step,
} from '../simulation/index.js';

/** What a board does, act by act: a row a stimulus, a column a thing that is watched. */
export interface SequenceTable {
  readonly columns: readonly string[];
  readonly parts: readonly {
    readonly id: string;
    readonly title: string;
    /** How everything stands with the supply on and nothing done. */
    readonly rest: readonly string[];
    readonly rows: readonly { readonly does: string; readonly states: readonly string[] }[];
  }[];
}

interface Worked {
  readonly id: string;
  readonly title: string;
  readonly steps: readonly Step[];
}

/**
 * Works a board through each of some functions, on a fresh bench each, and writes down what everything
 * does.
 */
export function sequenceTable(
  bench: Bench,
  functions: readonly Worked[],
  observe: readonly string[] = [],
): SequenceTable {
  const circuit = compile(bench);
  const solver = new Solver(circuit);
  const names = observe.length > 0 ? observe : observableByDefault(circuit);
  const observers = names.flatMap((what): Observer[] => {
    const outcome = observerOf(circuit, what);
    return 'problem' in outcome || outcome.observer.numeric ? [] : [outcome.observer];
  });
  const parts = functions.map(({ id, title, steps }) => {
    const board = new Simulation(solver);
    const look = () => {
      const now = momentOf(board);
      return observers.map((one) => String(one.read(now)));
    };
    const rest = look();
    const rows = steps.flatMap((step) => {
      if (isExpectation(step)) return [];
      board.work(step);
      return [{ does: describeStimulus(step), states: look() }];
    });
    return { id, title, rest, rows };
  });
  return { columns: observers.map(({ what }) => what), parts };
}
