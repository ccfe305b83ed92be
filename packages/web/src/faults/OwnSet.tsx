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

/** The instructor's own set: work orders in an order, as an exercise to find. */
export function OwnSet({
  exercise,
  own,
  onOwn,
}: {
  exercise: Exercise;
  own: readonly OwnFault[];
  onOwn: (own: readonly OwnFault[]) => void;
}) {
  const [title, setTitle] = useState(`${exercise.title}, own set`);
  const make = useMakeSearch();
  const navigate = useNavigate();
  const change = (k: number, to: Partial<OwnFault>) =>
    onOwn(own.map((one, n) => (n === k ? { ...one, ...to } : one)));
  if (own.length === 0)
    return (
      <p className="quiet">
        Nothing yet. Choose faults under “What can go wrong”, or pick some by degree; each becomes a work
        order here.
      </p>
    );
  const save = () =>
    make.mutate(
      {
        of: exercise.id,
        title,
        sets: own.map(({ faults, complaint, minutes }, k) => ({
          title: `Work order ${k + 1}`,
          complaint,
          minutes,
          faults: faults.map(writeFault),
        })),
      },
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
          <li key={k}>
            <strong>{one.faults.map(describeFault).join('; ')}</strong>
            <Input.TextArea
              aria-label={`Complaint of work order ${k + 1}`}
              autoSize
              value={one.complaint}
              onChange={({ target }) => change(k, { complaint: target.value })}
            />
            <span className="hand-row">
              <InputNumber
                aria-label={`Minutes of work order ${k + 1}`}
                min={5}
                max={120}
                value={one.minutes}
                suffix="min"
                onChange={(minutes) => change(k, { minutes: minutes ?? 20 })}
              />
              <Button size="small" type="text" onClick={() => onOwn(own.filter((_, n) => n !== k))}>
                Remove
              </Button>
            </span>
          </li>
        ))}
      </ol>
      {make.isError && <Alert type="error" showIcon title={make.error.message} />}
      <Button type="primary" loading={make.isPending} disabled={title.trim() === ''} onClick={save}>
        Save as an exercise to find
      </Button>
    </div>
  );
}
