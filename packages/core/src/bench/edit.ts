import { dequal } from 'dequal';
import type { Program } from '../program/index.js';
import { plural } from '../plural.js';
import {
  anatomy,
  programMisfits,
  programOf,
  settableOn,
  withProgram,
  type Device,
} from '../catalogue/index.js';
import { MOST_WIRES, deviceOf, endsOf, spellRef, type Bench, type Wire } from './bench.js';
import {
  comesBefore,
  laidLead,
  leadNumber,
  leadOf,
  wireOf,
  type Lead,
  type LeadId,
  type Wiring,
} from './wiring.js';

/**
 * A change that a person makes to a wiring. Edits are values: they can be applied, inverted and
 * stored, so undo, the log of an attempt and its replay are one thing.
 */
export type Edit =
  | { readonly do: 'connect'; readonly lead: LeadId; readonly wire: Wire }
  | { readonly do: 'cut'; readonly lead: LeadId; readonly wire: Wire }
  /** One end moved, or the same conductor in another colour. */
  | { readonly do: 'move'; readonly lead: LeadId; readonly from: Wire; readonly to: Wire }
  | {
      readonly do: 'set';
      readonly device: string;
      readonly setting: string;
      readonly from: SettingValue;
      readonly to: SettingValue;
    }
  /** The program of a controller, where an exercise has one written; null where there is none. */
  | {
      readonly do: 'program';
      readonly device: string;
      readonly from: Program | null;
      readonly to: Program | null;
    };

export type SettingValue = number | string | boolean;

export type EditResult =
  { readonly ok: true; readonly bench: Wiring } | { readonly ok: false; readonly reason: string };

/**
 * What somebody does to a wiring who leaves these wires on it: takes away what is not among them, then lays
 * the others.
 */
export function editsTo(opening: Wiring, wires: readonly Wire[]): Edit[] {
  const left = [...wires];
  const loose = opening.wires.filter(({ fitted }) => !fitted);
  const gone = loose.filter((lead) => {
    const k = left.findIndex((wire) => endsOf(wire) === endsOf(lead));
    if (k >= 0) left.splice(k, 1);
    return k < 0;
  });
  const last = Math.max(0, ...loose.map(({ id }) => leadNumber(id)));
  return [
    ...gone.map((lead): Edit => ({ do: 'cut', lead: lead.id, wire: wireOf(lead) })),
    ...left.map((wire, k): Edit => ({ do: 'connect', lead: laidLead(last + k + 1), wire })),
  ];
}

const refuse = (reason: string): EditResult => ({ ok: false, reason });

/** Applies an edit; a lead that was fitted by the instructor stays. */
export function applyEdit(bench: Wiring, edit: Edit): EditResult {
  switch (edit.do) {
    case 'connect':
      return connect(bench, edit.lead, edit.wire);
    case 'cut': {
      const fault = presenceFault(bench, edit.lead, edit.wire);
      return fault
        ? refuse(fault)
        : done(
            bench,
            bench.wires.filter(({ id }) => id !== edit.lead),
          );
    }
    case 'move': {
      const fault = presenceFault(bench, edit.lead, edit.from) ?? wireFault(bench, edit.to);
      if (fault) return refuse(fault);
      const moved: Lead = { ...wireOf(edit.to), id: edit.lead, fitted: false };
      return done(
        bench,
        bench.wires.map((lead) => (lead.id === edit.lead ? moved : lead)),
      );
    }
    case 'set':
      return applySetting(bench, edit);
    case 'program':
      return applyProgram(bench, edit);
  }
}

function connect(bench: Wiring, id: LeadId, wire: Wire): EditResult {
  if (bench.wires.length >= MOST_WIRES) return refuse(`a board takes ${MOST_WIRES} leads at most`);
  if (!id.startsWith('w')) return refuse(`${id} is no name for a lead that is laid`);
  if (leadOf(bench, id)) return refuse(`there is a lead ${id} already`);
  const fault = wireFault(bench, wire);
  if (fault) return refuse(fault);
  const after = bench.wires.findIndex((lead) => comesBefore(id, lead.id));
  const lead: Lead = { ...wireOf(wire), id, fitted: false };
  return done(bench, bench.wires.toSpliced(after < 0 ? bench.wires.length : after, 0, lead));
}

/** The edit that takes this one back. */
export function invertEdit(edit: Edit): Edit {
  switch (edit.do) {
    case 'connect':
      return { ...edit, do: 'cut' };
    case 'cut':
      return { ...edit, do: 'connect' };
    case 'move':
    case 'set':
    case 'program':
      return { ...edit, from: edit.to, to: edit.from } as Edit;
  }
}

