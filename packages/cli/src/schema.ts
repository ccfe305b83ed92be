import { DOCUMENT_SCHEMAS, jsonSchemaOf } from '@contactum/core/documents';
import type { Answer } from './answer.js';
import { Unusable } from './input.js';

/** The JSON Schema of a kind of document; the kinds where none is named. */
export function schemaAnswer(kind: string): Answer {
  const kinds = Object.keys(DOCUMENT_SCHEMAS);
  if (kind === '') return { holds: true, json: kinds, words: kinds.join('\n') };
  const found = kinds.find((one) => one === kind) as keyof typeof DOCUMENT_SCHEMAS | undefined;
  if (!found) throw new Unusable(`arguments: no schema "${kind}"; there are ${kinds.join(', ')}`);
  const schema = jsonSchemaOf(found);
  return { holds: true, json: schema, words: JSON.stringify(schema, null, 2) };
}
