import { splitRef, type TerminalRef, type Wire } from '../bench/index.js';
import type { Purpose } from './leads.js';
import type { Paint } from './leads.js';

/** A wiring written as nets: each a chain through its terminals, so that no terminal takes more than two leads. */
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

  wires(paint: Readonly<Record<Purpose, Paint>>): Wire[] {
    const chains = [...this.nets.values()].flatMap(({ purpose, refs }) =>
      refs.slice(1).map((to, k): Wire => ({ from: refs[k]!, to, ...paint[purpose] })),
    );
    return [
      ...chains,
      ...this.single.map(({ purpose, from, to }): Wire => ({ from, to, ...paint[purpose] })),
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
