import { isController, programOf, withProgram } from '../catalogue/index.js';
import { compile } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import {
  branchedAt,
  contactOf,
  contactWords,
  examined,
  insertedAfter,
  kindOfContact,
  ladderRung,
  readableBits,
  removedAt,
  replacedAt,
  type Program,
  type RungSeries,
} from '../program/index.js';
import { runSteps, type Step } from '../simulation/index.js';
import { firstLost } from './first-lost.js';
import type { ProgramRepair, RepairOptions, RepairTask, RungEdit } from './task.js';

/** Programs that are tried, at the most (some ten seconds). */
const EFFORT = 1_500;
const LIST = 12;

/** A rung as it is after one edit. */
interface Edited {
  readonly edits: readonly RungEdit[];
  readonly when: RungSeries;
}

/**
 * The fewest edits of contacts, one, or two in the same rung, that make a program do what is asked on its
 * board: contacts replaced, removed, or added in series or in parallel. Bounded, and honest about its bound.
 * Null where no controller of the board has a program.
 */
export function repairProgram(
  task: RepairTask,
  excused: ReadonlySet<string>,
  { stop = () => false, watch = () => undefined, effort = EFFORT, list = LIST }: RepairOptions = {},
): ProgramRepair | null {
  const device = task.bench.devices.find((one) => isController(one) && programOf(one) !== null);
  const program = programOf(device);
  if (!device || !program) return null;
  return new ProgramSearch(task, excused, device.tag, program, { stop, watch, effort, list }).result();
}

class ProgramSearch {
  private tried = 0;
  /** Sequences, those first that have refused a program last. */
  private order: (readonly Step[])[];
  /** By rung and its contacts: how far into what is asked it came; null where it is right. */
  private readonly known = new Map<string, number | null>();

  constructor(
    private readonly task: RepairTask,
    private readonly excused: ReadonlySet<string>,
    private readonly tag: string,
    private readonly program: Program,
    private readonly options: Required<Pick<RepairOptions, 'stop' | 'watch' | 'effort' | 'list'>>,
  ) {
    this.order = [...task.behaviours];
  }

  result(): ProgramRepair {
    const { tag: controller, program } = this;
    const told = (repairs: readonly Edited[], singles: boolean, pairs: boolean): ProgramRepair => ({
      controller,
      repairs: repairs.slice(0, this.options.list).map(({ edits }) => edits),
      singles,
      pairs,
      tried: this.tried,
    });
    const rungs = program.rungs.map(({ when }, k) => editsOf(program, k, when));
    const one = this.among(rungs.flat());
    // Where leads may be wrong as well, two changes of contacts are not looked for before them.
    if (one.right.length > 0 || !one.all || this.task.program === 'too')
      return told(one.right, one.all, false);
    // What brought a program further than it came is changed further first.
    const furthest = rungs.flat().sort((a, b) => this.far(b) - this.far(a));
    const two: Edited[] = [];
    for (const first of furthest) {
      const rung = first.edits[0]!.rung;
      const next = editsOf(program, rung, first.when).map(({ edits, when }) => ({
        edits: [...first.edits, ...edits],
        when,
      }));
      const found = this.among(next);
      two.push(...found.right);
      if (!found.all) return told(two, true, false);
    }
    return told(two, true, true);
  }

  /** Those of some programs that are right; not all of them are tried where the effort ends before. */
  private among(list: readonly Edited[]): { readonly right: readonly Edited[]; readonly all: boolean } {
    const right: Edited[] = [];
    for (const one of list) {
      const key = keyOf(one);
      if (this.known.has(key)) continue;
      if (this.tried >= this.options.effort || this.options.stop()) return { right, all: false };
      this.tried += 1;
      if (this.tried % 50 === 0) this.options.watch({ edits: one.edits.length, tried: this.tried });
      const failed = this.failsAt(one);
      this.known.set(key, failed);
      if (failed === null) right.push(one);
      // One that is all that is asked for ends it; a list is the whole list of its rung.
      if (this.options.list === 1 && right.length > 0) return { right, all: false };
    }
    return { right, all: true };
  }

