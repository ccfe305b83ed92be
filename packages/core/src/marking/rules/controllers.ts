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
  type Switch,
} from '../../circuit/index.js';
import { Solver, coilWants, isShorted } from '../../electrics/index.js';
import { contactsOf, examined, isConnected, isInput, workedBy, type Program } from '../../program/index.js';
import { canBeFed, eachOf, rivalPairs } from './interlocks.js';
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
      examined(contact) === variable.name ? Object.keys(contact) : [],
    ),
  );
}

/** Whether an input has its voltage in a state of the board. */
function isOn(circuit: Circuit, solver: Solver, state: MechanicalState, { coil }: WiredInput): boolean {
  const electrical = solver.at(state);
  return !isShorted(electrical) && coilWants(circuit, electrical, state, coil);
}

/** Contacts that stop: of stop buttons, emergency stops and overload relays, wired at both ends. */
function stopping(circuit: Circuit): Map<string, Switch[]> {
  const wired = wiredTerminals(circuit);
  const found = new Map<string, Switch[]>();
  for (const contact of circuit.switches) {
    const mechanism = circuit.mechanisms[contact.mechanism]!;
    const { duty } = mechanism.device;
    const stops = duty === 'stop' || duty === 'emergency-stop' || isTripBar(mechanism);
    if (stops && wired.has(contact.a) && wired.has(contact.b))
      found.set(contact.tag, [...(found.get(contact.tag) ?? []), contact]);
  }
  return found;
}

export const plcStopsNormallyClosed = simple(
  'plc-stops-normally-closed',
  'A broken stop lead stops: stops reach the controller through NC contacts and are examined by NO',
  'Stop, emergency stop and overload reach their inputs through NC contacts and are examined by NO contacts of the program, so that a broken lead stops.',
  {
    applies: hasController,
    breach(circuit) {
      const solver = new Solver(circuit);
      const rest = operated(circuit);
      const inputs = inputsOf(circuit);
      const wrong = [...stopping(circuit).keys()].flatMap((tag) => {
        const worked = operated(circuit, tag);
        return inputs.flatMap((input): { where: string; found: string }[] => {
          const [before, after] = [rest, worked].map((state) => isOn(circuit, solver, state, input));
          if (before === after) return [];
          if (!before)
            return [
              {
                where: input.ref,
                found: `${tag} reaches ${input.ref} through an NO contact: a broken lead would not stop`,
              },
            ];
          const others = [...input.looks].filter((kind) => kind !== 'no');
          if (others.length === 0) return [];
          return [
            {
              where: input.ref,
              found: `${input.ref}, which ${tag} opens, is examined by ${others.join(', ')}`,
            },
          ];
        });
      });
      return breachAt(
        wrong.map(({ where }) => where),
        wrong.map(({ found }) => found).join('; '),
      );
    },
  },
);

export const hardwiredInterlock = simple(
  'hardwired-interlock',
  'Interlock outside the program: each coil behind the other contactor’s NC contact',
  'Contactors that must not be in together are interlocked by their own NC contacts in the coils’ circuits, outside the program.',
  {
    applies: hasController,
    breach(circuit): Breach | null {
      const pairs = rivalPairs(circuit, new Solver(circuit));
      const missing = pairs.flatMap(([a, b]) =>
        eachOf(a, b).filter(([held, other]) => canBeFed(circuit, held.tag, other)),
      );
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
  readonly what: 'input-without-lead' | 'output-not-written' | 'stop-examined-by-nc' | 'stop-wired-no';
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
  const stops = plcStopsNormallyClosed.breach(circuit, true, []);
  return [
    ...connected
      .filter((one) => isInput(one) && !isWired(one.at))
      .map(({ name, at }): ProgramHint => ({
        what: 'input-without-lead',
        at,
        words: `${name} stands at ${at}, which no lead reaches`,
      })),
    ...circuit.mechanisms
      .filter(({ kind, device, name }) => kind === 'output' && device.tag === tag && isWired(name))
      .filter(({ name: at }) => !connected.some((one) => one.at === at && written.has(one.name)))
      .map(({ name: at }): ProgramHint => ({
        what: 'output-not-written',
        at,
        words: `${at} is wired, and no rung writes it`,
      })),
    ...(stops
      ? [
          {
            what: stops.found.includes('NO contact')
              ? ('stop-wired-no' as const)
              : ('stop-examined-by-nc' as const),
            at: stops.where?.[0] ?? '',
            words: stops.found,
          },
        ]
      : []),
  ];
}
