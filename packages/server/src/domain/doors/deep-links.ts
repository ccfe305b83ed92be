import type { Knex } from 'knex';
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
      .select<{ id: string; title: string; exerciseId: string; task: string | null }[]>(
        'id',
        'exercise_id',
        this.database.raw("document->>'title' as title"),
        this.database.raw("document->>'task' as task"),
      );
    return {
      platform: name,
      className,
      classId,
      set: set.map(({ id: assignmentId, title, exerciseId, task }) => ({
        id: assignmentId,
        title,
        exerciseId,
        task: task ?? 'wire',
      })),
    };
  }

  /** Sets what was chosen, where it is not set yet, and keeps it for the answer. */
  async choose(id: string, { exerciseId, assignmentId }: DeepLinkRequest, person: Person): Promise<void> {
    const row = await this.rowOf(id, person);
    const set = await this.settingOf(row.classId, exerciseId, assignmentId, person);
    await this.database('deep_links').where({ id }).update({ assignment_id: set.id });
  }

  /** Signs the answer to what was chosen. The link is good no more then. */
  async answer(id: string, person: Person): Promise<DeepLinkAnswer> {
    const row = await this.rowOf(id, person);
    if (row.assignmentId === null) throw new Refusal('conflict', 'Nothing is chosen yet.');
    const set = await this.settingOf(row.classId, undefined, row.assignmentId, person);
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
            custom: { assignment: set.id },
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

  private async settingOf(
    classId: string,
    exerciseId: string | undefined,
    assignmentId: string | undefined,
    person: Person,
  ): Promise<{ readonly id: string; readonly title: string; readonly most: number }> {
    const made =
      exerciseId === undefined
        ? assignmentId
        : (await setExercise(this.database, classId, person, assignRequest.parse({ exerciseId })))?.id;
    const row = await this.database('assignments')
      .where({ id: made ?? null, class_id: classId })
      .first<{ id: string; title: string; most: number | null } | undefined>(
        'id',
        this.database.raw("document->>'title' as title"),
        this.database.raw("(document->'marks'->>'total')::numeric as most"),
      );
    if (!row) throw new Refusal('not-found', 'That is not set to this class.');
    return { id: row.id, title: row.title, most: row.most ?? 100 };
  }
}
