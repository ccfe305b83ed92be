import { LAMP_BOARD } from '../boards.js';
import type { Recipe } from '../recipe.js';

export const FIRST_CIRCUITS: readonly Recipe[] = [
  {
    id: 'button-lamp-no',
    title: 'Button and lamp, NO',
    family: 'first-circuits',
    brief:
      'The pump house wants a lamp that shows only while the attendant presses a button. Wire push-button S1 (normally open contact 13-14) and lamp H1 to the 24 V DC supply so that H1 is lit while S1 is pressed and dark otherwise. Follow one current path from plus, through the contact, through the lamp, back to minus.',
    board: LAMP_BOARD,
    reference: 'plus: G2 + > S1 13; S1 14 > H1 X1\nminus: H1 X2 > G2 -',
    observe: ['H1'],
    behaviours: [
      {
        id: 'lit-pressed',
        title: 'Dark until S1 is pressed, lit while it is',
        points: 5,
        steps: 'H1 dark; press S1; H1 lit, S1:13-14 closed',
      },
      {
        id: 'dark-again',
        title: 'Dark again when S1 is let go, and lit again when it is pressed',
        points: 5,
        steps: 'press S1; H1 lit; release S1; H1 dark; press S1; H1 lit',
      },
    ],
    rules: { maxWiresPerTerminal: 2 },
    faults: [
      {
        id: 'broken-lead',
        title: 'Lead to the lamp is broken inside',
        fault: { 'open-wire': 'S1:14 H1:X1' },
      },
      { id: 'dead-lamp', title: 'Lamp has failed', fault: { 'lamp-failed': 'H1' } },
    ],
  },
];
