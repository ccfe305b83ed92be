import { lazy, Suspense } from 'react';
import { Alert, Badge, Button, Popconfirm, Spin, Tabs } from 'antd';
import { DownloadOutlined } from '@ant-design/icons';
import { useParams } from 'react-router';
import { plural } from '@contactum/core';
import type { AssessmentForInstructor, Person } from '@contactum/contract';
import { useAssessment } from '../api/assessments.js';
import { Blank } from '../shell/Blank.js';
import { AnswerAppeals } from './AnswerAppeals.js';
import { StateTag } from './AssessmentsPage.js';
import { Examine } from './Examine.js';
import { Invigilate } from './Invigilate.js';
import { Outcomes } from './Outcomes.js';
import { useActs } from './use-acts.js';
import { AID_WORDS } from './words.js';
import './assessments.css';

const LookBackPane = lazy(() => import('./LookBackPane.js').then((m) => ({ default: m.LookBackPane })));
const LikenessPane = lazy(() => import('./LikenessPane.js').then((m) => ({ default: m.LikenessPane })));

/** An assessment of a class: the room, the marks, and what they tell. */
export function AssessmentPage({ person }: { person: Person }) {
  const { id = '' } = useParams();
  const assessment = useAssessment(id);
  if (assessment.isError && !assessment.data)
    return (
      <Blank title={assessment.error.message} act={{ text: 'Back to the assessments', to: '/assessments' }} />
    );
  if (!assessment.data) return <Spin className="waiting" aria-label="Opening the assessment" />;
  const view = assessment.data;
  return (
    <main className="page assessment-page">
      <div className="page-head">
        <span className="assessment-title">
          <h1>{view.title}</h1>
          <span className="quiet">{view.className}</span>
          <StateTag state={view.state} />
        </span>
        <Ending view={view} />
      </div>
      <p className="quiet">
        {plural(view.tasks.length, 'task')}, {view.minutes} min,{' '}
        {view.order === 'fixed' ? 'fixed order' : 'any order'} · aids:{' '}
        {view.aids.length > 0 ? view.aids.map((aid) => AID_WORDS[aid]).join(', ') : 'none'} · passes:{' '}
        {passWords(view)}
      </p>
      {assessment.isError && <Alert type="warning" showIcon title={assessment.error.message} />}
      <Panes view={view} person={person} />
    </main>
  );
}

/** The room, the examiners' marks, all marks, appeals, and what the marks tell. */
function Panes({ view, person }: { view: AssessmentForInstructor; person: Person }) {
  const open = view.appeals.filter(({ answer }) => answer === null).length;
  const isWatched = view.tasks.some(({ kind }) => kind === 'observed');
  return (
    <Tabs
      defaultActiveKey={
        view.state === 'set' || view.state === 'running' || view.state === 'paused' ? 'room' : 'marks'
      }
      items={[
        { key: 'room', label: 'Room', children: <Invigilate view={view} /> },
        ...(isWatched
          ? [{ key: 'examine', label: 'Examine', children: <Examine view={view} person={person} /> }]
          : []),
        { key: 'marks', label: 'Marks', children: <Outcomes view={view} /> },
        {
          key: 'appeals',
          label: (
            <>
              Appeals <Badge count={open} size="small" />
            </>
          ),
          children: <AnswerAppeals view={view} />,
        },
        {
          key: 'back',
          label: 'Analysis',
          children: (
            <Suspense fallback={<Spin />}>
              <LookBackPane id={view.id} />
            </Suspense>
          ),
        },
        {
          key: 'alike',
          label: 'Similarity',
          children: (
            <Suspense fallback={<Spin />}>
              <LikenessPane id={view.id} />
            </Suspense>
          ),
        },
      ]}
    />
  );
}

function passWords({ pass, tasks }: AssessmentForInstructor): string {
  const must = tasks.filter(({ mustPass }) => mustPass).map(({ title }) => `“${title}”`);
  return [
    ...(pass.sum === null ? [] : [`${pass.sum} % of the whole`]),
    ...(pass.each ? ['each task'] : must),
  ].join(', ');
}

/** Signing off, releasing, and the packs of the class. */
function Ending({ view }: { view: AssessmentForInstructor }) {
  const { go, say, doing } = useActs(view.id);
  const end = (act: 'sign off' | 'release', said: string) => go({ act }, () => say(said));
  const hasBegun = view.sittings.some(({ startedAt }) => startedAt !== null);
  return (
    <span className="page-acts">
      {!hasBegun && (view.state === 'set' || view.state === 'withdrawn') && (
        <Button onClick={() => go({ act: 'withdraw', withdrawn: view.state === 'set' })}>
          {view.state === 'set' ? 'Withdraw' : 'Restore'}
        </Button>
      )}
      {view.state === 'ended' && (
        <Popconfirm
          title="Sign off the marks?"
          description="From then on a mark changes by an appeal only."
          okText="Sign off"
          onConfirm={() => end('sign off', 'Signed off.')}
        >
          <Button type="primary" disabled={view.missing.length > 0} loading={doing === 'sign off'}>
            Sign off
          </Button>
        </Popconfirm>
      )}
      {view.state === 'signed off' && (
        <Popconfirm
          title="Release the marks?"
          description="Every student sees the own marks at this moment."
          okText="Release"
          onConfirm={() => end('release', 'Everybody sees their marks now.')}
        >
          <Button type="primary" loading={doing === 'release'}>
            Release the marks
          </Button>
        </Popconfirm>
      )}
      {view.signedOff && (
        <a className="button-link" href={`/api/assessments/${view.id}/packs.zip`} download>
          <DownloadOutlined /> Evidence packs
        </a>
      )}
    </span>
  );
}
