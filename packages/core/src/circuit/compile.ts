import { splitRef, terminalRef, type Bench, type TerminalRef, type Wire } from '../bench/index.js';
import {
  BURNT,
  INTACT,
  anatomy,
  contactEnds,
  type Anatomy,
  type CoilSpec,
  type Device,
  type LampSpec,
  type MechanismSpec,
  type MotorSpec,
  type SensorSpec,
  type SourceSpec,
  type TransformerSpec,
} from '../catalogue/index.js';
import { coilImpedances, coilThresholds, transformerImpedance } from '../machines/index.js';
import { LEAD_OHMS, LEAST_DC_SOURCE_OHMS, LEAST_OHMS } from '../tolerances.js';
import type {
  Circuit,
  Coil,
  Conductor,
  Element,
  ImpedanceLaw,
  Lamp,
  Mechanism,
  MechanismIndex,
  Motor,
  Protection,
  Source,
  Switch,
  TerminalIndex,
  Transformer,
  Travelled,
} from './circuit.js';
import { controllersOf } from './programs.js';
import { isOfController, seals } from './mechanisms/index.js';

interface Part {
  readonly device: Device;
  readonly body: Anatomy;
}

/**
 * Compiles a valid bench to its circuit. Throws on a wire to a terminal that does not exist, which a
 * validated bench never has.
 */
export function compile(bench: Bench): Circuit {
  const compilation = new Compilation(bench);
  for (const wire of bench.wires) compilation.addWire(wire);
  for (const part of compilation.parts) compilation.addDevice(part);
  return compilation.circuit();
}

/** A circuit under construction, device by device. */
class Compilation {
  readonly parts: readonly Part[];
  private readonly terminals: TerminalRef[] = [];
  private readonly indexOf = new Map<string, TerminalIndex>();
  private readonly conductors: Conductor[] = [];
  private readonly mechanisms: Mechanism[] = [];
  private readonly mechanismOf = new Map<string, MechanismIndex>();
  /** By device and name. */
  private readonly actuatorOf = new Map<string, MechanismIndex>();
  private readonly switches: Switch[] = [];
  private readonly sources: Source[] = [];
  private readonly coils: Coil[] = [];
  private readonly lamps: Lamp[] = [];
  private readonly motors: Motor[] = [];
  private readonly transformers: Transformer[] = [];
  private readonly protections: Protection[] = [];
  private readonly coilElements: Element[] = [];
  private readonly lampElements: Element[] = [];
  private readonly impedanceElements: Element[] = [];

  constructor(private readonly bench: Bench) {
    this.parts = bench.devices.map((device) => ({ device, body: anatomy(device) }));
    for (const { device, body } of this.parts) {
      for (const { name } of body.terminals) {
        const ref = terminalRef(device.tag, name);
        this.indexOf.set(ref, this.terminals.length as TerminalIndex);
        this.terminals.push(ref);
      }
    }
  }

  addWire({ from, to, length = 1, area = 1 }: Wire): void {
    const end = (ref: string) => {
      const { tag, terminal } = splitRef(ref);
      return this.at(tag, terminal);
    };
    const wire = this.conductors.length;
    this.conductors.push({ a: end(from), b: end(to), wire, tag: '', ohms: (LEAD_OHMS * length) / area });
  }

  addDevice({ device, body }: Part): void {
    const { tag } = device;
    for (const link of [...body.links, ...body.heaters]) {
      const [a, b] = this.ends(tag, link);
      this.conductors.push({ a, b, wire: -1, tag, ohms: LEAD_OHMS / 10 });
    }
    this.addActuators(device, body);
    for (const { a, b, ohms, henries } of body.impedances) {
      const law = { kind: 'impedance', open: { ohms, henries } } as const;
      this.impedanceElements.push({ tag, windings: [this.ends(tag, [a, b])], law });
    }
    if (body.transformer) this.addTransformer(tag, body.transformer);
    if (body.motor) this.addMotor(tag, body, body.motor);
  }

