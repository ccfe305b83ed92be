import type { Knex } from 'knex';
import type { Task } from '@contactum/core';
import { assignRequest, type DeepLinkChoice, type DeepLinkRequest, type Person } from '@contactum/contract';
import { Refusal, notFound } from '../../runtime/refusal.js';
import { setExercise } from '../classes/settings.js';
import type { DoorKeys } from './keys.js';
import { originOf, type Platform } from './platforms.js';

const DL = 'https://purl.imsglobal.org/spec/lti-dl/claim';
const LTI = 'https://purl.imsglobal.org/spec/lti/claim';

interface LinkRow extends Platform {
  readonly returnUrl: string;
  readonly data: string | null;
  readonly classId: string;
  readonly className: string;
  readonly deploymentId: string;
  readonly assignmentId: string | null;
  readonly assessmentId: string | null;
}

/** What a link leads to, and the points that it has at most. */
interface Linked {
  readonly custom: { readonly assignment: string } | { readonly assessment: string };
  readonly id: string;
  readonly title: string;
  readonly most: number;
}

/** What is answered to a platform that asked for a link: posted by the browser to its own address. */
export interface DeepLinkAnswer {
  readonly to: string;
  readonly origin: string;
  readonly token: string;
}

/** Choosing what a platform links (LTI Deep Linking 2.0). */
export class DeepLinks {
  constructor(
    private readonly database: Knex,
    private readonly keys: DoorKeys,
  ) {}

  private async rowOf(id: string, person: Person): Promise<LinkRow> {
    const row = await this.database('deep_links as d')
      .join('course_links as c', 'c.id', 'd.course_id')
      .join('classes as k', 'k.id', 'c.class_id')
      .join('platforms as p', 'p.id', 'c.platform_id')
      .where('d.id', id)
      .where('d.person_id', person.id)
      .whereRaw('d.expires_at > now()')
      .first<LinkRow | undefined>(
        'p.*',
        'd.return_url',
        'd.data',
        'd.assignment_id',
        'd.assessment_id',
        'c.class_id',
        'c.deployment_id',
        'k.name as class_name',
      );
    if (!row) throw notFound('link');
    return row;
  }

  /** What may be chosen: what is set to the class already. Exercises are listed as everywhere. */
  async choice(id: string, person: Person): Promise<DeepLinkChoice> {
    const { name, classId, className } = await this.rowOf(id, person);
    const set = await this.database('assignments')
      .where({ class_id: classId })
      .whereNull('withdrawn_at')
      .whereNull('assessment_id')
      .orderBy('set_at', 'desc')
      .select<{ id: string; title: string; exerciseId: string; task: Task | null }[]>(
        'id',
        'exercise_id',
        this.database.raw("document->>'title' as title"),
        this.database.raw("document->>'task' as task"),
      );
    const assessments = await this.database('assessments')
      .where({ class_id: classId })
      .whereNull('withdrawn_at')
      .orderBy('set_at', 'desc')
      .select<{ id: string; title: string }[]>('id', 'title');
    return {
      platform: name,
      className,
      classId,
      assessments,
      set: set.map(({ id: assignmentId, title, exerciseId, task }) => ({
        id: assignmentId,
        title,
        exerciseId,
        task: task ?? 'wire',
      })),
    };
  }

  /** Sets what was chosen, where it is not set yet, and keeps it for the answer. */
  async choose(id: string, chosen: DeepLinkRequest, person: Person): Promise<void> {
    const { classId } = await this.rowOf(id, person);
    if ('assessmentId' in chosen) {
      const { assessmentId } = chosen;
      await this.assessment(classId, assessmentId);
      await this.keep(id, { assessment_id: assessmentId, assignment_id: null });
      return;
    }
    const assignmentId =
      'assignmentId' in chosen
        ? chosen.assignmentId
        : (await setExercise(this.database, classId, person, assignRequest.parse(chosen)))?.id;
    const set = await this.assignment(classId, assignmentId);
    await this.keep(id, { assignment_id: set.id, assessment_id: null });
  }

  private async keep(id: string, chosen: Readonly<Record<string, string | null>>): Promise<void> {
    await this.database('deep_links').where({ id }).update(chosen);
  }

  /** Signs the answer to what was chosen. The link is good no more then. */
  async answer(id: string, person: Person): Promise<DeepLinkAnswer> {
    const row = await this.rowOf(id, person);
    const { classId, assignmentId, assessmentId } = row;
    if (assignmentId === null && assessmentId === null)
      throw new Refusal('conflict', 'Nothing is chosen yet.');
    const set = await (assessmentId === null
      ? this.assignment(classId, assignmentId)
      : this.assessment(classId, assessmentId));
    await this.database('deep_links').where({ id }).delete();
    const token = await this.keys.sign(
      {
        [`${LTI}/message_type`]: 'LtiDeepLinkingResponse',
        [`${LTI}/version`]: '1.3.0',
        [`${LTI}/deployment_id`]: row.deploymentId,
        [`${DL}/content_items`]: [
          {
            type: 'ltiResourceLink',
            title: set.title,
            custom: set.custom,
            lineItem: { scoreMaximum: set.most, label: set.title, resourceId: set.id },
            window: { targetName: '_blank' },
          },
        ],
        ...(row.data === null ? {} : { [`${DL}/data`]: row.data }),
      },
      { audience: row.issuer, issuer: row.clientId },
    );
    return { to: row.returnUrl, origin: originOf(row.returnUrl), token };
  }

  private async assignment(classId: string, id: string | null | undefined): Promise<Linked> {
    const row = await this.database('assignments')
      .where({ id: id ?? null, class_id: classId })
      .first<{ id: string; title: string; most: number | null } | undefined>(
        'id',
        this.database.raw("document->>'title' as title"),
        this.database.raw("(document->'marks'->>'total')::numeric as most"),
      );
    if (!row) throw new Refusal('not-found', 'That is not set to this class.');
    return { id: row.id, custom: { assignment: row.id }, title: row.title, most: row.most ?? 100 };
  }

  private async assessment(classId: string, id: string): Promise<Linked> {
    const row = await this.database('assessments')
      .where({ id, class_id: classId })
      .whereNull('withdrawn_at')
      .first<{ id: string; title: string } | undefined>('id', 'title');
    if (!row) throw new Refusal('not-found', 'That assessment is not set to this class.');
    // Its outcome is told per cent.
    return { id: row.id, custom: { assessment: row.id }, title: row.title, most: 100 };
  }
}
