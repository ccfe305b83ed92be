import { createStore, type StoreApi } from 'zustand/vanilla';
import {
  applyEdit,
  benchOf,
  compile,
  foldEdits,
  invertEdit,
  laidLead,
  leadOf,
  noteHeld,
  openingBoard,
  schemeOf,
  usualAreas,
  usualColours,
  wireOf,
  type ColourScheme,
  type Edit,
  type EditSource,
  type LeadId,
  type Program,
  type Stimulus,
  type TerminalRef,
  type Wire,
  type Wiring,
  type WorkEntry,
} from '@contactum/core';
import type { AttemptView, LogEntryRequest } from '@contactum/contract';
import { areaOf, paletteOf } from '../board/colours.js';
import { companions, type Ends } from './three-phase.js';
import { editsIn, history, lastLaid, readingOf, unsentOf, workedSoFar, type ReadingTaken } from './log.js';
import { Sender, unsentKey, type Sending } from './sender.js';

export { unsentKey } from './sender.js';

/** A lead's end that has been taken off its terminal and not put down yet. */
export interface TakenEnd {
  readonly lead: LeadId;
  readonly end: 'from' | 'to';
}

/** What a student does to one board: the wiring, what is selected, and what is stored of it. */
interface BenchState extends Sending {
  readonly bench: Wiring;
  readonly undo: readonly Edit[];
  readonly redo: readonly Edit[];
  /** Terminal from which a lead is being laid. */
  readonly from: TerminalRef | null;
  readonly selected: LeadId | null;
  readonly moving: TakenEnd | null;
  /** Terminal that the keyboard stands on. */
  readonly cursor: TerminalRef | null;
  readonly colour: string;
  /** Colour and area of a lead follow from the circuit in which it lies. */
  readonly auto: boolean;
  /** Leads that go with the one just laid, which may be laid with one touch. */
  readonly offered: readonly Ends[];
  /** By which colours the board is wired. */
  readonly scheme: ColourScheme;
  readonly message: { readonly kind: 'info' | 'wrong'; readonly text: string } | null;
  /** Readings taken since the wiring was last changed, with the buttons that were held. */
  readonly readings: readonly ReadingTaken[];
  /** Number of the entry that last changed the wiring; what was permitted before does not hold any more. */
  readonly editedSeq: number;
  /** Another tab works on this board; this one shows it. */
  readonly following: boolean;
  /** The student asks for permission to energise. */
  readonly asks: boolean;
  /** The trainer board whose leads these are; null where the board is wired here. */
  readonly physical: string | null;
  /** Where the probes of the meter lie, and which of them the next click puts down. */
  readonly probes: Readonly<Partial<Record<Probe, TerminalRef>>>;
  readonly probing: Probe | null;
  /** What the meter showed, in order. */
  readonly meterLog: readonly MeterEntry[];
}

export type Probe = 'red' | 'black' | 'blue';

/** A reading as it was shown, and what was held and running then. */
export interface MeterEntry {
  readonly mode: string;
  readonly where: string;
  readonly shown: string;
  readonly when: string;
}

/** Nothing in the hand and nothing chosen. */
const EMPTY_HAND = { from: null, selected: null, moving: null } as const;

export interface StoreOptions {
  /** Where entries are kept that the server has not acknowledged; survives the page. */
  readonly keep?: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;
  /** Another tab works on this board. */
  readonly following?: boolean;
  /** Told every entry as it is made. */
  readonly onEntry?: (request: LogEntryRequest) => void;
  /** Nothing is sent: the board belongs to no attempt. */
  readonly unsent?: boolean;
}

export type BenchStore = StoreApi<BenchState> & { readonly actions: BenchActions };

/** The store of one attempt. Every edit is shown at once and sent in order. */
export function createBenchStore(
  view: AttemptView,
  supplyIsOn: () => boolean,
  { keep, following = false, onEntry, unsent = false }: StoreOptions = {},
): BenchStore {
  const { id } = view.attempt;
  const scheme = schemeOf(view.exercise.rules.wireColours, view.exercise.bench);
  const kept = following ? { requests: [], lost: 0 } : unsentOf(view, keep?.getItem(unsentKey(id)) ?? null);
  const requests = [...view.log, ...kept.requests];
  const edits = editsIn(requests);
  const { held, readings } = workedSoFar(requests);
  const lost = `${kept.lost} changes kept in this browser do not fit the board any more and were left out.`;
  const store = createStore<BenchState>(() => ({
    ...EMPTY_HAND,
    ...history(edits),
    bench: foldEdits(openingBoard(view.exercise), edits),
    cursor: null,
    colour: paletteOf(scheme)[0]?.name ?? 'black',
    auto: false,
    offered: [],
    scheme,
    message: kept.lost > 0 ? { kind: 'wrong', text: lost } : null,
    readings,
    editedSeq: requests.findLast(({ entry }) => entry.kind === 'edit')?.seq ?? 0,
    unsaved: kept.requests.length,
    saveError: null,
    signedOut: false,
    stale: false,
    following,
    asks: false,
    physical: null,
    probes: {},
    probing: null,
    meterLog: [],
  }));
  const sender = new Sender(
    {
      attemptId: id,
      waiting: kept.requests,
      keep: following ? undefined : keep,
      tell: (sending) => store.setState(sending),
    },
    requests.at(-1)?.seq ?? 0,
  );
  const work = {
    held,
    laid: Math.max(view.exercise.laid?.length ?? 0, lastLaid(edits)),
    supplyIsOn,
    onEntry,
    unsent,
  };
  return { ...store, actions: new BenchActions(store, sender, work) };
}

