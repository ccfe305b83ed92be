import { Button, Segmented } from 'antd';
import { spellWire, type MeterRequest, type Wire } from '@contactum/core';
import type { LiveBench } from '../live.js';
import type { Probe } from '../store.js';
import { PROBES } from './reading.js';
import { ProbeRow } from './ProbeRow.js';

type Mode = MeterRequest['mode'];

/** Every instrument, by the word that stands on its switch. */
export const MODES: readonly { readonly value: Mode; readonly label: string }[] = [
  { value: 'volts', label: 'Volts' },
  { value: 'ohms', label: 'Ohms' },
  { value: 'amps', label: 'Clamp' },
  { value: 'sequence', label: 'Phase order' },
];

/** The meter in a hand: which instrument it is, where its probes or its clamp lie, and what it shows. */
export function MeterFace({
  modes = MODES,
  size = 'medium',
  mode,
  onMode,
  probes,
  probing,
  onArm,
  onPut,
  lead,
  noLead,
  live,
  onRead,
  shown,
}: {
  modes?: typeof MODES;
  size?: 'small' | 'medium';
  mode: Mode;
  onMode: (mode: Mode) => void;
  probes: Readonly<Partial<Record<Probe, string | null>>>;
  probing: Probe | null;
  onArm: (probe: Probe | null) => void;
  onPut: (probe: Probe, ref: Wire['from']) => void;
  /** The lead in the clamp. */
  lead: Pick<Wire, 'from' | 'to'> | undefined;
  /** What to do where no lead is in the clamp. */
  noLead: string;
  live: LiveBench;
  onRead: () => void;
  shown: string;
}) {
  const isReady =
    mode === 'amps' ? lead !== undefined : PROBES[mode].every((probe) => (probes[probe] ?? null) !== null);
  return (
    <>
      <Segmented size={size} aria-label="Instrument" options={[...modes]} value={mode} onChange={onMode} />
      {mode === 'amps' ? (
        <p>{lead ? `Clamp about ${spellWire(lead)}.` : noLead}</p>
      ) : (
        PROBES[mode].map((probe) => (
          <ProbeRow
            key={probe}
            probe={probe}
            armed={probing === probe}
            at={probes[probe] ?? null}
            live={live}
            onArm={(armed) => onArm(armed ? probe : null)}
            onPut={(ref) => onPut(probe, ref)}
          />
        ))
      )}
      <div className="meter-read">
        <Button type="primary" disabled={!isReady} onClick={onRead}>
          Read
        </Button>
        <output aria-live="polite">{shown}</output>
      </div>
    </>
  );
}
