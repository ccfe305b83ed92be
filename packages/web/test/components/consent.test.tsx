import { expect, test } from '@jest/globals';
import { screen, waitFor, within } from '@testing-library/react';
import type { Person, Roster } from '@contactum/contract';
import { FloorNotes } from '../../src/bench/FloorNotes.js';
import { Members } from '../../src/classes/Members.js';
import { ExercisesPage } from '../../src/exercises/ExercisesPage.js';
import { Shell } from '../../src/shell/Shell.js';
import { answer, sent, show } from './stage.js';

const student: Person = { id: 's', login: 'skerry', name: 'Ebba Skerry', role: 'student' };
const instructor: Person = { id: 'i', login: 'brack', name: 'Ines Brack', role: 'instructor' };

test('a student is asked by name to join a class, and says yes or no', async () => {
  let invited = [
    { classId: 'c1', className: 'Pan Fitters 1A', askedBy: 'Ines Brack', askedAt: '2026-11-20T09:00:00Z' },
  ];
  answer('GET /exercises', { body: [] });
  answer('GET /invitations', () => ({ body: invited }));
  answer('POST /invitations/c1', () => {
    invited = [];
    return { status: 204 };
  });
  const { user } = show(<ExercisesPage person={student} />);
  expect(await screen.findByText('Ines Brack asks you to join Pan Fitters 1A.')).toBeDefined();
  const note = screen
    .getByText('Ines Brack asks you to join Pan Fitters 1A.')
    .closest('.ant-alert') as HTMLElement;
  await user.click(within(note).getByRole('button', { name: 'Join' }));
  await waitFor(() => expect(screen.queryByText(/asks you to join/)).toBeNull());
  expect(sent('POST', '/invitations/c1')).toMatchObject([{ body: { yes: true } }]);
});

test('an instructor asks nobody for invitations, and sees what others did until it is put away', async () => {
  let told = [{ id: '7', text: 'Maud Tern gave Ebba Skerry a first password.', at: '2026-11-20T09:00:00Z' }];
  answer('GET /notices', () => ({ body: told }));
  answer('DELETE /notices/7', () => {
    told = [];
    return { status: 204 };
  });
  const { user } = show(<Shell person={instructor} dark={false} onDark={() => undefined} />);
  await user.click(await screen.findByRole('button', { name: '1 message' }));
  expect(await screen.findByText(/gave Ebba Skerry a first password/)).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Dismiss' }));
  await waitFor(() => expect(screen.queryByRole('button', { name: /message/ })).toBeNull());
  expect(sent('DELETE', '/notices/7')).toHaveLength(1);
});

const roster: Roster = {
  id: 'c1',
  name: 'Pan Fitters 1A',
  term: '',
  archivedAt: null,
  joinCode: null,
  instructors: [instructor],
  members: [{ ...student, isNew: true }],
  groups: [],
  asked: [{ id: 'o', login: 'osier' }],
};

test('whoever is asked is listed by login alone, and what was asked is taken back', async () => {
  answer('DELETE /classes/c1/members/o', { body: { ...roster, asked: [] } });
  const { user } = show(<Members roster={roster} />);
  const asked = screen.getByRole('region', { name: 'Invited' });
  expect(within(asked).getByText('osier')).toBeDefined();
  await user.click(within(asked).getByRole('button', { name: 'Cancel invitation' }));
  await waitFor(() => expect(sent('DELETE', '/classes/c1/members/o')).toHaveLength(1));
});

test('a list is looked at first: who would be new, who is asked, and what cannot be taken', async () => {
  answer('POST /classes/c1/enrol', ({ body }) => ({
    body: {
      lines: [
        { line: 2, name: 'Jo Pan', login: 'jo', group: '', does: 'new', problem: null },
        { line: 3, name: '', login: 'osier', group: '', does: 'ask', problem: null },
        { line: 4, name: 'Mia', login: 'x', group: '', does: 'bad', problem: '"x" is somebody else’s' },
      ],
      good: 2,
      bad: 1,
      committed: (body as { commit: boolean }).commit,
      passwords: [],
    },
  }));
  const { user } = show(<Members roster={roster} />);
  await user.click(screen.getByRole('button', { name: 'Import class list' }));
  await user.click(await screen.findByLabelText('List of students'));
  await user.paste('Jo Pan,jo');
  await user.click(screen.getByRole('button', { name: 'Look at it' }));
  expect(await screen.findByText('2 lines can be taken, 1 cannot.')).toBeDefined();
  expect(screen.getByText(/will be invited/)).toBeDefined();
  const rows = screen.getAllByRole('row').filter((row) => /^line/.test(row.textContent ?? ''));
  expect(rows[0]?.textContent).toContain('somebody else’s');
  await user.click(screen.getByRole('button', { name: 'Take 2 and leave 1 out' }));
  await waitFor(() => expect(sent('POST', '/classes/c1/enrol')).toHaveLength(2));
  expect(sent('POST', '/classes/c1/enrol')[1]).toMatchObject({ body: { commit: true, skipBad: true } });
});

test('a yes at the bench is said to the one whose name stands there', async () => {
  const said: unknown[] = [];
  const asker = { name: 'Ines Brack', id: 'i' };
  const notes = (visit: Parameters<typeof FloorNotes>[0]['visit']) => (
    <FloorNotes
      visit={visit}
      onAnswer={(yes, to) => said.push([yes, to.id])}
      onHeard={(id) => said.push(id)}
    />
  );
  const nobody = { watched: null, asked: null, lead: null, words: [] };
  const { user, unmount } = show(
    notes({ ...nobody, asked: asker, words: [{ id: 'w', by: 'Ines Brack', text: 'Mind F2.' }] }),
  );
  expect(screen.getByText('Ines Brack would like to take the lead at your bench.')).toBeDefined();
  expect(screen.getByText('Ines Brack: Mind F2.')).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Yes' }));
  await user.click(screen.getByRole('button', { name: 'No' }));
  unmount();
  const led = show(notes({ ...nobody, lead: asker, watched: 'Ines Brack' }));
  expect(screen.getByText('Ines Brack has the lead beside you.')).toBeDefined();
  await led.user.click(screen.getByRole('button', { name: 'Take it back' }));
  expect(said).toEqual([
    [true, 'i'],
    [false, 'i'],
    [false, 'i'],
  ]);
});
