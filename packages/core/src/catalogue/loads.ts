import { BARE, INTACT, REST, screws, type Anatomy } from './anatomy.js';
import type { DeviceOf } from './device.js';

/** Watts of a panel lamp or buzzer; common practice, no source. */
const SIGNAL_WATTS = 3;

function signal(voltage: number): Anatomy {
  return {
    ...BARE,
    terminals: screws('X1', 'X2'),
    mechanism: { kind: 'filament', states: 2, initial: INTACT },
    lamp: { a: 'X1', b: 'X2', voltage, ohms: (voltage * voltage) / SIGNAL_WATTS },
  };
}

export const lamp = (d: DeviceOf<'lamp'>): Anatomy => signal(d.options.voltage);
export const buzzer = (d: DeviceOf<'buzzer'>): Anatomy => signal(d.options.voltage);

export function impedance(device: DeviceOf<'impedance'>): Anatomy {
  const { ohms, henries } = device.options;
  return { ...BARE, terminals: screws('1', '2'), impedance: { a: '1', b: '2', ohms, henries } };
}

/** Three-phase induction motor; winding ends by IEC 60034-8 (from memory). */
export function motor3(device: DeviceOf<'motor-3'>): Anatomy {
  const { leads, internal, plate } = device.options;
  if (leads === 6) {
    return {
      ...BARE,
      terminals: screws('U1', 'V1', 'W1', 'U2', 'V2', 'W2', 'PE'),
      earthTerminal: 'PE',
      motor: {
        windings: [
          ['U1', 'U2'],
          ['V1', 'V2'],
          ['W1', 'W2'],
        ],
        plate,
        connection: 'open',
      },
    };
  }
  const windings: [string, string][] =
    internal === 'star'
      ? [
          ['U', '*'],
          ['V', '*'],
          ['W', '*'],
        ]
      : [
          ['U', 'V'],
          ['V', 'W'],
          ['W', 'U'],
        ];
  return {
    ...BARE,
    terminals: screws('U', 'V', 'W', 'PE'),
    earthTerminal: 'PE',
    motor: { windings, plate, connection: internal },
  };
}

/** Efficiency and starting values of small capacitor motors, per unit; common practice, no source. */
const SINGLE_PHASE_MOTOR = {
  efficiency: 0.7,
  startCurrentRatio: 4.5,
  startTorqueRatio: 1.2,
  breakdownTorqueRatio: 2,
};

/** Single-phase capacitor motor: one winding between U1 and U2 that makes a forward field. */
export function motor1(device: DeviceOf<'motor-1'>): Anatomy {
  const { kW, voltage, frequency, speed, current } = device.options.plate;
  const { efficiency, ...ratios } = SINGLE_PHASE_MOTOR;
  const cosPhi = Math.min(0.95, (kW * 1000) / (efficiency * voltage * current));
  // Fitted as one third of a three-phase machine, whose winding has the whole voltage.
  const plate = {
    kW: 3 * kW,
    voltage,
    connection: 'delta',
    frequency,
    speed,
    current: current * Math.sqrt(3),
    cosPhi,
    serviceFactor: 1,
    ...ratios,
  } as const;
  return {
    ...BARE,
    terminals: screws('U1', 'U2', 'PE'),
    earthTerminal: 'PE',
    motor: { windings: [['U1', 'U2']], plate, connection: 'single' },
  };
}

/** Two galvanically separate windings. */
export function transformer(device: DeviceOf<'transformer'>): Anatomy {
  return {
    ...BARE,
    terminals: screws('H1', 'H2', 'X1', 'X2'),
    transformer: { primary: ['H1', 'H2'], secondary: ['X1', 'X2'], ...device.options },
  };
}

/** Spring-applied, released by its coil. */
export function brake(device: DeviceOf<'brake'>): Anatomy {
  return {
    ...BARE,
    terminals: screws('B1', 'B2'),
    mechanism: { kind: 'armature', states: 5, initial: REST },
    coil: { ...device.options.coil, a: 'B1', b: 'B2' },
  };
}

/** Each terminal is a place of its own, for four conductors. */
export function terminalStrip(device: DeviceOf<'terminal-strip'>): Anatomy {
  const terminals = Array.from({ length: device.options.count }, (_, k) => ({
    name: String(k + 1),
    conductors: 4,
  }));
  return { ...BARE, terminals };
}

/** All terminals are one node. */
export function busbar(device: DeviceOf<'busbar'>): Anatomy {
  const names = Array.from({ length: device.options.count }, (_, k) => String(k + 1));
  return { ...BARE, terminals: screws(...names), links: names.slice(1).map((name) => ['1', name] as const) };
}
