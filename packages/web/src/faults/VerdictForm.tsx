import { useMemo, useState } from 'react';
import { Button, Select } from 'antd';
import {
  compile,
  describeFault,
  isInDevice,
  isInLead,
  possibleFaults,
  spellWire,
  writeFault,
  type Bench,
  type Fault,
} from '@contactum/core';
import type { VerdictAnswer } from '@contactum/contract';
import { placeMark, type LinkStore } from '../board/link.js';
import type { RemoteBench } from './remote.js';

/** Where something may be wrong: a device, or a lead by its ends. */
function placesOf(bench: Bench, faults: readonly Fault[]) {
  const devices = bench.devices.filter(({ tag }) => faults.some((fault) => isInDevice(fault, tag)));
  return [
    ...devices.map(({ tag }) => ({ value: `device ${tag}`, label: tag })),
    ...bench.wires.map((wire) => ({
      value: `lead ${wire.from} ${wire.to}`,
      label: `lead ${spellWire(wire)}`,
    })),
  ];
}

function isAt(fault: Fault, place: string): boolean {
  const [kind = '', ...rest] = place.split(' ');
  const where = rest.join(' ');
  return kind === 'device' ? isInDevice(fault, where) : isInLead(fault, where);
}

/** A place as the board and the drawing point at it. */
function markOf(place: string): ReturnType<typeof placeMark> {
  const [kind, ...where] = place.split(' ');
  return kind === 'device'
    ? { chosen: { kind: 'device', tag: where.join(' ') }, why: null }
    : placeMark(where);
}

const SAID: Readonly<Record<VerdictAnswer, string>> = {
  right: 'That is it. Isolate, repair or exchange it, and prove the board again.',
  place: 'The right place, but another cause. Half the points for the cause are gone; go on.',
  wrong: 'That is not it. Half the points for the cause are gone; go on.',
};

/** Which device or lead, which terminals, and what is wrong with it. */
export function VerdictForm({ bench, live, link }: { bench: Bench; live: RemoteBench; link: LinkStore }) {
  const faults = useMemo(() => possibleFaults(compile(bench)), [bench]);
  const places = useMemo(() => placesOf(bench, faults), [bench, faults]);
  const [place, setPlace] = useState<string | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const [said, setSaid] = useState('');
  const causes = faults.flatMap((fault, k) => (place !== null && isAt(fault, place) ? [{ fault, k }] : []));
  const give = async (): Promise<void> => {
    const fault = chosen === null ? undefined : faults[chosen];
    if (!fault) return;
    const answer = await live.do({ kind: 'verdict', fault: writeFault(fault) });
    setSaid(
      answer.kind === 'refused'
        ? answer.reason
        : SAID[live.remote.getState().notes.at(-1)?.verdict ?? 'wrong'],
    );
  };
  return (
    <div className="verdict-form">
      <h2>Verdict</h2>
      <p className="quiet">
        Give a verdict only when the readings leave nothing else. A wrong one costs points.
      </p>
      <label>
        Which device or lead
        <Select
          showSearch={{ optionFilterProp: 'label' }}
          aria-label="Which device or lead"
          placeholder="KM1, or a lead"
          value={place}
          options={places}
          onChange={(next: string) => {
            setPlace(next);
            setChosen(null);
            // Shown on the board and the drawing: who names a place sees whether it is the one that is meant.
            link.setState(markOf(next));
          }}
        />
      </label>
      <label>
        What is wrong with it
        <Select
          aria-label="What is wrong with it"
          placeholder="what is wrong"
          disabled={place === null}
          value={chosen}
          options={causes.map(({ fault, k }) => ({ value: k, label: describeFault(fault) }))}
          onChange={setChosen}
        />
      </label>
      <Button type="primary" disabled={chosen === null} onClick={() => void give()}>
        Give the verdict
      </Button>
      <p role="status" className="verdict-said">
        {said}
      </p>
    </div>
  );
}
