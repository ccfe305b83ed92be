import { useEffect, useRef, useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { describeStimulus, faultKey, readFault, type Fault } from '@contactum/core';
import type {
  AttemptView,
  BenchHand,
  BenchSays,
  BenchStatus,
  JobStep,
  ToBench,
  WireFrame,
} from '@contactum/contract';
import { ServerLine } from '../api/line.js';
import type { Act } from '../board/Handle.js';
import { sentence } from './IncidentBanner.js';
import type { LiveBench } from './live.js';
import { doTyped, type Kit } from './use-workplace.js';

/** How often the floor is told how this bench stands, and shown it while somebody looks on, milliseconds. */
const TELL_MS = 100;

/** What the instructor does at this bench, as its student is told it. */
export interface Visit {
  /** Who looks on. */
  readonly watched: string | null;
  /** Who asks for the lead, and who has it. */
  readonly asked: string | null;
  readonly lead: string | null;
  readonly words: readonly { readonly id: string; readonly by: string; readonly text: string }[];
}

const NOBODY: Visit = { watched: null, asked: null, lead: null, words: [] };

interface Work {
  readonly shown: ReadonlySet<string>;
  readonly act: Act;
  readonly switchSupply: (on: boolean) => void;
  readonly isLeading: boolean;
}

/** Tells the floor how this bench stands and lets the instructor's hand in, as far as the student has agreed. */
export function useFloor(view: AttemptView, kit: Kit, { shown, act, switchSupply, isLeading }: Work) {
  const [visit, setVisit] = useState<Visit>(NOBODY);
  const line = useRef<FloorLine | null>(null);
  const now = useRef({ shown, act, switchSupply });
  const client = useQueryClient();
  useEffect(() => {
    now.current = { shown, act, switchSupply };
  });
  const { id } = view.attempt;
  useEffect(() => {
    if (!isLeading) return undefined;
    const own = new FloorLine(id, kit, {
      status: () => statusOf(view, kit, now.current.shown),
      permitted: () => {
        kit.store.actions.patch({ asks: false });
        void client.invalidateQueries({ queryKey: ['permission', id] });
      },
      hand: (hand) => doneBy(hand, kit, now.current),
      tell: (change) =>
        setVisit((before) => ({ ...before, ...(typeof change === 'function' ? change(before) : change) })),
    });
    line.current = own;
    return () => {
      line.current = null;
      own.close();
      setVisit(NOBODY);
    };
  }, [id, kit, view, client, isLeading]);
  return {
    visit,
    answer: (yes: boolean) => {
      line.current?.say({ kind: 'consent', yes });
      setVisit((before) => ({ ...before, asked: null }));
    },
    heard: (word: string) =>
      setVisit((before) => ({ ...before, words: before.words.filter((one) => one.id !== word) })),
  };
}

/** Does what the instructor's hand wants; why it could not, else null. */
function doneBy(
  hand: BenchHand,
  kit: Kit,
  { act, switchSupply }: Pick<Work, 'act' | 'switchSupply'>,
): string | null {
  if (hand.do === 'act') {
    act.give(hand.stimulus);
    return null;
  }
  const done = doTyped(hand.line, kit, act, switchSupply);
  return done ? null : (kit.store.getState().message?.text ?? 'This could not be done.');
}

/** The step of the job sheet at which a bench stands. */
function stepOf(view: AttemptView, { store, live }: Kit, shown: ReadonlySet<string>): JobStep {
  const { readings, asks } = store.getState();
  const { behaviours, deadTests } = view.exercise;
  if (behaviours.length > 0 && shown.size === behaviours.length) return 'hand-in';
  if (live.store.getState().supplyOn) return shown.size > 0 ? 'prove' : 'energise';
  if (asks) return 'ask';
  if (shown.size > 0) return 'prove';
  return deadTests.length > 0 && readings.length > 0 ? 'dead-test' : 'wire';
}

function runningOf(live: LiveBench): string {
  const { frame, shape } = live.store.getState();
  if (!frame || !shape) return '';
  const states = shape.devices.flatMap((tag, k) => {
    const state = frame.states[k];
    return state === 'in' || state === 'timing' || state === 'tripped' || state === 'chattering'
      ? [`${tag} ${state}`]
      : [];
  });
  const lamps = shape.lamps.flatMap((tag, k) => (frame.lamps[k] === 'lit' ? [`${tag} lit`] : []));
  const motors = shape.motors.flatMap((tag, k) => {
    const driven = frame.motors[k]?.driven ?? 'none';
    return driven === 'none' ? [] : [`${tag} ${driven}`];
  });
  return [...motors, ...states, ...lamps].join(', ').slice(0, 200);
}

function statusOf(view: AttemptView, kit: Kit, shown: ReadonlySet<string>): BenchStatus {
  const { incidents, supplyOn } = kit.live.store.getState();
  const { bench, asks } = kit.store.getState();
  const last = incidents.at(-1);
  return {
    step: stepOf(view, kit, shown),
    supplyOn,
    incidents: incidents.length,
    lastIncident: last ? sentence(last).slice(0, 200) : null,
    leads: bench.wires.length,
    shown: shown.size,
    functions: view.exercise.behaviours.length,
    running: runningOf(kit.live),
    asks,
  };
}

interface Hooks {
  readonly status: () => BenchStatus;
  readonly permitted: () => void;
  readonly hand: (hand: BenchHand) => string | null;
  readonly tell: (change: Partial<Visit> | ((before: Visit) => Partial<Visit>)) => void;
}

/** The socket to the floor: opened again when it is lost, and silent while nothing changes. */
class FloorLine {
  private readonly line: ServerLine<BenchSays, ToBench>;
  private told = '';
  private watched = false;
  private frame: object | null = null;
  private faults: readonly Fault[] = [];
  private readonly timer: ReturnType<typeof setInterval>;

  constructor(
    attemptId: string,
    private readonly kit: Kit,
    private readonly hooks: Hooks,
  ) {
    this.line = new ServerLine(`/attempts/${attemptId}/floor`, {
      pauses: [500, 5_000],
      hear: (told) => this.hear(told),
      opened: () => {
        this.line.steady();
        this.told = '';
      },
      ended: () => (this.watched = false),
      lost: () => this.hooks.tell({ watched: null, lead: null, asked: null }),
    });
    this.timer = setInterval(() => this.tick(), TELL_MS);
  }

  say(says: BenchSays): void {
    this.line.say(says);
  }

  close(): void {
    clearInterval(this.timer);
    this.line.close();
    this.kit.live.setFaults([]);
  }

  /** Says what has changed since it was said last. */
  private tick(): void {
    if (!this.line.isOpen) return;
    const status = this.hooks.status();
    const text = JSON.stringify(status);
    if (text !== this.told) {
      this.told = text;
      this.say({ kind: 'status', status });
    }
    const { frame } = this.kit.live.store.getState();
    if (!this.watched || !frame || frame === this.frame) return;
    this.frame = frame;
    const { t, states, lamps, motors, supplyOn, running, closed } = frame;
    const shown: WireFrame = {
      t,
      states,
      lamps,
      motors,
      supplyOn,
      running,
      events: [],
      incidents: [],
      closed: closed.join(''),
      locked: false,
      lifted: [],
    };
    this.say({ kind: 'frame', frame: shown });
  }

  private hear(told: ToBench): void {
    const { tell } = this.hooks;
    switch (told.kind) {
      case 'watched':
        this.watched = told.by !== null;
        this.frame = null;
        tell({ watched: told.by });
        return;
      case 'lead-asked':
        tell({ asked: told.by });
        return;
      case 'lead':
        tell({ lead: told.by, asked: null });
        return;
      case 'permitted':
        this.hooks.permitted();
        return;
      case 'word': {
        const { id, by, text } = told;
        tell(({ words }) => ({
          words: words.some((one) => one.id === id) ? words : [...words, { id, by, text }],
        }));
        return;
      }
      case 'hand': {
        const why = this.hooks.hand(told.hand);
        const what = told.hand.do === 'line' ? told.hand.line : describeStimulus(told.hand.stimulus);
        if (why !== null) this.say({ kind: 'refused', why: `${what}: ${why}`.slice(0, 300) });
        return;
      }
      case 'fault': {
        const fault = readFault(told.fault);
        const others = this.faults.filter((one) => faultKey(one) !== faultKey(fault));
        this.faults = told.clear ? others : [...others, fault];
        this.kit.live.setFaults(this.faults);
      }
    }
  }
}
