/**
 * Setting exercises: edits of a board (`board.ts`), behaviours proposed from a reference (`propose.ts`),
 * what stands against setting it and the dry run (`dry-run.ts`, from `mistakes.ts` and `otherwise.ts`), and
 * what changed between versions (`versions.ts`).
 */
export * from './board.js';
export * from './dry-run.js';
export { completed, freshDevice } from './fresh.js';
export { proposeBehaviours, proposeObserve } from './propose.js';
export { rewired, rightWirings, type RightWiring } from './otherwise.js';
export { wrongWirings, type WrongWiring } from './mistakes.js';
export { groundOf, jointsOf, type Contact, type Ground } from './wiring.js';
export { renameDevice } from './rename.js';
export { canonical, versionChanges, type VersionChange } from './versions.js';
export { programIn, withProgramOf, withTask } from './task.js';
