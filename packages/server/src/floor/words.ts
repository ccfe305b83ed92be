import type { Logger } from 'pino';
import type pg from 'pg';
import type { BenchWord, FloorNews, Person, ToBench } from '@contactum/contract';
import { toldTo } from '../runtime/logging.js';
import { Allowance } from '../security/pace.js';
import type { Bench, Change, Observer } from './messages.js';

/** Messages of one bench that an instructor is shown. */
const MOST_WORDS = 30;

interface Row {
  readonly id: string;
  readonly by: string;
  readonly text: string;
  readonly at: Date;
  readonly isStudents: boolean;
  readonly isToClass: boolean;
}

const wordOf = (row: Row): BenchWord => ({ ...row, at: row.at.toISOString() });

const WORDS = `select w.id, w.text, w.at, p.name as by, p.role = 'student' as "isStudents",
    w.attempt_id is null as "isToClass"
  from bench_words w join people p on p.id = w.author_id`;

/** Messages that a student may send at once, and a second in the long run: more than anybody writes. */
export const studentAllowance = (): Allowance => new Allowance({ burst: 8, perSecond: 0.25 });

/** Whom a message reaches, whichever process they are connected to. */
interface Reach {
  readonly toPage: (bench: Bench, body: ToBench) => void;
  readonly toBench: (attemptId: string, body: ToBench) => void;
  /** To every bench of a class. */
  readonly toClass: (classId: string, body: ToBench) => void;
  /** To every instructor's page on the floor of a class. */
  readonly toFloor: (classId: string, news: FloorNews) => void;
  readonly change: (classId: string, changed: readonly Change[]) => void;
}

/** Messages between benches and the instructors of their class: stored first, then sent. */
export class Words {
  private readonly pool: pg.Pool;

  constructor(
    private readonly parts: { readonly pool: pg.Pool; readonly log: Logger },
    private readonly reach: Reach,
  ) {
    this.pool = parts.pool;
  }

  /** Messages of the last minutes, to a student's page that opens. */
  async bring(bench: Bench): Promise<void> {
    for (const word of await this.lately(bench.classId, bench.attemptId))
      this.reach.toPage(bench, { kind: 'word', word });
  }

  /** A message of a student to the instructors: it waits on the bench until one answers or dismisses it. */
  async ofStudent(bench: Bench, text: string): Promise<void> {
    const { classId, attemptId, student, allowance } = bench;
    const unsent = (why: string) => this.reach.toPage(bench, { kind: 'unsent', text, why });
    if (!allowance.takes()) {
      unsent('You have sent many messages in a short time. Wait a moment, then send it again.');
      return;
    }
    try {
      const word = await this.add(classId, attemptId, student, text);
      this.reach.toPage(bench, { kind: 'word', word });
      this.reach.toFloor(classId, { kind: 'word', attemptId, word });
      this.reach.change(classId, [{ attemptId, word }]);
    } catch (error) {
      toldTo(this.parts.log, 'a message of a student')(error);
      unsent('The server could not store it. Try again.');
    }
  }

  /**
   * A message to one bench or to all; who opens a page within some minutes gets it too. What the student had
   * written is answered by it.
   */
  async ofInstructor(
    { classId, instructor }: Pick<Observer, 'classId' | 'instructor'>,
    attemptId: string | null,
    text: string,
  ): Promise<void> {
    const word = await this.add(classId, attemptId, instructor, text);
    this.reach.toFloor(classId, { kind: 'word', attemptId, word });
    if (attemptId === null) {
      this.reach.toClass(classId, { kind: 'word', word });
      return;
    }
    this.reach.toBench(attemptId, { kind: 'word', word });
    await this.heard(classId, attemptId);
  }

  /** The messages of a bench are answered, or need no answer. */
  async heard(classId: string, attemptId: string): Promise<void> {
    await this.pool.query(
      'update bench_words set heard_at = now() where attempt_id = $1 and heard_at is null',
      [attemptId],
    );
    this.reach.change(classId, [{ attemptId, word: null }]);
  }

  /** Stores a message of one bench, or to the class where no bench is named. */
  private async add(
    classId: string,
    attemptId: string | null,
    author: Person,
    text: string,
  ): Promise<BenchWord> {
    const { rows } = await this.pool.query<{ id: string; at: Date }>(
      'insert into bench_words (class_id, attempt_id, author_id, text) values ($1, $2, $3, $4) returning id, at',
      [classId, attemptId, author.id, text],
    );
    const [row] = rows;
    if (!row) throw new Error('a message was not stored');
    return wordOf({
      ...row,
      by: author.name,
      text,
      isStudents: author.role === 'student',
      isToClass: attemptId === null,
    });
  }

  private async lately(classId: string, attemptId: string): Promise<BenchWord[]> {
    const { rows } = await this.pool.query<Row>(
      `${WORDS} where w.class_id = $1 and (w.attempt_id = $2 or w.attempt_id is null)
        and w.at > now() - interval '5 minutes' order by w.id`,
      [classId, attemptId],
    );
    return rows.map(wordOf);
  }

  /** The last messages of a bench and, since it was begun, to its class, the oldest first. */
  async of(classId: string, attemptId: string): Promise<BenchWord[]> {
    const { rows } = await this.pool.query<Row>(
      `${WORDS} where w.class_id = $1 and (w.attempt_id = $2 or (w.attempt_id is null
        and w.at > (select started_at from attempts where id = $2))) order by w.id desc limit ${MOST_WORDS}`,
      [classId, attemptId],
    );
    return rows.map(wordOf).reverse();
  }
}

/** Why the permit relay of a physical board stays open although permission is given. */
export const relayRefused = (why: string) =>
  ({ kind: 'refused', why: `The permit relay stays open: ${why}.` }) as const;
