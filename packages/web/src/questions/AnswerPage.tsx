import { useEffect, useMemo, useRef, useState } from 'react';
import { Alert, Button, Popconfirm, Spin } from 'antd';
import dayjs from 'dayjs';
import { useNavigate, useParams } from 'react-router';
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
import { useAttempt, useHandIn, useVault } from '../api/queries.js';
import { sealedIn, type Vault } from '../api/vault.js';
import { SignInAgain } from '../bench/SignInAgain.js';
import { useLeadership, type Leadership } from '../bench/leadership.js';
import { Blank } from '../shell/Blank.js';
import { useToasts } from '../shell/toasts.js';
import { AnswerField, stepsIn } from './AnswerFields.js';
import { createAnswering, type AnsweringStore } from './answering.js';
import { filledIn } from './complete.js';
import { Shown } from './Shown.js';
import './questions.css';

/** The student's answers to the questions about a board. */
export function AnswerPage({ person }: { person: Person }) {
  const { id = '' } = useParams();
  const attempt = useAttempt(id);
  const leadership = useLeadership(id);
  const vault = useVault(person.id);
  const navigate = useNavigate();
  const view = attempt.data;
  const elsewhere =
    view && (view.attempt.state !== 'open' ? `/slip/${id}` : view.exercise.questions ? null : `/bench/${id}`);
  const { refetch } = attempt;
  useEffect(() => {
    if (elsewhere) void navigate(elsewhere, { replace: true });
  }, [elsewhere, navigate]);
  const before = useRef(leadership.role);
  const [fresh, setFresh] = useState(0);
  // Whoever takes the lead begins with what the server has.
  useEffect(() => {
    const was = before.current;
    before.current = leadership.role;
    if (was === 'asking' || was === leadership.role || leadership.role === 'asking') return;
    void refetch().then(() => setFresh((count) => count + 1));
  }, [leadership.role, refetch]);
  if (attempt.isError && !view)
    return <Blank title={attempt.error.message} act={{ text: 'Back to the exercises', to: '/exercises' }} />;
  if (!view || elsewhere || vault === undefined || leadership.role === 'asking')
    return <Spin className="waiting" aria-label="Opening the questions" />;
  return <OpenAnswers key={`${id} ${fresh}`} {...{ view, leadership, person, vault }} />;
}

interface Opened {
  readonly view: AttemptView;
  readonly leadership: Leadership;
  readonly person: Person;
}

function OpenAnswers({ vault, ...opened }: Opened & { vault: Vault | null }) {
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

/** Hands in once everything is stored, and goes to the slip. */
function useSubmit(store: AnsweringStore, attemptId: string) {
  const toast = useToasts();
  const navigate = useNavigate();
  const handIn = useHandIn();
  const submit = () => {
    store
      .flush()
      .then(() => handIn.mutateAsync(attemptId))
      .then(() => navigate(`/slip/${attemptId}`))
      .catch((error: unknown) => toast.error((error as Error).message));
  };
  return { submit, busy: handIn.isPending };
}

function Answers({ view, leadership, person, store }: Opened & { store: AnsweringStore }) {
  const { exercise } = view;
  const { bench, questions = [] } = exercise;
  const answers = useStore(store, (state) => state.answers);
  const [active, setActive] = useState(questions[0]?.id ?? '');
  const circuit = useMemo(() => compile(bench), [bench]);
  const asked = questions.find(({ id }) => id === active);
  const isLocked = leadership.role !== 'leading';
  const taps = asked && !isLocked ? tapsOn(asked, circuit) : null;
  const answerActive = (answer: Answer | null) => store.answer(active, answer);
  return (
    <main className="page questions-page">
      <Head view={view} store={store} questions={questions} isLocked={isLocked} />
      <Notes {...{ leadership, person, store }} />
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
  view: { attempt, className, closesAt, exercise },
  store,
  questions,
  isLocked,
}: {
  view: AttemptView;
  store: AnsweringStore;
  questions: readonly Question[];
  isLocked: boolean;
}) {
  const answers = useStore(store, (state) => state.answers);
  const unsaved = useStore(store, (state) => state.unsaved);
  const { submit, busy } = useSubmit(store, attempt.id);
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
          {done} of {questions.length} answered{unsaved > 0 ? `, ${unsaved} not stored yet` : ', stored'}
        </span>
        <Popconfirm
          title="Hand in these answers?"
          description={
            <>
              <p>They are marked at once and cannot be changed afterwards.</p>
              {open.length > 0 && <p>Not wholly answered: {open.join(', ')}.</p>}
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

/** Who answers here, and what is not stored. */
function Notes({
  leadership,
  person,
  store,
}: {
  leadership: Leadership;
  person: Person;
  store: AnsweringStore;
}) {
  const { signedOut, stale, unsaved } = useStore(store);
  return (
    <>
      {leadership.role === 'following' && (
        <Alert
          type="info"
          showIcon
          title="These questions are open in another tab, which answers them. This one follows."
          action={
            <Button size="small" onClick={leadership.take}>
              Answer here
            </Button>
          }
        />
      )}
      {signedOut && <SignInAgain person={person} unsent={unsaved} onDone={store.resume} />}
      {stale && (
        <Alert
          type="error"
          showIcon
          title="These answers were changed in another window or on another device."
          action={
            <Button size="small" onClick={() => window.location.reload()}>
              Reload
            </Button>
          }
        />
      )}
    </>
  );
}
