import { useMemo } from 'react';
import { quantileSorted, scaleLinear } from 'd3';
import type { MarkBook } from '@contactum/contract';
import './mark-book.css';

const ROW = 34;
const LEFT = 250;
const WIDTH = 860;
const RIGHT = 90;

/** A row of the chart; without quarters of its own they are taken from its marks. */
interface Row {
  readonly id: string;
  readonly title: string;
  readonly spread: Spread;
}

/** How the marks that count lie, exercise by exercise. */
export function SpreadChart({ book }: { book: MarkBook }) {
  const rows = book.assignments.flatMap(({ id, title, spread }) => (spread ? [{ id, title, spread }] : []));
  if (rows.length === 0) return <p className="quiet">No marks yet.</p>;
  return <Chart rows={rows} label="Spread of the marks that count, per cent of the points" />;
}

/** How marks lie, per cent, row by row; nothing is said of who passed. */
export function SpreadRows({
  rows,
  label,
}: {
  rows: readonly { readonly id: string; readonly title: string; readonly marks: readonly number[] }[];
  label: string;
}) {
  const chart = rows
    .filter(({ marks }) => marks.length > 0)
    .map(({ id, title, marks }): Row => {
      const sorted = marks.toSorted((a, b) => a - b);
      const at = (part: number) => Math.round(10 * (quantileSorted(sorted, part) ?? 0)) / 10;
      const [least, low, median, high, most] = [at(0), at(0.25), at(0.5), at(0.75), at(1)];
      return { id, title, spread: { least, low, median, high, most, marks: sorted, passed: null } };
    });
  return <Chart rows={chart} label={label} />;
}

type Spread = Omit<NonNullable<MarkBook['assignments'][number]['spread']>, 'passed'> & {
  readonly passed: number | null;
};

/** Each mark a dot, the middle half a box, the median a line. */
function Chart({ rows, label }: { rows: readonly Row[]; label: string }) {
  const x = useMemo(() => scaleLinear([0, 100], [LEFT, WIDTH - RIGHT]), []);
  const height = rows.length * ROW + 48;
  return (
    <svg className="spread-chart" viewBox={`0 0 ${WIDTH} ${height}`} role="img" aria-label={label}>
      {x.ticks(5).map((tick) => (
        <g key={tick}>
          <line className="spread-grid" x1={x(tick)} x2={x(tick)} y1={18} y2={height - 26} />
          <text className="spread-tick" x={x(tick)} y={height - 10}>
            {tick} %
          </text>
        </g>
      ))}
      {rows.map(({ id, title, spread }, k) => {
        const y = 36 + k * ROW;
        const { low, median, high, least, most, marks, passed } = spread;
        return (
          <g key={id}>
            <text className="spread-title" x={LEFT - 12} y={y + 4}>
              {title.length > 36 ? `${title.slice(0, 35)}…` : title}
            </text>
            <line className="spread-range" x1={x(least)} x2={x(most)} y1={y} y2={y} />
            <rect
              className="spread-box"
              x={x(low)}
              y={y - 9}
              width={Math.max(2, x(high) - x(low))}
              height={18}
            />
            {stacked(marks).map(({ mark, step }, n) => (
              <circle key={n} className="spread-mark" cx={x(mark)} cy={y + 13 - step * 2.4} r={2.2} />
            ))}
            <line className="spread-median" x1={x(median)} x2={x(median)} y1={y - 12} y2={y + 12} />
            <text className="spread-said" x={WIDTH - RIGHT + 10} y={y + 4}>
              {passed === null ? median : `${median} · ${passed}/${marks.length}`}
              <title>
                {`median ${median} %${passed === null ? '' : `, ${passed} of ${marks.length} passed`}`}
              </title>
            </text>
          </g>
        );
      })}
      <text className="spread-tick" x={WIDTH - 46} y={12}>
        {rows.some(({ spread }) => spread.passed !== null) ? 'median · passed' : 'median'}
      </text>
    </svg>
  );
}

/** Marks that would lie on one another, one above the other. */
function stacked(marks: readonly number[]): { mark: number; step: number }[] {
  const height = new Map<number, number>();
  return marks.map((mark) => {
    const place = Math.round(mark);
    const step = height.get(place) ?? 0;
    height.set(place, step + 1);
    return { mark, step };
  });
}
