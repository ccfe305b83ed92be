import { useEffect, useMemo, useRef, useState } from 'react';
import { Button, Select, Slider } from 'antd';
import { scaleLinear } from 'd3';
import { Link } from 'react-router';
import type { Frame } from '@contactum/core';
import { fileName, save } from '../../drawing/save.js';
import { plateLink } from '../../plate/link.js';
import type { LiveBench } from '../live.js';
import { SPANS, motorsOf, ratedTorque, type Motor, type Recorder } from '../recorder.js';
import { curvePath, machinePicture, pngOf, type Range } from './machine-picture.js';
import type { ViewProps } from './view-props.js';

const spanWords = (seconds: number): string => (seconds < 60 ? `${seconds} s` : `${seconds / 60} min`);

/** What is seen: the last seconds as they run, or a stretch of what is kept. */
interface Seen {
  readonly span: number;
  /** End of the stretch; null where it is the present moment. */
  readonly end: number | null;
}

const rangeOf = ({ span, end }: Seen, recorder: Recorder): Range => {
  const to = end ?? recorder.now;
  return { from: to - span, to };
};

/**
 * Plates of the board's motors, and what they do: speed, torque, current, and the heat of what protects
 * them, from the moment that the board was opened.
 */
export function MachinePane({ kit: { live, recorder }, view }: ViewProps) {
  const { devices } = view.exercise.bench;
  const motors = motorsOf(devices);
  const [seen, setSeen] = useState<Seen>({ span: 20, end: null });
  const [picked, setPicked] = useState(motors[0]?.tag ?? '');
  const motor = motors.find(({ tag }) => tag === picked) ?? motors[0];
  if (!motor) return <p className="quiet machine">This board has no motor.</p>;
  return (
    <div className="machine">
      {motors.length > 1 && (
        <Select
          aria-label="Motor"
          value={motor.tag}
          options={motors.map(({ tag }) => ({ value: tag, label: tag }))}
          onChange={setPicked}
        />
      )}
      <Plate motor={motor} />
      <Stretch {...{ seen, recorder, live, motor }} onSeen={setSeen} title={view.exercise.title} />
      <Curves {...{ seen, recorder, live, motor }} />
    </div>
  );
}

