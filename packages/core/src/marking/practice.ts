import { foldEdits, splitRef, type Bench, type Edit } from '../bench/index.js';
import type { Practice } from './exercise.js';
import type { Evidence } from './report.js';
import type { RuleVerdict } from './rules.js';

/** What was done at the bench during an attempt, in order; seconds from its beginning. */
export type WorkEvent = { readonly t: number } & (
  | { readonly kind: 'edit'; readonly edit: Edit }
  | { readonly kind: 'supply'; readonly on: boolean }
  /** A continuity reading between two terminals with the supply off. */
  | { readonly kind: 'dead-test'; readonly from: string; readonly to: string }
  | { readonly kind: 'permission' }
  | { readonly kind: 'incident'; readonly incident: string }
  | { readonly kind: 'hand-in' }
);

/** Work practice as the exercise asks for it, judged from the log of an attempt. */
export function judgePractice(practice: Practice, log: readonly WorkEvent[], bench: Bench): RuleVerdict[] {
  const verdicts: RuleVerdict[] = [];
  const firstOn = log.findIndex((event) => event.kind === 'supply' && event.on);
  const before = firstOn < 0 ? log : log.slice(0, firstOn);
  if (practice.deadTest) {
    const lastEdit = before.findLastIndex(({ kind }) => kind === 'edit');
    const tested = before.some(({ kind }, k) => kind === 'dead-test' && k > lastEdit);
    const early = before.some(({ kind }) => kind === 'dead-test');
    const found = firstOn < 0 ? 'no dead test was made' : early ? 'the wiring was changed after the last dead test and then energised' : 'energised without a dead test';
    verdicts.push({ id: 'dead-test', title: 'Dead test before the first energising', broken: tested ? null : { found: `${found}${at(log[firstOn])}` } });
  }
  if (practice.permission) verdicts.push({ id: 'permission', title: 'Energised only with permission', broken: withoutPermission(log) });
  if (practice.incidents !== undefined) {
    const incidents = log.flatMap((event) => (event.kind === 'incident' ? [event] : []));
    const over = incidents.length - practice.incidents;
    const title = practice.incidents === 0 ? 'No incident while working' : `At most ${practice.incidents} incidents while working`;
    const found = incidents.map((event) => `${event.incident}${at(event)}`).join(', ');
    verdicts.push(
      over > 0 ? { id: 'incidents', title, broken: { found: `${incidents.length} incidents: ${found}` }, kept: 0.5 ** over } : { id: 'incidents', title, broken: null },
    );
  }
  if (practice.minutes !== undefined) {
    const first = log.find(({ kind }) => kind === 'edit');
    const last = log.at(-1);
    const used = first && last ? (last.t - first.t) / 60 : 0;
    const over = used - practice.minutes;
    const title = `Done within ${practice.minutes} minutes`;
    verdicts.push(
      over > 0
        ? { id: 'time', title, broken: { found: `${used.toFixed(0)} minutes were used` }, kept: Math.max(0, 1 - over / practice.minutes) }
        : { id: 'time', title, broken: null },
    );
  }
  if (practice.wiringOrder) {
    const title = practice.wiringOrder === 'power-first' ? 'Power circuit wired before the control circuit' : 'Control circuit wired before the power circuit';
    verdicts.push({ id: 'wiring-order', title, ...wiringOrder(practice.wiringOrder, log, bench) });
  }
  return verdicts;
}

const at = (event: WorkEvent | undefined): string => (event ? ` at ${Math.floor(event.t / 60)} min ${Math.floor(event.t % 60)} s` : '');

/** Every energising needs a permission that was given after the last change of the wiring. */
function withoutPermission(log: readonly WorkEvent[]): Evidence | null {
  let allowed = false;
  const wrong: WorkEvent[] = [];
  for (const event of log) {
    if (event.kind === 'permission') allowed = true;
    else if (event.kind === 'edit') allowed = false;
    else if (event.kind === 'supply' && event.on && !allowed) wrong.push(event);
  }
  return wrong.length === 0 ? null : { found: `energised without permission ${wrong.length === 1 ? 'once' : `${wrong.length} times`}, first${at(wrong[0])}` };
}

const POWER = /^([1-6]|L[123]|[UVW][12]?)$/;

/** Which circuit a lead belongs to by its ends: power where both are main terminals. */
function circuitOf({ from, to }: { from: string; to: string }): 'power' | 'control' | null {
  if (from.endsWith(':PE') || to.endsWith(':PE')) return null;
  return [from, to].every((ref) => POWER.test(splitRef(ref).terminal)) ? 'power' : 'control';
}

/** Of the leads that stayed, those of the later circuit that went in before the last of the earlier one. */
function wiringOrder(order: 'power-first' | 'control-first', log: readonly WorkEvent[], bench: Bench): Pick<RuleVerdict, 'broken' | 'kept'> {
  const edits = log.flatMap((event) => (event.kind === 'edit' ? [event.edit] : []));
  const placed: { circuit: 'power' | 'control'; when: number; name: string }[] = [];
  const stays = new Set(foldEdits(bench, edits, bench.wires.length).wires.map(({ from, to }) => `${from} ${to}`));
  edits.forEach((edit, when) => {
    const wire = edit.do === 'connect' ? edit.wire : edit.do === 'move' ? edit.to : null;
    const circuit = wire && circuitOf(wire);
    if (wire && circuit && stays.has(`${wire.from} ${wire.to}`)) placed.push({ circuit, when, name: `${wire.from} to ${wire.to}` });
  });
  const first = order === 'power-first' ? 'power' : 'control';
  const lastOfFirst = Math.max(-1, ...placed.filter(({ circuit }) => circuit === first).map(({ when }) => when));
  const later = placed.filter(({ circuit }) => circuit !== first);
  const early = later.filter(({ when }) => when < lastOfFirst);
  if (early.length === 0) return { broken: null };
  return {
    broken: { found: `${early.length} of ${later.length} leads of the other circuit went in before the ${first} circuit was complete, first ${early[0]?.name ?? ''}` },
    kept: 1 - early.length / later.length,
  };
}
