import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import {
  SearchBench,
  TOOLS,
  canonical,
  describeEntry,
  describeFault,
  faultProblem,
  compile,
  isSearch,
  observationProblems,
  readFault,
  referenceBench,
  seenOn,
  seededNumbers,
  shuffled,
  writeFault,
  type Degree,
  type Exercise,
  type Fault,
  type FaultSet,
  type Report,
  type SearchEntry,
  type SearchEvent,
  type WrittenFault,
  terminalsAt,
} from '@contactum/core';
import { searchOn } from '@contactum/core/exercises';
import type {
  Causes,
  DiagnoseAnswer,
  DiagnoseRequest,
  InjectRequest,
  LiveSearch,
  NotebookLine,
  Person,
  PracticeRequest,
  SearchExerciseRequest,
  SearchView,
  WatchedSearch,
} from '@contactum/contract';
import { AttemptModel, ExerciseModel, SearchLogModel, SearchModel } from '../../database/models.js';
import type { SearchThreads } from '../../threads/searches.js';
import { forStudent } from '../attempts/attempts.js';
import { freshId, storeExercise } from '../authoring/exercises.js';
import {
  requireOwnClass,
  requireOwnSearch,
  requireOwnStudentsSearches,
  requireWorkableSearch,
} from '../people/permissions.js';
import { requireExercise, requireSight } from '../people/sight.js';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';

/** Sets that are drawn until one is new to a student. */
const MOST_DRAWS = 30;

/** How long after its last word a bench counts as worked at, milliseconds. */
const LIVE_MS = 5_000;

const HANDED_IN = 'This search has been handed in.';

/** A number that nobody has chosen. */
const anySeed = (): number => Math.floor(Math.random() * 4_294_967_296);

/** What was done in some searches, in order, by search. */
async function searchLogs(
  database: Knex,
  ids: readonly string[],
): Promise<ReadonlyMap<string, readonly SearchEvent[]>> {
  const rows = await SearchLogModel.query(database)
    .whereIn('searchId', [...ids])
    .orderBy('seq');
  const logs = new Map(ids.map((id): [string, SearchEvent[]] => [id, []]));
  for (const { searchId, t, body } of rows) logs.get(searchId)?.push({ t, ...body });
  return logs;
}

/** What was done in a search, in order. */
export const searchLog = async (database: Knex, id: string): Promise<readonly SearchEvent[]> =>
  (await searchLogs(database, [id])).get(id) ?? [];

/** Where those who run live benches hear that something was ordered for one. */
export const ORDERS = 'contactum_orders';

/** Live benches that run in this process, as the searches at them need it. */
export interface RunningBenches {
  /** Resolves when everything that was done at a bench is written down. */
  settled(id: string): Promise<void>;
  end(id: string, reason: string): void;
}

/** Searches for faults: opened, worked at live, looked at by their instructor, and ended. */
export class Searches {
  constructor(
    private readonly database: Knex,
    private readonly sessions: RunningBenches,
    private readonly threads: SearchThreads,
  ) {}

  /**
   * The search of an attempt; the first time that it is asked for it is made, with the set that is this
   * attempt's turn.
   */
  async ofAttempt(attempt: AttemptModel, exercise: Exercise): Promise<SearchModel> {
    const known = await SearchModel.query(this.database).findOne({ attemptId: attempt.id });
    if (known) return known;
    const sets = exercise.sets ?? [];
    const drawn = attempt.assignment?.mode === 'assessment' ? await this.drawn(attempt, exercise) : undefined;
    const set = drawn ?? sets[(attempt.number - 1) % Math.max(1, sets.length)];
    if (!set) throw new Refusal('conflict', 'This exercise has no faults to find.');
    await this.insert(attempt.studentId, exercise, set, attempt.id);
    const made = await SearchModel.query(this.database).findOne({ attemptId: attempt.id });
    if (!made) throw notFound('search');
    return made;
  }

