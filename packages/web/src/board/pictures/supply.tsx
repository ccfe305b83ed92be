import { ratingOf } from '@contactum/core';
import { Handle } from '../Handle.js';
import { Caption, headCentre, type Picture, type PictureProps } from './picture.js';

type Supply = 'supply-3n' | 'supply-1n' | 'supply-dc';

function Switch({ device, place, act }: PictureProps<Supply>) {
  const { cx, cy } = headCentre(place);
  return (
    <>
      <text className="rating" x={place.headX + place.head + 6} y={place.y + 20}>
        {ratingOf(device)}
      </text>
      <Caption place={place} className="state" live>
        off
      </Caption>
      <Handle act={act} device={device} verb="supply" label={`${device.tag} supply switch`}>
        <circle className="bezel" cx={cx} cy={cy} r={14} />
        <rect
          className="knob"
          data-knob
          x={cx - 4}
          y={cy - 12}
          width={8}
          height={24}
          rx={3}
          style={{ transformOrigin: `${cx}px ${cy}px` }}
        />
      </Handle>
    </>
  );
}

/** A pilot over each terminal. */
function Pilots({ place }: PictureProps<Supply>) {
  return (
    <g>
      {place.terminals.map(({ ref, x }) => (
        <g key={ref}>
          <line className="symbol" x1={x} y1={place.y + 42} x2={x} y2={place.y + place.height} />
          <circle className="pilot" data-pilot={ref} cx={x} cy={place.y + 37} r={5} />
        </g>
      ))}
    </g>
  );
}

export const supply: Picture<Supply> = {
  Head: Switch,
  Body: Pilots,
};
