import { splitRef, type TerminalRef, type Wire } from '../bench/index.js';
import type { Purpose } from './leads.js';
import type { Paint } from './leads.js';

/** Which of the three lines a power lead belongs to. */
export type Phase = 0 | 1 | 2;

/** By the name of its net (`load 2`), or by the poles and winding ends on it. */
function phaseOf(name: string, refs: readonly string[]): Phase | null {
  const named = /^(?:supply|line|load|motor|fed|back) ([123])$/.exec(name);
  if (named) return (Number(named[1]) - 1) as Phase;
  for (const ref of refs) {
    const { terminal } = splitRef(ref);
    const winding = /^([UVW])[12]?$/.exec(terminal);
    if (winding) return 'UVW'.indexOf(winding[1]!) as Phase;
    if (/^[1-6]$/.test(terminal)) return Math.floor((Number(terminal) - 1) / 2) as Phase;
  }
  return null;
}

/**
 * Terminals of the first group at one end of a chain, of the others at the other, so that each group is
 * entered once.
 */
function inGroups(refs: readonly TerminalRef[], groups: readonly (readonly string[])[]): TerminalRef[] {
  const groupOf = (ref: TerminalRef) => groups.findIndex((group) => group.includes(splitRef(ref).tag));
  const own = groups.map((_, k) => refs.filter((ref) => groupOf(ref) === k));
  const [first = [], ...others] = own;
  return [...first, ...refs.filter((ref) => groupOf(ref) < 0), ...others.flat()];
}

/**
 * A wiring written as nets: each a chain through its terminals, so that no terminal takes more than two
 * leads.
 */
export class Nets {
  private readonly nets = new Map<string, { readonly purpose: Purpose; readonly refs: TerminalRef[] }>();
  private readonly single: {
    readonly purpose: Purpose;
    readonly from: TerminalRef;
    readonly to: TerminalRef;
  }[] = [];

  /** Puts terminals on a net, each once, in the order of asking. */
  put(name: string, purpose: Purpose, ...refs: readonly string[]): void {
    const net = this.nets.get(name) ?? { purpose, refs: [] };
    this.nets.set(name, net);
    for (const ref of refs as readonly TerminalRef[]) if (!net.refs.includes(ref)) net.refs.push(ref);
  }

  /** Puts the two ends of a contact between two nets of the control circuit. */
  between(tag: string, contact: string, from: string, to: string, purpose: Purpose = 'control'): void {
    const [a = '', b = ''] = contact.split('-');
    this.put(from, purpose, `${tag}:${a}`);
    this.put(to, purpose, `${tag}:${b}`);
  }

  /** One lead of its own, of another purpose than the net that it belongs to. */
  lead(purpose: Purpose, from: string, to: string): void {
    this.single.push({ purpose, from: from as TerminalRef, to: to as TerminalRef });
  }

  /**
   * Its leads, each as its purpose, and the phase of its net, are painted. Devices of one group stand side
   * by side in every chain.
   */
  wires(
    paint: (purpose: Purpose, phase: Phase | null) => Paint,
    groups: readonly (readonly string[])[] = [],
  ): Wire[] {
    const chains = [...this.nets].flatMap(([name, { purpose, refs }]) => {
      const chain = inGroups(refs, groups);
      return chain
        .slice(1)
        .map((to, k): Wire => ({ from: chain[k]!, to, ...paint(purpose, phaseOf(name, chain)) }));
    });
    return [
      ...chains,
      ...this.single.map(({ purpose, from, to }): Wire => ({
        from,
        to,
        ...paint(purpose, phaseOf('', [from, to])),
      })),
    ];
  }

  /** True where a terminal is on some net. */
  has(ref: string): boolean {
    return [...this.nets.values()].some(({ refs }) => refs.includes(ref as TerminalRef));
  }

  /** Names of the terminals of a device that are on a net. */
  of(tag: string): string[] {
    const all = [...this.nets.values()].flatMap(({ refs }) => refs);
    return all.filter((ref) => splitRef(ref).tag === tag).map((ref) => splitRef(ref).terminal);
  }
}
