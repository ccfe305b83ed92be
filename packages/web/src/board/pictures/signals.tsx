import { ratingOf } from '@contactum/core';
import { capColour } from '../colours.js';
import { Caption, headCentre, type Picture, type PictureProps } from './picture.js';

function Glass({ device, place }: PictureProps<'lamp' | 'buzzer'>) {
  const { cx, cy } = headCentre(place);
  const fill = capColour(device.options.colour);
  return (
    <>
      <Caption place={place} below={32}>
        {ratingOf(device)}
      </Caption>
      <Caption place={place} above={4} className="state" live>
        dark
      </Caption>
      <circle className="glow" data-glow cx={cx} cy={cy + 5} r={21} fill={fill} />
      <circle className="glass" data-glass cx={cx} cy={cy + 5} r={12} fill={fill} />
    </>
  );
}

export const signal: Picture<'lamp' | 'buzzer'> = { Head: Glass };
