import { purposeOf, type ContactSpec, type DeviceOf } from '@contactum/core';
import { capColour } from '../colours.js';
import { Handle } from '../Handle.js';
import { Blade } from './blade.js';
import { Caption, headCentre, type Picture, type PictureProps } from './picture.js';

const CONTROL = { linked: true } as const;

function Pushbutton({ device, place, act }: PictureProps<'pushbutton'>) {
  const { cx, cy } = headCentre(place);
  return (
    <>
      <Caption place={place}>{purposeOf(device)}</Caption>
      <Handle act={act} device={device} verb="push" label={`${device.tag} ${purposeOf(device)}`}>
        <circle className="bezel" cx={cx} cy={cy} r={17} />
        <circle className="cap" data-cap cx={cx} cy={cy} r={13} fill={capColour(device.options.colour)} />
      </Handle>
    </>
  );
}

function EmergencyStop({ device, place, act }: PictureProps<'estop'>) {
  const { cx, cy } = headCentre(place);
  return (
    <>
      <Caption place={place}>Emergency</Caption>
      <Handle act={act} device={device} verb="latch" label={`${device.tag} emergency stop`}>
        <circle className="bezel" cx={cx} cy={cy} r={20} style={{ fill: capColour('yellow') }} />
        <circle className="cap" data-cap cx={cx} cy={cy} r={15} fill={capColour('red')} />
      </Handle>
    </>
  );
}

function LimitSwitch({ device, place, act }: PictureProps<'limit-switch'>) {
  const { cx, cy } = headCentre(place);
  return (
    <>
      <Caption place={place}>Limit</Caption>
      <Handle act={act} device={device} verb="latch" label={`${device.tag} limit switch`}>
        <rect className="bezel" x={cx - 15} y={cy - 6} width={30} height={18} rx={2} />
        <circle className="cap" data-cap cx={cx} cy={cy - 10} r={8} fill={capColour('grey')} />
      </Handle>
    </>
  );
}

function Selector({ device, place, act }: PictureProps<'selector'>) {
  const { cx, cy } = headCentre(place);
  return (
    <>
      <Caption place={place} live>
        {device.settings.position}
      </Caption>
      <Handle act={act} device={device} verb="turn" label={`${device.tag} selector`}>
        <circle className="bezel" cx={cx} cy={cy} r={17} />
        <rect
          className="knob"
          data-knob
          x={cx - 4}
          y={cy - 15}
          width={8}
          height={30}
          rx={3}
          style={{ transformOrigin: `${cx}px ${cy}px` }}
        />
      </Handle>
    </>
  );
}

/** A selector's contact is drawn as its handle stands. */
function standsClosed({ options, settings }: DeviceOf<'selector'>, contact: ContactSpec): boolean {
  return contact.closedIn[options.positions.indexOf(settings.position)] ?? false;
}

export const pushbutton: Picture<'pushbutton'> = { ...CONTROL, Head: Pushbutton };
export const estop: Picture<'estop'> = { ...CONTROL, Head: EmergencyStop };
export const limitSwitch: Picture<'limit-switch'> = { ...CONTROL, Head: LimitSwitch };
export const selector: Picture<'selector'> = {
  ...CONTROL,
  Head: Selector,
  Contact: (props) => (
    <Blade {...props} closed={standsClosed(props.place.device as DeviceOf<'selector'>, props.contact)} />
  ),
};
