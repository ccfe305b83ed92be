import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { SheetEntries } from '@contactum/core';
import type { SheetRequest, SheetTaken, SheetToTake } from '@contactum/contract';
import { ApiError, ask } from '../api/client.js';

/** A sheet that is entered at a bench; it stays in this browser until the server has taken it, and for a while after. */
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

interface Kept extends DBSchema {
  papers: { key: string; value: SheetToTake };
  sheets: { key: string; value: KeptSheet };
}

/** What one person keeps in this browser: papers that were taken to the bench, and sheets. */
export class SheetStore {
  private readonly database: Promise<IDBPDatabase<Kept>>;

  constructor(personId: string) {
    this.database = openDB<Kept>(`contactum-sheets-${personId}`, 1, {
      upgrade(database) {
        database.createObjectStore('papers', { keyPath: 'settingId' });
        database.createObjectStore('sheets', { keyPath: 'id' });
      },
    });
  }

  async papers(): Promise<SheetToTake[]> {
    return (await this.database).getAll('papers');
  }

  async paper(settingId: string): Promise<SheetToTake | undefined> {
    return (await this.database).get('papers', settingId);
  }

  async sheets(): Promise<KeptSheet[]> {
    const all = await (await this.database).getAll('sheets');
    return all.sort((a, b) => b.changedAt.localeCompare(a.changedAt));
  }

  async sheet(id: string): Promise<KeptSheet | undefined> {
    return (await this.database).get('sheets', id);
  }

  /** Fetches the sheet of a setting and keeps it, so that it is there without a network. */
  async take(settingId: string): Promise<SheetToTake> {
    const paper = await ask<SheetToTake>('GET', `/assignments/${settingId}/sheet`);
    await (await this.database).put('papers', paper);
    return paper;
  }

  async put(sheet: KeptSheet): Promise<void> {
    await (await this.database).put('sheets', sheet);
  }

  async remove(id: string): Promise<void> {
    await (await this.database).delete('sheets', id);
  }

  /** Sends what is done, one after another; what the server refuses stays here with its words. Stops where the server is not reached. */
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
