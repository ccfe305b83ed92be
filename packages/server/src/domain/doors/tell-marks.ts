import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { recordedOutcomes } from '../assessments/recorded-outcomes.js';
import { recordedMarks, type RecordedMark } from '../attempts/recorded-marks.js';
import type { Platform } from './platforms.js';
import { ServiceError, sent, type Services, type Untaken } from './services.js';

/**
 * Pauses between two tries, seconds: twice as long each time, up to an hour. What was refused is tried less
 * often, up to a day: some platforms refuse while they are being looked after.
 */
const pauseAfter = (tries: number, why: Untaken): number => {
  const doubled = 2 ** Math.min(tries, 12);
  return why === 'refused' ? Math.min(86_400, 30 * doubled) : Math.min(3600, doubled);
};
/** Marks that are told in one turn. */
const AT_ONCE = 50;

/** What was changed so long before the last look is looked at again: it may have been committed after it. */
const OVERLAP_MS = 20_000;
/** How often all marks are looked at. */
const ALL_MS = 300_000;

/** Where xAPI statements go, if anywhere. */
export interface StatementStore {
  readonly url: string;
  /** `name:password`. */
  readonly credentials: string | null;
  /** Address of the server, by which exercises are named. */
  readonly base: string;
}

/** A mark that is to be told somewhere. */
interface Due {
  readonly place: string;
  /** What it is a mark of; the other one is null. */
  readonly assignmentId: string | null;
  readonly assessmentId: string | null;
  readonly studentId: string;
  readonly mark: string;
  readonly tries: number;
}

type Told = Pick<RecordedMark, 'recorded' | 'max' | 'passed'>;

/** What is told of a mark: it is told again when any of it changes. */
const markText = ({ recorded, max, passed }: Told): string => JSON.stringify({ recorded, max, passed });

/** A line item of a gradebook, and what its marks are of. */
interface LineItem {
  readonly id: string;
  readonly assignmentId: string | null;
  readonly assessmentId: string | null;
}

/** Line items by what they are of. */
function placesBy(items: readonly LineItem[], kind: 'assignmentId' | 'assessmentId'): Map<string, string[]> {
  const places = new Map<string, string[]>();
  for (const item of items) {
    const of = item[kind];
    if (of !== null) places.set(of, [...(places.get(of) ?? []), item.id]);
  }
  return places;
}

/**
 * Tells gradebooks and a store of statements the recorded marks. What is to be told stands in a table beside
 * what was told last, so that a mark that changes (an overrule, a second attempt, a marking done again) is told
 * again, one that does not is told once, and what was not taken is tried again with growing pauses, whichever
 * process lives.
 */
export class MarkTelling {
  private lookedAt = 0;
  private allAt = 0;

  constructor(
    private readonly database: Knex,
    private readonly services: Services,
    private readonly statements: StatementStore | null,
    private readonly log: Logger,
  ) {}

  /** Looks which marks have changed, and tells what is due. Returns how many were told. */
  async turn(): Promise<number> {
    await this.gather();
    const places = new Map<string, Due[]>();
    for (const due of await this.due()) places.set(due.place, [...(places.get(due.place) ?? []), due]);
    const told = await Promise.all([...places.values()].map((due) => this.tellPlace(due)));
    return told.reduce((sum, count) => sum + count, 0);
  }

  /**
   * Tells one place what is due there, one after the other; one that does not answer is asked once in a turn.
   * Returns how many it has taken.
   */
  private async tellPlace(due: readonly Due[]): Promise<number> {
    let told = 0;
    for (const [k, one] of due.entries()) {
      const error = await this.tell(one);
      if (error === null) told += 1;
      if (error?.why !== 'silent') continue;
      for (const rest of due.slice(k + 1)) await this.putOff(rest, error);
      break;
    }
    return told;
  }

  /** Notes which marks are not told yet as they are now. */
  private async gather(): Promise<void> {
    const items = await this.database('line_items').select<LineItem[]>(
      'id',
      'assignment_id',
      'assessment_id',
    );
    // Most colleges tell their marks to nobody.
    if (items.length === 0 && !this.statements) return;
    const now = Date.now();
    const since = new Date(this.lookedAt - OVERLAP_MS);
    this.lookedAt = now;
    const all = now - this.allAt > ALL_MS;
    if (all) this.allAt = now;
    await this.gatherMarks(placesBy(items, 'assignmentId'), all ? null : since);
    await this.gatherOutcomes(placesBy(items, 'assessmentId'), all ? null : since);
  }

