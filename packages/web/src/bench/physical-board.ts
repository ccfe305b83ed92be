import { createStore, type StoreApi } from 'zustand/vanilla';
import {
  boardSeen,
  leadsFromReadings,
  readingsFor,
  wiringFromJoints,
  wireOf,
  type Bench,
  type EditSource,
  type FoundLeads,
  type Stimulus,
  type Wire,
} from '@contactum/core';
import type { BoardNow } from '@contactum/contract';
import { ask } from '../api/client.js';
import { ServerLine } from '../api/line.js';
import type { BenchStore } from './store.js';

/** What is known of the physical board at which somebody works. */
export interface PhysicalState {
  /** The scanner of the board; null while none is connected. */
  readonly id: string | null;
  readonly name: string;
  /** What is read now; null until something was heard. */
  readonly now: BoardNow | null;
  /** The line to the server is open. */
  readonly isHeard: boolean;
  /** What a hand has done to the devices, as far as it can be told. */
  readonly steps: readonly Stimulus[];
  /** What should be joined as the board lies and is not. */
  readonly apart: readonly string[];
  /** Readings with devices worked that are taken one after the other; null while none are. */
  readonly working: readonly (readonly Stimulus[])[] | null;
  /** What the last of such readings left open. */
  readonly open: Pick<FoundLeads, 'doubtful' | 'unlike'> | null;
  readonly problem: string | null;
}

const NOTHING: PhysicalState = {
  id: null,
  name: '',
  now: null,
  isHeard: false,
  steps: [],
  apart: [],
  working: null,
  open: null,
  problem: null,
};

/** Pauses before a lost line is tried again, milliseconds. */
const PAUSES = [500, 8_000] as const;

/**
 * A physical board whose leads become those of the bench: what its scanner reads is turned into the fewest
 * edits, which are stored like any other with where they come from.
 */
export class PhysicalBoard {
  readonly store: StoreApi<PhysicalState> = createStore(() => NOTHING);
  private line: ServerLine<never, BoardNow> | null = null;
  private isFirst = true;
  private number = -1;

  constructor(
    private readonly bench: BenchStore,
    private readonly supplyIsOn: () => boolean,
  ) {}

  private get state(): PhysicalState {
    return this.store.getState();
  }

  /** Connects the board of a scanner to an attempt. Throws what the server refuses. */
  async connect(id: string, name: string, attemptId: string): Promise<void> {
    const now = await ask<BoardNow>('POST', `/scanners/${id}/connect`, { attemptId });
    this.follow(id, name);
    this.hear(now);
  }

  /** Goes on with a board that is connected already. */
  follow(id: string, name: string): void {
    this.line?.close();
    this.isFirst = true;
    this.number = -1;
    this.store.setState({ ...NOTHING, id, name });
    this.bench.actions.patch({ physical: name, from: null, moving: null, selected: null });
    this.line = new ServerLine<never, BoardNow>(`/scanners/${id}/live`, {
      hear: (now) => {
        this.line?.steady();
        this.hear(now);
      },
      opened: () => this.store.setState({ isHeard: true }),
      ended: () => this.store.setState({ isHeard: false }),
      pauses: PAUSES,
    });
  }

  /** Leaves the board; its leads stay on the bench as they are. */
  async leave(): Promise<void> {
    const { id } = this.state;
    this.close();
    if (id !== null) await ask('POST', `/scanners/${id}/leave`, {});
  }

  /** Ends it in this page alone: the board stays connected to the attempt. */
  close(): void {
    this.line?.close();
    this.line = null;
    this.store.setState(NOTHING);
    this.bench.actions.patch({ physical: null });
  }

  // ── what is read ──────────────────────────────────────────────────────────────────────────────

  private hear(now: BoardNow): void {
    this.store.setState({ now });
    // The same as was taken over already; what could not be done then is tried again.
    if (this.number !== now.number) this.look();
  }

  /** Looks at the board as it is read now; again once the supply is off. */
  look(asLeads = false): void {
    const { now, working, steps: known } = this.state;
    if (!now?.online || now.faults.length > 0 || working !== null) return;
    if (this.supplyIsOn()) {
      this.store.setState({ problem: 'The supply of the bench is on: leads are taken over when it is off.' });
      return;
    }
    const { bench, fixed } = this.own();
    // What was taken for the last thing that a hand has done is a lead then.
    const steps = asLeads ? known.slice(0, -1) : known;
    if (asLeads) this.store.setState({ steps });
    const seen = boardSeen(bench, now.joined, { steps, fixed, asLeads });
    this.store.setState({ problem: null, apart: seen.kind === 'unlike' ? seen.apart : [] });
    if (seen.kind === 'worked') this.store.setState({ steps: seen.steps });
    if (seen.kind === 'leads') this.take(seen.cut, seen.laid);
    this.number = now.number;
  }

  private own(): { readonly bench: Bench; readonly fixed: number } {
    const { bench } = this.bench.getState();
    return {
      bench: { ...bench, wires: bench.wires.map(wireOf) },
      fixed: bench.wires.filter(({ fitted }) => fitted).length,
    };
  }

  private take(cut: readonly Wire[], laid: readonly Wire[]): void {
    if (cut.length + laid.length === 0) {
      this.isFirst = false;
      return;
    }
    // Found together, nobody knows which was laid first; a lead that is moved is one cut and one laid.
    const source: EditSource = this.isFirst || laid.length > 1 ? 'scan' : 'board';
    this.isFirst = false;
    this.bench.actions.rewire(cut, laid, source);
    // Another wiring: what was read with devices worked does not hold for it.
    this.store.setState({ open: null });
  }

  // ── with devices worked ───────────────────────────────────────────────────────────────────────

  /** Begins the readings that tell leads from closed contacts. */
  work(): void {
    const { bench, fixed } = this.own();
    const working = readingsFor({ ...bench, wires: bench.wires.slice(0, fixed) });
    this.store.setState({ working, steps: [], apart: [], open: null, problem: null });
  }

  stopWork(): void {
    this.store.setState({ working: null, steps: [] });
    this.look();
  }

  /** Takes the reading that is next. */
  async takeReading(): Promise<void> {
    const { id, working } = this.state;
    const next = working?.[0];
    if (id === null || working === null || next === undefined) return;
    try {
      const now = await ask<BoardNow>('POST', `/scanners/${id}/worked`, { steps: next });
      this.store.setState({ now, working: working.slice(1), problem: null });
      if (working.length === 1) this.finish(now);
    } catch (error) {
      this.store.setState({ problem: (error as Error).message });
    }
  }

  private finish({ readings }: BoardNow): void {
    const { bench, fixed } = this.own();
    const found = leadsFromReadings({ ...bench, wires: bench.wires.slice(0, fixed) }, readings);
    const wired = wiringFromJoints(bench, found.joined, fixed);
    this.isFirst = true;
    if (wired.ok) this.take(wired.cut, wired.laid);
    this.store.setState({
      working: null,
      steps: readings.at(-1)?.steps ?? [],
      open: { doubtful: found.doubtful, unlike: found.unlike },
      problem: wired.ok ? null : (wired.problems[0]?.message ?? null),
    });
  }
}
