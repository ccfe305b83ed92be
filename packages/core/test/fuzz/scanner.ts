import type { Program, ProgramVariable } from '@contactum/core';

/**
 * A plain scanner of programs (IEC 61131-3), written beside the engine and without anything of it: every
 * scan works every rung, timers and counters as the standard's own bodies of them say (from memory).
 */

type Bits = Record<string, boolean>;
type When = Program['rungs'][number]['when'];

interface Block {
  on: boolean;
  /** What its input was in the scan before. */
  was: boolean;
  /** Scans for which a timer has run, or counts. */
  value: number;
  running: boolean;
}

export class PlainScanner {
  /** Values of variables at addresses and of the program's own bits. */
  readonly bits: Bits = {};
  private readonly blocks: Record<string, Block> = {};
  private readonly before = new Map<string, boolean>();
  private after = new Map<string, boolean>();

  constructor(
    private readonly program: Program,
    private readonly scan: number,
  ) {
    for (const variable of program.variables) {
      if ('timer' in variable || 'counter' in variable)
        this.blocks[variable.name] = { on: this.startsOn(variable), was: false, value: 0, running: false };
      else this.bits[variable.name] = 'initial' in variable && variable.initial === true;
    }
  }

  private startsOn(variable: ProgramVariable): boolean {
    if ('timer' in variable) return false;
    return 'counter' in variable && (variable.counter === 'CTD' || variable.preset === 0);
  }

  /** One scan with these values at the inputs, by address; what it writes at the outputs, by address. */
  work(inputs: Bits): Bits {
    for (const variable of this.program.variables)
      if ('at' in variable && variable.at.startsWith('I'))
        this.bits[variable.name] = inputs[variable.at] ?? false;
    this.after = new Map();
    this.program.rungs.forEach(({ when, then }, r) => {
      const on = this.series(when, `${r}`);
      for (const action of then) this.act(action, on);
    });
    this.before.clear();
    for (const [key, value] of this.after) this.before.set(key, value);
    return Object.fromEntries(
      this.program.variables.flatMap((variable) =>
        'at' in variable && variable.at.startsWith('Q') ? [[variable.at, this.bits[variable.name]!]] : [],
      ),
    );
  }

  /** Everything that it remembers, as one text. */
  save(): string {
    return JSON.stringify([this.bits, [...this.before]]);
  }

  load(saved: string): void {
    const [bits, before] = JSON.parse(saved) as [Bits, [string, boolean][]];
    Object.assign(this.bits, bits);
    this.before.clear();
    for (const [key, value] of before) this.before.set(key, value);
  }

  /** As the program begins anew: what is retained stays; programs with blocks are not restarted. */
  restart(): void {
    const { bits } = new PlainScanner(this.program, this.scan);
    for (const variable of this.program.variables)
      if (!('retain' in variable) || variable.retain !== true)
        this.bits[variable.name] = bits[variable.name]!;
    for (const key of this.before.keys()) this.before.set(key, false);
  }

  value(name: string): number {
    return this.blocks[name]!.value;
  }

  read(bit: string): boolean {
    return bit.endsWith('.Q') ? this.blocks[bit.slice(0, -2)]!.on : this.bits[bit]!;
  }

  private series(when: When, path: string): boolean {
    return when.map((element, k) => this.element(element, `${path}.${k}`)).every((on) => on);
  }

  private element(element: When[number], path: string): boolean {
    if ('any' in element)
      return element.any.map((branch, k) => this.series(branch, `${path}.${k}`)).some((on) => on);
    if ('no' in element) return this.read(element.no);
    if ('nc' in element) return !this.read(element.nc);
    const now = this.read('rising' in element ? element.rising : element.falling);
    const was = this.before.get(path) ?? false;
    this.after.set(path, now);
    return 'rising' in element ? now && !was : was && !now;
  }

  private act(action: Program['rungs'][number]['then'][number], on: boolean): void {
    if ('coil' in action) this.bits[action.coil] = on;
    else if ('negated' in action) this.bits[action.negated] = !on;
    else if ('set' in action) this.bits[action.set] ||= on;
    else if ('timer' in action) this.time(action.timer, on);
    else if ('counter' in action) this.count(action.counter, on, action.reset);
    else if (on) this.bits[action.reset] = false;
  }

  private time(name: string, on: boolean): void {
    const variable = this.program.variables.find((one) => one.name === name);
    if (!variable || !('timer' in variable)) throw new Error(name);
    const block = this.blocks[name]!;
    const scans = Math.ceil(variable.preset / this.scan - 1e-6);
    const begin = { TON: on && !block.was, TOF: !on && block.was, TP: on && !block.was && !block.running };
    if (begin[variable.timer]) Object.assign(block, { running: true, value: 0 });
    else if (block.running) block.value += 1;
    if (variable.timer === 'TON' && !on) Object.assign(block, { running: false, value: 0 });
    if (variable.timer === 'TOF' && on) Object.assign(block, { running: false, value: 0 });
    const isOver = block.value >= scans;
    if (variable.timer === 'TON') block.on = on && isOver;
    if (variable.timer === 'TOF') {
      if (block.running && isOver) block.running = false;
      block.on = on || block.running;
    }
    if (variable.timer === 'TP') {
      if (block.running && isOver) block.running = false;
      block.on = block.running;
    }
    block.was = on;
  }

