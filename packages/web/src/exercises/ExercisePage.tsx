import { useState } from 'react';
import { Alert, App, Button, DatePicker, Form, Modal, Select, Spin, Tabs } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import { Link, useParams } from 'react-router';
import {
  describeStimulus,
  exerciseVersion,
  isExpectation,
  practiceSentences,
  referenceBench,
  ruleSentences,
  type Exercise,
  type Expected,
  type Step,
} from '@contactum/core';
import { useAssign, useClasses, useExercise } from '../api/queries.js';
import { Board } from '../board/Board.js';
import { leadColour } from '../board/colours.js';
import { DeviceTable } from '../board/DeviceTable.js';

/** One exercise for its instructor: brief, devices, reference, behaviours, rules; and setting it to a class. */
export function ExercisePage() {
  const { id = '' } = useParams();
  const query = useExercise(id);
  const [setting, setSetting] = useState(false);
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const { exercise, set } = query.data;
  return (
    <main className="page exercise-page">
      <div className="page-head">
        <div>
          <p className="crumb">
            <Link to="/exercises">Exercises</Link>
          </p>
          <h1>{exercise.title}</h1>
        </div>
        <Button type="primary" size="large" onClick={() => setSetting(true)}>
          Set to a class
        </Button>
      </div>
      <div className="exercise-columns">
        <section className="exercise-left">
          <p>{exercise.brief}</p>
          {set.length > 0 && (
            <>
              <h2>Set to</h2>
              <ul className="must">
                {set.map((one) => (
                  <li key={one.id}>
                    <Link to={`/marks/${one.classId}`}>{one.className}</Link>: {one.handedIn} of{' '}
                    {one.students} handed in
                    {one.dueAt ? `, due ${dayjs(one.dueAt).format('D MMM YYYY')}` : ''}
                  </li>
                ))}
              </ul>
            </>
          )}
          <Tabs
            items={[
              {
                key: 'behaviours',
                label: `Behaviours (${exercise.behaviours.length})`,
                children: <Behaviours exercise={exercise} />,
              },
              {
                key: 'devices',
                label: `Devices (${exercise.bench.devices.length})`,
                children: <DeviceTable devices={exercise.bench.devices} full />,
              },
              {
                key: 'leads',
                label: `Reference (${exercise.reference.length})`,
                children: <ReferenceList exercise={exercise} />,
              },
              { key: 'rules', label: 'Rules and marks', children: <RulesAndMarks exercise={exercise} /> },
            ]}
          />
        </section>
        <section className="exercise-board" aria-label="Reference wiring">
          <Board
            bench={referenceBench(exercise)}
            label={`Reference wiring of ${exercise.title}, ${exercise.reference.length} leads`}
          />
          <p className="quiet">
            The reference is one right wiring, never the only one: an attempt is judged by what it does.
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

const expectedWords = (expected: Expected): string =>
  typeof expected === 'object'
    ? `${expected.min === undefined ? '' : `at least ${expected.min}`}${expected.min !== undefined && expected.max !== undefined ? ' and ' : ''}${expected.max === undefined ? '' : `at most ${expected.max}`}`
    : String(expected);

/** Steps in a sentence each. */
export function StepList({ steps }: { steps: readonly Step[] }) {
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
        {exercise.reference.map((wire, k) => (
          <tr key={k}>
            <td className="mono">{wire.from.replace(':', ' ')}</td>
            <td className="mono">{wire.to.replace(':', ' ')}</td>
            <td>
              <span className="swatch" style={{ background: leadColour(wire.colour).paint }} />{' '}
              {wire.colour ?? ''}
            </td>
            <td>{wire.area === undefined ? '' : `${wire.area} mm²`}</td>
          </tr>
        ))}
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
          {(['behaviour', 'safety', 'rules', 'workmanship'] as const).map((part) => (
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

function AssignDialog({
  open,
  exercise,
  taken,
  onClose,
}: {
  open: boolean;
  exercise: Exercise;
  taken: readonly string[];
  onClose: () => void;
}) {
  const classes = useClasses(open);
  const assign = useAssign();
  const { message } = App.useApp();
  const [form] = Form.useForm<{ classId: string; due: Dayjs | null }>();
  return (
    <Modal
      open={open}
      title={`Set “${exercise.title}” to a class`}
      okText="Set it"
      confirmLoading={assign.isPending}
      onCancel={onClose}
      onOk={() =>
        void form.validateFields().then(({ classId, due }) =>
          assign.mutate(
            { classId, exerciseId: exercise.id, dueAt: due ? due.endOf('day').toISOString() : null },
            {
              onSuccess: ({ className }) => {
                message.success(`Set to ${className}. The students see it now.`);
                onClose();
              },
            },
          ),
        )
      }
      destroyOnHidden
    >
      <Form form={form} layout="vertical" requiredMark={false} preserve={false}>
        <Form.Item label="Class" name="classId" rules={[{ required: true, message: 'Choose a class.' }]}>
          <Select
            loading={classes.isPending}
            placeholder="Choose a class"
            options={(classes.data ?? []).map(({ id, name, students }) => ({
              value: id,
              label: `${name} (${students} students)${taken.includes(id) ? ', already set' : ''}`,
              disabled: taken.includes(id),
            }))}
          />
        </Form.Item>
        <Form.Item label="Due (may be left empty)" name="due">
          <DatePicker format="D MMM YYYY" minDate={dayjs()} />
        </Form.Item>
      </Form>
      {assign.isError && <Alert type="error" showIcon title={assign.error.message} />}
    </Modal>
  );
}
