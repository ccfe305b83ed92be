import type { Bench, TerminalRef, Wire } from '../bench/index.js';
import { circuitOfLead, compile, placesOf } from '../circuit/index.js';
import { netlistOf } from '../drawing/index.js';
import { layLeads, type Point } from '../layout/index.js';
import { usualAreas, usualColours } from '../marking/index.js';

/** A lead as it is cut, marked and laid. */
export interface PlannedLead {
  /** From 1, in the order of the wire list. */
  readonly n: number;
  readonly from: TerminalRef;
  readonly to: TerminalRef;
  /** Ferrule text: its own number, or the name of its potential. */
  readonly number: string;
  readonly colour: string;
  /** mm2 */
  readonly area: number;
  /** Metres. */
  readonly length: number;
  readonly circuit: 'power' | 'control' | 'earth';
}

/**
 * Board millimetres of lead at each end: into the duct's depth, the loop at the terminal, the stripped end.
 * [P] common practice, no source.
 */
const END = 60;
/** Metres to which a lead is cut. */
const CUT = 0.05;

/**
 * The leads of a board with everything that stores and hands must know. What a document does not say is as
 * usual: the ferrule has the potential's name, the colour is that of its use, the area carries what its
 * protection lets through, the length is that of its way along the ducts.
 */
export function plannedLeads(bench: Bench): PlannedLead[] {
  const circuit = compile(bench);
  const places = placesOf(bench);
  const { nets, netOf } = netlistOf(bench);
  const colourOf = usualColours(circuit);
  const areaOf = usualAreas(circuit);
  const keys = bench.wires.map((_, k) => `w${k}`);
  const { paths } = layLeads(
    bench,
    bench.wires.map(({ from, to }, k) => ({ key: keys[k]!, from, to })),
  );
  return bench.wires.map((wire, k): PlannedLead => {
    const { from, to, number, colour, area, length } = wire;
    return {
      n: k + 1,
      from,
      to,
      number: number ?? nets[netOf.get(from)!]!.name,
      colour: colour ?? colourOf(wire),
      area: area ?? areaOf(wire),
      length: length ?? cutLength(paths.get(keys[k]!) ?? []),
      circuit: circuitOfLead(places, wire) ?? 'earth',
    };
  });
}

/** The wire of a bench that a planned lead is. */
export const wireOfLead = ({ from, to, number, colour, area, length }: PlannedLead): Wire => ({
  from,
  to,
  colour,
  area,
  number,
  length,
});

const cutLength = (path: readonly Point[]): number =>
  Math.round(Math.ceil((wayOf(path) + 2 * END) / 1000 / CUT) * CUT * 100) / 100;

/** Millimetres along a path of straight pieces. */
export const wayOf = (path: readonly Point[]): number =>
  path.slice(1).reduce((sum, { x, y }, k) => sum + Math.abs(x - path[k]!.x) + Math.abs(y - path[k]!.y), 0);
