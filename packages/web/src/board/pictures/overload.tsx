import { Handle } from '../Handle.js';
import { Caption, type Picture, type PictureProps } from './picture.js';

type Props = PictureProps<'overload'>;

function Head(props: Props) {
  const { device, place, act } = props;
  const { headX: x, y, height } = place;
  const bottom = y + height;
  return (
    <>
      <Caption place={place} below={33} className="state" live>
        healthy
      </Caption>
      <rect className="trip-flag" x={x + 52} y={y + 11} width={13} height={9} rx={1.5} />
      <Dial {...props} />
      <Handle act={act} device={device} verb="trip" label={`${device.tag} test`}>
        <rect className="key" x={x + 7} y={bottom - 19} width={28} height={15} rx={2} />
        <text className="key-text" x={x + 21} y={bottom - 8}>
          Test
        </text>
      </Handle>
      <Handle act={act} device={device} verb="reset" label={`${device.tag} reset`}>
        <rect className="key" x={x + 38} y={bottom - 19} width={32} height={15} rx={2} />
        <text className="key-text" x={x + 54} y={bottom - 8}>
          Reset
        </text>
      </Handle>
    </>
  );
}

/** The dial from one end of its range to the other; opened by a click where it may be set. */
function Dial({ device, place: { x, y }, onSetting }: Props) {
  const { dial } = device.settings;
  const [min, max] = device.options.range;
  const cx = x + 19;
  const cy = y + 48;
  const angle = -120 + (240 * (dial - min)) / Math.max(max - min, 0.01);
  const face = (
    <>
      <circle className="bezel" cx={cx} cy={cy} r={11} />
      <line
        className="pointer"
        x1={cx}
        y1={cy}
        x2={cx}
        y2={cy - 9}
        transform={`rotate(${angle} ${cx} ${cy})`}
      />
      <text className="role" x={x + 34} y={y + 52}>
        {dial} A
      </text>
    </>
  );
  if (!onSetting) return face;
  const open = () => onSetting(device.tag);
  return (
    <g
      className="handle"
      role="button"
      tabIndex={0}
      aria-label={`${device.tag} dial, ${dial} A`}
      onClick={open}
      onKeyDown={(event) => {
        if (event.key === 'Enter' || event.key === ' ') open();
      }}
    >
      {face}
    </g>
  );
}

export const overload: Picture<'overload'> = { Head };
