import { useEffect, useMemo, useState } from 'react';
import { Alert, Button, InputNumber, Select, Spin } from 'antd';
import { useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import {
  askedExercise,
  referenceBench,
  type Bench,
  type Exercise,
  type QuestionDegree,
} from '@contactum/core';
import { publish, useBeginDraft, useDraft } from '../api/college.js';
import { useExercise } from '../api/queries.js';
import { useToasts } from '../shell/toasts.js';
import { ColumnHeads } from '../paper/PaperTableView.js';
import { bridgeTo } from '../workers/bridge.js';
import type { AnsweredQuestion, QuestionsThread } from '../workers/questions.worker.js';
import { Shown } from './Shown.js';
import './questions.css';

const DEGREES: readonly { readonly value: QuestionDegree; readonly label: string }[] = [
  { value: 1, label: '1: read the board' },
  { value: 2, label: '2: what happens next' },
  { value: 3, label: '3: what holds, what blocks' },
  { value: 4, label: '4: measure, find the cause' },
  { value: 5, label: '5: find the danger' },
];
const LARGEST_SEED = 2 ** 31 - 1;
const MOST = 20;

/** Questions about the reference board of an exercise, to be asked in class: the board itself answers. */
export function QuestionsPage() {
  const { id = '' } = useParams();
  const query = useExercise(id);
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const { exercise } = query.data;
  return <AskAbout exercise={exercise} back={{ to: `/exercises/${exercise.id}`, title: exercise.title }} />;
}

/** The same of a draft in the Setter, as it was saved last. */
export function DraftQuestionsPage() {
  const { id = '' } = useParams();
  const query = useDraft(id);
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const { document } = query.data;
  return <AskAbout exercise={document} back={{ to: `/setter/${id}`, title: `Setter: ${document.title}` }} />;
}

interface Asked {
  readonly seed: number;
  readonly degree: QuestionDegree;
  readonly count: number;
}

type Made = { readonly questions: readonly AnsweredQuestion[] } | { readonly problem: string };

/** Made in a thread of its own, which ends when something else is asked for. */
function useQuestions(bench: Bench, { seed, degree, count }: Asked): Made | null {
  const [made, setMade] = useState<{ readonly of: string; readonly made: Made } | null>(null);
  const of = `${seed} ${degree} ${count}`;
  useEffect(() => {
    const { ask, end } = bridgeTo<QuestionsThread>(
      new Worker(new URL('../workers/questions.worker.ts', import.meta.url), { type: 'module' }),
    );
    ask((thread) => thread.make(bench, { seed, degree, count }))
      .then((questions) => setMade({ of, made: { questions } }))
      .catch((error: unknown) => setMade({ of, made: { problem: (error as Error).message } }));
    return end;
  }, [bench, seed, degree, count, of]);
  return made?.of === of ? made.made : null;
}

interface Back {
  readonly to: string;
  readonly title: string;
}

function AskAbout({ exercise, back }: { exercise: Exercise; back: Back }) {
  const bench = useMemo(() => referenceBench(exercise), [exercise]);
  const [asked, setAsked] = useState<Asked>({ seed: 1, degree: 2, count: 6 });
  const made = useQuestions(bench, asked);
  const set = (change: Partial<Asked>) => setAsked({ ...asked, ...change });
  return (
    <main className="page questions-page">
      <div className="page-head">
        <div>
          <p className="crumb">
            <Link to={back.to}>{back.title}</Link>
          </p>
          <h1>Questions about this board</h1>
          <p className="quiet">
            The board answers: every right answer is worked out on it. The same seed gives the same questions.
          </p>
        </div>
        <span className="page-acts">
          <Select<QuestionDegree>
            aria-label="Degree"
            className="question-degree"
            value={asked.degree}
            options={[...DEGREES]}
            onChange={(degree) => set({ degree })}
          />
          <InputNumber
            aria-label="Number of questions"
            className="question-count"
            suffix="questions"
            min={1}
            max={MOST}
            precision={0}
            value={asked.count}
            onChange={(count) => count !== null && set({ count })}
          />
          <InputNumber
            aria-label="Seed"
            prefix="Seed"
            min={0}
            max={LARGEST_SEED}
            precision={0}
            value={asked.seed}
            onChange={(seed) => seed !== null && set({ seed })}
          />
          <Button onClick={() => set({ seed: asked.seed + 1 })}>New questions</Button>
          <SaveQuestions exercise={exercise} bench={bench} asked={asked} made={made} />
        </span>
      </div>
      <div className="question-columns">
        <section aria-label="Questions">
          <Questions key={`${asked.seed} ${asked.degree}`} made={made} />
        </section>
        <Shown bench={bench} />
      </div>
    </main>
  );
}

/** Publishes the questions as an exercise of their own, to be assigned to a class. */
function SaveQuestions({
  exercise,
  bench,
  asked: { seed, degree },
  made,
}: {
  exercise: Exercise;
  bench: Bench;
  asked: Asked;
  made: Made | null;
}) {
  const begin = useBeginDraft();
  const navigate = useNavigate();
  const toast = useToasts();
  const client = useQueryClient();
  const [saving, setSaving] = useState(false);
  const questions = made && 'questions' in made ? made.questions.map(({ question }) => question) : [];
  const save = async () => {
    const { id, title, family } = exercise;
    const head = { id: `${id}-questions-${seed}`, title: `${title}: questions ${degree}.${seed}`, family };
    const draft = await begin.mutateAsync({ document: askedExercise(bench, head, questions) });
    const published = await publish(draft.id, '');
    if (!published.ok) throw new Error(published.objections.map(({ found }) => found).join('; '));
    await client.invalidateQueries({ queryKey: ['exercises'] });
    await navigate(`/exercises/${published.exerciseId}`);
  };
  return (
    <Button
      type="primary"
      disabled={questions.length === 0}
      loading={saving}
      onClick={() => {
        setSaving(true);
        save()
          .catch((error: unknown) => toast.error((error as Error).message))
          .finally(() => setSaving(false));
      }}
    >
      Save as exercise
    </Button>
  );
}

function Questions({ made }: { made: Made | null }) {
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  if (!made)
    return (
      <div role="status">
        <Spin size="small" /> Working out the answers …
      </div>
    );
  if ('problem' in made) return <Alert type="error" showIcon title={made.problem} />;
  const { questions } = made;
  if (questions.length === 0) return <p>There is nothing to ask about this board at this degree.</p>;
  const flip = (id: string) => {
    const next = new Set(open);
    if (!next.delete(id)) next.add(id);
    setOpen(next);
  };
  const isAll = open.size === questions.length;
  return (
    <>
      <Button
        size="small"
        onClick={() => setOpen(isAll ? new Set() : new Set(questions.map(({ id }) => id)))}
      >
        {isAll ? 'Hide all answers' : 'Show all answers'}
      </Button>
      <ol className="questions">
        {questions.map((one) => (
          <QuestionItem key={one.id} question={one} isOpen={open.has(one.id)} onFlip={() => flip(one.id)} />
        ))}
      </ol>
    </>
  );
}

function QuestionItem({
  question: { words, points, given, right, table },
  isOpen,
  onFlip,
}: {
  question: AnsweredQuestion;
  isOpen: boolean;
  onFlip: () => void;
}) {
  return (
    <li>
      <p>
        {words} <span className="quiet">{points === 1 ? '1 point' : `${points} points`}</span>
      </p>
      {given.length > 0 && (
        <ul>
          {given.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
      )}
      <Button size="small" aria-expanded={isOpen} onClick={onFlip}>
        {isOpen ? 'Hide answer' : 'Show answer'}
      </Button>
      {isOpen &&
        (table ? <StatesTable table={table} /> : <p className="right-answer">{right.join(' or ')}</p>)}
    </li>
  );
}

function StatesTable({ table: { columns, rows } }: { table: NonNullable<AnsweredQuestion['table']> }) {
  return (
    <table className="plain right-answer">
      <ColumnHeads columns={columns} />
      <tbody>
        {rows.map((row, k) => (
          <tr key={k}>
            {row.map((cell, n) => (
              <td key={n}>{cell}</td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
