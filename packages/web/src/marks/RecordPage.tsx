import { useState } from 'react';
import { FilePdfOutlined } from '@ant-design/icons';
import { Alert, Button, Spin, Table, Tag } from 'antd';
import dayjs from 'dayjs';
import { Link, useParams } from 'react-router';
import { PARTS } from '@contactum/core';
import type { Person, StudentRecord } from '@contactum/contract';
import { useStudentRecord } from '../api/college.js';
import { useSession } from '../api/queries.js';
import { save } from '../drawing/save.js';
import './mark-book.css';
import { useToasts } from '../shell/toasts.js';

type Exercise = StudentRecord['exercises'][number];

/**
 * One student of a class: every exercise with the attempts, the criteria of the one that counts, and every
 * change of points.
 */
export function RecordPage() {
  const { classId = '', studentId = null } = useParams();
  const record = useStudentRecord(classId, studentId ?? null);
  const session = useSession();
  if (record.isPending) return <Spin className="waiting" />;
  if (record.isError) return <Alert className="page" type="error" showIcon title={record.error.message} />;
  const { student, className, term, exercises } = record.data;
  return (
    <main className="page">
      <div className="page-head">
        <div>
          <p className="crumb">
            <Link to={`/marks/${classId}`}>Mark book</Link>
          </p>
          <h1>{student.name}</h1>
          <p className="quiet">
            {className}
            {term ? `, ${term}` : ''}, signs in as <span className="mono">{student.login}</span>
          </p>
        </div>
        <Certificate record={record.data} by={session.data ?? null} />
      </div>
      {exercises.length === 0 && <p className="quiet">No attempts yet.</p>}
      {exercises.map((exercise) => (
        <OneExercise key={exercise.assignmentId} exercise={exercise} />
      ))}
    </main>
  );
}

const countingOf = ({ attempts }: Exercise) => attempts.find(({ counts }) => counts);

function OneExercise({ exercise }: { exercise: Exercise }) {
  const { title, attempts, criteria, changes, hours } = exercise;
  const best = countingOf(exercise)?.result;
  return (
    <section className="record">
      <h2>
        {title}{' '}
        {best && (
          <Tag color={best.passed ? 'success' : 'error'}>
            {best.recorded} of {best.max}, {best.passed ? 'passed' : 'not passed'}
          </Tag>
        )}
      </h2>
      <p className="record-attempts">
        {attempts.map(({ id, number, state, result, counts, handedInAt }) => (
          <Link key={id} to={`/slip/${id}`}>
            Attempt {number}: {result ? `${result.recorded}` : state}
            {handedInAt ? `, ${dayjs(handedInAt).format('D MMM')}` : ''}
            {counts && attempts.length > 1 ? ' (counts)' : ''}
          </Link>
        ))}
        <span className="quiet">{hours.toFixed(1)} h at the bench</span>
      </p>
      <Criteria criteria={criteria} />
      <Changes changes={changes} />
    </section>
  );
}

function Criteria({ criteria }: Pick<Exercise, 'criteria'>) {
  if (criteria.length === 0) return null;
  return (
    <div className="record-criteria">
      {PARTS.map((part) => {
        const own = criteria.filter((one) => one.part === part);
        if (own.length === 0) return null;
        return (
          <div key={part}>
            <h3>{part}</h3>
            {own.map(({ id, title: name, points, max }) => (
              <p key={id} data-lost={points < max ? 'yes' : undefined}>
                <span className="mono">
                  {points}/{max}
                </span>{' '}
                {name}
              </p>
            ))}
          </div>
        );
      })}
    </div>
  );
}

/** Every change of points with its reason. */
function Changes({ changes }: Pick<Exercise, 'changes'>) {
  if (changes.length === 0) return null;
  return (
    <Table
      size="small"
      rowKey="id"
      pagination={false}
      dataSource={[...changes]}
      columns={[
        {
          title: 'Points changed',
          key: 'at',
          render: (_, { at }) => dayjs(at).format('D MMM YYYY HH:mm'),
        },
        { title: 'Criterion', dataIndex: 'criterion' },
        { title: 'From', dataIndex: 'from' },
        { title: 'To', dataIndex: 'to' },
        { title: 'Reason', dataIndex: 'reason' },
        { title: 'By', dataIndex: 'by' },
      ]}
    />
  );
}

/** The certificate of practical work, for what is passed. */
function Certificate({ record, by }: { record: StudentRecord; by: Person | null }) {
  const [busy, setBusy] = useState(false);
  const message = useToasts();
  const passed = record.exercises.filter((one) => countingOf(one)?.result?.passed);
  const make = () => {
    setBusy(true);
    import('./certificate.js')
      .then(({ certificatePdf }) => certificatePdf(record, by?.name ?? '', new Date()))
      .then((pdf) => save(pdf, `${record.student.name} certificate.pdf`))
      .catch((error: unknown) => message.error((error as Error).message))
      .finally(() => setBusy(false));
  };
  return (
    <Button icon={<FilePdfOutlined />} loading={busy} disabled={passed.length === 0} onClick={make}>
      Certificate of practical work ({passed.length})
    </Button>
  );
}
