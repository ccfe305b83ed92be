import { useEffect, useState } from 'react';
import { Alert, Button, Popconfirm, Spin } from 'antd';
import dayjs from 'dayjs';
import { Link, useNavigate } from 'react-router';
import type { Exercise } from '@contactum/core';
import type { TemplateChoices, TemplateField } from '@contactum/contract';
import { useBeginDraft, useDiscardDraft, useDrafts } from '../api/college.js';
import { Board } from '../board/Board.js';
import { plural, referenceBench } from '@contactum/core';
import { askSetter } from './ask-setter.js';
import { FieldRow } from './FieldForm.js';
import { FourSteps } from './FourSteps.js';
import { Library } from './Library.js';
import './setter.css';
import './setter-marks.css';
import { useToasts } from '../shell/toasts.js';

const EMPTY: Exercise = {
  contactum: 'exercise/1',
  id: 'draft',
  title: 'New exercise',
  family: 'other',
  brief: '',
  bench: { contactum: 'bench/1', title: 'New board', devices: [], wires: [], interlocks: [] },
  reference: [],
  observe: [],
  behaviours: [],
  rules: { coilReturnUnswitched: true, fusedControl: true, earthBonded: true, maxWiresPerTerminal: 2 },
  shows: ['reference', 'progress', 'tests', 'proof'],
  marks: { behaviour: 50, safety: 30, rules: 10, workmanship: 10, pass: 70 },
  faults: [],
};

/** Where exercises are made: drafts, a template to begin from, and whole libraries. */
export function SetterHome() {
  const drafts = useDrafts();
  const begin = useBeginDraft();
  const discard = useDiscardDraft();
  const navigate = useNavigate();
  const message = useToasts();
  const open = (document: Exercise) =>
    begin.mutate(
      { document },
      {
        onSuccess: ({ id }) => void navigate(`/setter/${id}`),
        onError: (error) => void message.error(error.message),
      },
    );
  return (
    <main className="page setter-home">
      <div className="page-head">
        <h1>Setter</h1>
        <span className="page-acts">
          <Button onClick={() => open(EMPTY)} loading={begin.isPending}>
            Start with an empty board
          </Button>
        </span>
      </div>
      <FourSteps />
      <div className="setter-home-columns">
        <Template onMade={open} busy={begin.isPending} />
        <aside>
          <section aria-labelledby="drafts">
            <h2 id="drafts">Your drafts</h2>
            {drafts.isPending && <Spin />}
            {drafts.data?.length === 0 && (
              <p className="quiet">No drafts. Start with a template and change what you like.</p>
            )}
            <ul className="draft-list">
              {(drafts.data ?? []).map(({ id, title, updatedAt }) => (
                <li key={id}>
                  <Link to={`/setter/${id}`}>{title}</Link>
                  <span className="quiet">{dayjs(updatedAt).format('D MMM HH:mm')}</span>
                  <Popconfirm
                    title="Discard this draft?"
                    description="This cannot be undone."
                    okText="Discard"
                    onConfirm={() => discard.mutate(id)}
                  >
                    <Button size="small" type="text">
                      Discard
                    </Button>
                  </Popconfirm>
                </li>
              ))}
            </ul>
          </section>
          <Library />
        </aside>
      </div>
    </main>
  );
}

interface Form {
  readonly fields: readonly TemplateField[];
  readonly choices: TemplateChoices;
}

/** What goes with a habit or a control circuit where nobody says it. */
function following(choices: TemplateChoices, key: keyof TemplateChoices): TemplateChoices {
  if (key !== 'form' && key !== 'control') return choices;
  const us = choices.form === 'us';
  const control = key === 'form' && us && choices.control === 'direct' ? 'transformer' : choices.control;
  return {
    ...choices,
    control,
    lineVoltage: us ? (control === 'transformer' ? 480 : 208) : 400,
    controlVoltage: control === 'dc' ? 24 : us ? 120 : 230,
  };
}

/** What was made last, and of which choices. */
interface Made {
  readonly exercise: Exercise | null;
  readonly problem: string | null;
  readonly of: TemplateChoices | null;
}

/** The choices, and the exercise that they make, made anew with each of them. */
function useTemplate() {
  const [form, setForm] = useState<Form | null>(null);
  const [made, setMade] = useState<Made>({ exercise: null, problem: null, of: null });
  useEffect(() => {
    askSetter((thread) => thread.fields()).then(
      ({ fields, defaults }) => setForm({ fields, choices: defaults }),
      (error: unknown) => setMade((before) => ({ ...before, problem: (error as Error).message })),
    );
  }, []);
  const choices = form?.choices;
  useEffect(() => {
    if (!choices) return undefined;
    let gone = false;
    askSetter((thread) => thread.template(choices))
      .then((exercise) => !gone && setMade({ exercise, problem: null, of: choices }))
      .catch(
        (error: unknown) =>
          !gone && setMade((before) => ({ ...before, problem: (error as Error).message, of: choices })),
      );
    return () => {
      gone = true;
    };
  }, [choices]);
  return { form, setForm, made, isCurrent: choices !== undefined && made.of === choices };
}

/** A whole exercise by choices, shown as it is chosen. */
function Template({ onMade, busy }: { onMade: (exercise: Exercise) => void; busy: boolean }) {
  const { form, setForm, made, isCurrent } = useTemplate();
  if (!form && made.problem) return <Alert type="error" showIcon title={made.problem} />;
  if (!form) return <Spin className="waiting" />;
  const set = (key: keyof TemplateChoices, value: unknown) =>
    setForm({ ...form, choices: following({ ...form.choices, [key]: value }, key) });
  const shown = form.fields.filter(
    ({ key, only }) =>
      (only === undefined || only.includes(form.choices.family)) &&
      (key !== 'controlVoltage' || form.choices.control !== 'direct'),
  );
  const { exercise, problem } = made;
  return (
    <section className="template" aria-labelledby="template">
      <h2 id="template">Start with a template</h2>
      <div className="template-columns">
        <div className="field-form">
          {shown.map(({ key, field, words }) => (
            <FieldRow
              key={key}
              field={field}
              label={field.label}
              value={form.choices[key]}
              words={words}
              onChange={(value) => set(key, value)}
            />
          ))}
          {problem && <Alert type="error" showIcon title={sentence(problem)} />}
          <Button
            type="primary"
            block
            disabled={!exercise || problem !== null || !isCurrent}
            loading={busy}
            onClick={() => exercise && onMade(exercise)}
          >
            Create exercise
          </Button>
          {exercise && (
            <p className="quiet" aria-busy={!isCurrent}>
              {plural(exercise.bench.devices.length, 'device')}, {plural(exercise.reference.length, 'lead')},{' '}
              {plural(exercise.behaviours.length, 'behaviour')}, {plural(exercise.faults.length, 'fault')}.
              Its reference proves clean and earns every point.
            </p>
          )}
        </div>
        <div className="template-board">
          {exercise && <Board bench={referenceBench(exercise)} label="The board of the template, wired" />}
        </div>
      </div>
    </section>
  );
}

/** `interlocks: must name …` as a sentence. */
const sentence = (problem: string): string => {
  const [place = '', ...rest] = problem.split(': ');
  return rest.length === 0 ? place : `${place.charAt(0).toUpperCase()}${place.slice(1)} ${rest.join(': ')}.`;
};
