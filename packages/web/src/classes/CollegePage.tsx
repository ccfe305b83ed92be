import { useState, type ReactNode } from 'react';
import { Alert, Button, Form, Input, Modal, Select, Table, Tabs, Tag } from 'antd';
import dayjs from 'dayjs';
import type { AuditLine, FirstPassword, Person, PersonRequest, PersonRow, Role } from '@contactum/contract';
import { useAudit, usePeople, usePeopleHands } from '../api/college.js';
import { Doors } from '../doors/Doors.js';
import { Passwords } from './Passwords.js';
import './classes.css';
import { PersonMenu } from './PersonMenu.js';
import { whenValid } from '../shell/when-valid.js';

const ROLES: readonly Role[] = ['administrator', 'instructor', 'student'];

/** People and records: everybody for an administrator, the own students and acts for an instructor. */
export function CollegePage({ person }: { person: Person }) {
  return (
    <main className="page">
      <div className="page-head">
        <h1>{person.role === 'administrator' ? 'People and records' : 'Students and records'}</h1>
      </div>
      <Tabs
        items={[
          { key: 'people', label: 'People', children: <People person={person} /> },
          { key: 'records', label: 'Records', children: <Records /> },
          ...(person.role === 'administrator'
            ? [{ key: 'doors', label: 'Learning platforms', children: <Doors /> }]
            : []),
        ]}
      />
    </main>
  );
}

function People({ person }: { person: Person }) {
  const [text, setText] = useState('');
  const [role, setRole] = useState<Role | undefined>();
  const [editing, setEditing] = useState<PersonRow | 'new' | null>(null);
  const [passwords, setPasswords] = useState<readonly FirstPassword[]>([]);
  const people = usePeople(text, role);
  const isKeeper = person.role === 'administrator';
  return (
    <>
      <span className="hand-row members-acts">
        <Input.Search
          aria-label="Search people"
          placeholder="name or sign-in name"
          allowClear
          value={text}
          style={{ width: 240 }}
          onChange={({ target }) => setText(target.value)}
        />
        <Select<Role>
          aria-label="Role"
          placeholder="Role"
          allowClear
          style={{ width: 150 }}
          options={ROLES.map((value) => ({ value, label: value }))}
          onChange={(next: Role | undefined) => setRole(next)}
        />
        {isKeeper && <Button onClick={() => setEditing('new')}>Add person</Button>}
      </span>
      {people.isError && <Alert type="error" showIcon title={people.error.message} />}
      <PeopleTable
        rows={people.data ?? []}
        loading={people.isPending}
        acts={(row) => (
          <PersonActs
            row={row}
            isKeeper={isKeeper}
            onEdit={() => setEditing(row)}
            onPassword={(one) => setPasswords([one])}
          />
        )}
      />
      {editing && (
        <PersonDialog
          row={editing === 'new' ? null : editing}
          onClose={() => setEditing(null)}
          onPassword={(one) => setPasswords([one])}
        />
      )}
      {passwords.length > 0 && <Passwords passwords={passwords} onClose={() => setPasswords([])} />}
    </>
  );
}

function PeopleTable({
  rows,
  loading,
  acts,
}: {
  rows: readonly PersonRow[];
  loading: boolean;
  acts: (row: PersonRow) => ReactNode;
}) {
  return (
    <Table
      size="small"
      rowKey="id"
      pagination={{ pageSize: 50, hideOnSinglePage: true }}
      loading={loading}
      dataSource={[...rows]}
      columns={[
        { title: 'Name', dataIndex: 'name' },
        { title: 'Sign-in name', dataIndex: 'login', className: 'mono' },
        { title: 'Role', dataIndex: 'role' },
        {
          title: 'Classes',
          key: 'classes',
          render: (_, { classes }) => classes.map((name) => <Tag key={name}>{name}</Tag>),
        },
        {
          title: 'State',
          key: 'state',
          render: (_, { isNew, sessions, erased }) =>
            erased ? (
              'has left'
            ) : isNew ? (
              <span className="quiet">has not signed in yet</span>
            ) : sessions > 0 ? (
              `signed in on ${sessions}`
            ) : (
              ''
            ),
        },
        {
          title: '',
          key: 'acts',
          align: 'right',
          render: (_, row) => !row.erased && acts(row),
        },
      ]}
    />
  );
}

function PersonActs({
  row,
  isKeeper,
  onEdit,
  onPassword,
}: {
  row: PersonRow;
  isKeeper: boolean;
  onEdit: () => void;
  onPassword: (password: FirstPassword) => void;
}) {
  const { erase } = usePeopleHands();
  return (
    <PersonMenu
      id={row.id}
      name={row.name}
      onPassword={onPassword}
      more={({ confirm, failed }) =>
        isKeeper
          ? [
              { key: 'edit', label: 'Change name, sign-in or role', onClick: onEdit },
              {
                key: 'data',
                label: <a href={`/api/people/${row.id}/export`}>Export all data of this person</a>,
              },
              {
                key: 'erase',
                label: 'Erase',
                danger: true,
                onClick: () =>
                  void confirm({
                    ...erasing(row),
                    onOk: () => erase.mutate(row.id, { onError: failed }),
                  }),
              },
            ]
          : []
      }
    />
  );
}

