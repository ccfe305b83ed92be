import { memo, type ReactNode } from 'react';
import { capColour } from './colours.js';
import type { ColumnPlace, DevicePlace } from './geometry.js';
import { ratingOf, roleOf } from './words.js';
import { Handle, type Act } from './Handle.js';

/** A device's plate: designation, handle, symbols between its terminals. What moves carries data attributes that the painter writes. */
export const DeviceView = memo(function DeviceView({
  place,
  act,
  onSetting,
}: {
  place: DevicePlace;
  act: Act | undefined;
  onSetting: ((tag: string) => void) | undefined;
}) {
  const { device, x, y, width, height, head, headX } = place;
  const ruleX = headX > x ? headX : headX + head - 4;
  return (
    <g
      className="device"
      data-device={device.tag}
      data-supply={device.type.startsWith('supply') ? 'yes' : undefined}
    >
      <rect className="plate" x={x} y={y} width={width} height={height} rx={4} />
      <line className="plate-rule" x1={ruleX} y1={y + 8} x2={ruleX} y2={y + height - 8} />
      <text className="tag" x={headX + 9} y={y + 23}>
        {device.tag}
      </text>
      <Head place={place} act={act} onSetting={onSetting} />
      {place.columns.map((column, k) => (
        <Column key={k} column={column} place={place} />
      ))}
      {place.columns.filter(
        ({ contact }) => contact && contact.role !== 'overload-nc' && contact.role !== 'overload-no',
      ).length > 1 && <Linkage place={place} />}
      <Body place={place} />
    </g>
  );
});

function Linkage({ place }: { place: DevicePlace }) {
  const { x, y, headX, head, height, columns } = place;
  const contacts = columns.filter(({ kind }) => kind === 'contact');
  const [first, last] = [contacts[0]?.x ?? x, contacts.at(-1)?.x ?? x];
  return (
    <line
      className="linkage"
      x1={headX > x ? first : headX + head}
      x2={headX > x ? headX : last}
      y1={y + height / 2}
      y2={y + height / 2}
    />
  );
}

/** The symbol between the two terminals of a column (after IEC 60617, from memory). */
function Column({ column, place }: { column: ColumnPlace; place: DevicePlace }) {
  const { kind, x, topX, contact } = column;
  const top = place.y + 15;
  const bottom = place.y + place.height - 15;
  const upper = place.y + 38;
  const lower = place.y + place.height - 38;
  const leads = (
    <>
      <path className="symbol" d={`M${topX} ${top}V${top + 12}L${x} ${upper - 4}V${upper}`} />
      <line className="symbol" x1={x} y1={lower} x2={x} y2={bottom} />
    </>
  );
  switch (kind) {
    case 'contact': {
      const type = place.device.type;
      if (type === 'fuse') {
        return (
          <g>
            {leads}
            <rect className="symbol fill" x={x - 6} y={upper} width={12} height={lower - upper} />
            <line
              className="symbol fuse-wire"
              x1={x}
              y1={upper}
              x2={x}
              y2={lower}
              data-blade={`${place.device.tag}:${contact?.name ?? ''}`}
            />
          </g>
        );
      }
      const normally = contact?.normally ?? 'open';
      // A selector's contact is drawn as its handle stands.
      const standing =
        place.device.type === 'selector'
          ? place.device.options.positions.indexOf(place.device.settings.position)
          : -1;
      const closed = standing < 0 ? undefined : contact?.closedIn[standing] ? '1' : '0';
      return (
        <g>
          {leads}
          {normally === 'closed' && <line className="symbol" x1={x} y1={upper} x2={x + 9} y2={upper} />}
          {type === 'disconnector' && <line className="symbol" x1={x - 6} y1={upper} x2={x + 6} y2={upper} />}
          {type === 'breaker' && <path className="symbol" d={`M${x - 4} ${upper - 4}l8 8m0 -8l-8 8`} />}
          <line
            className={`symbol blade ${normally}`}
            x1={x}
            y1={lower}
            x2={x}
            y2={upper}
            style={{ transformOrigin: `${x}px ${lower}px` }}
            data-blade={`${place.device.tag}:${contact?.name ?? ''}`}
            data-closed={closed}
          />
        </g>
      );
    }
    case 'coil':
      return (
        <g>
          {leads}
          <rect className="symbol fill coil" x={x - 11} y={upper} width={22} height={lower - upper} />
        </g>
      );
    case 'heater':
      return (
        <g>
          <line className="symbol" x1={x} y1={top} x2={x} y2={upper} />
          <path className="symbol" d={`M${x} ${upper}h8v${lower - upper}h-8`} />
          <line className="symbol" x1={x} y1={lower} x2={x} y2={bottom} />
        </g>
      );
    case 'resistor':
      return (
        <g>
          {leads}
          <rect className="symbol fill" x={x - 6} y={upper} width={12} height={lower - upper} />
        </g>
      );
    case 'lamp':
      return (
        <g>
          {leads}
          <circle className="symbol fill" cx={x} cy={(upper + lower) / 2} r={(lower - upper) / 2} />
          <path className="symbol" d={`M${x - 10} ${(upper + lower) / 2 - 10}l20 20m0 -20l-20 20`} />
        </g>
      );
  }
}

