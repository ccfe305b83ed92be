import { useEffect, type RefObject } from 'react';
import { createStore } from 'zustand/vanilla';
import type { Netlist, TerminalRef } from '@contactum/core';

/** What a person points at or has chosen: a potential by one of its terminals, or a device. */
type Mark =
  { readonly kind: 'net'; readonly ref: TerminalRef } | { readonly kind: 'device'; readonly tag: string };

interface LinkState {
  readonly pointed: Mark | null;
  readonly chosen: Mark | null;
  /** What conducts to a device, or blocks it, by the terminals of its contacts: lifted with the device. */
  readonly why: { readonly tag: string; readonly refs: readonly string[] } | null;
}

/** The views of one circuit, linked: what is pointed at in one is lifted in all. */
export const createLinkStore = () =>
  createStore<LinkState>(() => ({ pointed: null, chosen: null, why: null }));
export type LinkStore = ReturnType<typeof createLinkStore>;

/** A place to point at, by its terminals, as if its device were chosen; nothing where there are none. */
export function placeMark(refs: readonly string[]): Pick<LinkState, 'chosen' | 'why'> {
  const tag = refs[0]?.split(':')[0];
  return tag === undefined
    ? { chosen: null, why: null }
    : { chosen: { kind: 'device', tag }, why: { tag, refs } };
}

/** What is lifted now: what is pointed at, else what is chosen; a device with what is said of it. */
export function liftedNow(nets: Netlist, { pointed, chosen, why }: LinkState): ReadonlySet<string> {
  const mark = pointed ?? chosen;
  if (mark?.kind !== 'device' || why?.tag !== mark.tag) return liftedBy(nets, mark);
  const own = why.refs.flatMap((ref) => [...liftedBy(nets, { kind: 'net', ref: ref as TerminalRef })]);
  return new Set([...own, ...why.refs]);
}

/** Terminals that are lifted with a mark: a whole potential, or a device's own. */
function liftedBy(nets: Netlist, mark: Mark | null): ReadonlySet<string> {
  if (mark?.kind === 'net') {
    const net = nets.netOf.get(mark.ref);
    return new Set(net === undefined ? [] : nets.nets[net]?.terminals);
  }
  if (mark?.kind === 'device') {
    const own = [...nets.netOf.keys()].filter((ref) => ref.startsWith(`${mark.tag}:`));
    return new Set(own);
  }
  return new Set();
}

/** What an element of a board or a drawing stands for. */
function markOf(target: EventTarget | null): Mark | null {
  if (!(target instanceof Element)) return null;
  const lead = target.closest<SVGElement>('[data-lead-from]');
  if (lead) return { kind: 'net', ref: lead.dataset.leadFrom as TerminalRef };
  const terminal = target.closest<SVGElement>('[data-terminal]');
  if (terminal) return { kind: 'net', ref: terminal.dataset.terminal as TerminalRef };
  const at = target.closest<SVGElement>('[data-at]');
  if (at) return { kind: 'net', ref: at.dataset.at as TerminalRef };
  const blade = target.closest<SVGElement>('[data-contact]');
  if (blade) return { kind: 'net', ref: blade.dataset.contact as TerminalRef };
  const tag = target.closest<SVGElement>('[data-mark-device]')?.dataset.markDevice;
  return tag === undefined ? null : { kind: 'device', tag };
}

const same = (a: Mark | null, b: Mark | null): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Points at what the pointer is over, from either kind of view. */
export function pointAt(link: LinkStore, target: EventTarget | null): void {
  const pointed = markOf(target);
  if (!same(pointed, link.getState().pointed)) link.setState({ pointed });
}

/** A pointer that only passes points at nothing, ms. */
const PAUSE = 120;

/** Tells the link what the pointer is over on a board. */
export function usePointing(root: RefObject<SVGSVGElement | null>, link: LinkStore | undefined): void {
  useEffect(() => {
    const svg = root.current;
    if (!svg || !link) return undefined;
    let waiting: ReturnType<typeof setTimeout> | undefined;
    const over = ({ target }: PointerEvent) => {
      clearTimeout(waiting);
      waiting = setTimeout(() => pointAt(link, target), PAUSE);
    };
    const out = () => {
      clearTimeout(waiting);
      link.setState({ pointed: null });
    };
    svg.addEventListener('pointerover', over);
    svg.addEventListener('pointerleave', out);
    return () => {
      clearTimeout(waiting);
      svg.removeEventListener('pointerover', over);
      svg.removeEventListener('pointerleave', out);
    };
  }, [root, link]);
}
