import { beforeEach, describe, expect, test } from '@jest/globals';
import { screen, waitFor } from '@testing-library/react';
import { openDB } from 'idb';
import type { Person, SheetToTake } from '@contactum/contract';
import { SheetStore, leave, leaveAllBut, type KeptSheet } from '../../src/api/kept.js';
import { Vault, openVault, openVaults, sealedIn } from '../../src/api/vault.js';
import { SheetsPage } from '../../src/sheets/SheetsPage.js';
import { answer, sent, show } from './stage.js';

const key = (n: number): string => btoa(String.fromCharCode(...new Uint8Array(32).fill(n)));
/** The person whose session the server sees; each has a key of their own. */
let signedIn = 'ann';
const KEYS: Readonly<Record<string, string>> = { ann: key(1), ben: key(2) };

const paper = {
  settingId: 'set1',
  className: 'Pan Fitters 1A',
  exerciseId: 'brine-pump',
  version: '1',
  sheet: { title: 'Brine pump', board: 'Brine pump board' },
  terminals: [],
  students: [
    { id: 's1', name: 'Ebba Skerry' },
    { id: 's2', name: 'Jory Osier' },
  ],
  takenAt: '2026-11-20T09:00:00Z',
} as unknown as SheetToTake;

const sheet = (id: string, state: KeptSheet['state'], changedAt = '2026-11-20T10:00:00Z'): KeptSheet => ({
  id,
  settingId: 'set1',
  studentId: 's1',
  entries: { dead: { t1: 'open' }, functions: {}, settings: {}, checks: {}, remarks: 'the secret reading' },
  photo: null,
  changedAt,
  state,
  why: null,
  attemptId: state === 'sent' ? 'a1' : null,
});

/** Everything that lies in this browser for somebody, as text. */
async function lying(person: string): Promise<string> {
  const database = await openDB(`contactum-sheets-${person}`, 1);
  const all = [...(await database.getAll('papers')), ...(await database.getAll('sheets'))] as unknown[];
  database.close();
  return JSON.stringify(all, (_, value: unknown) =>
    value instanceof Uint8Array ? String.fromCharCode(...value) : value,
  );
}

beforeEach(async () => {
  signedIn = 'ann';
  answer('GET /session/key', () =>
    signedIn === ''
      ? { status: 401, body: { error: { type: 'unauthenticated', message: 'Sign in first.' } } }
      : { body: { key: KEYS[signedIn] } },
  );
  answer('GET /assignments/set1/sheet', { body: paper });
  await leaveAllBut(null);
  for (const person of ['ann', 'ben']) {
    const store = new SheetStore(person);
    for (const { id } of await store.sheets().catch(() => [])) await store.remove(id);
    await leave(person).catch(() => undefined);
  }
});

