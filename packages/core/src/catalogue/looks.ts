import type { Looks, Operator, PoleSymbol } from './kind.js';

/** Height of most faces, board millimetres. */
const HEIGHT = 84;

/** How most devices look; each record says what is its own. */
type Plain = Looks<string, unknown, unknown>;

interface More {
  readonly height?: number;
  readonly pole?: PoleSymbol;
  readonly operator?: Operator;
}

const looks = (mounting: Plain['mounting'], { height, pole, operator = 'none' }: More = {}) => ({
  mounting,
  height: height ?? HEIGHT,
  pole: pole ?? ('contact-main' as const),
  operator: () => operator,
});

/** On a rail of the panel, 0 the uppermost. */
export const onRail = (rail: 0 | 1 | 2 | 3 | 4, more: More = {}) => looks({ zone: 'panel', rail }, more);

/** On the door: signals above, then what stops, then what is turned and pressed. */
export const onDoor = (order: number, more: More = {}) => looks({ zone: 'door', order }, more);

/** Out at the machine. */
export const inField = (more: More = {}) => looks({ zone: 'field' }, more);
