import { isController, type Duty } from '../catalogue/index.js';
import { isAsked, isSearch, type Exercise, type Part } from '../marking/index.js';
import type { Question } from '../questions/index.js';
import { isExpectation, type Step } from '../simulation/index.js';
import type { SkillId } from './skills.js';

/** Which skills a criterion of a mark shows: from what it asks, not from what it is called. */

const SAFETY: Readonly<Record<string, readonly SkillId[]>> = {
  'no-short': ['interlock', 'protection'],
  'no-self-start': ['restart'],
  'stop-drops': ['stopping'],
  'overload-drops': ['protection'],
  'overload-in-line': ['protection'],
  'estop-holds': ['emergency-stop'],
  'earth-bonded': ['earthing'],
  'earth-carries-nothing': ['earthing'],
  'separate-secondary': ['earthing'],
  'coil-voltage': ['ratings'],
  'no-chatter': ['contacts'],
  'no-race': ['interlock'],
};

const RULES: Readonly<Record<string, readonly SkillId[]>> = {
  'coil-return-unswitched': ['earthing'],
  'secondary-earthed': ['earthing'],
  'earth-bonded': ['earthing'],
  'neutral-unswitched': ['earthing'],
  'fused-control': ['protection'],
  'control-isolated': ['protection'],
  'overload-dial': ['ratings'],
  'overload-reset': ['restart'],
  'overload-position': ['protection'],
  'stop-upstream': ['stopping'],
  'emergency-stop-first': ['emergency-stop'],
  'estop-cuts-outputs': ['emergency-stop'],
  'interlock-electrical': ['interlock'],
  'interlock-mechanical': ['interlock'],
  'interlock-push-button': ['interlock'],
  'hardwired-interlock': ['interlock'],
  'no-pole-sealing': ['holding'],
  'contact-duty': ['contacts'],
  'timer-setting': ['ratings', 'sequence'],
  'plc-stops-normally-closed': ['control', 'stopping'],
  feedback: ['control'],
};

const WORK: Readonly<Record<string, readonly SkillId[]>> = {
  'dead-test': ['dead-test'],
  permission: ['dead-test'],
  incidents: ['dead-test'],
};

const SEARCH: Readonly<Record<string, readonly SkillId[]>> = {
  isolation: ['dead-test'],
  'live-work': ['dead-test'],
};

const QUESTIONS: Readonly<Record<Question['ask'], readonly SkillId[]>> = {
  states: ['drawing', 'contacts'],
  holds: ['drawing', 'holding'],
  blocks: ['drawing', 'interlock'],
  terminal: ['drawing'],
  value: ['ratings'],
  danger: ['interlock'],
  cause: ['faults'],
};

/** The skills that one criterion of an exercise's marks shows; none where it shows none in particular. */
export function skillsOf(
  exercise: Exercise,
  { part, id }: { readonly part: Part; readonly id: string },
): readonly SkillId[] {
  if (isSearch(exercise)) return SEARCH[id] ?? ['faults'];
  if (isAsked(exercise)) {
    const question = exercise.questions?.find((one) => one.id === id);
    return question ? QUESTIONS[question.ask] : [];
  }
  if (part === 'safety') return SAFETY[id] ?? [];
  if (part === 'rules') return RULES[id] ?? [];
  if (part === 'workmanship') return WORK[id] ?? ['workmanship'];
  const behaviour = exercise.behaviours.find((one) => one.id === id);
  return behaviour ? ofSteps(exercise, behaviour.steps) : [];
}

/** What a behaviour works, and what must come of it. */
function ofSteps({ bench: { devices } }: Exercise, steps: readonly Step[]): SkillId[] {
  const dutyOf = (tag: string): Duty | undefined => devices.find((one) => one.tag === tag)?.duty;
  const shown = new Set<SkillId>();
  let pressed: Duty | undefined;
  let isReleased = false;
  let wasIn = false;
  for (const step of steps) {
    if (isExpectation(step)) {
      const isIn = Object.values(step.expect).some((value) => value === 'in' || value === 'forward');
      const isStart = pressed === 'start' || pressed === 'forward' || pressed === 'reverse';
      // What never came in, behind a tripped relay, says nothing of holding.
      if (isStart && isReleased && (isIn || wasIn)) shown.add(isIn ? 'holding' : 'momentary');
      if (!isReleased) wasIn = isIn;
      continue;
    }
    if ('press' in step) {
      pressed = dutyOf(step.press);
      isReleased = false;
      wasIn = false;
      // A button that nobody has given a duty shows what its contact does.
      const skill = pressed ? BY_DUTY[pressed] : 'contacts';
      if (skill) shown.add(skill);
      continue;
    }
    if ('release' in step) isReleased = true;
    // What follows is no longer the start button's doing.
    else if (!('wait' in step)) pressed = undefined;
    if ('trip' in step) shown.add('protection');
    else if ('reset' in step || 'close' in step) shown.add('restart');
    else if ('elapse' in step) shown.add('sequence');
  }
  if (devices.some(isController)) shown.add('control');
  return [...shown];
}

const BY_DUTY: Partial<Record<Duty, SkillId>> = {
  stop: 'stopping',
  'emergency-stop': 'emergency-stop',
  reverse: 'interlock',
  limit: 'interlock',
  jog: 'momentary',
};

/** All skills that an exercise can show. */
export function skillsOfExercise(exercise: Exercise): SkillId[] {
  if (isSearch(exercise)) return ['faults', 'dead-test'];
  const asked = (exercise.questions ?? []).flatMap(({ ask }) => QUESTIONS[ask]);
  const done = exercise.behaviours.flatMap(({ steps }) => ofSteps(exercise, steps));
  const practised: SkillId[] = exercise.practice?.deadTest ? ['dead-test'] : [];
  return [...new Set([...asked, ...done, ...practised])];
}
