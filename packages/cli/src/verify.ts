import { createPublicKey, verify } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import {
  checkPack,
  keyFingerprint,
  markWork,
  packWarnings,
  type Manifest,
  type PackCheck,
  type PackWork,
  type Report,
} from '@contactum/core';
import { readExercise } from '@contactum/core/documents';
import type { Answer } from './answer.js';
import { Unusable } from './input.js';

/** Before a raw Ed25519 key in the form that keys are written in (SPKI, RFC 8410). */
const SPKI = Buffer.from('302a300506032b6570032100', 'hex');

const isSigned = (message: Uint8Array, signature: Uint8Array, key: Uint8Array): boolean => {
  try {
    const own = createPublicKey({ key: Buffer.concat([SPKI, key]), format: 'der', type: 'spki' });
    return verify(null, message, own, signature);
  } catch {
    return false;
  }
};

function filesOf(file: string): Map<string, Uint8Array> {
  let data: Buffer;
  try {
    data = readFileSync(file);
  } catch {
    throw new Unusable(`${file}: cannot be read`);
  }
  try {
    return new Map(Object.entries(unzipSync(data)));
  } catch {
    throw new Unusable(`${file}: is no zip`);
  }
}

/** What the pack's own work is worth by the exercise that it carries; null where it cannot be marked. */
function markedAgain(files: ReadonlyMap<string, Uint8Array>): Report | null {
  const json = (name: string): unknown => JSON.parse(Buffer.from(files.get(name) ?? []).toString('utf8'));
  try {
    const exercise = readExercise(json('exercise.json'));
    return exercise.ok ? markWork(exercise.value, json('work.json') as PackWork) : null;
  } catch {
    return null;
  }
}

/** Whose pack it is, of what, and what it says. */
const headOf = (manifest: Manifest, key: string): string[] => {
  const { student, className, exercise, score, max, passed, handedIn, number } = manifest;
  return [
    `${student}, ${className}: ${exercise.title}`,
    `${score} of ${max}, ${passed ? 'passed' : 'not passed'}; handed in ${handedIn}`,
    `pack ${number}, key ${key}`,
  ];
};

interface VerifyValues {
  readonly key?: string;
  readonly mark?: boolean;
}

/** Whether an evidence pack is as it was signed; with `--mark` it is marked again by what it carries. */
export function verifyCommand(file: string, { key, mark = false }: VerifyValues): Answer {
  const files = filesOf(file);
  const keyBytes = (text: string) => Uint8Array.from(Buffer.from(text, 'base64'));
  const check: PackCheck = checkPack(files, { verify: isSigned, keyBytes });
  const { manifest } = check;
  const own = manifest ? keyFingerprint(keyBytes(manifest.key)) : null;
  const plain = (text: string) => text.replace(/\s+/g, '').toLowerCase();
  const isTheirs = key === undefined || (own !== null && plain(own) === plain(key));
  const again = mark && manifest ? markedAgain(files) : null;
  const sameMark = !mark || again?.score === manifest?.score;
  const holds = check.ok && isTheirs && sameMark;
  const warnings = [
    ...packWarnings(check),
    ...(isTheirs ? [] : ['It was signed with another key than was named.']),
    ...(sameMark
      ? []
      : [`Marked again it has ${again ? again.score : 'no mark'}, not ${manifest?.score ?? ''}.`]),
  ];
  return {
    holds,
    json: {
      ...check,
      ok: holds,
      key: own,
      marked: again && { score: again.score, passed: again.passed },
      warnings,
    },
    words: [
      ...(manifest ? headOf(manifest, own ?? '') : [file]),
      ...(holds ? ['Nothing was changed since it was signed.'] : warnings),
    ].join('\n'),
  };
}
