import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { expect, type Page } from '@playwright/test'
import { unzipSync } from 'fflate'
import { complaints } from '../pages.ts'

export { complaints, expect }

/** Exports the open template from the Shelf, as a person does, and unpacks it to `demo/templates/NAME`. */
export async function exportTo(page: Page, title: string, name: string): Promise<void> {
  await page.goto('/')
  await page.getByRole('button', { name: `More for ${title}`, exact: true }).click()
  const download = page.waitForEvent('download')
  await page.getByRole('menuitem', { name: 'Export as .hoja' }).click()
  const stream = await (await download).createReadStream()
  const chunks: Buffer[] = []
  for await (const chunk of stream) chunks.push(chunk as Buffer)
  const files = unzipSync(new Uint8Array(Buffer.concat(chunks)))
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
