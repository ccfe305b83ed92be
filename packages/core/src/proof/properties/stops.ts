import { OPERATED, type Duty } from '../../catalogue/index.js';
import { controlOf, isTripBar, type Circuit, type MechanismIndex } from '../../circuit/index.js';
import type { Judging, Settled } from '../judging.js';
import { DAMAGE, DANGER, hasSubjects, type PropertyRule } from './property.js';

const hasDuty = ({ bench }: Circuit, duty: Duty): boolean =>
  bench.devices.some((device) => device.duty === duty);

/** Nothing runs while any of some mechanisms is operated. */
function judgeOperated(
  search: Judging,
  id: 'stop-drops' | 'estop-holds' | 'overload-drops',
  held: readonly { readonly tag: string; readonly mechanism: number }[],
  { state, from, choice }: Settled,
  is: string,
): void {
  for (const { tag, mechanism } of held)
    if (state[mechanism] === OPERATED && search.isOpen(id))
      search.violateSettled(id, { state, from, choice }, `${search.drivenIn(state)} while ${tag} is ${is}`);
}

const stopsOf = ({ exploration }: Judging, duty: Duty) =>
  exploration.controls.filter((control) => control.duty === duty);

const ofDuty = ({ mechanisms }: Circuit, duty: Duty): MechanismIndex[] =>
  mechanisms.filter((one) => controlOf(one) !== null && one.device.duty === duty).map(({ index }) => index);

const tripBars = ({ mechanisms }: Circuit) => mechanisms.filter(isTripBar);

export const stopDrops: PropertyRule = {
  title: 'Stop always stops',
  weight: DANGER,
  applies: (circuit) => hasSubjects(circuit) && hasDuty(circuit, 'stop'),
  tested: ({ hasRun }) => hasRun,
  operated: (circuit) => ofDuty(circuit, 'stop'),
  running: (search, running) => judgeOperated(search, 'stop-drops', stopsOf(search, 'stop'), running, 'held'),
};

export const estopHolds: PropertyRule = {
  title: 'Emergency stop holds everything off',
  weight: DANGER,
  applies: (circuit) => hasSubjects(circuit) && hasDuty(circuit, 'emergency-stop'),
  tested: ({ hasRun }) => hasRun,
  operated: (circuit) => ofDuty(circuit, 'emergency-stop'),
  running: (search, running) =>
    judgeOperated(search, 'estop-holds', stopsOf(search, 'emergency-stop'), running, 'set'),
};

export const overloadDrops: PropertyRule = {
  title: 'A tripped overload holds everything off',
  weight: DAMAGE,
  applies: (circuit) => hasSubjects(circuit) && tripBars(circuit).length > 0,
  tested: ({ hasRun }) => hasRun,
  operated: (circuit) => tripBars(circuit).map(({ index }) => index),
  running(search, running) {
    const trips = tripBars(search.circuit).map(({ device, index }) => ({
      tag: device.tag,
      mechanism: index,
    }));
    judgeOperated(search, 'overload-drops', trips, running, 'tripped');
  },
};
