import { defineConfig } from '@playwright/test';
import { BROWSER } from '../scripts/lib/browser.mjs';

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  fullyParallel: false,
  // A class, its people and their boards are each file's own.
  workers: 2,
  // Limits are against hanging alone: minutes, on however slow and busy a machine.
  timeout: 600_000,
  expect: { timeout: 180_000 },
  reporter: 'list',
  outputDir: '../test-results',
  use: {
    baseURL: process.env.BASE_URL ?? 'http://127.0.0.1:4180',
    viewport: { width: 1280, height: 800 },
    actionTimeout: 180_000,
    trace: 'off',
    launchOptions: BROWSER,
  },
});
