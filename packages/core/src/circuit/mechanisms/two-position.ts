import { ARRIVING, LETTING_GO, OPERATED, REST, RETURNING } from '../../catalogue/index.js';

/** What everything with the two positions at rest and operated has in common. */

export const isUnderWay = (_: unknown, state: number): boolean => state >= ARRIVING;

export const arriveInPosition = (_: unknown, state: number): number =>
  state === ARRIVING ? OPERATED : state === LETTING_GO ? RETURNING : REST;

export const sendIn = (_: unknown, now: number): number =>
  now === OPERATED || now === ARRIVING ? now : ARRIVING;

export const sendBack = (_: unknown, now: number): number =>
  now === REST || now === RETURNING ? now : RETURNING;
