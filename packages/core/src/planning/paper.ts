import type { Bench } from '../bench/index.js';
import { drawingOf, type Drawing, type DrawingForm } from '../drawing/index.js';
import type { Exercise } from '../marking/index.js';
import { controllerPapers, type ControllerPaper } from './controllers.js';
import { plannedLeads, type PlannedLead } from './leads.js';
import { materialsOf, type Materials } from './materials.js';
import { wiringOrders, type WiringOrder } from './order.js';
import { sequenceTable, type SequenceTable } from './sequence.js';
import { terminalPlan, type TerminalPlan } from './terminals.js';

/** Everything that is on paper before a board is built. */
export interface PlanningPaper {
  readonly title: string;
  readonly materials: Materials;
  readonly leads: readonly PlannedLead[];
  readonly orders: { readonly byRung: WiringOrder; readonly byPlace: WiringOrder };
  readonly terminals: readonly TerminalPlan[];
  readonly sequence: SequenceTable;
  /** Of each programmable controller: its inputs and outputs, and its program. */
  readonly controllers: readonly ControllerPaper[];
  readonly drawings: { readonly iec: Drawing; readonly us: Drawing };
}

/** The planning paper of a board as it is wired; `functions` are what its sequence table works through. */
export function planningPaper(
  bench: Bench,
  { behaviours = [], observe = [] }: Partial<Pick<Exercise, 'behaviours' | 'observe'>> = {},
  form: DrawingForm = 'iec',
): PlanningPaper {
  const leads = plannedLeads(bench);
  const drawings = { iec: drawingOf(bench, 'iec'), us: drawingOf(bench, 'us') };
  return {
    title: bench.title,
    materials: materialsOf(bench, leads),
    leads,
    orders: wiringOrders(bench, leads, drawings[form]),
    terminals: terminalPlan(bench, leads),
    sequence: sequenceTable(bench, behaviours, observe),
    controllers: controllerPapers(bench, leads),
    drawings,
  };
}
