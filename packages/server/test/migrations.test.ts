import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { fittedBoard, foldEdits, type Bench, type Edit, type Wire } from '@contactum/core';
import { openDatabase } from '../src/database/database.js';
import { byName, byPlace } from '../src/database/migrations/004-leads-by-name.js';
import { migrationSource } from '../src/database/migrations/index.js';
import { exercise } from '../../core/test/help.js';
import { freshDatabase } from './help.js';

const pump = exercise('brine-pump-three-wire');
/** Two leads are fitted by the instructor. */
const fitted = pump.reference.slice(0, 2);
const board: Bench = { ...pump.bench, wires: fitted };

interface OldEdit {
  readonly do: 'connect' | 'cut' | 'move';
  readonly index: number;
  readonly wire?: Wire;
  readonly from?: Wire;
  readonly to?: Wire;
}

/** The wires that edits by place lead to: a list that is spliced, as it was before leads had names. */
function splice(edits: readonly OldEdit[]): Wire[] {
  const wires = [...fitted];
  for (const edit of edits) {
    if (edit.do === 'connect') wires.splice(edit.index, 0, edit.wire as Wire);
    else if (edit.do === 'cut') wires.splice(edit.index, 1);
    else wires[edit.index] = edit.to as Wire;
  }
  return wires;
}

const spelled = (wires: readonly Wire[]) => wires.map(({ from, to }) => `${from}>${to}`).sort();

/**
 * A log by place that a person could have made: leads laid at the end, taken away anywhere, put back where
 * they were.
 */
function history(recipe: readonly { readonly kind: string; readonly at: number }[]): OldEdit[] {
  const edits: OldEdit[] = [];
  const bin: { index: number; wire: Wire }[] = [];
  for (const { kind, at } of recipe) {
    const wires = splice(edits);
    const loose = wires.length - fitted.length;
    const index = fitted.length + (at % Math.max(loose, 1));
    const wire = wires[index];
    const other = pump.reference[at % pump.reference.length] as Wire;
    const back = bin.pop();
    if (kind === 'undo' && back && back.index <= wires.length) edits.push({ do: 'connect', ...back });
    else if (kind === 'cut' && wire) {
      edits.push({ do: 'cut', index, wire });
      bin.push({ index, wire });
    } else if (kind === 'move' && wire) edits.push({ do: 'move', index, from: wire, to: other });
    else edits.push({ do: 'connect', index: wires.length, wire: other });
  }
  return edits;
}

const recipes = fc.array(
  fc.record({ kind: fc.constantFrom('connect', 'cut', 'move', 'undo'), at: fc.nat({ max: 60 }) }),
  { maxLength: 30 },
);

test('edits by place and by name lead to the same leads, there and back', () => {
  fc.assert(
    fc.property(recipes, (recipe) => {
      const old = history(recipe);
      const named = byName(old, fitted.length);
      expect(spelled(foldEdits(fittedBoard(board), named as Edit[]).wires)).toEqual(spelled(splice(old)));
      const back = byPlace(named, fitted.length) as OldEdit[];
      expect(spelled(splice(back))).toEqual(spelled(splice(old)));
    }),
    { numRuns: 200 },
  );
});

let url: string;
beforeAll(async () => {
  url = await freshDatabase();
});

const knexes: ReturnType<typeof openDatabase>[] = [];
afterAll(() => Promise.all(knexes.map((one) => one.destroy())));

