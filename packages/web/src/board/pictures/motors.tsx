import { isThreePhaseMotor } from '@contactum/core';
import { Caption, type Picture, type PictureProps } from './picture.js';

type Motor = 'motor-3' | 'motor-1';

function Plate({ device, place }: PictureProps<Motor>) {
  const { kW, current } = device.options.plate;
  return (
    <>
      <Caption place={place} below={33}>{`${kW} kW`}</Caption>
      <Caption place={place} below={46}>{`${current} A`}</Caption>
      <Caption place={place} className="state" live>
        stopped
      </Caption>
    </>
  );
}

/** The shaft, and an arrow that tells which way it turns. */
function Shaft({ device, place: { x, y, width, head } }: PictureProps<Motor>) {
  const cx = x + head + (width - head) / 2 - 4;
  const cy = y + 47;
  const transformOrigin = `${cx}px ${cy}px`;
  return (
    <g>
      <circle className="motor" cx={cx} cy={cy} r={25} />
      <g data-shaft style={{ transformOrigin }}>
        {[0, 120, 240].map((angle) => (
          <path
            key={angle}
            className="rotor"
            d={`M${cx} ${cy - 23}a23 23 0 0 1 11 3l-5 8a14 14 0 0 0 -6 -2z`}
            transform={`rotate(${angle} ${cx} ${cy})`}
          />
        ))}
      </g>
      <text className="motor-text" x={cx} y={cy + 1}>
        M
      </text>
      <text className="motor-phases" x={cx} y={cy + 14}>
        {isThreePhaseMotor(device) ? '3~' : '1~'}
      </text>
      <path
        className="turn-arrow"
        data-arrow
        d={`M${cx + 34} ${cy + 11}a36 36 0 0 0 0 -23l-5 3m5 -3l2 6`}
        style={{ transformOrigin }}
      />
    </g>
  );
}

export const motor: Picture<Motor> = { Head: Plate, Body: Shaft };
