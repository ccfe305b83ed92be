import type { FaultSet } from '../../marking/index.js';

/** A board that is wired, and sets of hidden faults in it, of rising degree. */
export interface SearchRecipe {
  readonly id: string;
  readonly title: string;
  /** The exercise whose board and reference it is. */
  readonly of: string;
  readonly brief: string;
  readonly sets: readonly FaultSet[];
}

const set = (
  id: string,
  title: string,
  minutes: number,
  complaint: string,
  ...faults: FaultSet['faults']
): FaultSet => ({ id, title, minutes, complaint, faults });

const BRIEF =
  'The board is wired and has worked. Work it and see what it does, measure, and say what is wrong and where. Isolate, lock off and prove dead before you take a lead off or exchange a part; then prove the board again.';

/**
 * Fault finding, one set of exercises for each family (complaints and faults are invented; the kinds are
 * common practice, no source).
 */
export const SEARCHES: readonly SearchRecipe[] = [
  {
    id: 'find-first-circuits',
    title: 'Relay and lamp: find the fault',
    of: 'coil-and-contact',
    brief: BRIEF,
    sets: [
      set('one', 'Work order 1', 10, 'The signal lamp never comes on. The relay can be heard.', {
        'open-wire': 'K1:14 H1:X1',
      }),
      set('two', 'Work order 2', 10, 'Pressing the button does nothing at all.', { 'coil-open': 'K1' }),
      set('three', 'Work order 3', 12, 'The signal lamp is lit all the time.', {
        'contact-stuck-closed': 'K1:13-14',
      }),
      set(
        'four',
        'Work order 4',
        15,
        'The lamp stays dark, and the relay is silent.',
        { 'contact-stuck-open': 'S1:13-14' },
        { 'lamp-failed': 'H1' },
      ),
      set('five', 'Work order 5', 15, 'Now and then the lamp does not come on; a moment later it does.', {
        'contact-stuck-open': 'K1:13-14',
        when: { every: 2 },
      }),
    ],
  },
  {
    id: 'find-seal-in',
    title: 'Brine pump with lamps: find the fault',
    of: 'brine-pump-lamps',
    brief: BRIEF,
    sets: [
      set('one', 'Work order 1', 15, 'The pump runs only while the green button is held.', {
        'open-wire': 'KM1:14 S2:14',
      }),
      set('two', 'Work order 2', 15, 'The pump does nothing. The off lamp is lit.', {
        'contact-stuck-open': 'S1:21-22',
      }),
      set('three', 'Work order 3', 20, 'The pump hums and does not turn; somebody switched it off quickly.', {
        'lost-phase': 'G1:L3',
      }),
      set(
        'four',
        'Work order 4',
        20,
        'The contactor buzzes weakly or stays out when the button is pressed.',
        { 'loose-wire': 'S2:14 KM1:A1', ohms: 2000 },
      ),
      set(
        'five',
        'Work order 5',
        30,
        'The pump does nothing, and since the last service no lamp says that it is off.',
        { 'coil-open': 'KM1' },
        { 'lamp-failed': 'H1' },
      ),
      set(
        'six',
        'Work order 6',
        30,
        'Every third start or so the pump drops out as soon as the button is let go.',
        {
          'contact-stuck-open': 'KM1:13-14',
          when: { every: 3 },
        },
      ),
    ],
  },
  {
    id: 'find-controller',
    title: 'Brine pump by controller: find the fault',
    of: 'brine-pump-controller',
    brief: BRIEF,
    sets: [
      set('one', 'Work order 1', 15, 'Start does nothing; its button is new.', {
        'input-dead': 'A1:I0.1',
      }),
      set('two', 'Work order 2', 15, 'The pump cannot be started since the door was worked on.', {
        'open-wire': 'S1:22 A1:I0.0',
      }),
      set('three', 'Work order 3', 20, 'The pump runs whatever is pressed, and no input says why.', {
        'contact-stuck-closed': 'A1:QC1-Q0.0',
      }),
      set('four', 'Work order 4', 20, 'Nothing happens at all, though all inputs show what is pressed.', {
        'plc-stopped': 'A1',
      }),
      set('five', 'Work order 5', 25, 'The output comes on with Start; the contactor stays out.', {
        'blown-fuse': 'F1',
      }),
      set('six', 'Work order 6', 30, 'The pump starts by itself when the supply comes back.', {
        'contact-stuck-closed': 'KM1:13-14',
      }),
      set(
        'seven',
        'Work order 7',
        35,
        'Start does nothing; last week the pump still ran for as long as it was held.',
        { 'contact-stuck-open': 'S2:13-14' },
        { 'open-wire': 'KM1:14 A1:I0.3' },
      ),
      set('eight', 'Work order 8', 35, 'Every other time the pump drops out as Start is let go.', {
        'contact-stuck-open': 'KM1:13-14',
        when: { every: 2 },
      }),
    ],
  },
  {
    id: 'find-jogging',
    title: 'Sluice gate with jog relay: find the fault',
    of: 'sluice-gate-jog-relay',
    brief: BRIEF,
    sets: [
      set('one', 'Work order 1', 15, 'The gate jogs, but it will not run.', { 'coil-open': 'K1' }),
      set('two', 'Work order 2', 15, 'The gate runs, but it cannot be jogged.', {
        'open-wire': 'S3:14 KM1:A1',
      }),
      set(
        'three',
        'Work order 3',
        20,
        'On run the relay is heard, but the gate does not move. Jogging works.',
        { 'contact-stuck-open': 'K1:23-24' },
      ),
      set('four', 'Work order 4', 20, 'The gate keeps running after the jog button is let go.', {
        'contact-stuck-closed': 'S3:13-14',
      }),
      set(
        'five',
        'Work order 5',
        30,
        'The gate neither runs nor jogs properly; run lasts only while the button is held.',
        { 'open-wire': 'S2:13 K1:13' },
        { 'contact-stuck-open': 'S3:13-14' },
      ),
      set(
        'six',
        'Work order 6',
        30,
        'The gate stops by itself at odd moments, and can be started again at once.',
        {
          'contact-stuck-open': 'S1:21-22',
          when: { from: 6, to: 8, period: 15 },
        },
      ),
    ],
  },
  {
    id: 'find-reversing',
    title: 'Salt harrow: find the fault',
    of: 'salt-harrow-mechanical-interlock',
    brief: BRIEF,
    sets: [
      set('one', 'Work order 1', 15, 'The harrow goes forward and does not come back.', {
        'open-wire': 'S3:14 KM1:21',
      }),
      set('two', 'Work order 2', 15, 'In one direction the harrow moves only while the button is held.', {
        'contact-stuck-open': 'KM2:13-14',
      }),
      set('three', 'Work order 3', 20, 'Forward is fine; backward the motor only hums.', {
        'contact-stuck-open': 'KM2:3-4',
      }),
      set(
        'four',
        'Work order 4',
        20,
        'Nothing works since the relay was tested.',
        { 'overload-will-not-reset': 'F2' },
        { 'contact-stuck-open': 'F2:95-96' },
      ),
      set(
        'five',
        'Work order 5',
        30,
        'The harrow does not go forward, and backward it does not hold.',
        { 'armature-jammed': 'KM1' },
        { 'open-wire': 'S3:13 KM2:13' },
      ),
      set('six', 'Work order 6', 30, 'Every other time the harrow does not start backward.', {
        'contact-stuck-open': 'S3:13-14',
        when: { every: 2 },
      }),
    ],
  },
  {
    id: 'find-star-delta',
    title: 'Wash-water blower: find the fault',
    of: 'blower-star-delta-main-from-start',
    brief: BRIEF,
    sets: [
      set('one', 'Work order 1', 20, 'The blower starts and never goes over to full speed.', {
        'coil-open': 'KT1',
      }),
      set(
        'two',
        'Work order 2',
        20,
        'After some seconds the blower coasts down instead of going over to delta.',
        { 'open-wire': 'KM2:22 KM3:A1' },
      ),
      set('three', 'Work order 3', 25, 'The blower hums in star.', { 'open-wire': 'KM2:4 KM2:6' }),
      set('four', 'Work order 4', 25, 'The blower goes over to delta far too early, with a jolt.', {
        'timer-misset': 'KT1',
        delay: 1,
      }),
      set(
        'five',
        'Work order 5',
        35,
        'The blower does not start in star; in the evening shift it did not hold either.',
        { 'contact-stuck-open': 'KM3:21-22' },
        { 'open-wire': 'S2:13 KM1:13' },
      ),
      set('six', 'Work order 6', 35, 'Now and then the blower falls out at the changeover.', {
        'contact-stuck-open': 'KM2:21-22',
        when: { every: 2 },
      }),
    ],
  },
];
