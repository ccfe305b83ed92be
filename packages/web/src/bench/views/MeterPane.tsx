import { useState } from 'react';
import { useStore } from 'zustand';
import { leadOf, spellRef, spellWire, type MeterRequest, type TerminalRef } from '@contactum/core';
import type { MeterEntry } from '../store.js';
import type { LiveBench } from '../live.js';
import { PROBES, shownReading } from './reading.js';
import { MeterFace } from './MeterFace.js';
import type { ViewProps } from './view-props.js';

type Mode = MeterRequest['mode'];

/**
 * Two probes on terminals of the board or the drawing, a clamp about a lead, the order of three lines; and
 * what was read so far.
 */
export function MeterPane({ kit: { store, live } }: ViewProps) {
  const [mode, setMode] = useState<Mode>('volts');
  const probes = useStore(store, (state) => state.probes);
  const probing = useStore(store, (state) => state.probing);
  const selected = useStore(store, (state) => state.selected);
  const bench = useStore(store, (state) => state.bench);
  const log = useStore(store, (state) => state.meterLog);
  const lead = selected === null ? undefined : leadOf(bench, selected);
  const places = PROBES[mode].map((probe) => probes[probe] ?? null);
  const read = async (): Promise<void> => {
    const request = (
      mode === 'amps'
        ? { mode, lead: bench.wires.findIndex(({ id }) => id === selected) }
        : { mode, at: places }
    ) as MeterRequest;
    const reading = await live.measure(request);
    const where =
      mode === 'amps' && lead ? spellWire(lead) : places.map((ref) => spellRef(ref ?? '')).join(' – ');
    store.actions.noteMeter({ mode, where, shown: shownReading(reading), when: momentOf(live) });
    // Where the ohmmeter lay belongs into the log of the work, whatever it read.
    if (mode === 'ohms') store.actions.noteReading(places[0] as TerminalRef, places[1] as TerminalRef);
  };
  return (
    <div className="meter">
      <MeterFace
        mode={mode}
        onMode={setMode}
        probes={probes}
        probing={probing}
        onArm={(probe) => store.actions.patch({ probing: probe, from: null, moving: null })}
        onPut={store.actions.putProbe}
        lead={lead}
        noLead="Choose a lead on the board or in the list; the clamp goes about it."
        live={live}
        onRead={() => void read()}
        shown={log.at(-1)?.shown ?? '– – –'}
      />
      <Caution />
      <Readings log={log} />
    </div>
  );
}

/** What goes for a real board. */
function Caution() {
  return (
    <p className="caution">
      On a real board: ohms only on a dead board, proved dead; volts only under supervision, with the right
      instrument.
    </p>
  );
}

/** What was read so far, the last first. */
function Readings({ log }: { log: readonly MeterEntry[] }) {
  return (
    <>
      <h3>Readings</h3>
      {log.length === 0 ? (
        <p className="quiet">No readings yet. Place the probes and press Read.</p>
      ) : (
        <table className="plain meter-log">
          <thead>
            <tr>
              <th>Where</th>
              <th>Reading</th>
              <th>At that moment</th>
            </tr>
          </thead>
          <tbody>
            {log.toReversed().map((one, k) => (
              <tr key={log.length - k}>
                <td className="mono">{one.where}</td>
                <td>{one.shown}</td>
                <td className="quiet">{one.when}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

/** What is held and running now, in words. */
function momentOf(live: LiveBench): string {
  const { frame, shape, supplyOn } = live.store.getState();
  if (!frame || !shape) return '';
  const on = shape.devices.filter((_, k) =>
    ['in', 'pressed', 'tripped', 'timing', 'done'].includes(frame.states[k] ?? ''),
  );
  const turning = shape.motors.filter((_, k) => Math.abs(frame.motors[k]?.rpm ?? 0) > 5);
  const words = [
    supplyOn ? 'supply on' : 'supply off',
    ...on.map((tag) => `${tag} ${frame.states[shape.devices.indexOf(tag)] ?? ''}`),
    ...turning.map((tag) => `${tag} turning`),
  ];
  return words.join(', ');
}
