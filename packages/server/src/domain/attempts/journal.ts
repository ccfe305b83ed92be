import type { Logger } from 'pino';
import { toldTo } from '../../runtime/logging.js';
import { LRUCache } from 'lru-cache';
import { isDeepStrictEqual } from 'node:util';
import type pg from 'pg';
import {
  applyEdit,
  compile,
  openingBoard,
  foldEdits,
  isAsked,
  stimulusProblem,
  type Circuit,
  type Edit,
  type Exercise,
  type Lead,
  type SettingValue,
  type Wiring,
  type AttemptEntry,
} from '@contactum/core';
import type { LogEntryRequest } from '@contactum/contract';
import { Batcher } from '../../runtime/batcher.js';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';

/** A board as an attempt's log has left it after its entry `seq`. */
interface Board {
  readonly seq: number;
  readonly bench: Wiring;
  readonly supplyOn: boolean;
}

/** What a setting's attempts have in common, which never changes. */
interface Ground {
  readonly exercise: Exercise;
  readonly circuit: Circuit;
}

/** An attempt whose board is known after its entry `after`, and -1 where it is not known at all. */
interface Behind {
  readonly attemptId: string;
  readonly after: number;
  /** Whether the log alone counts. */
  readonly fromLog: boolean;
}

/** What has come to a board since: a newer one that is kept, where there is one, and the entries after it. */
interface News {
  readonly assignmentId: string;
  /** It has a variant of the exercise. */
  readonly own: boolean;
  readonly supplyOn: boolean;
  readonly kept: (KeptBoard & { readonly seq: number }) | null;
  readonly entries: readonly (readonly [seq: number, edit: Edit | null])[];
}

/** An entry that fits its board, to be written as the next one of its log. */
interface Given {
  readonly attemptId: string;
  readonly studentId: string;
  readonly seq: number;
  readonly entry: AttemptEntry;
  readonly supplyOn: boolean | null;
  /** The session that must still be the student's; null where that was asked before. */
  readonly sid: string | null;
}

/** What is kept of a board beside its log. */
interface KeptBoard {
  readonly wires: readonly Lead[];
  readonly settings: Readonly<Record<string, Readonly<Record<string, SettingValue>>>>;
}

/** Before the id of an attempt that has an exercise of its own. */
const OWN_GROUND = 'attempt ';

/** Under which the exercise of an attempt is remembered: its setting's, or its own. */
const groundKey = (attemptId: string, assignmentId: string, own: boolean): string =>
  own ? `${OWN_GROUND}${attemptId}` : assignmentId;

/** Boards that a process remembers. */
const REMEMBERED = 2_000;
/** Entries between two boards that are kept beside the log. */
const KEPT_EVERY = 64;

/**
 * Takes the entries of logs. What an entry must fit is the board after the entry before it, which the
 * process remembers, or reads from the board kept beside the log and the few entries after that; so no
 * entry costs more than another. The entries of many attempts that wait at one moment are written by one
 * statement, which takes an entry only as the next one of its open attempt, by the attempt's own student,
 * who is still a member of the class: nothing is acknowledged that is not committed.
 */
export class Journal {
  private readonly boards = new LRUCache<string, Board>({ max: REMEMBERED });
  /** By setting; a promise, so that a class that comes at once reads its exercise once. */
  private readonly grounds = new LRUCache<string, Promise<Ground>>({ max: REMEMBERED });
  private readonly settingOf = new LRUCache<string, string>({ max: REMEMBERED });
  /** Attempts whose entries are looked at now: one after the other. */
  private readonly turns = new Map<string, Promise<unknown>>();
  private readonly writing = new Batcher<Given, boolean>(
    (given) => this.write(given),
    ({ attemptId }) => attemptId,
  );

  private readonly catching = new Batcher<Behind, News | null>(
    (behind) => this.newsOf(behind),
    ({ attemptId }) => attemptId,
  );

  constructor(
    private readonly pool: pg.Pool,
    private readonly log: Logger,
  ) {}

  /** Appends one entry before it is acknowledged. The same entry sent twice is taken once. */
  append(attemptId: string, studentId: string, { seq, entry }: LogEntryRequest): Promise<{ seq: number }> {
    return this.inTurn(attemptId, () => this.take(attemptId, studentId, seq, entry));
  }

