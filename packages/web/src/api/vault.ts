import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { xchacha20poly1305 } from '@noble/ciphers/chacha';
import { bytesToUtf8, utf8ToBytes } from '@noble/ciphers/utils';
import { managedNonce } from '@noble/ciphers/webcrypto';
import { ask } from './client.js';

/**
 * What a person keeps in this browser is readable while they are signed in here, and by nobody afterwards:
 * it is encrypted with a key that the server gives its owner alone, and the key is erased at signing out. A
 * library does it, since browsers encrypt only over HTTPS and colleges run this on plain networks too.
 */
export class Vault {
  constructor(private readonly key: Uint8Array) {}

  seal(value: unknown): Uint8Array {
    return managedNonce(xchacha20poly1305)(this.key).encrypt(utf8ToBytes(JSON.stringify(value)));
  }

  /** Null of what was sealed with another key, or was changed. */
  open<T>(sealed: Uint8Array): T | null {
    try {
      return JSON.parse(bytesToUtf8(managedNonce(xchacha20poly1305)(this.key).decrypt(sealed))) as T;
    } catch {
      return null;
    }
  }
}

interface Keys extends DBSchema {
  keys: { key: string; value: Uint8Array };
}

const keys = (): Promise<IDBPDatabase<Keys>> =>
  openDB<Keys>('contactum-keys', 1, {
    upgrade(database) {
      database.createObjectStore('keys');
    },
  });

const fromBase64 = (text: string): Uint8Array => Uint8Array.from(atob(text), (sign) => sign.charCodeAt(0));

/**
 * Opens what a person keeps here: with the key that is here while they are signed in, else with the
 * server's.
 */
export async function openVault(personId: string): Promise<Vault> {
  const database = await keys();
  const known = await database.get('keys', personId);
  if (known) return new Vault(known);
  const { key } = await ask<{ key: string }>('GET', '/session/key');
  const raw = fromBase64(key);
  await database.put('keys', raw, personId);
  return new Vault(raw);
}

/** People whose things can be read in this browser now. */
export const openVaults = async (): Promise<readonly string[]> => (await keys()).getAllKeys('keys');

/** From now on what a person keeps here cannot be read before they sign in again. */
export async function lockVault(personId: string): Promise<void> {
  await (await keys()).delete('keys', personId);
}

/** A place like the browser's own for texts, in which they are sealed; what cannot be opened is not there. */
export function sealedIn(
  place: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>,
  vault: Vault,
): Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> {
  return {
    getItem(name) {
      const kept = place.getItem(name);
      // As earlier versions kept it.
      if (kept === null || kept.startsWith('[')) return kept;
      try {
        return vault.open<string>(fromBase64(kept));
      } catch {
        return null;
      }
    },
    setItem(name, text) {
      place.setItem(name, btoa(String.fromCharCode(...vault.seal(text))));
    },
    removeItem(name) {
      place.removeItem(name);
    },
  };
}
