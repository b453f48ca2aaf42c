import { copyFileSync, mkdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { matchColumns } from '@hoja/core/data'
import { type Link, openDataFile, readPackage } from '@hoja/core/formats'
import { readFolder } from './packageFolder.ts'
import { serverFolder } from './serverFolder.ts'
import type { Store } from './store/index.ts'

/** Estuary Week, as it ships. */
export const demoFolder = join(serverFolder, '../demo')

/** The demo templates, the one that everything is explained by first. */
export const demoTemplates = ['speaker', 'talk', 'place', 'tide', 'species', 'speaker-rtl']

/** Sheets that are there from the beginning, by template; `followed`: they follow their file. */
const demoSheets: Record<string, { file: string; followed?: true }> = {
  speaker: { file: 'speakers.csv' },
  tide: { file: 'tide.json', followed: true },
  species: { file: 'species.ods' },
}

/** Where data files lie that sheets may follow, unless Hoja is told of other folders. */
export const followedFolder = (data: string) => join(data, 'followed')

/** Puts the demo templates, a first version of each, and their sheets into an empty store. */
export async function seedDemo(store: Store): Promise<void> {
  const followed = followedFolder(store.folder)
  mkdirSync(followed, { recursive: true })
  if (store.templates.list().length > 0) return
  for (const name of demoTemplates) {
    const pack = await readPackage(readFolder(join(demoFolder, 'templates', name)), name)
    const row = store.templates.importPackage(pack)
    const version = store.templates.publish(row.id, 'As it ships.')
    const sheet = demoSheets[name]
    if (!sheet) continue
    const path = join(demoFolder, 'data', sheet.file)
    const { table, facts } = openDataFile(readFileSync(path), sheet.file, {}, pack.template)
    let link: Link | null = null
    if (sheet.followed) {
      copyFileSync(path, join(followed, sheet.file))
      link = { kind: 'file', root: 'followed', path: sheet.file, options: facts.options }
    }
    store.sheets.add(
      version.id,
      sheet.file,
      table,
      matchColumns(pack.template, table.columns, table.rows, table.marks),
      link,
    )
  }
}
