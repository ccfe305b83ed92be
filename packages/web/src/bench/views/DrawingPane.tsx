import { useDeferredValue, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { drawingOf, type DrawingForm, type TerminalRef, usualForm } from '@contactum/core';
import { FitSwitch } from '../../drawing/FitSwitch.js';
import type { Fit } from '../../drawing/fit.js';
import { FormSwitch } from '../../drawing/FormSwitch.js';
import { DrawingView } from '../../drawing/DrawingView.js';
import { SheetsButton } from '../../drawing/SheetsButton.js';
import type { ViewProps } from './view-props.js';

/** The circuit as it is wired, drawn anew with every lead; live, it shows what conducts. */
export function DrawingPane({ kit: { store, live }, view, link }: ViewProps) {
  const bench = useDeferredValue(useStore(store, (state) => state.bench));
  const [form, setForm] = useState<DrawingForm>(() => usualForm(view.exercise.bench));
  const drawing = useMemo(() => drawingOf(bench, form), [bench, form]);
  const [fit, setFit] = useState<Fit>('whole');
  const { title } = view.exercise;
  // A click puts down the probe that is in the hand; the readings are taken at the meter.
  const onTerminal = (ref: TerminalRef) => {
    const { probing } = store.getState();
    if (probing) store.actions.putProbe(probing, ref);
  };
  return (
    <>
      <div className="view-tools">
        <FormSwitch form={form} onForm={setForm} />
        <FitSwitch drawing={drawing} fit={fit} onFit={setFit} />
        <SheetsButton drawing={drawing} title={title} />
      </div>
      <DrawingView
        drawing={drawing}
        fit={fit}
        live={live}
        link={link}
        onTerminal={onTerminal}
        label={`Drawing of the wires as they are, ${title}`}
      />
    </>
  );
}
