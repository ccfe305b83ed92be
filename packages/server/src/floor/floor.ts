import { toldTo } from '../runtime/logging.js';
import { isDeepStrictEqual } from 'node:util';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import type pg from 'pg';
import type { BenchSays, FloorNews, FloorSays, ToBench } from '@contactum/contract';
import { note } from '../domain/people/audit.js';
import type { Journal } from '../domain/attempts/journal.js';
import { Refusal } from '../runtime/refusal.js';
import type { Slips } from '../domain/attempts/slips.js';
import type { Lane } from '../runtime/lane.js';
import type { Bench, Change, Message, Order, Observer } from './messages.js';
import { keepStandings, statusOf } from './keep.js';
import { floorBenches, refuseForeign } from './rows.js';
import { Standings } from './standings.js';
import { Wire } from './wire.js';
import { relayRefused, studentAllowance, Words } from './words.js';

/** How often the logs are looked at, and how benches stand is written down, milliseconds. */
const LOOK_MS = 200;
const KEEP_MS = 1_000;
/** How often a bench says that it is there, milliseconds. */
const HERE_MS = 3_000;
/** What a slow page may be behind with before frames are left out, bytes. */
const BEHIND = 256_000;

interface Parts {
  readonly database: Knex;
  readonly pool: pg.Pool;
  readonly databaseUrl: string;
  readonly journal: Journal;
  readonly slips: Slips;
  /** Where benches are followed. */
  readonly lane: Lane<unknown, unknown>;
  readonly log: Logger;
}

/** Every bench of a class as it is worked at, whichever processes its pages are connected to. */
export class Floor {
  private readonly benches = new Map<string, Bench>();
  private readonly observers = new Set<Observer>();
  private readonly standings: Standings;
  private readonly words: Words;
  private isLooking = false;
  private readonly wire: Wire<Message>;
  private readonly timers: readonly NodeJS.Timeout[];

  constructor(private readonly parts: Parts) {
    this.standings = new Standings(parts.pool, parts.journal, parts.lane, parts.log);
    this.words = new Words(parts, {
      toPage: (bench, body) => this.toPage(bench, body),
      toFloor: (classId, news) => this.toFloor(classId, news),
      toBench: (attemptId, body) => this.toBench(attemptId, body),
      toClass: (classId, body) => {
        this.toBenchesOf(classId, body);
        void this.wire.say({ to: 'benches', classId, body });
      },
      change: (classId, changed) => this.change(classId, changed),
    });
    this.wire = new Wire(
      parts.pool,
      parts.databaseUrl,
      parts.log,
      (message) => this.take(message),
      () => this.tellAll(),
    );
    const every = (ms: number, work: () => Promise<void>) =>
      setInterval(
        () => void work().catch((error: unknown) => parts.log.warn({ err: error }, 'the floor')),
        ms,
      );
    this.timers = [
      every(LOOK_MS, () => this.lookOn()),
      every(KEEP_MS, () => this.keep()),
      every(HERE_MS, () => this.sayHere()),
    ];
  }

  /** Resolves when what happens at other processes is heard. */
  get ready(): Promise<void> {
    return this.wire.ready;
  }

  async stop(): Promise<void> {
    for (const timer of this.timers) clearInterval(timer);
    await this.wire.stop();
  }

  // ── students ──────────────────────────────────────────────────────────────────────────────────

  benchCame(given: Pick<Bench, 'attemptId' | 'classId' | 'student' | 'socket'>): Bench {
    const bench: Bench = {
      ...given,
      standing: null,
      status: null,
      asks: false,
      faults: [],
      watched: false,
      shown: false,
      kept: true,
      measured: null,
      lead: null,
      asked: null,
      allowance: studentAllowance(),
    };
    // The page that came last is the one that works.
    this.benches.set(bench.attemptId, bench);
    // Whoever looks on says so again.
    this.change(bench.classId, [{ attemptId: bench.attemptId, here: true }]);
    void this.words.bring(bench).catch(toldTo(this.parts.log, 'messages for a bench'));
    void this.sayHere().catch(toldTo(this.parts.log, 'who is here'));
    return bench;
  }

