import type { Knex } from 'knex';
import type { Migration } from './migration.js';

/** An edit as it was told before: by the lead's place in the list of wires. */
interface ByPlace {
  readonly do: string;
  readonly index?: number;
}

/** The same by the lead's name. */
interface ByName {
  readonly do: string;
  readonly lead?: string;
}

interface Entry {
  readonly seq: number;
  readonly body: { readonly edit: ByPlace };
}

/** Entries of a log that are edits, in their order. */
const editsOf = (knex: Knex, attemptId: string) =>
  knex('attempt_log')
    .where({ attempt_id: attemptId, kind: 'edit' })
    .orderBy('seq')
    .select<Entry[]>('seq', 'body');

/**
 * Edits that name leads by their place, as they name them by their own names: leads are numbered in the
 * order in which they were laid.
 */
export function byName(edits: readonly ByPlace[], fitted: number): ByName[] {
  const list = Array.from({ length: fitted }, (_, k) => `f${k + 1}`);
  let laid = 0;
  return edits.map(({ index, ...edit }) => {
    if (index === undefined) return edit;
    if (edit.do === 'connect') list.splice(index, 0, `w${(laid += 1)}`);
    const lead = list[index] ?? '';
    if (edit.do === 'cut') list.splice(index, 1);
    return { ...edit, lead };
  });
}

/** And back: the place of each lead, when all stand in order of their names. */
export function byPlace(edits: readonly ByName[], fitted: number): ByPlace[] {
  const list: number[] = [];
  return edits.map(({ lead, ...edit }) => {
    if (lead === undefined) return edit;
    const number = Number(lead.slice(1));
    if (edit.do === 'connect') {
      const after = list.findIndex((other) => other > number);
      list.splice(after < 0 ? list.length : after, 0, number);
    }
    const place = list.indexOf(number);
    if (edit.do === 'cut') list.splice(place, 1);
    return { ...edit, index: fitted + place };
  });
}

async function rewrite(
  knex: Knex,
  change: (edits: readonly never[], fitted: number) => readonly object[],
): Promise<void> {
  const attempts = await knex('attempts')
    .join('assignments', 'assignments.id', 'attempts.assignment_id')
    .select<{ id: string; fitted: number }[]>(
      'attempts.id',
      knex.raw("jsonb_array_length(coalesce(document->'bench'->'wires', '[]'::jsonb)) as fitted"),
    );
  for (const { id, fitted } of attempts) {
    const entries = await editsOf(knex, id);
    const changed = change(entries.map(({ body }) => body.edit) as never[], fitted);
    for (const [k, { seq, body }] of entries.entries())
      await knex('attempt_log')
        .where({ attempt_id: id, seq })
        .update({ body: JSON.stringify({ ...body, edit: changed[k] }) });
  }
}

/**
 * A lead is known by its name and not by its place; an entry is stored as it is sent, and says itself what
 * kind it is.
 */
export const leadsByName: Migration = {
  name: '004-leads-by-name',
  async up(knex) {
    await rewrite(knex, byName);
    await knex.raw("update attempt_log set body = jsonb_build_object('kind', kind) || body");
    await knex.raw('alter table attempt_log drop column kind');
    await knex.raw(
      "alter table attempt_log add column kind text not null generated always as (body->>'kind') stored",
    );
    // What is kept of a board beside its log is made anew from it.
    await knex('attempt_boards').delete();
  },
  async down(knex) {
    await knex.raw('alter table attempt_log drop column kind');
    await knex.raw('alter table attempt_log add column kind text');
    await knex.raw("update attempt_log set kind = body->>'kind', body = body - 'kind'");
    await knex.raw(
      "alter table attempt_log alter column kind set not null, add constraint attempt_log_kind_check check (kind in ('edit', 'supply', 'act', 'reading', 'dead-test', 'incident'))",
    );
    await rewrite(knex, byPlace);
    await knex('attempt_boards').delete();
  },
};
