import { useMemo } from 'react';
import { useStore } from 'zustand';
import { netlistOf, type Bench, type Layout } from '@contactum/core';
import { leadColour } from './colours.js';
import { corneredPath } from './geometry.js';
import { liftedNow, type LinkStore } from './link.js';
import { leadKey } from './use-layout.js';

/**
 * The potential that is pointed at or chosen, above a veil that quietens the rest. It lies on the sheet
 * above the board: the board itself is not painted again.
 */
export function Lifted({ bench, layout, link }: { bench: Bench; layout: Layout; link: LinkStore }) {
  const state = useStore(link);
  const nets = useMemo(() => netlistOf(bench), [bench]);
  const refs = useMemo(() => liftedNow(nets, state), [nets, state]);
  if (refs.size === 0) return null;
  const { plan, paths } = layout;
  const mark = state.pointed ?? state.chosen;
  const isOwn = mark?.kind === 'device' && state.why?.tag !== mark.tag;
  return (
    <g className="lifted" aria-hidden="true">
      <rect className="veil" x={0} y={0} width={plan.width} height={plan.height} />
      {bench.wires.map((wire, k) => {
        const key = leadKey(wire, k);
        const isLifted = isOwn
          ? refs.has(wire.from) || refs.has(wire.to)
          : refs.has(wire.from) && refs.has(wire.to);
        const points = paths.get(key);
        if (!isLifted || !points) return null;
        const d = corneredPath(points);
        return (
          <g key={key}>
            <path className="lifted-edge" d={d} />
            <path className="lifted-core" d={d} stroke={leadColour(wire.colour).paint} />
          </g>
        );
      })}
      {[...refs].map((ref) => {
        const place = plan.terminal.get(ref);
        return place && <circle key={ref} className="lifted-end" cx={place.x} cy={place.y} r={6.5} />;
      })}
    </g>
  );
}
