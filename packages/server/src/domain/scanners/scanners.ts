import { setTimeout } from 'node:timers/promises';
import type { Knex } from 'knex';
import {
  benchOf,
  jointsOfBench,
  terminalsOf,
  type Bench,
  type BoardReading,
  type Exercise,
  type PermitCheck,
  type Stimulus,
} from '@contactum/core';
import type { BoardNow, GatewaySays, Person, ScannerBox, ScannerMade } from '@contactum/contract';
import { SCANNERS_CHANNEL } from '../../database/migrations/017-scanners.js';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';
import { hashOfToken, newToken } from '../../security/tokens.js';
import type { Journal } from '../attempts/journal.js';
import { netsText } from '../attempts/nets.js';
import { note } from '../people/audit.js';
import { classesOf, requireOwnAttempt } from '../people/permissions.js';

/** A gateway that has been silent for so long is not connected any more, seconds. */
const SILENT_S = 5;
/** So long a board may take to be read anew, and how often it is looked whether it was, milliseconds. */
const FRESH_MS = 15_000;
const FRESH_POLL_MS = 60;

/** A scanner as it is kept. */
interface ScannerRow {
  readonly id: string;
  readonly name: string;
  readonly reading: GatewaySays | null;
  readonly worked: readonly BoardReading[];
  readonly attemptId: string | null;
  readonly permittedReading: string | null;
  readonly freshWanted: number;
  readonly seenAt: Date | null;
  readonly online: boolean;
}

/** Works out whether a board may be energised as it was read. */
type EnergiseIn = (task: {
  readonly exercise: Exercise;
  readonly bench: Bench;
  readonly readings: readonly BoardReading[];
}) => Promise<PermitCheck>;

const permitOf = ({ permittedReading, reading }: Pick<ScannerRow, 'permittedReading' | 'reading'>) => ({
  isGiven: permittedReading !== null,
  isClosed: reading?.permitClosed ?? false,
});

/**
 * Scanners of physical boards. A gateway at the bench holds a token and tells what it reads; whoever works at
 * the board connects it to an attempt. What is kept is in the database, so that any process may answer.
 */
export class Scanners {
  constructor(
    private readonly database: Knex,
    private readonly journal: Journal,
    private readonly energiseIn: EnergiseIn,
  ) {}

  private rows() {
    return this.database('scanners').select<ScannerRow[]>(
      'scanners.*',
      this.database.raw(
        `coalesce(scanners.seen_at > now() - make_interval(secs => ${SILENT_S}), false) as online`,
      ),
    );
  }

  private async rowOf(id: string): Promise<ScannerRow> {
    const [row] = await this.rows().where('scanners.id', id);
    if (!row) throw notFound('scanner');
    return row;
  }

  private async tell(id: string): Promise<void> {
    await this.database.raw('select pg_notify(?, ?)', [SCANNERS_CHANNEL, id]);
  }

  // ── scanners ──────────────────────────────────────────────────────────────────────────────────

  async list(person: Person): Promise<ScannerBox[]> {
    const rows = (await this.rows()
      .leftJoin('attempts as a', 'a.id', 'scanners.attempt_id')
      .leftJoin('people as p', 'p.id', 'a.student_id')
      .select('p.id as student_id', 'p.name as student')
      .orderBy('scanners.name')) as unknown as (ScannerRow & {
      studentId: string | null;
      student: string | null;
    })[];
    const tells = person.role !== 'student';
    return rows.map(({ studentId, student, ...row }) => ({
      id: row.id,
      name: row.name,
      serial: row.reading?.serial ?? null,
      online: row.online,
      lastSeen: row.seenAt?.toISOString() ?? null,
      terminals: row.reading?.terminals.length ?? 0,
      // Whose attempt it is, is for those who teach; one's own is one's own.
      usedBy:
        row.attemptId === null
          ? null
          : {
              attemptId: tells || studentId === person.id ? row.attemptId : '',
              student: tells ? student : null,
            },
      faults: row.reading?.faults ?? [],
      permit: permitOf(row),
    }));
  }

  /** A new scanner, and the token of its gateway, which is told this once. */
  async add(name: string, instructor: Person): Promise<ScannerMade> {
    const token = newToken();
    const taken = await this.database('scanners').where({ name }).first<{ id: string } | undefined>('id');
    if (taken) throw invalidAt('name', 'another scanner has this name');
    const [row] = await this.database.transaction(async (trx) => {
      const made = await trx('scanners')
        .insert({ name, token_hash: hashOfToken(token) })
        .returning<{ id: string }[]>('id');
      await note(trx, { actor: instructor, kind: 'added a scanner', about: name });
      return made;
    });
    const box = (await this.list(instructor)).find(({ id }) => id === row?.id);
    if (!box) throw notFound('scanner');
    return { ...box, token };
  }

  async remove(id: string, instructor: Person): Promise<void> {
    const { name } = await this.rowOf(id);
    await this.database.transaction(async (trx) => {
      await trx('scanners').where({ id }).delete();
      await note(trx, { actor: instructor, kind: 'removed a scanner', about: name });
    });
    await this.tell(id);
  }

