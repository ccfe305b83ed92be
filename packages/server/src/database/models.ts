import { Model, type RelationMapping, type RelationMappings } from 'objection';
import {
  isSearch,
  jointDifferences,
  type Bench,
  type Exercise,
  type HintDegree,
  type JointDifference,
  type Part,
  type Report,
  type SearchEntry,
  type SheetEntries,
  type AttemptEntry,
  type WrittenFault,
} from '@contactum/core';
import type { AttemptState, Audience, Counts, Mode, Role, SetPlan } from '@contactum/contract';

/**
 * Rows as the code sees them. Every model is bound to a database when it is queried (`Model.query(knex)`).
 */

/** How a row finds those of another table: many of them, one of them, or the one that it names. */
const joined = (
  relation: RelationMapping<Model>['relation'],
  modelClass: typeof Model,
  from: string,
  to: string,
): RelationMapping<Model> => ({ relation, modelClass, join: { from, to } });
const many = (...given: [typeof Model, string, string]) => joined(Model.HasManyRelation, ...given);
const one = (...given: [typeof Model, string, string]) => joined(Model.HasOneRelation, ...given);
const named = (...given: [typeof Model, string, string]) => joined(Model.BelongsToOneRelation, ...given);

export class PersonModel extends Model {
  static override tableName = 'people';
  declare id: string;
  declare login: string;
  declare name: string;
  declare role: Role;
  declare password: string;
  /** Signed in with a first password, a person does nothing before another one is set. */
  declare mustSetPassword: boolean;
  declare erasedAt: Date | null;
  /**
   * Who made the account and keeps its first password; null for the command line and whoever joined by a
   * code.
   */
  declare madeBy: string | null;
  declare createdAt: Date;
}

export class ClassModel extends Model {
  static override tableName = 'classes';
  declare id: string;
  declare name: string;
  /** Who founded it; its instructors stand in a table of their own. */
  declare instructorId: string | null;
  declare term: string;
  declare archivedAt: Date | null;
  declare joinCode: string | null;
  declare members?: PersonModel[];
  declare instructors?: PersonModel[];

  static override get relationMappings(): RelationMappings {
    const through = (from: string, to: string) => ({
      relation: Model.ManyToManyRelation,
      modelClass: PersonModel,
      join: { from: 'classes.id', through: { from, to }, to: 'people.id' },
    });
    return {
      members: through('class_members.classId', 'class_members.studentId'),
      instructors: through('class_instructors.classId', 'class_instructors.instructorId'),
    };
  }
}

export class ExerciseModel extends Model {
  static override tableName = 'exercises';
  static override jsonAttributes = ['document'];
  declare id: string;
  declare document: Exercise;
  declare position: number;
  /** Shipped ones are brought up to date at each start; own ones belong to the college. */
  declare origin: 'shipped' | 'own';
  declare authorId: string | null;
  declare version: number;
  declare retiredAt: Date | null;
}

/** An exercise as it was at one of its versions. */
export class ExerciseVersionModel extends Model {
  static override tableName = 'exercise_versions';
  static override jsonAttributes = ['document'];
  static override idColumn = ['exerciseId', 'version'];
  declare exerciseId: string;
  declare version: number;
  declare document: Exercise;
  declare authorId: string | null;
  declare note: string;
  declare at: Date;
  declare author?: PersonModel;

  static override get relationMappings(): RelationMappings {
    return { author: named(PersonModel, 'exercise_versions.authorId', 'people.id') };
  }
}

/** What an instructor is making of an exercise, not set yet. */
export class DraftModel extends Model {
  static override tableName = 'exercise_drafts';
  static override jsonAttributes = ['document'];
  declare id: string;
  declare exerciseId: string | null;
  declare authorId: string;
  declare document: Exercise;
  declare seq: number;
  declare updatedAt: Date;
}

