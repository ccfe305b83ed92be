import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { chaptersOf, found } from '../src/help/chapters.js';

const MANUAL = join(import.meta.dirname, '..', '..', '..', 'docs', 'manual');
const NAMES = ['students', 'instructors', 'administrators', 'command'] as const;
const chapters = NAMES.flatMap((name) =>
  chaptersOf(name, name, readFileSync(join(MANUAL, `${name}.md`), 'utf8')),
);

describe('the manuals', () => {
  test('each has chapters with something in them, and no two have one id', () => {
    for (const name of NAMES) {
      const own = chapters.filter(({ manual }) => manual === name);
      expect(own.length).toBeGreaterThanOrEqual(name === 'command' ? 1 : 5);
      for (const { title, text } of own)
        expect({ title, long: text.length > 60 }).toEqual({ title, long: true });
    }
    expect(new Set(chapters.map(({ id }) => id)).size).toBe(chapters.length);
  });

  test('every picture that they show is there', () => {
    const pictures = chapters.flatMap(({ html }) =>
      [...html.matchAll(/src="([^"]+)"/g)].map(([, src]) => src!),
    );
    expect(pictures.length).toBeGreaterThan(8);
    for (const src of pictures)
      expect({ src, there: existsSync(join(MANUAL, src)) }).toEqual({ src, there: true });
  });

  test('a search finds what every word stands in, titles first, and nothing where one does not', () => {
    const hits = found(chapters, 'marking SLIP');
    expect(hits[0]?.title).toBe('The Marking slip');
    for (const { text } of hits) {
      expect(text.toLowerCase()).toContain('marking');
      expect(text.toLowerCase()).toContain('slip');
    }
    expect(found(chapters, 'slip qqqq')).toEqual([]);
    expect(found(chapters, '  ')).toBe(chapters);
  });
});