function Plate({ motor }: { motor: Motor }) {
  const { plate } = motor.options;
  const link = plateLink(motor);
  const values = [
    ['Power', `${plate.kW} kW`],
    ['Voltage', `${plate.voltage} V${'connection' in plate ? `, ${plate.connection}` : ''}`],
    ['Current', `${plate.current} A`],
    ['Speed', `${plate.speed} rpm, ${plate.frequency} Hz`],
    ['Rated torque', `${ratedTorque(motor).toFixed(1)} N m`],
  ] as const;
  return (
    <article>
      <h3>
        {motor.tag} {link && <Link to={link}>Size its starter</Link>}
      </h3>
      <dl className="plate-values">
        {values.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
    </article>
  );
}

/** Whether something was started, told anew as the board runs. */
function useStarted(live: LiveBench, recorder: Recorder, tag: string): boolean {
  const [started, setStarted] = useState(() => recorder.lastStart(tag) !== null);
  useEffect(() => {
    const look = () => setStarted(recorder.lastStart(tag) !== null);
    look();
    return live.store.subscribe(({ frame }, before) => {
      if (frame !== before.frame && frame?.events.length) look();
    });
  }, [live, recorder, tag]);
  return started;
}

interface Stretched {
  readonly seen: Seen;
  readonly recorder: Recorder;
  readonly live: LiveBench;
  readonly motor: Motor;
  readonly title: string;
  readonly onSeen: (seen: Seen) => void;
}

/** How much is seen at once. */
function SpanSelect({ seen, onSeen }: Pick<Stretched, 'seen' | 'onSeen'>) {
  const spans = SPANS.includes(seen.span) ? SPANS : [...SPANS, seen.span];
  return (
    <Select
      size="small"
      aria-label="Time that is seen"
      value={seen.span}
      options={spans.map((value) => ({
        value,
        label: SPANS.includes(value) ? spanWords(value) : `${value.toFixed(1)} s`,
      }))}
      onChange={(span: number) => onSeen({ ...seen, span })}
      style={{ width: 88 }}
    />
  );
}

/** Which stretch is seen: how long, until when; the last start; and saving it as a picture. */
function Stretch({ seen, recorder, live, motor, title, onSeen }: Stretched) {
  const started = useStarted(live, recorder, motor.tag);
  const showStart = () => {
    const start = recorder.lastStart(motor.tag);
    if (start) onSeen({ span: Math.max(1, (start.to - start.from) * 1.1), end: start.to });
  };
  const picture = async (): Promise<void> => {
    const { svg, size } = machinePicture(recorder, motor, rangeOf(seen, recorder), title);
    save(await pngOf(svg, size), fileName(`${title} ${motor.tag}`, 'png'));
  };
  return (
    <div className="machine-tools">
      <div className="hand-row">
        <SpanSelect seen={seen} onSeen={onSeen} />
        <Button size="small" disabled={!started} onClick={showStart}>
          Last start
        </Button>
        <Button size="small" onClick={() => void picture()}>
          Save picture
        </Button>
        {seen.end !== null && (
          <Button size="small" type="primary" onClick={() => onSeen({ span: 20, end: null })}>
            Back to now
          </Button>
        )}
      </div>
      <Slider
        ariaLabelForHandle="Moment up to which is seen"
        min={recorder.begun}
        max={Math.max(recorder.now, recorder.begun + 1)}
        step={0.1}
        value={seen.end ?? recorder.now}
        tooltip={{ formatter: (t) => `${(t ?? 0).toFixed(1)} s` }}
        onChange={(end: number) => onSeen({ ...seen, end })}
      />
    </div>
  );
}

const HEIGHT = 84;
const WIDTH = 420;
const LEFT = 44;

/** The curves of a motor and of the relays of its board. */
function Curves({
  seen,
  recorder,
  live,
  motor,
}: {
  seen: Seen;
  recorder: Recorder;
  live: LiveBench;
  motor: Motor;
}) {
  const channels = useMemo(() => recorder.channelsFor(motor.tag), [recorder, motor]);
  return channels.map((k) => <CurveChart key={k} {...{ k, seen, recorder, live }} />);
}

interface Curve {
  readonly k: number;
  readonly seen: Seen;
  readonly recorder: Recorder;
  readonly live: LiveBench;
}

/** Draws a channel's curve by the store's subscription; where its path, its value and its begin are written. */
function useCurve({ k, seen, recorder, live }: Curve) {
  const path = useRef<SVGPathElement | null>(null);
  const value = useRef<HTMLOutputElement | null>(null);
  const begin = useRef<SVGTextElement | null>(null);
  const unit = recorder.channels[k]?.unit ?? '';
  useEffect(() => {
    let last: Frame | null | undefined;
    const paint = () => {
      const { frame } = live.store.getState();
      if (frame === last) return;
      last = frame;
      const range = rangeOf(seen, recorder);
      const box = { left: LEFT, right: WIDTH, top: 6, bottom: HEIGHT - 14 };
      path.current?.setAttribute('d', curvePath(recorder, k, range, box));
      if (begin.current)
        begin.current.textContent =
          seen.end === null ? `${spanWords(seen.span)} ago` : `${Math.max(0, range.from).toFixed(1)} s`;
      if (value.current)
        value.current.textContent = `${recorder.valueAt(k, range.to).toFixed(unit === 'rpm' ? 0 : 1)} ${unit}`;
    };
    paint();
    return live.store.subscribe(paint);
  }, [live, recorder, k, seen, unit]);
  return { path, value, begin };
}

/** One value in time. */
function CurveChart(curve: Curve) {
  const { k, seen, recorder } = curve;
  const { path, value, begin } = useCurve(curve);
  const { name, most } = recorder.channels[k] ?? { name: '', most: 1 };
  const y = scaleLinear([0, most], [HEIGHT - 14, 6]);
  return (
    <figure className="curve">
      <figcaption>
        {name} <output ref={value} />
      </figcaption>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={`${name} in time`}>
        {y.ticks(3).map((tick) => (
          <g key={tick}>
            <line className="grid" x1={LEFT} x2={WIDTH} y1={y(tick)} y2={y(tick)} />
            <text x={LEFT - 5} y={y(tick) + 4} textAnchor="end">
              {tick}
            </text>
          </g>
        ))}
        <text x={WIDTH} y={HEIGHT - 2} textAnchor="end">
          {seen.end === null ? 'now' : `${seen.end.toFixed(1)} s`}
        </text>
        <text x={LEFT} y={HEIGHT - 2} ref={begin} />
        <path ref={path} className="pen" />
      </svg>
    </figure>
  );
}
