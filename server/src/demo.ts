import { copyFileSync, mkdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { matchColumns } from '@hoja/core/data'
import { type Link, openDataFile } from '@hoja/core/formats'
import type { Template } from '@hoja/core/template'
import { type DemoVersion, demoProgramme } from './demoProgramme.ts'
import type { Jobs } from './jobs/jobs.ts'
import type { Results } from './jobs/tasks.ts'
import { serverFolder } from './serverFolder.ts'
import { now } from './store/database.ts'
import type { Store } from './store/index.ts'
import type { CheckedDraft } from './store/templates.ts'

/** Estuary Week, as it ships. */
export const demoFolder = join(serverFolder, '../demo')

/** The demo templates, the one that everything is explained by first. */
export const demoTemplates = [
  'speaker',
  'talk',
  'place',
  'tide',
  'species',
  'statement',
  'score',
  'agenda',
  'notices',
  'credits',
  'slate',
  'speaker-rtl',
]

/** Sheets that are there from the beginning, by template; `followed`: they follow their file. */
interface DemoSheet {
  file: string
  followed?: true
}
const demoSheets: Record<string, DemoSheet> = {
  speaker: { file: 'speakers.csv' },
  tide: { file: 'tide.json', followed: true },
  species: { file: 'species.ods' },
  agenda: { file: 'agenda.csv' },
  notices: { file: 'notices.csv', followed: true },
  credits: { file: 'credits.csv' },
  slate: { file: 'slate.csv' },
}

/** Where data files lie that sheets may follow, unless Hoja is told of other folders. */
export const followedFolder = (data: string) => join(data, 'followed')

/**
 * Puts the demo templates, a first version of each, and their sheets into a folder that never had them: all of it or nothing.
 * One that was emptied stays empty.
 * @returns whether it was put in now
 */
export async function seedDemo(store: Store, jobs: Jobs): Promise<boolean> {
  const followed = followedFolder(store.folder)
  mkdirSync(followed, { recursive: true })
  if (store.fact('seeded') !== undefined) return false
  const taken: (Extract<Results['takePackage'], { draft: CheckedDraft }> & { name: string })[] = []
  // One after another, by one process: to start another takes longer than to read them all.
  for (const name of demoTemplates) {
    const file = { path: join(demoFolder, 'templates', name), name }
    const pack = await jobs.run<'takePackage'>({ kind: 'takePackage', file, files: store.files.folder, instead: {} })
    if (pack.missing) throw new Error(`the demo template ${name} lacks fonts`)
    taken.push({ name, ...pack })
  }
  store.db.transaction(() => {
    const versions = new Map<string, DemoVersion>()
    for (const { name, draft, assets } of taken) {
      const { id, template } = store.templates.importPackage(draft, assets)
      const version = store.templates.publish(id, 'As it ships.')
      versions.set(name, { ...version, document: template })
      const sheet = Object.hasOwn(demoSheets, name) ? demoSheets[name]! : undefined
      if (sheet) addSheet(store, version.id, template, sheet)
    }
    const show = store.productions.add('Estuary Week')
    const programme = demoProgramme(join(demoFolder, 'programmes/thursday-evening.json'), (name) => versions.get(name)!)
    const used = Object.values(programme.designs).map(({ template }) => template)
    store.productions.change(show.id, { templates: used })
    store.programmes.add(programme, show.id)
    store.setFact('seeded', now())
  })()
  return true
}

function addSheet(store: Store, version: number, template: Template, { file, followed }: DemoSheet): void {
  const path = join(demoFolder, 'data', file)
  const { table, facts } = openDataFile(readFileSync(path), file, {}, template)
  const { columns, rows, marks } = table
  if (followed) copyFileSync(path, join(followedFolder(store.folder), file))
  const link: Link | null = followed ? { kind: 'file', root: 'followed', path: file, options: facts.options } : null
  store.sheets.add(version, file, table, matchColumns(template, columns, rows, marks), link)
}
