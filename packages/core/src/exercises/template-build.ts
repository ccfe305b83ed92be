import { iecTag, kindOf, usTag, type DeviceType } from '../catalogue/index.js';
import type { ExerciseFault } from '../marking/index.js';
import type { Program } from '../program/index.js';
import type { DeviceEntry } from './board.js';
import type { Purpose } from './leads.js';
import { Nets } from './nets.js';
import { breakerRating, fuseRating, motorPlate, overloadRange } from './template-ratings.js';
import { CONTROL, LIVE, RETURN } from './template-control.js';
import type { TemplateChoices } from './template-fields.js';

/** Board and reference wiring of a template, as nets that grow part by part. */
export interface TemplateCircuit {
  readonly devices: readonly DeviceEntry[];
  readonly interlocks: readonly { readonly kind: 'mechanical'; readonly between: readonly string[] }[];
  readonly nets: Nets;
  readonly faults: readonly ExerciseFault[];
  /** Devices of each station that hangs on a cable. */
  readonly boxes: readonly (readonly string[])[];
  /** By controller: its program; nothing where contacts alone do it. */
  readonly program?: Readonly<Record<string, Program>>;
}

const isOfBlock = (text: string): boolean => (WITH_BLOCK as readonly string[]).includes(text);

/**
 * Names of nets that all parts share: the control circuit's live side, behind the stops, its return, the
 * coils' own return.
 */
export const FED = 'fed';
const COILS = 'coils';

/** The contact of a limit switch that opens at the end. */
export const LIMIT_CONTACT = '21-22';

export const LETTERS = ['1', '2', '3'] as const;

/**
 * A contactor's own contacts, then those of a block of four: NO outside, NC inside (common practice, no
 * source).
 */
const WITH_BLOCK = ['NO 13-14', 'NC 21-22', 'NO 53-54', 'NC 61-62', 'NC 71-72', 'NO 83-84'] as const;

/** Puts a template's board and wiring together, part by part. */
export class Build {
  readonly nets = new Nets();
  readonly main: DeviceEntry[] = [];
  readonly door: DeviceEntry[] = [];
  readonly lampsOn: DeviceEntry[] = [];
  readonly field: DeviceEntry[] = [];
  readonly interlocks: { kind: 'mechanical'; between: readonly string[] }[] = [];
  private readonly counts = new Map<string, number>();
  private readonly aux = new Map<string, string[]>();
  /** By contactor: the net of its coil’s live end. */
  readonly rungOf = new Map<string, string>();
  /** Where frames and secondaries are earthed. */
  frame = '';
  private readonly overloads: string[] = [];
  /** Devices of each remote station. */
  private readonly boxes: string[][] = [];

  constructor(readonly choices: TemplateChoices) {}

  /** The next designation of a kind by the habit of the form. */
  tag(type: DeviceType): string {
    const letters = kindOf({ type }).letters[this.choices.form];
    const n = (this.counts.get(letters) ?? 0) + 1;
    this.counts.set(letters, n);
    return (this.choices.form === 'us' ? usTag : iecTag)(letters, n);
  }

  get coil(): { voltage: number; kind: 'ac' | 'dc' } {
    const { control, controlVoltage, lineVoltage } = this.choices;
    if (control === 'direct') return { voltage: this.phaseVoltage, kind: 'ac' };
    if (control === 'lines') return { voltage: lineVoltage, kind: 'ac' };
    return { voltage: controlVoltage, kind: control === 'dc' ? 'dc' : 'ac' };
  }

  /** Between a line and neutral, as coils are rated for it. */
  get phaseVoltage(): number {
    return Math.round(this.choices.lineVoltage / Math.sqrt(3) / 10) * 10;
  }

  get frequency(): number {
    return this.choices.form === 'us' ? 60 : 50;
  }

