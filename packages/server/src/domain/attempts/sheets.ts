import { LRUCache } from 'lru-cache';
import type { Knex } from 'knex';
import type PgBoss from 'pg-boss';
import {
  benchOf,
  editsTo,
  exerciseKey,
  exerciseVersion,
  isAsked,
  isSearch,
  openingBoard,
  signedEntries,
  terminalsOf,
  type BenchSheet,
  type Exercise,
  type SheetEntries,
  type Wire,
} from '@contactum/core';
import type {
  ConfirmRequest,
  Person,
  SheetRequest,
  SheetTaken,
  SheetToTake,
  SheetView,
  SheetWaiting,
} from '@contactum/contract';
import { AssignmentModel, AttemptModel, LogModel, SheetModel } from '../../database/models.js';
import { queueMarking, wakeBackground } from '../../runtime/queue.js';
import type { Lane } from '../../runtime/lane.js';
import { note } from '../people/audit.js';
import type { Journal } from './journal.js';
import { classesOf, requireOwnSetting, requireReadableAttempt } from '../people/permissions.js';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';
import { shutFor, studentTimes } from '../classes/settings.js';
import { requireShown } from '../people/sight.js';
import {
  NO_TIMES,
  digestOf,
  entriesBy,
  requireFitting,
  requireSat,
  requireTaskOnBench,
  timesOf,
} from './sheet-rules.js';

/** Photographs are kept as this, whatever they were sent as. */
const PHOTO_TYPE = 'image/jpeg';
/** Sheets that a process remembers. */
const MADE = 200;

/** Only what is wired, programmed or both has a sheet. */
function refuseUnlessWired({ document: exercise, variants }: AssignmentModel): void {
  if (variants)
    throw new Refusal('conflict', 'Every student has a variant here; a physical board is the same for all.');
  if (isSearch(exercise)) throw new Refusal('conflict', 'A search for faults has no bench sheet.');
  if (isAsked(exercise)) throw new Refusal('conflict', 'An exercise of questions has no bench sheet.');
}

/**
 * Sheets of physical boards: made for a setting, entered at the bench, and marked in the queue like any
 * attempt.
 */
export class Sheets {
  private readonly made = new LRUCache<string, Promise<BenchSheet>>({ max: MADE });

  constructor(
    private readonly database: Knex,
    private readonly journal: Journal,
    private readonly boss: PgBoss,
    private readonly lane: Lane<unknown, unknown>,
    private readonly markAgain: (attemptId: string, exercise: Exercise) => Promise<void>,
  ) {}

  /** What is taken to the bench. */
  async toTake(settingId: string, person: Person): Promise<SheetToTake> {
    const setting = await this.requireSetting(settingId, person);
    const exercise = setting.document;
    refuseUnlessWired(setting);
    const students = await this.studentsOf(setting, person);
    return {
      settingId,
      className: setting.class?.name ?? '',
      exerciseId: exercise.id,
      version: exerciseVersion(exercise),
      sheet: await this.sheetOf(exercise),
      terminals: terminalsOf(exercise.bench),
      students,
      takenAt: new Date().toISOString(),
    };
  }

  /** Whose sheet may be entered; in an assessment everybody's who sits it, before the start too. */
  private async studentsOf(
    { id, assessmentId }: AssignmentModel,
    person: Person,
  ): Promise<{ id: string; name: string }[]> {
    const query =
      assessmentId === null
        ? this.database('assignment_students as v').where('v.assignment_id', id)
        : this.database('assessment_sittings as v')
            .where('v.assessment_id', assessmentId)
            .whereNull('v.voided_at');
    if (person.role === 'student') void query.where('v.student_id', person.id);
    return query
      .join('people as p', 'p.id', 'v.student_id')
      .orderBy('p.name')
      .select<{ id: string; name: string }[]>('p.id', 'p.name');
  }

