import { memo } from 'react';
import type { BoardPlan } from '@contactum/core';

/** What the devices stand on: the panel with its rails and ducts, the door, the machine's bed. */
export const Ground = memo(function Ground({ plan, hung }: { plan: BoardPlan; hung: boolean }) {
  const panel = plan.areas.find(({ zone }) => zone === 'panel');
  return (
    <g aria-hidden="true">
      <rect className="panel" x={0} y={0} width={plan.width} height={plan.height} rx={6} />
      {plan.areas.map(({ zone, x, y, width, height }) => (
        <rect key={zone} className={`area ${zone}`} x={x} y={y} width={width} height={height} rx={5} />
      ))}
      {panel &&
        !hung &&
        plan.ducts.map(({ top, depth }, k) => {
          const from = Math.max(top + 9, panel.y + 2);
          const to = Math.min(top + depth - 9, panel.y + panel.height - 2);
          if (to - from < 4) return null;
          return (
            <rect
              key={k}
              className="duct"
              x={panel.x + 4}
              y={from}
              width={panel.width - 8}
              height={to - from}
              rx={2}
            />
          );
        })}
      {panel &&
        plan.rows.map(({ top, bottom }, k) => {
          const y = (top + bottom) / 2;
          if (y < panel.y || y > panel.y + panel.height) return null;
          return (
            <rect key={k} className="rail" x={panel.x + 6} y={y - 9} width={panel.width - 12} height={18} />
          );
        })}
    </g>
  );
});
