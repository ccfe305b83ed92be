import { Handle } from '../Handle.js';
import { Caption, type Picture, type PictureProps } from './picture.js';

type Props = PictureProps<'overload'>;

function Head(props: Props) {
  const { device, place, act } = props;
  const { headX: x, y, height } = place;
  const bottom = y + height;
  return (
    <>
      <Caption place={place} below={39} className="state" live>
        healthy
      </Caption>
      <Dial {...props} />
      <Handle act={act} device={device} verb="trip" label={`${device.tag} test`}>
        <rect className="key" x={x + 7} y={bottom - 25} width={30} height={18} rx={2} />
        <text className="key-text" x={x + 22} y={bottom - 12}>
          Test
        </text>
      </Handle>
      <Handle act={act} device={device} verb="reset" label={`${device.tag} reset`}>
        <rect className="key" x={x + 40} y={bottom - 25} width={32} height={18} rx={2} />
        <text className="key-text" x={x + 56} y={bottom - 12}>
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
  const cx = x + 22;
  const cy = y + 60;
  const angle = -120 + (240 * (dial - min)) / Math.max(max - min, 0.01);
  const face = (
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

export const overload: Picture<'overload'> = { hand: 'left', terminals: 'columns', Head };
