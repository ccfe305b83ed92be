import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { SheetEntries } from '@contactum/core';
import type { SheetRequest, SheetTaken, SheetToTake } from '@contactum/contract';
import { ApiError, ask } from './client.js';
import { lockVault, openVault, openVaults, type Vault } from './vault.js';

/**
 * A sheet that is entered at a bench; it stays in this browser until the server has taken it, and for a
 * while after.
 */
export interface KeptSheet {
  readonly id: string;
  readonly settingId: string;
  readonly studentId: string;
  readonly entries: SheetEntries;
  readonly photo: SheetRequest['photo'];
  readonly changedAt: string;
  readonly state: 'under way' | 'done' | 'sent' | 'refused';
  /** Why the server did not take it. */
  readonly why: string | null;
  readonly attemptId: string | null;
}

/** As it lies in the browser; plain only where an earlier version kept it. */
type Sealed<T, K extends keyof T> = Pick<T, K> & ({ readonly box: Uint8Array } | T);

interface Kept extends DBSchema {
  papers: { key: string; value: Sealed<SheetToTake, 'settingId'> };
  sheets: { key: string; value: Sealed<KeptSheet, 'id'> };
}

const opened = (personId: string): Promise<IDBPDatabase<Kept>> =>
  openDB<Kept>(`contactum-sheets-${personId}`, 1, {
    upgrade(database) {
      database.createObjectStore('papers', { keyPath: 'settingId' });
      database.createObjectStore('sheets', { keyPath: 'id' });
    },
  });

/**
 * Makes what a person keeps here unreadable before somebody else has the browser: papers with the class's
 * names, and sheets that the server has, are erased; what is not sent yet stays, sealed, for its owner
 * alone.
 */
export async function leave(personId: string): Promise<void> {
  const database = await opened(personId);
  await database.clear('papers');
  const vault = await openVault(personId).catch(() => null);
  for (const kept of await database.getAll('sheets')) {
    const sheet = 'box' in kept ? vault?.open<KeptSheet>(kept.box) : kept;
    if (sheet?.state === 'sent') await database.delete('sheets', kept.id);
    else if (!('box' in kept) && vault) await database.put('sheets', { id: kept.id, box: vault.seal(kept) });
  }
  database.close();
  await lockVault(personId);
}

/** The same for everybody but one, who is signed in now; for everybody where nobody is. */
export async function leaveAllBut(personId: string | null): Promise<void> {
  for (const one of await openVaults()) if (one !== personId) await leave(one);
}

/** What one person keeps in this browser: papers that were taken to the bench, and sheets. */
export class SheetStore {
  private readonly database: Promise<IDBPDatabase<Kept>>;
  private readonly vault: Promise<Vault>;

  constructor(personId: string) {
    this.database = opened(personId);
    this.vault = openVault(personId);
    // Whoever asks is told.
    this.vault.catch(() => undefined);
  }

  async papers(): Promise<SheetToTake[]> {
    return this.unsealed<SheetToTake>(await (await this.database).getAll('papers'));
  }

  async paper(settingId: string): Promise<SheetToTake | undefined> {
    const kept = await (await this.database).get('papers', settingId);
    return kept && (await this.unsealed<SheetToTake>([kept]))[0];
  }

  async sheets(): Promise<KeptSheet[]> {
    const all = await this.unsealed<KeptSheet>(await (await this.database).getAll('sheets'));
    return all.sort((a, b) => b.changedAt.localeCompare(a.changedAt));
  }

  async sheet(id: string): Promise<KeptSheet | undefined> {
    const kept = await (await this.database).get('sheets', id);
    return kept && (await this.unsealed<KeptSheet>([kept]))[0];
  }

  private async unsealed<T extends object>(
    kept: readonly (T | { readonly box: Uint8Array })[],
  ): Promise<T[]> {
    const vault = await this.vault;
    return kept.flatMap((one) => {
      const value = 'box' in one ? vault.open<T>(one.box) : one;
      return value ? [value] : [];
    });
  }

  /** Fetches the sheet of a setting and keeps it, so that it is there without a network. */
  async take(settingId: string): Promise<SheetToTake> {
    const paper = await ask<SheetToTake>('GET', `/assignments/${settingId}/sheet`);
    const box = (await this.vault).seal(paper);
    await (await this.database).put('papers', { settingId, box });
    return paper;
  }

  async put(sheet: KeptSheet): Promise<void> {
    const box = (await this.vault).seal(sheet);
    await (await this.database).put('sheets', { id: sheet.id, box });
  }

  async remove(id: string): Promise<void> {
    await (await this.database).delete('sheets', id);
  }

  /**
   * Sends what is done, one after another; what the server refuses stays here with its words. Stops where
   * the server is not reached.
   */
  async send(
    told: (done: number, of: number) => void,
    anyway: ReadonlySet<string> = new Set(),
  ): Promise<void> {
    const ready = (await this.sheets()).filter(({ state, id }) => state === 'done' || anyway.has(id));
    for (const [k, sheet] of ready.entries()) {
      told(k, ready.length);
      try {
        const taken = await sendSheet(sheet, anyway.has(sheet.id));
        await this.put({ ...sheet, state: 'sent', why: null, attemptId: taken.attemptId });
      } catch (error) {
        if (!(error instanceof ApiError) || error.status === 0 || error.status === 401 || error.status >= 500)
          throw error;
        await this.put({ ...sheet, state: 'refused', why: error.message });
      }
    }
    told(ready.length, ready.length);
  }
}

const sendSheet = ({ id, settingId, studentId, entries, photo }: KeptSheet, anyway: boolean) =>
  ask<SheetTaken>('POST', `/assignments/${settingId}/sheets`, {
    id,
    studentId,
    entries,
    photo,
    anyway,
    clock: new Date().toISOString(),
  });
