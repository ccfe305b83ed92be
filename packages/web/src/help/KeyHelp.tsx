import { Suspense, lazy, useEffect, useState } from 'react';

/** Comes when it is first asked for. */
const KeyDialog = lazy(() => import('./KeyDialog.js').then((m) => ({ default: m.KeyDialog })));

/** The list of keys, shown by `?` wherever nothing is typed. */
export function KeyHelp() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (event.key === '?' && !typing) setOpen(true);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  if (!open) return null;
  return (
    <Suspense>
      <KeyDialog onClose={() => setOpen(false)} />
    </Suspense>
  );
}