  private async requireSetting(settingId: string, person: Person): Promise<AssignmentModel> {
    if (person.role !== 'student') {
      const own = await requireOwnSetting(this.database, settingId, person);
      await requireTaskOnBench(this.database, own);
      return own;
    }
    const setting = await AssignmentModel.query(this.database)
      .findById(settingId)
      .whereExists(
        this.database('assignment_students').where('assignment_id', settingId).where('student_id', person.id),
      )
      .withGraphFetched('class');
    if (!setting) throw notFound('setting');
    if (setting.assessmentId !== null)
      throw new Refusal('forbidden', 'In an assessment an examiner enters the bench sheet.');
    // A sheet says between which terminals what is to be read.
    await requireShown(this.database, setting.document, person, 'answers');
    return setting;
  }

  /** Made in a thread, once for each version of an exercise. */
  private sheetOf(exercise: Exercise): Promise<BenchSheet> {
    const key = exerciseKey(exercise);
    const known = this.made.get(key);
    if (known) return known;
    const making = this.lane.run<BenchSheet>({ exercise }, 'sheet');
    this.made.set(key, making);
    making.catch(() => this.made.delete(key));
    return making;
  }

  /** A photograph without anything but its picture, written anew in a thread; null of what is none. */
  private async clean(data: Buffer): Promise<Buffer | null> {
    const photo = await this.lane.run<Uint8Array | null>({ data }, 'cleanPhoto');
    return photo && Buffer.from(photo);
  }

  /** Takes a sheet that was entered; the same one sent again is taken once. */
  async take(settingId: string, given: SheetRequest, person: Person): Promise<SheetTaken> {
    if (person.role === 'student' && given.studentId !== person.id)
      throw new Refusal('forbidden', 'A sheet is entered for oneself, or by an instructor.');
    const setting = await this.requireSetting(settingId, person);
    const exercise = setting.document;
    refuseUnlessWired(setting);
    requireFitting(exercise, given.entries);
    const digest = digestOf(settingId, given);
    const photo = given.photo && (await this.clean(Buffer.from(given.photo.base64, 'base64')));
    if (given.photo && !photo) throw invalidAt('photo', 'is no picture that can be read, or too large a one');
    return this.database.transaction(async (trx) => {
      await trx.raw('select pg_advisory_xact_lock(hashtextextended(?, 0))', [
        `${settingId} ${given.studentId}`,
      ]);
      const known = await SheetModel.query(trx)
        .findById(given.id)
        .select('id', 'attemptId', 'digest')
        .withGraphFetched('attempt');
      if (known?.attempt) {
        if (known.digest !== digest)
          throw new Refusal('conflict', 'This sheet was sent before with other entries; those were taken.');
        return { id: known.id, attemptId: known.attemptId, number: known.attempt.number };
      }
      const number = await this.nextNumber(trx, setting, given, person);
      const attempt = await this.insert(trx, setting, given, { person, number, digest, photo });
      await queueMarking(this.boss, [attempt.id], numbered(trx));
      await wakeBackground(numbered(trx));
      await note(trx, {
        actor: person,
        kind: 'entered a bench sheet',
        about: exercise.title,
        classId: setting.classId,
        detail: { attemptId: attempt.id, studentId: given.studentId },
      });
      return { id: given.id, attemptId: attempt.id, number };
    });
  }

  /** Writes down the attempt that a sheet is, its leads, and what was entered. */
  private async insert(
    trx: Knex,
    setting: AssignmentModel,
    given: SheetRequest,
    {
      person,
      number,
      digest,
      photo,
    }: {
      readonly person: Person;
      readonly number: number;
      readonly digest: string;
      readonly photo: Buffer | null;
    },
  ): Promise<AttemptModel> {
    const isConfirmed = person.role !== 'student';
    const { begun, ended, behind } = timesOf(given, setting, isConfirmed);
    const entries = entriesBy(person, given.entries);
    const attempt = await AttemptModel.query(trx)
      .insert({
        assignmentId: setting.id,
        studentId: given.studentId,
        number,
        state: 'handed-in',
        startedAt: begun,
        handedInAt: ended,
        confirmed: isConfirmed,
      })
      .returning('*');
    await this.writeWiring(trx, attempt, setting.document, entries);
    await SheetModel.query(trx).insert({
      id: given.id,
      attemptId: attempt.id,
      enteredBy: person.id,
      entries,
      digest,
      clockBehind: behind,
      ...(isConfirmed ? { confirmedBy: person.id, confirmedAt: new Date() } : {}),
      photoType: photo ? PHOTO_TYPE : null,
      photo,
      photoClean: true,
    });
    return attempt;
  }

