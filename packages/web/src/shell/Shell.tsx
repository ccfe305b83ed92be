import { Suspense, cloneElement, lazy, useState, type ReactElement } from 'react';
import { BellOutlined, BulbOutlined, DownOutlined, MenuOutlined } from '@ant-design/icons';
import { Button, Popover, Spin, Tooltip, type ButtonProps } from 'antd';
import dayjs from 'dayjs';
import { NavLink, Outlet } from 'react-router';
import type { Person } from '@contactum/contract';
import { useDismissNotice, useNotices } from '../api/college.js';
import { KeyHelp } from '../help/KeyHelp.js';
import { Mark } from './Mark.js';
import { placesOf } from './places.js';
import './shell.css';

const AccountMenu = lazy(() => import('./menus.js').then((m) => ({ default: m.AccountMenu })));
const PlacesMenu = lazy(() => import('./menus.js').then((m) => ({ default: m.PlacesMenu })));

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
  const places = placesOf(person);
  return (
    <>
      <nav
        aria-label="Places"
        className="places"
        data-of={person.role === 'student' ? 'student' : 'instructor'}
      >
        {places.map(([path, name]) => (
          <NavLink key={path} to={path}>
            {name}
          </NavLink>
        ))}
      </nav>
      <MenuOnRequest
        menu={(button) => <PlacesMenu places={places}>{button}</PlacesMenu>}
        button={
          <Button type="text" className="places-menu" icon={<MenuOutlined />}>
            Menu
          </Button>
        }
      />
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
      <Button type="text" icon={<BellOutlined />} aria-label={words}>
        <span className="notice-count" aria-hidden="true">
          {data.length}
        </span>
      </Button>
    </Popover>
  );
}

/** Who is signed in, and what they may do with their own account. */
function Account({ person }: { person: Person }) {
  return (
    <MenuOnRequest
      menu={(button) => <AccountMenu person={person}>{button}</AccountMenu>}
      button={
        <Button type="text" className="who" aria-label={`${person.name}, ${person.role}: account`}>
          {person.name}
          <span className="who-role">{person.role}</span>
          <DownOutlined />
        </Button>
      }
    />
  );
}

/** A button whose menu is fetched when it is first asked for; it opens as it comes. */
function MenuOnRequest({
  button,
  menu,
}: {
  button: ReactElement<ButtonProps>;
  menu: (button: ReactElement) => ReactElement;
}) {
  const [isAsked, setAsked] = useState(false);
  const closed = cloneElement(button, { onClick: () => setAsked(true), 'aria-haspopup': 'menu' });
  return isAsked ? <Suspense fallback={closed}>{menu(button)}</Suspense> : closed;
}
