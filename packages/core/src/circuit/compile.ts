import { splitRef, terminalRef, type Bench, type TerminalRef } from '../bench/index.js';
import {
  BURNT,
  INTACT,
  LETTING_GO,
  OPERATED,
  TIMER_DONE,
  TIMER_TIMING,
  anatomy,
  type Anatomy,
  type Device,
  type MechanismSpec,
} from '../catalogue/index.js';
import { coilImpedances, transformerImpedance } from '../machines/index.js';
import { LEAD_OHMS, LEAST_DC_SOURCE_OHMS, LEAST_OHMS } from '../tolerances.js';
import type {
  Circuit,
  Coil,
  Conductor,
  FixedLoad,
  Impedance,
  Lamp,
  MechanicalState,
  Mechanism,
  MechanismIndex,
  Motor,
  Source,
  Switch,
  TerminalIndex,
  Transformer,
} from './circuit.js';

/**
 * Compiles a valid bench to its circuit. Throws on a wire to a terminal that does not exist, which a
 * validated bench never has.
 */
export function compile(bench: Bench): Circuit {
  const terminals: TerminalRef[] = [];
  const indexOf = new Map<string, TerminalIndex>();
  const parts = bench.devices.map((device) => ({ device, anatomy: anatomy(device) }));
  for (const { device, anatomy: body } of parts) {
    for (const { name } of body.terminals) {
      const ref = terminalRef(device.tag, name);
      indexOf.set(ref, terminals.length as TerminalIndex);
      terminals.push(ref);
    }
  }
  const at = (tag: string, name: string): TerminalIndex => {
    const index = indexOf.get(`${tag}:${name}`);
    if (index === undefined) throw new Error(`no terminal ${tag}:${name}`);
    return index;
  };

  const conductors: Conductor[] = bench.wires.map((wire, k) => {
    const from = splitRef(wire.from);
    const to = splitRef(wire.to);
    return {
      a: at(from.tag, from.terminal),
      b: at(to.tag, to.terminal),
      wire: k,
      tag: '',
      ohms: (LEAD_OHMS * (wire.length ?? 1)) / (wire.area ?? 1),
    };
  });
  const mechanisms: Mechanism[] = [];
  const mechanismOf = new Map<string, MechanismIndex>();
  const switches: Switch[] = [];
  const sources: Source[] = [];
  const coils: Coil[] = [];
  const lamps: Lamp[] = [];
  const loads: FixedLoad[] = [];
  const motors: Motor[] = [];
  const transformers: Transformer[] = [];

  const addMechanism = (device: Device, spec: MechanismSpec, body: Anatomy): MechanismIndex => {
    const index = mechanisms.length as MechanismIndex;
    const classOf = electricalClasses(spec, body);
    mechanisms.push({ ...spec, index, device, classOf, classes: Math.max(...classOf) + 1 });
    return index;
  };

  for (const { device, anatomy: body } of parts) {
    const { tag } = device;
    for (const [a, b] of body.links)
      conductors.push({ a: at(tag, a), b: at(tag, b), wire: -1, tag, ohms: LEAD_OHMS / 10 });
    if (body.mechanism) {
      const mechanism = addMechanism(device, body.mechanism, body);
      mechanismOf.set(tag, mechanism);
      for (const spec of body.contacts) {
        switches.push({
          a: at(tag, spec.a),
          b: at(tag, spec.b),
          mechanism,
          closedIn: spec.closedIn,
          spec,
          tag,
        });
      }
      for (const source of body.sources) {
        const angle = (source.angle * Math.PI) / 180;
        sources.push({
          terminal: at(tag, source.terminal),
          reference: at(tag, source.reference),
          re: source.volts * Math.cos(angle),
          im: source.volts * Math.sin(angle),
          frequency: source.frequency,
          ohms: Math.max(source.ohms, source.frequency === 0 ? LEAST_DC_SOURCE_OHMS : LEAST_OHMS),
          henries: source.henries,
          currentLimit: source.currentLimit ?? Number.POSITIVE_INFINITY,
          conductor: source.conductor,
          mechanism,
          liveIn: source.liveIn,
          tag,
        });
      }
      if (body.coil) {
        const winding = addMechanism(device, { kind: 'filament', states: 2, initial: INTACT }, body);
        coils.push({
          tag,
          a: at(tag, body.coil.a),
          b: at(tag, body.coil.b),
          mechanism,
          winding,
          voltage: body.coil.voltage,
          kind: body.coil.kind,
          ...coilImpedances(device.type === 'contactor' ? 'contactor' : 'relay', body.coil),
        });
      }
      if (body.lamp) {
        lamps.push({
          tag,
          a: at(tag, body.lamp.a),
          b: at(tag, body.lamp.b),
          mechanism,
          voltage: body.lamp.voltage,
          ohms: body.lamp.ohms,
        });
      }
    }
    if (body.impedance) {
      const { a, b, ohms, henries } = body.impedance;
      loads.push({ tag, a: at(tag, a), b: at(tag, b), ohms, henries });
    }
    if (body.transformer) {
      const { primary, secondary, primaryVoltage, secondaryVoltage, va } = body.transformer;
      const ends = ([a, b]: readonly [string, string]) => [at(tag, a), at(tag, b)] as const;
      transformers.push({
        tag,
        primary: ends(primary),
        secondary: ends(secondary),
        primaryVoltage,
        secondaryVoltage,
        ...transformerImpedance(primaryVoltage, secondaryVoltage, va),
      });
    }
    if (body.motor && body.earthTerminal) {
      const { windings, plate, connection } = body.motor;
      motors.push({
        tag,
        windings: windings.map(
          ([start, finish]) =>
            [start === '*' ? -1 : at(tag, start), finish === '*' ? -1 : at(tag, finish)] as const,
        ),
        plate,
        connection,
        terminals: body.terminals
          .filter(({ name }) => name !== body.earthTerminal)
          .map(({ name }) => at(tag, name)),
        earth: at(tag, body.earthTerminal),
      });
    }
  }

  const interlocks = bench.interlocks.map(({ between }) =>
    between.map((tag) => {
      const mechanism = mechanismOf.get(tag);
      if (mechanism === undefined) throw new Error(`no armature ${tag}`);
      return mechanism;
    }),
  );
  return {
    bench,
    terminals,
    indexOf,
    conductors,
    switches,
    mechanisms,
    mechanismOf,
    sources,
    coils,
    lamps,
    loads,
    motors,
    transformers,
    interlocks,
    jammed: [],
    earthed: bench.devices.flatMap(({ tag, type }) =>
      type === 'supply-3n' || type === 'supply-1n' ? ['N', 'PE'].map((name) => at(tag, name)) : [],
    ),
    frequencies: [...new Set(sources.map(({ frequency }) => frequency))].sort((a, b) => a - b),
    initial: Uint8Array.from(mechanisms, ({ initial }) => initial),
  };
}