interface Work {
  /** Buttons that are held. */
  readonly held: Set<string>;
  /** Number of the lead that was laid last. */
  laid: number;
  readonly supplyIsOn: () => boolean;
  readonly onEntry: StoreOptions['onEntry'];
  readonly unsent: boolean;
}

/** What can be done to one board. Methods are bound, so that they can be handed on. */
class BenchActions {
  constructor(
    private readonly store: StoreApi<BenchState>,
    private readonly sender: Sender,
    private readonly work: Work,
  ) {}

  private get state(): BenchState {
    return this.store.getState();
  }

  private readonly lead = (id: LeadId): Wire | undefined => {
    const lead = leadOf(this.state.bench, id);
    return lead && wireOf(lead);
  };

  readonly patch = (state: Partial<BenchState>): void => this.store.setState(state);

  private enqueue(entry: WorkEntry): void {
    if (this.state.following || this.work.unsent) return;
    const request = this.sender.add(entry);
    this.work.onEntry?.(request);
  }

  private say(text: string): void {
    this.patch({ message: { kind: 'wrong', text } });
  }

  /** Why the wiring must be left alone now. */
  private hindrance(edit: Edit, source: EditSource | undefined): string | null {
    const { following, stale, physical } = this.state;
    const isOfLead = edit.do !== 'set' && edit.do !== 'program';
    if (physical !== null && isOfLead && source === undefined)
      return `The leads here are those of ${physical}. Change them there, or disconnect it.`;
    if (following) return 'Another tab works on this board; this one follows it.';
    if (stale) return 'This board has been changed elsewhere. Reload.';
    if (this.work.supplyIsOn()) return 'The supply is on. Switch it off before you change the wiring.';
    return null;
  }

  /** Applies an edit where nothing hinders it; returns whether it was done. */
  private perform(edit: Edit, source?: EditSource): boolean {
    const hindrance = this.hindrance(edit, source);
    const applied = hindrance === null ? applyEdit(this.state.bench, edit) : null;
    if (!applied?.ok) {
      this.say(hindrance ?? capital(applied?.reason ?? ''));
      return false;
    }
    this.enqueue({ kind: 'edit', edit, ...(source && { source }) });
    this.work.held.clear();
    this.patch({
      bench: applied.bench,
      message: null,
      offered: [],
      readings: [],
      editedSeq: this.sender.seq,
    });
    return true;
  }

  private edit(change: Edit, source?: EditSource): void {
    if (this.perform(change, source)) this.patch({ undo: [...this.state.undo, change], redo: [] });
  }

  /** Lays a lead; where it is one of three lines, the other two are offered. */
  readonly connect = (from: TerminalRef, to: TerminalRef): void => {
    if (this.lay({ from, to })) this.patch({ offered: companions(this.state.bench, { from, to }) });
  };

  /** Lays several leads, each an edit of its own; ends at the first that cannot be laid. */
  readonly connectAll = (leads: readonly Ends[]): void => {
    leads.every((ends) => this.lay(ends));
  };

  /** Lays the leads that were offered. */
  readonly takeOffer = (): void => this.connectAll(this.state.offered);

  /** What has changed on a physical board: leads that went, and leads that came. */
  readonly rewire = (cut: readonly Wire[], laid: readonly Wire[], source: EditSource): void => {
    this.patch({ selected: null, moving: null });
    for (const { from, to } of cut) {
      const lead = this.state.bench.wires.find((one) => !one.fitted && one.from === from && one.to === to);
      if (lead) this.edit({ do: 'cut', lead: lead.id, wire: wireOf(lead) }, source);
    }
    for (const { from, to } of laid) this.lay({ from, to }, source);
  };

