import { describeTest, possibleAt, type Elimination, type Search } from '../../diagnosis/index.js';
import { isSwitchgearDevice, isTransformer, isSupply, type Device } from '../../catalogue/index.js';
import { deviceOf, spellRef, spellWire, splitRef, type Bench } from '../../bench/index.js';
import { compile, describeStimulus, targetOf, type Stimulus } from '../../circuit/index.js';
import { describeFault, faultKey, readFault, terminalsAt, type Fault } from '../../faults/index.js';
import {
  Proving,
  SearchBench,
  isInDevice,
  isInLead,
  isSamePlace,
  type MeterReading,
  type MeterRequest,
  type SearchAnswer,
  type SearchEvent,
} from '../../live/index.js';
import type { Behaviour } from '../exercise.js';
import { describeOhms } from '../practice/work.js';

/** One entry of a search as a notebook has it. */
export interface Note {
  /** Seconds of the bench's clock. */
  readonly t: number;
  readonly kind: SearchEvent['kind'];
  readonly text: string;
  /** The supply was on. */
  readonly live: boolean;
  /** Causes that were possible before it, and after it. */
  readonly before: number;
  readonly after: number;
}

/** One reading, with what could have been known by it. */
export interface ReadingNote extends Note {
  /** Terminals on which it lay. */
  readonly at: readonly string[];
  /** The best that could be done at that moment, and how many causes it would have left on the average. */
  readonly best: { readonly title: string; readonly left: number } | null;
}

/** A verdict, and how right it was. */
export interface VerdictNote {
  readonly t: number;
  readonly text: string;
  readonly cause: boolean;
  readonly place: boolean;
}

/** Work on the board itself: a lead taken off, a part exchanged. */
export interface HandNote {
  readonly t: number;
  readonly text: string;
  readonly kind: 'lift' | 'refit' | 'exchange' | 'renew';
  readonly live: boolean;
  readonly locked: boolean;
  /** A voltmeter was laid since the supply was switched off. */
  readonly provedDead: boolean;
  /** Causes that were possible at that moment, and whether one of them is cured by it. */
  readonly possible: number;
  readonly suspected: boolean;
  /** It took a fault away. */
  readonly cured: boolean;
  /** Some reading was made before it. */
  readonly measured: boolean;
}

/** What a replay of a search found: nothing of it is taken from anybody's word. */
export interface SearchFindings {
  readonly faults: readonly string[];
  /** Terminals at which they are; absent in a report of an earlier marker. */
  readonly at?: readonly string[];
  readonly notes: readonly Note[];
  readonly readings: readonly ReadingNote[];
  readonly verdicts: readonly VerdictNote[];
  readonly hands: readonly HandNote[];
  /** Readings that a search by the best next one needs for these faults. */
  readonly expert: number;
  /** Faults that are in the board at the end. */
  readonly left: readonly string[];
  /** Functions that the board has shown since it was last touched, and all there are. */
  readonly proved: readonly string[];
  readonly functions: number;
  /** Seconds from the first entry to the last. */
  readonly seconds: number;
}

/** A fault of the same place: which of the true ones a guess means. */
export type Alike = (one: Fault, other: Fault) => boolean;

/** What is needed to judge a search. */
export interface Searched {
  readonly bench: Bench;
  readonly behaviours: readonly Behaviour[];
  /** Of the beginning. */
  readonly faults: readonly Fault[];
  /** Of the beginning, and those put in later. */
  readonly hidden: readonly Fault[];
  readonly log: readonly SearchEvent[];
  readonly elimination: Elimination;
  /** Over the single faults of the board, with their places in it. */
  readonly search: Search;
  readonly places: ReadonlyMap<string, number>;
  readonly expert: number;
  readonly isAlike: Alike;
}

/** What an instrument showed, in words. */
export function describeReading(reading: MeterReading): string {
  if ('refused' in reading) return reading.refused;
  if ('sequence' in reading)
    return reading.sequence === 'none' ? 'no rotating field' : `field turns ${reading.sequence}`;
  if (reading.unit === 'Ω') return describeOhms(reading.value);
  return `${Number(reading.value.toPrecision(3))} ${reading.unit}`;
}

const METERS = { volts: 'Volts', ohms: 'Ohms', sequence: 'Phase order' } as const;

const leadWords = ({ wires }: Bench, wire: number): string => {
  const one = wires[wire];
  return one ? spellWire(one) : 'no lead';
};

