import { scaleLinear } from 'd3';
import type { Frame, Shape } from '@contactum/core';
import { TOKENS } from '../theme.js';

/** Seconds of paper that may be seen at once. */
export const WINDOWS = [5, 20, 60, 300] as const;
const LONGEST = Math.max(...WINDOWS);
export const ROW = 15;
export const AXIS = 16;

export interface Row {
  readonly tag: string;
  /** Where in a frame its value stands. */
  readonly source: 'state' | 'lamp' | 'field';
  readonly words: Readonly<Record<string, string>>;
}

/** A row's values in time: each from its moment until the next. */
interface Mark {
  readonly t: number;
  readonly value: string;
}

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
  private readonly marks: Mark[][];
  /** Seconds of paper that are seen. */
  window = 20;
  /** Moment at which the paper is held; null while it runs. */
  heldAt: number | null = null;
  /** Moment under the cursor. */
  cursor: number | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly pen: CanvasRenderingContext2D,
    private readonly rows: readonly Row[],
  ) {
    this.marks = rows.map(() => []);
  }

  private wordsOf(k: number, value: string): string {
    return this.rows[k]?.words[value] ?? value;
  }

  private record(k: number, t: number, value: string): void {
    const list = this.marks[k];
    if (!list || list.at(-1)?.value === value) return;
    list.push({ t, value });
    // What has run off the paper is forgotten, but for the value that it began with.
    while (list.length > 2 && (list[1]?.t ?? t) < t - LONGEST) list.shift();
  }

  /**
   * Takes what a frame says. Events have their exact times; the frame only closes what they have not said.
   */
  take(frame: Frame, shape: Shape): void {
    for (const { what, t, state } of frame.events) {
      const k = this.rows.findIndex(
        ({ tag, source }) => (source === 'field' ? `${tag}.driven` : tag) === what,
      );
      if (k >= 0) this.record(k, t, state);
    }
    const values = {
      lamp: (tag: string) => frame.lamps[shape.lamps.indexOf(tag)] ?? 'dark',
      field: (tag: string) => frame.motors[shape.motors.indexOf(tag)]?.driven ?? 'none',
      state: (tag: string) => frame.states[shape.devices.indexOf(tag)] ?? '',
    };
    this.rows.forEach(({ tag, source }, k) => this.record(k, frame.t, values[source](tag)));
  }

  /** Draws the paper as it lies at a moment. */
  draw(t: number): void {
    const { pen, rows } = this;
    const width = this.clear();
    const end = this.heldAt ?? t;
    const start = Math.max(0, end - this.window);
    const x = scaleLinear([start, start + this.window], [0, width]);
    this.scale = x;
    pen.font = '500 11px Barlow, sans-serif';
    pen.textBaseline = 'middle';
    this.drawAxis(x, width);
    this.marks.forEach((list, k) => this.drawRow(list, k, x, t));
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

  /** What every row did at a moment, in words. */
  wordsAt(t: number): string[] {
    return this.marks.map((list, k) => this.wordsOf(k, list.findLast((mark) => mark.t <= t)?.value ?? ''));
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
    const bottom = this.rows.length * ROW;
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
      const word = this.wordsOf(k, value);
      if (right - left <= pen.measureText(word).width + 10) return;
      pen.fillStyle = '#ffffff';
      pen.textAlign = 'left';
      pen.fillText(word, left + 5, middle + 0.5);
    });
  }
}
