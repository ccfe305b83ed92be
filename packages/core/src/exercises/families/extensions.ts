import { DIRECT_STARTER, contactor } from '../boards.js';
import type { Recipe } from '../recipe.js';
import {
  COIL_RETURN,
  FROM_TWO_PLACES,
  OBSERVE,
  QUAY,
  RUN_FAULTS,
  holds,
  lost,
  stops,
  tripped,
} from './direct.js';
import { DIRECT, FRAME, GUARDED_FEED, RUNS, STARTER_RULES, start, tap } from './parts.js';

/** Boards that are wired and work: what is added to them, and what must go; a station on a cable; a brake. */

const MOMENTARY_LEADS = `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 14 > KM1 A1\n${COIL_RETURN}`;
const HELD_LEADS = `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > KM1 13; KM1 14 > S2 14; S2 14 > KM1 A1\n${COIL_RETURN}`;

const ADD_HOLD: Recipe = {
  id: 'brine-pump-add-hold',
  title: 'Add the hold',
  family: 'seal-in',
  brief:
    'The board is wired, and the pump runs only while S2 is held. Make it run on when Start is let go: the contact that holds goes in parallel with Start, after Stop. Nothing that is there has to go.',
  board: DIRECT_STARTER,
  laid: MOMENTARY_LEADS,
  reference: HELD_LEADS,
  observe: OBSERVE,
  behaviours: [
    holds('holds', 'Holds after Start is let go', 'S2', 7, ', M1.speed {running}'),
    stops('stops', 'Stops on Stop and stays off', 'S2', 'S1'),
    tripped(5),
    lost(5),
  ],
  rules: STARTER_RULES,
  repair: 'marked',
  faults: RUN_FAULTS,
};

/** All stops in series, all starts in parallel, three leads to the quay. */
const BOTH_STATIONS = `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S3 21; S3 22 > S4 13; S4 13 > S2 13; S2 13 > KM1 13; KM1 14 > S2 14; S2 14 > S4 14; KM1 A1 > KM1 14\n${COIL_RETURN}`;

const ADD_STATION: Recipe = {
  id: 'brine-pump-add-station',
  title: 'Add a station',
  family: 'seal-in',
  brief:
    'The pump is wired and works from the pump house, by S1 and S2. Add the quay’s station: S3 stops it and S4 starts it as well. All stops stand in series and all starts in parallel, so one link of the old wiring must go: find it before you add anything.',
  board: DIRECT_STARTER,
  change: { title: 'Brine pump board with two stations', add: QUAY },
  laid: HELD_LEADS,
  reference: BOTH_STATIONS,
  observe: OBSERVE,
  behaviours: FROM_TWO_PLACES,
  rules: STARTER_RULES,
  repair: 'marked',
  faults: [...RUN_FAULTS.slice(1), 'contact-stuck-open S3:21-22 | Stop on the quay does not make again'],
};

const TAKE_LINK_OUT: Recipe = {
  ...ADD_STATION,
  id: 'brine-pump-take-link-out',
  title: 'Take the link out',
  brief:
    'Somebody has added the quay’s station, and its Stop does nothing: the link from the first Stop to the first Start was left in. Prove which lead it is with the meter, take it out, and show that either stop now stops the pump.',
  laid: `${BOTH_STATIONS}\ncontrol: S1 22 > S2 13`,
};

const STATION_ON_CABLE: Recipe = {
  ...ADD_STATION,
  id: 'brine-pump-station-on-cable',
  title: 'Station on a three-core cable',
  brief:
    'The quay’s station, S3 and S4, hangs in its box on a cable of three cores. Wire the pump so that either station starts and stops it. What can be joined inside the box is joined there, or the cable has too few cores.',
  change: {
    title: 'Brine pump board with a station on a cable',
    add: QUAY,
  },
  reference: BOTH_STATIONS,
  rules: { ...STARTER_RULES, cables: [{ devices: ['S3', 'S4'], cores: 3 }] },
};

/** The brake is released before the motor is switched on, and nothing but its coil keeps it released. */
const BRAKE: Recipe = {
  id: 'sluice-gate-brake',
  title: 'Sluice gate with a brake',
  family: 'other',
  brief:
    'Spring-applied brake Y1 holds the gate; its coil releases it. Start brings in KM2, which feeds the brake and holds; an auxiliary contact of KM2 then brings in KM1 and the motor, so that the brake is free before the motor turns. Stop, overload and loss of supply let both go, and the brake falls in by its spring.',
  board: DIRECT_STARTER,
  forms: ['iec'],
  change: {
    title: 'Sluice gate board with a brake',
    add: [
      { before: 'F2', device: contactor('KM2', ['NO 13-14', 'NO 23-24']) },
      {
        before: 'M1',
        device: { tag: 'Y1', type: 'brake', options: { coil: { voltage: 230, kind: 'ac' }, motor: 'M1' } },
      },
    ],
  },
  reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > KM2 13; KM2 14 > S2 14; S2 14 > KM2 A1; KM2 A1 > KM2 23; KM2 24 > KM1 A1; F1 2 > KM2 1; KM2 2 > Y1 B1\nreturn: KM1 A2 > {return}; KM2 A2 > KM1 A2; Y1 B2 > KM2 A2`,
  observe: [...OBSERVE, 'KM2', 'Y1'],
  behaviours: [
    {
      id: 'released',
      title: 'The brake is released and the motor runs; both hold',
      points: 6,
      steps: `KM1 out, KM2 out, Y1 out, M1.driven none; ${tap('S2')}; wait 1; KM2 in, Y1 in, ${RUNS}, M1.speed {running}`,
    },
    {
      id: 'falls-in',
      title: 'On Stop the brake falls in and the gate stands within a second',
      points: 5,
      steps: `${start('S2')}; wait 1; press S1; KM1 out, KM2 out, Y1 out, M1.driven none; release S1; wait 1; M1.speed ..10, Y1 out`,
    },
    { ...tripped(5), title: 'The overload lets motor and brake go and must be reset' },
    lost(5),
  ],
  rules: STARTER_RULES,
  faults: [
    'coil-open Y1 | Coil of the brake burnt through',
    'open-wire KM2:2 Y1:B1 | Lead to the brake broken',
    'contact-stuck-open KM2:23-24 | The contact that brings the motor in does not make',
    'contact-stuck-closed KM2:1-2 | Pole to the brake welded: it does not fall in',
  ],
};

export const EXTENSIONS: readonly Recipe[] = [ADD_HOLD, ADD_STATION, TAKE_LINK_OUT, STATION_ON_CABLE, BRAKE];
