import { readFileSync, readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@jest/globals';
import * as core from '@contactum/core';
import * as documents from '@contactum/core/documents';
import * as exercises from '@contactum/core/exercises';

const SCRIPTS = join(dirname(fileURLToPath(import.meta.url)), '..', '..', '..', 'scripts');

// Scripts are not type-checked, and what the bench measures is not run by the tests.
test('what the scripts ask of the core is there', () => {
  const known = new Set([core, documents, exercises].flatMap((one) => Object.keys(one)));
  const asked = ['', 'lib'].flatMap((folder) =>
    readdirSync(join(SCRIPTS, folder))
      .filter((file) => file.endsWith('.mjs'))
      .flatMap((file) =>
        [...readFileSync(join(SCRIPTS, folder, file), 'utf8').matchAll(/\bcore\.([A-Za-z]\w*)\b(?!')/g)].map(
          ([, name]) => ({ file, name: name! }),
        ),
      ),
  );
  expect(asked.length).toBeGreaterThan(50);
  expect(asked.filter(({ name }) => !known.has(name))).toEqual([]);
});
