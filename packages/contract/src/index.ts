/** What crosses HTTP between browser and server. */
export * from './requests.js';
export * from './searches.js';
export * from './college.js';
export * from './floor.js';
export * from './sheets.js';
export * from './assessments.js';
export * from './scanners.js';
export * from './doors.js';
export type * from './responses.js';
export type * from './setter.js';
