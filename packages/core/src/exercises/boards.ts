import type { Change, DeviceEntry } from './board.js';
import { changed } from './board.js';
import { CONTROL_COIL, type SharedBoard } from './recipe.js';

/** The boards of the shipped exercises: power circuit on the left, top to bottom as the current goes; controls on the right. */

type Place = readonly [number, number];

const contactor = (tag: string, at: Place, aux = ['NO 13-14', 'NC 21-22']): DeviceEntry => ({
  tag,
  type: 'contactor',
  at,
  options: { coil: CONTROL_COIL, aux },
});

export const button = (
  tag: string,
  duty: string | undefined,
  at: Place,
  colour: string,
  contacts: readonly string[] = [duty === 'stop' ? 'NC 21-22' : 'NO 13-14'],
): DeviceEntry => ({
  tag,
  type: 'pushbutton',
  ...(duty === undefined ? {} : { duty }),
  at,
  options: { contacts, colour },
});

/** Ratio of starting current, starting torque and breakdown torque to the rated ones (typical of small motors, from memory). */
const RATIOS = { startCurrentRatio: 6, startTorqueRatio: 2.2, breakdownTorqueRatio: 2.6 };

const MOTOR: DeviceEntry = {
  tag: 'M1',
  type: 'motor-3',
  at: [16, 466],
  options: {
    leads: 3,
    internal: 'star',
    plate: {
      kW: 1.5,
      voltage: 400,
      connection: 'star',
      frequency: 50,
      speed: 1420,
      current: 3.4,
      cosPhi: 0.8,
      ...RATIOS,
      startCurrentRatio: 5.5,
    },
  },
  settings: { load: 0.4 },
};

/** The same starter for 480 V 60 Hz: control from a transformer between two lines, its other end earthed. */
const AS_US: Change = {
  alter: {
    G1: { options: { lineVoltage: 480, frequency: 60 } },
    Q1: { options: { rating: 15 } },
    F1: { at: [620, 110] },
    F2: { settings: { dial: 3 } },
    S2: { options: { colour: 'black' } },
    M1: {
      options: {
        plate: {
          kW: 1.5,
          voltage: 460,
          connection: 'star',
          frequency: 60,
          speed: 1740,
          current: 3,
          cosPhi: 0.8,
          ...RATIOS,
          serviceFactor: 1.15,
        },
      },
    },
  },
  add: [
    {
      before: 'F1',
      device: {
        tag: 'T1',
        type: 'transformer',
        at: [404, 110],
        options: { primaryVoltage: 480, secondaryVoltage: 120, va: 150 },
      },
    },
  ],
};

/** One motor, one direction, one contactor. */
export const DIRECT_STARTER: SharedBoard = {
  title: 'Brine pump board',
  devices: [
    { tag: 'G1', type: 'supply-3n', at: [16, 12], options: { lineVoltage: 400, frequency: 50 } },
    { tag: 'Q1', type: 'breaker', at: [16, 110], options: { poles: 3, rating: 16, curve: 'D' } },
    { tag: 'F1', type: 'fuse', at: [480, 40], options: { poles: 1, rating: 2 } },
    contactor('KM1', [16, 228]),
    {
      tag: 'F2',
      type: 'overload',
      at: [16, 346],
      options: { range: [2.5, 4], class: '10' },
      settings: { dial: 3.4 },
    },
    button('S1', 'stop', [830, 60], 'red'),
    button('S2', 'start', [830, 236], 'white'),
    MOTOR,
  ],
  forms: { iec: {}, us: AS_US },
};

/** Two contactors, the second with two lines exchanged. */
export const REVERSING_STARTER: SharedBoard = {
  ...changed(DIRECT_STARTER, {
    title: 'Salt harrow board',
    alter: { S2: { duty: 'forward' } },
    add: [
      { before: 'F2', device: contactor('KM2', [404, 228]) },
      { before: 'M1', device: button('S3', 'reverse', [830, 400], 'black') },
    ],
  }),
  forms: { iec: {}, us: AS_US },
};

/** Main, star and delta contactor, a timer, and a motor with both ends of each winding brought out. */
export const STAR_DELTA_STARTER: SharedBoard = {
  ...changed(DIRECT_STARTER, {
    title: 'Wash-water blower board',
    alter: {
      Q1: { options: { rating: 20 } },
      F1: { at: [404, 2] },
      F2: { options: { range: [6, 10] }, settings: { dial: 8.2 } },
    },
    without: ['M1'],
    add: [
      {
        before: 'KM1',
        device: {
          tag: 'KT1',
          type: 'timer',
          at: [572, 2],
          options: { function: 'on-delay', coil: CONTROL_COIL },
          settings: { delay: 10 },
        },
      },
      { before: 'F2', device: contactor('KM2', [430, 228]) },
      { before: 'F2', device: contactor('KM3', [430, 346]) },
      {
        device: {
          tag: 'M1',
          type: 'motor-3',
          at: [16, 466],
          options: {
            leads: 6,
            plate: {
              kW: 4,
              voltage: 400,
              connection: 'delta',
              frequency: 50,
              speed: 1440,
              current: 8.2,
              cosPhi: 0.8,
              ...RATIOS,
            },
          },
          settings: { load: 0.3 },
        },
      },
    ],
  }),
  forms: { iec: {} },
};

/** A lamp and a button on 24 V DC. */
export const LAMP_BOARD: SharedBoard = {
  title: 'Button and lamp',
  devices: [
    { tag: 'G2', type: 'supply-dc', at: [120, 60], options: { voltage: 24, currentLimit: 5 } },
    button('S1', undefined, [470, 120], 'white'),
    {
      tag: 'H1',
      type: 'lamp',
      at: [470, 360],
      options: { voltage: 24, kind: 'dc', colour: 'white' },
    },
  ],
  forms: { iec: {}, us: {} },
};
