import type { Bench, TerminalRef } from '../bench/index.js';
import { anatomy, kindName } from '../catalogue/index.js';
import type { PlannedLead } from './leads.js';

/** A screw and what lies under it. */
export interface PlannedTerminal {
  readonly terminal: string;
  readonly leads: readonly {
    readonly n: number;
    readonly number: string;
    readonly to: TerminalRef;
    readonly colour: string;
  }[];
}

/**
 * A device's terminals in their order; those that have no lead are there too, since a wrong one would lie
 * there.
 */
export interface TerminalPlan {
  readonly tag: string;
  readonly name: string;
  readonly terminals: readonly PlannedTerminal[];
}

/** What lies under every screw of every device. */
export function terminalPlan(bench: Bench, leads: readonly PlannedLead[]): TerminalPlan[] {
  const at = new Map<TerminalRef, PlannedTerminal['leads'][number][]>();
  const put = (here: TerminalRef, to: TerminalRef, { n, number, colour }: PlannedLead) =>
    at.set(here, [...(at.get(here) ?? []), { n, number, to, colour }]);
  for (const lead of leads) {
    put(lead.from, lead.to, lead);
    put(lead.to, lead.from, lead);
  }
  return bench.devices.map((device) => ({
    tag: device.tag,
    name: kindName(device),
    terminals: anatomy(device).terminals.map(({ name }) => ({
      terminal: name,
      leads: at.get(`${device.tag}:${name}`) ?? [],
    })),
  }));
}
