import {
  WORDS_AT,
  ladderPicture,
  type PicturedAction,
  type PicturedContact,
  type Program,
  type Rung,
} from '../program/index.js';
import { escaped } from './svg.js';

const STROKE = 'fill="none" stroke="#1d2327" stroke-width="1.5"';

const written = (text: string, x: number, y: number, size: number, bold = false): string =>
  text === ''
    ? ''
    : `<text font-family="Roboto, sans-serif" font-size="${size}"${bold ? ' font-weight="600"' : ''} ` +
      `fill="#1d2327" text-anchor="middle" x="${x}" y="${y}">${escaped(text)}</text>`;

function part({
  at: [x, y],
  strokes,
  block,
  letter,
  shown,
  below,
}: PicturedContact | PicturedAction): string {
  const box = block
    ? `<rect ${STROKE} x="${block.x}" y="${block.y}" width="${block.width}" height="${block.height}"/>`
    : '';
  return [
    `<path ${STROKE} d="${strokes}"/>`,
    box,
    written(letter, x, y + WORDS_AT.letter, 11),
    written(shown, x, y + WORDS_AT.name, 12, true),
    written(below, x, y + WORDS_AT.below, 10.5),
  ].join('');
}

/** A rung as a picture on paper. */
export function rungSvg(
  program: Program,
  rung: Rung,
): { readonly svg: string; readonly width: number; readonly height: number } {
  const { width, height, rails, lines, contacts, actions } = ladderPicture(program, rung);
  const content = [
    ...rails.map((x) => `<path ${STROKE.replace('1.5', '2.5')} d="M${x} 0V${height}"/>`),
    `<path ${STROKE} d="${lines}"/>`,
    ...[...contacts, ...actions].map(part),
  ].join('');
  const size = `viewBox="0 0 ${width} ${height}" width="${width}" height="${height}"`;
  return { svg: `<svg xmlns="http://www.w3.org/2000/svg" ${size}>${content}</svg>`, width, height };
}
