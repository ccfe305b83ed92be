/** Why a coil, a lamp or a motor is as it is: what conducts to it, or what blocks it. */
export { explain, explained, type Explanation } from './explain.js';
export { fewestBlocking } from './blocks.js';
export { conductingPath } from './conducting.js';
export { WhatIf, targetIn, type Target } from './what-if.js';
