import { CLOSED, TRIPPED } from '../catalogue/index.js';
import { isFuse, type Circuit, type MechanicalState } from '../circuit/index.js';
import type { Incident, IncidentKind } from '../simulation/index.js';
import type { Frame, MotorFrame, Shape } from './perception.js';

/** What nobody perceives of an incident: where it was. Some are not perceived at all. */
const HEARD: { readonly [K in IncidentKind]: 'with its device' | 'without a place' | 'not at all' } = {
  'phase-to-phase': 'without a place',
  'phase-to-neutral': 'without a place',
  'phase-to-earth': 'without a place',
  'dc-short': 'without a place',
  'coil-overvoltage': 'not at all',
  'coil-burnt': 'with its device',
  'lamp-burnt': 'with its device',
  chatter: 'with its device',
  'overload-trip': 'with its device',
  'breaker-trip': 'with its device',
  'fuse-blown': 'not at all',
  'single-phasing': 'not at all',
  stall: 'with its device',
  plugging: 'with its device',
  'live-earth': 'not at all',
  'pushed-in-live': 'with its device',
};

/** A bang is a bang, whatever met in it. */
const BANG: IncidentKind = 'phase-to-phase';

/** Speed that a person tells apart by eye and ear, rpm. */
const TOLD_RPM = 50;

/**
 * What a person at a board perceives of a frame: no potential, no current, no heat, no blown link; of a
 * contact only where its armature or button stands, not whether it makes. The circuit is the sound one.
 */
export function perceived(frame: Frame, shape: Shape, circuit: Circuit, state: MechanicalState): Frame {
  const hidden = new Set(circuit.mechanisms.filter(isFuse).map(({ device }) => device.tag));
  return {
    ...frame,
    live: new Uint8Array(frame.live.length),
    closed: Uint8Array.from(circuit.switches, ({ closedIn, mechanism, tag }) =>
      Number(closedIn[hidden.has(tag) && state[mechanism] === TRIPPED ? CLOSED : state[mechanism]!]),
    ),
    states: frame.states.map((state, k) =>
      state === 'blown' && hidden.has(shape.devices[k]!) ? 'closed' : state,
    ),
    lamps: frame.lamps.map((lamp) => (lamp === 'burnt' ? 'dark' : lamp)),
    motors: frame.motors.map(perceivedMotor),
    heats: frame.heats.map(() => 0),
    events: frame.events.filter(
      ({ what, state }) =>
        !what.includes('(') && !what.includes('.') && !hidden.has(what) && state !== 'burnt',
    ),
    incidents: frame.incidents.flatMap(perceivedIncident),
  };
}

/** A motor that turns, or hums. */
const perceivedMotor = ({ rpm, driven }: MotorFrame): MotorFrame => ({
  rpm: Math.round(rpm / TOLD_RPM) * TOLD_RPM,
  amps: 0,
  driven,
  torque: 0,
});

function perceivedIncident(incident: Incident): Incident[] {
  const heard = HEARD[incident.kind];
  if (heard === 'not at all') return [];
  return heard === 'with its device' ? [incident] : [{ t: incident.t, kind: BANG, where: [] }];
}