  private count(name: string, on: boolean, reset: string | undefined): void {
    const variable = this.program.variables.find((one) => one.name === name);
    if (!variable || !('counter' in variable)) throw new Error(name);
    const block = this.blocks[name]!;
    const up = variable.counter === 'CTU';
    if (reset !== undefined && this.read(reset)) block.value = up ? 0 : variable.preset;
    else if (on && !block.was) block.value = up ? block.value + 1 : Math.max(0, block.value - 1);
    block.was = on;
    block.on = up ? block.value >= variable.preset : block.value <= 0;
  }
}

type Random = () => number;

const pick = <T>(list: readonly T[], random: Random): T => list[Math.floor(random() * list.length)]!;

/** Names of inputs, outputs, bits, timers and counters of a random program. */
const INPUTS = ['Start', 'Stop', 'Jog', 'Back'] as const;
const OUTPUTS = ['Pump', 'Gate', 'Lamp'] as const;

/** Any program of bits and edges alone over some inputs and outputs, which are named as they are counted. */
export function randomBits(random: Random, inputs: number, outputs: number): Program {
  const names = [
    ...Array.from({ length: inputs }, (_, k) => ({ name: `I${k}`, at: `I0.${k}` })),
    ...Array.from({ length: outputs }, (_, k) => ({ name: `Q${k}`, at: `Q0.${k}` })),
    { name: 'Memo', initial: random() < 0.2, retain: random() < 0.3 },
  ];
  const contact = (): When[number] => {
    const bit = pick(names, random).name;
    const kind = random();
    if (kind < 0.5) return { no: bit };
    if (kind < 0.84) return { nc: bit };
    return kind < 0.92 ? { rising: bit } : { falling: bit };
  };
  const series = (depth: number): When =>
    Array.from({ length: 1 + Math.floor(random() * 2) }, () =>
      depth > 0 && random() < 0.35 ? { any: [series(0), series(0)] } : contact(),
    );
  const written = names.slice(inputs).map(({ name }) => name);
  return {
    contactum: 'program/1',
    title: 'Random',
    variables: names,
    rungs: Array.from({ length: 2 + Math.floor(random() * 3) }, () => {
      const bit = pick(written, random);
      const kind = random();
      const action = kind < 0.6 ? { coil: bit } : kind < 0.8 ? { set: bit } : { reset: bit };
      return { when: series(1), then: [action] };
    }),
  };
}

/** Any program: a few rungs over inputs, outputs, bits, timers and counters. */
export function randomProgram(random: Random, rungs = 3 + Math.floor(random() * 6)): Program {
  const variables: ProgramVariable[] = [
    ...INPUTS.map((name, k) => ({ name, at: `I0.${k}` })),
    ...OUTPUTS.map((name, k) => ({ name, at: `Q0.${k}` })),
    { name: 'Memo', ...(random() < 0.3 ? { initial: random() < 0.5 } : {}) },
    { name: 'Kept', retain: random() < 0.5 },
    ...(['TON', 'TOF', 'TP'] as const).map((timer) => ({
      name: `Time${timer}`,
      timer,
      preset: pick([0.02, 0.25, 0.5, 1.007, 2], random),
    })),
    ...(['CTU', 'CTD'] as const).map((counter) => ({
      name: `Count${counter}`,
      counter,
      preset: 1 + Math.floor(random() * 3),
    })),
  ];
  const bits = [
    ...INPUTS,
    ...OUTPUTS,
    'Memo',
    'Kept',
    'TimeTON.Q',
    'TimeTOF.Q',
    'TimeTP.Q',
    'CountCTU.Q',
    'CountCTD.Q',
  ];
  const written = [...OUTPUTS, 'Memo', 'Kept'];
  // A block is worked by one rung, as in a program that somebody writes.
  const blocks = ['TimeTON', 'TimeTOF', 'TimeTP', 'CountCTU', 'CountCTD'];
  const contact = (): When[number] => {
    const bit = pick(bits, random);
    const kind = random();
    if (kind < 0.45) return { no: bit };
    if (kind < 0.75) return { nc: bit };
    return kind < 0.88 ? { rising: bit } : { falling: bit };
  };
  const series = (depth: number): When =>
    Array.from({ length: 1 + Math.floor(random() * 3) }, () =>
      depth > 0 && random() < 0.3 ? { any: Array.from({ length: 2 }, () => series(depth - 1)) } : contact(),
    );
  const action = (): Program['rungs'][number]['then'][number] => {
    const kind = random();
    if (kind < 0.35 && blocks.length > 0) {
      const [name] = blocks.splice(Math.floor(random() * blocks.length), 1);
      if (name!.startsWith('Time')) return { timer: name! };
      return random() < 0.5 ? { counter: name! } : { counter: name!, reset: pick(bits, random) };
    }
    const bit = pick(written, random);
    if (kind < 0.7) return { coil: bit };
    if (kind < 0.76) return { negated: bit };
    return kind < 0.9 ? { set: bit } : { reset: bit };
  };
  return {
    contactum: 'program/1',
    title: 'Random',
    variables,
    rungs: Array.from({ length: rungs }, () => ({
      when: series(2),
      then: Array.from({ length: random() < 0.2 ? 2 : 1 }, action),
    })),
  };
}
