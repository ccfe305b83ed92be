import type { DeviceEntry } from './board.js';
import type { DeviceType } from '../catalogue/index.js';
import type { Nets } from './nets.js';
import type { TemplateChoices } from './template-fields.js';

/** Names of the control circuit's live side and return, as all parts of a template call them. */
export const LIVE = 'live';
export const RETURN = 'return';

/** What of a template in the making its supply of control voltage asks and adds to. */
interface Fed {
  readonly choices: TemplateChoices;
  readonly nets: Nets;
  readonly main: DeviceEntry[];
  readonly phaseVoltage: number;
  readonly tag: (type: DeviceType) => string;
  readonly controlProtection: (rating?: number) => string;
  /** Where frames and secondaries are earthed. */
  readonly frame: string;
}

type Feed = (build: Fed, supply: string, protection: string) => void;

/** From one line behind what protects the motor, returned to the neutral. */
const direct: Feed = (build, supply, protection) => {
  const fuse = build.controlProtection();
  build.nets.lead('control', `${protection}:2`, `${fuse}:1`);
  build.nets.put(LIVE, 'control', `${fuse}:2`);
  build.nets.put(RETURN, 'return', `${supply}:N`);
};

/** Between two lines, a fuse or small breaker in each. */
const lines: Feed = (build, _, protection) => {
  const [feed, back] = [build.controlProtection(), build.controlProtection()];
  build.nets.lead('control', `${protection}:2`, `${feed}:1`);
  build.nets.lead('control', `${protection}:4`, `${back}:1`);
  build.nets.put(LIVE, 'control', `${feed}:2`);
  build.nets.put(RETURN, 'control', `${back}:2`);
};

/** From a transformer between two lines, one side of its secondary earthed. */
const transformer: Feed = (build, _, protection) => {
  const { lineVoltage, controlVoltage } = build.choices;
  const tag = build.tag('transformer');
  build.main.push({
    tag,
    type: 'transformer',
    options: { primaryVoltage: lineVoltage, secondaryVoltage: controlVoltage, va: 250 },
  });
  const fuse = build.controlProtection();
  build.nets.lead('power', `${protection}:2`, `${tag}:H1`);
  build.nets.lead('power', `${protection}:4`, `${tag}:H2`);
  build.nets.lead('control', `${tag}:X1`, `${fuse}:1`);
  build.nets.lead('earth', `${tag}:X2`, build.frame);
  build.nets.put(RETURN, 'return', `${tag}:X2`);
  build.nets.put(LIVE, 'control', `${fuse}:2`);
};

/**
 * From a DC supply of its own. It stays when the lines go, so a relay on them opens the control circuit:
 * nothing starts when they come back.
 */
const dc: Feed = (build, supply, protection) => {
  const tag = build.tag('supply-dc');
  build.main.push({
    tag,
    type: 'supply-dc',
    options: { voltage: build.choices.controlVoltage, currentLimit: 5 },
  });
  const [fuse, watchFuse] = [build.controlProtection(4), build.controlProtection()];
  const relay = build.tag('relay');
  const coil = { voltage: build.phaseVoltage, kind: 'ac' };
  build.main.push({ tag: relay, type: 'relay', options: { contacts: ['NO 13-14'], coil } });
  build.nets.lead('plus', `${tag}:+`, `${fuse}:1`);
  build.nets.put(RETURN, 'minus', `${tag}:-`);
  build.nets.lead('control', `${protection}:2`, `${watchFuse}:1`);
  build.nets.lead('control', `${watchFuse}:2`, `${relay}:A1`);
  build.nets.lead('return', `${relay}:A2`, `${supply}:N`);
  build.nets.put('watched', 'plus', `${fuse}:2`, `${relay}:13`);
  build.nets.put(LIVE, 'plus', `${relay}:14`);
};

/** Where a control circuit is fed from. */
export const CONTROL: { readonly [C in TemplateChoices['control']]: Feed } = {
  direct,
  lines,
  transformer,
  dc,
};
