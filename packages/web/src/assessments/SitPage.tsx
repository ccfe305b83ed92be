import { useState } from 'react';
import { Alert, Button, Form, Input, Modal, Popconfirm, Spin } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import { plural } from '@contactum/core';
import type { SittingTask, SittingView } from '@contactum/contract';
import { useSitting, useSittingActs } from '../api/assessments.js';
import { placeOfAttempt } from '../api/queries.js';
import { Blank } from '../shell/Blank.js';
import { useToasts } from '../shell/toasts.js';
import { AppealList } from './Appeals.js';
import { Countdown, Presence } from './SittingBar.js';
import { AID_WORDS, TASK_WORDS, at } from './words.js';

/** An assessment as its student sits it. */
export function SitPage() {
  const { id = '' } = useParams();
  const sitting = useSitting(id);
  if (sitting.isError && !sitting.data)
    return (
      <Blank title={sitting.error.message} act={{ text: 'Back to the assessments', to: '/assessments' }} />
    );
  if (!sitting.data) return <Spin className="waiting" aria-label="Opening the assessment" />;
  const view = sitting.data;
  const isOver = view.handedInAt !== null || view.voided !== null;
  return (
    <main className="page sit-page">
      <div className="page-head">
        <span className="assessment-title">
          <h1>{view.title}</h1>
          <span className="quiet">{view.className}</span>
        </span>
        {view.startedAt !== null && !isOver && (
          <span className="page-acts">
            <Countdown clock={view} />
          </span>
        )}
      </div>
      {view.startedAt !== null && !isOver && <Presence assessmentId={id} />}
      {view.voided !== null && (
        <Alert
          type="error"
          showIcon
          title={`This sitting is void: ${view.voided}. Speak to your instructor.`}
        />
      )}
      {view.startedAt === null && view.voided === null && <Before view={view} />}
      {view.startedAt !== null && <Tasks view={view} isOver={isOver} />}
      {view.outcome && <OutcomeTable view={view} />}
      {view.startedAt !== null && !isOver && <EndSitting view={view} />}
      {isOver && view.outcome === null && view.voided === null && (
        <p className="quiet">
          Handed in {at(view.handedInAt)}. Marks are shown to everybody at one moment, when they are released.
        </p>
      )}
    </main>
  );
}

/** What is told before the start: how long, how many tasks, what may be used; and the way in. */
function Before({ view }: { view: SittingView }) {
  const { start } = useSittingActs(view.id);
  const [code, setCode] = useState('');
  const isTogether = view.start === 'together';
  return (
    <section className="sit-before">
      <Conditions view={view} />
      <p>
        The time is the server’s. If this computer or the network fails, sign in on any machine and go on
        where you were; what you did is stored. Work in one window: the one that was opened last works. At the
        end everything is handed in by itself.
      </p>
      {isTogether ? (
        <Alert
          type="info"
          showIcon
          title="The invigilator starts everybody at once. Stay on this page: it goes on by itself."
        />
      ) : (
        <Form layout="inline" onFinish={() => start.mutate(code)}>
          {view.needsCode && (
            <Form.Item label="Room code">
              <Input
                aria-label="Room code"
                value={code}
                maxLength={12}
                autoFocus
                onChange={({ target }) => setCode(target.value)}
              />
            </Form.Item>
          )}
          <Button type="primary" htmlType="submit" loading={start.isPending}>
            Start now
          </Button>
        </Form>
      )}
      {start.isError && <Alert type="error" showIcon title={start.error.message} />}
    </section>
  );
}

/** How long, how many tasks, and what may be used. */
function Conditions({ view }: { view: SittingView }) {
  return (
    <dl>
      <dt>Time</dt>
      <dd>
        {plural(view.minutes, 'minute')}
        {view.extraMinutes > 0 && `, and ${view.extraMinutes} more for you`}
      </dd>
      <dt>Tasks</dt>
      <dd>
        {plural(view.taskCount, 'task')}, {view.order === 'fixed' ? 'one after the other' : 'in any order'}
      </dd>
      <dt>You may use</dt>
      <dd>
        {view.aids.length > 0 ? view.aids.map((aid) => AID_WORDS[aid]).join(', ') : 'nothing but the board'}
      </dd>
      {view.opensAt !== null && (
        <>
          <dt>Opens</dt>
          <dd>{at(view.opensAt)}</dd>
        </>
      )}
      {view.closesAt !== null && (
        <>
          <dt>Latest start</dt>
          <dd>{at(view.closesAt)}</dd>
        </>
      )}
    </dl>
  );
}

const STATES: Readonly<Record<SittingTask['state'], string>> = {
  'to do': 'not begun',
  locked: 'locked until the task before it is handed in',
  'under way': 'under way',
  'handed in': 'handed in',
  watched: 'observed at the bench',
  'at the bench': 'wired on the physical board',
};

