import { FED, LETTERS, LIMIT_CONTACT, Build, type TemplateCircuit } from './template-build.js';
import { ControllerBuild } from './template-controller.js';
import type { TemplateChoices } from './template-fields.js';

/**
 * Puts a template together: supply, power circuit, head of the control circuit, then what its family does.
 */
export function circuitOf(choices: TemplateChoices, title = ''): TemplateCircuit {
  const build = new Build(choices);
  build.supply();
  const controller = choices.logic === 'controller' ? new ControllerBuild(build) : null;
  FAMILY[choices.family](build, controller);
  const done = build.done();
  if (!controller) return done;
  return { ...done, faults: [...done.faults, ...controller.faults], program: controller.program(title) };
}

const lines = (name: string): string[] => LETTERS.map((line) => `${name} ${line}`);

/** One contactor, one motor; what closes it is told by `control`. */
function direct(build: Build, controller: ControllerBuild | null): string {
  const main = build.contactor(lines('line'), lines('load'));
  build.relay(lines('load'), lines('motor'));
  build.motor(3, lines('motor'));
  if (!controller) build.head();
  return main;
}

function sealIn(build: Build, controller: ControllerBuild | null): void {
  const main = direct(build, controller);
  if (controller) controller.sealIn(main);
  else sealInByRelays(build, main);
  build.lamps([main]);
}

function sealInByRelays(build: Build, main: string): void {
  const coil = `coil ${main}`;
  build.starts('start', 'white', coil);
  build.contact(main, 'NO', FED, coil);
  build.feeds(main, coil);
}

function jogging(build: Build, controller: ControllerBuild | null): void {
  const main = direct(build, controller);
  if (controller) controller.jogging(main);
  else joggingByRelays(build, main);
  build.lamps([main]);
}

function joggingByRelays(build: Build, main: string): void {
  const coil = `coil ${main}`;
  const { jog } = build.choices;
  build.feeds(main, coil);
  if (jog === 'relay') {
    const relay = build.tag('relay');
    build.main.push({
      tag: relay,
      type: 'relay',
      options: { contacts: ['NO 13-14', 'NO 23-24'], coil: build.coil },
    });
    build.returns(relay);
    build.starts('start', 'white', 'run');
    build.nets.put('run', build.paint, `${relay}:A1`);
    build.nets.between(relay, '13-14', FED, 'run', build.paint);
    build.nets.between(relay, '23-24', FED, coil, build.paint);
    build.nets.between(build.button('jog', 'black', ['NO 13-14']), '13-14', FED, coil, build.paint);
  } else if (jog === 'button') {
    build.starts('start', 'white', coil);
    const button = build.button('jog', 'black', ['NO 13-14', 'NC 21-22']);
    build.nets.between(button, '13-14', FED, coil, build.paint);
    build.nets.between(button, '21-22', FED, 'seal', build.paint);
    build.contact(main, 'NO', 'seal', coil);
  } else {
    build.starts('start', 'white', coil);
    const selector = build.tag('selector');
    build.door.push({
      tag: selector,
      type: 'selector',
      options: { positions: ['jog', 'run'], contacts: [{ terminals: '13-14', closedIn: ['run'] }] },
    });
    build.nets.between(selector, '13-14', FED, 'seal', build.paint);
    build.contact(main, 'NO', 'seal', coil);
  }
}

function reversing(build: Build, controller: ControllerBuild | null): void {
  const { interlocks, relays } = build.choices;
  const [l1 = '', l2 = '', l3 = ''] = lines('load');
  const [m1 = '', m2 = '', m3 = ''] = lines('motor');
  const each = relays !== 'shared';
  const behind = ['back 1', 'back 2', 'back 3'];
  const forward = build.contactor(lines('line'), [l1, l2, l3]);
  const reverse = build.contactor(lines('line'), each ? behind : [l3, l2, l1]);
  const forwardRelay = build.relay([l1, l2, l3], lines('motor'));
  const reverseRelay = each ? build.relay(behind, [m3, m2, m1]) : forwardRelay;
  const motor = build.motor(3, lines('motor'));
  if (interlocks.includes('mechanical'))
    build.interlocks.push({ kind: 'mechanical', between: [forward, reverse] });
  if (controller) controller.reversing(forward, reverse, motor);
  else reversingByRelays(build, { forward, reverse, forwardRelay, reverseRelay, motor });
  build.lamps([forward, reverse]);
}

type Reverser = Readonly<Record<'forward' | 'reverse' | 'forwardRelay' | 'reverseRelay' | 'motor', string>>;