  /** Supply, what protects the motor, and what feeds the control circuit; its nets LIVE and RETURN. */
  supply(): void {
    const { nets, choices } = this;
    const { lineVoltage, power, motorProtection } = choices;
    const g = this.tag('supply-3n');
    const q = this.tag(motorProtection === 'breaker' ? 'breaker' : 'fuse');
    this.main.push(
      { tag: g, type: 'supply-3n', options: { lineVoltage, frequency: this.frequency } },
      motorProtection === 'breaker'
        ? {
            tag: q,
            type: 'breaker',
            options: { poles: 3, rating: breakerRating(power, lineVoltage), curve: 'D' },
          }
        : {
            tag: q,
            type: 'fuse',
            options: { poles: 3, rating: fuseRating(power, lineVoltage), class: 'aM' },
          },
    );
    LETTERS.forEach((line, k) => {
      nets.put(`supply ${line}`, 'power', `${g}:L${line}`, `${q}:${2 * k + 1}`);
      nets.put(`line ${line}`, 'power', `${q}:${2 * k + 2}`);
    });
    this.frame = `${g}:PE`;
    CONTROL[choices.control](this, g, q);
  }

  /** A fuse or small breaker of the control circuit with one pole. */
  controlProtection(rating = 2): string {
    const { controlProtection } = this.choices;
    const tag = this.tag(controlProtection);
    this.main.push(
      controlProtection === 'fuse'
        ? { tag, type: 'fuse', options: { poles: 1, rating } }
        : { tag, type: 'breaker', options: { poles: 1, rating, curve: 'C' } },
    );
    return tag;
  }

  /** A motor on the nets of its lines, its frame earthed. */
  motor(leads: 3 | 6, lines: readonly string[]): string {
    const { power, lineVoltage } = this.choices;
    const tag = this.tag('motor-3');
    const plate = motorPlate(power, lineVoltage, this.frequency, leads === 6 ? 'delta' : 'star');
    this.field.push({
      tag,
      type: 'motor-3',
      options: leads === 6 ? { leads, plate } : { leads, internal: 'star', plate },
      settings: { load: 0.4 },
    });
    ['U', 'V', 'W'].forEach((end, k) =>
      this.nets.put(lines[k] ?? '', 'power', `${tag}:${leads === 6 ? `${end}1` : end}`),
    );
    this.nets.put('earth', 'earth', this.frame, `${tag}:PE`);
    return tag;
  }

  /** A contactor whose poles lie between nets. */
  contactor(before: readonly string[], behind: readonly string[]): string {
    const tag = this.tag('contactor');
    this.main.push({ tag, type: 'contactor', options: { coil: this.coil, aux: [] } });
    before.forEach((net, k) => this.nets.put(net, 'power', `${tag}:${2 * k + 1}`));
    behind.forEach((net, k) => this.nets.put(net, 'power', `${tag}:${2 * k + 2}`));
    this.returns(tag);
    return tag;
  }

  /** An overload relay with its heaters between nets. */
  relay(before: readonly string[], behind: readonly string[], inWinding = false): string {
    const { power, lineVoltage, form } = this.choices;
    const tag = this.tag('overload');
    const { range, dial } = overloadRange(power, lineVoltage, { inWinding, isUs: form === 'us' });
    const supply = this.choices.relay === 'electronic' ? { supply: this.coil } : null;
    this.main.push({ tag, type: 'overload', options: { range, class: '10', ...supply }, settings: { dial } });
    before.forEach((net, k) => this.nets.put(net, 'power', `${tag}:${2 * k + 1}`));
    behind.forEach((net, k) => this.nets.put(net, 'power', `${tag}:${2 * k + 2}`));
    this.overloads.push(tag);
    if (supply) {
      this.nets.put(LIVE, this.paint, `${tag}:A1`);
      this.nets.put(RETURN, this.back, `${tag}:A2`);
    }
    return tag;
  }