const small = (x: number, y: number, text: string, className = 'role'): ReactNode => (
  <text className={className} x={x} y={y}>
    {text}
  </text>
);

function Head({
  place,
  act,
  onSetting,
}: {
  place: DevicePlace;
  act: Act | undefined;
  onSetting: ((tag: string) => void) | undefined;
}) {
  const { device, y, head, headX: x, height } = place;
  const cx = x + (head - 4) / 2;
  const cy = y + height / 2 + 8;
  switch (device.type) {
    case 'pushbutton':
      return (
        <>
          {small(x + 9, y + height - 9, roleOf(device))}
          <Handle act={act} device={device} verb="push" label={`${device.tag} ${roleOf(device)}`}>
            <circle className="bezel" cx={cx} cy={cy} r={20} />
            <circle className="cap" data-cap cx={cx} cy={cy} r={15} fill={capColour(device.options.colour)} />
          </Handle>
        </>
      );
    case 'estop':
      return (
        <>
          {small(x + 9, y + height - 9, 'Emergency')}
          <Handle act={act} device={device} verb="latch" label={`${device.tag} emergency stop`}>
            <circle className="bezel" cx={cx} cy={cy} r={23} style={{ fill: capColour('yellow') }} />
            <circle className="cap" data-cap cx={cx} cy={cy} r={17} fill={capColour('red')} />
          </Handle>
        </>
      );
    case 'limit-switch':
      return (
        <>
          {small(x + 9, y + height - 9, 'Limit')}
          <Handle act={act} device={device} verb="latch" label={`${device.tag} limit switch`}>
            <rect className="bezel" x={cx - 15} y={cy - 6} width={30} height={18} rx={2} />
            <circle className="cap" data-cap cx={cx} cy={cy - 10} r={8} fill={capColour('grey')} />
          </Handle>
        </>
      );
    case 'selector':
      return (
        <>
          <text className="role" x={x + 9} y={y + height - 9} data-text>
            {device.settings.position}
          </text>
          <Handle act={act} device={device} verb="turn" label={`${device.tag} selector`}>
            <circle className="bezel" cx={cx} cy={cy} r={20} />
            <rect
              className="knob"
              data-knob
              x={cx - 4}
              y={cy - 18}
              width={8}
              height={36}
              rx={3}
              style={{ transformOrigin: `${cx}px ${cy}px` }}
            />
          </Handle>
        </>
      );
    case 'breaker':
    case 'disconnector':
    case 'fuse':
      return (
        <>
          {small(x + 9, y + 37, ratingOf(device))}
          <text className="state" x={x + 9} y={y + height - 9} data-text>
            closed
          </text>
          <Handle act={act} device={device} verb="toggle" label={`${device.tag} ${roleOf(device)}`}>
            <rect className="slot" x={cx - 9} y={cy - 16} width={18} height={34} rx={3} />
            <rect className="lever" data-lever x={cx - 7} y={cy - 14} width={14} height={14} rx={2} />
          </Handle>
        </>
      );
    case 'supply-3n':
    case 'supply-1n':
    case 'supply-dc':
      return (
        <>
          {small(x + head + 4, y + 20, ratingOf(device), 'rating')}
          <text className="state" x={x + 9} y={y + height - 9} data-text>
            off
          </text>
          <Handle act={act} device={device} verb="supply" label={`${device.tag} supply switch`}>
            <circle className="bezel" cx={cx} cy={cy - 5} r={17} />
            <rect
              className="knob"
              data-knob
              x={cx - 4}
              y={cy - 20}
              width={8}
              height={30}
              rx={3}
              style={{ transformOrigin: `${cx}px ${cy - 5}px` }}
            />
          </Handle>
        </>
      );
    case 'overload':
      return (
        <>
          <text className="state" x={x + 9} y={y + 39} data-text>
            healthy
          </text>
          <Dial place={place} onSetting={onSetting} />
          <Handle act={act} device={device} verb="trip" label={`${device.tag} test`}>
            <rect className="key" x={x + 7} y={y + height - 25} width={30} height={18} rx={2} />
            <text className="key-text" x={x + 22} y={y + height - 12}>
              Test
            </text>
          </Handle>
          <Handle act={act} device={device} verb="reset" label={`${device.tag} reset`}>
            <rect className="key" x={x + 40} y={y + height - 25} width={32} height={18} rx={2} />
            <text className="key-text" x={x + 56} y={y + height - 12}>
              Reset
            </text>
          </Handle>
        </>
      );
    case 'timer':
    case 'star-delta-timer':
      return (
        <>
          {small(x + 9, y + 37, `${device.settings.delay} s`)}
          <text className="state" x={x + 9} y={y + height - 9} data-text>
            idle
          </text>
        </>
      );
    case 'transformer':
      return (
        <>
          {small(x + 9, y + 39, `${device.options.primaryVoltage}/${device.options.secondaryVoltage} V`)}
          {small(x + 9, y + 54, `${device.options.va} VA`)}
        </>
      );
    case 'brake':
    case 'contactor':
    case 'relay':
      return (
        <>
          {small(x + 9, y + 37, ratingOf(device))}
          <rect className="window" x={cx - 15} y={cy - 14} width={30} height={24} rx={2} />
          <rect className="armature" data-armature x={cx - 12} y={cy - 11} width={24} height={8} />
          <text className="state" x={x + 9} y={y + height - 9} data-text>
            out
          </text>
        </>
      );
    case 'lamp':
    case 'buzzer':
      return (
        <>
          {small(x + 9, y + 37, ratingOf(device))}
          <text className="state" x={x + 9} y={y + height - 6} data-text>
            dark
          </text>
          <circle
            className="glow"
            data-glow
            cx={cx}
            cy={cy + 4}
            r={25}
            fill={capColour(device.options.colour)}
          />
          <circle
            className="glass"
            data-glass
            cx={cx}
            cy={cy + 4}
            r={15}
            fill={capColour(device.options.colour)}
          />
        </>
      );
    case 'motor-1':
    case 'motor-3':
      return (
        <>
          {small(x + 9, y + 37, `${device.options.plate.kW} kW`)}
          {small(x + 9, y + 51, `${device.options.plate.current} A`)}
          <text className="state" x={x + 9} y={y + height - 9} data-text>
            stopped
          </text>
        </>
      );
    default:
      return small(x + 9, y + height - 9, ratingOf(device));
  }
}

