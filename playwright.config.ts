import { defineConfig } from '@playwright/test'
import { chromiumLaunch } from './scripts/chromium.mjs'

/** Browser tests in Debian's Chromium, two at a time, each worker with a server and a shelf of its own (`e2e/test.ts`). */
export default defineConfig({
  testDir: 'e2e',
  timeout: 120_000,
  expect: { timeout: 15_000 },
  workers: 2,
  // A second try on the shared machines of CI, where a browser may stand still for seconds; it is reported as flaky.
  retries: process.env.CI ? 1 : 0,
  outputDir: 'test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    actionTimeout: 20_000,
    launchOptions: chromiumLaunch,
  },
})
