import { PlusOutlined } from '@ant-design/icons';
import { Alert, Select, Spin, Table, Tag } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import { plural } from '@contactum/core';
import type { AssessmentSummary, Person, SittingView } from '@contactum/contract';
import { useAssessments, useSittings } from '../api/assessments.js';
import { useClasses } from '../api/queries.js';
import { Blank } from '../shell/Blank.js';
import { STATE_WORDS, at } from './words.js';
import './assessments.css';

/** The assessments of a class, or those that a student sits. */
export const AssessmentsPage = ({ person }: { person: Person }) =>
  person.role === 'student' ? <OwnSittings /> : <OfClass />;

function OfClass() {
  const { classId } = useParams();
  const classes = useClasses();
  const navigate = useNavigate();
  const chosen = classId ?? classes.data?.find(({ archived }) => !archived)?.id;
  const all = useAssessments(chosen);
  if (classes.isPending) return <Spin className="waiting" />;
  if (classes.isError) return <Alert className="page" type="error" showIcon title={classes.error.message} />;
  if (!chosen)
    return <Blank title="You have no class yet." act={{ text: 'Go to the classes', to: '/classes' }} />;
  return (
    <main className="page">
      <div className="page-head">
        <h1>Assessments</h1>
        <span className="page-acts">
          <Select
            aria-label="Class"
            value={chosen}
            style={{ minWidth: 240 }}
            options={classes.data.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(id) => void navigate(`/assessments/${id}`)}
          />
          <Link to={`/assessments/${chosen}/new`} className="button-link primary">
            <PlusOutlined /> Set an assessment
          </Link>
        </span>
      </div>
      {all.isPending && <Spin className="waiting" />}
      {all.isError && <Alert type="error" showIcon title={all.error.message} />}
      {all.data?.length === 0 && (
        <Blank title="No assessment is set to this class yet.">
          Several tasks under conditions: wiring, faults, programs, questions and what you watch at the bench,
          with time, aids, weights, a second examiner and a moderator.
        </Blank>
      )}
      {all.data && all.data.length > 0 && <AssessmentTable list={all.data} />}
    </main>
  );
}

function AssessmentTable({ list }: { list: readonly AssessmentSummary[] }) {
  return (
    <Table<AssessmentSummary>
      size="small"
      rowKey="id"
      pagination={false}
      dataSource={[...list]}
      columns={[
        {
          title: 'Assessment',
          dataIndex: 'title',
          rowScope: 'row',
          render: (title: string, { id }) => <Link to={`/assessment/${id}`}>{title}</Link>,
        },
        {
          title: 'State',
          dataIndex: 'state',
          render: (state: AssessmentSummary['state']) => <StateTag state={state} />,
        },
        { title: 'Tasks', dataIndex: 'tasks' },
        { title: 'Time', dataIndex: 'minutes', render: (minutes: number) => `${minutes} min` },
        { title: 'Opens', dataIndex: 'opensAt', render: at },
        {
          title: 'Started',
          render: (_, { started, students }) => `${started} of ${students}`,
        },
        { title: 'Handed in', render: (_, { handedIn, students }) => `${handedIn} of ${students}` },
      ]}
    />
  );
}

const COLOURS: Partial<Record<AssessmentSummary['state'], string>> = {
  running: 'green',
  paused: 'orange',
  ended: 'blue',
  released: 'default',
};

export const StateTag = ({ state }: { state: AssessmentSummary['state'] }) => (
  <Tag color={COLOURS[state] ?? 'default'}>{STATE_WORDS[state]}</Tag>
);

function OwnSittings() {
  const sittings = useSittings();
  if (sittings.isPending) return <Spin className="waiting" />;
  if (sittings.isError)
    return <Alert className="page" type="error" showIcon title={sittings.error.message} />;
  if (sittings.data.length === 0)
    return (
      <Blank
        title="No assessment is set to your classes."
        act={{ text: 'Go to the exercises', to: '/exercises' }}
      />
    );
  return (
    <main className="page">
      <h1>Assessments</h1>
      <ul className="sittings">
        {sittings.data.map((one) => (
          <li key={one.id}>
            <Link to={`/sit/${one.id}`}>
              <strong>{one.title}</strong>
            </Link>
            <span className="quiet">
              {one.className} · {plural(one.taskCount, 'task')} · {one.minutes + one.extraMinutes} min
              {one.opensAt !== null && ` · opens ${at(one.opensAt)}`}
            </span>
            <span>{standingOf(one)}</span>
          </li>
        ))}
      </ul>
    </main>
  );
}

function standingOf({ voided, outcome, handedInAt, startedAt, pausedAt }: SittingView): string {
  if (voided !== null) return 'void';
  if (outcome) return `${outcome.percent} %, ${outcome.passed ? 'passed' : 'not passed'}`;
  if (handedInAt !== null) return 'handed in; marks are not released yet';
  if (startedAt === null) return 'not started';
  return pausedAt === null ? 'under way' : 'paused';
}
