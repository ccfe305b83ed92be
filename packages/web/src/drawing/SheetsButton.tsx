import { Suspense, lazy, useState } from 'react';
import { Button } from 'antd';
import type { Drawing } from '@contactum/core';
import { useSession } from '../api/queries.js';

/** Comes when it is first asked for. */
const SheetsDialog = lazy(() => import('./SheetsDialog.js').then((m) => ({ default: m.SheetsDialog })));

/** Puts a drawing onto sheets of paper, to look at, to print and to save. */
export function SheetsButton({ drawing, title }: { drawing: Drawing; title: string }) {
  const [open, setOpen] = useState(false);
  const person = useSession().data;
  if (drawing.sheets.length === 0) return null;
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Sheets …
      </Button>
      {open && (
        <Suspense>
          <SheetsDialog
            drawing={drawing}
            title={title}
            author={person?.name ?? ''}
            onClose={() => setOpen(false)}
          />
        </Suspense>
      )}
    </>
  );
}
