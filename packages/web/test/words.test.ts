import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';

const SOURCES = join(import.meta.dirname, '..', 'src');

/** What nobody says: each has a usual word beside it. */
const BANNED: Readonly<Record<string, string>> = {
  'Found a class': 'New class',
  'Put away': 'Archive',
  'Take out again': 'Restore',
  'Make it': 'Create …',
  'Begin anew': 'Reset',
  'Number anew': 'Renumber',
  'Set to it': 'Assigned exercises',
  'Enrol by a list': 'Import a list',
  'Into an own set': 'Add to my set',
  'Pick by degree': 'Choose by difficulty',
  'Inject by degree': 'Inject by difficulty',
  'Nothing to send': 'no button',
  'A word to all': 'Message the class',
  'Found it': 'Create class',
  'Add somebody': 'Add person',
  'Rests on': 'Source',
  'Numbered by': 'Numbering',
  'Habit of designations': 'Designations',
  'The failure is the lesson': 'Deliberately unsafe',
  'is like that': 'match',
  'Nothing is lost': 'No points lost / your work is saved',
  'Nothing yet.': 'No … yet, with what to do',
  'Found otherwise': 'Not as expected',
  'Take it off': 'Remove',
  'Take out': 'Remove, Clear fault',
  'I have them': 'Done',
  'Go on wiring': 'Continue wiring',
  'Go on searching': 'Keep searching',
  'let go S': 'release S',
  'no further for': 'no progress for',
  'Set it to': 'Assign to',
  'An expert needs': 'Readings an expert needs',
  'A file of commas': 'CSV file',
};

/** A number with a noun that is always plural: `1 leads`. */
const NO_PLURAL = /\{[^{}]*\.length\} (leads|readings|entries|faults chosen|devices chosen)\b/;

test('labels and messages use the words that colleges, the trade and other software use', () => {
  const files = readdirSync(SOURCES, { recursive: true, withFileTypes: true })
    .filter((one) => one.isFile() && one.name.endsWith('.tsx'))
    .map((one) => join(one.parentPath, one.name));
  expect(files.length).toBeGreaterThan(100);
  const found = files.flatMap((file) => {
    const text = readFileSync(file, 'utf8').replace(/\/\*[\s\S]*?\*\/|\/\/.*$/gm, '');
    const counted = NO_PLURAL.exec(text);
    if (counted) return [`${file.slice(SOURCES.length + 1)}: “${counted[0]}”, say plural()`];
    return Object.entries(BANNED).flatMap(([phrase, usual]) =>
      text.includes(phrase) ? [`${file.slice(SOURCES.length + 1)}: “${phrase}”, say “${usual}”`] : [],
    );
  });
  expect(found).toEqual([]);
});
