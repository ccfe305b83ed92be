import { askEarly } from './api/client.js';

/** Pages that people come to from elsewhere, and what each asks for first. */
const PAGES: Readonly<Record<string, { load: () => Promise<unknown>; asks: (id: string) => string[] }>> = {
  bench: {
    load: () => import('./bench/BenchPage.js'),
    asks: (id) => [`/attempts/${id}`, '/session/key'],
  },
  answer: {
    load: () => import('./questions/AnswerPage.js'),
    asks: (id) => [`/attempts/${id}`, '/session/key'],
  },
  search: { load: () => import('./faults/SearchPage.js'), asks: (id) => [`/searches/${id}`] },
  slip: { load: () => import('./slip/SlipPage.js'), asks: (id) => [`/attempts/${id}/slip`] },
  exercises: { load: () => import('./exercises/ExercisesPage.js'), asks: () => ['/exercises'] },
};

/**
 * Begins to load the page of an address, and what it shows, while it is still being found out who is there:
 * otherwise each would wait for the one before.
 */
export function loadEarly(path: string): void {
  const [, name = '', id = '', ...more] = path.split('/');
  const page = PAGES[name === '' ? 'exercises' : name];
  askEarly('/session');
  if (!page || more.length > 0 || (id === '') !== (page === PAGES.exercises)) return;
  // What fails here is asked for again by the page itself, which says so.
  page.load().catch(() => undefined);
  for (const one of page.asks(encodeURIComponent(id))) askEarly(one);
}
