import { useState } from 'react';
import { Alert, Button, Checkbox, Divider, Form, Input } from 'antd';
import type { LinePlace } from '@contactum/contract';
import { v4 as newId } from 'uuid';
import { useJoinNew } from '../api/college.js';
import { useDoor, useLinePlace, useSignIn } from '../api/queries.js';
import { Mark } from './Mark.js';
import './shell.css';

interface Values {
  readonly login: string;
  readonly password: string;
  readonly stay?: boolean;
}

/** How many sign-ins are before one that waits, and about how long. */
export function lineWords({ before, seconds }: LinePlace): string {
  if (before === 0) return 'Many people are signing in. You are next.';
  const people = before === 1 ? '1 person is' : `${before} people are`;
  return `Many people are signing in. ${people} ahead of you, about ${seconds} s.`;
}

/** The door. */
export function SignIn() {
  const { data: door } = useDoor();
  const signOn = door?.signOn ?? null;
  const [isEmergency, setEmergency] = useState(false);
  const takesPasswords = (door?.passwords ?? true) || isEmergency;
  const [joining, setJoining] = useState(false);
  if (joining) return <Join onBack={() => setJoining(false)} />;
  return (
    <div className="door">
      <main className="door-card">
        <Mark />
        <h1>Contactum</h1>
        <p className="quiet">Wire a control board, work it, and see it proved.</p>
        {signOn !== null && <SignOnButton name={signOn} isOnly={!takesPasswords} />}
        {takesPasswords ? (
          <PasswordForm stayDays={door?.stayDays ?? 0} />
        ) : (
          <Button type="link" block onClick={() => setEmergency(true)}>
            Administrator sign-in
          </Button>
        )}
        {(door?.passwords ?? true) && (
          <Button type="link" block onClick={() => setJoining(true)}>
            I have a class code
          </Button>
        )}
      </main>
    </div>
  );
}

/** Signing in with a password. */
function PasswordForm({ stayDays }: { stayDays: number }) {
  const signIn = useSignIn();
  const ticket = signIn.isPending ? (signIn.variables.ticket ?? null) : null;
  const { data: place } = useLinePlace(ticket);
  return (
    <Form
      layout="vertical"
      requiredMark={false}
      onFinish={(values: Values) => signIn.mutate({ ...values, ticket: newId() })}
    >
      <Form.Item label="Name" name="login" rules={[{ required: true, message: 'Type your name.' }]}>
        <Input autoFocus autoComplete="username" autoCapitalize="none" />
      </Form.Item>
      <Form.Item
        label="Password"
        name="password"
        rules={[{ required: true, message: 'Type your password.' }]}
      >
        <Input.Password autoComplete="current-password" />
      </Form.Item>
      {stayDays > 0 && (
        <Form.Item
          name="stay"
          valuePropName="checked"
          extra={`For ${stayDays} days. Not for a shared computer.`}
        >
          <Checkbox>Keep me signed in</Checkbox>
        </Form.Item>
      )}
      {signIn.isError && (
        <Alert type="error" showIcon title={signIn.error.message} style={{ marginBottom: 16 }} />
      )}
      {signIn.isPending && place && (
        <Alert type="info" showIcon title={lineWords(place)} style={{ marginBottom: 16 }} />
      )}
      <Button type="primary" htmlType="submit" block loading={signIn.isPending}>
        Sign in
      </Button>
    </Form>
  );
}

/** Leads to the college's own sign-on, and from there back to the page that was wanted. */
function SignOnButton({ name, isOnly }: { name: string; isOnly: boolean }) {
  const { pathname, search } = window.location;
  return (
    <>
      <Button
        type="primary"
        block
        size="large"
        href={`/api/sign-on?to=${encodeURIComponent(`${pathname}${search}`)}`}
      >
        Sign in with {name}
      </Button>
      {!isOnly && <Divider plain>or with a password</Divider>}
    </>
  );
}

interface JoinValues {
  readonly code: string;
  readonly name: string;
  readonly login: string;
  readonly password: string;
}

/** Somebody who has a class's code and no account makes one. */
function Join({ onBack }: { onBack: () => void }) {
  const join = useJoinNew();
  const needed = (message: string) => [{ required: true, message }];
  return (
    <div className="door">
      <main className="door-card">
        <Mark />
        <h1>Join a class</h1>
        <p className="quiet">
          With the code that your instructor has given you. If you have an account, sign in and join there.
        </p>
        <Form layout="vertical" requiredMark={false} onFinish={(values: JoinValues) => join.mutate(values)}>
          <Form.Item label="Class code" name="code" rules={needed('Type the code.')}>
            <Input autoFocus className="mono" autoCapitalize="characters" />
          </Form.Item>
          <Form.Item label="Your full name" name="name" rules={needed('Type your name.')}>
            <Input autoComplete="name" />
          </Form.Item>
          <Form.Item label="Name to sign in with" name="login" rules={needed('Choose a name.')}>
            <Input autoComplete="username" autoCapitalize="none" />
          </Form.Item>
          <Form.Item
            label="Password"
            name="password"
            rules={[{ required: true, min: 8, message: 'At least 8 characters.' }]}
          >
            <Input.Password autoComplete="new-password" />
          </Form.Item>
          {join.isError && (
            <Alert type="error" showIcon title={join.error.message} style={{ marginBottom: 16 }} />
          )}
          <Button type="primary" htmlType="submit" block loading={join.isPending}>
            Join
          </Button>
        </Form>
        <Button type="link" block onClick={onBack}>
          I have an account
        </Button>
      </main>
    </div>
  );
}
