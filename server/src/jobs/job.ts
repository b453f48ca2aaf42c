import { checkSettled, generatedProofs, KnownNames, matchColumns, SheetChecker } from '@hoja/core/data'
import {
  bookOffers,
  openDataFile,
  previewOf,
  readDataFile,
  readPart,
  shallowJson,
  zipPackage,
} from '@hoja/core/formats'
import { settledFrame } from '@hoja/core/motion'
import { Refusal } from '@hoja/core/refusal'
import { Scene } from '@hoja/core/scene'
import { type PartId, readTemplate } from '@hoja/core/template'
import { fontFacts } from '@hoja/core/text'
import { backUp } from '../backup/backup.ts'
import { loadAssets } from '../render/assets.ts'
import { contactSheets } from '../render/contactSheet.ts'
import { diskRefusal } from '../render/disk.ts'
import { flatDescription, flatPictures } from '../render/flat.ts'
import { previewLoop } from '../render/loop.ts'
import { releaseAll, releasePixels } from '../render/memory.ts'
import { Raster } from '../render/raster.ts'
import { sceneOf } from '../render/scenes.ts'
import { rowPng, settledPng } from '../render/still.ts'
import { signOffPdf } from '../signoff/pdf.ts'
import { pictureSize } from '../signoff/sheet.ts'
import { aboutOf } from '../store/about.ts'
import { FileStore, packageOf, readRegular, writeWhole } from '../store/files.ts'
import { Intake } from './intake.ts'
import { boundMemory } from './memoryBound.ts'
import type { DrawnProof, ReadDraft, Results, Said, Task } from './tasks.ts'

const raster = new Raster()

/** Rows that go over at a time: as many as the main process keeps in a few milliseconds. */
const pieceRows = 1000

type Of<K extends Task['kind']> = Extract<Task, { kind: K }>
type Work = { [K in Task['kind']]: (task: Of<K>) => Results[K] | Promise<Results[K]> }

async function drawn<T>(work: () => Promise<T>): Promise<T> {
  const result = await work()
  await releasePixels()
  return result
}

