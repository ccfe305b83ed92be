import { setMaxListeners } from 'node:events';
import { setTimeout as sleep } from 'node:timers/promises';
import WebSocket from 'ws';
import {
  endsOf,
  foldEdits,
  isExpectation,
  openingBoard,
  rewired,
  wireOf,
  type Edit,
  type Exercise,
  type Stimulus,
  type WorkEntry,
} from '@contactum/core';
import type { AttemptSummary, AttemptView, BenchSays, ExerciseSummary, ToBench } from '@contactum/contract';
import { SLIPS, type Slip } from './wirings.js';

/**
 * A class at work: simulated students who use the service as a browser does. They wire with a person's
 * pauses, make the usual mistakes, test dead, ask to energise, wait, get stuck, prove and hand in, and begin
 * the next exercise. For the demonstration alone; nothing of it runs where it is switched off.
 */
export interface AtWork {
  readonly base: string;
  readonly password: string;
  /** The exercises as they ship: a student knows a right wiring of some of them. */
  readonly exercises: readonly Exercise[];
  /** How long a second of a person takes here, seconds; 1 in a lesson, less where it is tried. */
  readonly pace: number;
  readonly random: () => number;
}

/** Seconds between two things that a hand does, for leads and for acts. */
const LEAD = [4, 14] as const;
const ACT = [1.2, 3] as const;
/** How often somebody gets stuck on the way, per unit, and for how long, seconds. */
const STUCK = { often: 0.18, seconds: [420, 900] } as const;
/**
 * How long it takes to read a message and write an answer, seconds; how long somebody who is stuck waits to
 * ask.
 */
const REPLY = [6, 16] as const;
const BEFORE_ASKING = [40, 120] as const;
/** What a student who does not get any further asks, and what one says to an instructor's message. */
const QUESTIONS = [
  'I do not know where this lead goes next. Can you look?',
  'Does the overload contact go before Stop or after the coil?',
  'Which contact holds it in when I let go of Start?',
  'Is it right that two leads go to the same terminal?',
] as const;
const ANSWERS = ['Thank you, I will look at it.', 'Yes, I am on it.', 'I have it now, thank you.'] as const;
/** How long somebody waits for permission before the board is energised without, or handed in dead. */
const PATIENCE = [150, 400] as const;
/** How often a board is wired wrongly at first, per unit. */
const WRONG = 0.5;

class Unknown extends Error {}

/** One simulated student. */
class Student {
  private cookie = '';
  private socket: WebSocket | null = null;
  private permitted = false;
  /** An instructor has written since the last question. */
  private answered = false;
  private seq = 0;

  constructor(
    private readonly login: string,
    private readonly world: AtWork,
    private readonly signal: AbortSignal,
  ) {}

  /** Works through everything that is set to wire, then is away. */
  async work(): Promise<void> {
    // A college with people of its own has no simulated students.
    if (!(await this.signIn())) return;
    for (;;) {
      const set = await this.ask<ExerciseSummary[]>('GET', '/exercises');
      const next = set
        .filter(({ task }) => task === 'wire')
        .flatMap(({ id, assigned }) => assigned.map((assignment) => ({ id, assignment })))
        .filter(({ assignment: { shut, attempts } }) => shut === null && !hasPassed(attempts))
        .at(-1);
      const exercise = next && this.world.exercises.find(({ id }) => id === next.id);
      if (!exercise) return;
      await this.attempt(exercise, next.assignment.id);
      await this.pause([20, 90]);
    }
  }

  private async signIn(): Promise<boolean> {
    try {
      await this.ask('POST', '/session', { login: this.login, password: this.world.password });
      return true;
    } catch (error) {
      if (error instanceof Unknown) return false;
      throw error;
    }
  }

