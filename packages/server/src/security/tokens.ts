import { createHash, randomBytes } from 'node:crypto';

/** A word of 256 bits that nobody guesses. */
export const newToken = (): string => randomBytes(32).toString('base64url');

/** What is kept in the place of such a word: whoever reads it cannot show the word. */
export const hashOfToken = (token: string): string => createHash('sha256').update(token).digest('hex');
