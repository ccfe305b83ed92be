/** The page that was asked for comes first: keeping the others fetches five megabytes. Milliseconds. */
const FIRST_MS = 4_000;

/** Keeps the application's own files in the browser, so that bench sheets open without a network. */
export function keepPages(): void {
  if (!('serviceWorker' in navigator) || import.meta.env.DEV) return;
  const keep = () => {
    navigator.serviceWorker.register('/sw.js', { scope: '/' }).catch(() => undefined);
  };
  window.addEventListener('load', () => window.setTimeout(keep, FIRST_MS));
}
