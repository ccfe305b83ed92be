import { useState } from 'react';
import { Alert, Button, Input, Radio } from 'antd';
import { Link } from 'react-router';
import type { Appeal, AssessmentForInstructor } from '@contactum/contract';
import { useAssessmentActs } from '../api/assessments.js';
import { AppealList } from './Appeals.js';
import { Agree } from './Examine.js';
import { at } from './words.js';

/** Appeals against released marks: each is answered with a reason, by the replay on the slip. */
export function AnswerAppeals({ view }: { view: AssessmentForInstructor }) {
  const open = view.appeals.filter(({ answer }) => answer === null);
  const answered = view.appeals.filter(({ answer }) => answer !== null);
  if (view.appeals.length === 0)
    return (
      <p className="quiet">
        {view.releasedAt ? 'Nobody has appealed.' : 'Students can appeal once the marks are released.'}
      </p>
    );
  return (
    <>
      {open.map((one) => (
        <OpenAppeal key={one.id} view={view} appeal={one} />
      ))}
      <AppealList appeals={answered} tasks={view.tasks} />
      <Corrections view={view} />
    </>
  );
}

function OpenAppeal({ view, appeal }: { view: AssessmentForInstructor; appeal: Appeal }) {
  const acts = useAssessmentActs(view.id);
  const [upheld, setUpheld] = useState<boolean | null>(null);
  const [answer, setAnswer] = useState('');
  const row = view.sittings.find(({ student }) => student.name === appeal.student);
  const task = view.tasks.find(({ id }) => id === appeal.task);
  const attempt = row?.attempts.find((one) => one.task === appeal.task);
  return (
    <section className="open-appeal" aria-label={`Appeal of ${appeal.student}`}>
      <p>
        <strong>{appeal.student}</strong>: {appeal.criterion}{' '}
        <span className="quiet">
          ({task?.title}, {at(appeal.at)})
        </span>{' '}
        {attempt && <Link to={`/slip/${attempt.attemptId}`}>Open the slip with its replays</Link>}
      </p>
      <p>{appeal.text}</p>
      <Radio.Group
        aria-label="Answer"
        value={upheld}
        options={[
          { value: true, label: 'Upheld' },
          { value: false, label: 'Not upheld' },
        ]}
        onChange={({ target }) => setUpheld(target.value as boolean)}
      />
      <Input.TextArea
        aria-label="Reason"
        rows={2}
        maxLength={2000}
        value={answer}
        placeholder="why; the student reads it"
        onChange={({ target }) => setAnswer(target.value)}
      />
      <Button
        type="primary"
        disabled={upheld === null || answer.trim().length < 10}
        loading={acts.isPending}
        onClick={() =>
          upheld !== null && acts.mutate({ act: 'answer', appeal: appeal.id, body: { upheld, answer } })
        }
      >
        Answer
      </Button>
      {acts.isError && <Alert type="error" showIcon title={acts.error.message} />}
    </section>
  );
}

/** Levels that may be corrected after an appeal that was upheld. */
function Corrections({ view }: { view: AssessmentForInstructor }) {
  const upheld = view.appeals.filter((one) => one.upheld === true);
  return upheld.flatMap((appeal) => {
    const row = view.sittings.find(({ student }) => student.name === appeal.student);
    const task = view.tasks.find(({ id }) => id === appeal.task);
    if (!row || task?.kind !== 'observed') return [];
    return task.criteria.flatMap((criterion) => {
      const judged = row.judged.find((one) => one.task === task.id && one.criterion === criterion.id);
      return judged
        ? [
            <div key={`${appeal.id} ${criterion.id}`} className="criterion">
              <span>
                {appeal.student}: {criterion.title}
              </span>
              <Agree
                act="correct"
                view={view}
                where={{ student: row.student.id, task: task.id, criterion, judged }}
              />
            </div>,
          ]
        : [];
    });
  });
}
