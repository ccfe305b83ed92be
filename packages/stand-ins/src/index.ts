/** Stand-ins of services of a college, on loopback, for trying and for tests. */
export {
  Gradebook,
  type Course,
  type CourseLink,
  type GradebookOptions,
  type PlatformPerson,
  type StoredScore,
} from './gradebook.js';
export { SignOnStandIn, type SignOnOptions, type SignOnPerson } from './sign-on.js';
