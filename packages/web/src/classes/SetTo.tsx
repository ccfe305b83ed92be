import { useState } from 'react';
import { Alert, Button, Modal, Table, Tag } from 'antd';
import dayjs from 'dayjs';
import { Link } from 'react-router';
import type { AssignmentForInstructor, Roster } from '@contactum/contract';
import { useChangeSetting, useSettings } from '../api/college.js';
import { SettingForm, asked, type SettingValues } from './SettingForm.js';

const day = (at: string | null): string => (at === null ? '' : dayjs(at).format('D MMM HH:mm'));

/** Everything that is set to a class; changed, withdrawn and set again. */
export function SetTo({ roster }: { roster: Roster }) {
  const settings = useSettings(roster.id);
  const change = useChangeSetting();
  const [open, setOpen] = useState<AssignmentForInstructor | null>(null);
  return (
    <>
      <SettingTable
        roster={roster}
        rows={settings.data ?? []}
        loading={settings.isPending}
        onOpen={setOpen}
        onWithdraw={(id, withdrawn) => change.mutate({ id, withdrawn })}
      />
      {change.isError && !open && <Alert type="error" showIcon title={change.error.message} />}
      {open && <Change roster={roster} setting={open} onClose={() => setOpen(null)} />}
    </>
  );
}

/** Assigned to it is set, in words. */
const whomOf = (
  { groups, members }: Roster,
  { audience, groupId, people }: AssignmentForInstructor,
): string =>
  audience === 'class'
    ? 'the class'
    : audience === 'group'
      ? (groups.find(({ id }) => id === groupId)?.name ?? 'a group')
      : people.map((id) => members.find((one) => one.id === id)?.name ?? 'somebody').join(', ');

/** The exercise with what is particular about its setting. */
function SetTitle({ setting: one }: { setting: AssignmentForInstructor }) {
  return (
    <>
      <Link to={`/exercises/${one.exerciseId}`}>{one.title}</Link>
      {one.newest > one.version && (
        <span className="quiet">
          {' '}
          version {one.version} of {one.newest}
        </span>
      )}
      {one.withdrawnAt && <Tag>withdrawn</Tag>}
      {one.mode === 'assessment' && <Tag color="warning">assessment</Tag>}
      {one.variants && <Tag>variants</Tag>}
    </>
  );
}

function SettingTable({
  roster,
  rows,
  loading,
  onOpen,
  onWithdraw,
}: {
  roster: Roster;
  rows: readonly AssignmentForInstructor[];
  loading: boolean;
  onOpen: (setting: AssignmentForInstructor) => void;
  onWithdraw: (id: string, withdrawn: boolean) => void;
}) {
  return (
    <Table
      size="small"
      rowKey="id"
      pagination={false}
      loading={loading}
      dataSource={[...rows]}
      locale={{ emptyText: 'No exercises are assigned to this class yet. Open an exercise and assign it.' }}
      columns={[
        {
          title: 'Exercise',
          key: 'title',
          render: (_, one) => <SetTitle setting={one} />,
        },
        { title: 'To', key: 'to', render: (_, one) => whomOf(roster, one) },
        { title: 'Opens', key: 'opens', render: (_, one) => day(one.opensAt) },
        { title: 'Due', key: 'due', render: (_, one) => day(one.dueAt) },
        { title: 'Closes', key: 'closes', render: (_, one) => day(one.closesAt) },
        {
          title: 'Attempts',
          key: 'attempts',
          render: (_, one) => `${one.attemptsAllowed ?? 'any'}, ${one.counts} counts`,
        },
        { title: 'In', key: 'in', render: (_, one) => `${one.handedIn} of ${one.students}` },
        {
          title: '',
          key: 'acts',
          align: 'right',
          render: (_, one) => (
            <span className="hand-row">
              <Link to={`/sheets?setting=${one.id}`}>Bench sheet</Link>
              <Button size="small" onClick={() => onOpen(one)}>
                Change
              </Button>
              <Button size="small" type="text" onClick={() => onWithdraw(one.id, one.withdrawnAt === null)}>
                {one.withdrawnAt === null ? 'Withdraw' : 'Restore'}
              </Button>
            </span>
          ),
        },
      ]}
    />
  );
}

function Change({
  roster,
  setting,
  onClose,
}: {
  roster: Roster;
  setting: AssignmentForInstructor;
  onClose: () => void;
}) {
  const change = useChangeSetting();
  const [values, setValues] = useState<SettingValues>(setting);
  const go = () => change.mutate({ id: setting.id, ...asked(values) }, { onSuccess: onClose });
  return (
    <Modal
      open
      width={640}
      title={setting.title}
      okText="Save"
      confirmLoading={change.isPending}
      onOk={go}
      onCancel={onClose}
    >
      <SettingForm roster={roster} values={values} onChange={setValues} />
      {change.isError && <Alert type="error" showIcon title={change.error.message} />}
    </Modal>
  );
}
