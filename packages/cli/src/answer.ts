/** What a command found: the JSON value, the words for a person, and whether what was asked holds. */
export interface Answer {
  readonly holds: boolean;
  readonly json: unknown;
  readonly words: string;
  /** What is printed instead of the words where it is no text. */
  readonly bytes?: Uint8Array;
}