  benchLeft(bench: Bench): void {
    if (this.benches.get(bench.attemptId) !== bench) return;
    this.benches.delete(bench.attemptId);
    this.change(bench.classId, [{ attemptId: bench.attemptId, here: false }]);
    void this.parts.pool
      .query("update bench_states set seen_at = now() - interval '1 minute' where attempt_id = $1", [
        bench.attemptId,
      ])
      .catch(toldTo(this.parts.log, 'a bench that was left'));
  }

  benchSaid(bench: Bench, says: BenchSays): void {
    switch (says.kind) {
      case 'asks':
        bench.asks = says.yes;
        this.tell(bench);
        return;
      case 'refused':
        this.toWatchers(bench.attemptId, { kind: 'refused', why: says.why });
        return;
      case 'word':
        void this.words.ofStudent(bench, says.text);
        return;
      case 'consent':
        void this.consent(bench, says).catch(toldTo(this.parts.log, 'consent'));
    }
  }

  /** The student has said yes or no to whoever asked for the lead. */
  private async consent(bench: Bench, { yes, to }: { yes: boolean; to: string }): Promise<void> {
    const { asked, attemptId, student } = bench;
    if (asked?.id !== to) {
      // The student takes the lead back. A yes to somebody who does not ask is a yes to nobody.
      if (!yes && bench.lead === to) {
        this.toInstructor(bench.lead, { kind: 'lead', attemptId, yes: false });
        bench.lead = null;
        this.toPage(bench, NO_LEAD);
      }
      return;
    }
    bench.asked = null;
    bench.lead = yes ? asked.id : null;
    this.toPage(bench, yes ? { kind: 'lead', by: asked.name, id: asked.id } : NO_LEAD);
    this.toInstructor(asked.id, { kind: 'lead', attemptId, yes });
    if (yes)
      await note(this.parts.database, {
        actor: asked,
        kind: 'took the lead',
        about: `at the bench of ${student.name}, who agreed`,
        classId: bench.classId,
      });
  }

  private toPage({ socket }: Pick<Bench, 'socket'>, body: ToBench): void {
    if (socket.readyState === socket.OPEN) socket.send(JSON.stringify(body));
  }

  /** What reaches a bench that is connected here. */
  private order(bench: Bench, body: Order): void {
    switch (body.kind) {
      case 'ask-lead':
        // One asks at a time, so that a student always knows to whom a yes is said.
        if (bench.asked && bench.asked.id !== body.by) {
          this.toInstructor(body.by, { kind: 'refused', why: `${bench.asked.name} has asked already.` });
          return;
        }
        bench.asked = { id: body.by, name: body.name };
        this.toPage(bench, { kind: 'lead-asked', by: body.name, id: body.by });
        return;
      case 'leave-lead':
        if (bench.asked?.id === body.by) bench.asked = null;
        if (bench.lead !== body.by) return;
        bench.lead = null;
        this.toPage(bench, NO_LEAD);
        return;
      case 'permitted':
        bench.asks = false;
        this.toPage(bench, body);
        this.tell(bench);
        return;
      case 'watched':
        bench.watched = body.by !== null;
        bench.shown = false;
        this.toPage(bench, body);
        return;
      case 'fault': {
        const written = JSON.stringify(body.fault);
        const others = bench.faults.filter((fault) => JSON.stringify(fault) !== written);
        bench.faults = body.clear ? others : [...others, body.fault].slice(-MOST_FAULTS);
        this.toPage(bench, body);
        return;
      }
      case 'hand-by':
        if (bench.lead === body.by) this.toPage(bench, { kind: 'hand', hand: body.hand });
        else this.toInstructor(body.by, { kind: 'refused', why: 'You do not have the lead at this bench.' });
        return;
      default:
        this.toPage(bench, body);
    }
  }

  // ── instructors ───────────────────────────────────────────────────────────────────────────────

  observerCame(given: Pick<Observer, 'classId' | 'instructor' | 'socket'>): Observer {
    const observer: Observer = { ...given, watching: null };
    this.observers.add(observer);
    void this.tellAllTo(observer).catch((error: unknown) => {
      toldTo(this.parts.log, 'the floor')(error);
      observer.socket.close(1011);
    });
    return observer;
  }

  observerLeft(observer: Observer): void {
    this.observers.delete(observer);
    this.watch(observer, null);
  }

