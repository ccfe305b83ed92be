import { z } from 'zod';
import type { Task } from '@contactum/core';

/** The college's own sign-on and its learning platforms. */

const url = z.url().max(500);
const word = z.string().trim().min(1, 'must not be empty').max(255);

export const platformRequest = z.strictObject({
  name: word,
  issuer: word,
  clientId: word,
  authUrl: url,
  tokenUrl: url,
  keysUrl: url,
  /** The claim that names logins of ours; null where the platform is not trusted to. */
  loginClaim: z.string().trim().min(1).max(255).nullable().default(null),
  deployments: z.array(word).max(50),
});
export type PlatformRequest = z.infer<typeof platformRequest>;

export interface PlatformRow extends PlatformRequest {
  readonly id: string;
}

/** What an administrator enters at a platform, and the platforms that are registered. */
export interface Doors {
  readonly loginUrl: string;
  readonly launchUrl: string;
  readonly keysUrl: string;
  readonly platforms: readonly PlatformRow[];
  /** Marks that were not taken when they were told last. */
  readonly untold: readonly {
    readonly title: string;
    readonly student: string;
    readonly problem: string;
    readonly tries: number;
  }[];
}

/** A student of a course, and what taking the roster does. */
export interface PlatformMember {
  readonly name: string;
  readonly does: 'new' | 'known' | 'member';
}

/** What an instructor may choose to be linked from a course. */
export interface DeepLinkChoice {
  readonly platform: string;
  readonly className: string;
  readonly classId: string;
  readonly set: readonly {
    readonly id: string;
    readonly title: string;
    readonly exerciseId: string;
    readonly task: Task;
  }[];
  readonly assessments: readonly { readonly id: string; readonly title: string }[];
}

/** What is linked: an exercise, which is set to the class by it, or what is set already. */
export const deepLinkRequest = z.union(
  [
    z.strictObject({ exerciseId: z.string().min(1).max(60) }),
    z.strictObject({ assignmentId: z.uuid() }),
    z.strictObject({ assessmentId: z.uuid() }),
  ],
  {
    error: 'needs an exercise, or what is set already',
  },
);
export type DeepLinkRequest = z.infer<typeof deepLinkRequest>;

export const personLinkRequest = z.strictObject({ issuer: word, subject: word });
