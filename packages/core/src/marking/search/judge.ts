import { plural } from '../../plural.js';
import type { Bench } from '../../bench/index.js';
import type { Evidence } from '../evidence.js';
import type { Judged, Judgements } from '../share.js';
import { isNearSupply, type ReadingNote, type SearchFindings } from './findings.js';
import { atTime } from '../practice/work.js';

/** What is left of the points for the right cause by each wrong verdict (common practice, no source). */
const KEPT_BY_WRONG_VERDICT = 0.5;

type Outcome = { readonly broken: Evidence | null; readonly kept?: number };

const KEPT: Outcome = { broken: null };
const lost = (found: string, kept = 0): Outcome => ({ broken: { found }, kept });

/**
 * The parts of a search, each point with what was known at that moment. Weights are common practice, no
 * source.
 */
export function judgeSearch(findings: SearchFindings, minutes: number, bench: Bench): Judgements {
  const criterion = (
    id: string,
    title: string,
    weight: number,
    outcome: Outcome,
    essential = false,
  ): Judged => ({
    id,
    title,
    weight,
    ...outcome,
    ...(essential ? { essential } : {}),
  });
  return {
    behaviour: [
      criterion('cause', 'The right cause is named', 3, judgeCause(findings)),
      criterion('place', 'The right device or lead is named', 3, judgePlace(findings)),
      criterion('restored', 'The board is restored and proved', 4, judgeRestored(findings), true),
    ],
    safety: [
      criterion(
        'isolation',
        'Isolated, locked off and proved dead before hands are on the board',
        2,
        judgeIsolation(findings),
        true,
      ),
      criterion('live-work', 'No needless live work', 1, judgeLiveWork(findings, bench)),
    ],
    rules: [
      criterion('readings', 'Readings against those that an expert needs', 2, judgeReadings(findings)),
      criterion(
        'order',
        'Symptom first, then the supply, then half of what is left',
        1,
        judgeOrder(findings, bench),
      ),
    ],
    workmanship: [
      criterion('parts', 'No part changed without a reading', 1, judgeParts(findings)),
      criterion('time', `Done within ${minutes} minutes`, 1, judgeTime(findings, minutes)),
    ],
  };
}

function judgeCause({ faults, verdicts }: SearchFindings): Outcome {
  const right = Math.min(faults.length, verdicts.filter(({ cause }) => cause).length);
  const wrong = verdicts.filter(({ cause }) => !cause);
  if (right === faults.length && wrong.length === 0) return KEPT;
  const kept = faults.length === 0 ? 0 : (right / faults.length) * KEPT_BY_WRONG_VERDICT ** wrong.length;
  const named = wrong.map((one) => `${one.text}${atTime(one)}`).join('; ');
  if (verdicts.length === 0) return lost(`no verdict was given; it was ${faults.join(', and ')}`);
  return lost(
    `${right} of ${faults.length} named rightly${named ? `; not right: ${named}` : ''}; it was ${faults.join(', and ')}`,
    kept,
  );
}

function judgePlace({ faults, verdicts }: SearchFindings): Outcome {
  const right = Math.min(faults.length, verdicts.filter(({ place }) => place).length);
  if (right === faults.length) return KEPT;
  return lost(
    `${right} of ${faults.length} places named; it was ${faults.join(', and ')}`,
    faults.length === 0 ? 0 : right / faults.length,
  );
}

function judgeRestored({ left, proved, functions }: SearchFindings): Outcome {
  if (left.length > 0) return lost(`still in the board: ${left.join(', and ')}`);
  if (proved.length >= functions) return KEPT;
  return lost(
    `${proved.length} of ${functions} functions were shown after the last hand on the board`,
    0.5 + (0.5 * proved.length) / Math.max(1, functions),
  );
}

/** Who sets a dial or replaces a link needs no hands on the board. */
function judgeIsolation({ hands, left, faults }: SearchFindings): Outcome {
  if (hands.length === 0)
    return left.length === 0 && faults.length > 0
      ? KEPT
      : lost('nothing was repaired, so nothing was isolated');
  const wrong = hands.filter(({ live, locked, provedDead }) => live || !locked || !provedDead);
  if (wrong.length === 0) return KEPT;
  const [first] = wrong;
  const why = first!.live
    ? 'with the supply on'
    : !first!.locked
      ? 'without the lock'
      : 'without being proved dead by a voltmeter';
  return lost(
    `${wrong.length} of ${hands.length} times, first${atTime(first)}: ${first!.text}, ${why}`,
    1 - wrong.length / hands.length,
  );
}

