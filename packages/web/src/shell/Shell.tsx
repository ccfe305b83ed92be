import { Suspense } from 'react';
import { BulbOutlined, LogoutOutlined } from '@ant-design/icons';
import { Button, Spin, Tooltip } from 'antd';
import { NavLink, Outlet } from 'react-router';
import type { Person } from '@contactum/contract';
import { useSignOut } from '../api/queries.js';
import { Mark } from './SignIn.js';
import './shell.css';

/** Head of every page: the places, who is signed in. */
export function Shell({ person, dark, onDark }: { person: Person; dark: boolean; onDark: () => void }) {
  const signOut = useSignOut();
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
        <nav aria-label="Places">
          <NavLink to="/exercises">Exercises</NavLink>
          {person.role === 'instructor' && <NavLink to="/faults">Fault desk</NavLink>}
          {person.role === 'instructor' && <NavLink to="/marks">Mark book</NavLink>}
          <NavLink to="/plate">Plate room</NavLink>
        </nav>
        <span className="who">
          {person.name}
          <span className="who-role">{person.role}</span>
        </span>
        <Tooltip title={dark ? 'Light room' : 'Dim room'}>
          <Button
            type="text"
            icon={<BulbOutlined />}
            aria-label={dark ? 'Light colours' : 'Dark colours'}
            onClick={onDark}
          />
        </Tooltip>
        <Button
          type="text"
          icon={<LogoutOutlined />}
          loading={signOut.isPending}
          onClick={() => signOut.mutate()}
        >
          Sign out
        </Button>
      </header>
      <div id="place" className="shell-place" tabIndex={-1}>
        <Suspense fallback={<Spin className="waiting" aria-label="Opening" />}>
          <Outlet />
        </Suspense>
      </div>
    </div>
  );
}
