import type {
  Aid,
  Behaviour,
  Bench,
  DeadTest,
  Exercise,
  Family,
  HintDegree,
  Marks,
  Part,
  Practice,
  Problem,
  Repair,
  Report,
  Rules,
  Task,
  Wire,
  AttemptEntry,
  Question,
} from '@contactum/core';

/** What the server answers. */

export type Role = 'administrator' | 'instructor' | 'student';

export interface Person {
  readonly id: string;
  readonly login: string;
  readonly name: string;
  readonly role: Role;
  /** Signed in with a first password: another one comes before anything else. */
  readonly mustSetPassword?: boolean;
}

/** What the sign-in page offers. */
export interface Door {
  /** Days for which somebody may stay signed in on a computer of their own; 0 where that is not offered. */
  readonly stayDays: number;
  /** Whether people sign in with passwords; an administrator always may. */
  readonly passwords: boolean;
  /** What the college's own sign-on is called, where there is one. */
  readonly signOn: string | null;
}

/** Where somebody who has signed out goes on to sign out of the college's sign-on. */
export interface SignedOut {
  readonly to: string;
}

/**
 * Where a sign-in stands whose password waits to be looked at: how many are before it, and about how long.
 */
export interface LinePlace {
  readonly before: number;
  readonly seconds: number;
}

/** Which attempt of a person counts. */
export type Counts = 'best' | 'last';
/** An assessment shows neither reference, progress nor tests, and is not practised on. */
export type Mode = 'practice' | 'assessment';
export type Audience = 'class' | 'group' | 'people';

/** When an exercise may be worked at, and how often. */
export interface Setting {
  readonly opensAt: string | null;
  readonly dueAt: string | null;
  readonly closesAt: string | null;
  readonly attemptsAllowed: number | null;
  readonly counts: Counts;
  readonly mode: Mode;
  /** Every student has a board of the own: as hard, and not the same. */
  readonly variants: boolean;
}

/** `failed`: it could not be marked, and its slip says why. */
export type AttemptState = 'open' | 'handed-in' | 'marked' | 'failed';

export interface AttemptSummary {
  readonly id: string;
  readonly number: number;
  readonly state: AttemptState;
  readonly startedAt: string;
  readonly handedInAt: string | null;
  readonly result: Result | null;
  /**
   * Of an assessment whose marks are not shown yet: until when, null where it has no time to close; absent
   * where nothing is held.
   */
  readonly heldUntil?: string | null;
  /** A sheet of the student's own that no instructor has confirmed: its mark counts nowhere. */
  readonly unconfirmed?: true;
}

/** A mark as it stands, with the instructor's changes in it. */
export interface Result {
  /** What was earned. */
  readonly score: number;
  /** What counts: the same where it is passed, else at most one point under the pass mark. */
  readonly recorded: number;
  readonly max: number;
  readonly passed: boolean;
  readonly changed: boolean;
  /** Why it is not passed, in one line. */
  readonly reason: string | null;
}

/** An exercise set to a class, as one student sees it. */
export interface AssignmentForStudent extends Setting {
  readonly id: string;
  readonly className: string;
  readonly setAt: string;
  /** Why no attempt can be begun now; null where one can. */
  readonly shut: string | null;
  readonly attempts: readonly AttemptSummary[];
}

export interface AssignmentForInstructor extends Setting {
  readonly id: string;
  readonly exerciseId: string;
  readonly title: string;
  readonly classId: string;
  readonly className: string;
  readonly setAt: string;
  /** Version of the exercise that was set, and the newest there is. */
  readonly version: number;
  readonly newest: number;
  readonly audience: Audience;
  readonly groupId: string | null;
  readonly people: readonly string[];
  readonly extra: readonly { readonly studentId: string; readonly minutes: number }[];
  readonly withdrawnAt: string | null;
  /** Of those to whom it is set. */
  readonly students: number;
  readonly handedIn: number;
}

export interface ExerciseSummary {
  readonly id: string;
  readonly title: string;
  readonly family: Family;
  readonly brief: string;
  readonly devices: number;
  /** To wire a board, or to find what is wrong with one. */
  readonly task: Task;
  /** The board: devices and what is fitted. */
  readonly bench: Bench;
  /** This person may see the reference as a drawing. */
  readonly drawn: boolean;
  readonly origin: 'shipped' | 'own';
  readonly version: number;
  readonly assigned: readonly AssignmentForStudent[];
  readonly set: readonly AssignmentForInstructor[];
}

