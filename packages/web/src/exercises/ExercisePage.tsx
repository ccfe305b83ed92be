import { useMemo, useState } from 'react';
import { Alert, Button, Dropdown, Segmented, Spin, Tabs } from 'antd';
import dayjs from 'dayjs';
import { Link, useNavigate, useParams } from 'react-router';
import {
  plural,
  PARTS,
  describeStimulus,
  drawingOf,
  exerciseVersion,
  isExpectation,
  isAsked,
  isSearch,
  practiceSentences,
  referenceBench,
  ruleSentences,
  spellRef,
  type Exercise,
  type Expected,
  type Paper,
  type Step,
  usualForm,
} from '@contactum/core';
import type { AssignmentForInstructor } from '@contactum/contract';
import { useBeginDraft, useRetire, useVersions } from '../api/college.js';
import { useExercise } from '../api/queries.js';
import { Board } from '../board/Board.js';
import { leadColour } from '../board/colours.js';
import { createLinkStore } from '../board/link.js';
import { DeviceTable } from '../board/DeviceTable.js';
import { SheetsButton } from '../drawing/SheetsButton.js';
import { DrawingView } from '../drawing/DrawingView.js';
import { Walk } from '../drawing/Walk.js';
import { askSheet } from '../paper/ask-paper.js';
import { AssignDialog } from './AssignDialog.js';
import { QuestionList, Sets } from './Asked.js';
import { VersionChanges } from './VersionChanges.js';
import './exercises.css';
import { useToasts } from '../shell/toasts.js';

/**
 * One exercise for its instructor: brief, devices, reference, behaviours, rules; and setting it to a class.
 */
export function ExercisePage() {
  const { id = '' } = useParams();
  const query = useExercise(id);
  const [setting, setSetting] = useState(false);
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const { exercise, set, origin, version, retired } = query.data;
  return (
    <main className="page exercise-page">
      <div className="page-head">
        <div>
          <p className="crumb">
            <Link to="/exercises">Exercises</Link>
          </p>
          <h1>{exercise.title}</h1>
          <p className="quiet">
            {origin === 'own' ? 'Made here' : 'Shipped'}, version {version}
            {retired ? ', off the list' : ''}
          </p>
        </div>
        <span className="page-acts">
          {!isSearch(exercise) && !isAsked(exercise) && <PaperButtons exercise={exercise} />}
          <Making exercise={exercise} own={origin === 'own'} retired={retired} />
          <Button type="primary" size="large" disabled={retired} onClick={() => setSetting(true)}>
            Assign to a class
          </Button>
        </span>
      </div>
      <div className="exercise-columns">
        <section className="exercise-left">
          <p>{exercise.brief}</p>
          <SetTo set={set} />
          <ExerciseTabs exercise={exercise} />
        </section>
        <section className="exercise-board" aria-label={isAsked(exercise) ? 'Board' : 'Reference wiring'}>
          <Reference exercise={exercise} />
          <p className="quiet">
            {isAsked(exercise)
              ? 'This is what students see; the right answers are worked out on it.'
              : 'The reference is one right wiring, never the only one: an attempt is judged by what it does.'}
          </p>
        </section>
      </div>
      <AssignDialog
        open={setting}
        exercise={exercise}
        taken={set.map(({ classId }) => classId)}
        onClose={() => setSetting(false)}
      />
    </main>
  );
}

/** Paper for a physical board: to plan it by, and to test and mark it by. */
function PaperButtons({ exercise }: { exercise: Exercise }) {
  const message = useToasts();
  const [making, setMaking] = useState(false);
  const make = (size: Paper) => {
    setMaking(true);
    const reference = referenceBench(exercise);
    Promise.all([import('../paper/save.js'), askSheet(exercise)])
      .then(([{ saveSheet }, sheet]) => saveSheet(sheet, drawingOf(reference, usualForm(reference)), size))
      .catch((error: unknown) => message.error((error as Error).message))
      .finally(() => setMaking(false));
  };
  return (
    <>
      <Link to={`/exercises/${exercise.id}/questions`}>
        <Button size="large">Questions</Button>
      </Link>
      <Link to={`/paper/${exercise.id}`}>
        <Button size="large">Planning paper</Button>
      </Link>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            { key: 'A4', label: 'PDF on A4' },
            { key: 'LETTER', label: 'PDF on Letter' },
          ],
          onClick: ({ key }) => make(key as Paper),
        }}
      >
        <Button size="large" loading={making}>
          Bench sheet
        </Button>
      </Dropdown>
    </>
  );
}

