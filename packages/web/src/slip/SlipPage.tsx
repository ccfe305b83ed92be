import { useState } from 'react';
import { EditOutlined } from '@ant-design/icons';
import { Alert, Button, Form, Input, InputNumber, Modal, Spin } from 'antd';
import dayjs from 'dayjs';
import { Link, useParams } from 'react-router';
import type { Criterion, Part, Report } from '@contactum/core';
import { describeProof, describeStimulus, type RepairEdit } from '@contactum/core';
import { capital } from '../bench/store.js';
import type { Person, Slip } from '@contactum/contract';
import { useSlip, useSlipChanges } from '../api/queries.js';
import { RepairSection } from './RepairSection.js';
import { Replay, type Proof } from './Replay.js';
import { ToleranceTable } from './ToleranceTable.js';
import { Sequence, stimuliOf, valuesInWords } from './steps.js';
import { Version } from './Version.js';

const PARTS: Readonly<Record<Part, string>> = {
  behaviour: 'Behaviour',
  safety: 'Safety',
  rules: 'House rules',
  workmanship: 'Workmanship',
};

/** One attempt: every point, why each lost one was lost, and its proof played on the board. */
export function SlipPage({ person }: { person: Person }) {
  const { id = '' } = useParams();
  const query = useSlip(id);
  const [proof, setProof] = useState<Proof | null>(null);
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const slip = query.data;
  if (!slip.report) {
    return (
      <main className="page">
        <h1>{slip.exercise.title}</h1>
        {slip.attempt.state === 'open' ? (
          <OpenAttempt slip={slip} person={person} />
        ) : slip.failure !== null ? (
          <Failed slip={slip} person={person} reason={slip.failure} />
        ) : (
          <p>
            <Spin size="small" /> Handed in. Every order of working it is being tried …
          </p>
        )}
      </main>
    );
  }
  return <MarkedSlip slip={slip} report={slip.report} person={person} proof={proof} onProof={setProof} />;
}

/** An attempt that could not be marked: why, and how to go on. */
function Failed({ slip, person, reason }: { slip: Slip; person: Person; reason: string }) {
  const { markAgain } = useSlipChanges(slip.attempt.id);
  return (
    <>
      <Alert
        type="error"
        showIcon
        title="This attempt could not be marked."
        description={
          <>
            <p>The marker stopped: {reason}</p>
            <p>
              The wiring with its {slip.bench.wires.length} leads is kept.{' '}
              {person.role === 'student'
                ? 'Your instructor can mark it again; you may begin a new attempt meanwhile.'
                : 'Mark it again once the exercise is in order; the student may begin a new attempt meanwhile.'}
            </p>
          </>
        }
      />
      {person.role === 'instructor' && (
        <p className="page-acts">
          <Button loading={markAgain.isPending} onClick={() => markAgain.mutate('set')}>
            Mark again
          </Button>
          <Button loading={markAgain.isPending} onClick={() => markAgain.mutate('now')}>
            Mark again by the exercise as it is now
          </Button>
        </p>
      )}
      {markAgain.isError && <Alert type="warning" showIcon title={markAgain.error.message} />}
    </>
  );
}

/** An attempt under way, as its instructor sees it. */
function OpenAttempt({ slip, person }: { slip: Slip; person: Person }) {
  const { permit } = useSlipChanges(slip.attempt.id);
  return (
    <>
      <p>
        {slip.student.name}, {slip.className}. This attempt has not been handed in yet. Its board has{' '}
        {slip.bench.wires.length} leads.
      </p>
      {person.role === 'instructor' && (
        <>
          <p>
            {slip.permittedAt
              ? `Permission to energise was given at ${dayjs(slip.permittedAt).format('HH:mm:ss')}; it holds until the wiring is changed.`
              : 'No permission to energise has been given.'}
          </p>
          <Button loading={permit.isPending} onClick={() => permit.mutate()}>
            Give permission to energise
          </Button>
          {permit.isError && <Alert type="error" showIcon title={permit.error.message} />}
        </>
      )}
    </>
  );
}