  // ── gateways ──────────────────────────────────────────────────────────────────────────────────

  /** The scanner whose token this is. */
  async ofToken(token: string): Promise<string> {
    const row = await this.database('scanners')
      .where({ token_hash: hashOfToken(token) })
      .first<{ id: string } | undefined>('id');
    if (!row) throw new Refusal('unauthenticated', 'No scanner has this token.');
    return row.id;
  }

  /** Keeps what a gateway has read; what was permitted holds for the reading it was given for alone. */
  async report(id: string, reading: GatewaySays): Promise<void> {
    await this.database('scanners')
      .where({ id })
      .update({
        reading: JSON.stringify(reading),
        seen_at: this.database.fn.now(),
        permitted_reading: this.database.raw(
          'case when permitted_reading = ? and ? then permitted_reading end',
          [reading.number, reading.faults.length === 0],
        ),
      });
    await this.tell(id);
  }

  /** A gateway's line has ended: nothing that was permitted holds. */
  async lost(id: string): Promise<void> {
    await this.database('scanners').where({ id }).update({ permitted_reading: null, seen_at: null });
    await this.tell(id);
  }

  /** The reading for which the permit relay may close, and how often the board is to be read anew. */
  async wanted(id: string): Promise<{ readonly reading: number | null; readonly fresh: number }> {
    const { permittedReading, freshWanted } = await this.rowOf(id);
    return { reading: permittedReading === null ? null : Number(permittedReading), fresh: freshWanted };
  }

  /**
   * The board as it is from now on: what was found before may be older than what a hand has just done to it. A
   * gateway of an earlier release does not say, and is believed.
   */
  private async readAnew(id: string): Promise<ScannerRow> {
    const [asked] = await this.database('scanners')
      .where({ id })
      .increment('fresh_wanted', 1)
      .returning<{ freshWanted: number }[]>('fresh_wanted');
    await this.tell(id);
    const until = Date.now() + FRESH_MS;
    for (;;) {
      const row = await this.rowOf(id);
      const fresh = row.reading?.fresh;
      if (!row.online || fresh === undefined || fresh >= (asked?.freshWanted ?? 0)) return row;
      if (Date.now() > until)
        throw new Refusal('conflict', 'The scanner took no new reading in time. Try again.');
      await setTimeout(FRESH_POLL_MS);
    }
  }

  // ── at the board ──────────────────────────────────────────────────────────────────────────────

  /** Connects a physical board to an attempt: its scanner reads no terminal that the exercise does not have. */
  async connect(id: string, attemptId: string, student: Person): Promise<BoardNow> {
    const attempt = await requireOwnAttempt(this.database, attemptId, student);
    if (attempt.state !== 'open') throw new Refusal('conflict', 'This attempt has been handed in.');
    const row = await this.rowOf(id);
    const { exercise } = attempt;
    if (!row.reading || !row.online || !exercise)
      throw new Refusal('conflict', 'The scanner is not connected to the server just now.');
    const known = new Set<string>(terminalsOf(exercise.bench));
    const strange = row.reading.terminals.find((ref) => !known.has(ref));
    if (strange !== undefined)
      throw new Refusal(
        'conflict',
        `This is another board: its scanner reads ${strange}, which the board of this exercise does not have.`,
      );
    // A board that somebody works at stays theirs until they hand in, leave it, or an instructor frees it.
    const taken = await this.database.transaction(async (trx) => {
      await trx('scanners').where({ attempt_id: attemptId }).update({ attempt_id: null });
      const { rows } = await trx.raw<{ rows: unknown[] }>(
        `update scanners set attempt_id = ?, worked = '[]', permitted_reading = null where id = ? and (attempt_id is null
          or attempt_id in (select id from attempts where state <> 'open')) returning id`,
        [attemptId, id],
      );
      return rows.length > 0;
    });
    if (!taken)
      throw new Refusal('conflict', 'Somebody else works at this board. An instructor can free it.');
    await this.tell(id);
    return this.now(id, attemptId);
  }

  /** Ends it: by whoever works at the board, or an instructor who frees it. */
  async leave(id: string, person: Person): Promise<void> {
    const { attemptId, name } = await this.rowOf(id);
    if (attemptId === null) return;
    if (person.role === 'student') await this.requireAtBoard(id, person);
    await this.database('scanners')
      .where({ id })
      .update({ attempt_id: null, worked: '[]', permitted_reading: null });
    if (person.role !== 'student')
      await note(this.database, { actor: person, kind: 'freed a scanner', about: name });
    await this.tell(id);
  }

  /** The attempt of a student who works at a board. */
  async requireAtBoard(id: string, student: Person): Promise<string> {
    const { attemptId } = await this.rowOf(id);
    if (attemptId === null) throw notFound('scanner');
    const attempt = await requireOwnAttempt(this.database, attemptId, student);
    if (attempt.state !== 'open') throw new Refusal('conflict', 'This attempt has been handed in.');
    return attemptId;
  }