/** What may be made of an exercise: its next version, a copy, a document; or it is taken off the list. */
function Making({ exercise, own, retired }: { exercise: Exercise; own: boolean; retired: boolean }) {
  const begin = useBeginDraft();
  const retire = useRetire();
  const navigate = useNavigate();
  const message = useToasts();
  const failed = (error: Error) => void message.error(error.message);
  const make = (next: boolean) =>
    begin.mutate(
      { from: exercise.id, next },
      { onSuccess: ({ id }) => void navigate(`/setter/${id}`), onError: failed },
    );
  return (
    <>
      {own && !isAsked(exercise) && (
        <Button size="large" loading={begin.isPending} onClick={() => make(true)}>
          Next version
        </Button>
      )}
      {!isAsked(exercise) && (
        <Button size="large" loading={begin.isPending} onClick={() => make(false)}>
          Copy to the Setter
        </Button>
      )}
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            {
              key: 'document',
              label: (
                <a href={`/api/exercises/${encodeURIComponent(exercise.id)}/document`} download>
                  As a document
                </a>
              ),
            },
            ...(own
              ? [
                  {
                    key: 'retire',
                    label: retired ? 'Put on the list again' : 'Take off the list',
                    onClick: () => retire.mutate({ id: exercise.id, retired: !retired }, { onError: failed }),
                  },
                ]
              : []),
          ],
        }}
      >
        <Button size="large" aria-label="More of this exercise">
          …
        </Button>
      </Dropdown>
    </>
  );
}

/** Every version with what changed in it, and the classes that have it. */
function Versions({ id }: { id: string }) {
  const versions = useVersions(id);
  if (versions.isPending) return <Spin />;
  if (versions.isError) return <Alert type="error" showIcon title={versions.error.message} />;
  return (
    <ol className="versions" reversed>
      {versions.data.map(({ version, at, by, note, fingerprint, changes, setTo }) => (
        <li key={version}>
          <strong>Version {version}</strong> {dayjs(at).format('D MMM YYYY')}
          {by ? `, ${by}` : ''} <span className="mono quiet">{fingerprint}</span>
          {note && <p>{note}</p>}
          {setTo.length > 0 && <p className="quiet">Assigned to {setTo.join(', ')}</p>}
          <VersionChanges changes={changes} />
        </li>
      ))}
    </ol>
  );
}

type Look = 'board' | 'drawing' | 'walk';

const LOOKS: { value: Look; label: string }[] = [
  { value: 'board', label: 'Board' },
  { value: 'drawing', label: 'Drawing' },
  { value: 'walk', label: 'Walk-through' },
];

/** The reference as a board, as a drawing, or walked through. */
function Reference({ exercise }: { exercise: Exercise }) {
  const [look, setLook] = useState<Look>('board');
  const [link] = useState(createLinkStore);
  const bench = useMemo(() => referenceBench(exercise), [exercise]);
  const form = usualForm(bench);
  const drawing = useMemo(() => drawingOf(bench, form), [bench, form]);
  const { title, behaviours } = exercise;
  return (
    <>
      <div className="view-tools">
        <Segmented aria-label="Look at the reference" options={LOOKS} value={look} onChange={setLook} />
        {look === 'drawing' && <SheetsButton drawing={drawing} title={title} />}
      </div>
      {look === 'board' && (
        <Board
          bench={bench}
          link={link}
          label={`Reference wiring of ${title}, ${plural(exercise.reference.length, 'lead')}`}
        />
      )}
      {look === 'drawing' && <DrawingView drawing={drawing} link={link} label={`Drawing of ${title}`} />}
      {look === 'walk' && <Walk bench={bench} functions={behaviours} form={form} withBoard />}
    </>
  );
}

/** The classes that have it, and how far they are. */
function SetTo({ set }: { set: readonly AssignmentForInstructor[] }) {
  if (set.length === 0) return null;
  return (
    <>
      <h2>Assigned to</h2>
      <ul className="must">
        {set.map((one) => (
          <li key={one.id}>
            <Link to={`/marks/${one.classId}`}>{one.className}</Link>: {one.handedIn} of {one.students} handed
            in
            {one.dueAt ? `, due ${dayjs(one.dueAt).format('D MMM YYYY')}` : ''}
          </li>
        ))}
      </ul>
    </>
  );
}