  /** The actuators of a device, and everything that conducts by their states. */
  private addActuators(device: Device, body: Anatomy): void {
    const { tag } = device;
    const moving = [...body.coils, ...body.sensors];
    for (const spec of body.actuators) {
      const coils = moving.filter(({ moves }) => moves === spec.name).length;
      const index = this.addMechanism(device, spec, electricalClasses(spec, body, coils), []);
      this.actuatorOf.set(actuatorKey(tag, spec.name), index);
      if (!this.mechanismOf.has(tag)) this.mechanismOf.set(tag, index);
      // What a program remembers for itself is nobody's to name.
      const isHidden = spec.kind === 'memory' && !spec.isShown;
      if (isOfController(spec) && !isHidden && index !== this.mechanismOf.get(tag))
        this.mechanismOf.set(`${tag}.${spec.name}`, index);
    }
    for (const contact of body.contacts) {
      const [a, b] = this.ends(tag, [contact.a, contact.b]);
      const mechanism = this.actuator(tag, contact.movedBy);
      this.switches.push({ a, b, mechanism, closedIn: contact.closedIn, spec: contact, tag });
    }
    for (const source of body.sources) this.addSource(tag, this.actuator(tag, source.switchedBy), source);
    for (const coil of body.coils) this.addCoil(device, coil);
    for (const sensor of body.sensors) this.addSensor(device, sensor);
    for (const lamp of body.lamps) this.addLamp(tag, lamp);
    if (body.protection) {
      const poles = body.protection.poles.map((pole) => this.ends(tag, contactEnds(pole)));
      const mechanism = this.actuator(tag, body.protection.releases);
      this.protections.push({ tag, spec: body.protection, mechanism, poles });
    }
  }

  private addMechanism(
    device: Device,
    spec: MechanismSpec,
    classOf: readonly number[],
    coils: readonly number[],
  ): MechanismIndex {
    const index = this.mechanisms.length as MechanismIndex;
    this.mechanisms.push({ ...spec, index, device, coils, classOf, classes: Math.max(...classOf) + 1 });
    return index;
  }

