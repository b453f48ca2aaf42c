import { defineConfig } from '@playwright/test'
import { dataFolder } from './e2e/pages.ts'
import { chromiumLaunch } from './scripts/chromium.mjs'

const port = 4188

/** Browser tests: the built server with the demo data in a folder of its own, Debian's Chromium. */
export default defineConfig({
  testDir: 'e2e',
  timeout: 120_000,
  expect: { timeout: 15_000 },
  workers: 1,
  // A second try on the shared machines of CI, where a browser may stand still for seconds; it is reported as flaky.
  retries: process.env.CI ? 1 : 0,
  outputDir: 'test-results',
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    actionTimeout: 20_000,
    launchOptions: chromiumLaunch,
  },
  webServer: {
    command: `rm -rf ${dataFolder} && node server/dist/cli.js serve --port ${port} --data ${dataFolder}`,
    url: `http://127.0.0.1:${port}/api/templates`,
    reuseExistingServer: false,
  },
})
