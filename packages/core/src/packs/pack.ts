import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';

/** Names of the list of files, and of its signature. */
export const MANIFEST = 'manifest.json';
export const SIGNATURE = 'manifest.sig';

/** One file of a pack. */
export interface PackFile {
  readonly name: string;
  readonly bytes: number;
  /** SHA-256, hexadecimal (FIPS 180-4). */
  readonly sha256: string;
}

/** What a pack is of, and every file that belongs to it. */
export interface Manifest {
  readonly contactum: 'pack/1';
  /** By which it is asked for again: the attempt's. */
  readonly number: string;
  readonly made: string;
  readonly student: string;
  readonly className: string;
  readonly exercise: { readonly id: string; readonly title: string; readonly version: string };
  readonly handedIn: string;
  readonly score: number;
  readonly max: number;
  readonly passed: boolean;
  readonly files: readonly PackFile[];
  /** The public key that it is signed with: Ed25519 (RFC 8032), raw, base64. */
  readonly key: string;
}

/** True where a signature of a message was made with the private part of a key; all raw bytes. */
export type Verify = (message: Uint8Array, signature: Uint8Array, key: Uint8Array) => boolean;

export interface PackCheck {
  /** Nothing was changed since it was signed. */
  readonly ok: boolean;
  /** Null where there is none that can be read. */
  readonly manifest: Manifest | null;
  readonly signed: boolean;
  readonly changed: readonly string[];
  readonly missing: readonly string[];
  readonly added: readonly string[];
}

export const fileOf = (name: string, data: Uint8Array): PackFile => ({
  name,
  bytes: data.length,
  sha256: bytesToHex(sha256(data)),
});

/** A key by the first half of its SHA-256, in groups of four, as people compare it. */
export const keyFingerprint = (key: Uint8Array): string =>
  bytesToHex(sha256(key))
    .slice(0, 32)
    .replace(/(.{4})(?=.)/g, '$1 ');

/** The bytes of a manifest as they are signed. */
export const manifestBytes = (manifest: Manifest): Uint8Array =>
  utf8ToBytes(`${JSON.stringify(manifest, null, 2)}\n`);

function readManifest(data: Uint8Array | undefined): Manifest | null {
  if (!data) return null;
  try {
    const value = JSON.parse(new TextDecoder().decode(data)) as Partial<Manifest> | null;
    const isOne =
      value?.contactum === 'pack/1' && Array.isArray(value.files) && typeof value.key === 'string';
    return isOne ? (value as Manifest) : null;
  } catch {
    return null;
  }
}

/** Looks whether every file of a pack is as it was when its list was signed. */
export function checkPack(
  files: ReadonlyMap<string, Uint8Array>,
  { verify, keyBytes }: { readonly verify: Verify; readonly keyBytes: (base64: string) => Uint8Array },
): PackCheck {
  const data = files.get(MANIFEST);
  const manifest = readManifest(data);
  if (!data || !manifest)
    return { ok: false, manifest: null, signed: false, changed: [], missing: [MANIFEST], added: [] };
  const signature = files.get(SIGNATURE);
  const signed = signature !== undefined && verify(data, signature, keyBytes(manifest.key));
  const listed = new Map(manifest.files.map((one) => [one.name, one]));
  const changed = [...listed.values()]
    .filter(({ name, sha256: digest }) => {
      const own = files.get(name);
      return own !== undefined && fileOf(name, own).sha256 !== digest;
    })
    .map(({ name }) => name);
  const missing = [...listed.keys(), SIGNATURE].filter((name) => !files.has(name));
  const added = [...files.keys()].filter(
    (name) => !listed.has(name) && name !== MANIFEST && name !== SIGNATURE,
  );
  const ok = signed && changed.length + missing.length + added.length === 0;
  return { ok, manifest, signed, changed, missing, added };
}

/** What is wrong with a pack, in sentences; none of one that is as it was signed. */
export function packWarnings({ manifest, signed, changed, missing, added }: PackCheck): string[] {
  if (!manifest) return ['It has no list of files that can be read: it is no evidence pack.'];
  return [
    ...(signed ? [] : ['Its list of files was changed, or signed with another key than it names.']),
    ...changed.map((name) => `${name} was changed.`),
    ...missing.map((name) => `${name} is missing.`),
    ...added.map((name) => `${name} was added.`),
  ];
}
