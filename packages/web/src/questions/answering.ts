import { createStore, type StoreApi } from 'zustand/vanilla';
import { answersIn, type Answer, type AnswerEntry, type Answers } from '@contactum/core';
import type { AttemptView, LogEntryRequest } from '@contactum/contract';
import { unsentOf } from '../bench/log.js';
import { Sender, unsentKey, type Sending } from '../bench/sender.js';

interface Answering extends Sending {
  readonly answers: Answers['answers'];
}

interface AnsweringHands {
  /** Answers a question, or takes its answer back; shown at once and sent in order. */
  readonly answer: (question: string, answer: Answer | null) => void;
  /** Takes what another tab has answered. */
  readonly follow: (request: LogEntryRequest) => void;
  /** Resolves when everything is stored; throws where it cannot be. */
  readonly flush: () => Promise<void>;
  /** Sends again after signing in. */
  readonly resume: () => void;
  readonly close: () => void;
}

export type AnsweringStore = StoreApi<Answering> & AnsweringHands;

export interface AnsweringOptions {
  /** Where entries are kept that the server has not acknowledged; survives the page. */
  readonly keep?: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> | undefined;
  /** Another tab answers; this one shows it. */
  readonly following: boolean;
  /** Told every entry as it is made. */
  readonly onEntry: (request: LogEntryRequest) => void;
}

/** Answers as a log would have them. */
const entriesOf = (answers: Answers['answers']): AnswerEntry[] =>
  Object.entries(answers).map(([question, answer]) => ({ kind: 'answer', question, answer }));

/** The answers of one attempt: what its log says, and what is answered from now on. */
export function createAnswering(
  view: AttemptView,
  { keep, following, onEntry }: AnsweringOptions,
): AnsweringStore {
  const { id } = view.attempt;
  const kept = following ? [] : unsentOf(view, keep?.getItem(unsentKey(id)) ?? null).requests;
  const requests = [...view.log, ...kept];
  const store = createStore<Answering>(() => ({
    answers: answersIn(requests.map(({ entry }) => entry)),
    unsaved: kept.length,
    saveError: null,
    signedOut: false,
    stale: false,
  }));
  const sender = new Sender(
    {
      attemptId: id,
      waiting: kept,
      keep: following ? undefined : keep,
      tell: (sending) => store.setState(sending),
    },
    requests.at(-1)?.seq ?? 0,
  );
  const take = (question: string, answer: Answer | null): void => {
    const { answers } = store.getState();
    store.setState({ answers: answersIn([...entriesOf(answers), { kind: 'answer', question, answer }]) });
  };
  return {
    ...store,
    answer: (question, answer) => {
      if (following || store.getState().stale) return;
      take(question, answer);
      onEntry(sender.add({ kind: 'answer', question, answer }));
    },
    follow: ({ seq, entry }) => {
      sender.seq = Math.max(sender.seq, seq);
      if (entry.kind === 'answer') take(entry.question, entry.answer);
    },
    flush: async () => {
      await sender.settled();
      const { stale, signedOut, saveError } = store.getState();
      if (stale || signedOut) throw new Error(saveError ?? 'These answers were changed elsewhere.');
    },
    resume: () => sender.resume(),
    close: () => sender.close(),
  };
}
