import { useState } from 'react';
import { Alert, Button, Input } from 'antd';
import type { Person } from '@contactum/contract';
import { useSignInAgain } from '../api/queries.js';

/**
 * The session is over: what was done is kept in this browser, and sent once its student has signed in
 * again.
 */
export function SignInAgain({
  person,
  unsent,
  onDone,
}: {
  person: Person;
  unsent: number;
  onDone: () => void;
}) {
  const signIn = useSignInAgain();
  const [password, setPassword] = useState('');
  const submit = () => signIn.mutate({ login: person.login, password }, { onSuccess: onDone });
  const kept = unsent === 1 ? 'One change is' : `${unsent} changes are`;
  return (
    <Alert
      type="warning"
      showIcon
      title="You are signed out."
      description={
        <form
          className="sign-in-again"
          onSubmit={(event) => {
            event.preventDefault();
            submit();
          }}
        >
          <p>
            {kept} kept in this browser and will be sent when {person.name} signs in again.
          </p>
          <Input.Password
            aria-label={`Password of ${person.login}`}
            value={password}
            autoComplete="current-password"
            onChange={({ target }) => setPassword(target.value)}
          />
          <Button type="primary" htmlType="submit" disabled={password === ''} loading={signIn.isPending}>
            Sign in as {person.login}
          </Button>
          {signIn.isError && <p role="alert">{signIn.error.message}</p>}
        </form>
      }
    />
  );
}
