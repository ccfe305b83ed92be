import { brake } from './brake.js';
import { breaker } from './breaker.js';
import { busbar } from './busbar.js';
import { buzzer } from './buzzer.js';
import { contactor } from './contactor.js';
import { disconnector } from './disconnector.js';
import { estop } from './estop.js';
import { fuse } from './fuse.js';
import { impedance } from './impedance.js';
import { lamp } from './lamp.js';
import { limitSwitch } from './limit-switch.js';
import { motor1 } from './motor-1.js';
import { motor3 } from './motor-3.js';
import { overload } from './overload.js';
import { plc } from './plc.js';
import { pushbutton } from './pushbutton.js';
import { relay } from './relay.js';
import { selector } from './selector.js';
import { starDeltaTimer } from './star-delta-timer.js';
import { supply1n } from './supply-1n.js';
import { supply3n } from './supply-3n.js';
import { supplyDc } from './supply-dc.js';
import { terminalStrip } from './terminal-strip.js';
import { timer } from './timer.js';
import { transformer } from './transformer.js';

/** Every kind of device that there is. */
export const KINDS = {
  'supply-3n': supply3n,
  'supply-1n': supply1n,
  'supply-dc': supplyDc,
  breaker,
  fuse,
  disconnector,
  transformer,
  contactor,
  relay,
  overload,
  pushbutton,
  estop,
  selector,
  'limit-switch': limitSwitch,
  timer,
  'star-delta-timer': starDeltaTimer,
  lamp,
  buzzer,
  'motor-3': motor3,
  'motor-1': motor1,
  brake,
  plc,
  impedance,
  'terminal-strip': terminalStrip,
  busbar,
} as const;