  private async attempt(exercise: Exercise, assignment: string): Promise<void> {
    const { id, state } = await this.ask<AttemptSummary>('POST', `/assignments/${assignment}/attempts`, {});
    // The last one is still being marked.
    if (state !== 'open') return;
    const view = await this.ask<AttemptView>('GET', `/attempts/${id}`);
    this.seq = view.log.at(-1)?.seq ?? 0;
    this.open(id);
    try {
      await this.wire(id, exercise, view);
      await this.testDead(id, view);
      if (view.exercise.practice?.permission) await this.awaitPermission();
      await this.prove(id, exercise);
      await this.ask('POST', `/attempts/${id}/hand-in`, {});
    } finally {
      this.socket?.close();
      this.socket = null;
    }
  }

  /** Lead by lead towards a right wiring, or one with a usual mistake in it. */
  private async wire(id: string, exercise: Exercise, view: AttemptView): Promise<void> {
    const { random } = this.world;
    const edits = view.log.flatMap(({ entry }) => (entry.kind === 'edit' ? [entry.edit] : []));
    const board = foldEdits(openingBoard(exercise), edits);
    const right = rewired(exercise, random);
    const slips = SLIPS[exercise.id] ?? GENERAL;
    const slip = random() < WRONG ? slips[Math.floor(random() * slips.length)] : undefined;
    const wanted = slip ? slip(right, random) : right;
    const done = new Set(board.wires.map((lead) => endsOf(wireOf(lead))));
    const stuckAt = random() < STUCK.often ? Math.floor(wanted.length * (0.3 + 0.5 * random())) : -1;
    let laid = Math.max(0, ...edits.flatMap((edit) => ('lead' in edit ? [Number(edit.lead.slice(1))] : [])));
    for (const [k, wire] of wanted.entries()) {
      if (done.has(endsOf(wire))) continue;
      if (k === stuckAt) await this.stuck();
      await this.pause(LEAD);
      laid += 1;
      await this.log(id, { kind: 'edit', edit: { do: 'connect', lead: `w${laid}`, wire } as Edit });
    }
  }

  /** No further for a while: asks after some time, and goes on when somebody has answered. */
  private async stuck(): Promise<void> {
    this.answered = false;
    await this.pause(BEFORE_ASKING);
    this.say({ kind: 'word', text: this.oneOf(QUESTIONS) });
    await this.waitFor(() => this.answered, STUCK.seconds);
  }

  /** Waits for an instructor, as long as somebody's patience lasts. */
  private async waitFor(isDone: () => boolean, patience: readonly [number, number]): Promise<void> {
    const until = Date.now() + 1000 * this.seconds(patience);
    while (!isDone() && Date.now() < until) await this.pause([1, 2]);
  }

  private async testDead(id: string, view: AttemptView): Promise<void> {
    for (const { between, hold } of view.exercise.deadTests) {
      await this.pause(ACT);
      for (const tag of hold) await this.log(id, { kind: 'act', stimulus: { press: tag } });
      await this.log(id, { kind: 'reading', from: between[0], to: between[1] });
      for (const tag of hold) await this.log(id, { kind: 'act', stimulus: { release: tag } });
    }
  }

  private async awaitPermission(): Promise<void> {
    this.say({ kind: 'asks', yes: true });
    await this.waitFor(() => this.permitted, PATIENCE);
    this.say({ kind: 'asks', yes: false });
  }

  /** The supply on, a few functions worked, and off again. */
  private async prove(id: string, exercise: Exercise): Promise<void> {
    await this.log(id, { kind: 'supply', on: true });
    for (const { steps } of exercise.behaviours.slice(0, 3)) {
      for (const step of steps) {
        if (isExpectation(step) || !isHand(step)) continue;
        await this.pause(ACT);
        await this.log(id, { kind: 'act', stimulus: step });
      }
    }
    await this.pause(ACT);
    await this.log(id, { kind: 'supply', on: false });
  }

  private log(id: string, entry: WorkEntry): Promise<unknown> {
    this.seq += 1;
    return this.ask('POST', `/attempts/${id}/log`, { seq: this.seq, entry });
  }

