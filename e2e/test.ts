import { spawn } from 'node:child_process'
import { rmSync } from 'node:fs'
import { test as base } from '@playwright/test'

export { expect, type Locator, type Page } from '@playwright/test'

/** A server of a worker's own: the built one, with the demo data in a folder of its own. */
interface Server {
  address: string
  /** Its data folder. */
  data: string
}

/** Tests of one worker share a shelf; those of another have their own, so that two can go on beside each other. */
export const test = base.extend<object, { server: Server }>({
  server: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright wants the pattern to know what is used
    async ({}, use, { parallelIndex }) => {
      const port = 4188 + parallelIndex
      const data = `node_modules/.e2e-data-${parallelIndex}`
      rmSync(data, { recursive: true, force: true })
      const server = spawn('node', ['server/dist/app/cli.js', 'serve', '--port', String(port), '--data', data], {
        stdio: ['ignore', 'ignore', 'inherit'],
      })
      const address = `http://127.0.0.1:${port}`
      const end = Date.now() + 60_000
      while (
        !(await fetch(`${address}/api/templates`).then(
          ({ ok }) => ok,
          () => false,
        ))
      ) {
        if (Date.now() > end) throw new Error('The server under test does not answer.')
        await new Promise((done) => setTimeout(done, 100))
      }
      await use({ address, data })
      server.kill('SIGTERM')
      await new Promise((done) => server.once('exit', done))
    },
    { scope: 'worker' },
  ],
  baseURL: async ({ server }, use) => use(server.address),
})