describe('what is kept in a browser', () => {
  test('nothing of it can be read where it lies, and its owner reads all of it', async () => {
    const store = new SheetStore('ann');
    await store.take('set1');
    await store.put(sheet('one', 'under way'));
    const text = await lying('ann');
    for (const word of ['Skerry', 'Osier', 'Pan Fitters', 'secret', 'open']) expect(text).not.toContain(word);
    expect(await store.papers()).toEqual([paper]);
    expect(await store.sheet('one')).toEqual(sheet('one', 'under way'));
  });

  test('signing out erases the class and what the server has; what is unsent waits for its owner alone', async () => {
    const store = new SheetStore('ann');
    await store.take('set1');
    await store.put(sheet('unsent', 'done'));
    await store.put(sheet('taken', 'sent'));
    signedIn = '';
    await leave('ann');
    expect(await openVaults()).toEqual([]);
    await expect(new SheetStore('ann').sheets()).rejects.toThrow('Sign in first.');
    // The next person at this tablet has another key, and sees nothing.
    signedIn = 'ben';
    const ben = new SheetStore('ben');
    expect([await ben.papers(), await ben.sheets()]).toEqual([[], []]);
    signedIn = 'ann';
    const again = new SheetStore('ann');
    expect(await again.papers()).toEqual([]);
    expect((await again.sheets()).map(({ id }) => id)).toEqual(['unsent']);
  });

  test('whoever signs in ends what others can read here, without their signing out', async () => {
    await new SheetStore('ann').take('set1');
    signedIn = 'ben';
    await openVault('ben');
    await leaveAllBut('ben');
    expect(await openVaults()).toEqual(['ben']);
    const database = await openDB('contactum-sheets-ann', 1);
    expect(await database.getAll('papers')).toEqual([]);
    database.close();
  });

  test('what an earlier version kept plainly is read, and sealed before anybody else has the browser', async () => {
    await new SheetStore('ann').sheets();
    const database = await openDB('contactum-sheets-ann', 1);
    await database.put('sheets', sheet('old', 'done'));
    database.close();
    expect((await new SheetStore('ann').sheets()).map(({ id }) => id)).toEqual(['old']);
    await leave('ann');
    expect(await lying('ann')).not.toContain('secret');
    expect((await new SheetStore('ann').sheets()).map(({ id }) => id)).toEqual(['old']);
  });

  test('leads that are not sent yet are sealed beside them; what was changed or another’s is not there', () => {
    const [own, other] = [new Vault(new Uint8Array(32).fill(7)), new Vault(new Uint8Array(32).fill(8))];
    const place = sealedIn(localStorage, own);
    place.setItem('contactum.unsent.a', '[{"seq":1}]');
    expect(localStorage.getItem('contactum.unsent.a')).not.toContain('seq');
    expect(place.getItem('contactum.unsent.a')).toBe('[{"seq":1}]');
    expect(sealedIn(localStorage, other).getItem('contactum.unsent.a')).toBeNull();
    localStorage.setItem('contactum.unsent.b', '[{"seq":2}]');
    expect(place.getItem('contactum.unsent.b')).toBe('[{"seq":2}]');
    localStorage.setItem('contactum.unsent.c', 'no base64 …');
    expect(place.getItem('contactum.unsent.c')).toBeNull();
    place.removeItem('contactum.unsent.a');
    expect(place.getItem('contactum.unsent.a')).toBeNull();
  });
});

describe('the page of bench sheets', () => {
  const ann: Person = { id: 'ann', login: 'skerry', name: 'Ebba Skerry', role: 'student' };
  const brack: Person = { ...ann, name: 'Ines Brack', role: 'instructor' };

  test('a sheet is begun, done, and sent with the device’s own clock; what the server refuses says why', async () => {
    const store = new SheetStore('ann');
    await store.take('set1');
    await store.put(sheet('one', 'done', '2026-11-20T10:00:00Z'));
    await store.put(sheet('two', 'done', '2026-11-20T11:00:00Z'));
    let k = 0;
    answer('POST /assignments/set1/sheets', () =>
      (k += 1) === 1
        ? { status: 201, body: { id: 'two', attemptId: 'a2', number: 1 } }
        : { status: 409, body: { error: { type: 'conflict', message: 'The one attempt is used.' } } },
    );
    const { user } = show(<SheetsPage person={ann} />);
    await user.click(await screen.findByRole('button', { name: 'Send 2 sheets' }));
    expect(await screen.findByText(/The one attempt is used/)).toBeDefined();
    expect(screen.getByText('✓ sent')).toBeDefined();
    const bodies = sent('POST', '/assignments/set1/sheets').map(({ body }) => body as { clock: string });
    expect(bodies).toHaveLength(2);
    for (const { clock } of bodies) expect(Math.abs(Date.parse(clock) - Date.now())).toBeLessThan(60_000);
  });

  test('an instructor sees which students’ sheets wait; a student does not ask', async () => {
    answer('GET /sheets/waiting', {
      body: [
        {
          attemptId: 'a9',
          student: 'Jory Osier',
          exercise: 'Brine pump',
          className: 'Pan Fitters 1A',
          sentAt: '2026-11-20T09:00:00Z',
          state: 'marked',
        },
      ],
    });
    show(<SheetsPage person={brack} />);
    const link = await screen.findByRole('link', { name: 'Jory Osier' });
    expect(link.getAttribute('href')).toBe('/slip/a9');
    const before = sent('GET', '/sheets/waiting').length;
    show(<SheetsPage person={ann} />);
    await waitFor(() => expect(screen.getAllByText('Bench sheets').length).toBeGreaterThan(1));
    expect(sent('GET', '/sheets/waiting')).toHaveLength(before);
  });

  test('without the key nothing is shown, and it says why', async () => {
    signedIn = '';
    show(<SheetsPage person={ann} />);
    expect(await screen.findByText(/cannot be opened now/)).toBeDefined();
  });
});
