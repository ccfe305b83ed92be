import { useState, type ReactElement } from 'react';
import { Dropdown, type MenuProps } from 'antd';
import { NavLink, useNavigate } from 'react-router';
import type { Person } from '@contactum/contract';
import { endOtherSessions } from '../api/college.js';
import { useSignOut } from '../api/queries.js';
import { ChangePassword } from './FirstPassword.js';
import type { Place } from './places.js';
import { useToasts } from './toasts.js';

/** The places of the head as a menu. */
export function PlacesMenu({ places, children }: { places: readonly Place[]; children: ReactElement }) {
  const [isOpen, setOpen] = useState(true);
  const items = places.map(([path, name]) => ({ key: path, label: <NavLink to={path}>{name}</NavLink> }));
  return (
    <Dropdown menu={{ items }} trigger={['click']} open={isOpen} onOpenChange={setOpen} autoFocus>
      {children}
    </Dropdown>
  );
}

/** What somebody may do with their own account. */
export function AccountMenu({ person, children }: { person: Person; children: ReactElement }) {
  const [isOpen, setOpen] = useState(true);
  const signOut = useSignOut();
  const navigate = useNavigate();
  const [changing, setChanging] = useState(false);
  const message = useToasts();
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
      <Dropdown menu={{ items }} trigger={['click']} open={isOpen} onOpenChange={setOpen} autoFocus>
        {children}
      </Dropdown>
      {changing && <ChangePassword onClose={() => setChanging(false)} />}
    </>
  );
}
