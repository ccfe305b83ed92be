import type { Device } from '@contactum/core';

const DUTIES: Readonly<Record<string, string>> = {
  start: 'Start',
  stop: 'Stop',
  'emergency-stop': 'Emergency',
  forward: 'Forward',
  reverse: 'Reverse',
  jog: 'Jog',
  limit: 'Limit',
};

const TYPES: Readonly<Record<Device['type'], string>> = {
  'supply-3n': 'Supply',
  'supply-1n': 'Supply',
  'supply-dc': 'Supply',
  breaker: 'Breaker',
  fuse: 'Fuse',
  disconnector: 'Isolator',
  transformer: 'Transformer',
  contactor: 'Contactor',
  relay: 'Relay',
  overload: 'Overload',
  pushbutton: 'Button',
  estop: 'Emergency stop',
  selector: 'Selector',
  'limit-switch': 'Limit switch',
  timer: 'Timer',
  'star-delta-timer': 'Star-delta timer',
  lamp: 'Lamp',
  buzzer: 'Buzzer',
  'motor-3': 'Motor',
  'motor-1': 'Motor',
  brake: 'Brake',
  impedance: 'Impedance',
  'terminal-strip': 'Terminals',
  busbar: 'Busbar',
};

/** What a device is for, in one word. */
export function roleOf(device: Device): string {
  return (device.duty && DUTIES[device.duty]) ?? TYPES[device.type];
}

export const typeName = (device: Device): string => TYPES[device.type];

/** The rating a person reads on the device. */
export function ratingOf(device: Device): string {
  switch (device.type) {
    case 'supply-3n':
      return `${device.options.lineVoltage}/${Math.round(device.options.lineVoltage / Math.sqrt(3))} V ${device.options.frequency} Hz`;
    case 'supply-1n':
      return `${device.options.voltage} V ${device.options.frequency} Hz`;
    case 'supply-dc':
      return `${device.options.voltage} V DC`;
    case 'breaker':
      return `${device.options.curve} ${device.options.rating} A`;
    case 'fuse':
      return `${device.options.class} ${device.options.rating} A`;
    case 'transformer':
      return `${device.options.primaryVoltage}/${device.options.secondaryVoltage} V ${device.options.va} VA`;
    case 'brake':
    case 'contactor':
    case 'relay':
    case 'star-delta-timer':
      return `${device.options.coil.voltage} V ${device.options.coil.kind.toUpperCase()}`;
    case 'timer':
      return `${device.options.function}, ${device.options.coil.voltage} V`;
    case 'overload':
      return `${device.options.range[0]} to ${device.options.range[1]} A, class ${device.options.class}`;
    case 'lamp':
    case 'buzzer':
      return `${device.options.voltage} V ${device.options.kind.toUpperCase()}`;
    case 'motor-1':
    case 'motor-3':
      return `${device.options.plate.kW} kW ${device.options.plate.voltage} V`;
    case 'impedance':
      return `${device.options.ohms} Ω`;
    default:
      return '';
  }
}
