import { z } from 'zod';
import type { Exercise, Objection, SkillId, SkillStanding, VersionChange } from '@contactum/core';
import type { Person, Role } from './responses.js';

/** People, classes, exercises in the making and records: what a college runs on. */

const id = z.uuid();
const name = z.string().trim().min(1).max(100);
/** What somebody signs in with. */
export const login = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z0-9][a-z0-9._@-]{0,59}$/, 'must be letters, digits, and . _ @ -');
export const newPassword = z.string().min(8, 'must be at least 8 characters long').max(200);

export const personRequest = z.strictObject({
  name,
  login,
  role: z.enum(['administrator', 'instructor', 'student']),
});
export const personChange = z
  .strictObject({ name, login, role: z.enum(['administrator', 'instructor', 'student']) })
  .partial();

export const classRequest = z.strictObject({ name, term: z.string().trim().max(60).default('') });
export const classChange = z
  .strictObject({
    name,
    term: z.string().trim().max(60),
    archived: z.boolean(),
    joinCode: z.enum(['new', 'none']),
  })
  .partial();

/** One student for a class: somebody who is known by a login, or somebody new. */
export const memberRequest = z.strictObject({ login, name: name.optional() });
export const instructorRequest = z.strictObject({ login });
export const groupRequest = z.strictObject({ name, members: z.array(id).max(500).default([]) });

/** A list of students; without `commit` it is only looked at. */
export const enrolRequest = z.strictObject({
  csv: z.string().min(1).max(150_000),
  commit: z.boolean().default(false),
  /** Take the good lines although others are bad. */
  skipBad: z.boolean().default(false),
});

const joinCode = z.string().trim().toUpperCase().min(4).max(20);
export const joinRequest = z.strictObject({ code: joinCode });
/** Somebody who has a code and no account. */
export const joinNewRequest = z.strictObject({ code: joinCode, name, login, password: newPassword });

export const draftRequest = z.strictObject({
  /** An exercise to begin from, or to make the next version of. */
  from: z.string().min(1).max(60).optional(),
  /** The next version of it, where it is the college’s own. */
  next: z.boolean().default(false),
  document: z.unknown().optional(),
});
export const draftChange = z.strictObject({ document: z.unknown(), seq: z.int().min(0) });
export const publishRequest = z.strictObject({ note: z.string().trim().max(300).default('') });

export type PersonRequest = z.infer<typeof personRequest>;
export type ClassRequest = z.infer<typeof classRequest>;
export type ClassChange = z.infer<typeof classChange>;
export type EnrolRequest = z.infer<typeof enrolRequest>;

/** Somebody as who keeps the list sees them. */
export interface PersonRow extends Person {
  readonly classes: readonly string[];
  /** Has not set a password of their own yet. */
  readonly isNew: boolean;
  readonly sessions: number;
  readonly erased: boolean;
  readonly createdAt: string;
}

/** How surely a student has each skill, and what to practise next. */
export interface SkillsView {
  readonly standings: readonly SkillStanding[];
  readonly next: readonly {
    readonly exerciseId: string;
    readonly title: string;
    readonly skills: readonly SkillId[];
  }[];
}

/** The same of a class: by student, in the order of the skills; null where nothing has shown one. */
export interface SkillsMap {
  readonly className: string;
  readonly skills: readonly SkillId[];
  readonly students: readonly {
    readonly id: string;
    readonly name: string;
    readonly known: readonly (number | null)[];
  }[];
}

/** A person with the password for the first sign-in; it is shown once. */
export interface FirstPassword {
  readonly person: Person;
  readonly password: string;
}

export interface Roster {
  readonly id: string;
  readonly name: string;
  readonly term: string;
  readonly archivedAt: string | null;
  readonly joinCode: string | null;
  readonly instructors: readonly Person[];
  readonly members: readonly (Person & { readonly isNew: boolean })[];
  readonly groups: readonly {
    readonly id: string;
    readonly name: string;
    readonly members: readonly string[];
  }[];
  /** Who is asked to join and has not answered: nothing of them but what was typed. */
  readonly asked: readonly { readonly id: string; readonly login: string }[];
  /** The learning platform whose course this class is, where its roster can be read. */
  readonly platform: string | null;
}

/** A class that a student is asked to join. */
export interface Invitation {
  readonly classId: string;
  readonly className: string;
  readonly askedBy: string;
  readonly askedAt: string;
}
export const invitationAnswer = z.strictObject({ yes: z.boolean() });

/** What somebody else did with a person whom one teaches. */
export interface Notice {
  readonly id: string;
  readonly text: string;
  readonly at: string;
}

/** A line of a list of students as it was understood. */
export interface EnrolLine {
  /** As an editor counts it. */
  readonly line: number;
  readonly name: string;
  readonly login: string;
  readonly group: string;
  /** What taking it would do. */
  readonly does: 'new' | 'known' | 'ask' | 'member' | 'bad';
  readonly problem: string | null;
}

export interface EnrolAnswer {
  readonly lines: readonly EnrolLine[];
  readonly good: number;
  readonly bad: number;
  readonly committed: boolean;
  /** Of the people who are new; shown once. */
  readonly passwords: readonly FirstPassword[];
}

/** What marking one attempt takes on this server, seconds; null where it takes more than a marking may. */
export interface MarkingCost {
  readonly seconds: number | null;
  /** Most that a marking may take, seconds. */
  readonly most: number;
}

export interface DraftSummary {
  readonly id: string;
  readonly exerciseId: string | null;
  readonly title: string;
  readonly updatedAt: string;
}

export interface Draft extends DraftSummary {
  readonly document: Exercise;
  readonly seq: number;
  /** The version that it would follow, with what is other in it. */
  readonly before: { readonly version: number; readonly document: Exercise } | null;
}

/** Why a draft cannot be published, or that it was. */
export type Published =
  | { readonly ok: true; readonly exerciseId: string; readonly version: number }
  | { readonly ok: false; readonly objections: readonly Objection[] };

export interface ExerciseVersion {
  readonly version: number;
  readonly fingerprint: string;
  readonly by: string;
  readonly note: string;
  readonly at: string;
  /** Against the version before it. */
  readonly changes: readonly VersionChange[];
  /** Classes to which it is set. */
  readonly setTo: readonly string[];
}

/** A document of a library as it was understood. */
export interface ImportLine {
  readonly file: string;
  readonly title: string;
  readonly id: string;
  readonly does: 'new' | 'version' | 'same' | 'copy' | 'bad';
  readonly problem: string | null;
}

export interface ImportAnswer {
  readonly lines: readonly ImportLine[];
  readonly committed: boolean;
}

export interface AuditLine {
  readonly id: string;
  readonly at: string;
  readonly actor: string;
  readonly kind: string;
  readonly about: string;
  readonly detail: unknown;
  readonly address: string;
}

export type { Role };