  private lay(ends: Ends, source?: EditSource): boolean {
    this.patch({ from: null, offered: [] });
    const lead = laidLead(this.work.laid + 1);
    this.edit({ do: 'connect', lead, wire: { ...ends, ...this.looksOf(ends) } }, source);
    const isLaid = leadOf(this.state.bench, lead) !== undefined;
    if (isLaid) this.work.laid += 1;
    return isLaid;
  }

  /** Colour and area of a new lead: as chosen, or by the circuit in which it will lie. */
  private looksOf(ends: Ends): Pick<Wire, 'colour' | 'area'> {
    const { auto, colour, scheme, bench } = this.state;
    if (!auto) return { colour, area: areaOf(colour, scheme) };
    const circuit = compile({ ...benchOf(bench), wires: [...bench.wires.map(wireOf), ends] });
    return { colour: usualColours(circuit, scheme)(ends), area: usualAreas(circuit)(ends) };
  }

  readonly cut = (lead: LeadId): void => {
    const wire = this.lead(lead);
    if (!wire) return;
    this.patch({ selected: null, moving: null });
    this.edit({ do: 'cut', lead, wire });
  };

  readonly moveEnd = ({ lead, end }: TakenEnd, to: TerminalRef): void => {
    const wire = this.lead(lead);
    this.patch({ moving: null });
    if (wire && wire[end] !== to) this.edit({ do: 'move', lead, from: wire, to: { ...wire, [end]: to } });
  };

  readonly recolour = (lead: LeadId, colour: string): void => {
    const wire = this.lead(lead);
    if (!wire || wire.colour === colour) return;
    this.edit({
      do: 'move',
      lead,
      from: wire,
      to: { ...wire, colour, area: areaOf(colour, this.state.scheme) },
    });
  };

  readonly set = (device: string, setting: string, to: number): void => {
    const found = this.state.bench.devices.find(({ tag }) => tag === device);
    const from = (found?.settings as Record<string, number> | undefined)?.[setting];
    if (from !== undefined && from !== to) this.edit({ do: 'set', device, setting, from, to });
  };

  /** Writes the program of a controller. */
  readonly program = (device: string, from: Program | null, to: Program | null): void =>
    this.edit({ do: 'program', device, from, to });

  readonly undo = (): void => {
    const { undo, redo } = this.state;
    const last = undo.at(-1);
    if (last && this.perform(invertEdit(last)))
      this.patch({ ...EMPTY_HAND, undo: undo.slice(0, -1), redo: [...redo, last] });
  };

  readonly redo = (): void => {
    const { undo, redo } = this.state;
    const next = redo.at(-1);
    if (next && this.perform(next))
      this.patch({ ...EMPTY_HAND, undo: [...undo, next], redo: redo.slice(0, -1) });
  };

  /** Notes in the log that the supply was switched. */
  readonly noteSupply = (on: boolean): void => this.enqueue({ kind: 'supply', on });

  /** Notes in the log what was worked by hand. */
  readonly noteAct = (stimulus: Stimulus): void => {
    noteHeld(this.work.held, stimulus);
    this.enqueue({ kind: 'act', stimulus });
  };

  /** Notes in the log a reading of the ohmmeter. */
  readonly noteReading = (from: TerminalRef, to: TerminalRef): void => {
    this.enqueue({ kind: 'reading', from, to });
    this.patch({ readings: [...this.state.readings, readingOf(from, to, this.work.held)] });
  };

  /** Puts a probe of the meter on a terminal. */
  readonly putProbe = (probe: Probe, ref: TerminalRef): void =>
    this.patch({ probes: { ...this.state.probes, [probe]: ref }, probing: null });

  /** Keeps what the meter showed. */
  readonly noteMeter = (entry: MeterEntry): void => this.patch({ meterLog: [...this.state.meterLog, entry] });

  /** Sends what waits again, after signing in. */
  readonly resume = (): void => this.sender.resume();

  /** Shows what another tab has entered. */
  readonly follow = ({ seq, entry }: LogEntryRequest): void => {
    if (!this.state.following || seq <= this.sender.seq) return;
    this.sender.seq = seq;
    if (entry.kind !== 'edit') return;
    const applied = applyEdit(this.state.bench, entry.edit);
    if (!applied.ok) {
      this.patch({ stale: true });
      return;
    }
    const undo = [...this.state.undo, entry.edit];
    this.patch({ ...EMPTY_HAND, bench: applied.bench, editedSeq: seq, undo });
  };

  /** Resolves once everything is acknowledged; rejects where it cannot be. */
  readonly flush = async (): Promise<void> => {
    await this.sender.settled();
    const { saveError, stale, signedOut } = this.state;
    if (stale || signedOut) throw new Error(saveError ?? 'This board has been changed elsewhere.');
  };

  readonly close = (): void => this.sender.close();
}

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
