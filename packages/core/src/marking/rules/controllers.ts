import {
  isArmature,
  isFed,
  isOfController,
  isTripBar,
  wiredTerminals,
  wiredTogether,
  type Circuit,
  type Coil,
  type Controller,
  type MechanicalState,
} from '../../circuit/index.js';
import { Solver, coilWants, isShorted } from '../../electrics/index.js';
import {
  contactsOf,
  examined,
  isConnected,
  isInput,
  kindOfContact,
  workedBy,
  type Program,
} from '../../program/index.js';
import { fedTogether, rivalPairs } from './interlocks.js';
import { operated } from './operated.js';
import { breachAt, simple, wiredCoils, type Breach } from './rule.js';

/** What a programmable controller's board and program must keep to (common practice, no source). */

/** An input of a controller that leads reach, and how its program looks at it. */
interface WiredInput {
  readonly coil: number;
  readonly ref: string;
  /** Kinds of the contacts that look at it: `no`, `nc`, `rising`, `falling`. */
  readonly looks: ReadonlySet<string>;
}

const hasController = ({ controllers }: Circuit): boolean => controllers.length > 0;

/** The inputs that leads reach. */
function inputsOf(circuit: Circuit): WiredInput[] {
  const wired = wiredTerminals(circuit);
  return circuit.coils.flatMap((coil, k): WiredInput[] => {
    if (circuit.mechanisms[coil.mechanism]!.kind !== 'input' || !wired.has(coil.a)) return [];
    const controller = circuit.controllers.find(({ tag }) => tag === coil.tag);
    return [{ coil: k, ref: `${coil.tag}:${coil.name}`, looks: looksAt(controller, coil.name) }];
  });
}

function looksAt(controller: Controller | undefined, address: string): ReadonlySet<string> {
  const program: Program | null = controller?.program ?? null;
  const variable = program?.variables.find((one) => isConnected(one) && one.at === address);
  if (!program || !variable) return new Set();
  return new Set(
    [...contactsOf(program)].flatMap(({ contact }) =>
      examined(contact) === variable.name ? [kindOfContact(contact)] : [],
    ),
  );
}

/** Whether an input has its voltage in a state of the board. */
function isOn(circuit: Circuit, solver: Solver, state: MechanicalState, { coil }: WiredInput): boolean {
  const electrical = solver.at(state);
  return !isShorted(electrical) && coilWants(circuit, electrical, state, coil);
}

/** Stop buttons, emergency stops and overload relays with a contact that is wired at both ends. */
function stopping(circuit: Circuit): Set<string> {
  const wired = wiredTerminals(circuit);
  return new Set(
    circuit.switches.flatMap(({ a, b, mechanism, tag }) => {
      const moves = circuit.mechanisms[mechanism]!;
      const { duty } = moves.device;
      const stops = duty === 'stop' || duty === 'emergency-stop' || isTripBar(moves);
      return stops && wired.has(a) && wired.has(b) ? [tag] : [];
    }),
  );
}

/** A stop at an input by which a broken lead would not stop. */
interface UnsafeStop {
  readonly what: 'stop-wired-no' | 'stop-examined-by-nc';
  readonly at: string;
  readonly found: string;
}

function unsafeStops(circuit: Circuit): UnsafeStop[] {
  const solver = new Solver(circuit);
  const rest = operated(circuit);
  const inputs = inputsOf(circuit);
  return [...stopping(circuit)].flatMap((tag) => {
    const worked = operated(circuit, tag);
    return inputs.flatMap((input): UnsafeStop[] => {
      const { ref: at, looks } = input;
      const [before, after] = [rest, worked].map((state) => isOn(circuit, solver, state, input));
      if (before === after) return [];
      if (!before) {
        const found = `${tag} reaches ${at} through an NO contact: a broken lead would not stop`;
        return [{ what: 'stop-wired-no', at, found }];
      }
      const others = [...looks].filter((kind) => kind !== 'no');
      if (others.length === 0) return [];
      const found = `${at}, which ${tag} opens, is examined by ${others.join(', ')}`;
      return [{ what: 'stop-examined-by-nc', at, found }];
    });
  });
}

export const plcStopsNormallyClosed = simple(
  'plc-stops-normally-closed',
  'Stops are fail-safe: wired NC, and examined by NO contacts of the program',
  'Stop, emergency stop and overload reach their inputs through NC contacts and are examined by NO contacts ' +
    'of the program, so that a broken lead stops.',
  {
    applies: hasController,
    breach(circuit) {
      const unsafe = unsafeStops(circuit);
      return breachAt(
        unsafe.map(({ at }) => at),
        unsafe.map(({ found }) => found).join('; '),
      );
    },
  },
);

