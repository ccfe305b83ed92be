import { LIMIT_CONTACT, FED, type Build } from './template-build.js';
import { LIVE } from './template-control.js';
import type { Program, ProgramVariable, Rung, RungContact, RungSeries } from '../program/index.js';

/** Names of the nets of the controller's own supply. */
const PLUS = 'plus 24';
const MINUS = 'minus 24';

/** Time between star and delta in which neither is closed, seconds (common practice, no source). */
const PAUSE = 0.05;

const no = (name: string): RungContact => ({ no: name });
const nc = (name: string): RungContact => ({ nc: name });
const any = (...branches: RungSeries[]): RungSeries[number] => ({ any: branches });
const coil = (name: string, comment: string, ...when: RungSeries): Rung => ({
  comment,
  when,
  then: [{ coil: name }],
});
const timer = (name: string, comment: string, ...when: RungSeries): Rung => ({
  comment,
  when,
  then: [{ timer: name }],
});

/**
 * The control circuit of a template where a controller works the contactors: buttons and reports to its
 * inputs, coils behind its outputs, an emergency stop in the common of the outputs, interlocks of the
 * contactors in wire and in the program (common practice, no source).
 */
export class ControllerBuild {
  private readonly tag: string;
  private readonly variables: ProgramVariable[] = [];
  private readonly rungs: Rung[] = [];
  private inputs = 0;
  private outputs = 0;

  constructor(private readonly build: Build) {
    const { nets } = build;
    const supply = build.tag('supply-dc');
    this.tag = build.tag('plc');
    build.main.push(
      { tag: supply, type: 'supply-dc', options: { voltage: 24, currentLimit: 5 } },
      { tag: this.tag, type: 'plc', options: { inputs: 12, groups: [4, 2] } },
    );
    nets.put(PLUS, 'plus', `${supply}:+`, `${this.tag}:L+`);
    nets.put(MINUS, 'minus', `${supply}:-`, `${this.tag}:M`, `${this.tag}:IC`);
  }

  /** The program under its controller's designation. */
  program(title: string): Readonly<Record<string, Program>> {
    const { variables, rungs } = this;
    return { [this.tag]: { contactum: 'program/1', title, variables, rungs } };
  }

  /** What a shorted input, output or processor does on such a board. */
  get faults() {
    const { tag } = this;
    return [
      { id: 'input-dead', title: 'An input is dead', fault: { 'input-dead': `${tag}:I0.1` } },
      {
        id: 'output-welded',
        title: 'An output is welded',
        fault: { 'contact-stuck-closed': `${tag}:QC1-Q0.0` },
      },
      { id: 'plc-stopped', title: `${tag} is left in stop`, fault: { 'plc-stopped': tag } },
    ];
  }

  /** An input that contacts lead to from 24 V; each is put between two nets. */
  private input(name: string, comment: string, ...contacts: ((from: string, to: string) => void)[]): string {
    const at = `I${Math.floor(this.inputs / 8)}.${this.inputs % 8}`;
    this.inputs += 1;
    const net = `input ${at}`;
    contacts.forEach((put, k) =>
      put(k === 0 ? PLUS : `${net} ${k}`, k === contacts.length - 1 ? net : `${net} ${k + 1}`),
    );
    this.build.nets.put(net, 'plus', `${this.tag}:${at}`);
    this.variables.push({ name, at, comment });
    return name;
  }

  /** The NC contact of a device in an input, or others that the build puts there. */
  private contact(tag: string, contact: string): (from: string, to: string) => void {
    return (from, to) => this.build.nets.between(tag, contact, from, to, 'plus');
  }

  /** A contactor's own contact tells that it is in. */
  private report(name: string, tag: string): string {
    return this.input(
      name,
      `${tag} reports`,
      (from, to) => void this.build.contact(tag, 'NO', from, to, 'plus'),
    );
  }

  /** An output, behind it the NC contacts of other contactors, then the coil. */
  private output(name: string, tag: string, behind: readonly string[] = []): string {
    const { build } = this;
    const at = `Q0.${this.outputs}`;
    this.outputs += 1;
    const live = `coil ${tag}`;
    const first = behind.length === 0 ? live : `output ${at}`;
    build.nets.put(first, build.paint, `${this.tag}:${at}`);
    behind.forEach((other, k) =>
      build.contact(
        other,
        'NC',
        k === 0 ? first : `output ${at} ${k}`,
        k === behind.length - 1 ? live : `output ${at} ${k + 1}`,
      ),
    );
    build.feeds(tag, live);
    this.variables.push({ name, at, comment: tag });
    return name;
  }

  private memory(name: string): string {
    this.variables.push({ name });
    return name;
  }

  private onDelay(name: string, preset: number): string {
    this.variables.push({ name, timer: 'TON', preset });
    return name;
  }

  /** Common of the outputs, the stops in one input, the overload relay in the next. */
  private begin(): { stop: string; trip: string } {
    const { build } = this;
    const { nets, choices } = build;
    if (choices.emergencyStop) {
      const tag = build.tag('estop');
      build.door.unshift({ tag, type: 'estop', duty: 'emergency-stop', options: { contacts: ['NC 11-12'] } });
      nets.between(tag, '11-12', LIVE, FED, build.paint);
      nets.put(FED, build.paint, `${this.tag}:QC1`);
    } else nets.put(LIVE, build.paint, `${this.tag}:QC1`);
    const stops = build.stops();
    return {
      stop: this.input(
        'Stop',
        `${stops.join(', ')}, wired NC`,
        ...stops.map((tag) => this.contact(tag, '21-22')),
      ),
      trip: this.input(
        'Trip',
        `${build.relays.join(', ')}: on while it is healthy`,
        ...build.relays.map((tag) => this.contact(tag, '95-96')),
      ),
    };
  }

