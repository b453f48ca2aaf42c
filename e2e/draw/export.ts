import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { expect, type Page } from '@playwright/test'
import { unzipSync } from 'fflate'
import { complaints } from '../pages.ts'

export { complaints, expect }

/** Tags the open template on the Shelf, exports it as the Shelf does, and unpacks it to `demo/templates/NAME`. */
export async function exportTo(page: Page, name: string, tags: string[]): Promise<void> {
  const [, id] = /\/t\/([^/]+)\//.exec(page.url())!
  await page.goto('/')
  const card = page.getByRole('listitem').filter({ has: page.locator(`a[href="/t/${id}/draft"]`) })
  await card.getByRole('button', { name: /^More for / }).click()
  await page.getByRole('menuitem', { name: 'Name, tags, folder …' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Tags').fill(tags.join(', '))
  await dialog.getByRole('button', { name: 'Keep it so' }).click()
  await expect(dialog).toHaveCount(0)
  const answer = await page.request.get(`/api/templates/${id}/package`)
  expect(answer.ok()).toBe(true)
  const files = unzipSync(new Uint8Array(await answer.body()))
  const folder = join('demo/templates', name)
  rmSync(folder, { recursive: true, force: true })
  for (const [path, bytes] of Object.entries(files)) {
    // The poster is drawn anew whenever it is asked for.
    if (path === 'poster.png') continue
    mkdirSync(dirname(join(folder, path)), { recursive: true })
    if (path !== 'template.json') {
      writeFileSync(join(folder, path), bytes)
      continue
    }
    const template = JSON.parse(new TextDecoder().decode(bytes)) as { id: string }
    writeFileSync(join(folder, path), `${JSON.stringify({ ...template, id: name }, null, 2)}\n`)
  }
}
