import { BARE, SUPPLY_OPEN, SUPPLY_TRIPPED, type Anatomy, type SourceSpec } from './anatomy.js';
import type { DeviceOf, OptionsByType } from './device.js';

const UNLIMITED = Number.POSITIVE_INFINITY;
const STATES = 32;

/** Live unless this phase is lost or the supply is off. */
function liveUnless(phaseBit: number): boolean[] {
  return Array.from(
    { length: STATES },
    (_, state) => (state & (phaseBit | SUPPLY_OPEN | SUPPLY_TRIPPED)) === 0,
  );
}

function impedance(options: OptionsByType['supply-3n'] | OptionsByType['supply-1n'], volts: number) {
  if (options.sourceOhms !== undefined || options.sourceHenries !== undefined) {
    return { ohms: options.sourceOhms ?? 0, henries: options.sourceHenries ?? 0 };
  }
  return { ohms: volts / options.prospectiveCurrent, henries: 0 };
}

const unlimited = (...names: string[]) => names.map((name) => ({ name, conductors: UNLIMITED }));

/** Four-wire supply: L1, L2, L3 at 0, −120, 120 degrees to a neutral that is earthed at its source. */
export function supply3n(device: DeviceOf<'supply-3n'>): Anatomy {
  const { options } = device;
  const volts = options.lineVoltage / Math.sqrt(3);
  const sources = ['L1', 'L2', 'L3'].map((conductor, k): SourceSpec => ({
    terminal: conductor,
    reference: 'N',
    conductor,
    volts,
    angle: [0, -120, 120][k] ?? 0,
    frequency: options.frequency,
    ...impedance(options, volts),
    liveIn: liveUnless(1 << k),
  }));
  return {
    ...BARE,
    terminals: unlimited('L1', 'L2', 'L3', 'N', 'PE'),
    mechanism: { kind: 'supply', states: STATES, initial: 0 },
    sources,
  };
}

/** Two-wire supply with an earthed neutral. */
export function supply1n(device: DeviceOf<'supply-1n'>): Anatomy {
  const { options } = device;
  return {
    ...BARE,
    terminals: unlimited('L', 'N', 'PE'),
    mechanism: { kind: 'supply', states: STATES, initial: 0 },
    sources: [
      {
        terminal: 'L',
        reference: 'N',
        conductor: 'L',
        volts: options.voltage,
        angle: 0,
        frequency: options.frequency,
        ...impedance(options, options.voltage),
        liveIn: liveUnless(1),
      },
    ],
  };
}

/** Unearthed DC supply with an electronic current limit. */
export function supplyDc(device: DeviceOf<'supply-dc'>): Anatomy {
  const { options } = device;
  return {
    ...BARE,
    terminals: unlimited('+', '-'),
    mechanism: { kind: 'supply', states: STATES, initial: 0 },
    sources: [
      {
        terminal: '+',
        reference: '-',
        conductor: '+',
        volts: options.voltage,
        angle: 0,
        frequency: 0,
        ohms: 0,
        henries: 0,
        currentLimit: options.currentLimit,
        liveIn: liveUnless(1),
      },
    ],
  };
}