/** An exercise without its answer: no reference wiring, no faults, no steps of behaviours. */
export interface ExerciseForStudent {
  readonly id: string;
  readonly title: string;
  readonly family: Family;
  readonly brief: string;
  readonly bench: Bench;
  /** Whether leads, a program, or both are asked for. */
  readonly task?: Task | undefined;
  /** What is asked about its board. */
  readonly questions?: readonly Question[] | undefined;
  /** Leads that are on the board from the beginning and may be changed. */
  readonly laid?: readonly Wire[] | undefined;
  /**
   * Their steps only where the exercise shows its tests: by them the job sheet knows what the board has
   * done.
   */
  readonly behaviours: readonly (Pick<Behaviour, 'id' | 'title' | 'points'> & {
    readonly steps?: Behaviour['steps'];
  })[];
  readonly rules: Rules;
  readonly practice: Practice | null;
  /** What the dead test asks for, without what is to be read. */
  readonly deadTests: readonly Pick<DeadTest, 'between' | 'hold'>[];
  readonly marks: Marks;
  /** How leads lie on its board. */
  readonly leads: 'ducts' | 'hung';
  /** The reference may be seen, as a drawing. */
  readonly drawn: boolean;
  /** It tells how many of the reference's potentials are complete. */
  readonly tellsProgress: boolean;
  /** It tells, after each lead, what the wiring can do so far. */
  readonly tellsProof: boolean;
  /** Points that each hint costs; null where it gives none. */
  readonly hints: Readonly<Record<HintDegree, number>> | null;
}

export interface ExerciseForInstructor {
  readonly exercise: Exercise;
  readonly origin: 'shipped' | 'own';
  readonly version: number;
  readonly retired: boolean;
  readonly set: readonly AssignmentForInstructor[];
}

/** One entry of a log, with its number and the server's time. */
export interface LogEntry {
  readonly seq: number;
  readonly at: string;
  readonly entry: AttemptEntry;
}

export interface AttemptView {
  readonly attempt: AttemptSummary;
  readonly className: string;
  /** Of a task of an assessment: which one, and what of the bench may be used; null where all may. */
  readonly sitting: { readonly assessmentId: string; readonly aids: readonly Aid[] } | null;
  /** When the board is handed in as it stands. */
  readonly closesAt: string | null;
  readonly mode: Mode;
  readonly exercise: ExerciseForStudent;
  readonly log: readonly LogEntry[];
  /** When the instructor last gave permission to energise. */
  readonly permittedAt: string | null;
  /** Entries of the log that were there when it was given. */
  readonly permittedAfter: number;
}

/** A hint that was taken at a bench. */
export interface HintTaken {
  readonly degree: HintDegree;
  readonly text: string;
  /** Terminals that it speaks of. */
  readonly places: readonly string[];
  readonly cost: number;
  readonly at: string;
}

/** Hints of an attempt under way; `next` is for the wiring as it is now, null after the last degree. */
export interface HintsView {
  readonly costs: Readonly<Record<HintDegree, number>>;
  readonly taken: readonly HintTaken[];
  readonly next: HintDegree | null;
}

export interface PointChange {
  readonly id: string;
  readonly part: Part;
  readonly criterion: string;
  readonly from: number;
  readonly to: number;
  readonly reason: string;
  readonly by: string;
  readonly at: string;
}

export interface Remark {
  readonly id: string;
  readonly text: string;
  readonly by: string;
  readonly at: string;
}

/** A marked attempt: report, the instructor's changes and remarks, and the wiring that was marked. */
export interface Slip {
  readonly attempt: AttemptSummary;
  readonly student: { readonly id: string; readonly name: string };
  readonly className: string;
  readonly classId: string;
  readonly exercise: { readonly id: string; readonly title: string; readonly task: Task };
  readonly bench: Bench;
  /** Why it could not be marked. */
  readonly failure: string | null;
  readonly report: Report | null;
  readonly result: Result | null;
  readonly changes: readonly PointChange[];
  readonly remarks: readonly Remark[];
  readonly markedAt: string | null;
  /** What it was given before it was last marked again. */
  readonly former: { readonly markedAt: string; readonly report: Report } | null;
  readonly hints: readonly HintTaken[];
  readonly permittedAt: string | null;
  /** The reader may see the repair. */
  readonly mayRepair: boolean;
  /** The reference wiring, for instructors. */
  readonly reference: Bench | null;
}

