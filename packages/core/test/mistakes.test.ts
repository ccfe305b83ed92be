import { describe, expect, test } from '@jest/globals';
import {
  grade,
  referenceBench,
  run,
  type Bench,
  type Exercise,
  type Part,
  type Report,
} from '@contactum/core';
import { exercise, rewire } from './help.js';

/**
 * The usual mistakes of each exercise and what a careful instructor says of them (common practice, no
 * source).
 * `b`: an essential behaviour is wrong, `s`: a safety property fails, `survive`: neither, but a single fault that must be borne is not
 * or an essential rule is broken; a part's name: passes, and only that part loses points.
 */
type Verdict = 'b' | 's' | 'bs' | 'survive' | 'nothing' | Part;

interface Mistake {
  readonly name: string;
  readonly cut: string;
  readonly add?: string;
  readonly change?: (board: Bench) => Bench;
  readonly verdict: Verdict;
}

const set = (tag: string, settings: object) => (board: Bench) =>
  ({
    ...board,
    devices: board.devices.map((device) =>
      device.tag === tag ? { ...device, settings: { ...device.settings, ...settings } } : device,
    ),
  }) as Bench;
const recolour =
  (to: string, colour: string) =>
  (board: Bench): Bench => ({
    ...board,
    wires: board.wires.map((wire) => (wire.to === to ? { ...wire, colour } : wire)),
  });

/** Mistakes in the power circuit, the same wherever one motor with three leads hangs on F2. */
const POWER: readonly Mistake[] = [
  { name: 'one motor lead missing', cut: 'F2:6>M1:W', verdict: 'bs' },
  { name: 'two motor leads on one line', cut: 'F2:6>M1:W', add: 'F2:4>M1:W', verdict: 'bs' },
  { name: 'no earth on the frame', cut: 'G1:PE>M1:PE', verdict: 's' },
  { name: 'a black wire for earth', cut: '', change: recolour('M1:PE', 'black'), verdict: 'workmanship' },
];
/** The same on a board with US designations. */
const US_POWER: readonly Mistake[] = [
  { name: 'one motor lead missing', cut: '1OL:6>1MTR:W', verdict: 'bs' },
  { name: 'two motor leads on one line', cut: '1OL:6>1MTR:W', add: '1OL:4>1MTR:W', verdict: 'bs' },
  { name: 'no earth on the frame', cut: '1PS:PE>1MTR:PE', verdict: 's' },
  { name: 'a black wire for earth', cut: '', change: recolour('1MTR:PE', 'black'), verdict: 'workmanship' },
];
const BACKWARDS: Mistake = {
  name: 'two motor leads exchanged',
  cut: 'F2:2>M1:U F2:4>M1:V',
  add: 'F2:2>M1:V F2:4>M1:U',
  verdict: 'b',
};

const STAR_DELTA: readonly Mistake[] = [
  {
    name: 'two leads of the delta contactor exchanged',
    cut: 'KM3:2>M1:W2 KM3:4>M1:U2',
    add: 'KM3:2>M1:U2 KM3:4>M1:W2',
    verdict: 'bs',
  },
  {
    name: 'delta joins each winding to its own line',
    cut: 'KM3:2>M1:W2 KM3:4>M1:U2 KM3:6>M1:V2',
    add: 'KM3:2>M1:U2 KM3:4>M1:V2 KM3:6>M1:W2',
    verdict: 'b',
  },
  { name: 'star point not closed', cut: 'KM2:2>KM2:4 KM2:4>KM2:6', verdict: 'b' },
  { name: 'star point closed on two windings', cut: 'KM2:4>KM2:6', verdict: 'bs' },
  { name: 'a motor lead missing', cut: 'F2:4>M1:V1', verdict: 'bs' },
  { name: 'timer’s coil not wired', cut: 'KT1:A2>G1:N', verdict: 'b' },
  { name: 'no earth on the frame', cut: 'G1:PE>M1:PE', verdict: 's' },
  { name: 'dial at the least of its range', cut: '', change: set('F2', { dial: 4 }), verdict: 'rules' },
];

