import { memo } from 'react';
import type { BoardPlan } from '@contactum/core';

/** Half of a terminal's clamp beside the outermost of its leads. */
const CLAMP = 5;

/** Clamps that are as wide as their leads need, below the leads. */
export const Clamps = memo(function Clamps({
  plan,
  spread,
}: {
  plan: BoardPlan;
  spread: ReadonlyMap<string, number>;
}) {
  return (
    <g aria-hidden="true">
      {[...spread].map(([ref, side]) => {
        const place = plan.terminal.get(ref);
        if (!place || side === 0) return null;
        return (
          <rect
            key={ref}
            className="clamp"
            x={place.x - side - CLAMP}
            y={place.y - 4}
            width={2 * (side + CLAMP)}
            height={8}
            rx={3}
          />
        );
      })}
    </g>
  );
});

/** Screws and names, above the leads. */
export const Terminals = memo(function Terminals({
  plan,
  marked,
}: {
  plan: BoardPlan;
  marked: readonly string[];
}) {
  return (
    <g>
      {[...plan.terminal.values()].map(({ ref, name, side, x, y }) => (
        <g
          key={ref}
          className="terminal"
          data-terminal={ref}
          data-marked={marked.includes(ref) ? 'yes' : undefined}
        >
          <circle className="screw" cx={x} cy={y} r={5.6} />
          <line className="slit" x1={x - 3.4} y1={y} x2={x + 3.4} y2={y} />
          <text className="terminal-name" x={x + 4} y={side === 'top' ? y + 17 : y - 8.5}>
            {name}
          </text>
        </g>
      ))}
    </g>
  );
});
