import { spellRef, type Bench } from '../bench/index.js';
import { isController, programOf } from '../catalogue/index.js';
import { connectionsOf } from '../circuit/index.js';
import {
  blockWords,
  crossReferences,
  isConnected,
  type CrossReference,
  type Program,
  type ProgramVariable,
} from '../program/index.js';
import type { PlannedLead } from './leads.js';

/** An input or output of a controller: the variable there, and what is wired to it. */
export interface ControllerPlace {
  /** Empty where the program has no variable at it. */
  readonly variable: string;
  /** `I0.0`, `Q0.2`. */
  readonly at: string;
  /** Device and contact or coil that its leads go to, in words. */
  readonly to: string;
  /** Each lead under its screw: ferrule number, colour and other end. */
  readonly leads: readonly string[];
  readonly comment: string;
}

export interface ListedVariable extends CrossReference {
  readonly name: string;
  /** Its address, its block with the preset, or `bit`. */
  readonly what: string;
  readonly comment: string;
}

/** What is on paper about one controller. */
export interface ControllerPaper {
  readonly tag: string;
  readonly program: Program | null;
  readonly places: readonly ControllerPlace[];
  readonly variables: readonly ListedVariable[];
}

/** What a variable is, in few words. */
const variableWords = (variable: ProgramVariable): string =>
  isConnected(variable) ? variable.at : (blockWords(variable) ?? 'bit');

/**
 * The list of inputs and outputs and the cross references of each controller of a board. Places without a
 * lead and without a variable are left out.
 */
export function controllerPapers(bench: Bench, leads: readonly PlannedLead[]): ControllerPaper[] {
  return bench.devices.filter(isController).map((device): ControllerPaper => {
    const { tag } = device;
    const program = programOf(device);
    const at = new Map(program?.variables.filter(isConnected).map((one) => [one.at, one]));
    return {
      tag,
      program,
      places: connectionsOf(bench, tag).flatMap(({ at: address, to, isWired }): ControllerPlace[] => {
        const variable = at.get(address);
        if (!variable && !isWired) return [];
        const { name = '', comment = '' } = variable ?? {};
        return [{ variable: name, at: address, to, leads: leadsAt(leads, `${tag}:${address}`), comment }];
      }),
      variables: program ? listedVariables(program) : [],
    };
  });
}

/** The variables of a program with their cross references. */
export function listedVariables(program: Program): ListedVariable[] {
  const references = crossReferences(program);
  return program.variables.map((variable) => ({
    name: variable.name,
    what: variableWords(variable),
    comment: variable.comment ?? '',
    ...(references.get(variable.name) ?? { written: [], read: [] }),
  }));
}

const leadsAt = (leads: readonly PlannedLead[], ref: string): string[] =>
  leads.flatMap(({ from, to, number, colour }) =>
    from === ref || to === ref ? [`${number}, ${colour}, to ${spellRef(from === ref ? to : from)}`] : [],
  );