/** True in the states in which a coil's magnetic circuit is closed, so that it draws its sealed current. */
function sealedIn(kind: MechanismSpec['kind'], state: number): boolean {
  if (kind === 'timer') return state === TIMER_TIMING || state === TIMER_DONE;
  return state === OPERATED || state === LETTING_GO;
}

/** What a coil puts into the circuit: its sealed or its inrush impedance; nothing once it has burnt. */
export function coilImpedance(
  circuit: Pick<Circuit, 'mechanisms'>,
  coil: Coil,
  state: MechanicalState,
): Impedance | null {
  if (state[coil.winding] === BURNT) return null;
  return isSealed(circuit, coil, state) ? coil.sealed : coil.inrush;
}

/** True while a coil's own armature or timer has closed its magnetic circuit. */
export function isSealed(circuit: Pick<Circuit, 'mechanisms'>, coil: Coil, state: MechanicalState): boolean {
  return sealedIn(circuit.mechanisms[coil.mechanism]?.kind ?? 'armature', state[coil.mechanism] as number);
}

/** Groups a mechanism's states by what they conduct, numbered from 0 in order of appearance. */
function electricalClasses(spec: MechanismSpec, body: Anatomy): number[] {
  const signatures = new Map<string, number>();
  return Array.from({ length: spec.states }, (_, state) => {
    let signature: string;
    if (spec.kind === 'filament') signature = state === BURNT ? 'burnt' : 'intact';
    else {
      const bits = [
        ...body.contacts.map((c) => c.closedIn[state]),
        ...body.sources.map((s) => s.liveIn[state]),
      ];
      signature =
        bits.map((bit) => (bit ? '1' : '0')).join('') + (body.coil && sealedIn(spec.kind, state) ? 's' : '');
    }
    const known = signatures.get(signature);
    if (known !== undefined) return known;
    signatures.set(signature, signatures.size);
    return signatures.size - 1;
  });
}
