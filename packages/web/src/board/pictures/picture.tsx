import type { ReactNode } from 'react';
import type { ColumnPlace, ContactSpec, DeviceOf, DevicePlace, DeviceType } from '@contactum/core';
import type { Act } from '../Handle.js';

/** What a picture is given to draw one device with. */
export interface PictureProps<T extends DeviceType = DeviceType> {
  readonly device: DeviceOf<T>;
  readonly place: DevicePlace;
  readonly act: Act | undefined;
  readonly onSetting: ((tag: string) => void) | undefined;
}

/** How one type of device is laid out and drawn. */
export interface Picture<T extends DeviceType = DeviceType> {
  /** Its contacts move together: a broken line joins them. */
  readonly linked?: boolean;
  readonly Head: (props: PictureProps<T>) => ReactNode;
  readonly Body?: (props: PictureProps<T>) => ReactNode;
  /** The symbol of a contact, where it is not a plain blade. */
  readonly Contact?: (props: ContactProps) => ReactNode;
}

export interface ContactProps {
  readonly column: ColumnPlace;
  readonly place: DevicePlace;
  readonly contact: ContactSpec;
  /** Ends of the moving part. */
  readonly upper: number;
  readonly lower: number;
}

/** Middle of the cell with designation and handle. */
export function headCentre({ headX, head, y, height }: DevicePlace): { cx: number; cy: number } {
  return { cx: headX + (head - 4) / 2, cy: y + height / 2 + 6 };
}

/**
 * A line of small text in the cell with the designation, so many millimetres below its top or above its
 * bottom.
 */
export function Caption({
  place,
  below,
  above = 6,
  className = 'role',
  live = false,
  children,
}: {
  place: DevicePlace;
  below?: number;
  above?: number;
  className?: string;
  /** Its text follows what the device is doing. */
  live?: boolean;
  children: ReactNode;
}) {
  const y = below === undefined ? place.y + place.height - above : place.y + below;
  return (
    <text className={className} x={place.headX + 8} y={y} {...(live ? { 'data-text': true } : {})}>
      {children}
    </text>
  );
}
