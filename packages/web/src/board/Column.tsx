import type { ReactNode } from 'react';
import type { ColumnPlace, DevicePlace } from '@contactum/core';
import { Blade } from './pictures/blade.js';
import { pictureOf } from './pictures/index.js';

/** Board millimetres from the edge of a plate to the symbol between its terminals. */
const SYMBOL = 25;

/** The symbol between the two terminals of a column (after IEC 60617, from memory). */
export function Column({ column, place }: { column: ColumnPlace; place: DevicePlace }) {
  const { kind, x, topX } = column;
  const top = place.y;
  const bottom = place.y + place.height;
  const upper = place.y + SYMBOL;
  const lower = place.y + place.height - SYMBOL;
  return (
    <g>
      <path
        className="symbol"
        d={
          kind === 'heater'
            ? `M${x} ${top}V${upper}`
            : `M${topX} ${top}V${top + 9}L${x} ${upper - 3}V${upper}`
        }
      />
      <line className="symbol" x1={x} y1={lower} x2={x} y2={bottom} />
      {symbolOf(column, place, upper, lower)}
    </g>
  );
}

function symbolOf(column: ColumnPlace, place: DevicePlace, upper: number, lower: number): ReactNode {
  const { kind, x, contact } = column;
  const middle = (upper + lower) / 2;
  const length = lower - upper;
  switch (kind) {
    case 'contact': {
      if (!contact) return null;
      const Contact = pictureOf(place.device).Contact ?? Blade;
      return <Contact column={column} place={place} contact={contact} upper={upper} lower={lower} />;
    }
    case 'coil':
      return <rect className="symbol fill coil" x={x - 10} y={upper + 3} width={20} height={length - 6} />;
    case 'heater':
      return <path className="symbol" d={`M${x} ${upper}h8v${length}h-8`} />;
    case 'resistor':
      return <rect className="symbol fill" x={x - 6} y={upper} width={12} height={length} />;
    case 'lamp':
      return (
        <>
          <circle className="symbol fill" cx={x} cy={middle} r={11} />
          <path className="symbol" d={`M${x - 7.8} ${middle - 7.8}l15.6 15.6m0 -15.6l-15.6 15.6`} />
        </>
      );
  }
}