const work: Work = {
  async readTable({ file, options, template }) {
    const { table, facts } = openDataFile(readRegular(file.path), file.name, options, template)
    const { columns, rows, marks } = table
    const match = matchColumns(template, columns, rows, marks)
    await tell({ kind: 'piece', rows: [JSON.stringify(columns)] })
    for (let at = 0; at < rows.length; at += pieceRows) {
      const cells = (row: string[]) =>
        JSON.stringify(Object.fromEntries(columns.map((name, c) => [name, row[c] ?? ''])))
      await tell({ kind: 'piece', rows: rows.slice(at, at + pieceRows).map(cells) })
    }
    return { columns, match, options: facts.options, count: rows.length }
  },
  readRows: ({ file, options, template }) => readDataFile(readRegular(file.path), file.name, options, template),
  lookAtBook: ({ file, candidates }) => bookOffers(readRegular(file.path), file.name, candidates),
  readParts({ file, parts }) {
    const bytes = readRegular(file.path)
    return parts.map(({ template, ...part }) => {
      const table = readPart(bytes, file.name, part)
      return { table, match: matchColumns(template, table.columns, table.rows, table.marks) }
    })
  },
  lookAtData: ({ file, options, template }) => previewOf(readRegular(file.path), file.name, options, template),
  takePackage: ({ file, files, instead }) => new Intake(files).package(file, instead),
  async lookAtPackage({ file, files, instead, scale }) {
    const { pack, missing } = await new Intake(files).opened(file, instead)
    if (!pack) return { missing }
    const { template } = pack
    const scene = new Scene(template, await loadAssets(template, (entry) => pack.files[entry.file]!))
    const timing = scene.timing()
    const settled = settledFrame(timing)
    const proof = (name: string, values: DrawnValues, frame: number): DrawnProof => ({
      name,
      png: settledPng(scene, values, frame, scale, raster),
      findings: checkSettled(scene, scene.settle(values), timing),
    })
    const proofs = [
      proof('Poster', template.poster.values, template.poster.frame),
      ...[...template.proofs, ...generatedProofs(template)].map((one) => proof(one.name, one.values, settled)),
    ]
    return { name: template.name, came: pack.files['poster.png'] ?? null, proofs }
  },
  readDraft: ({ document }) => readDraft(document),
  takeFont: ({ file, files }) => new Intake(files).font(file),
  takeSound: ({ file, files }) => new Intake(files).sound(file),
  takePicture: ({ file, files }) => drawn(() => new Intake(files).picture(file)),
  takePictures: ({ file, files }) => drawn(() => new Intake(files).pictures(file)),
  takeMovie: ({ file, files }) => new Intake(files).movie(file),
  takeFootage: ({ file, files }) => new Intake(files).footage(file),
  fontFacts: ({ files, sha256 }) => fontFacts(new FileStore(files).get(sha256)),
  async check({ source, match, rows, known }) {
    const scene = await sceneOf(source)
    const checker = new SheetChecker({ scene, match }, new Map(), new KnownNames(known))
    checker.splice({ at: 1, remove: 0, rows })
    checker.compare()
    return rows.map((_, i) => checker.findings(i + 1))
  },
  rowPictures: ({ rows }) =>
    drawn(async () => {
      const pictures: Uint8Array[] = []
      for (const { source, match, row } of rows)
        pictures.push(rowPng(await sceneOf(source), match, row, pictureSize, raster))
      return pictures
    }),
  contactSheets: ({ source, settings, match, titles }) =>
    drawn(async () => {
      const scene = await sceneOf(source, settings)
      const about = `${titles.length} ${titles.length === 1 ? 'title' : 'titles'}`
      return contactSheets(scene, match, titles, about, settings, raster)
    }),
  signOffPdf: ({ sheet }) => signOffPdf(sheet),
  still: async ({ source, values, frame, scale }) => settledPng(await sceneOf(source), values, frame, scale, raster),
  loop: ({ source, values, scale }) => drawn(async () => previewLoop(await sceneOf(source), values, scale, raster)),
  flatPictures: ({ source, merged, scale }) =>
    drawn(async () => flatPictures(await sceneOf(source), merged, scale, raster)),
  async flatDescription({ source, settings, names }) {
    const fileOf = (parts: readonly PartId[]) =>
      names.find((one) => one.parts.length === parts.length && one.parts.every((id, i) => id === parts[i]))?.file
    return flatDescription(await sceneOf(source, settings), settings.parts !== 'apart', settings.frames, fileOf)
  },
  async backUp({ data, to }) {
    let told = 0
    await backUp(data, to, (done, of) => {
      if (Date.now() - told < 100) return
      told = Date.now()
      say({ kind: 'piece', rows: [JSON.stringify({ done, of })] })
    })
    return null
  },
  zipPackage({ template, files, poster, to }) {
    writeWhole(to, zipPackage(packageOf(new FileStore(files), template, poster)))
    return null
  },
}

type DrawnValues = Parameters<Scene['settle']>[0]

/** A draft as it comes over the network: the revision that it was made on, and the template. @throws Refusal */
function readDraft(bytes: Uint8Array): ReadDraft {
  let value: { revision?: unknown; template?: unknown }
  try {
    value = JSON.parse(shallowJson(new TextDecoder('utf-8', { fatal: true }).decode(bytes), 'The template'))
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal('request', 'The request could not be read: it is no JSON.', 400)
  }
  if (!Number.isInteger(value?.revision))
    throw new Refusal('request', 'The request is not right: revision is a required field.', 400)
  const template = readTemplate(value.template)
  return { text: JSON.stringify(template), about: aboutOf(template), revision: value.revision as number }
}

let next: (() => void) | undefined

function say(said: Said): void {
  process.send?.(said)
}

/** Says something, and waits until it was taken. */
function tell(said: Said): Promise<void> {
  return new Promise((done) => {
    next = done
    say(said)
  })
}

/** A process that has become large is replaced: what native code has taken it does not always give back. */
const tiredBytes = 400 * 1024 * 1024

process.on('message', async (message: Task | 'next') => {
  if (message === 'next') {
    next?.()
    return
  }
  try {
    const value = await (work[message.kind] as (task: Task) => unknown)(message)
    await releaseAll()
    say({ kind: 'result', value, tired: process.memoryUsage.rss() > tiredBytes })
  } catch (error) {
    const refusal = error instanceof Refusal ? error : diskRefusal(error)
    try {
      await releaseAll()
      say(
        refusal
          ? { kind: 'refusal', code: refusal.code, message: refusal.message, status: refusal.status, tired: false }
          : { kind: 'defect', message: (error as Error).stack ?? String(error) },
      )
    } catch {
      process.exit(1)
    }
  }
})
// Whoever gave the work is gone, and nobody waits for it.
process.on('disconnect', () => process.exit())
boundMemory(Number(process.argv[2]))
say({ kind: 'ready' })