  /**
   * What a student searches for in an assessment: the sets in an order of the student's own, and once they
   * are used up others of as many faults, so that neither a neighbour nor a second attempt has the faults
   * that somebody knows already.
   */
  private async drawn(
    { assignmentId, studentId, number }: AttemptModel,
    exercise: Exercise,
  ): Promise<Omit<FaultSet, 'id'> | undefined> {
    const sets = exercise.sets ?? [];
    const seed = createHash('sha256').update(`${assignmentId} ${studentId}`).digest().readUInt32BE(0);
    const order = shuffled(sets, seededNumbers(seed));
    const own = order[number - 1];
    if (own) return own;
    const last = order.at(-1);
    if (!last) return undefined;
    const degree: Degree = last.faults.length > 1 ? 4 : 2;
    const before = await SearchModel.query(this.database)
      .whereIn('attemptId', AttemptModel.query(this.database).where({ assignmentId, studentId }).select('id'))
      .select('hidden');
    const known = new Set(before.map(({ hidden }) => canonical(hidden)));
    for (let k = 0; k < MOST_DRAWS; k += 1) {
      const picked = await this.threads.pick(
        exercise,
        degree,
        (seed + MOST_DRAWS * number + k) >>> 0,
        studentId,
      );
      if (picked && !known.has(canonical(picked.faults)))
        return { ...picked, title: `Attempt ${number}`, minutes: last.minutes };
    }
    return undefined;
  }

  private async insert(
    personId: string,
    document: Exercise,
    { title, complaint, minutes, faults }: Omit<FaultSet, 'id'>,
    attemptId: string | null,
  ): Promise<string | undefined> {
    const row = (await SearchModel.query(this.database)
      .insert({ attemptId, personId, document, hidden: [...faults], title, complaint, minutes })
      .onConflict('attemptId')
      .ignore()
      .returning('id')) as SearchModel | undefined;
    return row?.id;
  }

  private async documentOf(exerciseId: string): Promise<Exercise | undefined> {
    return (await ExerciseModel.query(this.database).findById(exerciseId))?.document;
  }

  /** Another one: faults of a degree on the board of any exercise, picked by a seed. */
  async practice(
    person: Person,
    { exerciseId, degree, seed = anySeed() }: PracticeRequest,
  ): Promise<{ id: string }> {
    const found = await ExerciseModel.query(this.database).findById(exerciseId);
    if (!found) throw invalidAt('exerciseId', 'names no exercise');
    await requireSight(this.database, found, person, 'answers');
    const { document } = found;
    const one = await this.threads.pick(document, degree, seed, person.id);
    if (!one) throw new Refusal('conflict', 'This board has no faults of that degree.');
    const set = { id: 'practice', title: 'Practice', ...one };
    const exercise = isSearch(document)
      ? document
      : searchOn(document, { id: document.id, title: document.title, brief: document.brief, sets: [set] });
    const id = await this.insert(person.id, exercise, set, null);
    if (id === undefined) throw new Refusal('conflict', 'The practice could not be begun.');
    return { id };
  }

  /** A search as its student works at it: nothing of what is hidden. */
  async view(id: string, person: Person): Promise<SearchView> {
    const search = await requireOwnSearch(this.database, id, person);
    const { document, title, complaint, minutes } = search;
    const attempt = search.attemptId
      ? await AttemptModel.query(this.database).findById(search.attemptId).withGraphFetched('assignment')
      : undefined;
    const log = await searchLog(this.database, id);
    return {
      id,
      attemptId: search.attemptId,
      assessmentId: attempt?.assignment?.assessmentId ?? null,
      state: attempt?.state ?? search.state,
      exercise: forStudent(document),
      bench: seenOn(referenceBench(document), presentFaults(search, log)),
      order: { title, complaint, minutes },
      tools: document.tools ?? TOOLS,
      tellsCauses: document.shows?.includes('causes') ?? false,
      startedAt: search.startedAt.toISOString(),
      report: search.report,
    };
  }

  /** Which causes still agree with everything that was done, where the exercise tells it. */
  async causes(id: string, person: Person): Promise<Causes> {
    const search = await requireWorkableSearch(this.database, id, person);
    if (!search.document.shows?.includes('causes'))
      throw new Refusal('forbidden', 'This exercise does not tell which causes are left.');
    await this.sessions.settled(id);
    return this.threads.causes(search.document, search.hidden, await this.logUntilNow(search), person.id);
  }

  private async logUntilNow({ id }: SearchModel): Promise<SearchEvent[]> {
    const log = await searchLog(this.database, id);
    const row = await SearchModel.query(this.database).findById(id).select('t');
    return [...log, { t: Math.max(row?.t ?? 0, (log.at(-1)?.t ?? 0) + 0.3), kind: 'look', what: '' }];
  }