  /** A board as it is read now, for an attempt that it is connected to. */
  async now(id: string, attemptId: string): Promise<BoardNow> {
    const row = await this.rowOf(id);
    if (row.attemptId !== attemptId) throw notFound('scanner');
    const { reading } = row;
    return {
      online: row.online && reading !== null,
      number: reading?.number ?? 0,
      terminals: (reading?.terminals ?? []) as BoardNow['terminals'],
      joined: (reading?.joined ?? []) as BoardNow['joined'],
      doubtful: reading?.doubtful ?? [],
      poor: reading?.poor ?? [],
      faults: reading?.faults ?? [],
      readings: row.worked,
      permit: permitOf(row),
    };
  }

  /** Keeps what is read now as the reading with these devices worked; one at rest begins a new series. */
  async takeWorked(id: string, steps: readonly Stimulus[], student: Person): Promise<BoardNow> {
    const attemptId = await this.requireAtBoard(id, student);
    const { online, reading } = await this.readAnew(id);
    if (!online || !reading || reading.faults.length > 0)
      throw new Refusal('conflict', 'Nothing is read from the board just now.');
    const [pair] = reading.doubtful;
    if (pair) throw new Refusal('conflict', `${pair.between.join(' – ')} ${pair.kind}: see to it first.`);
    const taken = { steps, joined: reading.joined };
    await this.database('scanners')
      .where({ id })
      .update({
        worked:
          steps.length === 0
            ? JSON.stringify([taken])
            : this.database.raw('worked || ?::jsonb', [JSON.stringify([taken])]),
      });
    await this.tell(id);
    return this.now(id, attemptId);
  }

  // ── permit ────────────────────────────────────────────────────────────────────────────────────

  /** The scanner of an attempt's board; null where none is connected. */
  async ofAttempt(attemptId: string): Promise<string | null> {
    const row = await this.database('scanners')
      .where({ attempt_id: attemptId })
      .first<{ id: string } | undefined>('id');
    return row?.id ?? null;
  }

  /**
   * Lets the permit relay of an attempt's board close, after an instructor has permitted it: where the board was
   * read with every device worked and has not changed since, is wired as its attempt's log says, and the proof
   * finds no short circuit in any order of working. Otherwise says why not.
   */
  async permit(attemptId: string, exercise: Exercise, instructor: Person): Promise<PermitCheck | null> {
    const id = await this.ofAttempt(attemptId);
    if (id === null) return null;
    const { reading, online, worked } = await this.rowOf(id);
    if (!online || !reading) return { ok: false, why: 'its scanner is not connected' };
    if (reading.faults[0] !== undefined) return { ok: false, why: reading.faults[0] };
    if (reading.doubtful[0])
      return { ok: false, why: `${reading.doubtful[0].between.join(' – ')} is not sure` };
    const rest = worked.find(({ steps }) => steps.length === 0);
    if (!rest) return { ok: false, why: 'it was not read with its devices worked' };
    if (netsText(rest.joined) !== netsText(reading.joined))
      return { ok: false, why: 'it has changed since it was read with its devices worked' };
    const bench = benchOf((await this.journal.boardOf(attemptId)).bench);
    const checked = await this.energiseIn({ exercise, bench, readings: worked });
    if (!checked.ok) return checked;
    if (netsText(jointsOfBench(checked.bench).joined) !== netsText(jointsOfBench(bench).joined))
      return { ok: false, why: 'it is not wired as the attempt says' };
    const given = await this.database('scanners')
      .where({ id, attempt_id: attemptId })
      .andWhereRaw(`(reading->>'number')::bigint = ?`, [reading.number])
      .update({ permitted_reading: reading.number, permitted_by: instructor.name });
    if (given === 0) return { ok: false, why: 'it has just changed' };
    await note(this.database, { actor: instructor, kind: 'closed a permit relay', about: exercise.title });
    await this.tell(id);
    return checked;
  }

  /** Opens the permit relay. */
  async open(id: string, instructor: Person): Promise<void> {
    const { name } = await this.rowOf(id);
    await this.database('scanners').where({ id }).update({ permitted_reading: null });
    await note(this.database, { actor: instructor, kind: 'opened a permit relay', about: name });
    await this.tell(id);
  }

  /** Refuses an instructor at whose board somebody of another class works. */
  async requireTaught(id: string, instructor: Person): Promise<void> {
    const { attemptId } = await this.rowOf(id);
    if (attemptId === null) return;
    const own = await this.database('attempts as a')
      .join('assignments as s', 's.id', 'a.assignment_id')
      .where('a.id', attemptId)
      .whereIn('s.class_id', classesOf(this.database, instructor))
      .first<{ id: string } | undefined>('a.id');
    if (!own && instructor.role !== 'administrator')
      throw new Refusal('forbidden', 'Somebody of another class works at this board.');
  }
}
