import { useEffect, useState } from 'react';
import { Button } from 'antd';
import { useStore } from 'zustand';
import type { Person } from '@contactum/contract';
import type { Kit } from './use-workplace.js';
import './first-steps.css';

const keyOf = (person: Person): string => `contactum.first-steps.${person.id}`;

interface Step {
  readonly title: string;
  readonly text: string;
}

const STEPS: readonly Step[] = [
  { title: 'Lay a lead', text: 'Click one terminal, then another. A drag does the same.' },
  { title: 'Switch on', text: 'The yellow-green button at the top right switches the supply on and off.' },
  { title: 'Press a button', text: 'Hold a button of the board with the pointer and see what it does.' },
];

/** Which step somebody stands at who works here for the first time; null once all are done. */
function useStep({ live, store }: Kit, person: Person): readonly [number | null, () => void] {
  const [at, setAt] = useState(() => Number(localStorage.getItem(keyOf(person)) ?? 0));
  const leads = useStore(store, (state) => state.bench.wires.length);
  const [before] = useState(leads);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const pressed = useStore(live.store, ({ events }) => events.some(({ state }) => state === 'pressed'));
  const isDone = at === 0 ? leads > before : at === 1 ? supplyOn : pressed;
  useEffect(() => {
    if (at < STEPS.length && isDone) setAt(at + 1);
  }, [at, isDone]);
  useEffect(() => localStorage.setItem(keyOf(person), String(at)), [at, person]);
  return [at < STEPS.length ? at : null, () => setAt(STEPS.length)];
}

/** Three short steps for somebody who has never worked at a bench; each goes away once it is done. */
export function FirstSteps({ kit, person }: { kit: Kit; person: Person }) {
  const [at, skip] = useStep(kit, person);
  const step = at === null ? undefined : STEPS[at];
  if (at === null || !step) return null;
  return (
    <section className="first-steps" aria-label="First steps" aria-live="polite">
      <p>
        <strong>
          {at + 1} of {STEPS.length}: {step.title}.
        </strong>{' '}
        {step.text}
      </p>
      <p className="quiet">Press ? for all keys.</p>
      <Button size="small" onClick={skip}>
        Skip
      </Button>
    </section>
  );
}
