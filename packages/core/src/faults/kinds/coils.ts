import { BURNT, anatomy } from '../../catalogue/index.js';
import type { Circuit } from '../../circuit/index.js';
import { coilImpedances, coilThresholds } from '../../machines/index.js';
import {
  NEEDED,
  at,
  exchanged,
  withConductor,
  withElement,
  withInitial,
  type FaultAt,
  type FaultForm,
} from '../fault.js';
import { wound } from './controllers.js';

/** A fault names a device: of several coils in one it is the first. */
const everyCoil = (circuit: Circuit): readonly FaultAt[] =>
  [...new Set(wound(circuit).map(({ tag }) => tag))].map(at);

/** `"KM1"`: the coil is burnt through. */
export const coilOpen: FaultForm = {
  words: ({ place }) => `coil of ${place} open`,
  apply(circuit, { place }) {
    const coil = wound(circuit).find(({ tag }) => tag === place);
    return coil ? withInitial(circuit, coil.winding, BURNT) : null;
  },
  possible: everyCoil,
};

/** `"KM1"`: a dead short between the coil's terminals. */
export const coilShorted: FaultForm = {
  words: ({ place }) => `coil of ${place} shorted`,
  apply(circuit, { place }) {
    const coil = wound(circuit).find(({ tag }) => tag === place);
    return coil ? withConductor(circuit, coil.a, coil.b, 'shorted coil') : null;
  },
  possible: everyCoil,
};

/** Ratings of coils that lie in stores, volts (common practice, no source). */
const COIL_VOLTS: readonly number[] = [24, 120, 230, 400];

/** `"KM1"`: a coil of another rating is fitted. */
export const wrongCoilVoltage: FaultForm = {
  keys: { volts: NEEDED },
  words: ({ place, volts = 0 }) => `coil of ${place} is for ${volts} V`,
  apply(circuit, { place, volts }) {
    const k = circuit.coils.findIndex(({ tag }) => tag === place);
    const coil = circuit.coils[k];
    const device = circuit.bench.devices.find(({ tag }) => tag === place);
    const spec = device ? anatomy(device).coils.find(({ name }) => name === coil?.name) : undefined;
    const element = coil && circuit.elements[coil.element];
    if (!coil || !spec || element?.law.kind !== 'impedance' || volts === undefined) return null;
    const { inrush, sealed } = coilImpedances(spec.size, { ...spec, voltage: volts });
    const law = {
      ...element.law,
      open: inrush,
      ...(element.law.sealed ? { sealed: { ...element.law.sealed, impedance: sealed } } : {}),
    };
    const fitted = { ...coil, voltage: volts, ...coilThresholds({ ...spec, voltage: volts }) };
    const coils = exchanged(circuit.coils, k, fitted);
    return { ...withElement(circuit, coil.element, { ...element, law }), coils };
  },
  possible: (circuit) =>
    wound(circuit).flatMap(({ tag, voltage }) =>
      COIL_VOLTS.filter((volts) => volts > 1.3 * voltage)
        .slice(0, 1)
        .map((volts) => ({ place: tag, volts })),
    ),
};
