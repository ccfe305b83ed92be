import { ratingOf } from '@contactum/core';
import { Caption, type Picture, type PictureProps } from './picture.js';

const Rating = ({ device, place }: PictureProps<'impedance' | 'terminal-strip' | 'busbar'>) => (
  <Caption place={place}>{ratingOf(device)}</Caption>
);

function Bar({ place: { terminals } }: PictureProps<'busbar'>) {
  const [first, last] = [terminals[0], terminals.at(-1)];
  return first && last ? <line className="bar" x1={first.x} y1={first.y} x2={last.x} y2={last.y} /> : null;
}

const ROW = { Head: Rating } as const;
export const impedance: Picture<'impedance'> = { Head: Rating };
export const terminalStrip: Picture<'terminal-strip'> = ROW;
export const busbar: Picture<'busbar'> = { ...ROW, Body: Bar };
