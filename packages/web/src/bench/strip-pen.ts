import { scaleLinear } from 'd3';
import { TOKENS } from '../theme.js';
import type { Mark, Recorder } from './recorder.js';

export const ROW = 15;
export const AXIS = 16;

const WRONG = new Set(['tripped', 'chattering', 'single-phase', 'burnt', 'blown']);
const ACTIVE = new Set([
  ...WRONG,
  'in',
  'pressed',
  'lit',
  'timing',
  'done',
  'forward',
  'reverse',
  'closed',
  'dim',
]);
const PAPER_LINE = '#d6cfbf';
const ROW_LINE = '#c4bcab';

function colourOf(value: string): string {
  if (WRONG.has(value)) return TOKENS.wrong;
  if (value === 'reverse') return '#3b5f8a';
  return value === 'closed' ? '#b9933a' : TOKENS.accent;
}

/** Paper that runs, and the pen that writes on it what every row does. */
export class StripPen {
  /** Seconds of paper that are seen. */
  window = 20;
  /** Moment at which the paper is held; null while it runs. */
  heldAt: number | null = null;
  /** Moment under the cursor. */
  cursor: number | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly pen: CanvasRenderingContext2D,
    private readonly recorder: Recorder,
  ) {}

  /** Draws the paper as it lies at a moment. */
  draw(t: number): void {
    const { pen, recorder } = this;
    const { rows } = recorder;
    const width = this.clear();
    const end = this.heldAt ?? t;
    const start = Math.max(recorder.begun, end - this.window);
    const x = scaleLinear([start, start + this.window], [0, width]);
    this.scale = x;
    pen.font = '500 11px Barlow, sans-serif';
    pen.textBaseline = 'middle';
    this.drawAxis(x, width);
    rows.forEach((_, k) => this.drawRow(recorder.marksOf(k), k, x, t));
    pen.fillStyle = TOKENS.ink;
    if (this.heldAt === null) pen.fillRect(x(t), 0, 1.5, rows.length * ROW);
    if (this.cursor !== null) {
      pen.fillStyle = TOKENS.accent;
      pen.fillRect(x(this.cursor), 0, 2, rows.length * ROW);
    }
  }

  private scale: ReturnType<typeof scaleLinear<number>> | null = null;

  /** The moment at a place of the paper. */
  momentAt(px: number): number {
    return Math.max(0, this.scale?.invert(px) ?? 0);
  }

  private clear(): number {
    const { canvas, pen } = this;
    const ratio = window.devicePixelRatio || 1;
    const { clientWidth: width, clientHeight: height } = canvas;
    const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
    if (canvas.width !== w || canvas.height !== h) Object.assign(canvas, { width: w, height: h });
    pen.setTransform(ratio, 0, 0, ratio, 0, 0);
    pen.clearRect(0, 0, width, height);
    return width;
  }

  private drawAxis(x: ReturnType<typeof scaleLinear<number>>, width: number): void {
    const { pen } = this;
    const bottom = this.recorder.rows.length * ROW;
    for (const tick of x.ticks(10)) {
      const at = x(tick);
      pen.fillStyle = PAPER_LINE;
      pen.fillRect(at, 0, 1, bottom);
      pen.fillStyle = TOKENS.quiet;
      pen.textAlign = at < 10 ? 'left' : at > width - 14 ? 'right' : 'center';
      pen.fillText(`${tick} s`, at, bottom + AXIS / 2);
    }
  }

  private drawRow(list: readonly Mark[], k: number, x: (t: number) => number, t: number): void {
    const { pen } = this;
    const middle = k * ROW + ROW / 2;
    pen.fillStyle = ROW_LINE;
    pen.fillRect(0, middle, x(t), 1);
    list.forEach(({ t: from, value }, n) => {
      const left = Math.max(0, x(from));
      const right = x(list[n + 1]?.t ?? t);
      if (!ACTIVE.has(value) || right <= 0) return;
      pen.fillStyle = colourOf(value);
      pen.fillRect(left, middle - 5, Math.max(right - left, 1.5), 10);
      // A word only where the bar has room for it: colour alone says nothing.
      const word = this.recorder.wordsOf(k, value);
      if (right - left <= pen.measureText(word).width + 10) return;
      pen.fillStyle = '#ffffff';
      pen.textAlign = 'left';
      pen.fillText(word, left + 5, middle + 0.5);
    });
  }
}
