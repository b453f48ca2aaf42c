import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { matchColumns } from '@hoja/core/data'
import { readDataFile, readPackage } from '@hoja/core/formats'
import { readFolder } from './packageFolder.ts'
import type { Store } from './store/index.ts'

/** Estuary Week, as it ships. */
export const demoFolder = fileURLToPath(new URL('../../demo', import.meta.url))

/** The demo templates, the one that everything is explained by first. */
export const demoTemplates = ['speaker', 'talk', 'place', 'tide', 'species', 'speaker-rtl']

/** Puts the demo templates, a first version of each, and their sheets into an empty store. */
export async function seedDemo(store: Store): Promise<void> {
  if (store.templates.list().length > 0) return
  for (const name of demoTemplates) {
    const pack = await readPackage(readFolder(join(demoFolder, 'templates', name)), name)
    const row = store.templates.importPackage(pack)
    const version = store.templates.publish(row.id, 'As it ships.')
    const file = `${name}s.csv`
    if (!existsSync(join(demoFolder, 'data', file))) continue
    const table = readDataFile(readFileSync(join(demoFolder, 'data', file)), file)
    store.sheets.add(version.id, file, table, matchColumns(pack.template, table.columns, table.rows))
  }
}
