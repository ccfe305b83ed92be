import type { ColourScheme } from '../marking/index.js';
import { FORM, type FormName } from './form.js';
import type { Paint, Purpose } from './leads.js';
import type { Phase } from './nets.js';

const PHASES = ['red', 'yellow', 'blue'] as const;
/** Common practice, no source: places where the phases are red, yellow and blue. */
const OTHER = {
  return: 'black',
  earth: 'green-yellow',
  control: 'grey',
  plus: 'grey',
  minus: 'grey',
} as const;

/** Both conductors of a DC control circuit are blue by IEC 60204-1 and NFPA 79 (from memory). */
const byStandard = (form: FormName, purpose: Purpose): string =>
  purpose === 'plus' || purpose === 'minus' ? 'blue' : FORM[form].paint[purpose].colour;

/** How leads look: areas by the form, colours by the form or by another habit. */
export function paintOf(
  form: FormName,
  colours: 'form' | ColourScheme,
): (purpose: Purpose, phase: Phase | null) => Paint {
  const { paint } = FORM[form];
  if (colours === 'form') return (purpose) => paint[purpose];
  if (colours !== 'red-yellow-blue')
    return (purpose) => ({ ...paint[purpose], colour: byStandard(colours, purpose) });
  return (purpose, phase) => ({
    ...paint[purpose],
    colour: purpose === 'power' ? PHASES[phase ?? 0] : OTHER[purpose],
  });
}
