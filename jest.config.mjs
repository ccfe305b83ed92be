import { join } from 'node:path';
import { CORE_BUNDLE, buildCoreForTests, coreHash } from './scripts/lib/build.mjs';

await buildCoreForTests();
// Long oracles ask whether they were through all of their cases on these sources already.
process.env.CONTACTUM_CORE = coreHash();

/** Unit and server tests; the real interface is tried by Playwright in e2e/. */
const shared = {
  testEnvironment: 'node',
  testEnvironmentOptions: { customExportConditions: ['@contactum/source', 'node', 'node-addons'] },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: {
    '^@contactum/core$': join(CORE_BUNDLE, 'index.js'),
    '^@contactum/core/(documents|exchange|exercises)$': join(CORE_BUNDLE, '$1.js'),
    '^(\\.{1,2}/.*)\\.js$': '$1',
  },
  transform: {
    '^.+\\.tsx?$': '<rootDir>/../../scripts/jest-transform.mjs',
  },
};

/** Limits are against hanging, never a measure of speed: minutes, on however slow and busy a machine. */
const HANGING = 300_000;

const project = (name, more = {}) => ({
  ...shared,
  displayName: name,
  rootDir: `packages/${name}`,
  testMatch: ['<rootDir>/test/**/*.test.ts'],
  ...more,
});

export default {
  maxWorkers: 2,
  testTimeout: HANGING,
  projects: [
    project('core'),
    project('cli'),
    project('web', { testPathIgnorePatterns: ['/components/'] }),
    project('web', {
      displayName: 'pages',
      testMatch: ['<rootDir>/test/components/*.test.tsx'],
      testEnvironment: '<rootDir>/test/components/environment.mjs',
      testEnvironmentOptions: { customExportConditions: ['@contactum/source', 'browser'] },
      setupFiles: ['<rootDir>/test/components/setup.mjs'],
      moduleNameMapper: {
        // One file in place of a thousand, for each test file anew.
        '^antd$': '<rootDir>/../../node_modules/antd/dist/antd.min.js',
        '^comlink$': '<rootDir>/test/components/comlink.mjs',
        '\\.(css|svg|png)$': '<rootDir>/test/components/nothing.mjs',
        ...shared.moduleNameMapper,
      },
    }),
    project('server', {
      globalSetup: '<rootDir>/test/cluster-setup.mjs',
      globalTeardown: '<rootDir>/test/cluster-teardown.mjs',
    }),
  ],
};
