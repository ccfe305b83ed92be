import { usualForm } from '@contactum/core';
import { lazy, Suspense, useState } from 'react';
import { Button, Spin } from 'antd';
import type { FloorBoard } from '@contactum/contract';
import { useProofOf } from '../bench/use-proof.js';
import { summaryOf } from './proof-summary.js';

const ProofList = lazy(() => import('../bench/views/ProofPane.js').then((m) => ({ default: m.ProofList })));

/** What a student's wiring can do so far: always here for the instructor, whatever the exercise tells. */
export function ShoulderProof({ board: { bench, functions } }: { board: FloorBoard }) {
  const proof = useProofOf(bench, functions, true);
  const [isOpen, setOpen] = useState(false);
  const summary = proof.soFar && summaryOf(proof.soFar);
  return (
    <section className="shoulder-proof" aria-label="Proof" aria-busy={proof.isBehind}>
      <p data-bad={summary?.bad ? 'yes' : undefined}>
        <span>{summary?.text ?? proof.problem ?? 'The wiring is being proved …'}</span>
        <Button size="small" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? 'Hide proof' : 'Show proof'}
        </Button>
      </p>
      {isOpen && (
        <Suspense fallback={<Spin className="waiting" />}>
          <ProofList bench={bench} form={usualForm(bench)} proof={proof} />
        </Suspense>
      )}
    </section>
  );
}