  /** A free contact of a magnet: its next NO or NC by EN 50005, on its add-on block where it has one. */
  contact(tag: string, kind: 'NO' | 'NC', from: string, to: string, purpose: Purpose = this.paint): string {
    const own = this.aux.get(tag) ?? [];
    const n = own.length + 1;
    const usual = kind === 'NO' ? `${n}3-${n}4` : `${n}1-${n}2`;
    const free = WITH_BLOCK.find((text) => text.startsWith(kind) && !own.includes(text));
    const name = (this.choices.auxiliaryBlock ? free?.slice(3) : undefined) ?? usual;
    this.aux.set(tag, [...own, `${kind} ${name}`]);
    this.nets.between(tag, name, from, to, purpose);
    return name;
  }

  get paint(): 'control' | 'plus' {
    return this.choices.control === 'dc' ? 'plus' : 'control';
  }

  get back(): 'return' | 'minus' | 'control' {
    const { control } = this.choices;
    // Between two lines there is no neutral: both sides are the control circuit.
    return control === 'dc' ? 'minus' : control === 'lines' ? 'control' : 'return';
  }

  /** A coil's end on the coils' common return. */
  returns(tag: string): void {
    const isCoil = this.choices.overload === 'coil';
    this.nets.put(isCoil ? COILS : RETURN, isCoil ? this.paint : this.back, `${tag}:A2`);
  }

  /** A button of the door. */
  button(duty: string, colour: string, contacts: readonly string[]): string {
    const tag = this.tag('pushbutton');
    this.door.push({ tag, type: 'pushbutton', duty, options: { contacts, colour } });
    return tag;
  }

  /**
   * From LIVE to FED: overload relays, emergency stop, stops; the relays behind the coils where that is the
   * school.
   */
  head(): void {
    const { overload, emergencyStop, relays } = this.choices;
    const parts: [string, string][] = [];
    const inHead = relays === 'own-rung' ? [] : this.overloads;
    if (overload === 'line') parts.push(...inHead.map((tag): [string, string] => [tag, '95-96']));
    if (emergencyStop) {
      const tag = this.tag('estop');
      this.door.unshift({ tag, type: 'estop', duty: 'emergency-stop', options: { contacts: ['NC 11-12'] } });
      parts.push([tag, '11-12']);
    }
    for (const stop of this.stops()) parts.push([stop, '21-22']);
    parts.forEach(([tag, contact], k) =>
      this.nets.between(
        tag,
        contact,
        k === 0 ? LIVE : `head ${k}`,
        k === parts.length - 1 ? FED : `head ${k + 1}`,
        this.paint,
      ),
    );
    if (overload === 'coil')
      inHead.forEach((tag, k) => {
        this.nets.put(k === 0 ? COILS : `behind coils ${k}`, this.paint, `${tag}:95`);
        if (k === inHead.length - 1) this.nets.put(RETURN, this.back, `${tag}:96`);
        else this.nets.put(`behind coils ${k + 1}`, this.paint, `${tag}:96`);
      });
  }

  /** A stop button of each station. */
  stops(): string[] {
    return Array.from({ length: this.choices.stations }, (_, k) => {
      const stop = this.button('stop', 'red', ['NC 21-22']);
      this.inBox(k, stop);
      return stop;
    });
  }

  /** Overload relays, in the order in which they were put in. */
  get relays(): readonly string[] {
    return this.overloads;
  }

  /** A limit switch that the motor's load works at one end of its travel. */
  limitSwitch(end: 'forward' | 'reverse', motor: string): string {
    const tag = this.tag('limit-switch');
    this.field.push({
      tag,
      type: 'limit-switch',
      duty: 'limit',
      options: { contacts: ['NO 13-14', `NC ${LIMIT_CONTACT}`], travel: { motor, end } },
    });
    return tag;
  }

  /** Puts a device into the box of the kth station; the first stands at the board. */
  private inBox(station: number, tag: string): void {
    if (station > 0) (this.boxes[station - 1] ??= []).push(tag);
  }

  /** Start buttons in parallel, a station each, between FED and a net. */
  starts(
    duty: string,
    colour: string,
    to: string,
    contacts: readonly string[] = ['NO 13-14'],
    from = FED,
    purpose: Purpose = this.paint,
  ): string[] {
    return Array.from({ length: this.choices.stations }, (_, k) => {
      const tag = this.button(duty, colour, contacts);
      this.inBox(k, tag);
      this.nets.between(tag, '13-14', from, to, purpose);
      return tag;
    });
  }