  /**
   * The same for an entry that plainly is the next one of its board, in one question to the database, which
   * looks at session and person too; in two where another process has taken what came before it. Null where
   * it is not, or was not taken: then
   * `append` says why, after asking who it is.
   */
  appendNext(
    attemptId: string,
    studentId: string,
    sid: string,
    { seq, entry }: LogEntryRequest,
  ): Promise<{ seq: number } | null> {
    return this.inTurn(attemptId, async () => {
      const known = this.boards.get(attemptId);
      const board = known && known.seq < seq - 1 ? await this.caughtUp(attemptId, known) : known;
      if (board?.seq !== seq - 1) return null;
      let next: Board;
      try {
        next = after(board, entry, await this.ground(attemptId));
      } catch {
        return null;
      }
      return (await this.put(attemptId, studentId, sid, entry, next)) ? { seq } : null;
    });
  }

  /** Does something with an attempt after what was begun with it before. */
  private async inTurn<T>(attemptId: string, work: () => Promise<T>): Promise<T> {
    const before = this.turns.get(attemptId) ?? Promise.resolve();
    // What went wrong before was told to whoever waited for it.
    const turn = before.catch(() => undefined).then(work);
    this.turns.set(attemptId, turn);
    try {
      return await turn;
    } finally {
      if (this.turns.get(attemptId) === turn) this.turns.delete(attemptId);
    }
  }

  private async take(
    attemptId: string,
    studentId: string,
    seq: number,
    entry: AttemptEntry,
  ): Promise<{ seq: number }> {
    for (let fresh = false; ; fresh = true) {
      const known = fresh ? undefined : this.boards.get(attemptId);
      // What another process has taken meanwhile is read anew.
      const board = known?.seq === seq - 1 ? known : await this.read(attemptId, studentId);
      const ground = await this.ground(attemptId);
      if (board.seq >= seq) return this.present(attemptId, seq, board.seq, entry);
      if (board.seq !== seq - 1)
        throw new Refusal('conflict', `The next entry is ${board.seq + 1}, not ${seq}.`, {
          lastSeq: board.seq,
        });
      let next: Board;
      try {
        next = after(board, entry, ground);
      } catch (error) {
        // Perhaps only what this process remembers does not take it.
        if (board !== known) throw error;
        this.boards.delete(attemptId);
        continue;
      }
      if (await this.put(attemptId, studentId, null, entry, next)) return { seq };
      this.boards.delete(attemptId);
      if (fresh) throw await this.whyNot(attemptId, studentId);
    }
  }

  /**
   * Writes an entry that leaves a board so; false where it is not the next one, or not this student's to
   * write.
   */
  private async put(
    attemptId: string,
    studentId: string,
    sid: string | null,
    entry: AttemptEntry,
    next: Board,
  ): Promise<boolean> {
    const { seq } = next;
    const taken = await this.writing.ask({
      attemptId,
      studentId,
      seq,
      entry,
      supplyOn: entry.kind === 'supply' ? entry.on : null,
      sid,
    });
    if (!taken) return false;
    this.remember(attemptId, next);
    // Not every attempt at the same number, so that a class that began together does not write together.
    if ((seq + Number.parseInt(attemptId.slice(0, 2), 16)) % KEPT_EVERY === 0)
      void this.keep(attemptId, next).catch(toldTo(this.log, 'a board beside its log'));
    return true;
  }

  /** Writes the entries of several attempts by one statement; which of them were taken. */
  private async write(given: readonly Given[]): Promise<boolean[]> {
    const { rows } = await this.pool.query<{ id: string }>({
      name: 'journal',
      text: TAKE,
      values: [
        given.map(({ attemptId }) => attemptId),
        given.map(({ studentId }) => studentId),
        given.map(({ seq }) => seq),
        given.map(({ entry }) => JSON.stringify(entry)),
        given.map(({ supplyOn }) => supplyOn),
        given.map(({ sid }) => sid),
      ],
    });
    const taken = new Set(rows.map(({ id }) => id));
    return given.map(({ attemptId }) => taken.has(attemptId));
  }

  /**
   * The board that an attempt's log has led to; it is the student's own, and the student a member of its
   * class.
   */
  private async read(attemptId: string, studentId: string): Promise<Board> {
    const { rows } = await this.pool.query<{ state: string }>(OWN, [attemptId, studentId]);
    const [row] = rows;
    if (!row) throw notFound('attempt');
    const board = await this.boardOf(attemptId);
    if (row.state === 'open') this.remember(attemptId, board);
    return board;
  }

  /** The exercise of an attempt as it was set. */
  async exerciseOf(attemptId: string): Promise<Exercise> {
    return (await this.ground(attemptId)).exercise;
  }

  /** The board of any attempt, from what is kept beside its log and the entries after that. */
  boardOf(attemptId: string): Promise<Board> {
    return this.caughtUp(attemptId, null);
  }

