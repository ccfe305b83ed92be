/** What a template is chosen by: of the exercises, but what the page of the Setter shows as well. */
export type { TemplateChoices, TemplateField } from '@contactum/core/exercises';
