import { lazy, Suspense, useMemo, useState } from 'react';
import { Button, Modal, Segmented, Spin } from 'antd';
import { useStore } from 'zustand';
import {
  compile,
  connectionsOf,
  plural,
  programHints,
  programIn,
  referenceBench,
  withProgramOf,
  withTask,
  type Exercise,
  type Task,
} from '@contactum/core';
import type { SetterStore } from './store.js';
import { SetterUndo } from './SetterUndo.js';

const ProgramEditor = lazy(() =>
  import('../programs/ProgramEditor.js').then((m) => ({ default: m.ProgramEditor })),
);

const TASKS: readonly { readonly value: Exclude<Task, 'find'>; readonly label: string }[] = [
  { value: 'wire', label: 'wires the board' },
  { value: 'program', label: 'writes the program' },
  { value: 'both', label: 'does both' },
];

/** The program of a controller, and whether the student writes it. */
export function ProgramField({ tag, store }: { tag: string; store: SetterStore }) {
  const [isOpen, setIsOpen] = useState(false);
  const exercise = useStore(store, (state) => state.exercise);
  const program = programIn(exercise, tag);
  const task = exercise.task ?? 'wire';
  return (
    <>
      <h3>Program</h3>
      <p className="program-line">
        <Button size="small" onClick={() => setIsOpen(true)}>
          Edit program
        </Button>
        <span className="quiet">{program ? plural(program.rungs.length, 'rung') : 'none yet'}</span>
      </p>
      {task !== 'find' && (
        <label className="field-column">
          <span>The student</span>
          <Segmented<Exclude<Task, 'find'>>
            size="small"
            vertical
            aria-label="What the student does"
            value={task}
            options={[...TASKS]}
            onChange={(to) => store.actions.change((one) => withTask(one, to))}
          />
        </label>
      )}
      {isOpen && <ProgramDialog {...{ tag, store, exercise }} onClose={() => setIsOpen(false)} />}
    </>
  );
}

function ProgramDialog({
  tag,
  store,
  exercise,
  onClose,
}: {
  tag: string;
  store: SetterStore;
  exercise: Exercise;
  onClose: () => void;
}) {
  const board = useMemo(() => referenceBench(exercise), [exercise]);
  const connections = useMemo(() => connectionsOf(board, tag), [board, tag]);
  const hints = useMemo(() => programHints(compile(board), tag), [board, tag]);
  return (
    <Modal
      open
      // The Setter's own buttons lie behind it.
      title={`Program of ${tag}`}
      width={960}
      footer={<SetterUndo store={store} />}
      onCancel={onClose}
    >
      <Suspense fallback={<Spin />}>
        <ProgramEditor
          tag={tag}
          program={programIn(exercise, tag)}
          title={exercise.title}
          connections={connections}
          hints={hints}
          on={null}
          onChange={(program) => store.actions.change((one) => withProgramOf(one, tag, program))}
        />
      </Suspense>
    </Modal>
  );
}
