import { defineConfig } from 'eslint/config';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Which folder of core may import which others; everything else is an error. The picture is in docs/architecture.md. */
const CORE = {
  random: [],
  program: [],
  catalogue: ['program'],
  machines: ['catalogue'],
  bench: ['program', 'catalogue'],
  circuit: ['program', 'catalogue', 'machines', 'bench'],
  faults: ['catalogue', 'machines', 'bench', 'circuit'],
  electrics: ['catalogue', 'machines', 'bench', 'circuit'],
  explain: ['catalogue', 'bench', 'circuit', 'electrics'],
  simulation: ['program', 'catalogue', 'machines', 'bench', 'circuit', 'faults', 'electrics', 'explain'],
  live: ['catalogue', 'bench', 'circuit', 'faults', 'electrics', 'explain', 'simulation'],
  proof: ['program', 'catalogue', 'machines', 'bench', 'circuit', 'faults', 'electrics', 'simulation'],
  diagnosis: ['random', 'catalogue', 'bench', 'circuit', 'faults', 'electrics', 'simulation', 'live'],
  repair: ['program', 'catalogue', 'bench', 'circuit', 'electrics', 'simulation', 'proof'],
  drawing: ['program', 'catalogue', 'bench', 'circuit'],
  sizing: ['catalogue', 'machines'],
  layout: ['catalogue', 'bench', 'drawing'],
  formats: ['program', 'catalogue', 'machines', 'bench', 'circuit', 'drawing', 'planning', 'marking'],
  exchange: ['program', 'catalogue', 'bench', 'circuit', 'faults', 'diagnosis', 'planning'],
  questions: [
    'random',
    'catalogue',
    'bench',
    'circuit',
    'faults',
    'electrics',
    'explain',
    'simulation',
    'proof',
    'diagnosis',
    'sizing',
  ],
  marking: [
    'questions',
    'program',
    'catalogue',
    'bench',
    'circuit',
    'faults',
    'drawing',
    'electrics',
    'simulation',
    'live',
    'diagnosis',
    'proof',
    'repair',
  ],
  assessments: ['random'],
  skills: ['catalogue', 'bench', 'questions', 'simulation', 'marking'],
  packs: ['bench', 'questions', 'planning', 'marking'],
  scanning: ['random', 'catalogue', 'bench', 'circuit', 'electrics', 'simulation', 'diagnosis', 'proof'],
  variants: ['random', 'catalogue', 'bench', 'circuit', 'faults', 'diagnosis', 'marking'],
  planning: [
    'program',
    'catalogue',
    'bench',
    'circuit',
    'drawing',
    'layout',
    'electrics',
    'simulation',
    'faults',
    'diagnosis',
    'proof',
    'marking',
    'repair',
  ],
  setting: [
    'program',
    'random',
    'catalogue',
    'bench',
    'circuit',
    'drawing',
    'layout',
    'electrics',
    'simulation',
    'diagnosis',
    'proof',
    'marking',
  ],
  exercises: ['program', 'catalogue', 'bench', 'circuit', 'simulation', 'questions', 'marking', 'setting'],
};

/** Which package may import which other ones. */
const PACKAGES = {
  core: [],
  contract: ['core'],
  server: ['core', 'contract'],
  web: ['core', 'contract'],
  cli: ['core', 'contract'],
};

/** Folders of the server, and which others each may import. */
const SERVER = {
  runtime: [],
  database: [],
  security: ['runtime'],
  threads: ['runtime'],
  domain: ['runtime', 'database', 'security', 'threads'],
  marking: ['runtime', 'database', 'threads', 'domain'],
  benches: ['runtime', 'database', 'security', 'threads', 'domain'],
  floor: ['runtime', 'database', 'security', 'threads', 'domain'],
  http: ['runtime', 'database', 'security', 'domain', 'benches', 'floor'],
  demo: ['database', 'security', 'domain'],
};

