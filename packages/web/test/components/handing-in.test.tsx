import { afterEach, expect, jest, test } from '@jest/globals';
import { onlineManager } from '@tanstack/react-query';
import { act, screen, waitFor } from '@testing-library/react';
import type { AttemptView } from '@contactum/contract';
import { useHandingIn } from '../../src/bench/use-handing-in.js';
import { answer, sent, show } from './stage.js';

afterEach(() => act(() => onlineManager.setOnline(true)));

const VIEW = { attempt: { id: 'a1' }, sitting: null } as unknown as AttemptView;
const POST = 'POST /attempts/a1/hand-in';

/** A button that hands in once everything is stored. */
function Desk({ settle }: { settle: () => Promise<void> }) {
  const { submit, busy } = useHandingIn(VIEW, settle);
  return (
    <button type="button" aria-busy={busy} onClick={submit}>
      Hand in
    </button>
  );
}

const busy = () => screen.getByRole('button', { name: 'Hand in' }).getAttribute('aria-busy');

test('a board is handed in once it is stored, and the button is busy from the press on', async () => {
  let stored = () => {};
  const settle = () => new Promise<void>((resolve) => (stored = resolve));
  answer(POST, { status: 202, body: {} });
  const { user } = show(<Desk settle={settle} />);
  await user.click(screen.getByRole('button', { name: 'Hand in' }));
  await waitFor(() => expect(busy()).toBe('true'));
  expect(sent('POST', '/attempts/a1/hand-in')).toHaveLength(0);
  stored();
  await waitFor(() => expect(busy()).toBe('false'));
  expect(sent('POST', '/attempts/a1/hand-in')).toHaveLength(1);
});

test('a server without an internet is asked all the same', async () => {
  act(() => onlineManager.setOnline(false));
  answer(POST, { status: 202, body: {} });
  const { user } = show(<Desk settle={() => Promise.resolve()} />);
  await user.click(screen.getByRole('button', { name: 'Hand in' }));
  await waitFor(() => expect(sent('POST', '/attempts/a1/hand-in')).toHaveLength(1));
  await waitFor(() => expect(busy()).toBe('false'));
});

test('what keeps a board from being stored is said, and it can be handed in again', async () => {
  answer(POST, { status: 202, body: {} });
  const settle = jest
    .fn<() => Promise<void>>()
    .mockRejectedValueOnce(new Error('This board has been changed elsewhere.'))
    .mockResolvedValueOnce();
  const { user } = show(<Desk settle={settle} />);
  await user.click(screen.getByRole('button', { name: 'Hand in' }));
  expect(await screen.findByText('This board has been changed elsewhere.')).toBeDefined();
  expect(sent('POST', '/attempts/a1/hand-in')).toHaveLength(0);
  await waitFor(() => expect(busy()).toBe('false'));
  await user.click(screen.getByRole('button', { name: 'Hand in' }));
  await waitFor(() => expect(sent('POST', '/attempts/a1/hand-in')).toHaveLength(1));
});
