import type { Device } from '@contactum/core';

/** The address of the plate room filled from a motor's plate; null for what has none. */
export function plateLink(device: Device): string | null {
  if (device.type !== 'motor-3') return null;
  const { plate } = device.options;
  const isUs = plate.frequency === 60;
  const hp = [1, 1.5, 2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50].reduce((best, one) =>
    Math.abs(one - plate.kW / 0.746) < Math.abs(best - plate.kW / 0.746) ? one : best,
  );
  const watts = plate.kW * 1000;
  const efficiency = watts / (Math.sqrt(3) * plate.voltage * plate.current * plate.cosPhi);
  const values = {
    tag: device.tag,
    form: isUs ? 'us' : 'iec',
    power: String(isUs ? hp : plate.kW),
    volts: String(plate.voltage),
    frequency: String(plate.frequency),
    speed: String(plate.speed),
    amps: String(plate.current),
    cosPhi: String(plate.cosPhi),
    efficiency: Math.min(efficiency, 0.99).toFixed(2),
    serviceFactor: String(plate.serviceFactor),
    startRatio: String(plate.startCurrentRatio),
    starting: device.options.leads === 6 ? 'star-delta' : 'direct',
  };
  return `/plate?${new URLSearchParams(values).toString()}`;
}
