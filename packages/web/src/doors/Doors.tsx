import { useState } from 'react';
import { Alert, Button, Form, Input, Modal, Popconfirm, Select, Table } from 'antd';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Doors as DoorsView, PlatformRequest, PlatformRow } from '@contactum/contract';
import { ask } from '../api/client.js';
import './doors.css';

/** Learning platforms that launch exercises and take marks. */
export function Doors() {
  const client = useQueryClient();
  const { data, error } = useQuery({ queryKey: ['doors'], queryFn: () => ask<DoorsView>('GET', '/doors') });
  const [editing, setEditing] = useState<PlatformRow | 'new' | null>(null);
  const again = () => client.invalidateQueries({ queryKey: ['doors'] });
  const remove = useMutation({
    mutationFn: (id: string) => ask('DELETE', `/doors/platforms/${id}`),
    onSettled: again,
  });
  const rotate = useMutation({ mutationFn: () => ask('POST', '/doors/keys', {}), onSettled: again });
  if (error) return <Alert type="error" showIcon title={error.message} />;
  if (!data) return null;
  return (
    <div className="doors">
      <p className="quiet">
        A learning platform (LTI 1.3) launches exercises from its courses and takes the recorded marks into
        its gradebook. Enter these addresses at the platform, and what it gives you here.
      </p>
      <dl className="door-addresses">
        <dt>Login initiation URL</dt>
        <dd className="mono">{data.loginUrl}</dd>
        <dt>Launch (redirect) URL</dt>
        <dd className="mono">{data.launchUrl}</dd>
        <dt>Public keyset URL</dt>
        <dd className="mono">{data.keysUrl}</dd>
      </dl>
      <span className="hand-row">
        <Button type="primary" onClick={() => setEditing('new')}>
          Add platform
        </Button>
        <Popconfirm
          title="Sign with a new key from now on? The present one stays published for a day."
          okText="New key"
          onConfirm={() => rotate.mutate()}
        >
          <Button loading={rotate.isPending}>New signing key</Button>
        </Popconfirm>
      </span>
      <PlatformTable platforms={data.platforms} onEdit={setEditing} onRemove={(id) => remove.mutate(id)} />
      <Untold untold={data.untold} />
      {editing && (
        <PlatformDialog
          row={editing === 'new' ? null : editing}
          onClose={() => {
            setEditing(null);
            void again();
          }}
        />
      )}
    </div>
  );
}

function PlatformTable({
  platforms,
  onEdit,
  onRemove,
}: {
  platforms: readonly PlatformRow[];
  onEdit: (platform: PlatformRow) => void;
  onRemove: (id: string) => void;
}) {
  return (
    <Table<PlatformRow>
      size="small"
      rowKey="id"
      pagination={false}
      dataSource={[...platforms]}
      locale={{ emptyText: <span className="quiet">No platform is registered.</span> }}
      columns={[
        { title: 'Platform', dataIndex: 'name' },
        { title: 'Issuer', dataIndex: 'issuer', className: 'mono' },
        { title: 'Client', dataIndex: 'clientId', className: 'mono' },
        { title: 'Deployments', key: 'deployments', render: (_, one) => one.deployments.join(', ') },
        {
          title: '',
          key: 'acts',
          align: 'right',
          render: (_, one) => (
            <span className="hand-row">
              <Button size="small" onClick={() => onEdit(one)}>
                Edit
              </Button>
              <Popconfirm
                title={`Remove ${one.name}? Its courses are linked no longer; classes and marks stay.`}
                okText="Remove"
                onConfirm={() => onRemove(one.id)}
              >
                <Button size="small" type="text">
                  Remove
                </Button>
              </Popconfirm>
            </span>
          ),
        },
      ]}
    />
  );
}

/** Marks that a gradebook did not take. */
function Untold({ untold }: Pick<DoorsView, 'untold'>) {
  if (untold.length === 0) return null;
  return (
    <section aria-label="Marks not sent">
      <h2>Marks not sent</h2>
      <p className="quiet">They are sent again by themselves, with growing pauses.</p>
      <Table
        size="small"
        rowKey={({ title, student }) => `${title} ${student}`}
        pagination={false}
        dataSource={[...untold]}
        columns={[
          { title: 'Student', dataIndex: 'student' },
          { title: 'Exercise', dataIndex: 'title' },
          { title: 'Why', dataIndex: 'problem' },
          { title: 'Tries', dataIndex: 'tries', align: 'right' },
        ]}
      />
    </section>
  );
}

const LOGIN_CLAIM_WORDS = [
  'Only where the platform is trusted: whoever comes with it is joined to the account of that sign-in name.',
  'Otherwise an administrator joins accounts.',
].join(' ');

const FIELDS: readonly (readonly [keyof PlatformRequest, string, string])[] = [
  ['name', 'Name', 'such as College platform'],
  ['issuer', 'Issuer', 'https://platform.college.example'],
  ['clientId', 'Client ID', ''],
  ['authUrl', 'Authentication request URL', 'https://…'],
  ['tokenUrl', 'Access token URL', 'https://…'],
  ['keysUrl', 'Public keyset URL', 'https://…'],
];

function PlatformDialog({ row, onClose }: { row: PlatformRow | null; onClose: () => void }) {
  const [form] = Form.useForm<PlatformRequest>();
  const save = useMutation({
    mutationFn: (given: PlatformRequest) => {
      const body = { ...given, loginClaim: given.loginClaim?.trim() ? given.loginClaim.trim() : null };
      return row === null
        ? ask('POST', '/doors/platforms', body)
        : ask('PUT', `/doors/platforms/${row.id}`, body);
    },
    onSuccess: onClose,
  });
  return (
    <Modal
      open
      title={row === null ? 'Add platform' : row.name}
      okText="Save"
      confirmLoading={save.isPending}
      onOk={form.submit}
      onCancel={onClose}
    >
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={row ?? { deployments: [] }}
        onFinish={(given) => save.mutate(given)}
      >
        {FIELDS.map(([name, label, placeholder]) => (
          <Form.Item
            key={name}
            name={name}
            label={label}
            rules={[{ required: true, message: `${label} is missing.` }]}
          >
            <Input placeholder={placeholder} />
          </Form.Item>
        ))}
        <Form.Item
          name="deployments"
          label="Deployment IDs"
          extra="Launches of other deployments are refused."
        >
          <Select mode="tags" open={false} suffix={null} placeholder="type one and press Enter" />
        </Form.Item>
        <Form.Item name="loginClaim" label="Claim that names sign-in names here" extra={LOGIN_CLAIM_WORDS}>
          <Input placeholder="none" />
        </Form.Item>
        {save.error && <Alert type="error" showIcon title={save.error.message} />}
      </Form>
    </Modal>
  );
}