  /** The same from the log alone: what is kept beside it must never differ. */
  async rebuiltBoardOf(attemptId: string): Promise<Board> {
    const opening = openingBoard(await this.exerciseOf(attemptId));
    return this.caughtUp(attemptId, { seq: 0, bench: opening, supplyOn: false }, true);
  }

  /** The board as it is now, beginning with what is known of it. */
  private async caughtUp(attemptId: string, known: Board | null, fromLog = false): Promise<Board> {
    const news = await this.catching.ask({ attemptId, after: known?.seq ?? -1, fromLog });
    if (!news) throw notFound('attempt');
    this.settingOf.set(attemptId, groundKey(attemptId, news.assignmentId, news.own));
    const { exercise } = await this.ground(attemptId);
    const { kept, entries, supplyOn } = news;
    const start = kept
      ? { seq: kept.seq, bench: restored(exercise, kept) }
      : (known ?? { seq: 0, bench: openingBoard(exercise) });
    const edits = entries.flatMap(([, edit]) => (edit ? [edit] : []));
    return { seq: entries.at(-1)?.[0] ?? start.seq, bench: foldEdits(start.bench, edits), supplyOn };
  }

  private async newsOf(behind: readonly Behind[]): Promise<(News | null)[]> {
    const { rows } = await this.pool.query<News & { id: string }>({
      name: 'journal-news',
      text: NEWS,
      values: [
        behind.map(({ attemptId }) => attemptId),
        behind.map(({ after }) => after),
        behind.map(({ fromLog }) => fromLog),
      ],
    });
    const found = new Map(rows.map((row) => [row.id, row]));
    return behind.map(({ attemptId }) => found.get(attemptId) ?? null);
  }

  private async keep(attemptId: string, { seq, bench }: Board): Promise<void> {
    const settings = Object.fromEntries(bench.devices.map(({ tag, settings: own }) => [tag, own]));
    await this.pool.query({
      name: 'journal-keep',
      text: `insert into attempt_boards (attempt_id, seq, wires, settings) values ($1, $2, $3, $4)
        on conflict (attempt_id) do update set seq = excluded.seq, wires = excluded.wires, settings = excluded.settings where attempt_boards.seq < excluded.seq`,
      values: [attemptId, seq, JSON.stringify(bench.wires), JSON.stringify(settings)],
    });
  }

  private async ground(attemptId: string): Promise<Ground> {
    let setting = this.settingOf.get(attemptId);
    if (setting === undefined) {
      const { rows } = await this.pool.query<{ id: string; own: boolean }>(
        'select assignment_id as id, document is not null as own from attempts where id = $1',
        [attemptId],
      );
      if (!rows[0]) throw notFound('attempt');
      setting = groundKey(attemptId, rows[0].id, rows[0].own);
      this.settingOf.set(attemptId, setting);
    }
    const known = this.grounds.get(setting);
    if (known) return known;
    const ground = this.readGround(setting);
    this.grounds.set(setting, ground);
    ground.catch(() => this.grounds.delete(setting));
    return ground;
  }

  private async readGround(setting: string): Promise<Ground> {
    const own = setting.startsWith(OWN_GROUND);
    const { rows } = await this.pool.query<{ document: Exercise }>(
      `select document from ${own ? 'attempts' : 'assignments'} where id = $1`,
      [own ? setting.slice(OWN_GROUND.length) : setting],
    );
    const exercise = rows[0]?.document;
    if (!exercise) throw notFound('attempt');
    return { exercise, circuit: compile(exercise.bench) };
  }

  private remember(attemptId: string, board: Board): void {
    this.boards.set(attemptId, board);
  }

  /** An entry whose number is taken: the same one sent again is acknowledged again. */
  private async present(
    attemptId: string,
    seq: number,
    lastSeq: number,
    entry: AttemptEntry,
  ): Promise<{ seq: number }> {
    const { rows } = await this.pool.query<{ body: unknown }>(
      'select body from attempt_log where attempt_id = $1 and seq = $2',
      [attemptId, seq],
    );
    const [row] = rows;
    if (isDeepStrictEqual(row?.body, JSON.parse(JSON.stringify(entry)))) return { seq };
    throw new Refusal(
      'conflict',
      `Entry ${seq} is already something else; another window has changed this board.`,
      { lastSeq },
    );
  }

  private async whyNot(attemptId: string, studentId: string): Promise<Refusal> {
    const { rows } = await this.pool.query<{ state: string; lastSeq: number; isOpen: boolean }>(OWN, [
      attemptId,
      studentId,
    ]);
    const [row] = rows;
    if (!row) return notFound('attempt');
    const lastSeq = row.lastSeq;
    if (row.state === 'open' && !row.isOpen)
      return new Refusal(
        'conflict',
        'The time is up, the clock is stopped, or the exercise was withdrawn: the board is as it was last stored.',
        { lastSeq },
      );
    return row.state === 'open'
      ? new Refusal('conflict', 'Another window has changed this board at the same moment.', { lastSeq })
      : new Refusal('conflict', 'This attempt has been handed in.', { lastSeq });
  }
}