function Tasks({ view, isOver }: { view: SittingView; isOver: boolean }) {
  const { begin } = useSittingActs(view.id);
  const navigate = useNavigate();
  const toast = useToasts();
  const open = ({ id, task }: SittingTask) => {
    const go = async () => {
      const { attemptId } = await begin.mutateAsync(id);
      await navigate(await placeOfAttempt(attemptId, task === 'find' || task === 'answer' ? task : 'wire'));
    };
    go().catch((error: unknown) => {
      toast.error((error as Error).message);
    });
  };
  return (
    <ol className="sit-tasks" aria-label="Tasks">
      {view.tasks.map((task) => (
        <li key={task.id} data-state={task.state}>
          <span className="sit-title">
            <strong>{task.title}</strong>
            <span className="quiet">
              {task.task ? TASK_WORDS[task.task] : 'Observed by an examiner'} · {task.weight} % of the total
              {task.minutes !== null && ` · ${plural(task.minutes, 'minute')} of its own`}
            </span>
            {task.brief !== null && <span className="sit-brief">{task.brief}</span>}
            {task.criteria.length > 0 && (
              <span className="quiet">{task.criteria.map(({ title }) => title).join(' · ')}</span>
            )}
          </span>
          <span className="sit-state">
            {STATES[task.state]}
            {task.state === 'under way' && task.endsAt !== null && !isOver && (
              <Countdown clock={{ ...view, endsAt: task.endsAt }} />
            )}
          </span>
          {task.kind === 'exercise' && !task.physical && !isOver && task.state !== 'handed in' && (
            <Button
              type={task.state === 'under way' ? 'primary' : 'default'}
              disabled={task.state === 'locked' || view.pausedAt !== null}
              loading={begin.isPending && begin.variables === task.id}
              onClick={() => open(task)}
            >
              {task.state === 'under way' ? 'Continue' : 'Begin'}
            </Button>
          )}
          {view.outcome && task.attemptId !== null && <Link to={`/slip/${task.attemptId}`}>Slip</Link>}
        </li>
      ))}
    </ol>
  );
}

function EndSitting({ view }: { view: SittingView }) {
  const { handIn } = useSittingActs(view.id);
  const open = view.tasks.filter(
    ({ kind, physical, state }) => kind === 'exercise' && !physical && state !== 'handed in',
  ).length;
  return (
    <div className="sit-end">
      <Popconfirm
        title="End the assessment?"
        description={
          open > 0
            ? `${plural(open, 'task')} not handed in yet. What is begun is handed in as it stands; nothing can be done after it.`
            : 'Nothing can be done after it.'
        }
        okText="End and hand in"
        onConfirm={() => handIn.mutate()}
      >
        <Button danger disabled={view.pausedAt !== null} loading={handIn.isPending}>
          End the assessment
        </Button>
      </Popconfirm>
      {handIn.isError && <Alert type="error" showIcon title={handIn.error.message} />}
    </div>
  );
}

/** What the marks came to, once they are released; and asking to have one looked at again. */
function OutcomeTable({ view }: { view: SittingView }) {
  const [asking, setAsking] = useState<{ task: string; title: string } | null>(null);
  const { outcome } = view;
  if (!outcome) return null;
  return (
    <section>
      <div className={`verdict ${outcome.passed ? 'passed' : 'failed'}`}>
        <span className="score">
          {outcome.percent}
          <small> %</small>
        </span>
        <span>
          <strong>{outcome.passed ? 'Passed' : 'Not passed'}</strong>
          {outcome.reasons.length > 0 && (
            <span className="verdict-reason">: {outcome.reasons.join('; ')}</span>
          )}
        </span>
      </div>
      <table className="outcome-table">
        <thead>
          <tr>
            <th>Task</th>
            <th>Points</th>
            <th>Of the whole</th>
            <th aria-label="Appeal" />
          </tr>
        </thead>
        <tbody>
          {outcome.tasks.map((task) => (
            <tr key={task.id}>
              <td>{task.title}</td>
              <td className="mono">{task.max > 0 ? `${task.points} of ${task.max}` : 'not begun'}</td>
              <td className="mono">
                {task.share} of {task.mostShare} %
              </td>
              <td>
                <Button size="small" onClick={() => setAsking({ task: task.id, title: task.title })}>
                  Appeal
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <AppealList appeals={view.appeals} tasks={view.tasks} />
      {asking && <AppealDialog view={view} {...asking} onClose={() => setAsking(null)} />}
    </section>
  );
}

function AppealDialog({
  view,
  task,
  title,
  onClose,
}: {
  view: SittingView;
  task: string;
  title: string;
  onClose: () => void;
}) {
  const { appeal } = useSittingActs(view.id);
  const [text, setText] = useState({ criterion: '', text: '' });
  return (
    <Modal
      open
      title={`Appeal: ${title}`}
      okText="Send"
      confirmLoading={appeal.isPending}
      okButtonProps={{ disabled: text.criterion.trim() === '' || text.text.trim().length < 10 }}
      onCancel={onClose}
      onOk={() => appeal.mutate({ task, ...text }, { onSuccess: onClose })}
    >
      <Form layout="vertical">
        <Form.Item label="Which criterion">
          <Input
            aria-label="Which criterion"
            value={text.criterion}
            maxLength={120}
            onChange={({ target }) => setText({ ...text, criterion: target.value })}
          />
        </Form.Item>
        <Form.Item label="Why it should be looked at again">
          <Input.TextArea
            aria-label="Why it should be looked at again"
            rows={4}
            value={text.text}
            maxLength={2000}
            onChange={({ target }) => setText({ ...text, text: target.value })}
          />
        </Form.Item>
      </Form>
      {appeal.isError && <Alert type="error" showIcon title={appeal.error.message} />}
    </Modal>
  );
}