  /** Marks of exercises: for gradebooks and the store of statements. */
  private async gatherMarks(places: ReadonlyMap<string, string[]>, since: Date | null): Promise<void> {
    const everywhere = this.statements ? ['statements'] : [];
    const linked = [...places.keys()];
    const changed = since ? await this.changedMarks(linked, since) : this.statements ? null : linked;
    const rows = (await recordedMarks(this.database, changed)).flatMap((mark) =>
      [...(places.get(mark.assignmentId) ?? []), ...everywhere].map((place) => ({
        place,
        assignment_id: mark.assignmentId,
        student_id: mark.studentId,
        mark: markText(mark),
      })),
    );
    await this.put(rows, 'assignment_id');
  }

  /** Outcomes of whole assessments: for gradebooks. */
  private async gatherOutcomes(places: ReadonlyMap<string, string[]>, since: Date | null): Promise<void> {
    const linked = [...places.keys()];
    const changed = since ? await this.changedOutcomes(linked, since) : linked;
    const rows = (await recordedOutcomes(this.database, changed)).flatMap((outcome) =>
      (places.get(outcome.assessmentId) ?? []).map((place) => ({
        place,
        assessment_id: outcome.assessmentId,
        student_id: outcome.studentId,
        mark: markText(outcome),
      })),
    );
    await this.put(rows, 'assessment_id');
  }

  /** Notes marks that are to be told; one that was told as it is now is left. */
  private async put(
    rows: readonly Readonly<Record<string, string>>[],
    of: 'assignment_id' | 'assessment_id',
  ): Promise<void> {
    for (let k = 0; k < rows.length; k += 500)
      await this.database('told_marks')
        .insert(rows.slice(k, k + 500))
        .onConflict(['place', of, 'student_id'])
        .merge({
          mark: this.database.raw('excluded.mark'),
          told_at: null,
          tries: 0,
          problem: null,
          next_at: this.database.fn.now(),
        } as never)
        .whereRaw('told_marks.mark <> excluded.mark');
  }

  /**
   * Assignments whose marks may have changed since the last look; now and then all of them are looked at, since
   * a sheet that is confirmed or a time that has come changes marks without being one.
   */
  private async changedMarks(linked: readonly string[], since: Date): Promise<string[]> {
    const { rows } = await this.database.raw<{ rows: { id: string }[] }>(
      `select distinct a.assignment_id as id from attempts a where (?::boolean or a.assignment_id = any(?::uuid[])) and (
          a.id in (select attempt_id from markings where marked_at > ?)
          or a.id in (select attempt_id from point_changes where at > ?))
        union select s.id from assignments s join assessments x on x.id = s.assessment_id where x.released_at > ?
        union select i.assignment_id from line_items i where i.assignment_id is not null and not exists
          (select 1 from told_marks t where t.place = i.id::text)`,
      [this.statements !== null, [...linked], since, since, since],
    );
    return rows.map(({ id }) => id);
  }

  /** Assessments whose outcomes may have changed: released, or changed by an appeal after that. */
  private async changedOutcomes(linked: readonly string[], since: Date): Promise<string[]> {
    const { rows } = await this.database.raw<{ rows: { id: string }[] }>(
      `select x.id from assessments x where x.id = any(?::uuid[]) and (x.released_at > ?
        or exists (select 1 from assessment_agreed g where g.assessment_id = x.id and g.at > ?)
        or exists (select 1 from assignments s join attempts a on a.assignment_id = s.id
          join point_changes c on c.attempt_id = a.id where s.assessment_id = x.id and c.at > ?)
        or x.released_at is not null and not exists (select 1 from told_marks t join line_items i
          on i.id::text = t.place where i.assessment_id = x.id))`,
      [[...linked], since, since, since],
    );
    return rows.map(({ id }) => id);
  }

  /** Takes what is due; another process that looks at the same moment takes other ones. */
  private async due(): Promise<Due[]> {
    const { rows } = await this.database.raw<{ rows: Due[] }>(
      `update told_marks t set tries = t.tries + 1, next_at = now() + interval '60 seconds'
        where t.ctid = any(array(select ctid from told_marks where told_at is null and next_at <= now()
          order by next_at limit ${AT_ONCE} for update skip locked))
        returning t.place, t.assignment_id as "assignmentId", t.assessment_id as "assessmentId",
          t.student_id as "studentId", t.mark, t.tries`,
    );
    return rows;
  }

