import type { Behaviour, DeadTest, Exercise, Readiness, Trial } from '@contactum/core';
import type { TemplateChoices, TemplateField } from '@contactum/core/exercises';

export type { TemplateChoices, TemplateField };

/** What the thread of the Setter is asked, and what it tells; each answer has the number of its question. */
export type SetterQuestion =
  | { readonly kind: 'template'; readonly choices: TemplateChoices }
  | { readonly kind: 'fields' }
  | { readonly kind: 'propose'; readonly exercise: Exercise }
  | { readonly kind: 'ready'; readonly exercise: Exercise }
  | { readonly kind: 'dry-run'; readonly exercise: Exercise; readonly seed: number };

export type SetterAnswer =
  | { readonly kind: 'exercise'; readonly exercise: Exercise }
  | {
      readonly kind: 'fields';
      readonly fields: readonly TemplateField[];
      readonly defaults: TemplateChoices;
    }
  | {
      readonly kind: 'proposed';
      readonly behaviours: readonly Behaviour[];
      readonly observe: readonly string[];
      readonly deadTest: readonly DeadTest[];
    }
  | { readonly kind: 'readiness'; readonly readiness: Readiness }
  | { readonly kind: 'trial'; readonly trial: Trial; readonly of: number }
  | { readonly kind: 'done' }
  | { readonly kind: 'wrong'; readonly why: string };

export interface SetterMessage<T> {
  readonly n: number;
  readonly body: T;
}
