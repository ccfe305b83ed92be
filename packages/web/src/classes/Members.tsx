import { useState } from 'react';
import { Alert, Button, Form, Input, Modal, Table, Tag } from 'antd';
import { Link } from 'react-router';
import type { EnrolAnswer, EnrolLine, FirstPassword, Roster } from '@contactum/contract';
import { useClassHands } from '../api/college.js';
import { Passwords } from './Passwords.js';
import { useToasts } from '../shell/toasts.js';
import { CourseRoster } from './CourseRoster.js';
import { PersonMenu } from './PersonMenu.js';
import { whenValid } from '../shell/when-valid.js';

/** Who is in a class: enrolled by a list, by hand or by the code; passwords and sessions of each. */
export function Members({ roster }: { roster: Roster }) {
  const [adding, setAdding] = useState<'list' | 'hand' | 'course' | null>(null);
  const [passwords, setPasswords] = useState<readonly FirstPassword[]>([]);
  const groupsOf = (id: string) =>
    roster.groups.filter(({ members }) => members.includes(id)).map(({ name }) => name);
  return (
    <>
      <span className="hand-row members-acts">
        <Button onClick={() => setAdding('list')}>Import class list</Button>
        <Button onClick={() => setAdding('hand')}>Add student</Button>
        {roster.platform !== null && (
          <Button onClick={() => setAdding('course')}>Roster of the course</Button>
        )}
      </span>
      <Table
        size="small"
        rowKey="id"
        pagination={false}
        dataSource={[...roster.members]}
        locale={{ emptyText: 'Nobody yet. Enrol students by a list, add one, or give them the join code.' }}
        columns={[
          {
            title: 'Name',
            dataIndex: 'name',
            render: (name: string, { id }) => <Link to={`/marks/${roster.id}/${id}`}>{name}</Link>,
          },
          { title: 'Sign-in name', dataIndex: 'login', className: 'mono' },
          {
            title: 'Groups',
            key: 'groups',
            render: (_, { id }) => groupsOf(id).map((name) => <Tag key={name}>{name}</Tag>),
          },
          {
            title: 'State',
            key: 'state',
            render: (_, { isNew }) => (isNew ? <span className="quiet">has not signed in yet</span> : ''),
          },
          {
            title: '',
            key: 'acts',
            align: 'right',
            render: (_, person) => (
              <MemberActs roster={roster} person={person} onPassword={(one) => setPasswords([one])} />
            ),
          },
        ]}
      />
      <Asked roster={roster} />
      {adding === 'list' && (
        <EnrolList roster={roster} onClose={() => setAdding(null)} onPasswords={setPasswords} />
      )}
      {adding === 'course' && <CourseRoster roster={roster} onClose={() => setAdding(null)} />}
      {adding === 'hand' && (
        <AddOne roster={roster} onClose={() => setAdding(null)} onPassword={(one) => setPasswords([one])} />
      )}
      {passwords.length > 0 && <Passwords passwords={passwords} onClose={() => setPasswords([])} />}
    </>
  );
}

