import { defineConfig } from 'eslint/config';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Which folder of core may import which others; everything else is an error. The picture is in docs/architecture.md. */
const CORE = {
  catalogue: [],
  machines: ['catalogue'],
  bench: ['catalogue'],
  circuit: ['catalogue', 'machines', 'bench'],
  electrics: ['catalogue', 'machines', 'bench', 'circuit'],
  simulation: ['catalogue', 'machines', 'bench', 'circuit', 'electrics'],
  live: ['catalogue', 'bench', 'circuit', 'electrics', 'simulation'],
  proof: ['catalogue', 'machines', 'bench', 'circuit', 'electrics', 'simulation'],
  faults: ['catalogue', 'bench', 'circuit', 'electrics', 'simulation', 'proof'],
  formats: ['catalogue', 'machines', 'bench', 'circuit'],
  marking: ['catalogue', 'bench', 'circuit', 'electrics', 'simulation', 'live', 'proof', 'faults'],
};

/** Which package may import which other ones. */
const PACKAGES = {
  core: [],
  contract: ['core'],
  server: ['core', 'contract'],
  web: ['core', 'contract'],
  cli: ['core'],
};

const restricted = (files, patterns) => ({
  files,
  rules: { 'no-restricted-imports': ['error', { patterns }] },
});

const coreRules = Object.entries(CORE).map(([folder, may]) => {
  const forbidden = Object.keys(CORE).filter((other) => other !== folder && !may.includes(other));
  return restricted(
    [`packages/core/src/${folder}/**`],
    [
      {
        group: forbidden.map((other) => `../${other}/**`),
        message: `core/${folder} may import only ${may.join(', ') || 'nothing beside it'}.`,
      },
      {
        group: ['../*/*', '!../*/index.js', '!../*/schema.js'],
        message: 'Another folder of core is reached through its index.',
      },
      { group: ['node:*', 'react*', '@contactum/*'], message: 'core is pure computation.' },
    ],
  );
});

const packageRules = Object.entries(PACKAGES)
  .filter(([name]) => name !== 'core')
  .map(([name, may]) => {
    const forbidden = [...Object.keys(PACKAGES), 'e2e'].filter(
      (other) => other !== name && !may.includes(other),
    );
    return restricted(
      [`packages/${name}/src/**`],
      [
        {
          group: forbidden.flatMap((other) => [`@contactum/${other}`, `@contactum/${other}/**`]),
          message: `${name} may import only ${may.join(' and ')}.`,
        },
        { group: ['**/packages/**', '../../../*'], message: 'Packages are reached by their names.' },
      ],
    );
  });

export default defineConfig(
  {
    ignores: [
      '**/dist/**',
      '**/dist-types/**',
      '.cache/**',
      '.contactum/**',
      'coverage/**',
      'packages/core/test/fixtures/**',
      'test-results/**',
    ],
  },
  {
    files: ['packages/*/src/**/*.{ts,tsx}'],
    extends: [tseslint.configs.strictTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': [
        'error',
        { ignoreArrowShorthand: true, ignoreVoidOperator: true },
      ],
      '@typescript-eslint/no-unnecessary-condition': ['error', { allowConstantLoopConditions: true }],
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      '@typescript-eslint/no-misused-promises': [
        'error',
        { checksVoidReturn: { arguments: false, attributes: false } },
      ],
      'max-lines': ['error', { max: 600, skipBlankLines: true, skipComments: true }],
      eqeqeq: 'error',
    },
  },
  {
    files: ['packages/core/src/**'],
    rules: {
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'fetch',
        'process',
        'Date',
        'performance',
        'setTimeout',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Randomness is passed in.' },
      ],
    },
  },
  { files: ['packages/web/src/**/*.{ts,tsx}'], ...reactHooks.configs.flat.recommended },
  // An effect that opens a worker and hands it to React is what these pages need.
  { files: ['packages/web/src/**/*.{ts,tsx}'], rules: { 'react-hooks/set-state-in-effect': 'off' } },
  ...coreRules,
  ...packageRules,
);
