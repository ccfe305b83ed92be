import { expect, test } from '@jest/globals';
import { Simulation, type MotorPlate } from '@contactum/core';
import {
  abs,
  breakerClearing,
  fitMotor,
  fuseClearing,
  heatAfter,
  motorTorque,
  scale,
  secondsToTrip,
  sequenceAdmittance,
  type TripClass,
} from '../src/machines/index.js';
import { bench, solverOf } from './help.js';

const PLATE: MotorPlate = {
  kW: 1.5,
  voltage: 400,
  connection: 'star',
  frequency: 50,
  speed: 1420,
  current: 3.4,
  cosPhi: 0.8,
  startCurrentRatio: 5.5,
  startTorqueRatio: 2.2,
  breakdownTorqueRatio: 2.6,
  serviceFactor: 1,
};

test('a fitted motor gives back its plate: rated torque, current, power factor, starting and breakdown values', () => {
  for (const plate of [
    PLATE,
    {
      ...PLATE,
      kW: 7.5,
      connection: 'delta' as const,
      speed: 1460,
      current: 14.8,
      cosPhi: 0.84,
      startCurrentRatio: 7,
      startTorqueRatio: 2.4,
      breakdownTorqueRatio: 3,
    },
  ]) {
    const motor = fitMotor(plate);
    const volts = motor.windingVolts;
    const rated = scale(sequenceAdmittance(motor, motor.ratedSlip), volts);
    expect(motorTorque(motor, volts, 0, motor.ratedSlip) / motor.ratedTorque).toBeCloseTo(1, 2);
    expect(abs(rated) / motor.windingAmps).toBeCloseTo(1, 1);
    expect(rated.re / abs(rated)).toBeCloseTo(plate.cosPhi, 1);
    expect(
      abs(scale(sequenceAdmittance(motor, 1), volts)) / motor.windingAmps / plate.startCurrentRatio,
    ).toBeGreaterThan(0.85);
    expect(
      abs(scale(sequenceAdmittance(motor, 1), volts)) / motor.windingAmps / plate.startCurrentRatio,
    ).toBeLessThan(1.15);
    expect(motorTorque(motor, volts, 0, 1) / motor.ratedTorque / plate.startTorqueRatio).toBeCloseTo(1, 1);
    const peak = Math.max(
      ...Array.from({ length: 200 }, (_, k) => motorTorque(motor, volts, 0, (k + 1) / 200)),
    );
    expect(peak / motor.ratedTorque / plate.breakdownTorqueRatio).toBeGreaterThan(0.9);
    expect(peak / motor.ratedTorque / plate.breakdownTorqueRatio).toBeLessThan(1.1);
  }
});

test('two lines alone give equal sequences and no starting torque (symmetrical components)', () => {
  const motor = fitMotor(PLATE);
  expect(motorTorque(motor, 100, 100, 1)).toBeCloseTo(0, 9);
});

test('in star the line current and the torque are a third of delta’s (arithmetic)', () => {
  const devices = [
    { tag: 'G1', type: 'supply-3n', options: { lineVoltage: 400, sourceOhms: 0.0001 } },
    {
      tag: 'M1',
      type: 'motor-3',
      options: { leads: 6, plate: { ...PLATE, connection: 'delta' } },
      settings: { load: 100 },
    },
  ];
  const lines = 'G1:L1>M1:U1 G1:L2>M1:V1 G1:L3>M1:W1 G1:PE>M1:PE';
  const held = (links: string) => {
    const simulation = new Simulation(solverOf(bench(devices, `${lines} ${links}`)));
    simulation.advance(0.05);
    return simulation.shafts[0]?.amps ?? 0;
  };
  const star = held('M1:U2>M1:V2 M1:V2>M1:W2');
  const delta = held('M1:U1>M1:W2 M1:V1>M1:U2 M1:W1>M1:V2');
  expect(delta / star).toBeCloseTo(3, 2);
});

test('an exchanged pair of lines turns the shaft the other way; it reaches the plate speed at rated load', () => {
  const devices = [
    { tag: 'G1', type: 'supply-3n', options: {} },
    { tag: 'M1', type: 'motor-3', options: { leads: 3, plate: PLATE }, settings: { load: 1 } },
  ];
  const run = (wires: string) => {
    const simulation = new Simulation(solverOf(bench(devices, wires)));
    simulation.advance(5);
    return ((simulation.shafts[0]?.speed ?? 0) * 60) / (2 * Math.PI);
  };
  const forward = run('G1:L1>M1:U G1:L2>M1:V G1:L3>M1:W G1:PE>M1:PE');
  expect(Math.abs(forward - 1420)).toBeLessThan(8);
  expect(run('G1:L2>M1:U G1:L1>M1:V G1:L3>M1:W G1:PE>M1:PE')).toBeCloseTo(-forward, 3);
});

