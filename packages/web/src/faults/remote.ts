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
  const store = createLiveStore();
  const remote = createRemoteStore();
  const waiting = new Map<number, (answer: SearchAnswer) => void>();
  let socket: WebSocket | null = null;
  let n = 0;
  let pause = FIRST_PAUSE;
  let closed = false;

  const hear = (news: BenchNews): void => {
    switch (news.kind) {
      case 'shape':
        pause = FIRST_PAUSE;
        store.setState({ shape: news.shape });
        remote.setState({ link: 'open', why: '', notes: news.notes });
        return;
      case 'frame':
        takeFrame(news.frame);
        return;
      case 'answer':
        if (news.line) remote.setState(({ notes }) => ({ notes: [...notes, news.line as NotebookLine] }));
        waiting.get(news.n)?.(news.answer);
        waiting.delete(news.n);
        return;
      case 'moved':
        closed = true;
        remote.setState({ link: 'ended', why: news.why });
    }
  };

  const takeFrame = ({ locked, lifted, ...told }: WireFrame): void => {
    const { shape, events, incidents } = store.getState();
    if (!shape) return;
    const frame: Frame = {
      ...told,
      live: new Uint8Array(shape.terminals.length),
      closed: new Uint8Array(shape.contacts.length),
      heats: shape.heaters.map(() => 0),
    };
    store.setState({
      frame,
      supplyOn: frame.supplyOn,
      events: frame.events.length > 0 ? [...events, ...frame.events].slice(-KEPT_EVENTS) : events,
      incidents: frame.incidents.length > 0 ? [...incidents, ...frame.incidents] : incidents,
    });
    const now = remote.getState();
    if (now.locked !== locked || now.lifted.join() !== lifted.join()) remote.setState({ locked, lifted });
  };

  const open = (): void => {
    const base = window.location.origin.replace(/^http/, 'ws');
    socket = new WebSocket(`${base}/api/searches/${id}/live`);
    socket.onmessage = ({ data }) => hear(JSON.parse(String(data)) as BenchNews);
    socket.onclose = () => {
      for (const answer of waiting.values()) answer(LOST);
      waiting.clear();
      if (closed) return;
      remote.setState({ link: 'lost', why: 'The connection to the bench is lost; trying again.' });
      setTimeout(() => !closed && open(), pause);
      pause = Math.min(LONGEST_PAUSE, pause * 1.6);
    };
  };
  open();

  const give = (entry: SearchEntry): Promise<SearchAnswer> => {
    if (socket?.readyState !== WebSocket.OPEN) return Promise.resolve(LOST);
    n += 1;
    const own = n;
    socket.send(JSON.stringify({ n: own, entry }));
    return new Promise((resolve) => waiting.set(own, resolve));
  };

  return {
    store,
    remote,
    do: give,
    load: () => undefined,
    act: (stimulus) => void give({ kind: 'act', stimulus }),
    ohms: () => Promise.resolve(Number.POSITIVE_INFINITY),
    measure: async (request: MeterRequest) => {
      const answer = await give({ kind: 'read', request });
      if (answer.kind === 'read') return answer.reading;
      return { refused: answer.kind === 'refused' ? answer.reason : 'nothing was read' };
    },
    clearIncidents: () => store.setState({ incidents: [] }),
    close: () => {
      closed = true;
      socket?.close();
    },
  };
}