  async observerSaid(observer: Observer, says: FloorSays): Promise<void> {
    try {
      if (says.attemptId !== null) await refuseForeign(this.parts.pool, observer.classId, says.attemptId);
      await this.done(observer, says);
    } catch (error) {
      const why = error instanceof Refusal ? error.message : 'This could not be done.';
      if (!(error instanceof Refusal)) this.parts.log.warn({ err: error }, 'on the floor');
      this.send(observer, { kind: 'refused', why });
    }
  }

  private async done(observer: Observer, says: FloorSays): Promise<void> {
    const { instructor, classId } = observer;
    switch (says.kind) {
      case 'watch': {
        const { attemptId } = says;
        this.watch(observer, attemptId);
        if (attemptId === null) return;
        const words = await this.words.of(classId, attemptId);
        this.send(observer, { kind: 'words', attemptId, words });
        return;
      }
      case 'ask-lead':
        this.toBench(says.attemptId, { kind: 'ask-lead', by: instructor.id, name: instructor.name });
        return;
      case 'leave-lead':
        this.toBench(says.attemptId, { kind: 'leave-lead', by: instructor.id });
        return;
      case 'hand':
        this.toBench(says.attemptId, { kind: 'hand-by', by: instructor.id, hand: says.hand });
        return;
      case 'permit': {
        const relay = await this.parts.slips.givePermission(says.attemptId, instructor);
        if (relay?.ok === false) this.send(observer, relayRefused(relay.why));
        this.change(classId, [{ attemptId: says.attemptId, asksAt: null }]);
        this.toBench(says.attemptId, { kind: 'permitted' });
        return;
      }
      case 'fault': {
        const { attemptId, fault, clear } = says;
        await note(this.parts.database, {
          actor: instructor,
          kind: 'injected a fault',
          about: 'at a bench',
          classId,
          detail: { attemptId, fault, clear },
        });
        this.toBench(attemptId, { kind: 'fault', fault, clear });
        return;
      }
      case 'word':
        return this.words.ofInstructor(observer, says.attemptId, says.text);
      case 'heard':
        return this.words.heard(classId, says.attemptId);
    }
  }

  /** To every instructor's page on the floor of a class. */
  private toFloor(classId: string, news: FloorNews): void {
    this.toFloorHere(classId, news);
    void this.wire.say({ to: 'floor', classId, news });
  }

  private toFloorHere(classId: string, news: FloorNews): void {
    for (const observer of this.observers) if (observer.classId === classId) this.send(observer, news);
  }

  private toBenchesOf(classId: string, body: ToBench): void {
    for (const bench of this.benches.values()) if (bench.classId === classId) this.toPage(bench, body);
  }

  private watch(observer: Observer, attemptId: string | null): void {
    const before = observer.watching;
    observer.watching = attemptId;
    const isWatched = (id: string) => [...this.observers].some(({ watching }) => watching === id);
    if (before !== null && before !== attemptId && !isWatched(before)) {
      this.toBench(before, { kind: 'leave-lead', by: observer.instructor.id });
      this.toBench(before, { kind: 'watched', by: null });
    }
    if (attemptId !== null) this.toBench(attemptId, { kind: 'watched', by: observer.instructor.name });
  }

  private toBench(attemptId: string, body: Order): void {
    if (!this.orderHere(attemptId, body)) void this.wire.say({ to: 'bench', attemptId, body });
  }

  /** False where the bench is not connected here. */
  private orderHere(attemptId: string, body: Order): boolean {
    const bench = this.benches.get(attemptId);
    if (bench) this.order(bench, body);
    return bench !== undefined;
  }

  private toWatchers(attemptId: string, news: FloorNews): void {
    const isHere = this.newsFor(attemptId, news);
    // A frame is for one pair of eyes, and those are mostly here.
    if (news.kind !== 'frame' || !isHere) void this.wire.say({ to: 'watchers', attemptId, news });
  }

  private newsFor(attemptId: string, news: FloorNews): boolean {
    const own = [...this.observers].filter(({ watching }) => watching === attemptId);
    for (const observer of own) this.send(observer, news);
    return own.length > 0;
  }

  private toInstructor(personId: string, news: FloorNews): void {
    this.toInstructorHere(personId, news);
    void this.wire.say({ to: 'instructor', personId, news });
  }

