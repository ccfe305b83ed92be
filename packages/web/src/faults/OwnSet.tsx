import { useState } from 'react';
import { Alert, Button, Input, InputNumber } from 'antd';
import { useNavigate } from 'react-router';
import { describeFault, writeFault, type Exercise, type Fault } from '@contactum/core';
import { useMakeSearch } from '../api/queries.js';

/** Faults that belong together, with what the operator says of them. */
export interface OwnFault {
  readonly faults: readonly Fault[];
  readonly complaint: string;
  readonly minutes: number;
}

/** One work order: its faults, what the operator says, and the time. */
function WorkOrder({
  k,
  one,
  onChange,
  onRemove,
}: {
  k: number;
  one: OwnFault;
  onChange: (to: Partial<OwnFault>) => void;
  onRemove: () => void;
}) {
  return (
    <li>
      <strong>{one.faults.map(describeFault).join('; ')}</strong>
      <Input.TextArea
        aria-label={`Complaint of work order ${k + 1}`}
        autoSize
        value={one.complaint}
        onChange={({ target }) => onChange({ complaint: target.value })}
      />
      <span className="hand-row">
        <InputNumber
          aria-label={`Minutes of work order ${k + 1}`}
          min={5}
          max={120}
          value={one.minutes}
          suffix="min"
          onChange={(minutes) => onChange({ minutes: minutes ?? 20 })}
        />
        <Button size="small" type="text" onClick={onRemove}>
          Remove
        </Button>
      </span>
    </li>
  );
}

const written = (own: readonly OwnFault[]) =>
  own.map(({ faults, complaint, minutes }, k) => ({
    title: `Work order ${k + 1}`,
    complaint,
    minutes,
    faults: faults.map(writeFault),
  }));

/** The instructor's set: work orders in an order, as an exercise to find. */
export function OwnSet({
  exercise,
  own,
  onOwn,
}: {
  exercise: Exercise;
  own: readonly OwnFault[];
  onOwn: (own: readonly OwnFault[]) => void;
}) {
  const [title, setTitle] = useState(`${exercise.title}, my set`);
  const make = useMakeSearch();
  const navigate = useNavigate();
  if (own.length === 0)
    return (
      <p className="quiet">
        No work orders yet. Choose faults under “What can go wrong”, or choose some by difficulty; each
        becomes a work order here.
      </p>
    );
  const save = () =>
    make.mutate(
      { of: exercise.id, title, sets: written(own) },
      { onSuccess: ({ id }) => void navigate(`/exercises/${id}`) },
    );
  return (
    <div className="own-set">
      <label>
        Title
        <Input value={title} onChange={({ target }) => setTitle(target.value)} />
      </label>
      <ol className="own-faults">
        {own.map((one, k) => (
          <WorkOrder
            key={k}
            k={k}
            one={one}
            onChange={(to) => onOwn(own.map((before, n) => (n === k ? { ...before, ...to } : before)))}
            onRemove={() => onOwn(own.filter((_, n) => n !== k))}
          />
        ))}
      </ol>
      {make.isError && <Alert type="error" showIcon title={make.error.message} />}
      <Button type="primary" loading={make.isPending} disabled={title.trim() === ''} onClick={save}>
        Save as a fault-finding exercise
      </Button>
    </div>
  );
}
