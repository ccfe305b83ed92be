import { memo } from 'react';
import type { Bench, Layout, LeadId, Wire } from '@contactum/core';
import { leadColour } from './colours.js';
import { corneredPath, hangingPath } from './geometry.js';
import { leadKey } from './use-layout.js';

/** A lead that is taken off or put in, or that both of two boards have. */
export type LeadEdit = 'gone' | 'new' | 'same';

/** The leads of a board: along its ducts, or loosely hung. */
export const Leads = memo(function Leads({
  bench,
  layout,
  selected,
  edits,
  hung,
}: {
  bench: Bench;
  layout: Layout;
  selected: LeadId | null;
  edits: ReadonlyMap<number, LeadEdit> | undefined;
  hung: boolean;
}) {
  return (
    <g className="leads">
      {bench.wires.map((wire, k) => {
        const key = leadKey(wire, k);
        const d = hung ? hungPath(layout, wire, k) : corneredPath(layout.paths.get(key) ?? []);
        return (
          d && (
            <LeadView
              key={key}
              name={key}
              wire={wire}
              d={d}
              isSelected={selected === key}
              edit={edits?.get(k)}
            />
          )
        );
      })}
    </g>
  );
});

function hungPath({ plan }: Layout, { from, to }: Wire, order: number): string {
  const [a, b] = [plan.terminal.get(from), plan.terminal.get(to)];
  return a && b ? hangingPath(a, b, order) : '';
}

const LeadView = memo(function LeadView({
  name,
  wire,
  d,
  isSelected,
  edit,
}: {
  name: string;
  wire: Wire;
  d: string;
  isSelected: boolean;
  edit: LeadEdit | undefined;
}) {
  const colour = leadColour(wire.colour);
  return (
    <g
      className="lead"
      data-lead={name}
      data-lead-from={wire.from}
      data-lead-to={wire.to}
      data-selected={isSelected ? 'yes' : undefined}
      data-edit={edit}
    >
      <path className="lead-glow" d={d} />
      <path className="lead-edge" d={d} />
      <path className="lead-core" d={d} stroke={colour.paint} />
      {colour.stripe && <path className="lead-stripe" d={d} stroke={colour.stripe} />}
      {/* A straight lead has a breadth too. */}
      <path className="lead-hit" d={`${d}l0.4 0`}>
        <title>{`${wire.from} to ${wire.to}, ${colour.name}${wire.area ? `, ${wire.area} mm²` : ''}`}</title>
      </path>
    </g>
  );
});
