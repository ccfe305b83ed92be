import { expect, test } from '@jest/globals';
import { screen, waitFor } from '@testing-library/react';
import { SignIn, lineWords } from '../../src/shell/SignIn.js';
import { answer, sent, show } from './stage.js';

const PERSON = { id: '1', login: 'ada', name: 'Ada Brack', role: 'student' };

async function fill(user: ReturnType<typeof show>['user']): Promise<void> {
  await user.type(screen.getByLabelText('Name'), 'ada');
  await user.type(screen.getByLabelText('Password'), 'high water');
}

test('who waits for a password to be looked at sees how many are before, and gets in', async () => {
  let letIn: (value: { status: number; body: unknown }) => void = () => undefined;
  answer('GET /session/door', { body: { stayDays: 120 } });
  answer('GET /session/line/*', { body: { before: 37, seconds: 4 } });
  answer('POST /session', () => new Promise((resolve) => (letIn = resolve)));
  const { user } = show(<SignIn />);
  await fill(user);
  await user.click(await screen.findByRole('checkbox', { name: 'Keep me signed in' }));
  await user.click(screen.getByRole('button', { name: 'Sign in' }));
  expect(await screen.findByText(/37 people are ahead of you, about 4 s\./)).toBeDefined();
  const [{ body } = { body: {} }] = sent('POST', '/session');
  const { ticket, ...rest } = body as Record<string, unknown>;
  expect(rest).toEqual({ login: 'ada', password: 'high water', stay: true });
  expect(sent('GET', `/session/line/${String(ticket)}`).length).toBeGreaterThan(0);
  letIn({ status: 201, body: PERSON });
  await waitFor(() => expect(screen.queryByText(/ahead of you/)).toBeNull());
});

test('a college that lets nobody stay signed in does not offer it; a refusal is told', async () => {
  answer('GET /session/door', { body: { stayDays: 0 } });
  answer('POST /session', {
    status: 401,
    body: { error: { type: 'unauthenticated', message: 'The name or the password is wrong.' } },
  });
  const { user } = show(<SignIn />);
  await fill(user);
  await user.click(screen.getByRole('button', { name: 'Sign in' }));
  expect(await screen.findByText('The name or the password is wrong.')).toBeDefined();
  expect(screen.queryByRole('checkbox', { name: 'Keep me signed in' })).toBeNull();
});

test('the place in the line, in words', () => {
  expect(lineWords({ before: 0, seconds: 1 })).toBe('Many people are signing in. You are next.');
  expect(lineWords({ before: 1, seconds: 1 })).toBe(
    'Many people are signing in. 1 person is ahead of you, about 1 s.',
  );
});