export const hardwiredInterlock = simple(
  'hardwired-interlock',
  'Interlock outside the program: each coil behind the other contactor’s NC contact',
  'Contactors that must not be in together are interlocked by their own NC contacts in the coils’ circuits, ' +
    'outside the program.',
  {
    applies: hasController,
    breach(circuit): Breach | null {
      const pairs = rivalPairs(circuit, new Solver(circuit));
      const missing = pairs.flatMap(([a, b]) => fedTogether(circuit, a, b));
      return breachAt(
        [...new Set(missing.flatMap(([held, other]) => [held.tag, other.tag]))],
        missing
          .map(
            ([held, other]) =>
              `whatever the program does, the coil of ${other.tag} can be fed while ${held.tag} is in`,
          )
          .join('; '),
      );
    },
  },
);

/** Coils of contactors and relays that are wired. */
const armatures = (circuit: Circuit): Coil[] =>
  wiredCoils(circuit).filter(({ mechanism }) => isArmature(circuit.mechanisms[mechanism]!));

export const estopCutsOutputs = simple(
  'estop-cuts-outputs',
  'The emergency stop cuts the coils’ feed without the program',
  'An emergency stop interrupts the feed of the coils itself; it is not left to the program.',
  {
    applies: (circuit) =>
      hasController(circuit) && circuit.bench.devices.some(({ duty }) => duty === 'emergency-stop'),
    breach(circuit) {
      const sets = wiredTogether(circuit, ({ mechanism, spec }) => {
        const { duty } = circuit.mechanisms[mechanism]!.device;
        return !(duty === 'emergency-stop' && spec.normally === 'closed');
      });
      const live = armatures(circuit).filter((coil) => isFed(circuit, sets, coil));
      return breachAt(
        live.map(({ tag }) => tag),
        live.map(({ tag }) => `the coil of ${tag} can be fed with the emergency stop set`).join('; '),
      );
    },
  },
);

export const feedback = simple(
  'feedback',
  'Contactors report back to inputs that the program examines',
  'Each contactor that an output works reports by a contact of its own to an input that the program examines.',
  {
    applies: hasController,
    breach(circuit) {
      const solver = new Solver(circuit);
      const without = wiredTogether(
        circuit,
        ({ mechanism }) => !isOfController(circuit.mechanisms[mechanism]!),
      );
      const whole = wiredTogether(circuit, () => true);
      const worked = armatures(circuit).filter(
        (coil) => isFed(circuit, whole, coil) && !isFed(circuit, without, coil),
      );
      const inputs = inputsOf(circuit).filter(({ looks }) => looks.size > 0);
      const rest = operated(circuit);
      const silent = worked.filter(({ tag }) => {
        const state = operated(circuit, tag);
        return inputs.every(
          (input) => isOn(circuit, solver, rest, input) === isOn(circuit, solver, state, input),
        );
      });
      return breachAt(
        silent.map(({ tag }) => tag),
        silent.map(({ tag }) => `${tag} reports to no input that the program examines`).join('; '),
      );
    },
  },
);

/** Something about a program on its board that is seldom meant. */
export interface ProgramHint {
  readonly what: 'input-without-lead' | 'output-not-written' | UnsafeStop['what'];
  readonly at: string;
  readonly words: string;
}

/** What a careful eye would ask about a controller's program and the leads at its inputs and outputs. */
export function programHints(circuit: Circuit, tag: string): ProgramHint[] {
  const controller = circuit.controllers.find((one) => one.tag === tag);
  const program = controller?.program;
  if (!program) return [];
  const wired = wiredTerminals(circuit);
  const isWired = (at: string): boolean => wired.has(circuit.indexOf.get(`${tag}:${at}`) ?? -1);
  const written = new Set(program.rungs.flatMap(({ then }) => then.map(workedBy)));
  const connected = program.variables.filter(isConnected);
  return [
    ...connected
      .filter((one) => isInput(one) && !isWired(one.at))
      .map(({ name, at }): ProgramHint => ({
        what: 'input-without-lead',
        at,
        words: `${name} is at ${at}, which is not wired`,
      })),
    ...circuit.mechanisms
      .filter(({ kind, device, name }) => kind === 'output' && device.tag === tag && isWired(name))
      .filter(({ name: at }) => !connected.some((one) => one.at === at && written.has(one.name)))
      .map(({ name: at }): ProgramHint => ({
        what: 'output-not-written',
        at,
        words: `${at} is wired, but no rung writes it`,
      })),
    ...unsafeStops(circuit).map(({ what, at, found }): ProgramHint => ({ what, at, words: found })),
  ];
}
