import { DC_COIL, LAMP_BOARD } from '../boards.js';
import type { Recipe } from '../recipe.js';

const LAMP_CIRCUIT = {
  family: 'first-circuits',
  board: LAMP_BOARD,
  observe: ['H1'],
  rules: { maxWiresPerTerminal: 2 },
} as const;

export const FIRST_CIRCUITS: readonly Recipe[] = [
  {
    ...LAMP_CIRCUIT,
    id: 'button-lamp-no',
    title: 'Button and lamp, NO',
    brief:
      'The pump house wants a lamp that shows only while the attendant presses a button. Wire S1 (NO 13-14) and H1 to the 24 V DC supply: from plus, through the contact, through the lamp, back to minus.',
    reference: 'plus: G2 + > S1 13; S1 14 > H1 X1\nminus: H1 X2 > G2 -',
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
    faults: [
      'open-wire S1:14 H1:X1 | Lead to the lamp broken inside',
      'contact-stuck-open S1:13-14 | Contact of S1 never makes',
      'lamp-failed H1 | Lamp has failed',
    ],
  },
  {
    ...LAMP_CIRCUIT,
    id: 'button-lamp-nc',
    title: 'Button and lamp, NC',
    brief:
      'A lamp in the control room shows that the sluice key hangs in its place: it goes dark only while S1 is pressed. Use the normally closed contact 21-22 of S1; its open one stays free.',
    change: { alter: { S1: { options: { contacts: ['NO 13-14', 'NC 21-22'] } } } },
    reference: 'plus: G2 + > S1 21; S1 22 > H1 X1\nminus: H1 X2 > G2 -',
    behaviours: [
      {
        id: 'dark-pressed',
        title: 'Lit until S1 is pressed, dark while it is',
        points: 5,
        steps: 'H1 lit; press S1; H1 dark, S1:21-22 open',
      },
      {
        id: 'lit-again',
        title: 'Lit again when S1 is let go',
        points: 5,
        steps: 'press S1; H1 dark; release S1; H1 lit; press S1; H1 dark; release S1; H1 lit',
      },
    ],
    faults: [
      'contact-stuck-closed S1:21-22 | Contact of S1 never parts',
      'open-wire S1:22 H1:X1 | Lead to the lamp broken inside',
      'lamp-failed H1 | Lamp has failed',
    ],
  },
  {
    ...LAMP_CIRCUIT,
    id: 'coil-and-contact',
    title: 'Coil and its contact',
    brief:
      'The coil of relay K1 and its contact 13-14 are parts of one device. S1 feeds the coil; the contact, in a path of its own, feeds lamp H1. The lamp follows the coil and drops when the button is let go.',
    change: {
      title: 'Button, relay and lamp',
      add: [
        {
          before: 'S1',
          device: {
            tag: 'K1',
            type: 'relay',
            options: { contacts: ['NO 13-14', 'NC 21-22'], coil: DC_COIL },
          },
        },
      ],
    },
    reference:
      'plus: G2 + > S1 13; S1 13 > K1 13; S1 14 > K1 A1; K1 14 > H1 X1\nminus: K1 A2 > H1 X2; H1 X2 > G2 -',
    observe: ['K1', 'H1'],
    behaviours: [
      {
        id: 'follows',
        title: 'Coil and lamp come with the button',
        points: 5,
        steps: 'K1 out, H1 dark; press S1; K1 in, K1:13-14 closed, H1 lit',
      },
      {
        id: 'drops',
        title: 'Both drop when the button is let go',
        points: 5,
        steps: 'press S1; K1 in, H1 lit; release S1; K1 out, K1:13-14 open, H1 dark',
      },
    ],
    faults: [
      'coil-open K1 | Coil of K1 burnt through',
      'contact-stuck-open K1:13-14 | Contact 13-14 of K1 never makes',
      'open-wire K1:14 H1:X1 | Lead to the lamp broken inside',
    ],
  },
];