  /**
   * Lamps: off through NC contacts of every contactor that runs the motor, run beside each coil, tripped by
   * the relay.
   */
  lamps(runs: readonly string[]): void {
    const { lamps, overload, runLamp } = this.choices;
    const lamp = (colour: string, from: string, withCoils = false): void => {
      const tag = this.tag('lamp');
      this.lampsOn.push({ tag, type: 'lamp', options: { ...this.coil, colour } });
      this.nets.put(from, this.paint, `${tag}:X1`);
      // A lamp beside a coil returns as the coil does: else it would feed the other coils backwards where
      // their return opens.
      const isCoils = withCoils && overload === 'coil';
      this.nets.put(isCoils ? COILS : RETURN, isCoils ? this.paint : this.back, `${tag}:X2`);
    };
    if (lamps.includes('off')) {
      runs.forEach((tag, k) => this.contact(tag, 'NC', k === 0 ? LIVE : `off ${k}`, `off ${k + 1}`));
      lamp('white', `off ${runs.length}`);
    }
    if (lamps.includes('run'))
      for (const tag of runs)
        if (runLamp === 'coil') lamp('green', this.rungOf.get(tag)!, true);
        else {
          this.contact(tag, 'NO', LIVE, `run ${tag}`);
          lamp('green', `run ${tag}`);
        }
    if (lamps.includes('trip')) {
      // From the live side of 95 where that is the line's, through 97-98.
      for (const relay of this.overloads) this.nets.between(relay, '97-98', LIVE, 'tripped', this.paint);
      lamp('amber', 'tripped');
    }
  }

  /** A coil's live end on a net of its own name. */
  feeds(tag: string, net: string): void {
    this.nets.put(net, this.paint, `${tag}:A1`);
    this.rungOf.set(tag, net);
  }

  done(): TemplateCircuit {
    const devices = [...this.main, ...this.lampsOn, ...this.door, ...this.field].map((device): DeviceEntry =>
      device.type === 'contactor'
        ? { ...device, options: { ...device.options, aux: this.auxOf(device.tag) } }
        : device,
    );
    return {
      devices,
      interlocks: this.interlocks,
      nets: this.nets,
      faults: this.faults(devices),
      boxes: this.choices.stationCable ? this.boxes : [],
    };
  }

  /** Contacts that a contactor has: what is wired, and at the least one of each kind. */
  private auxOf(tag: string): string[] {
    const own = this.aux.get(tag) ?? [];
    if (this.choices.auxiliaryBlock) return [...WITH_BLOCK, ...own.filter((text) => !isOfBlock(text))];
    const more = (['NO', 'NC'] as const).filter((kind) => !own.some((text) => text.startsWith(kind)));
    return [
      ...own,
      ...more.map((kind, k) => {
        const n = own.length + k + 1;
        return kind === 'NO' ? `NO ${n}3-${n}4` : `NC ${n}1-${n}2`;
      }),
    ];
  }

  /** Faults to find on such a board. */
  private faults(devices: readonly DeviceEntry[]): ExerciseFault[] {
    const magnets = devices.filter(({ type }) => type === 'contactor').map(({ tag }) => tag);
    const [first = '', last = first] = [magnets[0], magnets.at(-1)];
    const supply = devices[0]?.tag ?? '';
    return [
      { id: 'coil-open', title: `Coil of ${last} burnt through`, fault: { 'coil-open': last } },
      {
        id: 'welded-pole',
        title: `A pole of ${first} welded`,
        fault: { 'contact-stuck-closed': `${first}:1-2` },
      },
      {
        id: 'overload-contact',
        title: 'Overload contact 95-96 does not make',
        fault: { 'contact-stuck-open': `${this.overloads[0] ?? ''}:95-96` },
      },
      { id: 'lost-line', title: 'L3 lost before the breaker', fault: { 'lost-phase': `${supply}:L3` } },
    ];
  }
}