  /** Tells a mark; returns why it was not taken, null where it was. */
  private async tell(due: Due): Promise<ServiceError | null> {
    try {
      await (due.place === 'statements' ? this.tellStatement(due) : this.tellLine(due));
      await this.rowOf(due).update({ told_at: this.database.fn.now(), problem: null });
      return null;
    } catch (error) {
      this.log.warn({ err: error, place: due.place }, 'a mark was not taken');
      const why = error instanceof ServiceError ? error : new ServiceError((error as Error).message, 'later');
      await this.putOff(due, why);
      return why;
    }
  }

  private rowOf({ place, assignmentId, assessmentId, studentId, mark }: Due) {
    const of = assignmentId === null ? { assessment_id: assessmentId } : { assignment_id: assignmentId };
    return this.database('told_marks').where({ place, ...of, student_id: studentId, mark });
  }

  /** A mark that was not taken is tried again after a pause. */
  private async putOff(due: Due, { message, why }: ServiceError): Promise<void> {
    await this.rowOf(due).update({
      problem: message.slice(0, 300),
      next_at: this.database.raw('now() + make_interval(secs => ?)', [pauseAfter(due.tries, why)]),
    });
  }

  private async tellLine({ place, studentId, mark }: Due): Promise<void> {
    const found = await this.database('line_items as i')
      .join('course_links as c', 'c.id', 'i.course_id')
      .join('platforms as p', 'p.id', 'c.platform_id')
      .leftJoin('person_links as l', (on) =>
        on.on('l.issuer', 'p.issuer').andOn('l.person_id', this.database.raw('?::uuid', [studentId])),
      )
      .where('i.id', place)
      .first<(Platform & { url: string; subject: string | null }) | undefined>('p.*', 'i.url', 'l.subject');
    if (!found) throw new ServiceError('the line item is gone', 'refused');
    if (found.subject === null) throw new ServiceError('the student is not known to the platform', 'later');
    const { recorded, max, passed } = JSON.parse(mark) as RecordedMark;
    await this.services.tellScore(found, found.url, {
      subject: found.subject,
      given: recorded,
      most: max,
      comment: passed ? 'Passed.' : 'Not passed.',
      at: new Date(),
    });
  }

  /** One statement (xAPI 1.0.3, from memory); its id follows from what it says, so that it is stored once. */
  private async tellStatement({ assignmentId, studentId, mark }: Due): Promise<void> {
    const { statements } = this;
    if (!statements) throw new ServiceError('no store of statements is set', 'refused');
    const found = await this.database('assignments as s')
      .join('people as p', 'p.id', this.database.raw('?::uuid', [studentId]))
      .where('s.id', assignmentId)
      .first<{ title: string; exerciseId: string; login: string } | undefined>(
        this.database.raw("s.document->>'title' as title"),
        's.exercise_id',
        'p.login',
      );
    if (!found) throw new ServiceError('the assignment is gone', 'refused');
    const { recorded, max, passed } = JSON.parse(mark) as RecordedMark;
    const { rows } = await this.database.raw<{ rows: { id: string; at: Date }[] }>(
      'select md5(?)::uuid as id, now() as at',
      [`${assignmentId} ${studentId} ${mark}`],
    );
    const statement = {
      actor: { account: { homePage: statements.base, name: found.login } },
      verb: {
        id: `http://adlnet.gov/expapi/verbs/${passed ? 'passed' : 'failed'}`,
        display: { en: passed ? 'passed' : 'failed' },
      },
      object: {
        id: `${statements.base}/exercises/${found.exerciseId}`,
        definition: { name: { en: found.title }, type: 'http://adlnet.gov/expapi/activities/assessment' },
      },
      result: {
        success: passed,
        completion: true,
        score: { raw: recorded, min: 0, max, scaled: max > 0 ? Math.round((1e4 * recorded) / max) / 1e4 : 0 },
      },
      timestamp: rows[0]?.at.toISOString(),
    };
    const url = new URL(`${statements.url.replace(/\/$/, '')}/statements`);
    url.searchParams.set('statementId', rows[0]?.id ?? '');
    await sent(url.href, {
      method: 'PUT',
      headers: {
        'content-type': 'application/json',
        'x-experience-api-version': '1.0.3',
        ...(statements.credentials === null
          ? {}
          : { authorization: `Basic ${Buffer.from(statements.credentials).toString('base64')}` }),
      },
      body: JSON.stringify(statement),
    }).catch((error: unknown) => {
      // 409: it is stored already, with the time of the first try.
      if (!(error instanceof ServiceError) || !error.message.startsWith('409')) throw error;
    });
  }
}
