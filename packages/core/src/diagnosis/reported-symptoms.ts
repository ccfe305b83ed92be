import { targetOf, type Stimulus } from '../circuit/index.js';

/** What an operator would say of a board with a fault, from what is seen of it. */
export const REPORTED_SYMPTOMS = {
  'starts-by-itself': 'Something starts by itself when the supply comes on or a button is let go.',
  'will-not-stop': 'It will not stop.',
  chatters: 'A contactor chatters.',
  'pulls-in-nothing': 'Nothing happens when it should start.',
  'does-not-run': 'The contactor pulls in, but the motor does not run.',
  hums: 'The motor hums and does not turn.',
  'wrong-way': 'The motor turns the wrong way.',
  'does-not-hold': 'It runs only while the button is pressed.',
  'does-not-change-over': 'It starts, but does not go on to the next step.',
  'stops-by-itself': 'It runs, and after a while it stops by itself.',
  trips: 'Its overload relay trips.',
  'supply-trips': 'A breaker or the supply trips.',
  'will-not-reset': 'It cannot be started again after a trip.',
  'does-not-trip': 'Its overload relay does not trip when it is tested.',
  'lamp-dark': 'A lamp stays dark.',
  'lamp-lit': 'A lamp is lit when it should not be.',
  otherwise: 'It does not do what it should.',
} as const;

export type ReportedSymptom = keyof typeof REPORTED_SYMPTOMS;

/** What one device shows, of the sound board and of the faulty one. */
export interface Sight {
  readonly what: string;
  readonly sound: string;
  readonly faulty: string;
}

const TURNING = ['forward', 'reverse'];
const LAMP = ['lit', 'dim', 'dark', 'burnt'];

/** The reported symptom that one device gives after something was done; null where it is as it should be. */
export function reportedSymptomOf(
  { what, sound, faulty }: Sight,
  last: Stimulus | undefined,
  all: readonly Sight[],
): ReportedSymptom | null {
  if (sound === faulty) return null;
  if (faulty === 'chattering') return 'chatters';
  if (what.endsWith('.driven')) return motorReportedSymptom(sound, faulty, last, all);
  if (LAMP.includes(sound)) return sound === 'dark' ? 'lamp-lit' : 'lamp-dark';
  if (sound === 'healthy') return last && 'reset' in last ? 'will-not-reset' : 'trips';
  if (sound === 'tripped') return 'does-not-trip';
  if (faulty === 'tripped') return 'supply-trips';
  if (sound === 'in') return missingReportedSymptom(last, all);
  if (faulty === 'in')
    return hasComeByItself(last) ? 'starts-by-itself' : stops(last) ? 'will-not-stop' : 'otherwise';
  if (faulty === 'idle') return missingReportedSymptom(last, all);
  return sound === 'done' ? 'does-not-change-over' : 'otherwise';
}

function motorReportedSymptom(
  sound: string,
  faulty: string,
  last: Stimulus | undefined,
  all: readonly Sight[],
): ReportedSymptom {
  if (faulty === 'single-phase') return 'hums';
  if (TURNING.includes(sound) && TURNING.includes(faulty)) return 'wrong-way';
  if (faulty !== 'none')
    return hasComeByItself(last) ? 'starts-by-itself' : stops(last) ? 'will-not-stop' : 'otherwise';
  return missingReportedSymptom(last, all);
}

/** Something should be in or driven, and is not. */
function missingReportedSymptom(last: Stimulus | undefined, all: readonly Sight[]): ReportedSymptom {
  if (all.some(({ sound, faulty }) => sound === 'healthy' && faulty === 'tripped')) return 'trips';
  if (last && 'release' in last) return 'does-not-hold';
  if (last && ('wait' in last || 'elapse' in last))
    return all.some(({ faulty }) => faulty === 'in') ? 'does-not-change-over' : 'stops-by-itself';
  return all.some(({ what, sound, faulty }) => !what.includes('.') && sound === 'in' && faulty === 'in')
    ? 'does-not-run'
    : 'pulls-in-nothing';
}

const hasComeByItself = (last: Stimulus | undefined): boolean =>
  last === undefined || 'close' in last || 'reset' in last || 'restore' in last || 'release' in last;

const stops = (last: Stimulus | undefined): boolean =>
  last !== undefined &&
  ('press' in last || 'trip' in last || 'open' in last || 'turn' in last) &&
  targetOf(last) !== null;
