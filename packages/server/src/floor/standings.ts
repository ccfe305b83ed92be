import type pg from 'pg';
import type { Logger } from 'pino';
import type { LogModel } from '../database/models.js';
import { isWork } from '../domain/attempts/attempts.js';
import type { Journal } from '../domain/attempts/journal.js';
import type { Lane } from '../runtime/lane.js';
import type { FollowAnswer, FollowFailure, FollowTask } from '../threads/following.js';
import type { Bench } from './messages.js';

/** What is followed of a bench, and how far. */
interface Followed {
  readonly seq: number;
  readonly isRunning: boolean;
  readonly faults: string;
}

interface Row {
  readonly id: string;
  readonly t: number;
  readonly entries: readonly (readonly [seq: number, t: number, body: LogModel['body']])[];
}

/** Entries that are told a thread at once; more come with the next look. */
const MOST_ENTRIES = 400;

/**
 * How the benches of this process stand, by their logs: one question to the database for all of them, and a
 * thread that works only those at which something was done, moves by itself, or is looked at.
 */
export class Standings {
  private readonly followed = new WeakMap<Bench, Followed>();

  constructor(
    private readonly pool: pg.Pool,
    private readonly journal: Journal,
    private readonly lane: Lane<unknown, unknown>,
    private readonly log: Logger,
  ) {}

  /** Looks at benches; answers for those of which there is anything new. */
  async look(benches: readonly Bench[]): Promise<ReadonlyMap<Bench, FollowAnswer>> {
    if (benches.length === 0) return new Map();
    const after = benches.map((bench) => this.followed.get(bench)?.seq ?? 0);
    const { rows } = await this.pool.query<Row>({
      name: 'floor-look',
      text: LOOK,
      values: [benches.map(({ attemptId }) => attemptId), after],
    });
    const byId = new Map(rows.map((row) => [row.id, row]));
    const due = benches.flatMap((bench) => {
      const row = byId.get(bench.attemptId);
      return row && this.isDue(bench, row) ? [{ bench, row }] : [];
    });
    if (due.length === 0) return new Map();
    const tasks = await Promise.all(due.map(({ bench, row }) => this.taskOf(bench, row)));
    const answers = await this.lane.run<(FollowAnswer | FollowFailure | null)[]>({ tasks }, 'follow');
    const found = new Map<Bench, FollowAnswer>();
    due.forEach(({ bench }, k) => {
      const answer = answers[k];
      // A thread that was lost knows nothing: it is told everything with the next look.
      if (!answer) this.followed.delete(bench);
      else if ('failed' in answer) {
        this.log.warn({ attemptId: bench.attemptId, reason: answer.failed }, 'a bench cannot be followed');
        // Looked at again when something more is done at it.
        const { seq } = tasks[k] as FollowTask;
        this.followed.set(bench, { seq, isRunning: false, faults: faultsOf(bench) });
      } else {
        const { seq, isRunning } = answer;
        this.followed.set(bench, { seq, isRunning, faults: faultsOf(bench) });
        // At rest it is told once, until something is done or somebody else looks on.
        if (answer.frame) bench.shown = !isRunning;
        found.set(bench, answer);
      }
    });
    return found;
  }

  private isDue(bench: Bench, row: Row): boolean {
    const known = this.followed.get(bench);
    return (
      known === undefined ||
      known.isRunning ||
      row.entries.length > 0 ||
      (bench.watched && !bench.shown) ||
      known.faults !== faultsOf(bench)
    );
  }

  private async taskOf(bench: Bench, { t, entries }: Row): Promise<FollowTask> {
    const { attemptId, faults, watched } = bench;
    const known = this.followed.get(bench);
    const after = known?.seq ?? 0;
    return {
      attemptId,
      after,
      // Only a bench that the thread does not know is begun there.
      ...(known ? {} : { exercise: await this.journal.exerciseOf(attemptId) }),
      entries: entries.flatMap(([, at, body]) => (isWork(body) ? [{ t: at, entry: body }] : [])),
      seq: entries.at(-1)?.[0] ?? after,
      t: entries.length < MOST_ENTRIES ? t : (entries.at(-1)?.[1] ?? t),
      faults,
      isWatched: watched,
    };
  }
}

const faultsOf = ({ faults }: Bench): string => JSON.stringify(faults);

/** Only what is new of each, and no more of it than a thread takes at once. */
const LOOK = `select a.id, extract(epoch from greatest(interval '0', now() - a.started_at))::float8 as t,
    case when a.last_seq <= g.after then '[]'::json else (select coalesce(json_agg(json_build_array(l.seq,
      extract(epoch from greatest(interval '0', l.at - a.started_at))::float8, l.body) order by l.seq), '[]')
      from (select seq, at, body from attempt_log where attempt_id = a.id and seq > g.after
        order by seq limit ${MOST_ENTRIES}) l) end as entries
  from unnest($1::uuid[], $2::int[]) as g(id, after) join attempts a on a.id = g.id where a.state = 'open'`;
