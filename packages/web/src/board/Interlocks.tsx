import { memo } from 'react';
import type { Bench, BoardPlan, DevicePlace } from '@contactum/core';

/** Half the breadth of the lock between two contactors. */
const LOCK = 9;

/**
 * Mechanical interlocks: a bar from contactor to contactor with the lock on it. It stands over the leads that
 * pass there, and lets the pointer through.
 */
export const Interlocks = memo(function Interlocks({
  interlocks,
  plan,
}: {
  interlocks: Bench['interlocks'];
  plan: BoardPlan;
}) {
  return (
    <g className="interlocks">
      {interlocks.flatMap(({ between }) => {
        const places = between
          .flatMap((tag) => plan.devices.find(({ device }) => device.tag === tag) ?? [])
          .toSorted((a, b) => a.row - b.row || a.x - b.x);
        return places
          .slice(1)
          .map((next, k) => (
            <Interlock
              key={`${places[k]?.device.tag ?? ''} ${next.device.tag}`}
              one={places[k] ?? next}
              other={next}
            />
          ));
      })}
    </g>
  );
});

function Interlock({ one, other }: { one: DevicePlace; other: DevicePlace }) {
  const words = `${one.device.tag} and ${other.device.tag} are locked mechanically: one cannot come in while the other is in`;
  const isBeside = one.row === other.row;
  const [ax, bx] = isBeside ? [one.x + one.width, other.x] : [one.x + 10, other.x + 10];
  const [ay, by] = isBeside
    ? [one.y + one.height / 2, other.y + other.height / 2]
    : [one.y + one.height, other.y];
  const [x, y] = [(ax + bx) / 2, (ay + by) / 2];
  return (
    <g className="interlock" role="img" aria-label={words}>
      <title>{words}</title>
      <line className="interlock-bar" x1={ax} y1={ay} x2={bx} y2={by} />
      <rect
        className="interlock-body"
        x={x - LOCK}
        y={y - LOCK + 1}
        width={2 * LOCK}
        height={2 * LOCK - 2}
        rx={2}
      />
      <path className="interlock-lock" d={`M${x - 5} ${y - 4}h10l-5 8.5z`} />
    </g>
  );
}