  /** Ends a practice and marks it. */
  async endPractice(id: string, person: Person): Promise<Report> {
    const search = await requireOwnSearch(this.database, id, person);
    if (search.attemptId !== null)
      throw new Refusal('conflict', 'This search is handed in with its attempt.');
    if (search.report) return search.report;
    await this.close(id);
    const report = await this.threads.grade(search.document, {
      faults: search.hidden,
      log: await searchLog(this.database, id),
      minutes: search.minutes,
    });
    await SearchModel.query(this.database).findById(id).patch({ state: 'marked', report });
    return report;
  }

  /** Nothing more is done at the bench of a practice from now on. */
  private async close(id: string): Promise<void> {
    await this.sessions.settled(id);
    await SearchModel.query(this.database)
      .findById(id)
      .where({ state: 'open' })
      .patch({ state: 'handed-in' });
    this.sessions.end(id, HANDED_IN);
  }

  /** Hands an attempt in after everything that was done at its bench is written down. */
  async handIn(attemptId: string, handIn: () => Promise<unknown>): Promise<void> {
    const search = await SearchModel.query(this.database).findOne({ attemptId }).select('id');
    if (search) await this.sessions.settled(search.id);
    await handIn();
    if (search) this.sessions.end(search.id, HANDED_IN);
  }

  // ── the instructor ────────────────────────────────────────────────────────────────────────────

  /** The searches of a class, the newest first. */
  async ofClass(classId: string, instructor: Person): Promise<LiveSearch[]> {
    await requireOwnClass(this.database, classId, instructor);
    const rows = await SearchModel.query(this.database)
      .whereIn(
        'attemptId',
        this.database('attempts')
          .join('assignments', 'assignments.id', 'attempts.assignment_id')
          .where('assignments.class_id', classId)
          .select('attempts.id'),
      )
      .withGraphFetched('person')
      .orderBy('startedAt', 'desc')
      .limit(200);
    return this.liveRows(rows);
  }

  private async liveRows(rows: readonly SearchModel[]): Promise<LiveSearch[]> {
    const ids = rows.map(({ id }) => id);
    const [waiting, logs] = await Promise.all([this.waiting(ids), searchLogs(this.database, ids)]);
    return rows.map((row) =>
      liveOf(row, presentFaults(row, logs.get(row.id) ?? []), waiting.get(row.id) ?? 0),
    );
  }

  /** Orders that no process has taken yet, by search. */
  private async waiting(ids: readonly string[]): Promise<ReadonlyMap<string, number>> {
    const rows = await this.database('search_orders')
      .whereIn('search_id', [...ids])
      .where({ taken: false })
      .groupBy('search_id')
      .select<{ searchId: string; n: number }[]>('search_id', this.database.raw('count(*)::int as n'));
    return new Map(rows.map(({ searchId, n }) => [searchId, n]));
  }

  /** A bench with everything that was done at it. */
  async watch(id: string, instructor: Person): Promise<WatchedSearch> {
    const [search] = await requireOwnStudentsSearches(this.database, [id], instructor);
    if (!search) throw notFound('search');
    await search.$fetchGraph('person', { transaction: this.database as never });
    const log = await searchLog(this.database, id);
    const board = referenceBench(search.document);
    const bench = new SearchBench(board, search.hidden.map(readFault));
    const notes = log.map((event): NotebookLine => {
      bench.advanceTo(event.t);
      return { t: event.t, kind: event.kind, text: describeEntry(event, bench.do(event), board) };
    });
    bench.advanceTo(search.t);
    const { live, closed, ...frame } = bench.wholeFrame();
    const circuit = compile(board);
    return {
      ...liveOf(search, bench.faults, 0),
      places: bench.faults.flatMap((fault) => terminalsAt(circuit, fault)),
      board,
      notes,
      shape: bench.shape,
      frame: { ...frame, live: live.join(''), closed: closed.join('') },
    };
  }

  /**
   * Puts a fault into each of some benches: the same, or picked by a seed, different ones for neighbours if
   * wished.
   */
  async inject(instructor: Person, { searches, what }: InjectRequest): Promise<LiveSearch[]> {
    const found = await requireOwnStudentsSearches(this.database, searches, instructor);
    const open = found.filter(({ state }) => state === 'open');
    if (open.length === 0) throw new Refusal('conflict', 'None of these searches is under way.');
    for (const [k, search] of open.entries()) {
      const faults = 'fault' in what ? [what.fault] : await this.pickedFor(search, what, k);
      const circuit = compile(referenceBench(search.document));
      for (const fault of faults) {
        const problem = faultProblem(circuit, readFault(fault));
        if (problem !== null) throw invalidAt('what.fault', problem);
      }
      for (const fault of faults) await this.order(search.id, instructor, { kind: 'inject', fault });
    }
    return this.after(open, instructor);
  }

