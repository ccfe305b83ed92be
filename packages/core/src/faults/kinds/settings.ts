import { TRIPPED, BURNT, anatomy } from '../../catalogue/index.js';
import {
  isClockwork,
  isSwitchgear,
  isTripBar,
  secondsSet,
  isFuse,
  type Blocked,
  type Circuit,
  type Mechanism,
} from '../../circuit/index.js';
import { transformerImpedance } from '../../machines/index.js';
import { NEEDED, at, exchanged, withInitial, type FaultForm } from '../fault.js';

type Part = (mechanism: Mechanism) => boolean;

function mechanismAt(circuit: Circuit, place: string, isPart: Part): Mechanism | null {
  const index = circuit.mechanismOf.get(place);
  const mechanism = index === undefined ? undefined : circuit.mechanisms[index];
  return mechanism && isPart(mechanism) ? mechanism : null;
}

const tagsOf = (circuit: Circuit, isPart: Part) =>
  circuit.mechanisms.filter(isPart).map(({ device }) => at(device.tag));

/** `"F2"`: the relay is set to another current than it should be. */
export const overloadMisset: FaultForm = {
  mendedBy: 'set',
  keys: { dial: NEEDED },
  words: ({ place, dial = 0 }) => `${place} is set to ${dial} A`,
  apply(circuit, { place, dial }) {
    const k = circuit.protections.findIndex(({ tag }) => tag === place);
    const one = circuit.protections[k];
    if (one?.spec.curve !== 'overload' || dial === undefined) return null;
    return {
      ...circuit,
      protections: exchanged(circuit.protections, k, { ...one, spec: { ...one.spec, dial } }),
    };
  },
  possible: ({ protections }) =>
    protections.flatMap(({ tag, spec }) => {
      if (spec.curve !== 'overload') return [];
      const [least, most] = spec.range;
      return [least, most].filter((dial) => dial !== spec.dial).map((dial) => ({ place: tag, dial }));
    }),
};

/** `"KT1"`: the timer is set to another delay than it should be. */
export const timerMisset: FaultForm = {
  mendedBy: 'set',
  keys: { delay: NEEDED },
  words: ({ place, delay = 0 }) => `${place} is set to ${delay} s`,
  apply(circuit, { place, delay }) {
    const timer = mechanismAt(circuit, place, isClockwork);
    if (!timer || delay === undefined) return null;
    const set = { ...timer, delay } as Mechanism;
    return { ...circuit, mechanisms: exchanged(circuit.mechanisms, timer.index, set) };
  },
  possible: (circuit) =>
    circuit.mechanisms.filter(isClockwork).flatMap((one) => {
      const seconds = secondsSet(one);
      if (seconds === null) return [];
      return [0.1, 6].map((times) => ({
        place: one.device.tag,
        delay: Math.round(seconds * times * 100) / 100,
      }));
    }),
};

/** What a mechanism cannot do any more. */
const blocking = (isPart: Part, what: Blocked['what'], words: string): FaultForm => ({
  words: ({ place }) => `${place} ${words}`,
  apply(circuit, { place }) {
    const one = mechanismAt(circuit, place, isPart);
    return one ? { ...circuit, blocked: [...circuit.blocked, { mechanism: one.index, what }] } : null;
  },
  possible: (circuit) => tagsOf(circuit, isPart),
});

/** `"F2"`: tripped, it stays so. */
export const overloadWillNotReset = blocking(isTripBar, 'reset', 'does not reset');
/** `"F2"`: neither heat nor its test button trips it. */
export const overloadWillNotTrip = blocking(isTripBar, 'trip', 'does not trip');
/** `"KT1"`: energised, it never runs out. */
export const timerDead = blocking(isClockwork, 'run-out', 'never runs out');

/** `"F1"`: the fuse is blown; it may be replaced. */
export const blownFuse: FaultForm = {
  mendedBy: 'reset',
  words: ({ place }) => `fuse ${place} blown`,
  apply(circuit, { place }) {
    const fuse = mechanismAt(circuit, place, isSwitchgear);
    return fuse && isFuse(fuse) ? withInitial(circuit, fuse.index, TRIPPED) : null;
  },
  possible: ({ mechanisms }) => mechanisms.filter(isFuse).map(({ device }) => at(device.tag)),
};

/** `"H1"`: lamp or buzzer has failed. */
export const lampFailed: FaultForm = {
  words: ({ place }) => `${place} has failed`,
  apply(circuit, { place }) {
    const lamp = circuit.lamps.find(({ tag }) => tag === place);
    return lamp ? withInitial(circuit, lamp.mechanism, BURNT) : null;
  },
  possible: ({ lamps }) => lamps.map(({ tag }) => at(tag)),
};

/** `"T1"`: the secondary is taken from another tap. */
export const wrongTap: FaultForm = {
  keys: { secondaryVoltage: NEEDED },
  words: ({ place, secondaryVoltage = 0 }) => `tap of ${place} gives ${secondaryVoltage} V`,
  apply(circuit, { place, secondaryVoltage }) {
    const k = circuit.transformers.findIndex(({ tag }) => tag === place);
    const device = circuit.bench.devices.find(({ tag }) => tag === place);
    const spec = device ? anatomy(device).transformer : undefined;
    const one = circuit.transformers[k];
    if (!one || !spec || secondaryVoltage === undefined) return null;
    const tapped = {
      ...one,
      secondaryVoltage,
      ...transformerImpedance(one.primaryVoltage, secondaryVoltage, spec.va),
    };
    return { ...circuit, transformers: exchanged(circuit.transformers, k, tapped) };
  },
  possible: ({ transformers }) =>
    transformers.flatMap(({ tag, secondaryVoltage }) =>
      [0.5, 2].map((times) => ({ place: tag, secondaryVoltage: secondaryVoltage * times })),
    ),
};
