import { Caption, type Picture, type PictureProps } from './picture.js';

function Plate({ device, place }: PictureProps<'transformer'>) {
  const { primaryVoltage, secondaryVoltage, va } = device.options;
  return (
    <>
      <Caption place={place} below={34}>{`${primaryVoltage}/${secondaryVoltage} V`}</Caption>
      <Caption place={place} below={48}>{`${va} VA`}</Caption>
    </>
  );
}

/** Two windings that are not joined (IEC 60617, from memory). */
function Windings({ place: { terminals, y } }: PictureProps<'transformer'>) {
  const xs = terminals.map(({ x }) => x);
  const cx = (Math.min(...xs) + Math.max(...xs)) / 2;
  return (
    <g>
      <circle className="symbol" cx={cx} cy={y + 34} r={13} />
      <circle className="symbol" cx={cx} cy={y + 51} r={13} />
    </g>
  );
}

export const transformer: Picture<'transformer'> = {
  Head: Plate,
  Body: Windings,
};
