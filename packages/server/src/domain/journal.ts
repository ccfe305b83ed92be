import { isDeepStrictEqual } from 'node:util';
import type pg from 'pg';
import {
  applyEdit,
  compile,
  fittedBoard,
  foldEdits,
  stimulusProblem,
  type Circuit,
  type Edit,
  type Exercise,
  type Lead,
  type SettingValue,
  type Wiring,
  type WorkEntry,
} from '@contactum/core';
import type { LogEntryRequest } from '@contactum/contract';
import { Batcher } from './batcher.js';
import { putBounded } from '../bounded.js';
import { Refusal, invalidAt, notFound } from './refusal.js';

/** A board as an attempt's log has left it after its entry `seq`. */
interface Board {
  readonly seq: number;
  readonly bench: Wiring;
  readonly supplyOn: boolean;
}

/** What of an attempt never changes. */
interface Ground {
  readonly exercise: Exercise;
  readonly circuit: Circuit;
}

/** An entry that fits its board, to be written as the next one of its log. */
interface Given {
  readonly attemptId: string;
  readonly studentId: string;
  readonly seq: number;
  readonly entry: WorkEntry;
  readonly supplyOn: boolean | null;
  /** The session that must still be the student's; null where that was asked before. */
  readonly sid: string | null;
}

/** What is kept of a board beside its log. */
interface KeptBoard {
  readonly wires: readonly Lead[];
  readonly settings: Readonly<Record<string, Readonly<Record<string, SettingValue>>>>;
}

/** Boards that a process remembers. */
const REMEMBERED = 2_000;
/** Entries between two boards that are kept beside the log. */
const KEPT_EVERY = 64;

/**
 * Takes the entries of logs. What an entry must fit is the board after the entry before it, which the process remembers, or
 * reads from the board kept beside the log and the few entries after that; so no entry costs more than another. The entries
 * of many attempts that wait at one moment are written by one statement, which takes an entry only as the next one of its open
 * attempt, by the attempt's own student, who is still a member of the class: nothing is acknowledged that is not committed.
 */
export class Journal {
  private readonly boards = new Map<string, Board>();
  private readonly grounds = new Map<string, Ground>();
  /** Attempts whose entries are looked at now: one after the other. */
  private readonly turns = new Map<string, Promise<unknown>>();
  private readonly writing = new Batcher<Given, boolean>(
    (given) => this.write(given),
    ({ attemptId }) => attemptId,
  );

  constructor(private readonly pool: pg.Pool) {}

  /** Appends one entry before it is acknowledged. The same entry sent twice is taken once. */
  append(attemptId: string, studentId: string, { seq, entry }: LogEntryRequest): Promise<{ seq: number }> {
    return this.inTurn(attemptId, () => this.take(attemptId, studentId, seq, entry));
  }

  /**
   * The same in one question to the database, which looks at session and person too, for an entry that plainly is the next one
   * of a board that is remembered. Null where it is not, or was not taken: then `append` says why, after asking who it is.
   */
  appendNext(
    attemptId: string,
    studentId: string,
    sid: string,
    { seq, entry }: LogEntryRequest,
  ): Promise<{ seq: number } | null> {
    return this.inTurn(attemptId, async () => {
      const [board, ground] = [this.boards.get(attemptId), this.grounds.get(attemptId)];
      if (board?.seq !== seq - 1 || !ground) return null;
      let next: Board;
      try {
        next = after(board, entry, ground);
      } catch {
        return null;
      }
      return (await this.put(attemptId, studentId, sid, entry, next)) ? { seq } : null;
    });
  }