  /** The number of the next attempt; what stands against one more is said, unless it is taken anyway. */
  private async nextNumber(
    trx: Knex,
    setting: AssignmentModel,
    { studentId, anyway }: SheetRequest,
    person: Person,
  ): Promise<number> {
    if (setting.assessmentId !== null) await requireSat(trx, setting.assessmentId, studentId);
    const times = (await studentTimes(trx, studentId, setting.id)).get(setting.id);
    if (!times) throw new Refusal('conflict', 'This exercise is not set to this student any more.');
    const attempts = await AttemptModel.query(trx)
      .where({ assignmentId: setting.id, studentId })
      .orderBy('number');
    const last = attempts.at(-1)?.number ?? 0;
    if (anyway && person.role !== 'student') return last + 1;
    if (attempts.some(({ state }) => state === 'open'))
      throw new Refusal('conflict', 'An attempt at this exercise is open on the screen.');
    // Examiners enter sheets after the time is over as well: the board was there before.
    const shut = shutFor(setting, setting.assessmentId === null ? times : NO_TIMES, last);
    if (shut !== null) throw new Refusal('conflict', shut);
    return last + 1;
  }

  /**
   * The leads as they really lie are the attempt's log, so that its board is seen and worked like any
   * other.
   */
  private async writeWiring(
    trx: Knex,
    attempt: AttemptModel,
    exercise: Exercise,
    { asWired = [] }: SheetEntries,
  ): Promise<void> {
    if (asWired.length === 0) return;
    const edits = editsTo(openingBoard(exercise), asWired);
    await LogModel.query(trx).insert(
      edits.map((edit, k) => ({
        attemptId: attempt.id,
        seq: k + 1,
        body: { kind: 'edit' as const, edit },
        at: attempt.handedInAt ?? new Date(),
      })),
    );
    await AttemptModel.query(trx).findById(attempt.id).patch({ lastSeq: edits.length });
  }

  /** The leads of a student's last attempt on the screen: laid on the Bench as they lie on the board. */
  async wiringOf(settingId: string, studentId: string, person: Person): Promise<{ wires: Wire[] }> {
    if (person.role === 'student' && studentId !== person.id) throw notFound('attempt');
    const setting = await this.requireSetting(settingId, person);
    const attempt = await AttemptModel.query(this.database)
      .where({ assignmentId: settingId, studentId })
      .whereNotExists(this.database('bench_sheets').where('attempt_id', this.database.ref('attempts.id')))
      .orderBy('number', 'desc')
      .first();
    if (!attempt) throw new Refusal('conflict', 'This student has not wired this exercise on the Bench.');
    const { bench } = await this.journal.boardOf(attempt.id);
    return { wires: benchOf(bench).wires.slice(setting.document.bench.wires.length) };
  }

  /** Sheets of students' own in an instructor's classes that nobody has confirmed, oldest first. */
  async waiting(instructor: Person): Promise<SheetWaiting[]> {
    const attempts = await AttemptModel.query(this.database)
      .where({ confirmed: false })
      .whereIn(
        'assignmentId',
        this.database('assignments').whereIn('class_id', classesOf(this.database, instructor)).select('id'),
      )
      .orderBy('handedInAt')
      .withGraphFetched('[assignment.class, student]');
    return attempts.map(({ id, state, handedInAt, startedAt, assignment, student }) => ({
      attemptId: id,
      student: student?.name ?? '',
      exercise: assignment?.document.title ?? '',
      className: assignment?.class?.name ?? '',
      sentAt: (handedInAt ?? startedAt).toISOString(),
      state,
    }));
  }

