import type { Operator, PoleSymbol } from '../catalogue/index.js';
import type { At } from './shape.js';
import type { TerminalRef } from '../bench/index.js';
import type { SymbolShape } from './shape.js';

/**
 * How a drawing reads: current paths that run down (IEC 61082-1, from memory), or rungs that run across
 * (NEMA ICS 19, from memory).
 */
export const DRAWING_FORMS = ['iec', 'us'] as const;
export type DrawingForm = (typeof DRAWING_FORMS)[number];

/** What is drawn for one part of a device. */
export type PartSymbol =
  | 'contact-no'
  | 'contact-nc'
  | PoleSymbol
  | 'heater'
  | 'coil'
  | 'coil-on-delay'
  | 'coil-off-delay'
  | 'coil-star-delta'
  | 'controller-supply'
  | 'controller-input'
  | 'controller-output'
  | 'brake'
  | 'lamp'
  | 'buzzer'
  | 'impedance'
  | 'motor-three-phase'
  | 'motor-single-phase'
  | 'transformer'
  | 'supply'
  | 'terminal';

/** True of the coils of contactors, relays and timers. */
export const isCoilSymbol = (symbol: PartSymbol): boolean => symbol.startsWith('coil');

/** One part of a device in its place. */
export interface PlacedSymbol {
  readonly device: string;
  /** `13-14`, `A1-A2`, `L1`. */
  readonly part: string;
  readonly symbol: PartSymbol;
  readonly operator: Operator;
  /** x, y, width, height. */
  readonly box: readonly [number, number, number, number];
  /** By the device's own names. */
  readonly terminals: Readonly<Record<string, At>>;
}

/** A straight line along x or y. */
export interface DrawnLine {
  readonly points: readonly [At, At];
  /** Index into the drawing's nets. */
  readonly net: number;
}

export interface DrawnLink {
  readonly name: string;
  readonly at: At;
  readonly net: number;
  /** Sheets and zones at which the net goes on, where the drawing lies on paper. */
  readonly goesTo?: string;
  /** Where the name stands from the point. */
  readonly side: 'left' | 'right' | 'above' | 'below';
}

/** A mechanical interlock between two devices: a dashed line with a triangle. */
export interface DrawnLinkage {
  readonly between: readonly [string, string];
  readonly shapes: readonly SymbolShape[];
}

export interface DrawnText {
  readonly text: string;
  readonly at: At;
  readonly of?: string;
  readonly anchor: 'start' | 'middle' | 'end';
  readonly kind: 'tag' | 'terminal' | 'reference' | 'reference-nc' | 'number' | 'wire';
  /** The symbol that a cross reference leads to. */
  readonly to?: { readonly device: string; readonly part: string };
}

export interface Sheet {
  readonly circuit: 'power' | 'control';
  readonly size: readonly [number, number];
  readonly symbols: readonly PlacedSymbol[];
  readonly lines: readonly DrawnLine[];
  readonly dots: readonly At[];
  readonly links: readonly DrawnLink[];
  readonly texts: readonly DrawnText[];
  readonly linkages: readonly DrawnLinkage[];
  /** Current paths at their x, or rungs at their y. */
  readonly paths: readonly { readonly number: number; readonly at: number }[];
}

/** A net: terminals that the wires join. */
export interface Net {
  readonly name: string;
  readonly terminals: readonly TerminalRef[];
}

/** The circuit of a bench as it is wired, drawn. */
export interface Drawing {
  readonly form: DrawingForm;
  readonly nets: readonly Net[];
  readonly sheets: readonly Sheet[];
}