/** Where an instrument lies, in words. */
export function describeRequest(request: MeterRequest, bench: Bench): string {
  if (request.mode === 'amps') {
    return `Clamp about ${leadWords(bench, request.lead)}`;
  }
  return `${METERS[request.mode]} ${request.at.map((ref) => spellRef(ref)).join(' to ')}`;
}

/** Terminals on which an instrument lies, or between which the lead in its clamp runs. */
function placesOf(request: MeterRequest, { wires }: Bench): readonly string[] {
  if (request.mode !== 'amps') return request.at;
  const wire = wires[request.lead];
  return wire ? [wire.from, wire.to] : [];
}

/** An entry of a search, in words. */
export function describeEntry(event: SearchEvent, answer: SearchAnswer, bench: Bench): string {
  const refusal = answer.kind === 'refused' ? ` (refused: ${answer.reason})` : '';
  return `${entryWords(event, answer, bench)}${refusal}`;
}

function entryWords(event: SearchEvent, answer: SearchAnswer, bench: Bench): string {
  switch (event.kind) {
    case 'act':
      return describeStimulus(event.stimulus);
    case 'read':
      return `${describeRequest(event.request, bench)}: ${answer.kind === 'read' ? describeReading(answer.reading) : ''}`;
    case 'look':
      return `${event.what} stands at ${answer.kind === 'look' ? `${answer.value} ${answer.unit}` : '–'}`;
    case 'lock':
      return event.on ? 'locked off' : 'lock taken away';
    case 'lift':
      return `lead ${leadWords(bench, event.wire)} taken off`;
    case 'refit':
      return `lead ${leadWords(bench, event.wire)} put back`;
    case 'verdict':
      return `verdict: ${describeFault(readFault(event.fault))}`;
    case 'exchange':
      return `${event.tag} exchanged`;
    case 'renew':
      return `lead ${leadWords(bench, event.wire)} renewed`;
    case 'inject':
      return `put in by the instructor: ${describeFault(readFault(event.fault))}`;
    case 'clear':
      return `taken out by the instructor: ${describeFault(readFault(event.fault))}`;
  }
}

/** How right a verdict is: it means a true fault, or at least the place of one. */
export function judgeVerdict(guess: Fault, hidden: readonly Fault[], isAlike: Alike) {
  const cause = hidden.some((fault) => isAlike(fault, guess));
  return { cause, place: cause || hidden.some((fault) => isSamePlace(fault, guess)) };
}

const supplyOf = ({ devices }: Bench, tag: string | null): Device | undefined =>
  devices.find((device) => device.tag === tag && isSupply(device));

/** Volts under which a board is proved dead, V (common practice, no source). */
const DEAD_VOLTS = 5;

/** Works a search again and finds what it was worth. */
export function findIn(searched: Searched): SearchFindings {
  const replay = new Replay(searched);
  searched.log.forEach((event, n) => {
    replay.take(event, n);
  });
  return replay.findings();
}

/** A search that is worked again, entry by entry. */
class Replay {
  private readonly board: SearchBench;
  private readonly proving: Proving;
  private readonly notes: Note[] = [];
  private readonly readings: ReadingNote[] = [];
  private readonly verdicts: VerdictNote[] = [];
  private readonly hands: HandNote[] = [];
  private provedDead = false;

  constructor(private readonly searched: Searched) {
    this.board = new SearchBench(searched.bench, searched.faults);
    this.proving = new Proving(searched.behaviours);
  }

  private possible(entry: number, answered = false): number[] {
    return possibleAt(this.searched.elimination, entry, answered);
  }

  /** The best that could be done before an entry. */
  private best(entry: number): ReadingNote['best'] {
    const { elimination, places, search } = this.searched;
    const among = this.possible(entry).flatMap((k) => placeOf(elimination, k, places) ?? []);
    const next = search.next(among);
    if (!next) return null;
    const left = next.splits.reduce((sum, n) => sum + n * n, 0) / among.length;
    return { title: describeTest(next.test), left: Math.round(left * 10) / 10 };
  }

  take(event: SearchEvent, n: number): void {
    const { board, proving, searched } = this;
    settleTo(board, proving, event.t);
    const before = this.possible(n).length;
    // What an instrument shows is known at once; what an act does, when the board is looked at again.
    const isReading = event.kind === 'read' || event.kind === 'look';
    const isLast = n + 1 >= searched.log.length;
    const after = (isReading || isLast ? this.possible(n, true) : this.possible(n + 1)).length;
    const live = board.isSupplied;
    const held = board.faults.length;
    const answer = board.do(event);
    const text = describeEntry(event, answer, searched.bench);
    const note: Note = { t: event.t, kind: event.kind, text, live, before, after };
    if (event.kind !== 'look' || event.what !== '') this.notes.push(note);
    if (event.kind === 'act') this.act(event.stimulus);
    else if (event.kind === 'read') this.read(event.request, answer, note, n);
    else if (event.kind === 'look' && event.what !== '')
      this.readings.push({ ...note, best: this.best(n), at: [] });
    else if (event.kind === 'verdict') {
      const { hidden, isAlike } = searched;
      this.verdicts.push({ t: event.t, text, ...judgeVerdict(readFault(event.fault), hidden, isAlike) });
    } else if (isHand(event)) this.hand(event, note, n, board.faults.length < held);
  }