function ExerciseTabs({ exercise }: { exercise: Exercise }) {
  const { behaviours, bench, sets = [], questions = [] } = exercise;
  const reference = referenceBench(exercise).wires;
  return (
    <Tabs
      tabBarGutter={16}
      items={[
        isAsked(exercise)
          ? {
              key: 'questions',
              label: `Questions (${questions.length})`,
              children: <QuestionList questions={questions} />,
            }
          : {
              key: 'behaviours',
              label: `Behaviours (${behaviours.length})`,
              children: <Behaviours exercise={exercise} />,
            },
        {
          key: 'devices',
          label: `Devices (${bench.devices.length})`,
          children: <DeviceTable devices={bench.devices} full />,
        },
        {
          key: 'leads',
          label: `${isAsked(exercise) ? 'Leads' : 'Reference'} (${reference.length})`,
          children: <ReferenceList exercise={exercise} />,
        },
        ...(sets.length > 0
          ? [{ key: 'sets', label: `Work orders (${sets.length})`, children: <Sets exercise={exercise} /> }]
          : []),
        { key: 'rules', label: 'Rules and marks', children: <RulesAndMarks exercise={exercise} /> },
        { key: 'versions', label: 'Versions', children: <Versions id={exercise.id} /> },
      ]}
    />
  );
}

const expectedWords = (expected: Expected): string =>
  typeof expected === 'object'
    ? `${expected.min === undefined ? '' : `at least ${expected.min}`}${expected.min !== undefined && expected.max !== undefined ? ' and ' : ''}${expected.max === undefined ? '' : `at most ${expected.max}`}`
    : String(expected);

/** Steps in a sentence each. */
function StepList({ steps }: { steps: readonly Step[] }) {
  return (
    <ol className="steps">
      {steps.map((step, k) => (
        <li key={k} className={isExpectation(step) ? 'expect' : undefined}>
          {isExpectation(step)
            ? `then ${Object.entries(step.expect)
                .map(([what, expected]) => `${what} is ${expectedWords(expected)}`)
                .join(', ')}`
            : describeStimulus(step)}
        </li>
      ))}
    </ol>
  );
}

function Behaviours({ exercise }: { exercise: Exercise }) {
  return (
    <div className="behaviours">
      {exercise.behaviours.map(({ id, title, points, steps }) => (
        <details key={id}>
          <summary>
            {title} <span className="quiet">weight {points}</span>
          </summary>
          <StepList steps={steps} />
        </details>
      ))}
    </div>
  );
}

function ReferenceList({ exercise }: { exercise: Exercise }) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>From</th>
          <th>To</th>
          <th>Colour</th>
          <th>Area</th>
        </tr>
      </thead>
      <tbody>
        {(isSearch(exercise) || isAsked(exercise) ? exercise.bench.wires : exercise.reference).map(
          (wire, k) => (
            <tr key={k}>
              <td className="mono">{spellRef(wire.from)}</td>
              <td className="mono">{spellRef(wire.to)}</td>
              <td>
                <span className="swatch" style={{ background: leadColour(wire.colour).paint }} />{' '}
                {wire.colour ?? ''}
              </td>
              <td>{wire.area === undefined ? '' : `${wire.area} mm²`}</td>
            </tr>
          ),
        )}
      </tbody>
    </table>
  );
}

function RulesAndMarks({ exercise }: { exercise: Exercise }) {
  const { marks, rules } = exercise;
  const practice = practiceSentences(exercise.practice);
  return (
    <>
      <table className="plain">
        <tbody>
          {PARTS.map((part) => (
            <tr key={part}>
              <th scope="row">{part}</th>
              <td>{marks[part]} points</td>
            </tr>
          ))}
          <tr>
            <th scope="row">pass</th>
            <td>{marks.pass} points, and every safety property holds</td>
          </tr>
        </tbody>
      </table>
      <h2>House rules</h2>
      <ul>
        {ruleSentences(rules).map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
      {practice.length > 0 && (
        <>
          <h2>Work practice</h2>
          <ul>
            {practice.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </>
      )}
      <p>
        {exercise.repair === 'marked'
          ? 'Students may see the repair of their wiring once it is marked.'
          : 'The repair of a wiring is shown to instructors only.'}
      </p>
      <p className="quiet">
        Version <span className="mono">{exerciseVersion(exercise)}</span>
      </p>
    </>
  );
}