  private toInstructorHere(personId: string, news: FloorNews): void {
    for (const observer of this.observers) if (observer.instructor.id === personId) this.send(observer, news);
  }

  private send({ socket }: Observer, news: FloorNews): void {
    if (socket.readyState !== socket.OPEN) return;
    if (news.kind === 'frame' && socket.bufferedAmount > BEHIND) return;
    socket.send(JSON.stringify(news));
  }

  private take(message: Message): void {
    switch (message.to) {
      case 'class':
        this.changedHere(message.classId, message.changed);
        return;
      case 'bench':
        this.orderHere(message.attemptId, message.body);
        return;
      case 'floor':
        this.toFloorHere(message.classId, message.news);
        return;
      case 'watchers':
        this.newsFor(message.attemptId, message.news);
        return;
      case 'instructor':
        this.toInstructorHere(message.personId, message.news);
        return;
      case 'benches':
        this.toBenchesOf(message.classId, message.body);
        return;
    }
  }

  // ── what has changed ──────────────────────────────────────────────────────────────────────────

  private change(classId: string, changed: readonly Change[]): void {
    this.changedHere(classId, changed);
    // A few benches a message: more would not fit into one.
    for (let k = 0; k < changed.length; k += PER_MESSAGE)
      void this.wire.say({ to: 'class', classId, changed: changed.slice(k, k + PER_MESSAGE) });
  }

  private changedHere(classId: string, changed: readonly Change[]): void {
    for (const observer of this.observers) {
      if (observer.classId !== classId) continue;
      this.send(observer, { kind: 'changed', benches: changed });
      for (const { attemptId, here, status } of changed)
        if (here && !status && attemptId === observer.watching) this.watch(observer, attemptId);
    }
  }

  /** Looks at the logs of the benches here, and tells what has changed of them. */
  private async lookOn(): Promise<void> {
    if (this.isLooking) return;
    this.isLooking = true;
    try {
      const byClass = new Map<string, Change[]>();
      for (const [bench, { standing, frame }] of await this.standings.look([...this.benches.values()])) {
        const { attemptId, classId } = bench;
        if (frame) this.toWatchers(attemptId, { kind: 'frame', attemptId, frame });
        bench.standing = standing;
        const change = this.changeOf(bench);
        if (change) byClass.set(classId, [...(byClass.get(classId) ?? []), change]);
      }
      for (const [classId, changed] of byClass) this.change(classId, changed);
    } finally {
      this.isLooking = false;
    }
  }

  /** What has changed of a bench since it was told last; null where nothing has. */
  private changeOf(bench: Bench): Change | null {
    const status = statusOf(bench);
    if (!status || isDeepStrictEqual(status, bench.status)) return null;
    bench.status = status;
    bench.kept = false;
    return { attemptId: bench.attemptId, here: true, status };
  }

  private tell(bench: Bench): void {
    const change = this.changeOf(bench);
    if (change) this.change(bench.classId, [change]);
  }

  /** Writes down how benches stand, with how far each has come by the board's own measure. */
  private async keep(): Promise<void> {
    await keepStandings(this.benches.values(), this.parts, ({ classId }, change) =>
      this.change(classId, [change]),
    );
  }

  private async sayHere(): Promise<void> {
    const ids = [...this.benches.keys()];
    if (ids.length === 0) return;
    await this.parts.pool.query({
      name: 'floor-here',
      text: "update bench_states set seen_at = now() where attempt_id = any($1::uuid[]) and seen_at < now() - interval '1 second'",
      values: [ids],
    });
  }

  /** After a break in the line everybody is told everything. */
  private tellAll(): void {
    for (const observer of this.observers)
      void this.tellAllTo(observer).catch(toldTo(this.parts.log, 'the floor'));
  }

  private async tellAllTo(observer: Observer): Promise<void> {
    const benches = await floorBenches(this.parts.database, observer.classId);
    this.send(observer, { kind: 'benches', benches });
  }
}

const PER_MESSAGE = 10;
/** Faults that an instructor may have in one bench at once. */
const MOST_FAULTS = 20;
const NO_LEAD: ToBench = { kind: 'lead', by: null, id: null };
