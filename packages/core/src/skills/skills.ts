/** What a motor control student learns, in the order in which it is usually taught (common practice, no source). */
export const SKILLS = {
  contacts: 'Normally open and normally closed contacts',
  holding: 'Momentary start that holds',
  momentary: 'Momentary running (jogging)',
  stopping: 'Stopping from anywhere, at once',
  restart: 'No start by itself after a supply failure or a reset',
  protection: 'Overload and short-circuit protection',
  earthing: 'Earthing and the return of the control circuit',
  interlock: 'Interlocks against two that must not meet',
  sequence: 'Order of starting, timers and star-delta',
  'emergency-stop': 'Emergency stop',
  drawing: 'Reading a drawing: what holds, what blocks, which terminal',
  ratings: 'Ratings, dials and values',
  'dead-test': 'Proving dead and testing before energising',
  faults: 'Finding a fault by halving',
  workmanship: 'Workmanship: leads, colours, order of wiring',
  control: 'Wiring to and from a programmable controller',
} as const;

export type SkillId = keyof typeof SKILLS;
export const SKILL_IDS = Object.keys(SKILLS) as SkillId[];