/** Directions inside a package. */
const INSIDE = {
  server: Object.entries(SERVER).map(([folder, may]) => {
    const forbidden = Object.keys(SERVER).filter((other) => other !== folder && !may.includes(other));
    const http = folder === 'http' ? '' : '|express$|express-';
    return {
      files: [`packages/server/src/${folder}/**`],
      more: {
        regex: `^((\\.\\./)+(${forbidden.join('|')})/${http})`,
        message: `server/${folder} may import only ${may.join(', ') || 'nothing beside it'}; only http knows HTTP.`,
      },
    };
  }),
  web: [
    {
      files: ['packages/web/src/**'],
      // The thread of the Setter makes whole exercises; it is fetched when somebody sets one.
      ignores: ['packages/web/src/workers/setter.worker.ts'],
      more: {
        group: ['@contactum/core/exercises', '@contactum/core/documents'],
        message: 'The browser carries neither exercises nor parsers.',
      },
    },
  ],
};

const restricted = (files, patterns) => ({
  files,
  rules: { 'no-restricted-imports': ['error', { patterns }] },
});

const coreRules = Object.entries(CORE).map(([folder, may]) => {
  const others = Object.keys(CORE).filter((other) => other !== folder);
  const forbidden = others.filter((other) => !may.includes(other));
  return restricted(
    [`packages/core/src/${folder}/**`],
    [
      {
        regex: `^(\\.\\./)+(${forbidden.join('|')})/`,
        message: `core/${folder} may import only ${may.join(', ') || 'nothing beside it'}.`,
      },
      {
        regex: `^(\\.\\./)+(${others.join('|')})/(?!(index|schema)\\.js$)`,
        message: 'Another folder of core is reached through its index.',
      },
      { regex: '^(node:|react|@contactum/)', message: 'core is pure computation.' },
    ],
  );
});

const packageRules = Object.entries(PACKAGES)
  .filter(([name]) => name !== 'core')
  .flatMap(([name, may]) => {
    const forbidden = [...Object.keys(PACKAGES), 'e2e'].filter(
      (other) => other !== name && !may.includes(other),
    );
    const patterns = [
      {
        group: forbidden.flatMap((other) => [`@contactum/${other}`, `@contactum/${other}/**`]),
        message: `${name} may import only ${may.join(' and ')}.`,
      },
      { group: ['**/packages/**', '../../../*'], message: 'Packages are reached by their names.' },
    ];
    return [
      restricted([`packages/${name}/src/**`], patterns),
      ...(INSIDE[name] ?? []).map(({ files, ignores = [], more }) => ({
        ...restricted(files, [...patterns, more]),
        ignores,
      })),
    ];
  });

/** Files that may be longer than the rest. */
const EXCEPTIONS = [
  // One loop of Tarjan's search with its own stack: in pieces it is neither quicker nor clearer.
  'packages/core/src/proof/exploration.ts',
  // A migration stands as it was run.
  'packages/server/src/database/migrations/*.ts',
];

const TYPED = {
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
  },
};

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
    ...TYPED,
  },
  {
    files: ['packages/*/src/**/*.{ts,tsx}'],
    rules: {
      'max-lines': ['error', { max: 400, skipBlankLines: true, skipComments: true }],
      'max-lines-per-function': ['error', { max: 60, skipBlankLines: true, skipComments: true }],
      eqeqeq: 'error',
    },
  },
  {
    files: ['packages/core/src/**'],
    rules: {
      // An index made by the code itself is in range: `list[k]!` says so in one sign, and an index that may miss is still asked.
      '@typescript-eslint/no-non-null-assertion': 'off',
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
  // Exceptions to the limits of files and functions, each with its reason beside it.
  {
    files: EXCEPTIONS,
    rules: { 'max-lines': 'off', 'max-lines-per-function': 'off' },
  },
  {
    files: ['packages/web/src/**/*.{ts,tsx}'],
    ...reactHooks.configs.flat.recommended,
  },
  // An effect that opens a worker and hands it to React is what these pages need.
  { files: ['packages/web/src/**/*.{ts,tsx}'], rules: { 'react-hooks/set-state-in-effect': 'off' } },
  ...coreRules,
  ...packageRules,
);
