import type { Knex } from 'knex';
import type { Person, PlatformMember } from '@contactum/contract';
import { Refusal } from '../../runtime/refusal.js';
import { enter } from '../classes/consent.js';
import { note } from '../people/audit.js';
import { requireOwnClass } from '../people/permissions.js';
import { personFor } from './newcomers.js';
import type { Platform, Platforms } from './platforms.js';
import { ServiceError, type Listed, type Services } from './services.js';

/** The students of a course, as its platform lists them. */
interface CourseList {
  readonly platform: Platform;
  readonly listed: readonly Listed[];
}

/** Rosters of courses (LTI Names and Role Provisioning Services): looked at first, then taken. */
export class Rosters {
  constructor(
    private readonly database: Knex,
    private readonly platforms: Platforms,
    private readonly services: Services,
  ) {}

  private async listOf(classId: string, instructor: Person): Promise<CourseList> {
    await requireOwnClass(this.database, classId, instructor);
    const course = await this.database('course_links')
      .where({ class_id: classId })
      .whereNotNull('members_url')
      .first<{ platformId: string; membersUrl: string } | undefined>('platform_id', 'members_url');
    if (!course) throw new Refusal('conflict', 'This class is not linked to a course with a roster.');
    const platform = await this.platforms.byId(course.platformId);
    try {
      return { platform, listed: await this.services.students(platform, course.membersUrl) };
    } catch (error) {
      if (error instanceof ServiceError) throw new Refusal('conflict', `${platform.name}: ${error.message}.`);
      throw error;
    }
  }

  /** The students of the course, and what taking the list would do. */
  async preview(classId: string, instructor: Person): Promise<PlatformMember[]> {
    return this.understood(classId, await this.listOf(classId, instructor));
  }

  private async understood(classId: string, { platform, listed }: CourseList): Promise<PlatformMember[]> {
    const links = await this.database('person_links')
      .where({ issuer: platform.issuer })
      .select<{ subject: string; personId: string }[]>('subject', 'person_id');
    const members = await this.database('class_members')
      .where({ class_id: classId })
      .select<{ studentId: string }[]>('student_id');
    const personOf = new Map(links.map(({ subject, personId }) => [subject, personId]));
    const isMember = new Set(members.map(({ studentId }) => studentId));
    return listed.map(({ subject, name }): PlatformMember => {
      const person = personOf.get(subject);
      return { name, does: person === undefined ? 'new' : isMember.has(person) ? 'member' : 'known' };
    });
  }

  /** Takes the list: whoever is new is made, and everybody is put into the class. */
  async take(classId: string, instructor: Person): Promise<PlatformMember[]> {
    const list = await this.listOf(classId, instructor);
    const { platform, listed } = list;
    const before = await this.understood(classId, list);
    for (const { subject, name } of listed) {
      const person = await personFor(this.database, {
        issuer: platform.issuer,
        subject,
        name,
        role: 'student',
        login: null,
        wish: null,
      });
      if (person.role === 'student') await enter(this.database, classId, [person.id]);
    }
    await note(this.database, {
      actor: instructor,
      kind: 'enrolled',
      about: `${before.length} by the roster of ${platform.name}`,
      classId,
    });
    return before;
  }
}
