import { marked } from 'marked';

/** One heading of a manual with everything under it, up to the next. */
export interface Chapter {
  /** Unique among all manuals. */
  readonly id: string;
  readonly manual: string;
  readonly title: string;
  readonly html: string;
  /** What it says, for searching. */
  readonly text: string;
}

const plain = (html: string): string =>
  html
    .replace(/<[^>]+>/g, ' ')
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&quot;', '"')
    .replaceAll('&#39;', '’')
    .replaceAll('&amp;', '&')
    .replace(/\s+/g, ' ');

/** A manual as its chapters: what stands before the first heading belongs to the manual itself. */
export function chaptersOf(
  key: string,
  name: string,
  source: string,
  withPictures: (html: string) => string = (html) => html,
): Chapter[] {
  const parts = source.split(/^## /m);
  return parts.map((part, k) => {
    const [first = '', ...rest] = part.split('\n');
    const title = k === 0 ? name : first.trim();
    const html = withPictures(marked.parse(rest.join('\n'), { async: false }));
    return { id: `${key}-${k}`, manual: name, title, html, text: `${title} ${plain(html)}` };
  });
}

/** Chapters in which every word is found, those with it in their title first. */
export function found(chapters: readonly Chapter[], sought: string): readonly Chapter[] {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return chapters;
  const has = (text: string) => words.every((word) => text.toLowerCase().includes(word));
  const hits = chapters.filter(({ text }) => has(text));
  return [...hits.filter(({ title }) => has(title)), ...hits.filter(({ title }) => !has(title))];
}