const MISTAKES: Readonly<Record<string, readonly Mistake[]>> = {
  'button-lamp-no': [
    {
      name: 'lamp in parallel with the button',
      cut: 'S1:14>H1:X1 H1:X2>G2:-',
      add: 'G2:+>H1:X1 S1:14>G2:- H1:X2>G2:-',
      verdict: 'bs',
    },
    { name: 'button by-passed', cut: '', add: 'S1:13>S1:14', verdict: 'b' },
    { name: 'lamp’s return left out', cut: 'H1:X2>G2:-', verdict: 'b' },
    { name: 'nothing but the feed', cut: 'S1:14>H1:X1 H1:X2>G2:-', verdict: 'b' },
    { name: 'both ends of the lamp on the button', cut: 'H1:X2>G2:-', add: 'H1:X2>S1:14', verdict: 'b' },
    { name: 'three leads on one terminal', cut: '', add: 'S1:14>H1:X1 S1:14>H1:X1', verdict: 'workmanship' },
  ],
  'brine-pump-three-wire': [
    ...POWER,
    BACKWARDS,
    { name: 'no seal-in', cut: 'KM1:14>KM1:A1', verdict: 'b' },
    { name: 'seal-in from before Stop', cut: 'S2:13>KM1:13', add: 'F2:96>KM1:13', verdict: 'bs' },
    {
      name: 'NC auxiliary in place of NO',
      cut: 'S2:13>KM1:13 KM1:14>KM1:A1',
      add: 'S2:13>KM1:21 KM1:22>KM1:A1',
      verdict: 'bs',
    },
    {
      name: 'Stop and Start in each other’s place',
      cut: 'F2:96>S1:21 S1:22>S2:13 S2:14>KM1:A1 S2:13>KM1:13',
      add: 'F2:96>S2:13 S2:14>S1:21 S1:22>KM1:A1 S1:21>KM1:13',
      verdict: 'bs',
    },
    { name: 'Start by-passed by a lead', cut: '', add: 'S2:13>S2:14', verdict: 'bs' },
    { name: 'overload contact left out', cut: 'F1:2>F2:95 F2:96>S1:21', add: 'F1:2>S1:21', verdict: 'bs' },
    {
      name: 'overload contact by-passed by the seal-in',
      cut: 'S2:13>KM1:13',
      add: 'F1:2>KM1:13',
      verdict: 'bs',
    },
    {
      name: '97-98 in place of 95-96',
      cut: 'F1:2>F2:95 F2:96>S1:21',
      add: 'F1:2>F2:97 F2:98>S1:21',
      verdict: 'bs',
    },
    {
      name: 'coil’s return from the load side of an open pole',
      cut: 'KM1:A2>G1:N',
      add: 'KM1:A2>KM1:2',
      verdict: 'b',
    },
    { name: '230 V coil between two lines', cut: 'KM1:A2>G1:N', add: 'KM1:A2>G1:L2', verdict: 's' },
    {
      name: 'seal-in through another line’s power pole',
      cut: 'S2:13>KM1:13 KM1:14>KM1:A1',
      add: 'KM1:4>KM1:A1',
      verdict: 'bs',
    },
    {
      name: 'coil switched in the neutral',
      cut: 'F2:96>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S2:13>KM1:13 KM1:14>KM1:A1',
      add: 'F2:96>KM1:A1 KM1:A2>S2:14 S2:13>S1:22 S1:21>G1:N KM1:A2>KM1:13 KM1:14>S2:13',
      verdict: 'rules',
    },
    {
      name: 'three leads on one terminal',
      cut: 'KM1:14>KM1:A1',
      add: 'KM1:14>S2:14 S2:14>KM1:A1',
      verdict: 'workmanship',
    },
  ],
  'brine-pump-control-transformer': [
    ...US_POWER,
    { name: 'secondary not earthed', cut: '1T:X2>1PS:PE', verdict: 'rules' },
    {
      name: 'fuse in the earthed side',
      cut: '1T:X1>1FU:1 1FU:2>1PB:21 1OL:96>1T:X2',
      add: '1T:X1>1PB:21 1OL:96>1FU:1 1FU:2>1T:X2',
      verdict: 'rules',
    },
    { name: 'primary across one line and neutral', cut: '1CB:4>1T:H2', add: '1T:H2>1PS:N', verdict: 'bs' },
    { name: 'no seal-in', cut: '1M:14>2PB:14', verdict: 'b' },
    {
      name: 'overload before Stop where the house wants it after the coil',
      cut: '1FU:2>1PB:21 1M:A2>1OL:95 1OL:96>1T:X2',
      add: '1FU:2>1OL:95 1OL:96>1PB:21 1M:A2>1T:X2',
      verdict: 'rules',
    },
  ],
  'brine-pump-emergency-stop': [
    ...POWER,
    {
      name: 'emergency stop in the Start branch alone',
      cut: 'F2:96>S0:11 S0:12>S1:21 S1:22>S2:13',
      add: 'F2:96>S1:21 S1:22>S0:11 S0:12>S2:13 S1:22>KM1:13',
      change: (board) => rewire(board, 'S2:13>KM1:13'),
      verdict: 'bs',
    },
    { name: 'emergency stop left out', cut: 'F2:96>S0:11 S0:12>S1:21', add: 'F2:96>S1:21', verdict: 'bs' },
    { name: 'Stop left out', cut: 'S0:12>S1:21 S1:22>S2:13', add: 'S0:12>S2:13', verdict: 'bs' },
    { name: 'no seal-in', cut: 'KM1:14>S2:14', verdict: 'b' },
    { name: 'Start by-passed', cut: '', add: 'S2:13>S2:14', verdict: 'bs' },
  ],
  'brine-pump-two-stations': [
    ...POWER,
    { name: 'starts in series', cut: 'S2:14>S4:14 S4:13>S2:13', add: 'S4:14>S2:13', verdict: 'b' },
    {
      name: 'stops in parallel',
      cut: 'S1:22>S3:21 S3:22>S4:13',
      add: 'S1:21>S3:21 S1:22>S3:22 S3:22>S4:13',
      verdict: 'bs',
    },
    { name: 'link between Stop and Start left in', cut: '', add: 'S1:22>S2:13', verdict: 'bs' },
    { name: 'the remote Start not wired', cut: 'S2:14>S4:14', verdict: 'b' },
    { name: 'no seal-in', cut: 'KM1:14>KM1:A1', add: '', verdict: 'b' },
  ],
  'sluice-gate-jog-relay': [
    ...POWER,
    {
      name: 'jog button in parallel with Start',
      cut: 'K1:23>S3:13 S3:14>KM1:A1',
      add: 'S2:13>S3:13 S3:14>S2:14',
      verdict: 'b',
    },
    { name: 'relay does not hold', cut: 'K1:14>K1:A1', verdict: 'b' },
    { name: 'relay’s contact not in the contactor’s rung', cut: 'K1:24>KM1:A1', verdict: 'b' },
    { name: 'jog before Stop', cut: 'K1:23>S3:13', add: 'F2:96>S3:13', verdict: 's' },
    { name: 'overload contact by-passed', cut: '', add: 'F2:95>F2:96', verdict: 'bs' },
  ],
  'salt-harrow-electrical-interlock': [
    ...POWER.filter(({ name }) => !name.startsWith('two motor')),
    {
      name: 'nothing exchanged',
      cut: 'KM2:2>KM1:6 KM2:6>KM1:2',
      add: 'KM2:2>KM1:2 KM2:6>KM1:6',
      verdict: 'b',
    },
    {
      name: 'all three lines moved on',
      cut: 'KM2:2>KM1:6 KM2:4>KM1:4 KM2:6>KM1:2',
      add: 'KM2:2>KM1:4 KM2:4>KM1:6 KM2:6>KM1:2',
      verdict: 'b',
    },
    {
      name: 'no interlock',
      cut: 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      add: 'S2:14>KM1:A1 S3:14>KM2:A1',
      verdict: 'bs',
    },
    { name: 'interlock one way only', cut: 'S3:14>KM1:21 KM1:22>KM2:A1', add: 'S3:14>KM2:A1', verdict: 'bs' },
    {
      name: 'each coil through its own NC contact',
      cut: 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      add: 'S2:14>KM1:21 KM1:22>KM1:A1 S3:14>KM2:21 KM2:22>KM2:A1',
      verdict: 'bs',
    },
    {
      name: 'each seal-in on the other’s contactor',
      cut: 'KM1:14>S2:14 KM2:14>S3:14',
      add: 'KM1:14>S3:14 KM2:14>S2:14',
      verdict: 'b',
    },
    { name: 'Stop in one direction’s rung alone', cut: 'S2:13>S3:13', add: 'F2:96>S3:13', verdict: 'bs' },
  ],
  'salt-harrow-mechanical-interlock': [
    ...POWER.filter(({ name }) => !name.startsWith('two motor')),
    {
      name: 'interlock through the NO contacts that seal',
      cut: 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      add: 'S2:14>KM2:13 KM2:14>KM1:A1 S3:14>KM1:13 KM1:14>KM2:A1',
      verdict: 'bs',
    },
    {
      name: 'no electrical interlock',
      cut: 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      add: 'S2:14>KM1:A1 S3:14>KM2:A1',
      verdict: 'b',
    },
    {
      name: 'nothing exchanged',
      cut: 'KM2:2>KM1:6 KM2:6>KM1:2',
      add: 'KM2:2>KM1:2 KM2:6>KM1:6',
      verdict: 'b',
    },
    { name: 'overload in one direction’s rung alone', cut: 'S2:13>S3:13', add: 'F1:2>S3:13', verdict: 'bs' },
  ],
  'salt-harrow-push-button-interlock': [
    ...POWER.filter(({ name }) => !name.startsWith('two motor')),
    {
      name: 'push-button interlock left out',
      cut: 'S2:14>S3:21 S3:22>KM2:21 S3:14>S2:21 S2:22>KM1:21',
      add: 'S2:14>KM2:21 S3:14>KM1:21',
      verdict: 'b',
    },
    {
      name: 'no electrical interlock',
      cut: 'S3:22>KM2:21 KM2:22>KM1:A1 S2:22>KM1:21 KM1:22>KM2:A1',
      add: 'S3:22>KM1:A1 S2:22>KM2:A1',
      verdict: 'survive',
    },
    {
      name: 'all three lines moved on',
      cut: 'KM2:2>KM1:6 KM2:4>KM1:4 KM2:6>KM1:2',
      add: 'KM2:2>KM1:4 KM2:4>KM1:6 KM2:6>KM1:2',
      verdict: 'b',
    },
    { name: 'Stop by-passed', cut: '', add: 'S1:21>S1:22', verdict: 'bs' },
  ],
  'blower-star-delta-main-from-start': [
    ...STAR_DELTA,
    {
      name: 'timer contacts exchanged',
      cut: 'KT1:16>KM3:21 KT1:18>KM2:21',
      add: 'KT1:18>KM3:21 KT1:16>KM2:21',
      verdict: 'b',
    },
    {
      name: 'no interlock',
      cut: 'KT1:16>KM3:21 KM3:22>KM2:A1 KT1:18>KM2:21 KM2:22>KM3:A1',
      add: 'KT1:16>KM2:A1 KT1:18>KM3:A1',
      verdict: 'survive',
    },
    { name: 'delta contactor’s coil not wired', cut: 'KM3:A2>G1:N', verdict: 'b' },
  ],
  'blower-star-delta-main-through-star': [
    ...STAR_DELTA,
    {
      name: 'interlock one way only',
      cut: 'KT1:18>KM2:21 KM2:22>KM3:A1',
      add: 'KT1:18>KM3:A1',
      verdict: 'survive',
    },
    { name: 'main contactor does not hold itself', cut: 'KM1:33>KM1:14', verdict: 'b' },
    { name: 'timer contact not used', cut: 'KT1:18>KM2:21', verdict: 'b' },
  ],
  'blower-star-delta-timer': [
    ...STAR_DELTA,
    {
      name: 'timer contacts exchanged',
      cut: 'KT1:18>KM3:21 KT1:28>KM2:21',
      add: 'KT1:28>KM3:21 KT1:18>KM2:21',
      verdict: 'b',
    },
    { name: 'seal-in before Stop', cut: 'S2:13>KM1:13', add: 'F2:96>KM1:13', verdict: 'bs' },
    { name: 'timer set to a minute', cut: '', change: set('KT1', { delay: 60 }), verdict: 'b' },
  ],
  'button-lamp-nc': [
    {
      name: 'the open contact in place of the closed one',
      cut: 'G2:+>S1:21 S1:22>H1:X1',
      add: 'G2:+>S1:13 S1:14>H1:X1',
      verdict: 'b',
    },
    { name: 'button by-passed', cut: '', add: 'S1:21>S1:22', verdict: 'b' },
    { name: 'lamp’s return left out', cut: 'H1:X2>G2:-', verdict: 'b' },
    {
      name: 'lamp in parallel with the button',
      cut: 'S1:22>H1:X1 H1:X2>G2:-',
      add: 'G2:+>H1:X1 S1:22>G2:- H1:X2>G2:-',
      verdict: 'bs',
    },
    { name: 'both contacts in parallel', cut: '', add: 'S1:21>S1:13 S1:22>S1:14', verdict: 'b' },
  ],
  'coil-and-contact': [
    {
      name: 'lamp in series with the coil',
      cut: 'S1:14>K1:A1 K1:14>H1:X1 S1:13>K1:13',
      add: 'S1:14>H1:X1',
      change: (board) => rewire(board, 'K1:A2>H1:X2', 'H1:X2>K1:A1 K1:A2>G2:-'),
      verdict: 'b',
    },
    {
      name: 'lamp on the NC contact',
      cut: 'S1:13>K1:13 K1:14>H1:X1',
      add: 'S1:13>K1:21 K1:22>H1:X1',
      verdict: 'b',
    },
    {
      name: 'lamp straight on the button',
      cut: 'S1:13>K1:13 K1:14>H1:X1',
      add: 'S1:14>H1:X1',
      verdict: 'nothing',
    },
    { name: 'coil’s return left out', cut: 'K1:A2>H1:X2', verdict: 'b' },
    { name: 'contact not fed', cut: 'S1:13>K1:13', verdict: 'b' },
    {
      name: 'coil through its own NC contact',
      cut: 'S1:14>K1:A1',
      add: 'S1:14>K1:21 K1:22>K1:A1',
      verdict: 'bs',
    },
  ],
  'brine-pump-momentary': [
    ...POWER,
    BACKWARDS,
    { name: 'held all the same', cut: '', add: 'S2:13>KM1:13 KM1:14>S2:14', verdict: 'b' },
    { name: 'Start by-passed', cut: '', add: 'S2:13>S2:14', verdict: 'bs' },
    { name: 'overload contact by-passed', cut: '', add: 'F2:95>F2:96', verdict: 'bs' },
  ],
  'brine-pump-three-wire-us': [
    ...US_POWER,
    { name: 'secondary not earthed', cut: '1T:X2>1PS:PE', verdict: 'rules' },
    { name: 'no seal-in', cut: '1M:14>1M:A1', verdict: 'b' },
    {
      name: 'overload contact left out',
      cut: '1M:A2>1OL:95 1OL:96>1T:X2',
      add: '1M:A2>1T:X2',
      verdict: 'bs',
    },
    { name: 'primary across one line and neutral', cut: '1CB:4>1T:H2', add: '1T:H2>1PS:N', verdict: 'bs' },
  ],
  'brine-pump-lamps': [
    ...POWER,
    {
      name: 'off lamp on the NO contact',
      cut: 'F2:97>KM1:21 KM1:22>H1:X1',
      add: 'F2:97>KM1:13 KM1:14>H1:X1',
      change: (board) => rewire(board, 'S2:13>KM1:13 KM1:14>S2:14'),
      verdict: 'b',
    },
    { name: 'trip lamp behind the NC contact', cut: 'F2:98>H3:X1', add: 'F2:96>H3:X1', verdict: 'b' },
    {
      name: 'run lamp in series with the coil',
      cut: 'S2:14>KM1:A1 KM1:A1>H2:X1 H1:X2>H2:X2 H2:X2>H3:X2',
      add: 'S2:14>H2:X1 H2:X2>KM1:A1 H1:X2>H3:X2',
      verdict: 'b',
    },
    { name: 'no seal-in', cut: 'KM1:14>S2:14', verdict: 'b' },
    { name: 'lamps’ common return left out', cut: 'H3:X2>KM1:A2', verdict: 'b' },
  ],
  'brine-pump-pole-seal-in': [
    ...POWER,
    { name: 'held through another line’s pole', cut: 'S2:14>KM1:2', add: 'S2:14>KM1:4', verdict: 'bs' },
    { name: 'does not hold', cut: 'S2:14>KM1:2', verdict: 'b' },
    { name: 'Stop by-passed', cut: '', add: 'S1:21>S1:22', verdict: 'bs' },
    {
      name: 'overload contact left out',
      cut: 'S1:22>F2:95 F2:96>KM1:A1',
      add: 'S1:22>KM1:A1',
      verdict: 'bs',
    },
  ],
  'brine-pump-24-v-dc-control': [
    ...POWER,
    { name: 'mains relay’s contact by-passed', cut: '', add: 'K2:13>K2:14', verdict: 'bs' },
    {
      name: 'coil on 230 V AC',
      cut: 'S2:14>KM1:A1 KM1:A2>G2:-',
      add: 'Q1:2>KM1:A1 KM1:A2>G1:N',
      verdict: 'bs',
    },
    { name: 'no seal-in', cut: 'KM1:14>S2:14', verdict: 'b' },
    { name: 'coil’s minus left out', cut: 'KM1:A2>G2:-', verdict: 'b' },
    {
      name: 'plus and minus exchanged at the supply',
      cut: 'G2:+>F1:1 KM1:A2>G2:-',
      add: 'G2:->F1:1 KM1:A2>G2:+',
      verdict: 'rules',
    },
  ],
  'plug-in-relay-hold': [
    { name: 'held on the NC pin', cut: 'K1:3>K1:2', add: 'K1:4>K1:2', verdict: 'bs' },
    { name: 'does not hold', cut: 'K1:3>K1:2', verdict: 'b' },
    { name: 'held from before Stop', cut: 'S2:13>K1:1', add: 'F1:2>K1:1', verdict: 'bs' },
    { name: 'lamp on the NC pin', cut: 'K1:6>H1:X1', add: 'K1:5>H1:X1', verdict: 'b' },
    { name: 'coil’s minus left out', cut: 'K1:7>G2:-', verdict: 'b' },
    { name: 'Start by-passed', cut: '', add: 'S2:13>S2:14', verdict: 'bs' },
  ],
  'rinse-pump-single-phase': [
    { name: 'no earth on the frame', cut: 'G1:PE>M1:PE', verdict: 's' },
    { name: 'coil’s neutral from the switched side', cut: 'KM1:A2>KM1:3', add: 'KM1:A2>KM1:4', verdict: 'b' },
    {
      name: 'current through two heaters alone',
      cut: 'F2:2>F2:3 F2:4>M1:U1',
      add: 'F2:2>M1:U1',
      verdict: 'b',
    },
    { name: 'no seal-in', cut: 'KM1:14>S2:14', verdict: 'b' },
    { name: 'overload contact by-passed', cut: '', add: 'F2:95>F2:96', verdict: 'bs' },
    { name: 'Stop by-passed', cut: '', add: 'S1:21>S1:22', verdict: 'bs' },
  ],
  'sluice-gate-jog-button': [
    ...POWER,
    {
      name: 'jog button in parallel with Start alone',
      cut: 'S3:13>S3:21 S3:22>KM1:13',
      add: 'S3:13>KM1:13',
      verdict: 'b',
    },
    { name: 'Stop by-passed', cut: '', add: 'S1:21>S1:22', verdict: 'bs' },
    { name: 'no seal-in', cut: 'KM1:14>S2:14', verdict: 'b' },
    { name: 'overload contact by-passed', cut: '', add: 'F2:95>F2:96', verdict: 'bs' },
  ],
  'sluice-gate-jog-selector': [
    ...POWER,
    { name: 'selector by-passed', cut: '', add: 'S3:13>S3:14', verdict: 'b' },
    {
      name: 'selector in the coil’s rung',
      cut: 'S2:13>S3:13 S3:14>KM1:13 S2:14>KM1:A1',
      add: 'S2:13>KM1:13 S2:14>S3:13 S3:14>KM1:A1',
      verdict: 'b',
    },
    {
      name: 'selector in parallel with Start',
      cut: 'S2:13>S3:13 S3:14>KM1:13',
      add: 'S2:13>S3:13 S3:14>S2:14 S2:13>KM1:13',
      verdict: 'bs',
    },
    { name: 'seal-in from before Stop', cut: 'S2:13>S3:13', add: 'F2:96>S3:13', verdict: 'bs' },
    { name: 'overload contact by-passed', cut: '', add: 'F2:95>F2:96', verdict: 'bs' },
  ],
  'salt-harrow-no-interlock': [
    ...POWER.filter(({ name }) => !name.startsWith('two motor')),
    {
      name: 'interlocked all the same',
      cut: 'S2:14>KM1:A1 S3:14>KM2:A1',
      add: 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      verdict: 'b',
    },
    {
      name: 'nothing exchanged',
      cut: 'KM2:2>KM1:6 KM2:6>KM1:2',
      add: 'KM2:2>KM1:2 KM2:6>KM1:6',
      verdict: 'b',
    },
    { name: 'Stop by-passed', cut: '', add: 'S1:21>S1:22', verdict: 'bs' },
  ],
  'salt-harrow-limit-switches': [
    ...POWER.filter(({ name }) => !name.startsWith('two motor')),
    {
      name: 'limit switches exchanged',
      cut: 'S2:14>SQ1:21 SQ1:22>KM2:21 S3:14>SQ2:21 SQ2:22>KM1:21',
      add: 'S2:14>SQ2:21 SQ2:22>KM2:21 S3:14>SQ1:21 SQ1:22>KM1:21',
      verdict: 'b',
    },
    {
      name: 'forward limit switch left out',
      cut: 'S2:14>SQ1:21 SQ1:22>KM2:21',
      add: 'S2:14>KM2:21',
      verdict: 'b',
    },
    {
      name: 'interlock through NO contacts',
      cut: 'SQ1:22>KM2:21 KM2:22>KM1:A1 SQ2:22>KM1:21 KM1:22>KM2:A1 S1:22>KM1:13 KM1:14>S2:14 S3:13>KM2:13 KM2:14>S3:14',
      add: 'SQ1:22>KM2:13 KM2:14>KM1:A1 SQ2:22>KM1:13 KM1:14>KM2:A1',
      verdict: 'b',
    },
  ],
  'salt-harrow-lamps': [
    ...POWER.filter(({ name }) => !name.startsWith('two motor')),
    {
      name: 'lamps of the directions exchanged',
      cut: 'KM1:A1>H1:X1 KM2:A1>H2:X1',
      add: 'KM1:A1>H2:X1 KM2:A1>H1:X1',
      verdict: 'b',
    },
    { name: 'trip lamp behind 96', cut: 'F2:98>H3:X1', add: 'F2:96>H3:X1', verdict: 'b' },
    {
      name: 'no interlock',
      cut: 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      add: 'S2:14>KM1:A1 S3:14>KM2:A1',
      verdict: 'bs',
    },
  ],
  'salt-harrow-two-overloads': [
    { name: 'no earth on the frame', cut: 'G1:PE>M1:PE', verdict: 's' },
    {
      name: 'second relay’s contact left out',
      cut: 'F2:96>F3:95 F3:96>S1:21',
      add: 'F2:96>S1:21',
      verdict: 'bs',
    },
    { name: 'both contacts in parallel', cut: 'F2:96>F3:95', add: 'F2:95>F3:95 F2:96>F3:96', verdict: 'bs' },
    { name: 'nothing exchanged', cut: 'F3:2>F2:6 F3:6>F2:2', add: 'F3:2>F2:2 F3:6>F2:6', verdict: 'b' },
    { name: 'interlock one way only', cut: 'S3:14>KM1:21 KM1:22>KM2:A1', add: 'S3:14>KM2:A1', verdict: 'bs' },
    { name: 'one motor lead missing', cut: 'F2:6>M1:W', verdict: 'bs' },
  ],
  'salt-harrow-jog': [
    ...POWER.filter(({ name }) => !name.startsWith('two motor')),
    { name: 'forward seals', cut: '', add: 'S2:13>KM1:13 KM1:14>S2:14', verdict: 'b' },
    {
      name: 'no interlock',
      cut: 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      add: 'S2:14>KM1:A1 S3:14>KM2:A1',
      verdict: 'bs',
    },
    {
      name: 'interlock through NO contacts',
      cut: 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
      add: 'S2:14>KM2:13 KM2:14>KM1:A1 S3:14>KM1:13 KM1:14>KM2:A1',
      verdict: 'b',
    },
  ],
  'blower-star-delta-by-hand': [
    ...STAR_DELTA.filter(({ name }) => !name.startsWith('timer')).map((one) => one),
    { name: 'delta does not hold', cut: 'S3:13>KM3:13', verdict: 'b' },
    {
      name: 'the button does not let the star go',
      cut: 'S2:14>S3:21 S3:22>KM3:21',
      add: 'S2:14>KM3:21 KM3:21>S3:13',
      change: (board) => rewire(board, 'S3:21>S3:13'),
      verdict: 'bs',
    },
  ],
  'blower-star-delta-winding-leg': [
    ...STAR_DELTA.filter(({ name }) => !name.startsWith('dial')),
    { name: 'dial at the line current', cut: '', change: set('F2', { dial: 6.3 }), verdict: 'rules' },
    {
      name: 'timer contacts exchanged',
      cut: 'KT1:16>KM3:21 KT1:18>KM2:21',
      add: 'KT1:18>KM3:21 KT1:16>KM2:21',
      verdict: 'b',
    },
  ],
  'blower-star-delta-reversing': [
    ...STAR_DELTA.filter(({ name }) => !name.startsWith('dial')),
    {
      name: 'nothing exchanged',
      cut: 'KM4:2>KM1:6 KM4:6>KM1:2',
      add: 'KM4:2>KM1:2 KM4:6>KM1:6',
      verdict: 'b',
    },
    {
      name: 'no interlock of the directions',
      cut: 'S2:14>KM4:21 KM4:22>KM1:A1 S4:14>KM1:21 KM1:22>KM4:A1',
      add: 'S2:14>KM1:A1 S4:14>KM4:A1',
      verdict: 'bs',
    },
  ],
};

