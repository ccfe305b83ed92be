/** Drawing units; one is about a quarter of a millimetre on paper. */
export type At = readonly [x: number, y: number];

/**
 * Shapes of the drawing symbols, after IEC 60617 and NEMA ICS 19 (both from memory), as lines and circles.
 * They are given along the current (0 to 1 of the box) and across it (−12 to 12), so that one shape serves
 * both ways of reading.
 */
export type SymbolShape =
  | {
      readonly kind: 'line';
      readonly points: readonly At[];
      readonly dashed?: boolean;
      readonly filled?: boolean;
    }
  | { readonly kind: 'circle'; readonly at: At; readonly r: number }
  | { readonly kind: 'word'; readonly text: string; readonly at: At; readonly size: number };

export interface SymbolShapes {
  readonly fixed: readonly SymbolShape[];
  /** What a contact's moving part looks like while it is open, and while it is closed. */
  readonly moving: { readonly open: readonly SymbolShape[]; readonly closed: readonly SymbolShape[] } | null;
  /** How it stands at rest. */
  readonly atRest: 'open' | 'closed';
}
