import type { TerminalRef } from '../bench/index.js';
import { splitRef } from '../bench/index.js';
import type { DrawingForm, DrawnLine, PlacedSymbol } from './drawing.js';
import type { At } from './shape.js';
import type { Part } from './parts.js';

/** A place by the way of the current: `along` it, and `across` from path to path. */
export interface Place {
  readonly along: number;
  readonly across: number;
}

/** How far apart things stand, and how large symbols are, in drawing units. */
export const MEASURES = {
  iec: { row: 78, column: 92, margin: { along: 62, across: 96 } },
  us: { row: 108, column: 66, margin: { along: 96, across: 62 } },
} as const;
export const SYMBOL = { along: 40, across: 24 } as const;

/** A sheet while it is drawn: by the way of the current, whichever way the form turns it. */
export class Canvas {
  readonly symbols: PlacedSymbol[] = [];
  readonly lines: DrawnLine[] = [];
  private far = { along: 0, across: 0 };

  constructor(
    readonly form: DrawingForm,
    readonly netOf: ReadonlyMap<TerminalRef, number>,
  ) {}

  /** A place in the sheet's own x and y. */
  at({ along, across }: Place): At {
    const { margin } = MEASURES[this.form];
    this.far = { along: Math.max(this.far.along, along), across: Math.max(this.far.across, across) };
    const [a, c] = [along + margin.along, across + margin.across];
    return this.form === 'iec' ? [c, a] : [a, c];
  }

  /** Extent of what is drawn, by the way of the current, margins not counted. */
  get extent(): Place {
    return this.far;
  }

  line(net: number, a: Place, b: Place): void {
    this.lines.push({ net, points: [this.at(a), this.at(b)] });
  }

  /** Puts a symbol into the box that begins at a place; its terminals by name, with their places. */
  symbol(
    { device, name, symbol, operator }: Omit<Part, 'ends' | 'order'>,
    from: Place,
    size: Place,
    terminals: readonly (readonly [TerminalRef, Place])[],
  ): void {
    const [x, y] = this.at(from);
    this.at({ along: from.along + size.along, across: from.across + size.across });
    const [width, height] = this.form === 'iec' ? [size.across, size.along] : [size.along, size.across];
    this.symbols.push({
      device: device.tag,
      part: name,
      symbol,
      operator,
      box: [x, y, width, height],
      terminals: Object.fromEntries(
        terminals.map(([ref, place]) => [splitRef(ref).terminal, this.at(place)] as const),
      ),
    });
  }
}
