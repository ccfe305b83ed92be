import { anatomy, settableOn, type Device } from '../catalogue/index.js';
import { MOST_WIRES, deviceOf, type Bench, type Wire } from './bench.js';

/**
 * A change that a person makes to a bench. Edits are values: they can be applied, inverted and
 * stored, so undo, the log of an attempt and its replay are one thing.
 */
export type Edit =
  | { readonly do: 'connect'; readonly index: number; readonly wire: Wire }
  | { readonly do: 'cut'; readonly index: number; readonly wire: Wire }
  /** One end moved, or the same conductor in another colour. */
  | { readonly do: 'move'; readonly index: number; readonly from: Wire; readonly to: Wire }
  | {
      readonly do: 'set';
      readonly device: string;
      readonly setting: string;
      readonly from: SettingValue;
      readonly to: SettingValue;
    };

export type SettingValue = number | string | boolean;

export type EditResult =
  { readonly ok: true; readonly bench: Bench } | { readonly ok: false; readonly reason: string };

const refuse = (reason: string): EditResult => ({ ok: false, reason });

/** Applies an edit; a wire among the first `locked` ones was fitted by the instructor and stays. */
export function applyEdit(bench: Bench, edit: Edit, locked = 0): EditResult {
  switch (edit.do) {
    case 'connect': {
      if (bench.wires.length >= MOST_WIRES) return refuse(`a board takes ${MOST_WIRES} leads at most`);
      if (edit.index < locked || edit.index > bench.wires.length)
        return refuse(`there is no place ${edit.index} for a wire`);
      const fault = wireFault(bench, edit.wire);
      if (fault) return refuse(fault);
      return done(bench, bench.wires.toSpliced(edit.index, 0, edit.wire));
    }
    case 'cut': {
      const fault = presenceFault(bench, edit.index, edit.wire, locked);
      return fault ? refuse(fault) : done(bench, bench.wires.toSpliced(edit.index, 1));
    }
    case 'move': {
      const fault = presenceFault(bench, edit.index, edit.from, locked) ?? wireFault(bench, edit.to);
      return fault ? refuse(fault) : done(bench, bench.wires.toSpliced(edit.index, 1, edit.to));
    }
    case 'set':
      return applySetting(bench, edit);
  }
}

/** The edit that takes this one back. */
export function invertEdit(edit: Edit): Edit {
  switch (edit.do) {
    case 'connect':
      return { do: 'cut', index: edit.index, wire: edit.wire };
    case 'cut':
      return { do: 'connect', index: edit.index, wire: edit.wire };
    case 'move':
      return { do: 'move', index: edit.index, from: edit.to, to: edit.from };
    case 'set':
      return { ...edit, from: edit.to, to: edit.from };
  }
}

/** The bench that a log of edits leads to; throws where the log contradicts itself. */
export function foldEdits(bench: Bench, edits: readonly Edit[], locked = 0): Bench {
  return edits.reduce((current, edit, k) => {
    const result = applyEdit(current, edit, locked);
    if (!result.ok) throw new Error(`edits[${k}]: ${result.reason}`);
    return result.bench;
  }, bench);
}

/** An edit in words for the log and for a screen reader. */
export function describeEdit(edit: Edit): string {
  const lead = (wire: Wire) => `${wire.from.replace(':', ' ')} to ${wire.to.replace(':', ' ')}`;
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
  }
}

function done(bench: Bench, wires: readonly Wire[]): EditResult {
  return { ok: true, bench: { ...bench, wires } };
}

function sameWire(a: Wire, b: Wire): boolean {
  return (
    a.from === b.from && a.to === b.to && a.colour === b.colour && a.area === b.area && a.number === b.number
  );
}

function presenceFault(bench: Bench, index: number, wire: Wire, locked: number): string | null {
  const present = bench.wires[index];
  if (!present || !sameWire(present, wire)) return `wire ${index} is not ${wire.from} to ${wire.to}`;
  if (index < locked) return `${wire.from} to ${wire.to} was fitted by the instructor and stays`;
  return null;
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

function applySetting(bench: Bench, edit: Extract<Edit, { do: 'set' }>): EditResult {
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
