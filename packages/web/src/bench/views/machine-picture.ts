import { line, scaleLinear } from 'd3';
import type { Device } from '@contactum/core';
import { TOKENS } from '../../theme.js';
import { thinned, type Recorder, type Sample } from '../recorder.js';

/** A stretch of time, seconds of the bench's clock. */
export interface Range {
  readonly from: number;
  readonly to: number;
}

interface Box {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

/** A channel of a recorder over a stretch as the path of an SVG, within a box. */
export function curvePath(recorder: Recorder, k: number, { from, to }: Range, box: Box): string {
  const x = scaleLinear([from, to], [box.left, box.right]).clamp(true);
  const y = scaleLinear([0, recorder.channels[k]?.most ?? 1], [box.bottom, box.top]).clamp(true);
  const known = recorder.samplesOf(k, from, to);
  const last = known.at(-1);
  // Between frames nothing changes: the last value holds until now.
  const held = last && last.t < to ? [...known, { t: to, value: last.value }] : known;
  return (
    line<Sample>(
      ({ t }) => x(t),
      ({ value }) => y(value),
    )(thinned(held, Math.round(box.right - box.left))) ?? ''
  );
}

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

const WIDTH = 900;
const LEFT = 90;
const CHART = 170;
const HEAD = 60;

/** The curves of a motor over a stretch as one picture with its title, its scales and its units. */
export function machinePicture(
  recorder: Recorder,
  motor: Device,
  range: Range,
  title: string,
): { readonly svg: string; readonly size: readonly [number, number] } {
  const channels = recorder.channelsFor(motor.tag);
  const height = HEAD + channels.length * CHART + 30;
  const shift = { from: Math.max(range.from, recorder.begun), to: range.to };
  const x = scaleLinear([0, shift.to - shift.from], [LEFT, WIDTH - 20]);
  const charts = channels.map((k, n) => {
    const { name, unit, most } = recorder.channels[k] ?? { name: '', unit: '', most: 1 };
    const top = HEAD + n * CHART + 24;
    const bottom = HEAD + (n + 1) * CHART - 16;
    const y = scaleLinear([0, most], [bottom, top]);
    const grid = y
      .ticks(4)
      .map(
        (tick) =>
          `<line x1="${LEFT}" x2="${WIDTH - 20}" y1="${y(tick)}" y2="${y(tick)}" stroke="${TOKENS.rule}"/>` +
          `<text x="${LEFT - 8}" y="${y(tick) + 4}" text-anchor="end" font-size="13">${tick}</text>`,
      )
      .join('');
    const path = curvePath(recorder, k, shift, { left: LEFT, right: WIDTH - 20, top, bottom });
    const heading = `${escaped(name)}, ${escaped(unit)}`;
    return (
      `<text x="${LEFT}" y="${top - 8}" font-size="15" font-weight="600">${heading}</text>${grid}` +
      `<path d="${path}" fill="none" stroke="${TOKENS.accent}" stroke-width="2"/>`
    );
  });
  const axis = x
    .ticks(10)
    .map(
      (tick) =>
        `<text x="${x(tick)}" y="${height - 16}" text-anchor="middle" font-size="13">${tick} s</text>`,
    )
    .join('');
  const size = `viewBox="0 0 ${WIDTH} ${height}" width="${WIDTH}" height="${height}"`;
  const heading = escaped(`${title}: ${motor.tag}`);
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" ${size} font-family="Barlow, sans-serif" fill="${TOKENS.ink}">` +
    `<rect width="${WIDTH}" height="${height}" fill="#ffffff"/>` +
    `<text x="${LEFT}" y="34" font-size="22" font-weight="600">${heading}</text>` +
    `${charts.join('')}${axis}</svg>`;
  return { svg, size: [WIDTH, height] };
}

/** How much finer than on the screen a picture is saved. */
const FINER = 2;

/** A picture as PNG. */
export async function pngOf(svg: string, [width, height]: readonly [number, number]): Promise<Blob> {
  const image = new Image(width * FINER, height * FINER);
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const canvas = Object.assign(document.createElement('canvas'), {
    width: width * FINER,
    height: height * FINER,
  });
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be made.')))),
  );
}