export class AssignmentModel extends Model {
  static override tableName = 'assignments';
  static override jsonAttributes = ['document'];
  declare id: string;
  declare classId: string;
  declare exerciseId: string;
  declare document: Exercise;
  declare setBy: string;
  declare setAt: Date;
  declare dueAt: Date | null;
  /** Version of the exercise that was set. */
  declare version: number;
  declare opensAt: Date | null;
  declare closesAt: Date | null;
  declare attemptsAllowed: number | null;
  declare counts: Counts;
  declare mode: Mode;
  declare audience: Audience;
  declare groupId: string | null;
  /** Every attempt has a variant of the exercise. */
  declare variants: boolean;
  declare withdrawnAt: Date | null;
  /** Of a task of an assessment: which one, and which of its tasks. */
  declare assessmentId: string | null;
  declare task: string | null;
  declare class?: ClassModel;
  declare people?: AssignmentPersonModel[];
  declare assessment?: AssessmentModel;
  declare setter?: PersonModel;
  declare attempts?: AttemptModel[];

  static override get relationMappings(): RelationMappings {
    return {
      class: named(ClassModel, 'assignments.classId', 'classes.id'),
      people: many(AssignmentPersonModel, 'assignments.id', 'assignment_people.assignmentId'),
      assessment: named(AssessmentModel, 'assignments.assessmentId', 'assessments.id'),
      setter: named(PersonModel, 'assignments.setBy', 'people.id'),
      attempts: many(AttemptModel, 'assignments.id', 'attempts.assignmentId'),
    };
  }
}

/** Several tasks that are sat together; each that is an exercise is an assignment. */
export class AssessmentModel extends Model {
  static override tableName = 'assessments';
  static override jsonAttributes = ['plan'];
  declare id: string;
  declare classId: string;
  declare title: string;
  declare plan: SetPlan;
  declare code: string | null;
  declare opensAt: Date | null;
  declare closesAt: Date | null;
  declare pausedAt: Date | null;
  declare withdrawnAt: Date | null;
  declare signedOffAt: Date | null;
  declare signedOffBy: string | null;
  declare releasedAt: Date | null;
  declare setBy: string;
  declare setAt: Date;
  declare class?: ClassModel;
  declare signer?: PersonModel;
  declare sittings?: SittingModel[];
  declare assignments?: AssignmentModel[];

  static override get relationMappings(): RelationMappings {
    return {
      class: named(ClassModel, 'assessments.classId', 'classes.id'),
      signer: named(PersonModel, 'assessments.signedOffBy', 'people.id'),
      sittings: many(SittingModel, 'assessments.id', 'assessment_sittings.assessmentId'),
      assignments: many(AssignmentModel, 'assessments.id', 'assignments.assessmentId'),
    };
  }
}

/** One person's time at an assessment. */
export class SittingModel extends Model {
  static override tableName = 'assessment_sittings';
  static override idColumn = ['assessmentId', 'studentId'];
  declare assessmentId: string;
  declare studentId: string;
  declare extraMinutes: number;
  declare startedAt: Date | null;
  declare endsAt: Date | null;
  declare pausedAt: Date | null;
  declare handedInAt: Date | null;
  declare voidedAt: Date | null;
  declare voidReason: string;
  declare window: string | null;
  declare seenAt: Date | null;
  declare address: string;
  declare awaySeconds: number;
  declare student?: PersonModel;

  static override get relationMappings(): RelationMappings {
    return { student: named(PersonModel, 'assessment_sittings.studentId', 'people.id') };
  }
}

/** What is other for one person of an assignment. */
export class AssignmentPersonModel extends Model {
  static override tableName = 'assignment_people';
  static override idColumn = ['assignmentId', 'studentId'];
  declare assignmentId: string;
  declare studentId: string;
  /** Among those to whom it is set, where it is set to single people. */
  declare included: boolean;
  declare extraMinutes: number;
}