  private addSource(tag: string, mechanism: MechanismIndex, source: SourceSpec): void {
    const angle = (source.angle * Math.PI) / 180;
    this.sources.push({
      terminal: this.at(tag, source.terminal),
      reference: this.at(tag, source.reference),
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

  private addCoil(device: Device, spec: CoilSpec): void {
    const { inrush, sealed } = coilImpedances(spec.size, spec);
    this.addDeciding(device, spec, coilThresholds(spec), (by, asks, burns) => ({
      kind: 'impedance',
      open: inrush,
      sealed: { impedance: sealed, by, asks },
      burns,
    }));
  }

  /** Nothing but its own kind of current is measured. */
  private addSensor(device: Device, spec: SensorSpec): void {
    const own = { pickUp: spec.on, dropOut: spec.off };
    this.addDeciding(device, spec, { own, other: null }, (_by, _asks, burns) => ({
      kind: 'impedance',
      open: { ohms: spec.ohms, henries: 0 },
      burns,
    }));
  }

  private addDeciding(
    device: Device,
    spec: CoilSpec | SensorSpec,
    thresholds: Pick<Coil, 'own' | 'other'>,
    lawOf: (by: MechanismIndex, asks: number, burns: MechanismIndex) => ImpedanceLaw,
  ): void {
    const { tag } = device;
    const { name, voltage, kind } = spec;
    const winding = { name: `winding of ${name}`, kind: 'winding', states: 2, initial: INTACT } as const;
    const burns = this.addMechanism(device, winding, [INTACT, BURNT], []);
    const [a, b] = this.ends(tag, [spec.a, spec.b]);
    const mechanism = this.actuator(tag, spec.moves);
    const moved = this.mechanisms[mechanism]!;
    const asks = moved.coils.length;
    this.mechanisms[mechanism] = { ...moved, coils: [...moved.coils, this.coils.length] };
    const element =
      this.coilElements.push({ tag, windings: [[a, b]], law: lawOf(mechanism, asks, burns) }) - 1;
    this.coils.push({
      tag,
      name,
      a,
      b,
      mechanism,
      asks,
      element,
      ...thresholds,
      winding: burns,
      voltage,
      kind,
      takesFewVolts: 'takesFewVolts' in spec && spec.takesFewVolts,
    });
  }

  private addLamp(tag: string, { a, b, filament, voltage, ohms }: LampSpec): void {
    const mechanism = this.actuator(tag, filament);
    const ends = this.ends(tag, [a, b]);
    const law = { kind: 'impedance', open: { ohms, henries: 0 }, burns: mechanism } as const;
    const element = this.lampElements.push({ tag, windings: [ends], law }) - 1;
    this.lamps.push({ tag, a: ends[0], b: ends[1], element, mechanism, voltage });
  }

  private addTransformer(tag: string, spec: TransformerSpec): void {
    const { primary, secondary, primaryVoltage, secondaryVoltage, va } = spec;
    this.transformers.push({
      tag,
      primary: this.ends(tag, primary),
      secondary: this.ends(tag, secondary),
      primaryVoltage,
      secondaryVoltage,
      ...transformerImpedance(primaryVoltage, secondaryVoltage, va),
    });
  }

  private addMotor(tag: string, body: Anatomy, { windings, plate, connection, load }: MotorSpec): void {
    const end = (name: string) => (name === '*' ? -1 : this.at(tag, name));
    const terminals = body.terminals.filter(({ role }) => role === 'winding');
    this.motors.push({
      tag,
      windings: windings.map(([start, finish]) => [end(start), end(finish)]),
      plate,
      connection,
      load,
      brake: -1,
      terminals: terminals.map(({ name }) => this.at(tag, name)),
      earth: this.at(tag, body.earthTerminal ?? ''),
    });
  }

  circuit(): Circuit {
    const { bench, terminals, indexOf, conductors, switches, mechanisms, mechanismOf, sources } = this;
    const { coils, transformers, protections } = this;
    // Windings of lamps stand behind those of all coils.
    const lamps = this.lamps.map((lamp) => ({ ...lamp, element: coils.length + lamp.element }));
    const motors = this.motors.map((motor): Motor => ({ ...motor, brake: this.brakeOf(motor.tag) }));
    return {
      bench,
      terminals,
      indexOf,
      conductors,
      switches,
      mechanisms,
      mechanismOf,
      sources,
      elements: this.elements(),
      coils,
      lamps,
      motors,
      transformers,
      protections,
      travels: this.travels(),
      controllers: controllersOf(mechanisms),
      interlocks: bench.interlocks.map(({ between }) => between.map((tag) => this.mechanism(tag))),
      jammed: [],
      jammedIn: [],
      blocked: [],
      earthed: this.earthed(),
      frequencies: [...new Set(sources.map(({ frequency }) => frequency))].sort((a, b) => a - b),
      initial: Uint8Array.from(mechanisms, ({ initial }) => initial),
    };
  }

  private elements(): Element[] {
    return [
      ...this.coilElements,
      ...this.lampElements,
      ...this.impedanceElements,
      ...this.motors.map(({ tag, windings }, motor): Element => ({
        tag,
        windings,
        law: { kind: 'motor', motor },
      })),
      ...this.transformers.map(({ tag, primary, secondary }, transformer): Element => ({
        tag,
        windings: [primary, secondary],
        law: { kind: 'transformer', transformer },
      })),
    ];
  }

  private travels(): Travelled[] {
    return this.parts.flatMap(({ device: { tag }, body: { travel } }): Travelled[] => {
      const motor = travel ? this.motors.findIndex((one) => one.tag === travel.motor) : -1;
      return travel && motor >= 0
        ? [{ motor, mechanism: this.actuator(tag, travel.works), end: travel.end }]
        : [];
    });
  }

  private brakeOf(motor: string): number {
    for (const { device, body } of this.parts)
      if (body.brakes?.motor === motor) return this.actuator(device.tag, body.brakes.by);
    return -1;
  }

  /** Return and earth of every AC supply. */
  private earthed(): TerminalIndex[] {
    return this.parts.flatMap(({ device: { tag }, body: { sources, terminals } }) =>
      sources.some(({ frequency }) => frequency > 0)
        ? terminals.flatMap(({ name, role }) =>
            role === 'return' || role === 'earth' ? [this.at(tag, name)] : [],
          )
        : [],
    );
  }

  private at(tag: string, name: string): TerminalIndex {
    const index = this.indexOf.get(`${tag}:${name}`);
    if (index === undefined) throw new Error(`no terminal ${tag}:${name}`);
    return index;
  }

  private ends(tag: string, [a, b]: readonly [string, string]): readonly [TerminalIndex, TerminalIndex] {
    return [this.at(tag, a), this.at(tag, b)];
  }

  private actuator(tag: string, name: string): MechanismIndex {
    const index = this.actuatorOf.get(actuatorKey(tag, name));
    if (index === undefined) throw new Error(`${tag} has no actuator ${name}`);
    return index;
  }

  private mechanism(tag: string): MechanismIndex {
    const mechanism = this.mechanismOf.get(tag);
    if (mechanism === undefined) throw new Error(`no mechanism ${tag}`);
    return mechanism;
  }
}

const actuatorKey = (tag: string, name: string): string => `${tag} ${name}`;

/** Groups an actuator's states by what they conduct, numbered from 0 in order of appearance. */
function electricalClasses(spec: MechanismSpec, body: Anatomy, coils: number): number[] {
  const signatures = new Map<string, number>();
  const { name } = spec;
  const contacts = body.contacts.filter(({ movedBy }) => movedBy === name);
  const sources = body.sources.filter(({ switchedBy }) => switchedBy === name);
  const isFilament = body.lamps.some(({ filament }) => filament === name);
  return Array.from({ length: spec.states }, (_, state) => {
    const bits = [
      ...contacts.map(({ closedIn }) => closedIn[state]),
      ...sources.map(({ liveIn }) => liveIn[state]),
      ...Array.from({ length: coils }, (__, asks) => seals(spec, state, asks)),
      isFilament && state === BURNT,
    ];
    const signature = bits.map((bit) => (bit ? '1' : '0')).join('');
    const known = signatures.get(signature) ?? signatures.size;
    signatures.set(signature, known);
    return known;
  });
}
