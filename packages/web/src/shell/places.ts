import type { Person } from '@contactum/contract';

/** Where a link of the head leads, and what it is called. */
export type Place = readonly [path: string, name: string];

const INSTRUCTORS: readonly Place[] = [
  ['/setter', 'Setter'],
  ['/floor', 'Floor'],
  ['/faults', 'Fault desk'],
  ['/marks', 'Mark book'],
  ['/classes', 'Classes'],
];

const STUDENTS: readonly Place[] = [
  ['/skills', 'Skills'],
  ['/logbook', 'Logbook'],
  ['/parts', 'Parts'],
];

/** The places that somebody finds in the head. */
export const placesOf = ({ role }: Pick<Person, 'role'>): readonly Place[] => [
  ['/exercises', 'Exercises'],
  ['/assessments', 'Assessments'],
  ...(role === 'student' ? STUDENTS : INSTRUCTORS),
  ['/sheets', 'Bench sheets'],
  ['/plate', 'Plate room'],
  ['/help', 'Help'],
];
