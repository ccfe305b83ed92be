import {
  WORDS_AT,
  ladderPicture,
  type PicturedAction,
  type PicturedContact,
  type Program,
  type Rung,
} from '../program/index.js';
import { BOLD, PAINT, words, written } from './svg.js';

const said = (text: string, x: number, y: number, attributes: string): string =>
  text === '' ? '' : written(attributes, text, [x, y], 'middle');

function part({
  at: [x, y],
  strokes,
  block,
  letter,
  shown,
  below,
}: PicturedContact | PicturedAction): string {
  const box = block
    ? `<rect ${PAINT.stroke} x="${block.x}" y="${block.y}" width="${block.width}" height="${block.height}"/>`
    : '';
  return [
    `<path ${PAINT.stroke} d="${strokes}"/>`,
    box,
    said(letter, x, y + WORDS_AT.letter, words(11)),
    said(shown, x, y + WORDS_AT.name, words(12, BOLD)),
    said(below, x, y + WORDS_AT.below, words(10.5)),
  ].join('');
}

/** A rung as a picture on paper. */
export function rungSvg(
  program: Program,
  rung: Rung,
): { readonly svg: string; readonly width: number; readonly height: number } {
  const { width, height, rails, lines, contacts, actions } = ladderPicture(program, rung);
  const content = [
    ...rails.map((x) => `<path ${PAINT.stroke.replace('1.5', '2.5')} d="M${x} 0V${height}"/>`),
    `<path ${PAINT.stroke} d="${lines}"/>`,
    ...[...contacts, ...actions].map(part),
  ].join('');
  const size = `viewBox="0 0 ${width} ${height}" width="${width}" height="${height}"`;
  return { svg: `<svg xmlns="http://www.w3.org/2000/svg" ${size}>${content}</svg>`, width, height };
}
