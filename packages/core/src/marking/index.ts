/** Exercises and the marking of a wiring: points, and the proof of every point lost. */
export * from './exercise.js';
export * from './report.js';
export { grade, propertyTitle, resultWith } from './grade.js';
export { addPoints, sharePoints } from './points.js';
export { judgeRules, judgeWorkmanship } from './rules.js';
