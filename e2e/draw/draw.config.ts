import { defineConfig } from '@playwright/test'
import base from '../../playwright.config.ts'

/** Draws the demo templates in the real Draft and exports them to `demo/templates`: `npm run draw`. */
export default defineConfig({
  ...base,
  testDir: '.',
  testMatch: '*.draw.ts',
  timeout: 600_000,
  retries: 0,
  workers: 1,
  outputDir: '../../test-results',
})
