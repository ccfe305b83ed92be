import { expect, test } from '@jest/globals';
import { screen, waitFor, within } from '@testing-library/react';
import type { BenchWord, Roster } from '@contactum/contract';
import { FloorNotes } from '../../src/bench/FloorNotes.js';
import { useMessages, type Visit } from '../../src/bench/use-floor.js';
import { Members } from '../../src/classes/Members.js';
import { ExercisesPage } from '../../src/exercises/ExercisesPage.js';
import { Shell } from '../../src/shell/Shell.js';
import { INSTRUCTOR as instructor, STUDENT as student, answer, sent, show } from './stage.js';

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
  platform: null,
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

const nobody: Visit = { watched: null, asked: null, lead: null, words: [], unsent: null };
const word = (id: string, text: string, isStudents = false): BenchWord => ({
  id,
  by: isStudents ? 'Ebba Skerry' : 'Ines Brack',
  text,
  at: '2026-11-20T09:00:00Z',
  isStudents,
  isToClass: false,
});

/** The notes of a bench as its page shows them, with what was done there. */
function Notes({ visit, said }: { visit: Visit; said: unknown[] }) {
  const messages = useMessages(visit);
  return (
    <>
      <button type="button" onClick={() => messages.open(!messages.isOpen)}>
        Messages of the bar
      </button>
      <FloorNotes
        floor={{
          visit,
          messages,
          answer: (yes, to) => said.push([yes, to.id]),
          write: (text) => said.push(text),
        }}
      />
    </>
  );
}

test('a yes at the bench is said to the one whose name stands there', async () => {
  const said: unknown[] = [];
  const asker = { name: 'Ines Brack', id: 'i' };
  const { user, unmount } = show(<Notes visit={{ ...nobody, asked: asker }} said={said} />);
  expect(screen.getByText('Ines Brack would like to take the lead at your bench.')).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Yes' }));
  await user.click(screen.getByRole('button', { name: 'No' }));
  unmount();
  const led = show(<Notes visit={{ ...nobody, lead: asker, watched: 'Ines Brack' }} said={said} />);
  expect(screen.getByText('Ines Brack has the lead beside you.')).toBeDefined();
  await led.user.click(screen.getByRole('button', { name: 'Take it back' }));
  expect(said).toEqual([
    [true, 'i'],
    [false, 'i'],
    [false, 'i'],
  ]);
});

test('a message opens the box, is answered there, and a closed box stays closed until the next message', async () => {
  const said: unknown[] = [];
  const stage = (visit: Visit) => <Notes visit={visit} said={said} />;
  const { user, rerender } = show(stage(nobody));
  expect(screen.queryByRole('region', { name: 'Messages with your instructor' })).toBeNull();
  rerender(stage({ ...nobody, words: [word('1', 'Mind F2.')] }));
  const box = () => screen.queryByRole('region', { name: 'Messages with your instructor' });
  expect(within(box()!).getByText('Mind F2.')).toBeDefined();
  await user.type(screen.getByLabelText('Message your instructor'), '  It is set to 3.4 A. {Enter}');
  expect(said).toEqual(['It is set to 3.4 A.']);
  const words = [word('1', 'Mind F2.'), word('2', 'It is set to 3.4 A.', true)];
  rerender(stage({ ...nobody, words }));
  expect(within(box()!).getAllByText(/^(You|Ines Brack), /)).toHaveLength(2);
  await user.click(screen.getByRole('button', { name: 'Close messages' }));
  expect(box()).toBeNull();
  // One's own next message, from another tab, does not open it; the instructor's does.
  rerender(stage({ ...nobody, words: [...words, word('3', 'Done.', true)] }));
  expect(box()).toBeNull();
  rerender(stage({ ...nobody, words: [...words, word('4', 'Good.')] }));
  expect(box()).not.toBeNull();
  await user.click(screen.getByRole('button', { name: 'Messages of the bar' }));
  expect(box()).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Messages of the bar' }));
  expect(box()).not.toBeNull();
});

test('a message that was not sent says why, and stands in the line to be sent again', async () => {
  const said: unknown[] = [];
  const unsent = { text: 'Where does 14 go?', why: 'There is no connection just now.' };
  const { user } = show(<Notes visit={{ ...nobody, unsent }} said={said} />);
  await user.click(screen.getByRole('button', { name: 'Messages of the bar' }));
  expect(screen.getByText(/“Where does 14 go\?” was not sent\. There is no connection/)).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Send' }));
  expect(said).toEqual(['Where does 14 go?']);
});