/** What goes with somebody who is erased, and what stays. */
const erasing = ({ name, role }: PersonRow) => ({
  title: `Erase ${name}?`,
  content:
    role === 'student'
      ? 'The name, the sign-in, messages and photographs go; marks stay with the class, without the name. ' +
        'It cannot be undone: export the data first.'
      : 'The name and the sign-in go; the marks that this person has given to others stay, without the name.',
  okText: 'Erase',
  okButtonProps: { danger: true },
});

function PersonDialog({
  row,
  onClose,
  onPassword,
}: {
  row: PersonRow | null;
  onClose: () => void;
  onPassword: (password: FirstPassword) => void;
}) {
  const { add, change } = usePeopleHands();
  const [form] = Form.useForm<PersonRequest>();
  const error = add.error ?? change.error;
  const go = () =>
    whenValid(form, (values) => {
      if (row) change.mutate({ id: row.id, ...values }, { onSuccess: onClose });
      else
        add.mutate(values, {
          onSuccess: (made) => {
            onClose();
            onPassword(made);
          },
        });
    });
  return (
    <Modal
      open
      title={row ? row.name : 'Add person'}
      okText={row ? 'Save' : 'Add'}
      confirmLoading={add.isPending || change.isPending}
      onOk={go}
      onCancel={onClose}
    >
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={row ? { name: row.name, login: row.login, role: row.role } : { role: 'instructor' }}
      >
        <Form.Item label="Full name" name="name" rules={[{ required: true, message: 'Type the name.' }]}>
          <Input autoFocus maxLength={100} />
        </Form.Item>
        <Form.Item
          label="Sign-in name"
          name="login"
          rules={[{ required: true, message: 'Type a name to sign in with.' }]}
        >
          <Input className="mono" autoCapitalize="none" />
        </Form.Item>
        <Form.Item label="Role" name="role">
          <Select options={ROLES.map((value) => ({ value, label: value }))} />
        </Form.Item>
      </Form>
      {error && <Alert type="error" showIcon title={error.message} />}
    </Modal>
  );
}

const KINDS = [
  'signed in',
  'sign-in refused',
  'signed out',
  'set a password',
  'gave a first password',
  'ended sessions',
  'added a person',
  'changed a person',
  'exported a person',
  'erased a person',
  'founded a class',
  'changed a class',
  'enrolled',
  'took out of a class',
  'joined by code',
  'set an exercise',
  'changed a setting',
  'withdrew a setting',
  'published an exercise',
  'retired an exercise',
  'imported exercises',
  'gave permission',
  'changed points',
  'marked again',
  'made an evidence pack',
  'took the lead',
  'injected a fault',
] as const;

/** Who did what: sign-ins, marks, permissions, people, settings. */
function Records() {
  const [text, setText] = useState('');
  const [kind, setKind] = useState<string | undefined>();
  const [before, setBefore] = useState<string | undefined>();
  const audit = useAudit({ kind, text, before });
  const rows = audit.data ?? [];
  return (
    <>
      <span className="hand-row members-acts">
        <Input.Search
          aria-label="Search the records"
          placeholder="who, or about whom"
          allowClear
          value={text}
          style={{ width: 240 }}
          onChange={({ target }) => {
            setText(target.value);
            setBefore(undefined);
          }}
        />
        <Select
          aria-label="What was done"
          placeholder="What was done"
          allowClear
          style={{ width: 220 }}
          options={KINDS.map((value) => ({ value, label: value }))}
          onChange={(next: string | undefined) => {
            setKind(next);
            setBefore(undefined);
          }}
        />
        {before && <Button onClick={() => setBefore(undefined)}>Newest</Button>}
        <Button disabled={rows.length < 100} onClick={() => setBefore(rows.at(-1)?.id)}>
          Older
        </Button>
      </span>
      {audit.isError && <Alert type="error" showIcon title={audit.error.message} />}
      <RecordTable rows={rows} loading={audit.isPending} />
    </>
  );
}

function RecordTable({ rows, loading }: { rows: readonly AuditLine[]; loading: boolean }) {
  return (
    <Table
      size="small"
      rowKey="id"
      pagination={false}
      loading={loading}
      dataSource={[...rows]}
      expandable={{
        rowExpandable: ({ detail }) => detail !== null,
        expandedRowRender: ({ detail }) => (
          <pre className="mono record-detail">{JSON.stringify(detail, null, 2)}</pre>
        ),
      }}
      columns={[
        {
          title: 'When',
          key: 'at',
          width: 150,
          render: (_, { at }) => dayjs(at).format('D MMM YYYY HH:mm'),
        },
        { title: 'Who', dataIndex: 'actor' },
        { title: 'What', dataIndex: 'kind' },
        { title: 'About', dataIndex: 'about' },
        { title: 'From', dataIndex: 'address', className: 'mono' },
      ]}
    />
  );
}