export class AttemptModel extends Model {
  static override tableName = 'attempts';
  static override jsonAttributes = ['document'];
  declare id: string;
  declare assignmentId: string;
  declare studentId: string;
  declare number: number;
  declare state: AttemptState;
  declare startedAt: Date;
  declare handedInAt: Date | null;
  /** Entries of its log. */
  declare lastSeq: number;
  declare supplyOn: boolean;
  /** Why it could not be marked. */
  declare failure: string | null;
  /** False of a sheet of a student's own that no instructor has confirmed. */
  declare confirmed: boolean;
  /** The exercise of this attempt alone, where it has a variant. */
  declare document: Exercise | null;
  declare assignment?: AssignmentModel;
  declare student?: PersonModel;
  declare marking?: MarkingModel;
  declare former?: FormerMarkingModel[];
  declare permissions?: PermissionModel[];
  declare changes?: PointChangeModel[];
  declare remarks?: RemarkModel[];
  /** Of an attempt at a physical board. */
  declare sheet?: SheetModel;

  /** The exercise as it is worked in this attempt; undefined where its setting was not fetched. */
  get exercise(): Exercise | undefined {
    const set = this.assignment?.document;
    if (!set || !this.document) return set;
    const { repair, hints } = set;
    // The reference that an exercise shows is drawn with other designations.
    const shows = (set.shows ?? []).filter((one) => one !== 'reference');
    return { ...this.document, shows, repair, hints };
  }

  static override get relationMappings(): RelationMappings {
    return {
      sheet: one(SheetModel, 'attempts.id', 'bench_sheets.attemptId'),
      assignment: named(AssignmentModel, 'attempts.assignmentId', 'assignments.id'),
      student: named(PersonModel, 'attempts.studentId', 'people.id'),
      marking: one(MarkingModel, 'attempts.id', 'markings.attemptId'),
      former: many(FormerMarkingModel, 'attempts.id', 'former_markings.attemptId'),
      permissions: many(PermissionModel, 'attempts.id', 'permissions.attemptId'),
      changes: many(PointChangeModel, 'attempts.id', 'point_changes.attemptId'),
      remarks: many(RemarkModel, 'attempts.id', 'remarks.attemptId'),
    };
  }
}

export class LogModel extends Model {
  static override tableName = 'attempt_log';
  static override jsonAttributes = ['body'];
  static override idColumn = ['attemptId', 'seq'];
  declare attemptId: string;
  declare seq: number;
  /** As it was sent. Kinds that browsers of earlier versions told are kept; nothing rests on them. */
  declare body: AttemptEntry | { readonly kind: 'dead-test' | 'incident' };
  declare at: Date;
}

/** A search for faults: of an attempt, or a practice of its own. */
export class SearchModel extends Model {
  static override tableName = 'searches';
  static override jsonAttributes = ['document', 'hidden', 'report'];
  declare id: string;
  declare attemptId: string | null;
  declare personId: string;
  declare document: Exercise;
  /** In the board from the beginning. */
  declare hidden: WrittenFault[];
  declare title: string;
  declare complaint: string;
  declare minutes: number;
  declare state: AttemptState;
  /** Of a practice that has ended. */
  declare report: Report | null;
  declare startedAt: Date;
  declare t: number;
  declare lastSeq: number;
  declare owner: string | null;
  declare seenAt: Date | null;
  declare person?: PersonModel;

  static override get relationMappings(): RelationMappings {
    return { person: named(PersonModel, 'searches.personId', 'people.id') };
  }
}

export class SearchLogModel extends Model {
  static override tableName = 'search_log';
  static override jsonAttributes = ['body'];
  static override idColumn = ['searchId', 'seq'];
  declare searchId: string;
  declare seq: number;
  /** Seconds of the bench's own clock. */
  declare t: number;
  declare body: SearchEntry;
  declare at: Date;
}

