import { chaptersOf, type Chapter } from './chapters.js';

/** The pictures of the manuals, by their file names. */
const PICTURES = import.meta.glob<string>('../../../../docs/screenshots/*.png', {
  query: '?url',
  import: 'default',
  eager: true,
});

const SOURCES = import.meta.glob<string>('../../../../docs/manual/*.md', {
  query: '?raw',
  import: 'default',
  eager: true,
});

/** The manuals by the names of their files, in their order. */
const MANUALS = {
  students: 'Students',
  instructors: 'Instructors',
  administrators: 'Administrators',
  command: 'Command line',
} as const;

const sourceOf = (key: string): string =>
  Object.entries(SOURCES).find(([path]) => path.endsWith(`/${key}.md`))?.[1] ?? '';

const withPictures = (html: string): string =>
  html.replace(/src="[^"]*\/([^"/]+\.png)"/g, (whole, name: string) => {
    const url = Object.entries(PICTURES).find(([path]) => path.endsWith(`/${name}`))?.[1];
    return url ? `src="${url}" loading="lazy"` : whole;
  });

/** Everything that the manuals say, in their order. */
export const CHAPTERS: readonly Chapter[] = Object.entries(MANUALS).flatMap(([key, name]) =>
  chaptersOf(key, name, sourceOf(key), withPictures),
);
