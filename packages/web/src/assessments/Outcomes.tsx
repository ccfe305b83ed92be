import { useState } from 'react';
import { Alert, Button, Input, Modal, Radio, Table, Tag } from 'antd';
import { Link } from 'react-router';
import type { AssessmentForInstructor, ReviewRequest, SittingRow } from '@contactum/contract';
import { useActs } from './use-acts.js';

/** What everybody's work came to; whom the moderator looks at; what is missing before it is signed off. */
export function Outcomes({ view }: { view: AssessmentForInstructor }) {
  const [reviewing, setReviewing] = useState<SittingRow | null>(null);
  const sat = view.sittings.filter(({ startedAt }) => startedAt !== null);
  const absent = view.sittings.length - sat.length;
  return (
    <>
      {view.signedOff ? (
        <Alert
          type="success"
          showIcon
          title={
            `Signed off by ${view.signedOff.by}. ` +
            (view.releasedAt ? 'The marks are released.' : 'Students see their marks once they are released.')
          }
        />
      ) : (
        view.missing.length > 0 && (
          <Alert
            type="info"
            showIcon
            title="Before it can be signed off:"
            description={
              <ul className="missing">
                {view.missing.map((one) => (
                  <li key={one}>{one}</li>
                ))}
              </ul>
            }
          />
        )
      )}
      <Table<SittingRow>
        size="small"
        rowKey={({ student }) => student.id}
        pagination={false}
        dataSource={sat}
        columns={[
          { title: 'Student', rowScope: 'row', render: (_, { student }) => student.name },
          ...view.tasks.map(({ id, title }, k) => ({
            title,
            key: id,
            render: (_: unknown, row: SittingRow) => <TaskCell row={row} k={k} />,
          })),
          {
            title: 'Total',
            sorter: (a, b) => a.outcome.percent - b.outcome.percent,
            render: (_, row) => <WholeCell row={row} />,
          },
          {
            title: 'Moderation',
            render: (_, row) => <ModerationCell view={view} row={row} onReview={() => setReviewing(row)} />,
          },
        ]}
      />
      {absent > 0 && <p className="quiet">{absent} of the class did not sit it.</p>}
      {reviewing && <Review view={view} row={reviewing} onClose={() => setReviewing(null)} />}
    </>
  );
}

function TaskCell({ row, k }: { row: SittingRow; k: number }) {
  const task = row.outcome.tasks[k];
  if (!task) return null;
  const attempt = row.attempts.find((one) => one.task === task.id);
  const words = !task.complete
    ? attempt
      ? attempt.state === 'open'
        ? 'under way'
        : 'being marked'
      : 'to be judged'
    : task.max > 0
      ? `${task.points} of ${task.max}`
      : 'not begun';
  const sign = task.complete && task.max > 0 ? (task.passed ? '✓ ' : '✕ ') : '';
  const said = (
    <span className={`mark-cell ${task.passed ? 'passed' : 'failed'}`}>
      <span aria-hidden="true">{sign}</span>
      {words}
    </span>
  );
  return attempt && attempt.state !== 'open' ? <Link to={`/slip/${attempt.attemptId}`}>{said}</Link> : said;
}

function WholeCell({ row }: { row: SittingRow }) {
  if (row.voided) return <Tag color="red">void</Tag>;
  const { outcome } = row;
  return (
    <span className={`mark-cell ${outcome.passed ? 'passed' : 'failed'}`} title={outcome.reasons.join('; ')}>
      <span aria-hidden="true">{outcome.complete ? (outcome.passed ? '✓' : '✕') : '…'}</span>{' '}
      {outcome.percent} %
      <span className="quiet">{outcome.complete ? (outcome.passed ? '' : ' not passed') : ' so far'}</span>
    </span>
  );
}

function ModerationCell({
  view,
  row,
  onReview,
}: {
  view: AssessmentForInstructor;
  row: SittingRow;
  onReview: () => void;
}) {
  const sampled = view.sample.find(({ id }) => id === row.student.id);
  return (
    <span className="row-acts">
      {row.review ? (
        <span title={row.review.note}>
          {row.review.verdict} ({row.review.by})
        </span>
      ) : (
        sampled && <Tag>{sampled.why}</Tag>
      )}
      {!view.signedOff && row.voided === null && (
        <Button size="small" onClick={onReview}>
          {row.review ? 'Change' : 'Moderate'}
        </Button>
      )}
    </span>
  );
}

function Review({
  view,
  row,
  onClose,
}: {
  view: AssessmentForInstructor;
  row: SittingRow;
  onClose: () => void;
}) {
  const { go, isPending } = useActs(view.id);
  const [verdict, setVerdict] = useState<ReviewRequest['verdict']>(row.review?.verdict ?? 'confirmed');
  const [note, setNote] = useState(row.review?.note ?? '');
  return (
    <Modal
      open
      title={`Moderation: ${row.student.name}`}
      okText="Save"
      okButtonProps={{ disabled: verdict === 'to be changed' && note.trim() === '' }}
      confirmLoading={isPending}
      onCancel={onClose}
      onOk={() => go({ act: 'review', body: { student: row.student.id, verdict, note } }, onClose)}
    >
      <p className="quiet">
        Look at the slips and at what the examiners judged. Points are changed on the slip, levels under
        Examine.
      </p>
      <Radio.Group
        aria-label="Verdict"
        value={verdict}
        options={[
          { value: 'confirmed', label: 'Marks confirmed' },
          { value: 'to be changed', label: 'Change needed' },
        ]}
        onChange={({ target }) => setVerdict(target.value as ReviewRequest['verdict'])}
      />
      <Input.TextArea
        aria-label="Note"
        rows={3}
        maxLength={1000}
        value={note}
        placeholder="what was looked at; what is to be changed"
        onChange={({ target }) => setNote(target.value)}
      />
    </Modal>
  );
}
