import { memo } from 'react';
import { isSupply, type DevicePlace } from '@contactum/core';
import { Column } from './Column.js';
import type { Act } from './Handle.js';
import { pictureOf } from './pictures/index.js';

/**
 * A device's plate: designation, handle, symbols between its terminals. What moves carries data attributes
 * that the painter writes.
 */
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
  const { Head, Body, linked } = pictureOf(device);
  const props = { device, place, act, onSetting };
  const contacts = place.columns.filter(({ kind }) => kind === 'contact');
  return (
    <g className="device" data-device={device.tag} data-supply={isSupply(device) ? 'yes' : undefined}>
      <rect className="plate" x={x} y={y} width={width} height={height} rx={4} />
      <line className="plate-rule" x1={ruleX} y1={y + 8} x2={ruleX} y2={y + height - 8} />
      <text className="tag" x={headX + 8} y={y + 20} data-mark-device={device.tag}>
        {device.tag}
      </text>
      <Head {...props} />
      {place.columns.map((column, k) => (
        <Column key={k} column={column} place={place} />
      ))}
      {linked && contacts.length > 1 && <Linkage place={place} />}
      {Body && <Body {...props} />}
    </g>
  );
});

/** What moves together is joined by a broken line. */
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
