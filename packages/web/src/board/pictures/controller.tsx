import { anatomy, ratingOf } from '@contactum/core';
import { Handle } from '../Handle.js';
import { Caption, headCentre, type Picture, type PictureProps } from './picture.js';

type Props = PictureProps<'plc'>;

/** The switch between run and stop. */
function Head({ device, place, act }: Props) {
  const { cx, cy } = headCentre(place);
  return (
    <>
      <Caption place={place} below={33}>
        {device.settings.program ? 'program' : 'no program'}
      </Caption>
      <Handle act={act} device={device} verb="turn" label={`${device.tag} run or stop`}>
        <circle className="bezel" cx={cx} cy={cy + 4} r={13} />
        <rect
          className="knob"
          data-knob
          x={cx - 3}
          y={cy - 8}
          width={6}
          height={24}
          rx={3}
          style={{ transformOrigin: `${cx}px ${cy + 4}px` }}
        />
      </Handle>
      <Caption place={place} className="state" live>
        off
      </Caption>
    </>
  );
}

/** How far a signal stands inside the face, board millimetres. */
const INSIDE = 26;

/** A signal by each input, lit while its terminal is live, and by each output, lit while its contact is closed. */
function Body({ device, place }: Props) {
  const contacts = new Map(anatomy(device).contacts.map((contact) => [contact.b, contact.name]));
  return (
    <>
      {place.terminals.map(({ ref, x }) => {
        const name = ref.slice(device.tag.length + 1);
        const contact = contacts.get(name);
        if (contact !== undefined)
          return (
            <circle
              key={ref}
              className="signal"
              data-blade={`${device.tag}:${contact}`}
              cx={x}
              cy={place.y + place.height - INSIDE}
              r={4.5}
            />
          );
        return /^I\d/.test(name) ? (
          <circle key={ref} className="signal" data-pilot={ref} cx={x} cy={place.y + INSIDE} r={4.5} />
        ) : null;
      })}
      <text className="role" x={place.headX + place.head + 10} y={place.y + place.height / 2 + 4}>
        {ratingOf(device)}
      </text>
    </>
  );
}

export const controller: Picture<'plc'> = { Head, Body };