/** What was entered at a physical board, and perhaps a photograph of it. */
export class SheetModel extends Model {
  static override tableName = 'bench_sheets';
  static override jsonAttributes = ['entries'];
  declare id: string;
  declare attemptId: string;
  declare enteredBy: string | null;
  declare entries: SheetEntries;
  /** Of everything that was sent: the same sheet sent again is known by it. */
  declare digest: string;
  declare photoType: string | null;
  declare photo: Buffer | null;
  /** Written anew here, without what a camera writes into it. */
  declare photoClean: boolean;
  declare sentAt: Date;
  declare confirmedBy: string | null;
  declare confirmedAt: Date | null;
  /** Seconds that the device's clock was behind the server's; null where it did not say. */
  declare clockBehind: number | null;
  declare attempt?: AttemptModel;
  declare author?: PersonModel;
  declare confirmer?: PersonModel;

  static override get relationMappings(): RelationMappings {
    return {
      attempt: named(AttemptModel, 'bench_sheets.attemptId', 'attempts.id'),
      author: named(PersonModel, 'bench_sheets.enteredBy', 'people.id'),
      confirmer: named(PersonModel, 'bench_sheets.confirmedBy', 'people.id'),
    };
  }
}

/** A criterion that an attempt has lost points by. */
export interface LostCriterion {
  readonly part: Part;
  readonly id: string;
  readonly title: string;
}

export class MarkingModel extends Model {
  static override tableName = 'markings';
  static override jsonAttributes = ['report', 'lost', 'joints'];
  static override idColumn = 'attemptId';
  declare attemptId: string;
  declare report: Report;
  declare markedAt: Date;
  /** What of the report a mark book needs. */
  declare score: number;
  declare recorded: number;
  declare max: number;
  declare passed: boolean;
  declare reason: string | null;
  declare lost: LostCriterion[];
  declare joints: readonly JointDifference[];
}

/**
 * What stands beside a report: the same, shortly; and where a wiring that did not pass differs from the
 * reference.
 */
export const markingOf = (
  report: Report,
  wiring: { readonly exercise: Exercise; readonly bench: Bench } | null,
): Pick<MarkingModel, 'report' | 'score' | 'recorded' | 'max' | 'passed' | 'reason' | 'lost' | 'joints'> => ({
  report,
  score: report.score,
  recorded: report.recorded,
  max: report.max,
  passed: report.passed,
  reason: report.reason ?? null,
  lost: report.criteria.flatMap(({ part, id, title, evidence }) => (evidence ? [{ part, id, title }] : [])),
  joints:
    wiring && !report.passed && !isSearch(wiring.exercise)
      ? jointDifferences(wiring.exercise, wiring.bench)
      : [],
});

export class FormerMarkingModel extends Model {
  static override tableName = 'former_markings';
  static override jsonAttributes = ['report'];
  declare id: string;
  declare attemptId: string;
  declare report: Report;
  declare markedAt: Date;
}

export class PermissionModel extends Model {
  static override tableName = 'permissions';
  declare id: string;
  declare attemptId: string;
  declare authorId: string;
  declare at: Date;
  /** Entries of the log that were there when it was given. */
  declare afterSeq: number;
}

export class PointChangeModel extends Model {
  static override tableName = 'point_changes';
  declare id: string;
  declare attemptId: string;
  declare part: Part;
  declare criterion: string;
  declare before: number;
  declare after: number;
  declare reason: string;
  declare authorId: string;
  declare at: Date;
  declare author?: PersonModel;

  static override get relationMappings(): RelationMappings {
    return {
      author: named(PersonModel, 'point_changes.authorId', 'people.id'),
    };
  }
}

export class HintModel extends Model {
  static override tableName = 'hints';
  static override jsonAttributes = ['places'];
  declare id: string;
  declare attemptId: string;
  declare degree: HintDegree;
  /** Key of the wiring for which it was. */
  declare wiring: string;
  declare text: string;
  /** Terminals that it speaks of. */
  declare places: string[];
  declare cost: number;
  declare at: Date;
}

export class RemarkModel extends Model {
  static override tableName = 'remarks';
  declare id: string;
  declare attemptId: string;
  declare text: string;
  declare authorId: string;
  declare at: Date;
  declare author?: PersonModel;

  static override get relationMappings(): RelationMappings {
    return {
      author: named(PersonModel, 'remarks.authorId', 'people.id'),
    };
  }
}
