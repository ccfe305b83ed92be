import type { DeviceType, TerminalRole } from '@contactum/core';

/** What a device is for, in a sentence or two (common practice, no source). */
export const PURPOSES: Readonly<Record<DeviceType, string>> = {
  'supply-3n': 'Three lines, neutral and earth: what the building gives the board.',
  'supply-1n': 'One line, neutral and earth.',
  'supply-dc': 'Extra-low DC voltage for a control circuit, plus and minus.',
  breaker: 'Switches and protects: at a short circuit it opens at once, at an overload after a while.',
  fuse: 'Its link melts when too much current flows, and is replaced, never bridged.',
  disconnector: 'Isolates, and can be locked off when open. Not for stopping a running motor.',
  transformer: 'Makes the control voltage from two lines, apart from the mains.',
  contactor:
    'Its coil pulls the armature in: main poles switch the motor, auxiliaries hold, interlock and report.',
  relay: 'A small armature with contacts for control circuits: it multiplies and holds. Not for motors.',
  overload:
    'Too much motor current for too long trips it: 95-96 opens, 97-98 reports. No short-circuit protection.',
  pushbutton: 'Moved by hand and returned by its spring: NO to start, NC to stop.',
  estop: 'Struck, it stays in, its NC contacts open, until it is pulled or turned out; that starts nothing.',
  selector: 'Stays where it is turned: it chooses a way of working.',
  'limit-switch': 'Worked by the machine at the end of its travel; its NC contact stops that direction.',
  timer:
    'On delay: its contacts change a set time after its coil is energised. Off delay: after it is released.',
  'star-delta-timer': 'One contact for star, one for delta, and a pause between them in which both are open.',
  lamp: 'Says what is so: running, off, tripped.',
  buzzer: 'Sounds an alarm or a warning.',
  'motor-3':
    'Three windings that turn the shaft by the order of the lines; two lines exchanged, it turns the other way.',
  'motor-1': 'Runs on one line and neutral.',
  impedance: 'A resistance, with an inductance where it has one.',
  'terminal-strip': 'Joins what comes from outside with what is inside, number by number.',
  busbar: 'One rail to which many leads are joined.',
  brake: 'Held on by its spring and released by its coil: without voltage it brakes.',
  plc: 'Reads its inputs, runs its program once a scan, switches its outputs. Interlocks are wired outside too.',
};

/** Names in the list of parts, where several kinds have one. */
export const NAMES: Readonly<Partial<Record<DeviceType, string>>> = {
  'supply-3n': 'Supply, three phases',
  'supply-1n': 'Supply, one phase',
  'supply-dc': 'Supply, DC',
  'motor-3': 'Motor, three phases',
  'motor-1': 'Motor, one phase',
};

/** What a terminal is for. */
export const ROLES: Readonly<Record<TerminalRole, string>> = {
  feed: 'carries a line’s voltage',
  return: 'the way back: neutral, or minus',
  earth: 'protective earth, joined to the frame; never switched',
  line: 'fed from the supply’s side',
  load: 'leads on to the load',
  winding: 'an end of a winding',
  primary: 'primary winding, from the lines',
  secondary: 'secondary winding, to the control circuit',
  coil: 'an end of its coil or electronics',
  contact: 'an end of a contact',
  signal: 'an end of what lights or sounds',
  impedance: 'an end of the resistance',
  joint: 'joins leads',
};
