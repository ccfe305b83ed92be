import { useState } from 'react';
import { PlusOutlined } from '@ant-design/icons';
import { Alert, Button, Form, Input, Modal, Select, Spin, Tabs } from 'antd';
import { useNavigate, useParams } from 'react-router';
import type { ClassSummary, Person, Roster } from '@contactum/contract';
import { useClassHands, useFoundClass, useRoster } from '../api/college.js';
import { useClasses } from '../api/queries.js';
import { Blank } from '../shell/Blank.js';
import { Groups } from './Groups.js';
import { Instructors } from './Instructors.js';
import { Members } from './Members.js';
import { SetTo } from './SetTo.js';
import './classes.css';
import { useToasts } from '../shell/toasts.js';
import { whenValid } from '../shell/when-valid.js';

/** The classes of an instructor: who is in them, in which groups, what is set to them. */
export function ClassesPage({ person }: { person: Person }) {
  const { classId } = useParams();
  const classes = useClasses();
  const navigate = useNavigate();
  const [founding, setFounding] = useState(false);
  const chosen = classId ?? classes.data?.find(({ archived }) => !archived)?.id ?? classes.data?.[0]?.id;
  if (classes.isPending) return <Spin className="waiting" />;
  if (classes.isError) return <Alert className="page" type="error" showIcon title={classes.error.message} />;
  return (
    <main className="page">
      <div className="page-head">
        <h1>Classes</h1>
        <span className="page-acts">
          {classes.data.length > 0 && (
            <Select
              aria-label="Class"
              value={chosen ?? null}
              style={{ minWidth: 260 }}
              options={classes.data.map((one) => ({ value: one.id, label: spelled(one) }))}
              onChange={(id) => void navigate(`/classes/${id}`)}
            />
          )}
          <Button icon={<PlusOutlined />} onClick={() => setFounding(true)}>
            New class
          </Button>
        </span>
      </div>
      {chosen ? (
        <OneClass key={chosen} id={chosen} person={person} />
      ) : (
        <Blank title="You have no class yet.">
          Create a class, then add students by list, join code, or by hand.
        </Blank>
      )}
      {founding && (
        <Found onClose={() => setFounding(false)} onFounded={({ id }) => void navigate(`/classes/${id}`)} />
      )}
    </main>
  );
}

const spelled = ({ name, term, students, archived }: ClassSummary): string =>
  `${name}${term ? `, ${term}` : ''} (${students})${archived ? ', put away' : ''}`;

function Found({ onClose, onFounded }: { onClose: () => void; onFounded: (roster: Roster) => void }) {
  const found = useFoundClass();
  const [form] = Form.useForm<{ name: string; term: string }>();
  const go = () =>
    whenValid(form, ({ name, term }) =>
      found.mutate(
        { name, term: (term as string | undefined) ?? '' },
        {
          onSuccess: (roster) => {
            onClose();
            onFounded(roster);
          },
        },
      ),
    );
  return (
    <Modal
      open
      title="New class"
      okText="Create class"
      confirmLoading={found.isPending}
      onOk={go}
      onCancel={onClose}
    >
      <Form form={form} layout="vertical" requiredMark={false}>
        <Form.Item label="Name" name="name" rules={[{ required: true, message: 'Name it.' }]}>
          <Input autoFocus maxLength={100} />
        </Form.Item>
        <Form.Item label="Term (may be left empty)" name="term">
          <Input maxLength={60} placeholder="2026 autumn" />
        </Form.Item>
      </Form>
      {found.isError && <Alert type="error" showIcon title={found.error.message} />}
    </Modal>
  );
}

function OneClass({ id, person }: { id: string; person: Person }) {
  const roster = useRoster(id);
  if (roster.isPending) return <Spin className="waiting" />;
  if (roster.isError) return <Alert type="error" showIcon title={roster.error.message} />;
  const { members, groups, instructors } = roster.data;
  const teaches = instructors.some((one) => one.id === person.id);
  return (
    <>
      <Facts roster={roster.data} />
      <Tabs
        items={[
          {
            key: 'members',
            label: `Students (${members.length})`,
            children: <Members roster={roster.data} />,
          },
          { key: 'groups', label: `Groups (${groups.length})`, children: <Groups roster={roster.data} /> },
          ...(teaches
            ? [{ key: 'set', label: 'Assigned exercises', children: <SetTo roster={roster.data} /> }]
            : []),
          {
            key: 'instructors',
            label: `Instructors (${instructors.length})`,
            children: <Instructors roster={roster.data} />,
          },
        ]}
      />
    </>
  );
}

/** Name, term and join code; and putting the class away. */
function Facts({ roster }: { roster: Roster }) {
  const { id, name, term, archivedAt } = roster;
  const { change } = useClassHands(id);
  const [text, setText] = useState({ name, term });
  const isOther = (text.name.trim() !== name && text.name.trim() !== '') || text.term.trim() !== term;
  const isAway = archivedAt !== null;
  return (
    <section className="class-facts">
      <label>
        <span>Name</span>
        <Input
          value={text.name}
          maxLength={100}
          onChange={({ target }) => setText({ ...text, name: target.value })}
        />
      </label>
      <label>
        <span>Term</span>
        <Input
          value={text.term}
          maxLength={60}
          onChange={({ target }) => setText({ ...text, term: target.value })}
        />
      </label>
      {isOther && (
        <Button
          loading={change.isPending}
          onClick={() => change.mutate({ name: text.name.trim(), term: text.term.trim() })}
        >
          Keep
        </Button>
      )}
      <JoinCode roster={roster} />
      <Button className="put-away" onClick={() => change.mutate({ archived: !isAway })}>
        {isAway ? 'Restore' : 'Archive'}
      </Button>
      {change.isError && <Alert type="error" showIcon title={change.error.message} />}
    </section>
  );
}

/** The code by which students join; another one, or none, from now on. */
function JoinCode({ roster: { id, joinCode, archivedAt } }: { roster: Roster }) {
  const { change } = useClassHands(id);
  const message = useToasts();
  return (
    <div className="join-code">
      <span>Join code</span>
      {joinCode ? (
        <strong className="mono" aria-label="Join code">
          {joinCode}
        </strong>
      ) : (
        <span className="quiet">none</span>
      )}
      <Button size="small" disabled={archivedAt !== null} onClick={() => change.mutate({ joinCode: 'new' })}>
        {joinCode ? 'Another' : 'Make one'}
      </Button>
      {joinCode && (
        <Button
          size="small"
          onClick={() =>
            change.mutate(
              { joinCode: 'none' },
              { onSuccess: () => void message.success('Nobody can join by that code any more.') },
            )
          }
        >
          End code
        </Button>
      )}
    </div>
  );
}