  // ── the line to the floor ─────────────────────────────────────────────────────────────────────

  private open(id: string): void {
    this.permitted = false;
    const url = `${this.world.base.replace(/^http/, 'ws')}/api/attempts/${id}/floor`;
    const socket = new WebSocket(url, { headers: { cookie: this.cookie, origin: this.world.base } });
    this.socket = socket;
    socket.on('message', (data: Buffer) => this.hear(JSON.parse(data.toString()) as ToBench));
    // A line that is lost is seen on the floor; the work goes on.
    socket.on('error', () => undefined);
  }

  private hear(told: ToBench): void {
    if (told.kind === 'permitted') this.permitted = true;
    else if (told.kind === 'word' && !told.word.isStudents) {
      this.answered = true;
      // A message to the class needs no answer.
      if (!told.word.isToClass) this.sayAfter(REPLY, { kind: 'word', text: this.oneOf(ANSWERS) });
    }
    // Whoever asks for the lead gets it, after a moment.
    else if (told.kind === 'lead-asked') this.sayAfter(ACT, { kind: 'consent', yes: true, to: told.id });
  }

  /** Says something after a pause; nothing where the class has ended meanwhile. */
  private sayAfter(range: readonly [number, number], says: BenchSays): void {
    void this.pause(range).then(
      () => this.say(says),
      () => undefined,
    );
  }

  private say(says: BenchSays): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(says));
  }

  // ── time and requests ─────────────────────────────────────────────────────────────────────────

  private oneOf(texts: readonly string[]): string {
    return texts[Math.floor(this.world.random() * texts.length)] ?? '';
  }

  private seconds([least, most]: readonly [number, number]): number {
    return (least + (most - least) * this.world.random()) * this.world.pace;
  }

  private pause(range: readonly [number, number]): Promise<void> {
    return sleep(1000 * this.seconds(range), undefined, { signal: this.signal });
  }

  private async ask<T>(method: string, path: string, body?: unknown): Promise<T> {
    for (;;) {
      const response = await fetch(`${this.world.base}/api${path}`, {
        method,
        signal: this.signal,
        headers: { 'content-type': 'application/json', cookie: this.cookie },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
      const own = response.headers.getSetCookie().find((one) => one.startsWith('contactum.session='));
      if (own) this.cookie = own.split(';')[0] ?? this.cookie;
      // A process that is away, or a service that is busy: a person tries again.
      if (response.status >= 500 || response.status === 429) {
        await this.pause([2, 4]);
        continue;
      }
      const text = await response.text();
      if (response.status === 401 && path === '/session') throw new Unknown();
      if (!response.ok) throw new Error(`${this.login}: ${method} ${path}: ${response.status} ${text}`);
      return JSON.parse(text) as T;
    }
  }
}

const hasPassed = (attempts: readonly AttemptSummary[]): boolean =>
  attempts.some(({ result }) => result?.passed) || attempts.length > 3;

/** What a hand does at a board: faults and losses of the supply are not a student's. */
const isHand = (step: Stimulus): boolean =>
  'press' in step || 'release' in step || 'trip' in step || 'reset' in step;

/** Of a board whose own mistakes are not listed: a lead left out. */
const GENERAL: readonly Slip[] = [
  (wires, random) => wires.filter((_, k) => k !== Math.floor(random() * wires.length)),
];

/** Lets students work until each has passed everything, or until it is ended; each comes a little later. */
export async function classAtWork(
  logins: readonly string[],
  world: AtWork,
  signal: AbortSignal,
  tell: (problem: string) => void,
): Promise<void> {
  // Each of them waits for a pause, a request and an answer under way.
  setMaxListeners(4 * logins.length, signal);
  await Promise.all(
    logins.map(async (login, k) => {
      try {
        await sleep(1000 * k * 1.5 * world.pace, undefined, { signal });
        await new Student(login, world, signal).work();
      } catch (error) {
        if (!signal.aborted) tell((error as Error).message);
      }
    }),
  );
}
