import type { ReactNode } from 'react';
import type { ColumnPlace, DevicePlace } from './geometry.js';
import { Blade } from './pictures/blade.js';
import { pictureOf } from './pictures/index.js';

/** Board millimetres from the edge of a plate to its terminals, and to the symbol between them. */
const TERMINAL = 15;
const SYMBOL = 38;

/** The symbol between the two terminals of a column (after IEC 60617, from memory). */
export function Column({ column, place }: { column: ColumnPlace; place: DevicePlace }) {
  const { kind, x, topX } = column;
  const top = place.y + TERMINAL;
  const bottom = place.y + place.height - TERMINAL;
  const upper = place.y + SYMBOL;
  const lower = place.y + place.height - SYMBOL;
  return (
    <g>
      <path
        className="symbol"
        d={
          kind === 'heater'
            ? `M${x} ${top}V${upper}`
            : `M${topX} ${top}V${top + 12}L${x} ${upper - 4}V${upper}`
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
      return <rect className="symbol fill coil" x={x - 11} y={upper} width={22} height={length} />;
    case 'heater':
      return <path className="symbol" d={`M${x} ${upper}h8v${length}h-8`} />;
    case 'resistor':
      return <rect className="symbol fill" x={x - 6} y={upper} width={12} height={length} />;
    case 'lamp':
      return (
        <>
          <circle className="symbol fill" cx={x} cy={middle} r={length / 2} />
          <path className="symbol" d={`M${x - 10} ${middle - 10}l20 20m0 -20l-20 20`} />
        </>
      );
  }
}
