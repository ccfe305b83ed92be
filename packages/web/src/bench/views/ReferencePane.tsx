import { useMemo, useState } from 'react';
import { Spin } from 'antd';
import { useStore } from 'zustand';
import { completeNets, type DrawingForm, usualForm } from '@contactum/core';
import { useReferenceDrawing } from '../../api/queries.js';
import { DrawingView } from '../../drawing/DrawingView.js';
import { FitSwitch } from '../../drawing/FitSwitch.js';
import type { Fit } from '../../drawing/fit.js';
import { FormSwitch } from '../../drawing/FormSwitch.js';
import { SheetsButton } from '../../drawing/SheetsButton.js';
import type { ViewProps } from './view-props.js';

/** The drawing that the exercise gives; what is fitted is struck off on it. */
export function ReferencePane({ kit: { store }, view: { exercise }, link }: ViewProps) {
  const bench = useStore(store, (state) => state.bench);
  const [form, setForm] = useState<DrawingForm>(() => usualForm(exercise.bench));
  const [fit, setFit] = useState<Fit>('whole');
  const { data: drawing } = useReferenceDrawing(exercise.id, form);
  const potentials = useMemo(() => (drawing ? completeNets(drawing.nets, bench) : []), [drawing, bench]);
  const struck = useMemo(
    () => new Set(potentials.flatMap(({ net, complete }) => (complete ? [net] : []))),
    [potentials],
  );
  return (
    <>
      <div className="view-tools">
        <FormSwitch form={form} onForm={setForm} />
        {drawing && <FitSwitch drawing={drawing} fit={fit} onFit={setFit} />}
        {drawing && <SheetsButton drawing={drawing} title={exercise.title} />}
        <span>
          {struck.size} of {potentials.length} potentials wired; they are struck off in dots. One right
          wiring, never the only one.
        </span>
      </div>
      {drawing ? (
        <DrawingView
          drawing={drawing}
          struck={struck}
          fit={fit}
          link={link}
          label={`Reference drawing of ${exercise.title}`}
        />
      ) : (
        <Spin className="waiting" />
      )}
    </>
  );
}
