/** What a motor control student learns, in the order in which it is usually taught (common practice, no source). */
export const SKILLS = {
  contacts: 'Normally open and normally closed contacts',
  holding: 'Seal-in (holding) circuits',
  momentary: 'Jogging',
  stopping: 'Stop circuits',
  restart: 'No restart after a supply failure or reset',
  protection: 'Overload and short-circuit protection',
  earthing: 'Earthing and the return of the control circuit',
  interlock: 'Interlocking',
  sequence: 'Sequence starting, timers and star-delta',
  'emergency-stop': 'Emergency stop',
  drawing: 'Reading a drawing: what holds, what blocks, which terminal',
  ratings: 'Ratings, dials and values',
  'dead-test': 'Proving dead and testing before energising',
  faults: 'Fault finding',
  workmanship: 'Workmanship: leads, colours, order of wiring',
  control: 'Programmable controllers',
} as const;

export type SkillId = keyof typeof SKILLS;
export const SKILL_IDS = Object.keys(SKILLS) as SkillId[];
