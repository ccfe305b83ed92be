import { Alert, Modal, Table } from 'antd';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { PlatformMember, Roster } from '@contactum/contract';
import { ask } from '../api/client.js';

const DOES: Readonly<Record<PlatformMember['does'], string>> = {
  new: 'gets an account and is enrolled',
  known: 'is enrolled',
  member: 'is in the class',
};

/** The students of the course that a class is: looked at first, then taken. */
export function CourseRoster({ roster, onClose }: { roster: Roster; onClose: () => void }) {
  const client = useQueryClient();
  const path = `/classes/${roster.id}/roster`;
  const { data, error, isPending } = useQuery({
    queryKey: ['course-roster', roster.id],
    queryFn: () => ask<PlatformMember[]>('GET', path),
    retry: false,
    gcTime: 0,
  });
  const take = useMutation({
    mutationFn: () => ask('POST', path, {}),
    onSuccess: async () => {
      await client.invalidateQueries();
      onClose();
    },
  });
  const fresh = (data ?? []).filter(({ does }) => does !== 'member').length;
  const problem = error ?? take.error;
  return (
    <Modal
      open
      title={`Students of the course on ${roster.platform ?? ''}`}
      okText={fresh === 0 ? 'Nobody is new' : `Enrol ${fresh}`}
      okButtonProps={{ disabled: fresh === 0, loading: take.isPending }}
      onOk={() => take.mutate()}
      onCancel={onClose}
    >
      {problem && <Alert type="error" showIcon title={problem.message} />}
      <Table
        size="small"
        rowKey={({ name, does }) => `${name} ${does}`}
        pagination={false}
        loading={isPending}
        dataSource={[...(data ?? [])]}
        columns={[
          { title: 'Name', dataIndex: 'name' },
          { title: '', key: 'does', render: (_, { does }) => DOES[does] },
        ]}
      />
    </Modal>
  );
}