  /**
   * An instructor stands for what a student has entered; the permission to energise is theirs to say. The
   * mark is worked out again where the permission is new to it.
   */
  async confirm(id: string, { permitted }: ConfirmRequest, instructor: Person): Promise<void> {
    const { attempt, student, group, exercise } = await requireReadableAttempt(this.database, id, instructor);
    if (attempt.state !== 'marked' && attempt.state !== 'failed')
      throw new Refusal('conflict', 'This sheet is not marked yet.');
    await this.database.transaction(async (trx) => {
      const sheet = await SheetModel.query(trx)
        .findOne({ attemptId: id })
        .select('id', 'entries', 'confirmedAt')
        .forUpdate();
      if (!sheet)
        throw new Refusal('conflict', 'This attempt was made on the screen: nothing is to confirm.');
      if (sheet.confirmedAt) throw new Refusal('conflict', 'This sheet is confirmed already.');
      await SheetModel.query(trx)
        .findById(sheet.id)
        .patch({
          confirmedBy: instructor.id,
          confirmedAt: new Date(),
          entries: signedEntries(sheet.entries, {
            isolatedBy: sheet.entries.isolatedBy,
            permittedBy: permitted ? instructor.name : undefined,
          }),
        });
      await AttemptModel.query(trx).findById(id).patch({ confirmed: true });
      await note(trx, {
        actor: instructor,
        kind: 'confirmed a bench sheet',
        about: `${student.name}: ${exercise.title}`,
        classId: group.id,
        detail: { permitted },
      });
    });
    if (permitted) await this.markAgain(id, exercise);
  }

  /** What was entered for an attempt; null where it was made on the screen. */
  async of(attemptId: string, person: Person): Promise<SheetView | null> {
    const { attempt, held } = await requireReadableAttempt(this.database, attemptId, person);
    // What an examiner has found is told with the marks.
    if (held && attempt.assignment?.assessmentId !== null) return null;
    const sheet = await SheetModel.query(this.database)
      .findOne({ attemptId })
      .select(
        'id',
        'entries',
        'sentAt',
        'enteredBy',
        'photoType',
        'confirmedBy',
        'confirmedAt',
        'clockBehind',
      )
      .withGraphFetched('[author, confirmer]');
    return sheet
      ? {
          entries: sheet.entries,
          enteredBy: sheet.author?.name ?? '',
          sentAt: sheet.sentAt.toISOString(),
          confirmedBy: sheet.confirmer?.name ?? '',
          confirmedAt: sheet.confirmedAt?.toISOString() ?? null,
          clockBehind: sheet.clockBehind,
          photo: sheet.photoType === null ? null : `/api/attempts/${attemptId}/sheet/photo`,
        }
      : null;
  }

  async photoOf(attemptId: string, person: Person): Promise<{ type: string; data: Buffer }> {
    await requireReadableAttempt(this.database, attemptId, person);
    const sheet = await SheetModel.query(this.database).findOne({ attemptId });
    if (!sheet?.photo) throw notFound('photograph');
    if (sheet.photoClean) return { type: PHOTO_TYPE, data: sheet.photo };
    // One of an earlier version still has in it what the camera wrote.
    const photo = await this.clean(sheet.photo);
    await SheetModel.query(this.database)
      .findById(sheet.id)
      .patch({ photo, photoType: photo ? PHOTO_TYPE : null, photoClean: true });
    if (!photo) throw notFound('photograph');
    return { type: PHOTO_TYPE, data: photo };
  }
}

/**
 * Asks in a transaction what numbers its values, as the queue does; the builder of queries names them by
 * question marks.
 */
const numbered =
  (trx: Knex) =>
  async (text: string, values: unknown[]): Promise<{ rows: unknown[] }> => {
    const given: unknown[] = [];
    const sql = text.replaceAll('?', '\\?').replace(/\$(\d+)/g, (_, n: string) => {
      given.push(values[Number(n) - 1] ?? null);
      return '?';
    });
    return trx.raw<{ rows: unknown[] }>(sql, given as Knex.RawBinding[]);
  };
