import { memo, useMemo } from 'react';
import { planBoard, type Bench } from '@contactum/core';
import { leadColour } from '../board/colours.js';

/** A board as small as a stamp: where devices stand, which run, and the leads straight from end to end. */
export const MiniBoard = memo(function MiniBoard({ bench, running }: { bench: Bench; running: string }) {
  const plan = useMemo(() => planBoard({ devices: bench.devices }), [bench.devices]);
  const on = new Set(running.split(/[\s,]+/));
  return (
    <svg className="mini-board" viewBox={`0 0 ${plan.width} ${plan.height}`} aria-hidden="true">
      <rect className="mini-panel" width={plan.width} height={plan.height} rx={8} />
      {plan.devices.map(({ device: { tag }, x, y, width, height }) => (
        <rect
          key={tag}
          className="mini-device"
          data-on={on.has(tag) ? 'yes' : undefined}
          x={x}
          y={y}
          width={width}
          height={height}
          rx={4}
        />
      ))}
      {bench.wires.map(({ from, to, colour }, k) => {
        const [a, b] = [plan.terminal.get(from), plan.terminal.get(to)];
        return (
          a &&
          b && (
            <line
              key={k}
              className="mini-lead"
              stroke={leadColour(colour).paint}
              x1={a.x}
              y1={a.y}
              x2={b.x}
              y2={b.y}
            />
          )
        );
      })}
    </svg>
  );
});
