import { leadOf, spellRef, type BoardPlan, type Point, type TerminalRef } from '@contactum/core';
import { hangingPath, terminalNear } from '../board/geometry.js';
import { threeLeads } from './three-phase.js';
import type { LiveBench } from './live.js';
import type { BenchStore, TakenEnd } from './store.js';

/** Board millimetres within which the pointer takes a terminal. */
const REACH = 15;

const SUPPLY_IS_ON = 'The supply is on. Switch it off before you change the wiring.';

/**
 * What a hand with a lead in it does, whether pointer or keyboard moves it. It draws the lead that follows
 * without React.
 */
export class WiringHand {
  private rubber: SVGPathElement | null = null;
  private ring: SVGCircleElement | null = null;
  private hovered: string | null = null;

  constructor(
    private readonly store: BenchStore,
    private readonly live: LiveBench,
    readonly plan: BoardPlan,
    private readonly announce: (text: string) => void,
  ) {}

  /** Terminal at which the lead in the hand hangs; null where the hand is empty. */
  get anchor(): string | null {
    const { moving, bench, from } = this.store.getState();
    if (!moving) return from;
    return leadOf(bench, moving.lead)?.[moving.end === 'from' ? 'to' : 'from'] ?? null;
  }

  /** Hands over the elements that the hand draws; null where they are gone. */
  attach(parts: { readonly rubber?: SVGPathElement | null; readonly ring?: SVGCircleElement | null }): void {
    if (parts.rubber !== undefined) this.rubber = parts.rubber;
    if (parts.ring !== undefined) this.ring = parts.ring;
  }

  near(point: Point) {
    return terminalNear(this.plan, point, REACH);
  }

  /** Draws the lead that follows a point. */
  follow(point: Point): void {
    const start = this.plan.terminal.get(this.anchor ?? '');
    this.rubber?.setAttribute('d', start ? hangingPath(start, this.near(point) ?? point) : '');
  }

  /**
   * Rings the terminal that the pointer would take. On the sheet too: the board itself is not painted
   * again.
   */
  hover(point: Point): void {
    const near = this.near(point);
    if ((near?.ref ?? null) === this.hovered) return;
    this.hovered = near?.ref ?? null;
    this.ring?.setAttribute('visibility', near ? 'visible' : 'hidden');
    if (!near) return;
    this.ring?.setAttribute('cx', String(near.x));
    this.ring?.setAttribute('cy', String(near.y));
  }

  /** True where the wiring may be changed; says why where it may not. */
  private isDead(): boolean {
    if (!this.live.store.getState().supplyOn) return true;
    this.store.actions.patch({ message: { kind: 'wrong', text: SUPPLY_IS_ON } });
    return false;
  }

  /**
   * Puts down what is held at a terminal, or takes up a new lead there; with `together` the three leads of
   * three lines at once.
   */
  touch(ref: TerminalRef, together = false): void {
    const { actions } = this.store;
    const { moving, from, probing } = this.store.getState();
    if (probing) {
      actions.putProbe(probing, ref);
      this.announce(`${probing} probe on ${spellRef(ref)}.`);
      return;
    }
    if (!this.isDead()) return;
    if (moving) {
      actions.moveEnd(moving, ref);
      return;
    }
    if (from && from !== ref) {
      const leads = together ? threeLeads(this.store.getState().bench, { from, to: ref }) : [];
      if (leads.length > 1) actions.connectAll(leads);
      else actions.connect(from, ref);
      this.announce(
        leads.length > 1
          ? `Three leads from ${spellRef(from)} to ${spellRef(ref)} and beside.`
          : `Lead from ${spellRef(from)} to ${spellRef(ref)}.`,
      );
      return;
    }
    actions.patch({ from: from === ref ? null : ref, selected: null, cursor: ref, message: null });
    if (from !== ref) this.announce(`Lead from ${spellRef(ref)}. Choose the other terminal.`);
  }

  /** Takes an end of a lead off its terminal. */
  take(end: TakenEnd): void {
    if (this.isDead()) this.store.actions.patch({ moving: end, from: null, message: null });
  }

  /** Lets go of everything. */
  empty(): void {
    this.store.actions.patch({ from: null, moving: null, selected: null, message: null });
    this.rubber?.setAttribute('d', '');
  }
}
