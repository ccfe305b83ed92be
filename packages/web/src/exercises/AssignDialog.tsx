import { useState } from 'react';
import { Alert, Modal, Select, Spin } from 'antd';
import { plural, type Exercise } from '@contactum/core';
import { useRoster } from '../api/college.js';
import { useAssign, useClasses } from '../api/queries.js';
import { PLAIN, SettingForm, asked, type SettingValues } from '../classes/SettingForm.js';
import '../classes/classes.css';
import { useToasts } from '../shell/toasts.js';

/** Sets an exercise to one of the instructor's classes, to a group of it or to single people. */
export function AssignDialog({
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
  const assign = useAssign();
  const message = useToasts();
  const [classId, setClassId] = useState<string | undefined>();
  const [values, setValues] = useState<SettingValues>(PLAIN);
  const roster = useRoster(classId);
  const set = (): void => {
    if (classId === undefined) return;
    assign.mutate(
      { classId, exerciseId: exercise.id, ...asked(values) },
      {
        onSuccess: ({ className, opensAt }) => {
          message.success(
            `Assigned to ${className}. ${opensAt ? 'The students see it, and begin when it opens.' : 'The students see it now.'}`,
          );
          onClose();
        },
      },
    );
  };
  return (
    <Modal
      open={open}
      width={640}
      title={`Assign “${exercise.title}” to a class`}
      okText="Assign"
      okButtonProps={{ disabled: !roster.data }}
      confirmLoading={assign.isPending}
      onCancel={onClose}
      onOk={set}
      destroyOnHidden
    >
      <ChooseClass
        value={classId}
        taken={taken}
        onChoose={(id) => {
          setClassId(id);
          setValues({ ...values, audience: 'class', groupId: null, people: [], extra: [] });
        }}
      />
      {classId !== undefined && !roster.data && <Spin />}
      {roster.data && <SettingForm roster={roster.data} values={values} onChange={setValues} />}
      {assign.isError && <Alert type="error" showIcon title={assign.error.message} />}
    </Modal>
  );
}

function ChooseClass({
  value,
  taken,
  onChoose,
}: {
  value: string | undefined;
  taken: readonly string[];
  onChoose: (id: string) => void;
}) {
  const classes = useClasses();
  return (
    <label className="setting-row">
      <span>Class</span>
      <Select
        aria-label="Class"
        loading={classes.isPending}
        placeholder="Choose a class"
        value={value ?? null}
        options={(classes.data ?? [])
          .filter(({ archived }) => !archived)
          .map(({ id, name, students }) => ({
            value: id,
            label: `${name} (${plural(students, 'student')})${taken.includes(id) ? ', already assigned' : ''}`,
          }))}
        onChange={onChoose}
      />
    </label>
  );
}
