import { Model, type RelationMapping, type RelationMappings } from 'objection';
import type { Exercise, Part, Report, SearchEntry, WorkEntry, WrittenFault } from '@contactum/core';
import type { AttemptState, Role } from '@contactum/contract';

/** Rows as the code sees them. Every model is bound to a database when it is queried (`Model.query(knex)`). */

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
}

export class ClassModel extends Model {
  static override tableName = 'classes';
  declare id: string;
  declare name: string;
  declare instructorId: string;
  declare members?: PersonModel[];

  static override get relationMappings(): RelationMappings {
    return {
      members: {
        relation: Model.ManyToManyRelation,
        modelClass: PersonModel,
        join: {
          from: 'classes.id',
          through: { from: 'class_members.classId', to: 'class_members.studentId' },
          to: 'people.id',
        },
      },
    };
  }
}

export class ExerciseModel extends Model {
  static override tableName = 'exercises';
  static override jsonAttributes = ['document'];
  declare id: string;
  declare document: Exercise;
  declare position: number;
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
  declare class?: ClassModel;
  declare attempts?: AttemptModel[];

  static override get relationMappings(): RelationMappings {
    return {
      class: named(ClassModel, 'assignments.classId', 'classes.id'),
      attempts: many(AttemptModel, 'assignments.id', 'attempts.assignmentId'),
    };
  }
}

export class AttemptModel extends Model {
  static override tableName = 'attempts';
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
  declare assignment?: AssignmentModel;
  declare student?: PersonModel;
  declare marking?: MarkingModel;
  declare former?: FormerMarkingModel[];
  declare permissions?: PermissionModel[];
  declare changes?: PointChangeModel[];
  declare remarks?: RemarkModel[];

  static override get relationMappings(): RelationMappings {
    return {
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
  declare body: WorkEntry | { readonly kind: 'dead-test' | 'incident' };
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

export class MarkingModel extends Model {
  static override tableName = 'markings';
  static override jsonAttributes = ['report'];
  static override idColumn = 'attemptId';
  declare attemptId: string;
  declare report: Report;
  declare markedAt: Date;
}

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
