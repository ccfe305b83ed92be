import type { Knex } from 'knex';
import type { AuditLine, Person } from '@contactum/contract';
import { classesOf } from './permissions.js';

/** What is written down of who did what: sign-ins, marks, permissions, people, settings. */
type AuditKind =
  | 'signed in'
  | 'sign-in refused'
  | 'signed out'
  | 'set a password'
  | 'gave a first password'
  | 'ended sessions'
  | 'added a person'
  | 'changed a person'
  | 'exported a person'
  | 'erased a person'
  | 'founded a class'
  | 'changed a class'
  | 'enrolled'
  | 'took out of a class'
  | 'joined by code'
  | 'set an exercise'
  | 'changed a setting'
  | 'withdrew a setting'
  | 'set an assessment'
  | 'withdrew an assessment'
  | 'invigilated'
  | 'judged a criterion'
  | 'agreed on a criterion'
  | 'moderated'
  | 'signed off an assessment'
  | 'released an assessment'
  | 'appealed'
  | 'answered an appeal'
  | 'published an exercise'
  | 'retired an exercise'
  | 'imported exercises'
  | 'gave permission'
  | 'changed points'
  | 'marked again'
  | 'made an evidence pack'
  | 'took the lead'
  | 'injected a fault'
  | 'entered a bench sheet'
  | 'confirmed a bench sheet'
  | 'asked to join'
  | 'joined when asked'
  | 'declined a class'
  | 'registered a platform'
  | 'removed a platform'
  | 'joined to a sign-on'
  | 'added a scanner'
  | 'removed a scanner'
  | 'freed a scanner'
  | 'opened a permit relay'
  | 'closed a permit relay';

export interface AuditEntry {
  readonly actor: Pick<Person, 'id' | 'name'> | null;
  /** Who acted, where nobody is known. */
  readonly name?: string;
  readonly kind: AuditKind;
  /** Whom or what it concerns, as a person reads it. */
  readonly about?: string;
  readonly classId?: string | null;
  /** Whom it was done to: whoever teaches them sees it. */
  readonly subjectId?: string | undefined;
  readonly detail?: unknown;
  readonly address?: string | undefined;
}

/** Writes one entry down, in the transaction of what it tells of. */
export async function note(
  database: Knex,
  { actor, name = '', kind, about = '', classId = null, subjectId, detail, address = '' }: AuditEntry,
): Promise<void> {
  await database('audit').insert({
    actor_id: actor?.id ?? null,
    actor: actor?.name ?? name,
    kind,
    about,
    class_id: classId,
    subject_id: subjectId ?? null,
    detail: detail === undefined ? null : JSON.stringify(detail),
    address,
  });
}

export interface AuditFilter {
  readonly kind?: string | undefined;
  readonly text?: string | undefined;
  /** Entries before this one. */
  readonly before?: string | undefined;
}

const PAGE = 100;

/** The newest entries: all for an administrator, those of own classes and own acts for an instructor. */
export async function auditLines(
  database: Knex,
  person: Person,
  { kind, text, before }: AuditFilter,
): Promise<AuditLine[]> {
  const query = database('audit').orderBy('id', 'desc').limit(PAGE);
  if (person.role !== 'administrator')
    void query.where((own) =>
      own
        .where('actor_id', person.id)
        .orWhereIn('class_id', classesOf(database, person))
        .orWhereIn(
          'subject_id',
          database('class_members').whereIn('class_id', classesOf(database, person)).select('student_id'),
        ),
    );
  if (kind) void query.where({ kind });
  if (text)
    void query.where((any) => any.whereILike('actor', `%${text}%`).orWhereILike('about', `%${text}%`));
  if (before && /^\d{1,18}$/.test(before)) void query.where('id', '<', before);
  const rows = await query.select<
    { id: string; at: Date; actor: string; kind: string; about: string; detail: unknown; address: string }[]
  >('id', 'at', 'actor', 'kind', 'about', 'detail', 'address');
  return rows.map((row) => ({ ...row, id: row.id, at: row.at.toISOString() }));
}