/** It is set to the student; and it is not closed yet for them. */
const MEMBER =
  'exists (select 1 from assignments s join class_members m on m.class_id = s.class_id where s.id = a.assignment_id and m.student_id = a.student_id)';
// One row is looked up for each attempt; asked as `exists`, the planner makes the list of everybody first.
const STILL_OPEN = `coalesce((select true from assignment_students v
    where v.assignment_id = a.assignment_id and v.student_id = a.student_id
    and not v.paused and (v.closes_at is null or v.closes_at > now()) limit 1), false)`;
const PRESENT =
  "exists (select 1 from sessions n join people p on p.id = n.person_id where n.sid = g.sid and n.expire > now() and p.id = g.student_id and p.role = 'student')";
const OWN = `select a.state, a.last_seq as "lastSeq", ${STILL_OPEN} as "isOpen" from attempts a where a.id = $1 and a.student_id = $2 and ${MEMBER}`;
const NEWS = `select a.id, a.assignment_id as "assignmentId", a.document is not null as own, a.supply_on as "supplyOn",
    case when k.seq is null then null else json_build_object('seq', k.seq, 'wires', k.wires, 'settings', k.settings) end as kept,
    (select coalesce(json_agg(json_build_array(l.seq, l.body->'edit') order by l.seq), '[]') from attempt_log l
      where l.attempt_id = a.id and l.seq > greatest(g.after, coalesce(k.seq, 0))) as entries
  from unnest($1::uuid[], $2::int[], $3::boolean[]) as g(id, after, from_log) join attempts a on a.id = g.id
    left join attempt_boards k on k.attempt_id = a.id and k.seq > g.after and not g.from_log`;
const TAKE = `with given as (select * from unnest($1::uuid[], $2::uuid[], $3::int[], $4::jsonb[], $5::boolean[], $6::text[]) as g(id, student_id, seq, body, supply_on, sid)),
  moved as (update attempts a set last_seq = g.seq, supply_on = coalesce(g.supply_on, a.supply_on) from given g
    where a.id = g.id and a.student_id = g.student_id and a.state = 'open' and a.last_seq = g.seq - 1 and ${STILL_OPEN} and (g.sid is null or ${PRESENT}) returning a.id)
  insert into attempt_log (attempt_id, seq, body) select g.id, g.seq, g.body from given g join moved m on m.id = g.id returning attempt_id as id`;

/** The exercise's board with leads and settings that were kept. */
function restored(exercise: Exercise, { wires, settings }: KeptBoard): Wiring {
  const opening = openingBoard(exercise);
  const devices = opening.devices.map(
    (device) => ({ ...device, settings: settings[device.tag] ?? device.settings }) as typeof device,
  );
  return { ...opening, devices, wires };
}

/** The board after one more entry, which must fit it. */
function after(board: Board, entry: AttemptEntry, { circuit, exercise }: Ground): Board {
  const seq = board.seq + 1;
  switch (entry.kind) {
    case 'answer':
      if (!exercise.questions?.some(({ id }) => id === entry.question))
        throw invalidAt('entry.question', `there is no question "${entry.question}"`, board.seq);
      return { ...board, seq };
    case 'edit': {
      if (isAsked(exercise))
        throw invalidAt('entry.kind', 'a board that is asked about stays as it is', board.seq);
      if (board.supplyOn)
        throw new Refusal('conflict', 'The supply is on. Switch it off before you change the wiring.', {
          lastSeq: board.seq,
        });
      const applied = applyEdit(board.bench, entry.edit);
      if (!applied.ok) throw invalidAt('entry.edit', applied.reason, board.seq);
      return { ...board, seq, bench: applied.bench };
    }
    case 'supply':
      return { ...board, seq, supplyOn: entry.on };
    case 'act': {
      const problem = stimulusProblem(circuit, entry.stimulus);
      if (problem) throw invalidAt(`entry.stimulus.${problem.key}`, problem.message, board.seq);
      return { ...board, seq };
    }
    case 'reading':
      for (const key of ['from', 'to'] as const)
        if (!circuit.indexOf.has(entry[key]))
          throw invalidAt(`entry.${key}`, `"${entry[key]}" is not a terminal of this board`, board.seq);
      return { ...board, seq };
  }
}
