import { plural } from '@contactum/core';
import { useMemo, useRef, type PointerEvent } from 'react';
import { useStore } from 'zustand';
import type { Bench, BoardPlan } from '@contactum/core';
import type { LinkStore } from '../board/link.js';
import { Board } from '../board/Board.js';
import type { Act } from '../board/Handle.js';
import { terminalNear } from '../board/geometry.js';
import { useLayout } from '../board/use-layout.js';
import { boardPoint } from '../bench/use-wiring-pointer.js';
import { Tip } from '../bench/WiringSheet.js';
import type { Probe } from '../bench/store.js';
import { putProbe, type SearchStore } from './search-store.js';
import type { RemoteBench } from './remote.js';

/** How near to a terminal a touch takes it, board units. */
const NEAR = 12;

/**
 * A wired board that is worked and measured, and not wired: a touch on a terminal lays a probe, on a lead
 * chooses it.
 */
export function SearchBoard({
  bench,
  live,
  act,
  store,
  link,
  hung,
}: {
  bench: Bench;
  live: RemoteBench;
  act: Act;
  store: SearchStore;
  link: LinkStore;
  hung: boolean;
}) {
  const layout = useLayout(bench);
  const { plan } = layout;
  const lead = useStore(store, (state) => state.lead);
  const lifted = useStore(live.remote, (state) => state.lifted);
  const svg = useRef<SVGSVGElement | null>(null);
  const edits = useMemo(() => new Map(lifted.map((wire) => [wire, 'gone' as const])), [lifted]);

  const onPointerDown = (event: PointerEvent<SVGSVGElement>): void => {
    const target = event.target as Element;
    if (event.button !== 0 || target.closest('.handle')) return;
    const near = terminalNear(plan, boardPoint(svg.current, event), NEAR);
    if (near) {
      putProbe(store, near.ref);
      return;
    }
    const name = target.closest<SVGElement>('[data-lead]')?.dataset.lead;
    store.setState({ lead: name === undefined ? null : Number(name) });
  };

  return (
    <Board
      bench={bench}
      layout={layout}
      live={live}
      act={act}
      link={link}
      hung={hung}
      zoomable
      edits={edits}
      selected={(lead === null ? null : String(lead)) as never}
      label={
        `Board with ${plural(bench.wires.length, 'lead')}. ` +
        'Buttons are worked with Space or Enter; probes and leads are chosen beside it.'
      }
      onSvg={(element) => {
        svg.current = element;
      }}
      className="searching"
      handlers={{ onPointerDown }}
      overlay={<Tips plan={plan} store={store} />}
      sheet={<g />}
    />
  );
}

function Tips({ plan, store }: { plan: BoardPlan; store: SearchStore }) {
  const probes = useStore(store, (state) => state.probes);
  return (
    <g>
      {(Object.entries(probes) as [Probe, string][]).map(([probe, ref]) => {
        const place = plan.terminal.get(ref);
        return place && <Tip key={probe} probe={probe} x={place.x} y={place.y} side={place.side} />;
      })}
    </g>
  );
}
