import { defineConfig } from '@playwright/test';
import stories from './playwright.config.js';

/** The pictures of the documents, taken one after another from the demo. */
export default defineConfig({ ...stories, testMatch: 'pictures.ts', workers: 1, timeout: 180_000 });
