import { PROGRAM_STATES, scanOf } from '../program/index.js';
import type { Controller, MechanicalState, Mechanism } from './circuit.js';
import { IN_STOP, POWERED } from './mechanisms/index.js';

const { input: INPUT, output: OUTPUT, timer: TIMER } = PROGRAM_STATES;

/** The controllers of a board, by the mechanisms of each. */
export function controllersOf(mechanisms: readonly Mechanism[]): readonly Controller[] {
  return mechanisms.flatMap((mechanism) => {
    if (mechanism.kind !== 'processor') return [];
    const own = mechanisms.filter(({ device, kind }) => device === mechanism.device && kind !== 'winding');
    const indices = (kind: Mechanism['kind']) => own.flatMap((one) => (one.kind === kind ? [one.index] : []));
    const byName = new Map(own.map(({ name, index }) => [name, index]));
    const place = (name: string) => byName.get(name)!;
    const { program, scan, filter, index: processor } = mechanism;
    const [inputs, outputs] = [indices('input'), indices('output')];
    const remembered = own.filter(({ kind }) => kind === 'memory' || kind === 'program-timer');
    return [
      {
        tag: mechanism.device.tag,
        program,
        processor,
        inputs,
        outputs,
        timers: indices('program-timer'),
        members: own.map(({ index }) => index),
        scan,
        filter,
        isRunning: (state: MechanicalState) => (state[processor]! & (POWERED | IN_STOP)) === POWERED,
        stop(state: MechanicalState) {
          const isPowered = (state[processor]! & POWERED) !== 0;
          for (const k of outputs) state[k] = 0;
          for (const k of inputs) state[k] = seen(state[k]!, isPowered);
          for (const one of remembered)
            if (!(one.kind === 'memory' && one.retain)) state[one.index] = one.initial;
        },
        work: program ? scanOf(program, place) : () => undefined,
        workInProof: program ? scanOf(program, place, 'to preset') : () => undefined,
      },
    ];
  });
}

/** An input as a processor shows it that does not run its program: without its supply nothing is seen. */
const seen = (state: number, isPowered: boolean): number =>
  isPowered && (state & INPUT.there) !== 0 ? INPUT.there | INPUT.seen : state & INPUT.there;

/** True where the program has not yet seen what is at an input. */
export const isUnseen = (state: number): boolean => state === INPUT.there || state === INPUT.seen;

/** An input once the program has seen what is at its terminal. */
export const nowSeen = (state: number): number =>
  (state & INPUT.there) === 0 ? 0 : INPUT.there | INPUT.seen;

/** True where a bit was written that its output does not show yet. */
export const isUnwritten = (state: number): boolean => state === OUTPUT.bit || state === OUTPUT.closed;

/** An output that shows its bit. */
export const nowWritten = (state: number): number =>
  (state & OUTPUT.bit) === 0 ? 0 : OUTPUT.bit | OUTPUT.closed;

/** True of a timer that has run out, of which its program has not yet taken notice. */
export const isUp = (state: number): boolean => state === TIMER.up;
