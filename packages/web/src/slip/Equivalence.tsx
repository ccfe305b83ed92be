import { Alert, Button } from 'antd';
import { describeStimulus, type Report } from '@contactum/core';
import type { Proof } from './Replay.js';
import { valuesInWords } from './steps.js';

/** Whether the board does what the reference does, and the shortest sequence after which it does not. */
export function Equivalence({ report, onProof }: { report: Report; onProof: (proof: Proof) => void }) {
  const { equivalent, counterexample, pairs } = report.equivalence;
  if (equivalent)
    return (
      <Alert
        type="success"
        showIcon
        title={`Does the same as the reference in all ${pairs.toLocaleString('en-GB')} pairs of situations.`}
      />
    );
  if (!counterexample)
    return (
      <Alert type="warning" showIcon title="Whether it does the same as the reference was not decided." />
    );
  return (
    <Alert
      type="warning"
      showIcon
      title="Does not do the same as the reference."
      description={
        <>
          {counterexample.steps.length > 0
            ? `After ${counterexample.steps.map(describeStimulus).join(', ')}: `
            : 'At once: '}
          reference {valuesInWords(counterexample.expected)}; this board{' '}
          {valuesInWords(counterexample.actual)}.
        </>
      }
      action={
        <Button
          size="small"
          onClick={() =>
            onProof({
              key: 'equivalence',
              title: 'Where it differs from the reference',
              steps: counterexample.steps,
              found: `Reference: ${valuesInWords(counterexample.expected)}. This board: ${valuesInWords(counterexample.actual)}.`,
              where: [],
            })
          }
        >
          Replay
        </Button>
      }
    />
  );
}
