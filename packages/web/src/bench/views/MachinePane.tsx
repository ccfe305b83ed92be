import { useEffect, useMemo, useRef } from 'react';
import { line, scaleLinear } from 'd3';
import { Link } from 'react-router';
import { isMotor, isOverloadRelay, type Frame, type Shape } from '@contactum/core';
import { synchronousSpeed } from '@contactum/core';
import { plateLink } from '../../plate/link.js';
import type { LiveBench } from '../live.js';
import type { ViewProps } from './view-props.js';

/** Seconds of paper. */
const WINDOW = 20;

interface Sample {
  readonly t: number;
  readonly value: number;
}

interface Curve {
  readonly name: string;
  readonly unit: string;
  readonly of: (frame: Frame, shape: Shape) => number;
  readonly most: number;
}

type Motor = Extract<
  ViewProps['view']['exercise']['bench']['devices'][number],
  { type: 'motor-3' | 'motor-1' }
>;

/**
 * Plates of the board's motors, and what they do: speed, torque, current, and the heat of what protects
 * them.
 */
export function MachinePane({ kit: { live }, view }: ViewProps) {
  const { devices } = view.exercise.bench;
  const motors = devices.filter((device): device is Motor => isMotor(device));
  const relays = useMemo(() => devices.filter(isOverloadRelay).map(({ tag }) => tag), [devices]);
  return (
    <div className="machine">
      {motors.map((motor) => (
        <MotorSheet key={motor.tag} motor={motor} relays={relays} live={live} />
      ))}
    </div>
  );
}

/** What is drawn of a motor and of the relays that protect it. */
function curvesOf(
  { tag, options: { plate } }: Motor,
  rated: number,
  relays: readonly string[],
): readonly Curve[] {
  const index = (shape: Shape) => shape.motors.indexOf(tag);
  return [
    {
      name: 'Speed',
      unit: 'rpm',
      of: (frame, shape) => frame.motors[index(shape)]?.rpm ?? 0,
      most: (synchronousSpeed(plate.frequency, plate.speed) ?? plate.speed) * 1.05,
    },
    {
      name: 'Torque',
      unit: 'N m',
      of: (frame, shape) => frame.motors[index(shape)]?.torque ?? 0,
      most: rated * 3,
    },
    {
      name: 'Current',
      unit: 'A',
      of: (frame, shape) => frame.motors[index(shape)]?.amps ?? 0,
      most: plate.current * 7,
    },
    ...relays.map((relay): Curve => ({
      name: `Heat of ${relay}`,
      unit: '% of trip',
      of: (frame, shape) => (frame.heats[shape.heaters.indexOf(relay)] ?? 0) * 100,
      most: 110,
    })),
  ];
}

function MotorSheet({ motor, relays, live }: { motor: Motor; relays: readonly string[]; live: LiveBench }) {
  const { plate } = motor.options;
  const link = plateLink(motor);
  const rated = (plate.kW * 1000) / ((plate.speed * 2 * Math.PI) / 60);
  // The same curves from frame to frame: each keeps its own paper.
  const curves = useMemo(() => curvesOf(motor, rated, relays), [motor, rated, relays]);
  const values = [
    ['Power', `${plate.kW} kW`],
    ['Voltage', `${plate.voltage} V${'connection' in plate ? `, ${plate.connection}` : ''}`],
    ['Current', `${plate.current} A`],
    ['Speed', `${plate.speed} rpm, ${plate.frequency} Hz`],
    ['Rated torque', `${rated.toFixed(1)} N m`],
  ] as const;
  return (
    <article>
      <h3>
        {motor.tag} {link && <Link to={link}>size its starter</Link>}
      </h3>
      <dl className="plate-values">
        {values.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      {curves.map((curve) => (
        <CurveChart key={curve.name} curve={curve} live={live} />
      ))}
    </article>
  );
}

const HEIGHT = 84;
const WIDTH = 420;
const LEFT = 44;

/** One value over the last seconds, drawn by the store's subscription. */
function CurveChart({ curve, live }: { curve: Curve; live: LiveBench }) {
  const path = useRef<SVGPathElement | null>(null);
  const value = useRef<HTMLOutputElement | null>(null);
  const { of, most, unit } = curve;
  useEffect(() => {
    const samples: Sample[] = [];
    let last: Frame | null = null;
    const paint = () => {
      const { frame, shape } = live.store.getState();
      if (!frame || !shape || frame === last) return;
      last = frame;
      const now = of(frame, shape);
      samples.push({ t: frame.t, value: now });
      while (samples[0] && samples[0].t < frame.t - WINDOW) samples.shift();
      const x = scaleLinear([frame.t - WINDOW, frame.t], [LEFT, WIDTH]);
      const y = scaleLinear([0, most], [HEIGHT - 14, 6]).clamp(true);
      path.current?.setAttribute(
        'd',
        line<Sample>(
          (one) => x(one.t),
          (one) => y(Math.abs(one.value)),
        )(samples) ?? '',
      );
      if (value.current) value.current.textContent = `${now.toFixed(unit === 'rpm' ? 0 : 1)} ${unit}`;
    };
    paint();
    return live.store.subscribe(paint);
  }, [live, of, most, unit]);
  const y = scaleLinear([0, curve.most], [HEIGHT - 14, 6]);
  return (
    <figure className="curve">
      <figcaption>
        {curve.name} <output ref={value} />
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`${curve.name} over the last ${WINDOW} s`}
      >
        {y.ticks(3).map((tick) => (
          <g key={tick}>
            <line className="grid" x1={LEFT} x2={WIDTH} y1={y(tick)} y2={y(tick)} />
            <text x={LEFT - 5} y={y(tick) + 4} textAnchor="end">
              {tick}
            </text>
          </g>
        ))}
        <text x={WIDTH} y={HEIGHT - 2} textAnchor="end">
          now
        </text>
        <text x={LEFT} y={HEIGHT - 2}>
          {WINDOW} s ago
        </text>
        <path ref={path} className="pen" />
      </svg>
    </figure>
  );
}
