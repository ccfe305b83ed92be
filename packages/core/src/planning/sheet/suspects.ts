import { spellRef, spellWire, splitRef, type Bench } from '../../bench/index.js';
import { compile } from '../../circuit/index.js';
import { Search, Suspects, describeFaults, describeTest, finished, tabulate } from '../../diagnosis/index.js';
import type { Candidate, BoardObservation } from '../../diagnosis/index.js';
import { possibleFaults, type Fault } from '../../faults/index.js';
import type { Behaviour } from '../../marking/index.js';

/** What explains the findings on a board, in words, and the reading that tells most of it apart. */
export interface Explained {
  readonly suspects: readonly string[];
  readonly next: string | null;
}

/** Most explanations for which the next reading is sought, and most that are told. */
const TABLED = 120;
const TOLD = 12;

/** Leads that lie on a wrong terminal of their device, and leads of one device that are exchanged. */
function wiringMistakes(bench: Bench): Candidate[] {
  const circuit = compile(bench);
  const terminals = circuit.terminals;
  const moved = (from: string, right: string, to: string): Fault => ({
    kind: 'wrong-wire',
    place: `${from} ${right}`,
    to,
  });
  const near = (ref: string) =>
    terminals.filter((one) => one !== ref && splitRef(one).tag === splitRef(ref).tag);
  const ends = bench.wires.flatMap(({ from, to }) => [
    { stays: from, right: to },
    { stays: to, right: from },
  ]);
  const wrong = ends.flatMap(({ stays, right }) =>
    near(right)
      .filter((to) => to !== stays)
      .map((to): Candidate => [moved(stays, right, to)]),
  );
  const exchanged = ends.flatMap((one, k) =>
    ends
      .slice(k + 1)
      .filter(
        (other) =>
          other.right !== one.right &&
          splitRef(other.right).tag === splitRef(one.right).tag &&
          other.stays !== one.right &&
          one.stays !== other.right,
      )
      .map((other): Candidate => [
        moved(one.stays, one.right, other.right),
        moved(other.stays, other.right, one.right),
      ]),
  );
  return [...wrong, ...exchanged];
}

/** A lead that is not there, wrongly laid or exchanged, as a person at the board says it. */
function inWords(candidate: Candidate): string {
  const [first, second] = candidate;
  const lead = (place: string) => {
    const [from = '', to = ''] = place.split(' ');
    return spellWire({ from: from as `${string}:${string}`, to: to as `${string}:${string}` });
  };
  if (first?.kind === 'wrong-wire' && second?.kind === 'wrong-wire')
    return `the leads at ${spellRef(second.to ?? '')} and ${spellRef(first.to ?? '')} are exchanged`;
  if (first?.kind === 'wrong-wire')
    return `the lead ${lead(first.place)} lies on ${spellRef(first.to ?? '')}`;
  if (first?.kind === 'open-wire') return `the lead ${lead(first.place)} is missing or broken`;
  return describeFaults(candidate);
}

/** Something that was found, and whether a right board shows it. */
interface Found {
  readonly place: string;
  readonly right: boolean;
  readonly observation: BoardObservation;
}

/**
 * What of the wiring or of the devices explains everything that was found on a board; wiring mistakes come
 * first. Where nothing explains all of it, more than one thing is wrong: then each thing that was otherwise
 * is explained by itself, beside all that was right.
 */
export function explain(bench: Bench, behaviours: readonly Behaviour[], found: readonly Found[]): Explained {
  const suspects = new Suspects({ bench, behaviours }, candidatesOf(bench));
  for (const observation of inOrder(found.filter(({ right }) => right))) suspects.observe(observation);
  const left = suspects.remaining;
  const wrong = found.filter(({ right }) => !right);
  const explaining = wrong.map(({ observation }) =>
    left.filter((one) => suspects.explains(one, observation)),
  );
  const together = left.filter((one) => explaining.every((own) => own.includes(one)));
  if (together.length > 0 || wrong.length < 2)
    return { suspects: inWordsOf(together), next: nextReading(suspects, together) };
  const each = wrong.flatMap(({ place }, k) =>
    inWordsOf(explaining[k]!).map((words) => `${place}: ${words}`),
  );
  return { suspects: each, next: null };
}

const inWordsOf = (candidates: readonly Candidate[]): string[] =>
  [...new Set(candidates.map(inWords))].slice(0, TOLD);

function candidatesOf(bench: Bench): Candidate[] {
  const singles = possibleFaults(compile(bench)).map((fault): Candidate => [fault]);
  const isLead = ([fault]: Candidate) => fault?.kind === 'open-wire' || fault?.kind === 'wrong-wire';
  return [
    ...singles.filter(isLead),
    ...wiringMistakes(bench),
    ...singles.filter((candidate) => !isLead(candidate)),
  ];
}

/** The reading that tells most of some candidates apart; null where there is one alone, or too many. */
function nextReading({ referenceCircuit, solver }: Suspects, left: readonly Candidate[]): string | null {
  if (left.length < 2 || left.length > TABLED) return null;
  const next = new Search(finished(tabulate(referenceCircuit, left, solver))).next(left.map((_, k) => k));
  return next && describeTest(next.test);
}

/** Readings on the dead board first: they are quick, and rule most out. */
const inOrder = (found: readonly Found[]): BoardObservation[] =>
  found
    .map(({ observation }) => observation)
    .sort((a, b) => Number(b.dead ?? false) - Number(a.dead ?? false) || a.steps.length - b.steps.length);