function Dial({ place, onSetting }: { place: DevicePlace; onSetting: ((tag: string) => void) | undefined }) {
  const { device, x, y } = place;
  if (device.type !== 'overload') return null;
  const [min, max] = device.options.range;
  const cx = x + 22;
  const cy = y + 60;
  const angle = -120 + (240 * (device.settings.dial - min)) / Math.max(max - min, 0.01);
  const body = (
    <>
      <circle className="bezel" cx={cx} cy={cy} r={14} />
      <line
        className="pointer"
        x1={cx}
        y1={cy}
        x2={cx}
        y2={cy - 12}
        transform={`rotate(${angle} ${cx} ${cy})`}
      />
      <text className="role" x={x + 41} y={y + 65}>
        {device.settings.dial} A
      </text>
    </>
  );
  if (!onSetting) return body;
  const open = () => onSetting(device.tag);
  return (
    <g
      className="handle"
      role="button"
      tabIndex={0}
      aria-label={`${device.tag} dial, ${device.settings.dial} A`}
      onClick={open}
      onKeyDown={(event) => {
        if (event.key === 'Enter' || event.key === ' ') open();
      }}
    >
      {body}
    </g>
  );
}

function Body({ place }: { place: DevicePlace }) {
  const { device, x, y, width, head } = place;
  if (device.type === 'transformer') {
    const cx =
      (Math.min(...place.terminals.map((t) => t.x)) + Math.max(...place.terminals.map((t) => t.x))) / 2;
    return (
      <g>
        <circle className="symbol" cx={cx} cy={y + 44} r={15} />
        <circle className="symbol" cx={cx} cy={y + 63} r={15} />
      </g>
    );
  }
  if (device.type === 'motor-3' || device.type === 'motor-1') {
    const cx = x + head + (width - head) / 2 - 4;
    const cy = y + 66;
    return (
      <g>
        <circle className="motor" cx={cx} cy={cy} r={28} />
        <g data-shaft style={{ transformOrigin: `${cx}px ${cy}px` }}>
          {[0, 120, 240].map((angle) => (
            <path
              key={angle}
              className="rotor"
              d={`M${cx} ${cy - 26}a26 26 0 0 1 12 3l-5 9a16 16 0 0 0 -7 -2z`}
              transform={`rotate(${angle} ${cx} ${cy})`}
            />
          ))}
        </g>
        <text className="motor-text" x={cx} y={cy + 1}>
          M
        </text>
        <text className="motor-phases" x={cx} y={cy + 14}>
          {device.type === 'motor-1' ? '1~' : '3~'}
        </text>
        <path
          className="turn-arrow"
          data-arrow
          d={`M${cx + 38} ${cy + 12}a40 40 0 0 0 0 -26l-5 3m5 -3l2 6`}
          style={{ transformOrigin: `${cx}px ${cy}px` }}
        />
      </g>
    );
  }
  if (device.type === 'busbar') {
    const [first] = place.terminals;
    const last = place.terminals.at(-1);
    return first && last ? <line className="bar" x1={first.x} y1={first.y} x2={last.x} y2={last.y} /> : null;
  }
  if (device.type.startsWith('supply')) {
    return (
      <g>
        {place.terminals.map((terminal) => (
          <g key={terminal.ref}>
            <line className="symbol" x1={terminal.x} y1={y + 42} x2={terminal.x} y2={terminal.y} />
            <circle className="pilot" data-pilot={terminal.ref} cx={terminal.x} cy={y + 37} r={5} />
          </g>
        ))}
      </g>
    );
  }
  return null;
}