/** Who is asked to join and has not answered. */
function Asked({ roster }: { roster: Roster }) {
  const { removeMember } = useClassHands(roster.id);
  const message = useToasts();
  if (roster.asked.length === 0) return null;
  return (
    <section className="members-asked" aria-label="Invited">
      <h3>Invited</h3>
      <p className="quiet">
        They have an account, and say yes or no when they sign in next. The join code is quicker, or an
        administrator.
      </p>
      <ul className="plain-list">
        {roster.asked.map(({ id, login }) => (
          <li key={id}>
            <span className="mono">{login}</span>{' '}
            <Button
              size="small"
              type="text"
              onClick={() =>
                removeMember.mutate(id, { onError: (error) => void message.error(error.message) })
              }
            >
              Cancel invitation
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function MemberActs({
  roster,
  person,
  onPassword,
}: {
  roster: Roster;
  person: Roster['members'][number];
  onPassword: (password: FirstPassword) => void;
}) {
  const { removeMember } = useClassHands(roster.id);
  return (
    <PersonMenu
      id={person.id}
      name={person.name}
      onPassword={onPassword}
      more={({ confirm, failed }) => [
        {
          key: 'remove',
          label: 'Remove from class',
          danger: true,
          onClick: () =>
            void confirm({
              title: `Remove ${person.name} from ${roster.name}?`,
              content: 'What was done stays, and comes back with the student.',
              okText: 'Remove',
              onOk: () => removeMember.mutate(person.id, { onError: failed }),
            }),
        },
      ]}
    />
  );
}

function AddOne({
  roster,
  onClose,
  onPassword,
}: {
  roster: Roster;
  onClose: () => void;
  onPassword: (password: FirstPassword) => void;
}) {
  const { addMember } = useClassHands(roster.id);
  const message = useToasts();
  const [form] = Form.useForm<{ login: string; name?: string }>();
  const go = () =>
    whenValid(form, ({ login, name }) =>
      addMember.mutate(
        { login, ...(name?.trim() ? { name: name.trim() } : {}) },
        {
          onSuccess: ({ password, roster: now }) => {
            onClose();
            if (now.asked.some((one) => one.login === login.trim().toLowerCase()))
              void message.info(`${login} has an account, and is invited.`);
            if (password) onPassword(password);
          },
        },
      ),
    );
  return (
    <Modal
      open
      title={`Add a student to ${roster.name}`}
      okText="Add"
      confirmLoading={addMember.isPending}
      onOk={go}
      onCancel={onClose}
    >
      <Form form={form} layout="vertical" requiredMark={false}>
        <Form.Item
          label="Sign-in name"
          name="login"
          rules={[{ required: true, message: 'Type the name to sign in with.' }]}
        >
          <Input autoFocus className="mono" autoCapitalize="none" />
        </Form.Item>
        <Form.Item label="Full name, for somebody who has no account yet" name="name">
          <Input maxLength={100} />
        </Form.Item>
      </Form>
      {addMember.isError && <Alert type="error" showIcon title={addMember.error.message} />}
    </Modal>
  );
}

const DOES: Readonly<Record<EnrolLine['does'], string>> = {
  new: '+ new account',
  known: '+ has an account',
  ask: '? has an account: will be invited',
  member: '= is in the class',
  bad: '✕',
};

/** A list as a file or pasted; what it would do is shown before it does it. */
function EnrolList({
  roster,
  onClose,
  onPasswords,
}: {
  roster: Roster;
  onClose: () => void;
  onPasswords: (passwords: readonly FirstPassword[]) => void;
}) {
  const { enrol } = useClassHands(roster.id);
  const [csv, setCsv] = useState('');
  const [look, setLook] = useState<EnrolAnswer | null>(null);
  const read = (text: string) => {
    setCsv(text);
    setLook(null);
  };
  const go = () =>
    enrol.mutate(
      { csv, commit: look !== null, skipBad: true },
      {
        onSuccess: (answer) => {
          if (!answer.committed) {
            setLook(answer);
            return;
          }
          onClose();
          onPasswords(answer.passwords);
        },
      },
    );
  return (
    <Modal
      open
      width={760}
      title={`Enrol in ${roster.name}`}
      okText={look ? `Take ${look.good}${look.bad > 0 ? ` and leave ${look.bad} out` : ''}` : 'Look at it'}
      okButtonProps={{ disabled: csv.trim() === '' || look?.good === 0 }}
      confirmLoading={enrol.isPending}
      onOk={go}
      onCancel={onClose}
    >
      <ListInput csv={csv} rows={look ? 3 : 8} onCsv={read} />
      {enrol.isError && <Alert type="error" showIcon title={enrol.error.message} />}
      {look && <EnrolLines look={look} />}
    </Modal>
  );
}

/** What each line would do, the bad ones first. */
function EnrolLines({ look }: { look: EnrolAnswer }) {
  return (
    <div className="enrol-lines">
      <p role="status">
        {look.good} lines can be taken{look.bad > 0 ? `, ${look.bad} cannot` : ''}.
      </p>
      <table className="plain">
        <tbody>
          {[...look.lines]
            .sort((a, b) => Number(b.does === 'bad') - Number(a.does === 'bad') || a.line - b.line)
            .map(({ line, name, login, group, does, problem }) => (
              <tr key={line} data-bad={does === 'bad' ? 'yes' : undefined}>
                <td className="quiet">line {line}</td>
                <td>{name}</td>
                <td className="mono">{login}</td>
                <td>{group}</td>
                <td>
                  {DOES[does]} {problem && <span className="wrong-text">{problem}</span>}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
    </div>
  );
}

/** The list as a file or pasted. */
function ListInput({ csv, rows, onCsv }: { csv: string; rows: number; onCsv: (csv: string) => void }) {
  return (
    <>
      <p>
        One student a line: name, the name to sign in with, and a group if you like. A first line with
        headings may put them in any order.
      </p>
      <input
        type="file"
        accept=".csv,.txt,text/csv"
        aria-label="List as a file"
        onChange={({ target }) => void target.files?.[0]?.text().then(onCsv)}
      />
      <Input.TextArea
        aria-label="List of students"
        className="mono"
        rows={rows}
        value={csv}
        placeholder={'Name,Login,Group\nEbba Skerry,skerry,Mornings'}
        onChange={({ target }) => onCsv(target.value)}
      />
    </>
  );
}
