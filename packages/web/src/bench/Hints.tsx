import { Suspense, lazy, useState } from 'react';
import { Button } from 'antd';
import { BulbOutlined } from '@ant-design/icons';
import type { AttemptView } from '@contactum/contract';
import type { LinkStore } from '../board/link.js';
import type { BenchStore } from './store.js';

/** Comes when it is first asked for. */
const HintsDialog = lazy(() => import('./HintsDialog.js').then((m) => ({ default: m.HintsDialog })));

/** Hints by degree, where the exercise gives them: what was told so far, and the next one with its price. */
export function Hints({ view, store, link }: { view: AttemptView; store: BenchStore; link: LinkStore }) {
  const [open, setOpen] = useState(false);
  if (!view.exercise.hints) return null;
  return (
    <>
      <Button icon={<BulbOutlined />} onClick={() => setOpen(true)}>
        Hint
      </Button>
      {open && (
        <Suspense>
          <HintsDialog id={view.attempt.id} store={store} link={link} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