/** The search for the fewest edits that make a handed-in wiring pass: how far it is, and what it found. */
export interface RepairView {
  readonly state: 'waiting' | 'running' | 'done' | 'stopped' | 'failed';
  /** Searches before it. */
  readonly before: number;
  /** Edits up to which it looks now, and wirings that it has looked at. */
  readonly edits: number;
  readonly tried: number;
  readonly result: Repair | null;
}

export interface ClassSummary {
  readonly id: string;
  readonly name: string;
  readonly term: string;
  readonly archived: boolean;
  readonly instructors: readonly string[];
  readonly students: number;
  readonly assignments: number;
  /** Benches that are worked at now. */
  readonly atWork: number;
}

/** The mark book of a class: a row a student, a column an assignment. */
export interface MarkBook {
  readonly id: string;
  readonly name: string;
  readonly term: string;
  readonly assignments: readonly {
    readonly id: string;
    readonly exerciseId: string;
    readonly title: string;
    readonly dueAt: string | null;
    readonly counts: Counts;
    readonly mode: Mode;
    readonly spread: Spread | null;
  }[];
  readonly students: readonly {
    readonly id: string;
    readonly name: string;
    /** Null where it is not set to this person, or not begun. */
    readonly cells: readonly (MarkCell | null)[];
  }[];
  /** By assignment: what the class loses points for, most frequent first. */
  readonly losses: readonly (readonly Loss[])[];
}

/** What goes wrong, and in how many attempts. */
export interface Loss {
  readonly part: Part;
  readonly id: string;
  readonly title: string;
  readonly attempts: number;
}

/** How the marks that count lie, per cent of the points: least, quarters, most, and each of them. */
export interface Spread {
  readonly least: number;
  readonly low: number;
  readonly median: number;
  readonly high: number;
  readonly most: number;
  readonly marks: readonly number[];
  readonly passed: number;
}

/** The attempt of a student that counts, or the one under way. */
export interface MarkCell {
  readonly attemptId: string;
  readonly attempts: number;
  readonly state: AttemptState;
  readonly late: boolean;
  /** Of the attempt that counts. */
  readonly result: Result | null;
  /** Where none counts: the mark of a student's own sheet that no instructor has confirmed. */
  readonly unconfirmed: Result | null;
}

/** What goes wrong most in an exercise, in every class of an instructor and term by term. */
export interface ExerciseTroubles {
  readonly exerciseId: string;
  readonly title: string;
  readonly terms: readonly {
    readonly term: string;
    readonly attempts: number;
    readonly passed: number;
    readonly median: number;
  }[];
  readonly losses: readonly Loss[];
  /** Joints of the reference that wirings lack, or have too many of. */
  readonly wires: readonly { readonly what: string; readonly attempts: number }[];
}

/** One student of a class: every exercise, every criterion, every change of points. */
export interface StudentRecord {
  readonly student: { readonly id: string; readonly name: string; readonly login: string };
  readonly className: string;
  readonly term: string;
  readonly exercises: readonly {
    readonly assignmentId: string;
    readonly title: string;
    readonly attempts: readonly (AttemptSummary & { readonly counts: boolean })[];
    readonly criteria: readonly {
      readonly part: Part;
      readonly id: string;
      readonly title: string;
      readonly points: number;
      readonly max: number;
    }[];
    readonly changes: readonly PointChange[];
    readonly hours: number;
    /** By which the line of a certificate is checked; null where none counts, or the college has no key. */
    readonly code: string | null;
  }[];
}

/** What the college's record says of a line of a certificate. */
export interface CheckedCertificate {
  readonly student: string;
  readonly className: string;
  readonly exercise: string;
  readonly recorded: number;
  readonly max: number;
  readonly passed: boolean;
  readonly handedInAt: string | null;
}

export type ErrorType =
  | 'invalid'
  | 'unauthenticated'
  | 'forbidden'
  | 'not-found'
  | 'conflict'
  | 'too-large'
  | 'too-many'
  | 'unavailable'
  | 'internal';

export interface ErrorResponse {
  readonly error: {
    readonly type: ErrorType;
    readonly message: string;
    readonly problems?: readonly Problem[];
    readonly lastSeq?: number;
  };
}