  /** Does something with an attempt after what was begun with it before. */
  private async inTurn<T>(attemptId: string, work: () => Promise<T>): Promise<T> {
    const before = this.turns.get(attemptId) ?? Promise.resolve();
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
    entry: WorkEntry,
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

  /** Writes an entry that leaves a board so; false where it is not the next one, or not this student's to write. */
  private async put(
    attemptId: string,
    studentId: string,
    sid: string | null,
    entry: WorkEntry,
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
      void this.keep(attemptId, next).catch(() => undefined);
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

  /** The board that an attempt's log has led to; it is the student's own, and the student a member of its class. */
  private async read(attemptId: string, studentId: string): Promise<Board> {
    const { rows } = await this.pool.query<{ state: string; lastSeq: number; seq: number | null }>(OWN, [
      attemptId,
      studentId,
    ]);
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
  async boardOf(attemptId: string): Promise<Board> {
    const exercise = await this.exerciseOf(attemptId);
    const { rows: kept } = await this.pool.query<KeptBoard & { seq: number }>(
      'select seq, wires, settings from attempt_boards where attempt_id = $1',
      [attemptId],
    );
    const [start] = kept;
    return start
      ? this.replay(attemptId, start.seq, restored(exercise, start))
      : this.replay(attemptId, 0, fittedBoard(exercise.bench));
  }

  /** The same from the log alone: what is kept beside it must never differ. */
  async rebuiltBoardOf(attemptId: string): Promise<Board> {
    const exercise = await this.exerciseOf(attemptId);
    return this.replay(attemptId, 0, fittedBoard(exercise.bench));
  }

  private async replay(attemptId: string, after: number, bench: Wiring): Promise<Board> {
    const { rows } = await this.pool.query<{ seq: number; edit: Edit | null }>(
      "select seq, body->'edit' as edit from attempt_log where attempt_id = $1 and seq > $2 order by seq",
      [attemptId, after],
    );
    const edits = rows.flatMap(({ edit }) => (edit ? [edit] : []));
    const { rows: state } = await this.pool.query<{ supply_on: boolean }>(
      'select supply_on from attempts where id = $1',
      [attemptId],
    );
    return {
      seq: rows.at(-1)?.seq ?? after,
      bench: foldEdits(bench, edits),
      supplyOn: state[0]?.supply_on ?? false,
    };
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
    const known = this.grounds.get(attemptId);
    if (known) return known;
    const { rows } = await this.pool.query<{ document: Exercise }>(
      'select s.document from attempts a join assignments s on s.id = a.assignment_id where a.id = $1',
      [attemptId],
    );
    const exercise = rows[0]?.document;
    if (!exercise) throw notFound('attempt');
    const ground = { exercise, circuit: compile(exercise.bench) };
    putBounded(this.grounds, attemptId, ground, REMEMBERED);
    return ground;
  }

  private remember(attemptId: string, board: Board): void {
    putBounded(this.boards, attemptId, board, REMEMBERED);
  }

  /** An entry whose number is taken: the same one sent again is acknowledged again. */
  private async present(
    attemptId: string,
    seq: number,
    lastSeq: number,
    entry: WorkEntry,
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
        'The time is up, or the exercise was withdrawn: the board is as it was last stored.',
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
const STILL_OPEN =
  'exists (select 1 from assignment_students v where v.assignment_id = a.assignment_id and v.student_id = a.student_id and (v.closes_at is null or v.closes_at > now()))';
const PRESENT =
  "exists (select 1 from sessions n join people p on p.id = n.person_id where n.sid = g.sid and n.expire > now() and p.id = g.student_id and p.role = 'student')";
const OWN = `select a.state, a.last_seq as "lastSeq", ${STILL_OPEN} as "isOpen" from attempts a where a.id = $1 and a.student_id = $2 and ${MEMBER}`;
const TAKE = `with given as (select * from unnest($1::uuid[], $2::uuid[], $3::int[], $4::jsonb[], $5::boolean[], $6::text[]) as g(id, student_id, seq, body, supply_on, sid)),
  moved as (update attempts a set last_seq = g.seq, supply_on = coalesce(g.supply_on, a.supply_on) from given g
    where a.id = g.id and a.student_id = g.student_id and a.state = 'open' and a.last_seq = g.seq - 1 and ${STILL_OPEN} and (g.sid is null or ${PRESENT}) returning a.id)
  insert into attempt_log (attempt_id, seq, body) select g.id, g.seq, g.body from given g join moved m on m.id = g.id returning attempt_id as id`;

/** The exercise's board with leads and settings that were kept. */
function restored({ bench }: Exercise, { wires, settings }: KeptBoard): Wiring {
  const devices = bench.devices.map(
    (device) => ({ ...device, settings: settings[device.tag] ?? device.settings }) as typeof device,
  );
  return { ...bench, devices, wires };
}

/** The board after one more entry, which must fit it. */
function after(board: Board, entry: WorkEntry, { circuit }: Ground): Board {
  const seq = board.seq + 1;
  switch (entry.kind) {
    case 'edit': {
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
