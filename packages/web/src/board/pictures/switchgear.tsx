import { purposeOf, ratingOf } from '@contactum/core';
import { Handle } from '../Handle.js';
import { Blade } from './blade.js';
import { Caption, headCentre, type ContactProps, type Picture, type PictureProps } from './picture.js';

/** A lever that is thrown, and what it stands at. */
function Lever({ device, place, act }: PictureProps<'breaker' | 'fuse' | 'disconnector'>) {
  const { cx, cy } = headCentre(place);
  return (
    <>
      <Caption place={place} below={33}>
        {ratingOf(device)}
      </Caption>
      <Caption place={place} className="state" live>
        closed
      </Caption>
      <Handle act={act} device={device} verb="toggle" label={`${device.tag} ${purposeOf(device)}`}>
        <rect className="slot" x={cx - 9} y={cy - 13} width={18} height={28} rx={3} />
        <rect className="lever" data-lever x={cx - 7} y={cy - 11} width={14} height={12} rx={2} />
      </Handle>
    </>
  );
}

/** The cross of a breaker's contact (IEC 60617, from memory). */
const BreakerContact = (props: ContactProps) => (
  <>
    <path className="symbol" d={`M${props.column.x - 4} ${props.upper - 4}l8 8m0 -8l-8 8`} />
    <Blade {...props} />
  </>
);

/** The bar of a disconnector's contact (IEC 60617, from memory). */
const DisconnectorContact = (props: ContactProps) => (
  <>
    <line
      className="symbol"
      x1={props.column.x - 6}
      y1={props.upper}
      x2={props.column.x + 6}
      y2={props.upper}
    />
    <Blade {...props} />
  </>
);

const FuseLink = ({ column: { x }, place, contact, upper, lower }: ContactProps) => (
  <>
    <rect className="symbol fill" x={x - 6} y={upper} width={12} height={lower - upper} />
    <line
      className="symbol fuse-wire"
      x1={x}
      y1={upper}
      x2={x}
      y2={lower}
      data-blade={`${place.device.tag}:${contact.name}`}
    />
  </>
);

const SWITCHED = { linked: true, Head: Lever } as const;
export const breaker: Picture<'breaker'> = { ...SWITCHED, Contact: BreakerContact };
export const disconnector: Picture<'disconnector'> = {
  ...SWITCHED,
  Contact: DisconnectorContact,
};
export const fuse: Picture<'fuse'> = { ...SWITCHED, Contact: FuseLink };
