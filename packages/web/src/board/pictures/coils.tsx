import { kindOf, ratingOf } from '@contactum/core';
import { Handle } from '../Handle.js';
import { Caption, headCentre, type Picture, type PictureProps } from './picture.js';

type Coiled = 'contactor' | 'relay' | 'brake';

/** A window in which the armature is seen. */
function Armature({ device, place, act }: PictureProps<Coiled>) {
  const { cx, cy } = headCentre(place);
  return (
    <>
      <Caption place={place} below={33}>
        {ratingOf(device)}
      </Caption>
      <Handle
        act={kindOf(device).verbs.includes('pushIn') ? act : undefined}
        device={device}
        verb="armature"
        label={`${device.tag} armature: push in by hand`}
      >
        <rect className="window" x={cx - 15} y={cy - 11} width={30} height={22} rx={2} />
        <rect className="armature" data-armature x={cx - 12} y={cy - 8} width={24} height={8} />
      </Handle>
      <Caption place={place} className="state" live>
        out
      </Caption>
    </>
  );
}

function Delay({ device, place }: PictureProps<'timer' | 'star-delta-timer'>) {
  const { cx, cy } = headCentre(place);
  return (
    <>
      <Caption place={place} below={33}>{`${device.settings.delay} s`}</Caption>
      <circle className="clock" cx={cx} cy={cy} r={13} />
      <circle
        className="clock-run"
        cx={cx}
        cy={cy}
        r={13}
        pathLength={1}
        transform={`rotate(-90 ${cx} ${cy})`}
        data-delay={device.settings.delay}
        data-of={device.tag}
      />
      <Caption place={place} className="state" live>
        idle
      </Caption>
    </>
  );
}

const COILED = { linked: true } as const;
export const coiled: Picture<Coiled> = { ...COILED, Head: Armature };
export const timed: Picture<'timer' | 'star-delta-timer'> = { ...COILED, Head: Delay };
