import { createStore } from 'zustand/vanilla';
import type { MeterRequest, SearchAnswer, SearchEntry } from '@contactum/core';
import type { BenchNews, NotebookLine, WireFrame } from '@contactum/contract';
import { ServerLine } from '../api/line.js';
import { KEPT_EVENTS, createLiveStore, frameTold, type LiveBench } from '../bench/live.js';

/** How a live bench of the server stands. */
interface RemoteState {
  readonly link: 'opening' | 'open' | 'lost' | 'ended';
  readonly why: string;
  readonly notes: readonly NotebookLine[];
  readonly locked: boolean;
  readonly lifted: readonly number[];
}

/** A bench that runs on the server: the same hands and instruments as one in a worker, and a notebook. */
export interface RemoteBench extends LiveBench {
  readonly remote: ReturnType<typeof createRemoteStore>;
  readonly do: (entry: SearchEntry) => Promise<SearchAnswer>;
}

const createRemoteStore = () =>
  createStore<RemoteState>(() => ({ link: 'opening', why: '', notes: [], locked: false, lifted: [] }));

const LOST: SearchAnswer = { kind: 'refused', reason: 'the connection was lost; look into the notebook' };

/**
 * Opens a live bench, and opens it again when the connection is lost: another process of the server goes on
 * with it.
 */
export function connectBench(id: string): RemoteBench {
  const line = new Line(id);
  const { store, remote } = line;
  return {
    store,
    remote,
    do: (entry) => line.give(entry),
    load: () => undefined,
    setFaults: () => undefined,
    act: (stimulus) => void line.give({ kind: 'act', stimulus }),
    force: () => undefined,
    ohms: () => Promise.resolve(Number.POSITIVE_INFINITY),
    measure: async (request: MeterRequest) => {
      const answer = await line.give({ kind: 'read', request });
      if (answer.kind === 'read') return answer.reading;
      return { refused: answer.kind === 'refused' ? answer.reason : 'nothing was read' };
    },
    explain: () => Promise.resolve(null),
    clearIncidents: () => store.setState({ incidents: [] }),
    close: () => line.close(),
  };
}

/** The socket of a live bench, and what came over it. */
class Line {
  readonly store = createLiveStore();
  readonly remote = createRemoteStore();
  private readonly waiting = new Map<number, (answer: SearchAnswer) => void>();
  private readonly line: ServerLine<{ readonly n: number; readonly entry: SearchEntry }, BenchNews>;
  private n = 0;

  constructor(id: string) {
    this.line = new ServerLine(`/searches/${id}/live`, {
      pauses: [400, 3_000],
      hear: (news) => this.hear(news),
      ended: () => {
        for (const answer of this.waiting.values()) answer(LOST);
        this.waiting.clear();
      },
      lost: () =>
        this.remote.setState({ link: 'lost', why: 'The connection to the bench is lost; trying again.' }),
    });
  }

  give(entry: SearchEntry): Promise<SearchAnswer> {
    const n = this.n + 1;
    if (!this.line.say({ n, entry })) return Promise.resolve(LOST);
    this.n = n;
    return new Promise((resolve) => this.waiting.set(n, resolve));
  }

  close(): void {
    this.line.close();
  }

  private hear(news: BenchNews): void {
    switch (news.kind) {
      case 'shape':
        this.line.steady();
        this.store.setState({ shape: news.shape });
        this.remote.setState({ link: 'open', why: '', notes: news.notes });
        return;
      case 'frame':
        this.takeFrame(news.frame);
        return;
      case 'answer': {
        const { line } = news;
        if (line) this.remote.setState(({ notes }) => ({ notes: [...notes, line] }));
        this.waiting.get(news.n)?.(news.answer);
        this.waiting.delete(news.n);
        return;
      }
      case 'moved':
        this.line.close();
        this.remote.setState({ link: 'ended', why: news.why });
    }
  }

  private takeFrame(told: WireFrame): void {
    const { locked, lifted } = told;
    const { shape, events, incidents } = this.store.getState();
    if (!shape) return;
    const frame = frameTold(shape, told);
    this.store.setState({
      frame,
      supplyOn: frame.supplyOn,
      events: frame.events.length > 0 ? [...events, ...frame.events].slice(-KEPT_EVENTS) : events,
      incidents: frame.incidents.length > 0 ? [...incidents, ...frame.incidents] : incidents,
    });
    const now = this.remote.getState();
    if (now.locked !== locked || now.lifted.join() !== lifted.join())
      this.remote.setState({ locked, lifted });
  }
}
