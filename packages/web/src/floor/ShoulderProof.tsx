import { lazy, Suspense, useState } from 'react';
import { Button, Spin } from 'antd';
import { plural, type SoFar } from '@contactum/core';
import type { FloorBoard } from '@contactum/contract';
import { useProofOf } from '../bench/use-proof.js';
import { formOf } from '../drawing/form.js';

const ProofList = lazy(() => import('../bench/views/ProofPane.js').then((m) => ({ default: m.ProofList })));

/** How a board stands in one line: what is dangerous first. */
function summaryOf({ short, properties, functions }: SoFar): {
  readonly text: string;
  readonly bad: boolean;
} {
  const broken = properties.filter(({ holds }) => !holds);
  const done = functions.filter(({ differs }) => differs === null).length;
  const does = functions.length > 0 ? `does ${done} of ${plural(functions.length, 'function')}` : '';
  const [first] = broken;
  if (short !== null) return { text: `✕ Would short as the supply comes on: ${short}`, bad: true };
  if (first) {
    const others = broken.length > 1 ? ` and ${broken.length - 1} more` : '';
    return { text: [`✕ Broken: ${first.title}${others}`, does].filter(Boolean).join('; '), bad: true };
  }
  const untested = properties.some(({ tested }) => !tested);
  const safe = untested ? '○ No safety property is broken so far' : '✓ Safe in every order of pressing';
  return { text: [safe, does].filter(Boolean).join('; '), bad: false };
}

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
          <ProofList bench={bench} form={formOf(bench)} proof={proof} />
        </Suspense>
      )}
    </section>
  );
}