  /** Buttons in parallel on one input. */
  private buttons(name: string, duty: string, colour: string): string {
    let tags: readonly string[] = [];
    const own = this.input(name, '', (from, to) => {
      tags = this.build.starts(duty, colour, to, ['NO 13-14'], from, 'plus');
    });
    const last = this.variables.pop()!;
    this.variables.push({ ...last, comment: tags.join(', ') });
    return own;
  }

  sealIn(main: string): void {
    const { stop, trip } = this.begin();
    const start = this.buttons('Start', 'start', 'white');
    const runs = this.report('Runs', main);
    const motor = this.output('Motor', main);
    this.rungs.push(
      coil(motor, 'runs on by what the contactor reports', no(stop), no(trip), any([no(start)], [no(runs)])),
    );
  }

  jogging(main: string): void {
    const { build } = this;
    const { stop, trip } = this.begin();
    const start = this.buttons('Start', 'start', 'white');
    const runs = this.report('Runs', main);
    if (build.choices.jog === 'selector') {
      const tag = build.tag('selector');
      const contacts = [{ terminals: '13-14', closedIn: ['run'] }];
      build.door.push({ tag, type: 'selector', options: { positions: ['jog', 'run'], contacts } });
      const run = this.input('Run', `${tag}, on in run`, this.contact(tag, '13-14'));
      const motor = this.output('Motor', main);
      this.rungs.push(
        coil(motor, 'runs on in run alone', no(stop), no(trip), any([no(start)], [no(runs), no(run)])),
      );
      return;
    }
    const button = build.button('jog', 'black', ['NO 13-14']);
    const jog = this.input('Jog', button, this.contact(button, '13-14'));
    const motor = this.output('Motor', main);
    const [ready, holds] = [this.memory('Ready'), this.memory('Holds')];
    const free = [no(stop), no(trip)] as const;
    this.rungs.push(
      coil(ready, 'Start counts where nothing stops', no(start), ...free),
      coil(
        holds,
        'Start holds while the contactor reports, until somebody jogs',
        ...free,
        nc(jog),
        any([{ rising: ready }], [no(holds)]),
        any([no(start)], [no(runs)]),
      ),
      coil(motor, 'jog or run', ...free, any([no(jog)], [no(holds)])),
    );
  }

  reversing(forward: string, reverse: string, motor: string): void {
    const { build } = this;
    const { interlocks, limits } = build.choices;
    const { stop, trip } = this.begin();
    const starts = {
      forward: this.buttons('Forward', 'forward', 'white'),
      reverse: this.buttons('Reverse', 'reverse', 'black'),
    };
    const reports = { forward: this.report('Ahead', forward), reverse: this.report('Back', reverse) };
    const end = (way: 'forward' | 'reverse', name: string): RungSeries => {
      if (!limits) return [];
      const tag = build.limitSwitch(way, motor);
      return [no(this.input(name, `${tag}: off at the end`, this.contact(tag, LIMIT_CONTACT)))];
    };
    const ends = { forward: end('forward', 'ForwardEnd'), reverse: end('reverse', 'ReverseEnd') };
    const outputs = {
      forward: this.output('KForward', forward, [reverse]),
      reverse: this.output('KReverse', reverse, [forward]),
    };
    const rung = (way: 'forward' | 'reverse', other: 'forward' | 'reverse'): Rung =>
      coil(
        outputs[way],
        way,
        no(stop),
        no(trip),
        any([no(starts[way])], [no(reports[way])]),
        ...(interlocks.includes('push-button') ? [nc(starts[other])] : []),
        ...ends[way],
        nc(outputs[other]),
        nc(reports[other]),
      );
    this.rungs.push(rung('forward', 'reverse'), rung('reverse', 'forward'));
  }

  starDelta(main: string, star: string, delta: string): void {
    const { build } = this;
    const { changeover, main: school, delay } = build.choices;
    const { stop, trip } = this.begin();
    const start = this.buttons('Start', 'start', 'white');
    const runs = this.report('Runs', main);
    const [inStar, inDelta] = [this.report('InStar', star), this.report('InDelta', delta)];
    const throughStar = school === 'star';
    const byHand = changeover === 'by-hand' ? this.changeButton() : null;
    const [kMain, kDelta, kStar] = [
      this.output('KMain', main),
      this.output('KDelta', delta, [star]),
      this.output('KStar', star, [delta]),
    ];
    const run = this.memory('Run');
    const over = byHand === null ? `${this.onDelay('Starting', delay)}.Q` : this.memory('Over');
    const pause = this.onDelay('Pause', PAUSE);
    this.rungs.push(
      coil(
        run,
        'started, and on by what the main contactor reports',
        no(stop),
        no(trip),
        any([no(start)], [no(runs)]),
      ),
      coil(
        kMain,
        throughStar ? 'main contactor, once star has closed' : 'main contactor',
        no(run),
        ...(throughStar ? [any([no(inStar)], [no(runs)])] : []),
      ),
      byHand === null
        ? timer('Starting', 'time in star', no(runs))
        : coil(over, 'to delta by hand', no(runs), any([no(byHand)], [no(over)])),
      coil(kStar, 'star', no(run), nc(over), nc(kDelta), nc(inDelta)),
      timer(pause, 'between star and delta', no(over)),
      coil(kDelta, 'delta', no(run), no(`${pause}.Q`), nc(kStar), nc(inStar)),
    );
  }

  private changeButton(): string {
    const { build } = this;
    const tag = build.tag('pushbutton');
    build.door.push({ tag, type: 'pushbutton', options: { contacts: ['NO 13-14'], colour: 'grey' } });
    return this.input('Change', tag, this.contact(tag, '13-14'));
  }
}
