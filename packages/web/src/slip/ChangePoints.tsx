import { Alert, Form, Input, InputNumber, Modal } from 'antd';
import type { Criterion } from '@contactum/core';
import type { Slip } from '@contactum/contract';
import { useSlipChanges } from '../api/queries.js';
import { whenValid } from '../shell/when-valid.js';

/** An instructor's own points for one criterion, with the reason that the student reads. */
export function ChangePoints({
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
  const change = (values: { points: number; reason: string }): void =>
    points.mutate({ part: criterion.part, criterion: criterion.id, ...values }, { onSuccess: onClose });
  return (
    <Modal
      open
      title={`Change points: ${criterion.title}`}
      okText="Change"
      confirmLoading={points.isPending}
      onCancel={onClose}
      onOk={() => whenValid(form, change)}
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