function MarkedSlip({
  slip,
  report,
  person,
  proof,
  onProof,
}: {
  slip: Slip;
  report: Report;
  person: Person;
  proof: Proof | null;
  onProof: (proof: Proof | null) => void;
}) {
  const [changing, setChanging] = useState<Criterion | null>(null);
  const [shown, setShown] = useState<readonly RepairEdit[] | null>(null);
  const result = slip.result ?? {
    score: report.score,
    max: report.max,
    passed: report.passed,
    changed: false,
    reason: report.reason,
  };
  return (
    <main className="slip">
      <section className="slip-list">
        <p className="crumb">
          {person.role === 'instructor' ? (
            <Link to={`/marks/${slip.classId}`}>{slip.className}</Link>
          ) : (
            <Link to="/exercises">Exercises</Link>
          )}
        </p>
        <h1>{slip.exercise.title}</h1>
        <p className="quiet">
          {slip.student.name} · attempt {slip.attempt.number} · handed in{' '}
          {dayjs(slip.attempt.handedInAt).format('D MMM YYYY, HH:mm')}
        </p>
        {person.role === 'instructor' && (
          <p>
            <Link to={`/compare/${slip.attempt.id}`}>Beside the reference</Link>
          </p>
        )}
        <div className={`verdict ${result.passed ? 'passed' : 'failed'}`}>
          <span className="score">
            {result.score}
            <small> of {result.max}</small>
          </span>
          <span>
            <strong>{result.passed ? 'Passed' : 'Not passed'}</strong>
            {result.reason !== null && <span className="verdict-reason">: {result.reason}</span>}
            {result.changed && <span> · marker gave {report.score}</span>}
          </span>
        </div>
        {report.share < 1 && (
          <p className="quiet">
            Safety, house rules and workmanship count at {Math.round(report.share * 1000) / 10} %, the share
            that was earned of the behaviour.
          </p>
        )}
        <p className="quiet">{capital(describeProof(report.proof))}.</p>
        <Equivalence report={report} onProof={onProof} />
        {(Object.keys(PARTS) as Part[]).map((part) => {
          const list = report.criteria.filter((criterion) => criterion.part === part);
          return list.length === 0 ? null : (
            <section key={part} aria-label={PARTS[part]}>
              <h2>{PARTS[part]}</h2>
              <ul className="criteria">
                {list.map((criterion) => (
                  <CriterionRow
                    key={criterion.id}
                    criterion={criterion}
                    slip={slip}
                    shown={proof?.key === `${part} ${criterion.id}`}
                    onProof={onProof}
                    onChange={person.role === 'instructor' ? () => setChanging(criterion) : undefined}
                  />
                ))}
              </ul>
            </section>
          );
        })}
        <ToleranceTable report={report} shown={proof?.key ?? ''} onProof={onProof} />
        {slip.mayRepair && (
          <RepairSection
            slip={slip}
            onShow={(repair) => {
              setShown(repair);
              onProof(null);
            }}
          />
        )}
        <Remarks slip={slip} person={person} />
        <Version slip={slip} report={report} person={person} />
      </section>
      <Replay slip={slip} proof={proof} repair={proof ? null : shown} onClose={() => onProof(null)} />
      {changing && <ChangePoints slip={slip} criterion={changing} onClose={() => setChanging(null)} />}
    </main>
  );
}

function Equivalence({ report, onProof }: { report: Report; onProof: (proof: Proof) => void }) {
  const { equivalent, counterexample, pairs } = report.equivalence;
  if (equivalent)
    return (
      <Alert
        type="success"
        showIcon
        title={`Does the same as the reference in all ${pairs.toLocaleString('en-GB')} pairs of situations.`}
      />
    );
  if (!counterexample)
    return (
      <Alert type="warning" showIcon title="Whether it does the same as the reference was not decided." />
    );
  return (
    <Alert
      type="warning"
      showIcon
      title="Does not do the same as the reference."
      description={
        <>
          {counterexample.steps.length > 0
            ? `After ${counterexample.steps.map(describeStimulus).join(', ')}: `
            : 'At once: '}
          reference {valuesInWords(counterexample.expected)}; this board{' '}
          {valuesInWords(counterexample.actual)}.
        </>
      }
      action={
        <Button
          size="small"
          onClick={() =>
            onProof({
              key: 'equivalence',
              title: 'Where it differs from the reference',
              steps: counterexample.steps,
              found: `Reference: ${valuesInWords(counterexample.expected)}. This board: ${valuesInWords(counterexample.actual)}.`,
              where: [],
            })
          }
        >
          Replay
        </Button>
      }
    />
  );
}

