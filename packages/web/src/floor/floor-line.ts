import { createStore } from 'zustand/vanilla';
import type { BenchWord, FloorBench, FloorNews, FloorSays, WireFrame } from '@contactum/contract';
import { ServerLine } from '../api/line.js';

interface FloorState {
  readonly link: 'opening' | 'open' | 'lost';
  /** In the order of names. */
  readonly order: readonly string[];
  readonly benches: Readonly<Record<string, FloorBench>>;
  readonly lead: { readonly attemptId: string; readonly yes: boolean } | null;
  /** Messages of the bench that is looked at, the oldest first. */
  readonly words: readonly BenchWord[];
  readonly refused: string | null;
}

export type FloorStore = ReturnType<typeof createFloorStore>;
const createFloorStore = () =>
  createStore<FloorState>(() => ({
    link: 'opening',
    order: [],
    benches: {},
    lead: null,
    words: [],
    refused: null,
  }));

/**
 * The instructor's line to the floor of a class: what comes from several processes within a tenth of a
 * second is shown together.
 */
export class FloorWalk {
  readonly store = createFloorStore();
  private readonly line: ServerLine<FloorSays, FloorNews>;
  private changed: (Pick<FloorBench, 'attemptId'> & Partial<FloorBench>)[] = [];
  private painting: ReturnType<typeof setTimeout> | 0 = 0;
  private painted = 0;
  private watching: string | null = null;

  constructor(
    classId: string,
    private readonly onFrame: (attemptId: string, frame: WireFrame) => void,
  ) {
    this.line = new ServerLine(`/classes/${classId}/floor`, {
      pauses: [500, 4_000],
      hear: (news) => this.hear(news),
      opened: () => this.opened(),
      lost: () => this.store.setState({ link: 'lost' }),
    });
  }

  say(says: FloorSays): void {
    if (says.kind === 'watch') {
      this.watching = says.attemptId;
      this.store.setState({ words: [] });
    }
    this.line.say(says);
  }

  close(): void {
    clearTimeout(this.painting || undefined);
    this.line.close();
  }

  private opened(): void {
    this.line.steady();
    this.store.setState({ link: 'open' });
    if (this.watching !== null) this.say({ kind: 'watch', attemptId: this.watching });
  }

  private hear(news: FloorNews): void {
    switch (news.kind) {
      case 'benches':
        this.store.setState({
          order: news.benches.map(({ attemptId }) => attemptId),
          benches: Object.fromEntries(news.benches.map((bench) => [bench.attemptId, bench])),
        });
        return;
      case 'changed':
        this.changed.push(...news.benches);
        this.painting ||= setTimeout(
          () => this.paint(),
          Math.max(0, this.painted + APART - performance.now()),
        );
        return;
      case 'frame':
        this.onFrame(news.attemptId, news.frame);
        return;
      case 'lead':
        this.store.setState({ lead: { attemptId: news.attemptId, yes: news.yes } });
        return;
      case 'words':
        if (news.attemptId === this.watching) this.store.setState({ words: news.words });
        return;
      case 'word': {
        const { words } = this.store.getState();
        const isTold = news.attemptId === null || news.attemptId === this.watching;
        if (isTold && !words.some(({ id }) => id === news.word.id))
          this.store.setState({ words: [...words, news.word] });
        return;
      }
      case 'refused':
        this.store.setState({ refused: news.why });
    }
  }

  private paint(): void {
    this.painting = 0;
    this.painted = performance.now();
    const { benches } = this.store.getState();
    const next = { ...benches };
    let isStrange = false;
    for (const change of this.changed) {
      const before = next[change.attemptId];
      if (before) next[change.attemptId] = { ...before, ...change };
      else isStrange = true;
    }
    this.changed = [];
    this.store.setState({ benches: next });
    // A bench that was opened since: everything is told anew.
    if (isStrange) this.line.reopen();
  }
}

/**
 * Least time between two showings of what has changed, milliseconds: each process tells ten times a second.
 */
const APART = 80;
