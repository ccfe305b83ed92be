import { expect, test } from '@jest/globals';
import { screen } from '@testing-library/react';
import type { Slip } from '@contactum/contract';
import { Confirm } from '../../src/slip/Confirm.js';
import { INSTRUCTOR as instructor, STUDENT as student, answer, sent, show } from './stage.js';

const slip = { attempt: { id: 'a1' }, student: { id: 's', name: 'Ebba Skerry' } } as unknown as Slip;

test('a student is told that the mark counts later, and has nothing to press', () => {
  show(<Confirm slip={slip} person={student} />);
  expect(screen.getByText(/counts when your instructor has confirmed/)).toBeDefined();
  expect(screen.queryByRole('button')).toBeNull();
});

test('an instructor says by their own name whether they gave permission, and stands for the sheet', async () => {
  answer('POST /attempts/a1/sheet/confirm', { status: 204 });
  const { user } = show(<Confirm slip={slip} person={instructor} />);
  const permission = screen.getByRole('checkbox', { name: /I, Ines Brack, gave permission/ });
  expect((permission as HTMLInputElement).checked).toBe(false);
  await user.click(permission);
  await user.click(screen.getByRole('button', { name: /confirm the sheet/ }));
  expect(sent('POST', '/attempts/a1/sheet/confirm')).toMatchObject([{ body: { permitted: true } }]);
});

test('what the server refuses stands beside the button in its words', async () => {
  answer('POST /attempts/a1/sheet/confirm', {
    status: 409,
    body: { error: { type: 'conflict', message: 'This sheet is confirmed already.' } },
  });
  const { user } = show(<Confirm slip={slip} person={instructor} />);
  await user.click(screen.getByRole('button', { name: /confirm the sheet/ }));
  expect(await screen.findByText('This sheet is confirmed already.')).toBeDefined();
  expect(sent('POST', '/attempts/a1/sheet/confirm')).toMatchObject([{ body: { permitted: false } }]);
});
