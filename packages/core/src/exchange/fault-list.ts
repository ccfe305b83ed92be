import type { Circuit } from '../circuit/index.js';
import type { FaultEffect } from '../diagnosis/index.js';
import {
  FAULT_KINDS,
  describeFault,
  faultProblem,
  readFault,
  writeFault,
  type FaultKind,
  type WrittenFault,
} from '../faults/index.js';
import { readCsv, writeCsv, type Preview } from './csv.js';

const COLUMNS = ['Kind', 'Place', 'More', 'Title', 'Symptoms', 'Incidents', 'Readings'];

/** Faults of a board with what they do: a line each. */
export const writeFaultList = (effects: readonly FaultEffect[]): string =>
  writeCsv(
    COLUMNS,
    effects.map(({ fault, title, symptoms, incidents, readings }) => {
      const { kind, place, ...more } = fault;
      const said = Object.keys(more).length > 0 ? JSON.stringify(more) : '';
      return [kind, place, said, title, symptoms.join('; '), incidents.join('; '), String(readings)];
    }),
  );

/** Reads faults of a board. */
export function readFaultList(
  text: string,
  circuit: Circuit,
): Preview<{ readonly fault: WrittenFault; readonly title: string }> {
  return readCsv(text, ['kind', 'place'], ({ kind = '', place = '', more = '', title = '' }) => {
    if (!FAULT_KINDS.includes(kind as FaultKind)) return { problem: `“${kind}” is no kind of fault` };
    let said: Record<string, unknown>;
    try {
      said = more === '' ? {} : (JSON.parse(more) as Record<string, unknown>);
    } catch {
      return { problem: `“${more}” cannot be read` };
    }
    const fault = readFault({ [kind]: place, ...said });
    const problem = faultProblem(circuit, fault);
    if (problem !== null) return { problem };
    return { value: { fault: writeFault(fault), title: title || describeFault(fault) } };
  });
}
