import { useState } from 'react';
import { Alert, Button, Input } from 'antd';
import type { Roster } from '@contactum/contract';
import { useClassHands } from '../api/college.js';

/** Who teaches a class: one at the least. */
export function Instructors({ roster }: { roster: Roster }) {
  const { addInstructor, removeInstructor } = useClassHands(roster.id);
  const [login, setLogin] = useState('');
  const error = addInstructor.error ?? removeInstructor.error;
  return (
    <>
      <ul className="people-list">
        {roster.instructors.map(({ id, name, login: own }) => (
          <li key={id}>
            {name} <span className="mono quiet">{own}</span>
            <Button size="small" type="text" onClick={() => removeInstructor.mutate(id)}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      <span className="hand-row">
        <Input
          aria-label="Sign-in name of an instructor"
          placeholder="sign-in name of another instructor"
          value={login}
          style={{ width: 280 }}
          onChange={({ target }) => setLogin(target.value)}
        />
        <Button
          disabled={login.trim() === ''}
          loading={addInstructor.isPending}
          onClick={() => addInstructor.mutate(login.trim(), { onSuccess: () => setLogin('') })}
        >
          Add
        </Button>
      </span>
      {error && <Alert type="error" showIcon title={error.message} />}
    </>
  );
}
