import { Caption, type Picture, type PictureProps } from './picture.js';

function Plate({ device, place }: PictureProps<'transformer'>) {
  const { primaryVoltage, secondaryVoltage, va } = device.options;
  return (
    <>
      <Caption place={place} below={39}>{`${primaryVoltage}/${secondaryVoltage} V`}</Caption>
      <Caption place={place} below={54}>{`${va} VA`}</Caption>
    </>
  );
}

/** Two windings that are not joined (IEC 60617, from memory). */
function Windings({ place: { terminals, y } }: PictureProps<'transformer'>) {
  const xs = terminals.map(({ x }) => x);
  const cx = (Math.min(...xs) + Math.max(...xs)) / 2;
  return (
    <g>
      <circle className="symbol" cx={cx} cy={y + 44} r={15} />
      <circle className="symbol" cx={cx} cy={y + 63} r={15} />
    </g>
  );
}

export const transformer: Picture<'transformer'> = {
  hand: 'left',
  terminals: 'columns',
  Head: Plate,
  Body: Windings,
};
