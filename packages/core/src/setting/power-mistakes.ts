import type { TerminalRef, Wire } from '../bench/index.js';
import {
  delaySetOn,
  isContactor,
  isOverloadRelay,
  isThreePhaseMotor,
  anatomy,
  settableOn,
  type Device,
  isSupply,
} from '../catalogue/index.js';
import type { Maker, Mistake } from './mistake.js';
import { bridged, detached, exchanged, inOrder, moved } from './wiring.js';

/** Mistakes of the power circuit, of workmanship and of settings. */

const motorsOf = (devices: readonly Device[]): Device[] =>
  devices.filter((one) => anatomy(one).motor !== undefined);

const refs = (tag: string, ...names: string[]): TerminalRef[] =>
  names.map((name): TerminalRef => `${tag}:${name}`);

/** Winding ends of a three-phase motor at which its lines come in. */
const inlets = (device: Device): TerminalRef[] =>
  isThreePhaseMotor(device)
    ? refs(
        device.tag,
        ...(anatomy(device).motor?.connection === 'open' ? ['U1', 'V1', 'W1'] : ['U', 'V', 'W']),
      )
    : [];

const motorLeads: Maker = ({ board, exercise: { reference } }) =>
  motorsOf(board.devices).flatMap((motor): Mistake[] => {
    const [u, v, w] = inlets(motor);
    if (!u || !v || !w) return [];
    const feeds = (ref: TerminalRef): Wire | undefined =>
      reference.find(({ from, to }) => from === ref || to === ref);
    const last = feeds(w);
    const other = feeds(v);
    const source = other && (other.from === v ? other.to : other.from);
    return [
      {
        kind: 'two motor leads exchanged',
        title: `${motor.tag}: two leads exchanged`,
        verdict: 'fails',
        change: exchanged([u], [v]),
      },
      ...(last && source
        ? [
            {
              kind: 'two motor leads on one line',
              title: `${motor.tag}: two leads on one line`,
              verdict: 'fails',
              change: inOrder(detached(w), bridged(w, source)),
            } as const,
          ]
        : []),
    ];
  });

/** The load side of a contactor wired in another order. */
const polesExchanged: Maker = ({ board, nets }) =>
  board.devices.flatMap((device): Mistake[] => {
    const { tag } = device;
    const [one, two, three] = refs(tag, '2', '4', '6');
    if (
      !isContactor(device) ||
      !one ||
      !two ||
      !three ||
      ![one, two, three].every((ref) => nets.wired.has(ref))
    )
      return [];
    // Where the load sides are joined, as in a star point, no order is wrong.
    if (nets.netOf.get(one) === nets.netOf.get(two)) return [];
    return [
      {
        kind: 'two leads of a contactor exchanged',
        title: `${tag}: leads on 2 and 4 exchanged`,
        verdict: 'fails',
        change: exchanged([one], [two]),
      },
    ];
  });

/** A contactor of a delta that joins every winding to its own line. */
const ownLine: Maker = ({ board, nets }) =>
  board.devices.flatMap((device): Mistake[] => {
    const { tag } = device;
    const load = refs(tag, '2', '4', '6');
    const motor = motorsOf(board.devices).find((one) => inlets(one)[0]?.endsWith('U1'));
    if (!isContactor(device) || !motor) return [];
    const finishes = refs(motor.tag, 'U2', 'V2', 'W2');
    const order = load.map((ref) => finishes.findIndex((end) => nets.netOf.get(end) === nets.netOf.get(ref)));
    if (order.some((k) => k < 0) || new Set(order).size < 3 || order.join() === '0,1,2') return [];
    return [
      {
        kind: 'delta joins each winding to its own line',
        title: `${tag} joins each winding to its own line`,
        verdict: 'fails',
        change: moved(new Map(load.map((_, k) => [load[order.indexOf(k)]!, load[k]!] as const))),
      },
    ];
  });

const earthColours: Maker = ({ exercise: { reference } }) =>
  reference.flatMap((wire): Mistake[] => {
    if (!wire.from.endsWith(':PE') && !wire.to.endsWith(':PE')) return [];
    return [
      {
        kind: 'wrong colour',
        title: `Black lead for the earth ${wire.from.replace(':', ' ')} – ${wire.to.replace(':', ' ')}`,
        verdict: 'not-full',
        change: (wires) =>
          wires.map((one) =>
            one.from === wire.from && one.to === wire.to ? { ...one, colour: 'black' } : one,
          ),
      },
    ];
  });

/** A terminal that takes more leads than it should: a branch made where the next terminal was. */
const crowded: Maker = ({ exercise: { bench, reference, rules } }) => {
  const most = rules.maxWiresPerTerminal ?? 2;
  const supplies = bench.devices.filter(isSupply).map(({ tag }) => `${tag}:`);
  const ends = reference
    .flatMap(({ from, to }) => [from, to])
    .filter((ref) => !supplies.some((tag) => ref.startsWith(tag)));
  const hub = ends.find((ref) => ends.filter((one) => one === ref).length === Math.min(2, most));
  const far = hub && reference.find(({ from, to }) => from === hub || to === hub);
  if (!hub || !far || rules.maxWiresPerTerminal === undefined) return [];
  const other = far.from === hub ? far.to : far.from;
  const again: Wire = { ...far, from: hub, to: other };
  return [
    {
      kind: 'too many leads on a terminal',
      title: `${most + 1} leads on ${hub.replace(':', ' ')}`,
      verdict: 'not-full',
      change: (wires) => [...wires, ...Array.from({ length: Math.max(1, most - 1) }, () => again)],
    },
  ];
};

/** Far enough off to be wrong by any habit: more than a tenth too low, or three tenths too high. */
const isFarFrom = (set: number, right: number): boolean => set < 0.9 * right || set > 1.3 * right;

/** A dial at an end of its range, where the exercise asks for the right setting. */
const dials: Maker = ({ board, exercise: { rules } }) =>
  board.devices.flatMap((device): Mistake[] =>
    settableOn(device).flatMap(({ setting, min, max, unit }): Mistake[] => {
      const asked = isOverloadRelay(device) ? rules.overloadDial === true : rules.timerSetting !== undefined;
      const timed = delaySetOn(device) !== null;
      const is = (device.settings as Readonly<Record<string, unknown>>)[setting];
      if (!asked || (!isOverloadRelay(device) && !timed)) return [];
      const to = timed ? 1 : [min, max].find((end) => isFarFrom(end, Number(is)));
      if (to === undefined || to === is) return [];
      const devices = board.devices.map((one) =>
        one.tag === device.tag ? ({ ...one, settings: { ...one.settings, [setting]: to } } as Device) : one,
      );
      return [
        {
          kind: 'dial set wrongly',
          title: `${device.tag} set to ${to} ${unit}`,
          verdict: 'not-full',
          change: (wires) => [...wires],
          devices,
        },
      ];
    }),
  );

export const POWER_MISTAKES: readonly Maker[] = [
  motorLeads,
  polesExchanged,
  ownLine,
  earthColours,
  crowded,
  dials,
];
