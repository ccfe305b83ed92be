import type { Practice, Rules } from '@contactum/core';

const OVERLOAD = {
  line: 'Overload contact at the line end, before Stop.',
  coil: 'Overload contact between coil and neutral.',
  either: 'Overload contact before Stop or after the coil: both are accepted.',
} as const;

const INTERLOCKS = {
  electrical: 'by auxiliary contacts',
  mechanical: 'mechanically',
  'push-button': 'by the push buttons’ own contacts',
} as const;

/** The house rules of an exercise in sentences. */
export function ruleWords(rules: Rules): string[] {
  const { overloadPosition, interlocks, timerSetting, freeContacts, maxWiresPerTerminal, wireColours } =
    rules;
  const between = (min: number | undefined, max: number | undefined) =>
    min === undefined ? `at most ${max ?? ''}` : max === undefined ? `at least ${min}` : `${min} to ${max}`;
  return [
    overloadPosition && OVERLOAD[overloadPosition],
    rules.coilReturnUnswitched &&
      'The coil’s return goes straight to the neutral; only the overload contact may lie in it.',
    rules.fusedControl && 'The control circuit is fed through a fuse.',
    rules.stopUpstream && 'Stop lies before Start.',
    rules.emergencyStopFirst && 'The emergency stop lies before everything else in the control circuit.',
    interlocks &&
      interlocks.length > 0 &&
      `Contactors that must not be in together are interlocked ${interlocks.map((kind) => INTERLOCKS[kind]).join(' and ')}.`,
    rules.noPoleSealing && 'No sealing-in through a power pole.',
    rules.neutralUnswitched && 'No contact switches the neutral.',
    rules.earthBonded && 'Every frame is joined to the supply’s PE.',
    rules.secondaryEarthed && 'One side of the control transformer’s secondary is earthed.',
    rules.overloadDial && 'The overload’s dial stands at the motor’s plate current.',
    timerSetting && `Timers are set to ${between(timerSetting.min, timerSetting.max)} s.`,
    freeContacts !== undefined &&
      `${freeContacts === 1 ? 'One auxiliary contact stays' : `${freeContacts} auxiliary contacts stay`} free.`,
    maxWiresPerTerminal !== undefined && `At most ${maxWiresPerTerminal} conductors on a terminal.`,
    wireColours && `Colours of wires by ${wireColours === 'iec' ? 'IEC 60204-1' : 'NFPA 79'}.`,
    rules.areaByProtection && 'Every conductor carries what its protection lets through.',
    rules.ferruleNumbers && 'Every wire is numbered; one number a potential.',
  ].filter((text): text is string => typeof text === 'string');
}

/** What an exercise asks of the way of working, in sentences. */
export function practiceWords(practice: Practice | undefined): string[] {
  if (!practice) return [];
  const { deadTest, permission, incidents, minutes, wiringOrder } = practice;
  return [
    deadTest && 'Test the wiring dead before you first switch on.',
    permission && 'Switch on only with the instructor’s permission; a changed wiring needs a new one.',
    incidents !== undefined &&
      (incidents === 0 ? 'No incident while working.' : `At most ${incidents} incidents while working.`),
    minutes !== undefined && `Done within ${minutes} minutes.`,
    wiringOrder &&
      (wiringOrder === 'power-first'
        ? 'Power circuit first, then control.'
        : 'Control circuit first, then power.'),
  ].filter((text): text is string => typeof text === 'string');
}
