import { synchronousSpeed, type MotorPlate } from '../catalogue/index.js';
import { A, A2, ZERO, abs, add, complex, inverse, mul, scale, type Complex } from './complex.js';
import { CREEPING, INERTIA_SECONDS } from '../tolerances.js';

/**
 * Three-phase induction motor as three windings with one circulant admittance matrix. Each sequence
 * sees an equivalent circuit of one winding: a shunt branch (iron loss and magnetising reactance) beside
 * R1 + R2(s)/s + jX(s), where R2 and X vary linearly with slip between running and standstill (deep-bar
 * effect). Torque is positive-sequence minus negative-sequence torque. Method: symmetrical components
 * (Fortescue 1918) and the steady-state equivalent circuit of the induction machine.
 */
export interface InductionMotor {
  readonly plate: MotorPlate;
  /** Synchronous speed, rad/s and rpm. */
  readonly synchronous: number;
  readonly synchronousRpm: number;
  readonly ratedSlip: number;
  /** Rated torque, N m. */
  readonly ratedTorque: number;
  /** Moment of inertia of shaft and load, kg m2. */
  readonly inertia: number;
  /** RMS volts of one winding in the plate's running connection, and RMS amperes. */
  readonly windingVolts: number;
  readonly windingAmps: number;
  readonly r1: number;
  readonly r2Run: number;
  readonly r2Start: number;
  readonly xRun: number;
  readonly xStart: number;
  readonly shunt: Complex;
}

const BISECTIONS = 80;

/** Fits already made; a plate is never changed, only replaced. */
const fits = new WeakMap<MotorPlate, InductionMotor>();

/**
 * Fits the equivalent circuit to a plate: rated slip, current and power factor; starting current and
 * torque; breakdown torque.
 */
export function fitMotor(plate: MotorPlate): InductionMotor {
  const known = fits.get(plate);
  if (known) return known;
  const motor = fit(plate);
  fits.set(plate, motor);
  return motor;
}

function fit(plate: MotorPlate): InductionMotor {
  const synchronousRpm = synchronousSpeed(plate.frequency, plate.speed);
  if (synchronousRpm === null)
    throw new Error(`no pole count fits ${plate.speed} rpm at ${plate.frequency} Hz`);
  const synchronous = (synchronousRpm * 2 * Math.PI) / 60;
  const slip = 1 - plate.speed / synchronousRpm;
  const ratedTorque = (plate.kW * 1000) / ((plate.speed * 2 * Math.PI) / 60);
  const delta = plate.connection === 'delta';
  const volts = delta ? plate.voltage : plate.voltage / Math.sqrt(3);
  const amps = delta ? plate.current / Math.sqrt(3) : plate.current;

  // Air-gap watts of one winding at rated load, at standstill and at breakdown.
  const airGap = (ratedTorque * synchronous) / 3;
  const startAmps = amps * plate.startCurrentRatio;
  const r2Start = (plate.startTorqueRatio * airGap) / (startAmps * startAmps);
  const zStart = volts / startAmps;
  const breakdown = plate.breakdownTorqueRatio * airGap;
  // V² / 2 (R1 + √(R1² + X²)) = breakdown watts.
  const reach = (volts * volts) / (2 * breakdown);
  const r1 = Math.min(r2Start, 0.5 * Math.max(zStart - r2Start, 0), 0.25 * reach);
  let xBreakdown = Math.sqrt(Math.max((reach - r1) ** 2 - r1 * r1, (0.05 * reach) ** 2));
  const xStart = Math.sqrt(Math.max(zStart * zStart - (r1 + r2Start) ** 2, (0.1 * zStart) ** 2));

  const base = {
    plate,
    synchronous,
    synchronousRpm,
    ratedSlip: slip,
    ratedTorque,
    windingVolts: volts,
    windingAmps: amps,
    r1,
    r2Start,
    xStart,
  };
  const inertia = (2 * INERTIA_SECONDS * plate.kW * 1000) / (synchronous * synchronous);
  let fitted: InductionMotor = { ...base, inertia, r2Run: r2Start, xRun: xBreakdown, shunt: ZERO };
  // The leakage reactance falls towards standstill, so running reactance and breakdown torque are found
  // together.
  for (let round = 0; round < 12; round += 1) {
    const r2Run = runningResistance(airGap, slip, volts, r1, xBreakdown, r2Start);
    fitted = { ...fitted, r2Run, xRun: xBreakdown };
    const reached = Math.max(
      ...Array.from({ length: 60 }, (_, k) => windingTorqueWatts(fitted, volts, (k + 1) / 60)),
    );
    xBreakdown *= Math.min(1.3, Math.max(0.77, reached / breakdown));
  }
  const target = complex(amps * plate.cosPhi, -amps * Math.sqrt(1 - plate.cosPhi ** 2));
  const series = scale(inverse(seriesBranch(fitted, slip)), volts);
  const shunt = complex(
    Math.max(target.re - series.re, 0) / volts,
    Math.min(target.im - series.im, -0.02 * amps) / volts,
  );
  return { ...fitted, shunt };
}

