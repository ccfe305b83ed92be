import {
  anatomy,
  delaySetOn,
  isLimitSwitch,
  isMotor,
  type Device,
  type Frame,
  type Shape,
} from '@contactum/core';
import { doablesOf, type Doable } from '../../board/doables.js';

/** What is predicted: what a hand does to a board, without what its load or the time does. */
export const predictableOn = (devices: readonly Device[]): Doable[] =>
  devices.filter((one) => !isLimitSwitch(one) && delaySetOn(one) === null).flatMap(doablesOf);

/** What is predicted of one device, and the words for it. */
export interface Predicted {
  readonly tag: string;
  readonly words: readonly string[];
}

const IN_OUT = ['out', 'in'];
const LIT = ['dark', 'lit'];
const TURNS = ['none', 'forward', 'reverse'];

/** Coils with an armature, lamps and motors of a board, each with what it may do. */
export const predictedOf = (devices: readonly Device[]): Predicted[] =>
  devices.flatMap((device): Predicted[] => {
    const { tag } = device;
    const { coils, lamps, actuators } = anatomy(device);
    if (isMotor(device)) return [{ tag, words: TURNS }];
    if (lamps.length > 0) return [{ tag, words: LIT }];
    return coils.length > 0 && actuators[0]?.kind === 'armature' ? [{ tag, words: IN_OUT }] : [];
  });

/** What a device does in a frame, in the words of a prediction. */
export function doneIn(frame: Frame, shape: Shape, tag: string): string {
  const at = (list: readonly string[]) => list.indexOf(tag);
  if (at(shape.motors) >= 0) return frame.motors[at(shape.motors)]?.driven ?? 'none';
  if (at(shape.lamps) >= 0) return frame.lamps[at(shape.lamps)] ?? 'dark';
  return frame.states[at(shape.devices)] ?? 'out';
}

/** The same for a person. */
export const WORDS: Readonly<Record<string, string>> = {
  none: 'stands',
  'single-phase': 'hums',
};
