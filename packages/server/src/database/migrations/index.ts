import type { Knex } from 'knex';
import { founding } from './001-founding.js';
import { workPractice } from './002-work-practice-and-marking-again.js';
import { soundGround } from './003-sound-ground.js';
import { leadsByName } from './004-leads-by-name.js';
import { searches } from './005-searches.js';
import { college } from './006-college.js';
import { paper } from './007-paper.js';
import { recorded } from './008-recorded.js';
import { rights } from './009-rights.js';
import { consent } from './010-consent.js';
import { hints } from './011-hints.js';
import { answers } from './012-answers.js';
import { line } from './013-line.js';
import { variants } from './014-variants.js';
import { signingKeys } from './015-signing-keys.js';
import { assessments } from './016-assessments.js';
import { scanners } from './017-scanners.js';
import { doors } from './018-doors.js';
import { linkedAssessments } from './019-linked-assessments.js';
import { freshReadings } from './020-fresh-readings.js';
import type { Migration } from './migration.js';

const migrations: Migration[] = [
  founding,
  workPractice,
  soundGround,
  leadsByName,
  searches,
  college,
  paper,
  recorded,
  rights,
  consent,
  hints,
  answers,
  line,
  variants,
  signingKeys,
  assessments,
  scanners,
  doors,
  linkedAssessments,
  freshReadings,
];

/** Migrations that stand in the code, so that a bundle carries them. */
export const migrationSource: Knex.MigrationSource<Migration> = {
  getMigrations: () => Promise.resolve(migrations),
  getMigrationName: ({ name }) => name,
  getMigration: (migration) => Promise.resolve(migration),
};