function reversingByRelays(
  build: Build,
  { forward, reverse, forwardRelay, reverseRelay, motor }: Reverser,
): void {
  const { interlocks, limits, relays } = build.choices;
  build.head();
  const pushes = interlocks.includes('push-button');
  const contacts = pushes ? ['NO 13-14', 'NC 21-22'] : ['NO 13-14'];
  const buttons = {
    forward: build.starts('forward', 'white', 'forward', contacts),
    reverse: build.starts('reverse', 'black', 'reverse', contacts),
  };
  const rung = (way: 'forward' | 'reverse', own: string, other: string): void => {
    const opposite = way === 'forward' ? buttons.reverse : buttons.forward;
    const parts: ((from: string, to: string) => void)[] = [];
    if (pushes)
      for (const tag of opposite)
        parts.push((from, to) => build.nets.between(tag, '21-22', from, to, build.paint));
    if (limits)
      parts.push((from, to) =>
        build.nets.between(build.limitSwitch(way, motor), LIMIT_CONTACT, from, to, build.paint),
      );
    build.contact(own, 'NO', FED, way);
    if (relays === 'own-rung')
      parts.push((from, to) =>
        build.nets.between(way === 'forward' ? forwardRelay : reverseRelay, '95-96', from, to, build.paint),
      );
    if (interlocks.includes('electrical'))
      parts.push((from, to) => void build.contact(other, 'NC', from, to));
    const coil = parts.length === 0 ? way : `coil ${own}`;
    parts.forEach((part, k) =>
      part(k === 0 ? way : `${way} ${k}`, k === parts.length - 1 ? coil : `${way} ${k + 1}`),
    );
    build.feeds(own, coil);
  };
  rung('forward', forward, reverse);
  rung('reverse', reverse, forward);
}

function starDelta(build: Build, controller: ControllerBuild | null): void {
  const { leg } = build.choices;
  const inWinding = leg === 'winding';
  const main = build.contactor(lines('line'), lines(inWinding ? 'fed' : 'load'));
  const star = build.contactor([], []);
  const delta = build.contactor([], []);
  build.relay(lines(inWinding ? 'fed' : 'load'), lines('motor'), inWinding);
  const motor = build.motor(6, lines('motor'));
  const ends = ['U2', 'V2', 'W2'];
  // Star joins the far ends; delta joins each to the next line: U1-W2, V1-U2, W1-V2 (IEC 60034-8, from
  // memory).
  ends.forEach((end, k) => build.nets.put(`end ${end}`, 'power', `${motor}:${end}`, `${star}:${2 * k + 1}`));
  build.nets.put('star point', 'power', `${star}:2`, `${star}:4`, `${star}:6`);
  const feed = inWinding ? lines('fed') : lines('motor');
  ['W2', 'U2', 'V2'].forEach((end, k) => {
    build.nets.put(feed[k] ?? '', 'power', `${delta}:${2 * k + 1}`);
    build.nets.put(`end ${end}`, 'power', `${delta}:${2 * k + 2}`);
  });
  if (controller) controller.starDelta(main, star, delta);
  else starDeltaByRelays(build, { main, star, delta });
  build.lamps([main]);
}

function starDeltaByRelays(
  build: Build,
  { main, star, delta }: Readonly<Record<'main' | 'star' | 'delta', string>>,
): void {
  const { changeover, main: school, delay } = build.choices;
  build.head();
  build.starts('start', 'white', 'run');
  build.contact(main, 'NO', FED, 'run');
  if (school === 'star') {
    build.contact(star, 'NO', 'run', `coil ${main}`);
    build.contact(main, 'NO', 'run', `coil ${main}`);
    build.feeds(main, `coil ${main}`);
  } else {
    build.feeds(main, 'run');
  }
  changeOver(build, changeover, { star, delta, delay });
  build.contact(delta, 'NC', 'to star', `coil ${star}`);
  build.feeds(star, `coil ${star}`);
  build.contact(star, 'NC', 'to delta', `coil ${delta}`);
  build.feeds(delta, `coil ${delta}`);
}

/** What lets star go and delta come: from the net `run` to `to star` and `to delta`. */
function changeOver(
  build: Build,
  by: TemplateChoices['changeover'],
  { delta, delay }: { readonly star: string; readonly delta: string; readonly delay: number },
): void {
  if (by === 'by-hand') {
    const tag = build.tag('pushbutton');
    build.door.push({
      tag,
      type: 'pushbutton',
      options: { contacts: ['NO 13-14', 'NC 21-22'], colour: 'grey' },
    });
    build.nets.between(tag, '21-22', 'run', 'to star', build.paint);
    build.nets.between(tag, '13-14', 'run', 'to delta', build.paint);
    build.contact(delta, 'NO', 'run', 'to delta');
    return;
  }
  const type = by === 'timer' ? 'timer' : 'star-delta-timer';
  const tag = build.tag(type);
  const options =
    by === 'timer' ? { function: 'on-delay', coil: build.coil } : { coil: build.coil, pause: 0.05 };
  build.main.push({ tag, type, options, settings: { delay } });
  build.returns(tag);
  build.nets.put('run', build.paint, `${tag}:A1`);
  const [toStar, toDelta] = by === 'timer' ? (['15-16', '15-18'] as const) : (['17-18', '17-28'] as const);
  build.nets.between(tag, toStar, 'run', 'to star', build.paint);
  build.nets.between(tag, toDelta, 'run', 'to delta', build.paint);
}

const FAMILY: Readonly<
  Record<TemplateChoices['family'], (build: Build, controller: ControllerBuild | null) => void>
> = {
  'seal-in': sealIn,
  jogging,
  reversing,
  'star-delta': starDelta,
};