  private async pickedFor(
    { document }: SearchModel,
    what: Exclude<InjectRequest['what'], { fault: unknown }>,
    k: number,
  ): Promise<readonly WrittenFault[]> {
    const { degree, seed, different } = what;
    const picked = await this.threads.pick(document, degree, different ? seedOf(seed, k) : seed, '');
    if (!picked) throw new Refusal('conflict', 'This board has no faults of that degree.');
    return picked.faults;
  }

  /** Takes every fault out of some benches. */
  async clear(instructor: Person, ids: readonly string[]): Promise<LiveSearch[]> {
    const found = await requireOwnStudentsSearches(this.database, ids, instructor);
    for (const search of found) {
      if (search.state !== 'open') continue;
      const log = await searchLog(this.database, search.id);
      for (const fault of presentFaults(search, log))
        await this.order(search.id, instructor, { kind: 'clear', fault: writeFault(fault) });
    }
    return this.after(found, instructor);
  }

  private async order(id: string, instructor: Person, body: SearchEntry): Promise<void> {
    await this.database('search_orders').insert({
      search_id: id,
      author_id: instructor.id,
      body: JSON.stringify(body),
    });
    await this.database.raw('select pg_notify(?, ?)', [ORDERS, id]);
  }

  private async after(searches: readonly SearchModel[], instructor: Person): Promise<LiveSearch[]> {
    const ids = searches.map(({ id }) => id);
    const rows = await requireOwnStudentsSearches(this.database, ids, instructor);
    return this.liveRows(rows);
  }

  /** Makes an exercise to find of an instructor's own sets on a shipped board. */
  async makeExercise(
    instructor: Person,
    { of, title, sets }: SearchExerciseRequest,
  ): Promise<{ id: string }> {
    const document = await this.documentOf(of);
    if (!document) throw invalidAt('of', 'names no exercise');
    const board = isSearch(document) ? { ...document, task: undefined, sets: undefined } : document;
    const named = sets.map((set, k): FaultSet => ({ ...set, id: `set-${k + 1}` }));
    const searchWith = (id: string): Exercise => {
      try {
        return searchOn(board, { id, title, brief: document.brief, sets: named });
      } catch (error) {
        throw invalidAt('sets', (error as Error).message);
      }
    };
    return this.database.transaction(async (trx) => {
      const id = await freshId(trx, title);
      await storeExercise(trx, searchWith(id), { authorId: instructor.id, text: '', isNew: true });
      return { id };
    });
  }

  /** What explains some observations of a physical board. */
  async diagnose(exerciseId: string, person: Person, request: DiagnoseRequest): Promise<DiagnoseAnswer> {
    const { document } = await requireExercise(this.database, exerciseId, person, 'answers');
    const [problem] = observationProblems(compile(referenceBench(document)), request.observations);
    if (problem) throw invalidAt(problem.path, problem.message);
    return this.threads.diagnose(document, request, person.id);
  }
}

/** A search as a row of its instructor's list, with what is wrong with its board now. */
function liveOf(search: SearchModel, faults: readonly Fault[], waiting: number): LiveSearch {
  const { id, document, title, state, seenAt, owner, t, lastSeq, startedAt, person } = search;
  return {
    id,
    student: person?.name ?? '',
    exerciseId: document.id,
    exercise: document.title,
    order: title,
    state,
    live: owner !== null && seenAt !== null && Date.now() - seenAt.getTime() < LIVE_MS,
    entries: lastSeq,
    waiting,
    seconds: t,
    faults: faults.map(describeFault),
    startedAt: startedAt.toISOString(),
  };
}

/** Another seed for each bench of a row. */
const seedOf = (seed: number, k: number): number => {
  const random = seededNumbers(seed);
  let value = 0;
  for (let n = 0; n <= k; n += 1) value = random();
  return Math.floor(value * 4_294_967_296);
};

/** What is wrong with a board after everything that was done at it. */
function presentFaults({ document, hidden }: SearchModel, log: readonly SearchEvent[]): readonly Fault[] {
  const bench = new SearchBench(referenceBench(document), hidden.map(readFault));
  for (const event of log)
    if (event.kind !== 'read' && event.kind !== 'look' && event.kind !== 'verdict' && event.kind !== 'lock')
      bench.do(event);
  return bench.faults;
}
