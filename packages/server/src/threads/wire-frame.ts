import type { Frame } from '@contactum/core';
import type { WireFrame } from '@contactum/contract';

const round = (t: number, places: number): number => Math.round(t * 10 ** places) / 10 ** places;

/** A frame as it crosses the wire, with what of its board is locked off and taken off. */
export const wireFrame = (
  { t, closed, states, lamps, motors, events, incidents, supplyOn, running }: Frame,
  { locked, lifted }: Pick<WireFrame, 'locked' | 'lifted'>,
): WireFrame => ({
  t: round(t, 1),
  closed: closed.join(''),
  states,
  lamps,
  motors,
  events: events.map((event) => ({ ...event, t: round(event.t, 2) })),
  incidents: incidents.map((one) => ({ ...one, t: round(one.t, 2) })),
  supplyOn,
  running,
  locked,
  lifted,
});