/** R2 at rated slip such that the air gap carries the rated watts, by bisection on the stable side. */
function runningResistance(
  watts: number,
  slip: number,
  volts: number,
  r1: number,
  x: number,
  r2Start: number,
): number {
  const carried = (r2: number, s: number) => {
    const mixed = r2 + (r2Start - r2) * s;
    const total = r1 + mixed / s;
    return (volts * volts * (mixed / s)) / (total * total + x * x);
  };
  let low = slip * Math.sqrt(r1 * r1 + x * x);
  let high = low * 200;
  for (let k = 0; k < BISECTIONS; k += 1) {
    const middle = (low + high) / 2;
    if (carried(middle, slip) > watts) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** Slip that stands for none at all. */
const LEAST_SLIP = 1e-6;

/** Torque that bearings and fan take at synchronous speed, per unit of the rated. [P] */
const FRICTION = 0.02;

const between = (run: number, start: number, slip: number) =>
  run + (start - run) * Math.min(Math.max(Math.abs(slip), 0), 1);

function seriesBranch(motor: InductionMotor, slip: number): Complex {
  const s = Math.abs(slip) < LEAST_SLIP ? LEAST_SLIP : slip;
  return complex(motor.r1 + between(motor.r2Run, motor.r2Start, s) / s, between(motor.xRun, motor.xStart, s));
}

/**
 * Admittance of one winding to the positive sequence at slip s, siemens; the negative sequence sees 2 − s.
 */
export function sequenceAdmittance(motor: InductionMotor, slip: number): Complex {
  return add(motor.shunt, inverse(seriesBranch(motor, slip)));
}

/** Admittance of one winding to the zero sequence, siemens: leakage and resistance alone. */
export function zeroSequenceAdmittance(motor: InductionMotor): Complex {
  return inverse(complex(motor.r1 + 0.1 * motor.xStart, 0.5 * motor.xStart));
}

/** First row of the circulant admittance matrix of the three windings: y(U,U), y(U,V), y(U,W). */
export function windingAdmittances(
  motor: InductionMotor,
  slip: number,
): readonly [Complex, Complex, Complex] {
  const y0 = zeroSequenceAdmittance(motor);
  const y1 = sequenceAdmittance(motor, slip);
  const y2 = sequenceAdmittance(motor, 2 - slip);
  const third = (sum: Complex) => scale(sum, 1 / 3);
  return [
    third(add(y0, add(y1, y2))),
    third(add(y0, add(mul(A, y1), mul(A2, y2)))),
    third(add(y0, add(mul(A2, y1), mul(A, y2)))),
  ];
}

/** Air-gap watts of one winding at a sequence voltage and slip. */
function windingTorqueWatts(motor: InductionMotor, volts: number, slip: number): number {
  const s = Math.abs(slip) < LEAST_SLIP ? LEAST_SLIP : slip;
  const current = volts / abs(seriesBranch(motor, s));
  return (current * current * between(motor.r2Run, motor.r2Start, s)) / s;
}

/**
 * Electromagnetic torque, N m, for the magnitudes of the positive- and negative-sequence winding voltages.
 */
export function motorTorque(
  motor: InductionMotor,
  positiveVolts: number,
  negativeVolts: number,
  slip: number,
): number {
  const watts =
    3 * (windingTorqueWatts(motor, positiveVolts, slip) - windingTorqueWatts(motor, negativeVolts, 2 - slip));
  return watts / motor.synchronous;
}

/**
 * Acceleration of a shaft, rad/s2, at its speed in rad/s: torque balance over inertia. The motor's torque
 * is in N m, the opposing one per unit of the rated; a load holds a shaft that the motor cannot move.
 */
export function accelerationOf(
  machine: InductionMotor,
  speed: number,
  torque: number,
  opposing: number,
): number {
  const load = opposing * machine.ratedTorque;
  if (Math.abs(speed) < CREEPING * machine.synchronous) {
    const drive = Math.abs(torque) > load ? torque - Math.sign(torque) * load : 0;
    return drive / machine.inertia;
  }
  const friction = FRICTION * machine.ratedTorque * (speed / machine.synchronous);
  return (torque - Math.sign(speed) * load - friction) / machine.inertia;
}