  private far(one: Edited): number {
    return this.known.get(keyOf(one)) ?? Number.POSITIVE_INFINITY;
  }

  /** Steps after which a program first does what is not asked, counted over all sequences; null of a right one. */
  private failsAt({ edits, when }: Edited): number | null {
    const { task, tag, program } = this;
    const rung = edits[0]!.rung;
    const rungs = program.rungs.with(rung, { ...program.rungs[rung]!, when });
    const devices = task.bench.devices.map((one) =>
      one.tag === tag ? withProgram(one, { ...program, rungs }) : one,
    );
    const solver = new Solver(compile({ ...task.bench, devices }));
    let done = 0;
    for (const [k, steps] of this.order.entries()) {
      const { mismatches } = runSteps(solver, steps, { untilWrong: true });
      if (mismatches[0]) {
        this.order = [steps, ...this.order.toSpliced(k, 1)];
        return done + mismatches[0].step;
      }
      done += steps.length;
    }
    const { lost, complete } = firstLost(solver, this.excused);
    return complete && lost === null ? null : done;
  }
}

const keyOf = ({ edits, when }: Edited): string => `${edits[0]?.rung ?? 0} ${JSON.stringify(when)}`;

/** Every single edit of the contacts of a rung, each result once. */
function editsOf(program: Program, rung: number, when: RungSeries): Edited[] {
  const bits = readableBits(program);
  const found = new Map<string, Edited>();
  const put = (edit: RungEdit, after: RungSeries): void => {
    const key = JSON.stringify(after);
    if (!found.has(key)) found.set(key, { edits: [edit], when: after });
  };
  const fresh = bits.flatMap((bit) => [contactOf('no', bit), contactOf('nc', bit)]);
  for (const { path, contact: own } of ladderRung(when, []).contacts) {
    const kind = kindOfContact(own);
    const other = kind === 'no' ? 'nc' : 'no';
    const same = kind === 'nc' ? 'nc' : 'no';
    const instead = [
      contactOf(other, examined(own)),
      ...bits.filter((bit) => bit !== examined(own)).map((bit) => contactOf(same, bit)),
    ];
    for (const by of instead) put({ rung, replace: own, by }, replacedAt(when, path, by));
    put({ rung, remove: own }, removedAt(when, path));
    for (const one of fresh) put({ rung, parallel: one, to: own }, branchedAt(when, path, one));
    // In a series the order does not matter: one place stands for all.
    if (path.length > 1 && path.at(-1) === 0)
      for (const one of fresh) put({ rung, series: one, to: own }, insertedAfter(when, path, one));
  }
  for (const one of fresh) put({ rung, series: one }, insertedAfter(when, null, one));
  return [...found.values()];
}

/** An edit of a rung in words, the rung as it is numbered on paper. */
export function describeRungEdit(edit: RungEdit): string {
  const where = `Rung ${edit.rung + 1}:`;
  if ('replace' in edit) return `${where} ${contactWords(edit.by)} instead of ${contactWords(edit.replace)}`;
  if ('remove' in edit) return `${where} remove ${contactWords(edit.remove)}`;
  if ('series' in edit)
    return `${where} ${contactWords(edit.series)} in series with ${edit.to ? contactWords(edit.to) : 'the others'}`;
  return `${where} ${contactWords(edit.parallel)} in parallel with ${contactWords(edit.to)}`;
}

/** How far a search for changes of a program went, in words. */
export function programSearchWords({ repairs, singles, pairs, tried }: ProgramRepair): string {
  if (repairs.length > 0) return '';
  if (!singles) return `No single change of a contact among the ${tried} that were tried makes it right.`;
  return pairs
    ? 'No change of one contact, and no two changes in one rung, make it right.'
    : `No change of one contact makes it right; two changes in one rung were not all tried (${tried} programs in all).`;
}
