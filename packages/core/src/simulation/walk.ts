import { purposeOf, type Device } from '../catalogue/index.js';
import {
  isClosed,
  targetOf,
  wiredTerminals,
  type Circuit,
  type MechanicalState,
  type Stimulus,
  type Switch,
} from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { explain, explained } from '../explain/index.js';
import { isExpectation, type Step } from './script.js';
import { Simulation } from './simulation.js';
import type { TraceEvent } from './trace.js';

/** One thing that is done, and what follows from it, in sentences. */
export interface WalkStep {
  readonly stimulus: Stimulus;
  /** Place of the step among all steps. */
  readonly step: number;
  readonly says: readonly string[];
  /** Why what changed is as it is now: what holds it in, or what keeps it out. */
  readonly why: readonly string[];
}

/** What a device does when it changes to a state, as it is told; nothing of what needs no words. */
const DOES: Readonly<Record<string, string>> = {
  in: 'pulls in',
  out: 'drops out',
  pressed: 'is pressed',
  released: 'is released',
  tripped: 'trips',
  healthy: 'is reset',
  timing: 'begins to time',
  done: 'has run out',
  idle: 'goes back',
  blown: 'blows',
  chattering: 'chatters',
  lit: 'lights up',
  dim: 'glows dimly',
  dark: 'goes dark',
  burnt: 'burns out',
};

const FIELDS: Readonly<Record<string, string>> = {
  forward: 'is driven forward',
  reverse: 'is driven in reverse',
  'single-phase': 'hums on two lines',
  none: 'is not driven any more',
};

/**
 * Walks through steps on a fresh bench with the supply on: which coil first, what its contacts do next,
 * what waits for time.
 */
export function walkThrough(solver: Solver, steps: readonly Step[]): WalkStep[] {
  const simulation = new Simulation(solver);
  const teller = new Teller(solver.circuit);
  const known = new Set(explained(solver.circuit));
  return steps.flatMap((step, k): WalkStep[] => {
    if (isExpectation(step)) return [];
    const told = simulation.events.length;
    const before = simulation.state.slice();
    simulation.work(step);
    // A contact parts before its button has arrived; what the hand does is told first.
    const target = 'together' in step ? null : targetOf(step);
    const events = simulation.events.slice(told);
    const isOwn = ({ what }: TraceEvent) => what === target;
    const inOrder = [...events.filter(isOwn), ...events.filter((event) => !isOwn(event))];
    const says = teller.tell(inOrder, before, simulation.state);
    const state = simulation.state.slice();
    const changed = new Set(inOrder.map(({ what }) => what.split('.')[0]!));
    const { solver: then } = simulation;
    // Explaining takes far longer than the step itself: only what is shown is explained, once.
    let kept: readonly string[] | undefined;
    return [
      {
        stimulus: step,
        step: k,
        says: says.length > 0 ? says : ['Nothing follows.'],
        get why() {
          kept ??= [...changed]
            .filter((tag) => known.has(tag))
            .map((tag) => explain(then, state, tag).sentence);
          return kept;
        },
      },
    ];
  });
}

class Teller {
  private readonly wired: ReadonlySet<number>;

  constructor(private readonly circuit: Circuit) {
    this.wired = wiredTerminals(circuit);
  }

  /**
   * What happened, event by event; of a device that changed more than once the last is what its contacts
   * do.
   */
  tell(events: readonly TraceEvent[], before: MechanicalState, after: MechanicalState): string[] {
    const last = new Map(events.map((event, k) => [event.what, k]));
    return events.flatMap(({ what, state }, k): string[] => {
      const [tag = '', part] = what.split('.');
      if (part !== undefined) {
        const words = part === 'driven' ? FIELDS[state] : undefined;
        return words && last.get(what) === k ? [`${tag} ${words}.`] : [];
      }
      const words = DOES[state];
      const device = this.circuit.bench.devices.find((one) => one.tag === tag);
      if (!words || !device) return [];
      const contacts = last.get(what) === k ? this.contactsOf(tag, before, after) : '';
      return [`${nameOf(device)} ${words}${contacts && `: ${contacts}`}.`];
    });
  }

  /** Which of a device's wired contacts have closed, and which have opened. */
  private contactsOf(tag: string, before: MechanicalState, after: MechanicalState): string {
    const own = this.circuit.switches.filter(
      (contact) => contact.tag === tag && this.wired.has(contact.a) && this.wired.has(contact.b),
    );
    const moved = (to: boolean, isPole: boolean) =>
      own.filter(
        (contact) =>
          (contact.spec.role === 'pole') === isPole &&
          isClosed(contact, before) !== to &&
          isClosed(contact, after) === to,
      );
    const say = (list: readonly Switch[], verb: string): string[] =>
      list.length === 0 ? [] : [`its ${list.map(({ spec }) => spec.name).join(', ')} ${verb}`];
    const poles = (to: boolean, verb: string) => (moved(to, true).length > 0 ? [`its poles ${verb}`] : []);
    return [
      ...say(moved(false, false), moved(false, false).length > 1 ? 'open' : 'opens'),
      ...say(moved(true, false), moved(true, false).length > 1 ? 'close' : 'closes'),
      ...poles(true, 'close'),
      ...poles(false, 'open'),
    ].join(', ');
  }
}

/** `S2 (Start)`, `KM1`. */
const nameOf = (device: Device): string =>
  device.duty ? `${device.tag} (${purposeOf(device)})` : device.tag;
