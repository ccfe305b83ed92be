import type { Change, DeviceEntry } from './board.js';
import { changed } from './board.js';
import { CONTROL_COIL, type SharedBoard } from './recipe.js';

/**
 * The boards of the shipped exercises: power circuit on the left, top to bottom as the current goes;
 * controls on the right.
 */

export const contactor = (tag: string, aux = ['NO 13-14', 'NC 21-22']): DeviceEntry => ({
  tag,
  type: 'contactor',
  options: { coil: CONTROL_COIL, aux },
});

/** A limit switch that the load of M1 works at one end of its travel. */
export const limit = (tag: string, end: 'forward' | 'reverse'): DeviceEntry => ({
  tag,
  type: 'limit-switch',
  duty: 'limit',
  options: { contacts: ['NO 13-14', 'NC 21-22'], travel: { motor: 'M1', end } },
});

export const DC_COIL = { voltage: 24, kind: 'dc' } as const;

/** A signal lamp on the control voltage of its form. */
export const lamp = (tag: string, colour: string): DeviceEntry => ({
  tag,
  type: 'lamp',
  options: { voltage: CONTROL_COIL, kind: 'ac', colour },
});

export const button = (
  tag: string,
  duty: string | undefined,
  colour: string,
  contacts: readonly string[] = [duty === 'stop' ? 'NC 21-22' : 'NO 13-14'],
): DeviceEntry => ({
  tag,
  type: 'pushbutton',
  ...(duty === undefined ? {} : { duty }),
  options: { contacts, colour },
});

/**
 * Ratio of starting current, starting torque and breakdown torque to the rated ones (typical of small
 * motors, from memory).
 */
const RATIOS = { startCurrentRatio: 6, startTorqueRatio: 2.2, breakdownTorqueRatio: 2.6 };

const MOTOR: DeviceEntry = {
  tag: 'M1',
  type: 'motor-3',
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
        options: { primaryVoltage: 480, secondaryVoltage: 120, va: 150 },
      },
    },
  ],
};

/** The same starter for 208/120 V 60 Hz: control between a line and neutral, without a transformer. */
const AS_US_208: Change = {
  alter: {
    ...AS_US.alter,
    G1: { options: { lineVoltage: 208, frequency: 60 } },
    F2: { options: { range: [6, 10] }, settings: { dial: 6.9 } },
    M1: {
      options: {
        plate: {
          kW: 1.5,
          voltage: 200,
          connection: 'star',
          frequency: 60,
          speed: 1740,
          current: 6.9,
          cosPhi: 0.8,
          ...RATIOS,
          serviceFactor: 1.15,
        },
      },
    },
  },
};

/** One motor, one direction, one contactor. */
export const DIRECT_STARTER: SharedBoard = {
  title: 'Brine pump board',
  devices: [
    { tag: 'G1', type: 'supply-3n', options: { lineVoltage: 400, frequency: 50 } },
    { tag: 'Q1', type: 'breaker', options: { poles: 3, rating: 16, curve: 'D' } },
    { tag: 'F1', type: 'fuse', options: { poles: 1, rating: 2 } },
    contactor('KM1'),
    {
      tag: 'F2',
      type: 'overload',
      options: { range: [2.5, 4], class: '10' },
      settings: { dial: 3.4 },
    },
    button('S1', 'stop', 'red'),
    button('S2', 'start', 'white'),
    MOTOR,
  ],
  forms: { iec: {}, us: AS_US },
};

/** The same on 208/120 V. */
export const DIRECT_STARTER_208: SharedBoard = { ...DIRECT_STARTER, forms: { us: AS_US_208 } };

/** Two contactors, the second with two lines exchanged. */
export const REVERSING_STARTER: SharedBoard = {
  ...changed(DIRECT_STARTER, {
    title: 'Salt harrow board',
    alter: { S2: { duty: 'forward' } },
    add: [
      { before: 'F2', device: contactor('KM2') },
      { before: 'M1', device: button('S3', 'reverse', 'black') },
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
      F2: { options: { range: [6, 10] }, settings: { dial: 8.2 } },
    },
    without: ['M1'],
    add: [
      {
        before: 'KM1',
        device: {
          tag: 'KT1',
          type: 'timer',
          options: { function: 'on-delay', coil: CONTROL_COIL },
          settings: { delay: 10 },
        },
      },
      { before: 'F2', device: contactor('KM2') },
      { before: 'F2', device: contactor('KM3') },
      {
        device: {
          tag: 'M1',
          type: 'motor-3',
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
    { tag: 'G2', type: 'supply-dc', options: { voltage: 24, currentLimit: 5 } },
    button('S1', undefined, 'white'),
    {
      tag: 'H1',
      type: 'lamp',
      options: { voltage: 24, kind: 'dc', colour: 'white' },
    },
  ],
  forms: { iec: {}, us: {} },
};

/** A stop and a start button on 24 V DC, and a plug-in relay that holds itself. */
export const PLUG_IN_BOARD: SharedBoard = {
  title: 'Eight-pin relay board',
  devices: [
    { tag: 'G2', type: 'supply-dc', options: { voltage: 24, currentLimit: 5 } },
    { tag: 'F1', type: 'fuse', options: { poles: 1, rating: 2 } },
    { tag: 'K1', type: 'relay', options: { base: 'octal-8', coil: DC_COIL } },
    button('S1', 'stop', 'red'),
    button('S2', 'start', 'green'),
    { tag: 'H1', type: 'lamp', options: { voltage: 24, kind: 'dc', colour: 'green' } },
  ],
  forms: { iec: {}, us: {} },
};

/** A pump on one phase. */
export const SINGLE_PHASE_BOARD: SharedBoard = {
  title: 'Rinse pump board',
  devices: [
    { tag: 'G1', type: 'supply-1n', options: { voltage: 230, frequency: 50 } },
    { tag: 'Q1', type: 'breaker', options: { poles: 2, rating: 16, curve: 'D' } },
    { tag: 'F1', type: 'fuse', options: { poles: 1, rating: 2 } },
    contactor('KM1'),
    { tag: 'F2', type: 'overload', options: { range: [4, 6.3], class: '10' }, settings: { dial: 5 } },
    button('S1', 'stop', 'red'),
    button('S2', 'start', 'white'),
    {
      tag: 'M1',
      type: 'motor-1',
      options: { plate: { kW: 0.75, voltage: 230, frequency: 50, speed: 1400, current: 5 } },
      settings: { load: 0.5 },
    },
  ],
  forms: { iec: {} },
};