test('a database with logs by place is brought to leads by name and back without a loss', async () => {
  const database = openDatabase(url);
  knexes.push(database);
  const step = (direction: 'up' | 'down') => database.migrate[direction]({ migrationSource });
  for (let k = 0; k < 3; k += 1) await step('up');
  const [teacher, student, group, assignment, attempt] = Array.from({ length: 5 }, () => randomUUID());
  const raw = (text: string, values: unknown[]) => database.raw(text, values as never[]);
  for (const [id, role] of [
    [teacher, 'instructor'],
    [student, 'student'],
  ])
    await raw('insert into people (id, login, name, role, password) values (?, ?, ?, ?, ?)', [
      id,
      role,
      role,
      role,
      'x',
    ]);
  await raw('insert into classes (id, name, instructor_id) values (?, ?, ?)', [group, 'Pans', teacher]);
  const document = JSON.stringify({ ...pump, bench: board });
  await raw('insert into exercises (id, document, position) values (?, ?, 0)', [pump.id, document]);
  await raw('insert into assignments (id, class_id, exercise_id, document, set_by) values (?, ?, ?, ?, ?)', [
    assignment,
    group,
    pump.id,
    document,
    teacher,
  ]);
  await raw(
    "insert into attempts (id, assignment_id, student_id, number, state, last_seq) values (?, ?, ?, 1, 'open', 5)",
    [attempt, assignment, student],
  );
  const [one, two] = pump.reference.slice(2, 4) as [Wire, Wire];
  const log: [string, object][] = [
    ['edit', { edit: { do: 'connect', index: 2, wire: one } }],
    ['edit', { edit: { do: 'connect', index: 3, wire: two } }],
    ['edit', { edit: { do: 'cut', index: 2, wire: one } }],
    ['supply', { on: true }],
    ['edit', { edit: { do: 'cut', index: 2, wire: two } }],
  ];
  for (const [k, [kind, body]] of log.entries())
    await raw('insert into attempt_log (attempt_id, seq, kind, body) values (?, ?, ?, ?)', [
      attempt,
      k + 1,
      kind,
      JSON.stringify(body),
    ]);
  const kept = async () =>
    (await raw('select kind, body from attempt_log order by seq', [])) as {
      rows: { kind: string; body: object }[];
    };
  const before = (await kept()).rows;
  await step('up');
  expect((await kept()).rows).toMatchObject([
    { kind: 'edit', body: { kind: 'edit', edit: { do: 'connect', lead: 'w1', wire: one } } },
    { kind: 'edit', body: { kind: 'edit', edit: { do: 'connect', lead: 'w2', wire: two } } },
    { kind: 'edit', body: { kind: 'edit', edit: { do: 'cut', lead: 'w1', wire: one } } },
    { kind: 'supply', body: { kind: 'supply', on: true } },
    { kind: 'edit', body: { kind: 'edit', edit: { do: 'cut', lead: 'w2', wire: two } } },
  ]);
  await step('down');
  expect((await kept()).rows).toEqual(before);
  await step('up');
});

test('marks that were kept before get what is recorded of them: a pass as it was, anything else under the pass mark', async () => {
  const url2 = await freshDatabase();
  const database = openDatabase(url2);
  knexes.push(database);
  const step = (direction: 'up' | 'down') => database.migrate[direction]({ migrationSource });
  for (let k = 0; k < 8; k += 1) await step('up');
  await step('down');
  const raw = (text: string, values: unknown[] = []) => database.raw(text, values as never[]);
  await raw("set session_replication_role = 'replica'");
  const marks: [score: number, passed: boolean, pass: number, recorded: number][] = [
    [95.3, false, 60, 59],
    [95.3, true, 60, 95.3],
    [12, false, 60, 12],
    [88, false, 70.5, 69.5],
    [3, false, 0, 0],
  ];
  for (const [score, passed, pass] of marks)
    await raw('insert into markings (attempt_id, report, score, max, passed) values (?, ?, ?, 100, ?)', [
      randomUUID(),
      JSON.stringify({ pass, score, passed }),
      score,
      passed,
    ]);
  await raw("set session_replication_role = 'origin'");
  await step('up');
  const { rows } = (await raw('select score, passed, recorded from markings order by marked_at, ctid')) as {
    rows: { score: string; passed: boolean; recorded: string }[];
  };
  expect(rows.map(({ recorded }) => Number(recorded))).toEqual(marks.map(([, , , recorded]) => recorded));
});