function told({ criteria, properties, passed }: Report): Verdict | 'several' {
  const lacks = (admits: (part: Part) => boolean) =>
    criteria.some(({ essential, evidence, part }) => essential === true && evidence !== null && admits(part));
  const behaviour = lacks((part) => part === 'behaviour');
  const safety = properties.some(({ holds }) => !holds);
  if (!passed && (behaviour || safety)) return `${behaviour ? 'b' : ''}${safety ? 's' : ''}` as Verdict;
  if (!passed) return lacks(() => true) ? 'survive' : 'several';
  const parts = [...new Set(criteria.filter(({ points, max }) => points < max).map(({ part }) => part))];
  return parts.length === 0 ? 'nothing' : parts.length === 1 ? (parts[0] as Part) : 'several';
}

for (const [id, mistakes] of Object.entries(MISTAKES)) {
  describe(id, () => {
    const one: Exercise = exercise(id);
    for (const { name, cut, add = '', change = (board: Bench) => board, verdict } of mistakes) {
      test(name, () => {
        const board = change(rewire(referenceBench(one), cut, add));
        const report = grade(one, board, { faults: false });
        expect({ verdict: told(report), reason: report.reason }).toMatchObject({ verdict });
        expect(report.reason === null).toBe(report.passed);
        expect(report.max).toBe(100);
        // A failed property shows when its trace is run.
        for (const { holds, trace } of report.properties)
          if (!holds) expect(() => run(board, trace)).not.toThrow();
      });
    }
  });
}
