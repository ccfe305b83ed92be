import { usualForm } from '@contactum/core';
import { useStore } from 'zustand';
import { Walk } from '../../drawing/Walk.js';
import type { ViewProps } from './view-props.js';

/** What the wiring as it is would do, function by function, told and shown on its drawing. */
export function WalkPane({ kit: { store }, view: { exercise } }: ViewProps) {
  const bench = useStore(store, (state) => state.bench);
  const functions = exercise.behaviours.flatMap(({ id, title, steps }) =>
    steps ? [{ id, title, steps }] : [],
  );
  return <Walk bench={bench} functions={functions} form={usualForm(exercise.bench)} />;
}
