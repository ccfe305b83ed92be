import { Alert, App, DatePicker, Form, Modal, Select } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import type { Exercise } from '@contactum/core';
import { useAssign, useClasses } from '../api/queries.js';

interface Values {
  readonly classId: string;
  readonly due: Dayjs | null;
}

/** Sets an exercise to one of the instructor's classes. */
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
  const classes = useClasses(open);
  const assign = useAssign();
  const { message } = App.useApp();
  const [form] = Form.useForm<Values>();
  const set = ({ classId, due }: Values): void =>
    assign.mutate(
      { classId, exerciseId: exercise.id, dueAt: due ? due.endOf('day').toISOString() : null },
      {
        onSuccess: ({ className }) => {
          message.success(`Set to ${className}. The students see it now.`);
          onClose();
        },
      },
    );
  return (
    <Modal
      open={open}
      title={`Set “${exercise.title}” to a class`}
      okText="Set it"
      confirmLoading={assign.isPending}
      onCancel={onClose}
      onOk={() => void form.validateFields().then(set)}
      destroyOnHidden
    >
      <Form form={form} layout="vertical" requiredMark={false} preserve={false}>
        <Form.Item label="Class" name="classId" rules={[{ required: true, message: 'Choose a class.' }]}>
          <Select
            loading={classes.isPending}
            placeholder="Choose a class"
            options={(classes.data ?? []).map(({ id, name, students }) => ({
              value: id,
              label: `${name} (${students} students)${taken.includes(id) ? ', already set' : ''}`,
              disabled: taken.includes(id),
            }))}
          />
        </Form.Item>
        <Form.Item label="Due (may be left empty)" name="due">
          <DatePicker format="D MMM YYYY" minDate={dayjs()} />
        </Form.Item>
      </Form>
      {assign.isError && <Alert type="error" showIcon title={assign.error.message} />}
    </Modal>
  );
}
