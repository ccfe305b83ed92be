import { Suspense, useState } from 'react';
import { BellOutlined, BulbOutlined, DownOutlined, MenuOutlined } from '@ant-design/icons';
import { App, Badge, Button, Dropdown, Popover, Spin, Tooltip, type MenuProps } from 'antd';
import dayjs from 'dayjs';
import { NavLink, Outlet, useNavigate } from 'react-router';
import type { Person } from '@contactum/contract';
import { endOtherSessions, useDismissNotice, useNotices } from '../api/college.js';
import { useSignOut } from '../api/queries.js';
import { KeyHelp } from '../help/KeyHelp.js';
import { ChangePassword } from './FirstPassword.js';
import { Mark } from './SignIn.js';
import './shell.css';

const PLACES: readonly (readonly [path: string, name: string])[] = [
  ['/setter', 'Setter'],
  ['/floor', 'Floor'],
  ['/faults', 'Fault desk'],
  ['/marks', 'Mark book'],
  ['/classes', 'Classes'],
];

/** Head of every page: the places, who is signed in. */
export function Shell({ person, dark, onDark }: { person: Person; dark: boolean; onDark: () => void }) {
  return (
    <div className="shell">
      <a className="skip" href="#place">
        Skip to the content
      </a>
      <header className="shell-head">
        <NavLink to="/exercises" className="brand" aria-label="Contactum, to the exercises">
          <Mark />
          Contactum
        </NavLink>
        <Places person={person} />
        <Tooltip title={dark ? 'Light colours' : 'Dark colours'}>
          <Button
            type="text"
            icon={<BulbOutlined />}
            aria-label={dark ? 'Light colours' : 'Dark colours'}
            onClick={onDark}
          />
        </Tooltip>
        {person.role !== 'student' && <Notices />}
        <Account person={person} />
      </header>
      <KeyHelp />
      <div id="place" className="shell-place" tabIndex={-1}>
        <Suspense fallback={<Spin className="waiting" aria-label="Opening" />}>
          <Outlet />
        </Suspense>
      </div>
    </div>
  );
}

/** The places in the head; where they do not fit side by side, in a menu. */
function Places({ person }: { person: Person }) {
  const isStudent = person.role === 'student';
  const places = [
    ['/exercises', 'Exercises'] as const,
    ...(isStudent ? [['/logbook', 'Logbook'] as const] : PLACES),
    ['/sheets', 'Bench sheets'] as const,
    ['/plate', 'Plate room'] as const,
    ['/help', 'Help'] as const,
  ];
  const items = places.map(([path, name]) => ({ key: path, label: <NavLink to={path}>{name}</NavLink> }));
  return (
    <>
      <nav aria-label="Places" className="places" data-of={isStudent ? 'student' : 'instructor'}>
        {places.map(([path, name]) => (
          <NavLink key={path} to={path}>
            {name}
          </NavLink>
        ))}
      </nav>
      <Dropdown menu={{ items }} trigger={['click']}>
        <Button type="text" className="places-menu" icon={<MenuOutlined />}>
          Menu
        </Button>
      </Dropdown>
    </>
  );
}

/** What others did with people whom one teaches: told until it is dismissed. */
function Notices() {
  const { data = [] } = useNotices(true);
  const dismiss = useDismissNotice();
  if (data.length === 0) return null;
  const words = data.length === 1 ? '1 message' : `${data.length} messages`;
  return (
    <Popover
      trigger="click"
      placement="bottomRight"
      title="Messages"
      content={
        <ul className="notices">
          {data.map(({ id, text, at }) => (
            <li key={id}>
              <span>
                {text} <span className="quiet">{dayjs(at).format('D MMM HH:mm')}</span>
              </span>
              <Button size="small" onClick={() => dismiss.mutate(id)}>
                Dismiss
              </Button>
            </li>
          ))}
        </ul>
      }
    >
      <Badge count={data.length} size="small">
        <Button type="text" icon={<BellOutlined />} aria-label={words} />
      </Badge>
    </Popover>
  );
}

/** Who is signed in, and what they may do with their own account. */
function Account({ person }: { person: Person }) {
  const signOut = useSignOut();
  const navigate = useNavigate();
  const [changing, setChanging] = useState(false);
  const { message } = App.useApp();
  const endOthers = () =>
    endOtherSessions()
      .then(() => message.success('You are signed out everywhere else.'))
      .catch((error: unknown) => message.error((error as Error).message));
  const items: MenuProps['items'] = [
    ...(person.role === 'student'
      ? []
      : [
          {
            key: 'college',
            label: person.role === 'administrator' ? 'People and records' : 'Students and records',
            onClick: () => void navigate('/college'),
          },
        ]),
    { key: 'password', label: 'Change password', onClick: () => setChanging(true) },
    { key: 'others', label: 'Sign out everywhere else', onClick: () => void endOthers() },
    {
      key: 'data',
      label: (
        <a href="/api/session/export" download>
          My data as a file
        </a>
      ),
    },
    { type: 'divider' },
    { key: 'out', label: 'Sign out', onClick: () => signOut.mutate() },
  ];
  return (
    <>
      <Dropdown menu={{ items }} trigger={['click']}>
        <Button
          type="text"
          className="who"
          loading={signOut.isPending}
          aria-label={`${person.name}, ${person.role}: account`}
        >
          {person.name}
          <span className="who-role">{person.role}</span>
          <DownOutlined />
        </Button>
      </Dropdown>
      {changing && <ChangePassword onClose={() => setChanging(false)} />}
    </>
  );
}
