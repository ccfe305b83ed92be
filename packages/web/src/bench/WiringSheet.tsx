import { useStore } from 'zustand';
import { leadOf, type BoardPlan, type LeadId } from '@contactum/core';
import { leadColour } from '../board/colours.js';
import type { BenchStore, Probe } from './store.js';
import type { WiringHand } from './wiring-hand.js';

/**
 * The lead that follows the pointer, and the ring about the terminal that it would take; their shapes are
 * written by the hand itself.
 */
export function Rubber({ store, hand, shown }: { store: BenchStore; hand: WiringHand; shown: boolean }) {
  const colour = useStore(store, ({ moving, bench, colour: next }) =>
    moving ? leadOf(bench, moving.lead)?.colour : next,
  );
  return (
    <>
      <circle ref={(ring) => hand.attach({ ring })} className="hover-ring" r={8.5} visibility="hidden" />
      <path
        ref={(rubber) => hand.attach({ rubber })}
        className="rubber"
        stroke={leadColour(colour).paint}
        style={{ display: shown ? undefined : 'none' }}
      />
    </>
  );
}

/** Rings above the board: where a new lead begins, and where the keyboard stands. */
export function Rings({
  plan,
  from,
  cursor,
}: {
  plan: BoardPlan;
  from: string | null;
  cursor: string | null;
}) {
  const cursorPlace = cursor ? plan.terminal.get(cursor) : undefined;
  const fromPlace = from ? plan.terminal.get(from) : undefined;
  return (
    <g>
      {fromPlace && (
        <circle
          className="cursor-ring"
          cx={fromPlace.x}
          cy={fromPlace.y}
          r={10.5}
          style={{ strokeDasharray: 'none' }}
        />
      )}
      {cursorPlace && (
        <circle className="cursor-ring keyboard" cx={cursorPlace.x} cy={cursorPlace.y} r={10.5} />
      )}
    </g>
  );
}

/** On the board: the ends of a chosen lead, which can be taken, and the probes of the meter. */
export function Overlay({
  plan,
  store,
  selected,
}: {
  plan: BoardPlan;
  store: BenchStore;
  selected: LeadId | null;
}) {
  const chosen = useStore(store, ({ bench }) => (selected === null ? undefined : leadOf(bench, selected)));
  const probes = useStore(store, (state) => state.probes);
  return (
    <g>
      {chosen &&
        (['from', 'to'] as const).map((end) => {
          const place = plan.terminal.get(chosen[end]);
          return (
            place && (
              <circle key={end} className="lead-end" data-end={end} cx={place.x} cy={place.y} r={7.5} />
            )
          );
        })}
      {(Object.entries(probes) as [Probe, string][]).map(([probe, ref]) => {
        const place = plan.terminal.get(ref);
        return place && <Tip key={probe} probe={probe} x={place.x} y={place.y} side={place.side} />;
      })}
    </g>
  );
}

/** A probe of the meter on a terminal. */
export function Tip({ probe, x, y, side }: { probe: Probe; x: number; y: number; side: 'top' | 'bottom' }) {
  const out = side === 'top' ? -1 : 1;
  const aside = { red: -10, black: 10, blue: 0 }[probe];
  return (
    <g className={`tip ${probe}`}>
      <line x1={x} y1={y} x2={x + aside} y2={y + out * 14} />
      <line className="grip" x1={x + aside} y1={y + out * 14} x2={x + aside * 2.4} y2={y + out * 34} />
    </g>
  );
}