  private act(stimulus: Stimulus): void {
    this.proving.act(stimulus);
    if (supplyOf(this.searched.bench, targetOf(stimulus))) this.provedDead = false;
  }

  /** A voltmeter on a board that is off proves it dead: it is no reading in search of the fault. */
  private read(request: MeterRequest, answer: SearchAnswer, note: Note, n: number): void {
    if (note.live || request.mode !== 'volts') {
      this.readings.push({ ...note, best: this.best(n), at: placesOf(request, this.searched.bench) });
      return;
    }
    const reading = answer.kind === 'read' ? answer.reading : null;
    if (reading && 'value' in reading) this.provedDead ||= Math.abs(reading.value) < DEAD_VOLTS;
  }

  private hand(event: HandEvent, { t, text, live }: Note, n: number, cured: boolean): void {
    const { bench, elimination } = this.searched;
    this.proving.restart();
    const among = this.possible(n);
    this.hands.push({
      t,
      text,
      kind: event.kind,
      live,
      locked: this.board.locked,
      provedDead: this.provedDead,
      possible: among.length,
      suspected: among.some((k) =>
        elimination.candidates[k]!.some((fault) => isTouched(fault, event, bench)),
      ),
      cured,
      measured: this.readings.length > 0,
    });
  }

  findings(): SearchFindings {
    const { board, proving, searched, notes, readings, verdicts, hands } = this;
    const { log, hidden } = searched;
    const circuit = compile(searched.bench);
    settleTo(board, proving, board.clock + 1);
    return {
      faults: hidden.map(describeFault),
      at: hidden.flatMap((fault) => terminalsAt(circuit, fault)),
      notes,
      readings,
      verdicts,
      hands,
      expert: searched.expert,
      left: board.faults.map(describeFault),
      proved: [...proving.shown],
      functions: searched.behaviours.length,
      seconds: log.length === 0 ? 0 : log.at(-1)!.t - log[0]!.t,
    };
  }
}

type HandEvent = Extract<SearchEvent, { readonly kind: HandNote['kind'] }>;

const isHand = (event: SearchEvent): event is HandEvent =>
  event.kind === 'lift' || event.kind === 'refit' || event.kind === 'exchange' || event.kind === 'renew';

/** Seconds between two looks at a board while it is worked again. */
const LOOK = 0.1;

/** Lets time pass up to a moment; what the board does on the way is seen. */
function settleTo(board: SearchBench, proving: Proving, t: number): void {
  // Nobody looks at a board for hours: what it shows after a while it has shown.
  const from = Math.max(board.clock, t - 120);
  board.advanceTo(from);
  for (let at = from; at < t; at += LOOK) {
    board.advanceTo(Math.min(t, at + LOOK));
    proving.perceive(board.live.frame()!, board.shape);
  }
}

/** The key of a fault among the single faults of a board, whenever it is there. */
export const singleKey = (fault: Fault): string => faultKey({ ...fault, when: undefined });

/** The place of a candidate's own fault among the single faults of the board. */
function placeOf(
  { candidates }: Elimination,
  k: number,
  places: ReadonlyMap<string, number>,
): number | undefined {
  const fault = candidates[k]?.at(-1);
  return fault && places.get(singleKey(fault));
}

/** True where a fault is in what a hand is on. */
function isTouched(fault: Fault, event: HandEvent, { wires }: Bench): boolean {
  if (event.kind === 'exchange') return isInDevice(fault, event.tag);
  const wire = wires[event.wire];
  return wire !== undefined && isInLead(fault, `${wire.from} ${wire.to}`);
}

/**
 * True of terminals at which an experienced hand begins: the supply and what protects and isolates behind
 * it.
 */
export function isNearSupply(bench: Bench, ref: string): boolean {
  const device = deviceOf(bench, splitRef(ref).tag);
  return device !== undefined && (isSupply(device) || isSwitchgearDevice(device) || isTransformer(device));
}