test('overload trip times lie in the bands of IEC 60947-4-1 (from memory)', () => {
  // Class: seconds at 7.2 times from cold, and the limit at 1.5 times from hot.
  const bands: Record<TripClass, [number, number, number]> = {
    '10A': [2, 10, 120],
    '10': [4, 10, 240],
    '20': [6, 20, 480],
    '30': [9, 30, 720],
  };
  for (const [name, [least, most, hot]] of Object.entries(bands)) {
    const tripClass = name as TripClass;
    const cold = secondsToTrip(0, 7.2, 1, tripClass);
    expect(cold).toBeGreaterThan(least);
    expect(cold).toBeLessThan(most);
    const warm = heatAfter(0, 1, 1, tripClass, 7200);
    expect(secondsToTrip(warm, 1.5, 1, tripClass)).toBeLessThan(hot);
    expect(secondsToTrip(warm, 1.05, 1, tripClass)).toBe(Number.POSITIVE_INFINITY);
    expect(secondsToTrip(warm, 1.2, 1, tripClass)).toBeLessThan(7200);
  }
});

test('a motor of 12 A that draws half as much again trips its relay, at rated load it never does (common practice, no source)', () => {
  const plate = { ...PLATE, kW: 5.5, current: 12, speed: 1430 };
  const board = (load: number) =>
    bench(
      [
        { tag: 'G1', type: 'supply-3n', options: {} },
        { tag: 'F2', type: 'overload', options: { range: [9, 13] }, settings: { dial: 12 } },
        { tag: 'M1', type: 'motor-3', options: { leads: 3, plate }, settings: { load } },
      ],
      'G1:L1>F2:1 G1:L2>F2:3 G1:L3>F2:5 F2:2>M1:U F2:4>M1:V F2:6>M1:W G1:PE>M1:PE',
    );
  const heavy = new Simulation(solverOf(board(1.55)));
  heavy.advance(20);
  expect(heavy.shafts[0]?.amps).toBeGreaterThan(17);
  expect(heavy.shafts[0]?.amps).toBeLessThan(20);
  heavy.advance(600);
  expect(heavy.incidents.map(({ kind }) => kind)).toContain('overload-trip');
  const rated = new Simulation(solverOf(board(1)));
  rated.advance(3600);
  expect(rated.incidents).toEqual([]);
});

test('breakers release in the bands of IEC 60898-1 (from memory)', () => {
  for (const [curve, least, most] of [
    ['B', 3, 5],
    ['C', 5, 10],
    ['D', 10, 20],
  ] as const) {
    expect(breakerClearing(10, curve, 10 * most)).toBeLessThan(0.1);
    expect(breakerClearing(10, curve, 10 * least)).toBeGreaterThan(0.1);
    expect(breakerClearing(10, curve, 11.3)).toBe(Number.POSITIVE_INFINITY);
    expect(breakerClearing(10, curve, 14.5)).toBeLessThan(3600);
    // 2.55 times: 1 to 60 s.
    expect(breakerClearing(10, curve, 25.5)).toBeGreaterThan(1);
    expect(breakerClearing(10, curve, 25.5)).toBeLessThan(60);
  }
});

test('gG links: 1.25 times is carried, 1.6 times melts within an hour (IEC 60269-1, from memory), and more melts sooner', () => {
  expect(fuseClearing(10, 'gG', 12.5)).toBe(Number.POSITIVE_INFINITY);
  expect(fuseClearing(10, 'gG', 16)).toBeLessThan(3600);
  const times = [16, 25, 50, 100, 400].map((amps) => fuseClearing(10, 'gG', amps));
  expect([...times].sort((a, b) => b - a)).toEqual(times);
  // An aM link lets a motor start through that melts a gG link of its rating.
  expect(fuseClearing(10, 'aM', 60)).toBe(Number.POSITIVE_INFINITY);
  expect(fuseClearing(10, 'gG', 60)).toBeLessThan(2);
});

test('a breaker and a fuse open by themselves on an overload, each after its own time', () => {
  const board = (device: object, ohms: number) =>
    bench(
      [{ tag: 'G1', type: 'supply-1n' }, device, { tag: 'Z1', type: 'impedance', options: { ohms } }],
      `G1:L>${(device as { tag: string }).tag}:1 ${(device as { tag: string }).tag}:2>Z1:1 Z1:2>G1:N`,
    );
  const opened = (device: object, ohms: number, seconds: number) => {
    const simulation = new Simulation(solverOf(board(device, ohms)));
    simulation.advance(seconds);
    return simulation.incidents.map(({ kind, t }) => [kind, Math.round(t)]);
  };
  const q = { tag: 'Q1', type: 'breaker', options: { poles: 1, rating: 10 } };
  expect(opened(q, 230 / 11, 7200)).toEqual([]);
  const [[kind, t] = []] = opened(q, 230 / 20, 7200);
  expect(kind).toBe('breaker-trip');
  expect(t).toBeGreaterThan(5);
  expect(t).toBeLessThan(600);
  const f = { tag: 'F1', type: 'fuse', options: { rating: 2 } };
  expect(opened(f, 230 / 2, 7200)).toEqual([]);
  expect(opened(f, 230 / 5, 7200).map(([what]) => what)).toEqual(['fuse-blown']);
});

test('a control fuse clears a dead short before the motor breaker does, and a breaker ignores its rated current', () => {
  expect(fuseClearing(2, 'gG', 3000)).toBeLessThan(breakerClearing(16, 'D', 3000));
  expect(breakerClearing(16, 'D', 16)).toBe(Number.POSITIVE_INFINITY);
});