/** The board that a log of edits leads to; throws where the log contradicts itself. */
export function foldEdits(bench: Wiring, edits: readonly Edit[]): Wiring {
  return edits.reduce((current, edit, k) => {
    const result = applyEdit(current, edit);
    if (!result.ok) throw new Error(`edits[${k}]: ${result.reason}`);
    return result.bench;
  }, bench);
}

/** An edit in words for the log and for a screen reader. */
export function describeEdit(edit: Edit): string {
  const lead = (wire: Wire) => `${spellRef(wire.from)} to ${spellRef(wire.to)}`;
  switch (edit.do) {
    case 'connect':
      return `Connected ${lead(edit.wire)}`;
    case 'cut':
      return `Removed ${lead(edit.wire)}`;
    case 'move':
      return edit.from.from === edit.to.from && edit.from.to === edit.to.to
        ? `Recoloured ${lead(edit.to)}`
        : `Moved ${lead(edit.from)}: now ${lead(edit.to)}`;
    case 'set':
      return `Set ${edit.device} ${edit.setting} to ${String(edit.to)}`;
    case 'program':
      return edit.to
        ? `Program of ${edit.device}: ${plural(edit.to.rungs.length, 'rung')}`
        : `Program of ${edit.device} taken out`;
  }
}

function done(bench: Wiring, wires: readonly Lead[]): EditResult {
  return { ok: true, bench: { ...bench, wires } };
}

function sameWire(a: Wire, b: Wire): boolean {
  return (
    a.from === b.from && a.to === b.to && a.colour === b.colour && a.area === b.area && a.number === b.number
  );
}

function presenceFault(bench: Wiring, id: LeadId, wire: Wire): string | null {
  const present = leadOf(bench, id);
  if (!present || !sameWire(present, wire)) return `lead ${id} is not ${wire.from} to ${wire.to}`;
  return present.fitted ? `${wire.from} to ${wire.to} was fitted by the instructor and stays` : null;
}

function wireFault(bench: Bench, wire: Wire): string | null {
  if (wire.from === wire.to) return 'a lead needs two different terminals';
  for (const end of [wire.from, wire.to]) {
    const colon = end.indexOf(':');
    const device = deviceOf(bench, end.slice(0, colon));
    if (!device) return `there is no device ${end.slice(0, colon)} on this board`;
    if (!anatomy(device).terminals.some(({ name }) => name === end.slice(colon + 1))) {
      return `${device.tag} has no terminal ${end.slice(colon + 1)}`;
    }
  }
  return null;
}

function applySetting(bench: Wiring, edit: Extract<Edit, { do: 'set' }>): EditResult {
  const device = deviceOf(bench, edit.device);
  if (!device) return refuse(`there is no device ${edit.device} on this board`);
  const knob = settableOn(device).find(({ setting }) => setting === edit.setting);
  if (!knob) return refuse(`${edit.device} has no ${edit.setting} to set`);
  if ((device.settings as Record<string, SettingValue>)[edit.setting] !== edit.from) {
    return refuse(`${edit.device} ${edit.setting} is not ${String(edit.from)}`);
  }
  if (typeof edit.to !== 'number' || edit.to < knob.min || edit.to > knob.max) {
    return refuse(`${edit.device} ${edit.setting} goes from ${knob.min} to ${knob.max} ${knob.unit}`);
  }
  const settings = { ...device.settings, [edit.setting]: edit.to };
  const devices = bench.devices.map((d) => (d === device ? ({ ...d, settings } as Device) : d));
  return { ok: true, bench: { ...bench, devices } };
}

function applyProgram(bench: Wiring, edit: Extract<Edit, { do: 'program' }>): EditResult {
  const device = deviceOf(bench, edit.device);
  if (device?.type !== 'plc') return refuse(`${edit.device} is not a controller of this board`);
  if (!bench.programmable) return refuse(`the program of ${edit.device} is the instructor's and stays`);
  if (!dequal(programOf(device), edit.from)) return refuse(`the program of ${edit.device} is another by now`);
  const changed = withProgram(device, edit.to);
  const [problem] = edit.to ? programMisfits(edit.to, device) : [];
  if (problem) return refuse(`${problem.path}: ${problem.message}`);
  return { ok: true, bench: { ...bench, devices: bench.devices.map((d) => (d === device ? changed : d)) } };
}
