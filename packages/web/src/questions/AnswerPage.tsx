import { useEffect, useMemo, useRef, useState } from 'react';
import { Button, Popconfirm, Spin } from 'antd';
import dayjs from 'dayjs';
import { useStore } from 'zustand';
import {
  compile,
  contactPlace,
  plural,
  questionWords,
  type Answer,
  type Circuit,
  type Question,
  type Stimulus,
} from '@contactum/core';
import type { AttemptView, Person } from '@contactum/contract';
import { sealedIn } from '../api/vault.js';
import { AttemptPlace, type OpenAttempt } from '../bench/AttemptPlace.js';
import { LogNotes, type LogWords } from '../bench/LogNotes.js';
import { useHandingIn } from '../bench/use-handing-in.js';
import { AnswerField, stepsIn } from './AnswerFields.js';
import { createAnswering, type AnsweringStore } from './answering.js';
import { filledIn } from './complete.js';
import { Shown } from './Shown.js';
import './questions.css';

/** The student's answers to the questions about a board. */
export const AnswerPage = ({ person }: { person: Person }) => (
  <AttemptPlace
    person={person}
    place="answer"
    opening="Opening the questions"
    render={(key, open) => <OpenAnswers key={key} {...open} person={person} />}
  />
);

type Opened = Omit<OpenAttempt, 'vault'> & { readonly person: Person };

function OpenAnswers({ vault, ...opened }: OpenAttempt & { person: Person }) {
  const [store, setStore] = useState<AnsweringStore | null>(null);
  const first = useRef({ ...opened, vault });
  useEffect(() => {
    const { view, leadership, vault: kept } = first.current;
    const made = createAnswering(view, {
      ...(kept ? { keep: sealedIn(localStorage, kept) } : {}),
      following: leadership.role === 'following',
      onEntry: leadership.tell,
    });
    const unhear = leadership.hear(made.follow);
    setStore(made);
    return () => {
      unhear();
      made.close();
    };
  }, []);
  return store ? <Answers {...opened} store={store} /> : <Spin className="waiting" />;
}

const WORDS: LogWords = {
  following: 'These questions are open in another tab, which answers them. This one follows.',
  take: 'Answer here',
  stale: 'These answers were changed in another window or on another device.',
};

function Answers({ view, leadership, person, store }: Opened & { store: AnsweringStore }) {
  const { exercise } = view;
  const { bench, questions = [] } = exercise;
  const { answers, ...sending } = useStore(store);
  const [active, setActive] = useState(questions[0]?.id ?? '');
  const circuit = useMemo(() => compile(bench), [bench]);
  const asked = questions.find(({ id }) => id === active);
  const isLocked = leadership.role !== 'leading';
  const taps = asked && !isLocked ? tapsOn(asked, circuit) : null;
  const answerActive = (answer: Answer | null) => store.answer(active, answer);
  return (
    <main className="page questions-page">
      <Head view={view} store={store} questions={questions} isLocked={isLocked} />
      <LogNotes
        words={WORDS}
        following={leadership.role === 'following'}
        sending={sending}
        person={person}
        onTake={leadership.take}
        onResume={store.resume}
      />
      <div className="question-columns">
        <ol className="questions answering" aria-label="Questions">
          {questions.map((question) => (
            <li
              key={question.id}
              data-active={question.id === active ? 'yes' : undefined}
              data-filled={filledIn(question, answers[question.id])}
              onFocus={() => setActive(question.id)}
              onClick={() => setActive(question.id)}
            >
              <p>
                {questionWords(question)} <span className="quiet">{plural(question.points, 'point')}</span>
              </p>
              <AnswerField
                question={question}
                bench={bench}
                answer={answers[question.id]}
                disabled={isLocked}
                onAnswer={(answer) => store.answer(question.id, answer)}
              />
            </li>
          ))}
        </ol>
        <Shown
          bench={bench}
          marked={asked ? markedBy(asked, answers[asked.id]) : []}
          onTerminal={taps ? (ref) => answerActive(taps(answers[active], ref)) : undefined}
          onWork={
            asked?.ask === 'danger' && !isLocked
              ? (step: Stimulus) => answerActive([...stepsIn(store.getState().answers[active]), step])
              : undefined
          }
        />
      </div>
    </main>
  );
}

/** What a tap on a terminal makes of an answer; null of a question that is answered otherwise. */
function tapsOn(
  question: Question,
  { switches }: Circuit,
): ((answer: Answer | undefined, ref: string) => Answer | null) | null {
  if (question.ask === 'terminal') return (_, ref) => ref;
  if (question.ask !== 'holds' && question.ask !== 'blocks') return null;
  return (answer, ref) => {
    const chosen = Array.isArray(answer) ? (answer as readonly string[]) : [];
    const here = switches.map(contactPlace).filter((place) => terminalsOfContact(place).includes(ref));
    // A second tap on the same contact takes it out.
    const next = here.some((place) => chosen.includes(place))
      ? chosen.filter((place) => !here.includes(place))
      : [...chosen, ...here.slice(0, 1)];
    return next.length > 0 ? next : null;
  };
}

function terminalsOfContact(place: string): string[] {
  const [tag = '', name = ''] = place.split(':');
  return name.split('-').map((one) => `${tag}:${one}`);
}

/** Terminals on the board that stand for an answer. */
function markedBy(question: Question, answer: Answer | undefined): string[] {
  if (question.ask === 'terminal') return typeof answer === 'string' ? [answer] : [];
  if (question.ask !== 'holds' && question.ask !== 'blocks') return [];
  return Array.isArray(answer) ? (answer as readonly string[]).flatMap(terminalsOfContact) : [];
}

function Head({
  view,
  store,
  questions,
  isLocked,
}: {
  view: AttemptView;
  store: AnsweringStore;
  questions: readonly Question[];
  isLocked: boolean;
}) {
  const { attempt, className, closesAt, exercise } = view;
  const answers = useStore(store, (state) => state.answers);
  const unsaved = useStore(store, (state) => state.unsaved);
  const { submit, busy } = useHandingIn(view, store.flush);
  const open = questions.flatMap((question, k) =>
    filledIn(question, answers[question.id]) === 'all' ? [] : [String(k + 1)],
  );
  const done = questions.length - open.length;
  return (
    <div className="page-head">
      <div>
        <h1>{exercise.title}</h1>
        <p className="quiet">
          Attempt {attempt.number} · {className}
          {closesAt !== null && ` · handed in as it stands at ${dayjs(closesAt).format('D MMM HH:mm')}`}
        </p>
        <p>{exercise.brief}</p>
      </div>
      <span className="page-acts">
        <span role="status" className="quiet">
          {done} of {questions.length} answered, {unsaved > 0 ? `${unsaved} not saved yet` : 'saved'}
        </span>
        <Popconfirm
          title="Hand in these answers?"
          description={
            <>
              <p>They are marked at once and cannot be changed afterwards.</p>
              {open.length > 0 && <p>Not fully answered: {open.join(', ')}.</p>}
            </>
          }
          okText="Hand in"
          cancelText="Keep answering"
          onConfirm={submit}
          disabled={busy || isLocked}
        >
          <Button type="primary" loading={busy} disabled={isLocked}>
            Hand in
          </Button>
        </Popconfirm>
      </span>
    </div>
  );
}