function CriterionRow({
  criterion,
  slip,
  shown,
  onProof,
  onChange,
}: {
  criterion: Criterion;
  slip: Slip;
  shown: boolean;
  onProof: (proof: Proof) => void;
  onChange: (() => void) | undefined;
}) {
  const { part, id, title, points, max, evidence } = criterion;
  const change = slip.changes.findLast((one) => one.part === part && one.criterion === id);
  const steps = stimuliOf(evidence?.steps ?? []);
  return (
    <li className={evidence ? 'lost' : 'kept'} data-shown={shown ? 'yes' : undefined}>
      <span className="sign" aria-label={evidence ? 'lost' : 'kept'}>
        {evidence ? '✕' : '✓'}
      </span>
      <div className="criterion-text">
        <strong>{title}</strong>
        {criterion.essential === false && <span className="quiet"> not essential</span>}
        {evidence && (
          <p>
            {evidence.steps && <Sequence steps={steps} />}
            {evidence.found}
          </p>
        )}
        {change && (
          <p className="quiet">
            Changed from {change.from} to {change.to} by {change.by}: {change.reason}
          </p>
        )}
        <span className="criterion-acts">
          {evidence && (evidence.steps !== undefined || (evidence.where?.length ?? 0) > 0) && (
            <Button
              size="small"
              onClick={() =>
                onProof({
                  key: `${part} ${id}`,
                  title,
                  steps,
                  found: evidence.found,
                  where: evidence.where ?? [],
                  still: evidence.steps === undefined,
                })
              }
            >
              {evidence.steps === undefined ? 'Show on the board' : 'Replay'}
            </Button>
          )}
          {evidence?.otherwise && (
            <Button
              size="small"
              onClick={() =>
                onProof({
                  key: `${part} ${id} otherwise`,
                  title: `${title}: the other order`,
                  steps: stimuliOf(evidence.otherwise ?? []),
                  found: evidence.found,
                  where: [],
                })
              }
            >
              Replay the other order
            </Button>
          )}
        </span>
      </div>
      <span className="criterion-points">
        {change ? change.to : points}
        <small> of {max}</small>
        {onChange && (
          <Button
            size="small"
            type="text"
            icon={<EditOutlined />}
            aria-label={`Change points of ${title}`}
            title="Change points"
            onClick={onChange}
          />
        )}
      </span>
    </li>
  );
}

function Remarks({ slip, person }: { slip: Slip; person: Person }) {
  const { remark } = useSlipChanges(slip.attempt.id);
  const [text, setText] = useState('');
  return (
    <section aria-label="Remarks">
      <h2>Remarks</h2>
      {slip.remarks.length === 0 && <p className="quiet">No remark.</p>}
      {slip.remarks.map((one) => (
        <blockquote key={one.id}>
          <p>{one.text}</p>
          <footer className="quiet">
            {one.by}, {dayjs(one.at).format('D MMM YYYY, HH:mm')}
          </footer>
        </blockquote>
      ))}
      {person.role === 'instructor' && (
        <div className="remark-form">
          <Input.TextArea
            aria-label="New remark"
            rows={2}
            maxLength={2000}
            value={text}
            placeholder="What should this student look at?"
            onChange={({ target }) => setText(target.value)}
          />
          <Button
            disabled={text.trim() === ''}
            loading={remark.isPending}
            onClick={() => remark.mutate(text.trim(), { onSuccess: () => setText('') })}
          >
            Add remark
          </Button>
          {remark.isError && <Alert type="error" showIcon title={remark.error.message} />}
        </div>
      )}
    </section>
  );
}

function ChangePoints({
  slip,
  criterion,
  onClose,
}: {
  slip: Slip;
  criterion: Criterion;
  onClose: () => void;
}) {
  const { points } = useSlipChanges(slip.attempt.id);
  const [form] = Form.useForm<{ points: number; reason: string }>();
  const now =
    slip.changes.findLast((one) => one.part === criterion.part && one.criterion === criterion.id)?.to ??
    criterion.points;
  return (
    <Modal
      open
      title={`Change points: ${criterion.title}`}
      okText="Change"
      confirmLoading={points.isPending}
      onCancel={onClose}
      onOk={() =>
        void form
          .validateFields()
          .then((values) =>
            points.mutate(
              { part: criterion.part, criterion: criterion.id, ...values },
              { onSuccess: onClose },
            ),
          )
      }
    >
      <Form form={form} layout="vertical" requiredMark={false} initialValues={{ points: now, reason: '' }}>
        <Form.Item
          label={`Points, at most ${criterion.max}`}
          name="points"
          rules={[{ required: true, message: 'Type the points.' }]}
        >
          <InputNumber min={0} max={criterion.max} step={0.5} autoFocus />
        </Form.Item>
        <Form.Item
          label="Reason (the student reads it)"
          name="reason"
          rules={[{ required: true, min: 3, message: 'Give a reason.' }]}
        >
          <Input.TextArea rows={2} maxLength={500} />
        </Form.Item>
      </Form>
      {criterion.part === 'safety' && (
        <p className="quiet">Points do not turn a failed safety property into a pass.</p>
      )}
      {points.isError && <Alert type="error" showIcon title={points.error.message} />}
    </Modal>
  );
}
