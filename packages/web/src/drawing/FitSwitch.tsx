import { Segmented } from 'antd';
import type { Drawing } from '@contactum/core';
import type { Fit } from './fit.js';

const NAMES: Readonly<Record<Fit, string>> = {
  whole: 'Whole',
  width: 'Width',
  power: 'Power',
  control: 'Control',
};

/** How much of a drawing is shown at once. */
export function FitSwitch({
  drawing,
  fit,
  onFit,
}: {
  drawing: Drawing;
  fit: Fit;
  onFit: (fit: Fit) => void;
}) {
  const circuits = drawing.sheets.length > 1 ? drawing.sheets.map(({ circuit }) => circuit) : [];
  return (
    <Segmented<Fit>
      size="small"
      aria-label="Fit"
      value={fit}
      options={(['whole', 'width', ...circuits] as const).map((value) => ({ value, label: NAMES[value] }))}
      onChange={onFit}
    />
  );
}
