import { Button, Popconfirm, Tabs } from 'antd';
import { useStore } from 'zustand';
import { practiceSentences, ruleSentences } from '@contactum/core';
import type { ExerciseForStudent } from '@contactum/contract';
import { DeviceTable } from '../board/DeviceTable.js';
import { LeadList } from './LeadList.js';
import type { BenchStore } from './store.js';
import './job-sheet.css';

/** What is asked, point by point; nothing where nothing is. */
function Points({ title, points }: { title: string; points: readonly string[] }) {
  if (points.length === 0) return null;
  return (
    <>
      <h2>{title}</h2>
      <ul className="must">
        {points.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </>
  );
}

function Job({ exercise }: { exercise: ExerciseForStudent }) {
  return (
    <div className="job-scroll">
      <p>{exercise.brief}</p>
      <Points title="It must" points={exercise.behaviours.map(({ title }) => title)} />
      <Points title="House rules" points={ruleSentences(exercise.rules)} />
      <Points title="Work practice" points={practiceSentences(exercise.practice ?? undefined)} />
      <p className="caution">
        <strong>On a real board:</strong> isolate, lock off and prove dead before you touch it. Nobody
        energises before the instructor says so. A pass here does not make real hardware safe; local codes and
        a licensed person decide.
      </p>
    </div>
  );
}

/** The sheet beside the board: what is asked, the devices, the leads laid so far, and handing in. */
export function JobSheet({
  exercise,
  store,
  busy,
  onHandIn,
  attemptNumber,
  className,
}: {
  exercise: ExerciseForStudent;
  store: BenchStore;
  busy: boolean;
  onHandIn: () => void;
  attemptNumber: number;
  className: string;
}) {
  const leads = useStore(store, (state) => state.bench.wires.length);
  const devices = (
    <div className="job-scroll">
      <DeviceTable devices={exercise.bench.devices} />
    </div>
  );
  return (
    <aside className="job-sheet">
      <header>
        <h1>{exercise.title}</h1>
        <p className="quiet">
          Attempt {attemptNumber} · {className}
        </p>
      </header>
      <Tabs
        size="small"
        className="job-tabs"
        items={[
          { key: 'job', label: 'Job', children: <Job exercise={exercise} /> },
          { key: 'devices', label: 'Devices', children: devices },
          { key: 'leads', label: `Leads (${leads})`, children: <LeadList store={store} /> },
        ]}
      />
      <footer>
        <Popconfirm
          title="Hand in this board?"
          description="It is marked at once and cannot be changed afterwards."
          okText="Hand in"
          cancelText="Keep wiring"
          onConfirm={onHandIn}
          disabled={busy}
        >
          <Button type="primary" block loading={busy}>
            Hand in
          </Button>
        </Popconfirm>
      </footer>
    </aside>
  );
}