const toldNothing = ({ before, after }: ReadingNote): boolean => before === after && before > 1;

/** Both probes on the supply, or on what protects and isolates behind it. */
const isAtSupply = (bench: Bench, { at }: Pick<ReadingNote, 'at'>): boolean =>
  at.length > 0 && at.every((ref) => isNearSupply(bench, ref));

/** Looking whether the supply is there is never needless. */
function judgeLiveWork({ readings }: SearchFindings, bench: Bench): Outcome {
  const live = readings.filter((one) => one.live && one.kind === 'read' && !isAtSupply(bench, one));
  const needless = live.filter((one) => toldNothing(one) || one.before <= 1);
  if (needless.length === 0) return KEPT;
  const [first] = needless;
  return lost(
    `${needless.length} of ${live.length} live readings told nothing new, first${atTime(first)}: ${first!.text} (${first!.before} causes before and after)`,
    1 - needless.length / live.length,
  );
}

function judgeReadings({ readings, expert }: SearchFindings): Outcome {
  const used = readings.length;
  if (used <= expert) return used > 0 || expert === 0 ? KEPT : lost('nothing was read');
  const worst = readings.filter(toldNothing)[0];
  const could = worst?.best
    ? `; ${worst.text}${atTime(worst)} told nothing, ${worst.best.title} would have left ${worst.best.left} of ${worst.before}`
    : '';
  return lost(`${plural(used, 'reading')}; an expert needs ${expert}${could}`, expert / used);
}

function judgeOrder({ notes, readings }: SearchFindings, bench: Bench): Outcome {
  const first = readings[0];
  if (!first) return lost('nothing was read');
  const said: string[] = [];
  const symptom = notes.findIndex(({ kind, live }) => kind === 'act' && live);
  const reading = notes.findIndex(({ kind }) => kind === 'read' || kind === 'look');
  const sawSymptom = symptom >= 0 && symptom < reading;
  if (!sawSymptom) said.push('the first reading came before the board was worked');
  const supply = readings.findIndex((one) => isAtSupply(bench, one));
  const sawSupply = supply >= 0 && supply <= 1;
  if (!sawSupply) said.push('the supply was not looked at first');
  const halving = readings.filter((one) => one.best !== null);
  const good = halving.filter(({ before, after }) => after <= 0.67 * before);
  const part = halving.length === 0 ? 1 : good.length / halving.length;
  if (part < 0.5) {
    const poor = halving.find((one) => !good.includes(one));
    said.push(
      `${halving.length - good.length} of ${halving.length} readings left more than two thirds of the causes${poor?.best ? `: ${poor.text}${atTime(poor)} left ${poor.after} of ${poor.before}, ${poor.best.title} would have left ${poor.best.left}` : ''}`,
    );
  }
  return said.length === 0
    ? KEPT
    : lost(said.join('; '), (Number(sawSymptom) + Number(sawSupply) + Math.min(1, 2 * part)) / 3);
}

function judgeParts({ hands }: SearchFindings): Outcome {
  const parts = hands.filter(({ kind }) => kind === 'exchange' || kind === 'renew');
  if (parts.length === 0) return KEPT;
  const wrong = parts.filter(({ cured }) => !cured);
  const blind = parts.filter(({ measured, cured }) => cured && !measured);
  const bad = [...wrong, ...blind];
  if (bad.length === 0) return KEPT;
  const [first] = bad;
  return lost(
    `${bad.length} of ${parts.length} without need or reading, first${atTime(first)}: ${first!.text}; ${first!.possible} causes were possible then${first!.suspected ? '' : ', none of them there'}`,
    1 - bad.length / parts.length,
  );
}

function judgeTime({ seconds }: SearchFindings, minutes: number): Outcome {
  const used = seconds / 60;
  const over = used - minutes;
  return over <= 0 ? KEPT : lost(`${used.toFixed(0)} minutes were used`, Math.max(0, 1 - over / minutes));
}
