import { createStore } from 'zustand/vanilla';
import type { Frame, MeterRequest, SearchAnswer, SearchEntry } from '@contactum/core';
import type { BenchNews, NotebookLine, WireFrame } from '@contactum/contract';
import { KEPT_EVENTS, createLiveStore, type LiveBench } from '../bench/live.js';

/** How a live bench of the server stands. */
export interface RemoteState {
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
const FIRST_PAUSE = 400;
const LONGEST_PAUSE = 3_000;

/** Opens a live bench, and opens it again when the connection is lost: another process of the server goes on with it. */
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
    ohms: () => Promise.resolve(Number.POSITIVE_INFINITY),
    measure: async (request: MeterRequest) => {
      const answer = await line.give({ kind: 'read', request });
      if (answer.kind === 'read') return answer.reading;
      return { refused: answer.kind === 'refused' ? answer.reason : 'nothing was read' };
    },
    clearIncidents: () => store.setState({ incidents: [] }),
    close: () => line.close(),
  };
}

/** The socket of a live bench, and what came over it. */
class Line {
  readonly store = createLiveStore();
  readonly remote = createRemoteStore();
  private readonly waiting = new Map<number, (answer: SearchAnswer) => void>();
  private socket: WebSocket | null = null;
  private n = 0;
  private pause = FIRST_PAUSE;
  private closed = false;

  constructor(private readonly id: string) {
    this.open();
  }

  give(entry: SearchEntry): Promise<SearchAnswer> {
    const { socket } = this;
    if (socket?.readyState !== WebSocket.OPEN) return Promise.resolve(LOST);
    this.n += 1;
    const { n } = this;
    socket.send(JSON.stringify({ n, entry }));
    return new Promise((resolve) => this.waiting.set(n, resolve));
  }

  close(): void {
    this.closed = true;
    this.socket?.close();
  }

  private open(): void {
    const base = window.location.origin.replace(/^http/, 'ws');
    this.socket = new WebSocket(`${base}/api/searches/${this.id}/live`);
    this.socket.onmessage = ({ data }) => this.hear(JSON.parse(String(data)) as BenchNews);
    this.socket.onclose = () => this.lose();
  }

  private lose(): void {
    for (const answer of this.waiting.values()) answer(LOST);
    this.waiting.clear();
    if (this.closed) return;
    this.remote.setState({ link: 'lost', why: 'The connection to the bench is lost; trying again.' });
    setTimeout(() => {
      if (!this.closed) this.open();
    }, this.pause);
    this.pause = Math.min(LONGEST_PAUSE, this.pause * 1.6);
  }

  private hear(news: BenchNews): void {
    switch (news.kind) {
      case 'shape':
        this.pause = FIRST_PAUSE;
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
        this.closed = true;
        this.remote.setState({ link: 'ended', why: news.why });
    }
  }

  private takeFrame({ locked, lifted, closed: figures, ...told }: WireFrame): void {
    const { shape, events, incidents } = this.store.getState();
    if (!shape) return;
    const frame: Frame = {
      ...told,
      live: new Uint8Array(shape.terminals.length),
      closed: Uint8Array.from(figures, Number),
      heats: shape.heaters.map(() => 0),
    };
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
