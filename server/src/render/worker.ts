import {
  checkSettled,
  type Finding,
  generatedProofs,
  KnownNames,
  type Match,
  matchColumns,
  type Row,
  SheetChecker,
} from '@hoja/core/data'
import {
  type BookPart,
  bookOffers,
  type Candidate,
  type FontInstead,
  missingFonts,
  openDataFile,
  previewOf,
  type ReadOptions,
  readDataFile,
  readDocument,
  readPackage,
  readPart,
  type TemplatePackage,
  unzipPackage,
  zipPackage,
} from '@hoja/core/formats'
import { settledFrame } from '@hoja/core/motion'
import type { OutputSettings } from '@hoja/core/output'
import { Refusal } from '@hoja/core/refusal'
import { Scene } from '@hoja/core/scene'
import type { FontFile, PartId, Template, Values } from '@hoja/core/template'
import { signOffPdf } from '../signoff/pdf.ts'
import { pictureSize, type SignOffSheet } from '../signoff/sheet.ts'
import { loadAssets } from './assets.ts'
import { contactSheets, type SheetTitle } from './contactSheet.ts'
import { flatDescription, flatPictures } from './flat.ts'
import { lookAtFootage } from './footage.ts'
import { previewLoop } from './loop.ts'
import { releasePixels } from './memory.ts'
import { decodeMovie } from './movieIn.ts'
import { Raster } from './raster.ts'
import { type Source, sceneOf } from './scenes.ts'
import { rowPng, settledPng } from './still.ts'

export type Task =
  /** All rows of a sheet, each by itself and beside the others. */
  /** `known`: how names are spelled. */
  | { kind: 'check'; source: Source; match: Match; rows: Row[]; known: string[] }
  | { kind: 'rowPictures'; rows: { source: Source; match: Match; row: Row }[] }
  | { kind: 'signOffPdf'; sheet: SignOffSheet }
  | { kind: 'still'; source: Source; values: Values; frame: number; scale: number }
  | { kind: 'readData'; bytes: Uint8Array; name: string; options: ReadOptions; template: Template }
  | { kind: 'readRows'; bytes: Uint8Array; name: string; options: ReadOptions; template: Template }
  | { kind: 'lookAtBook'; bytes: Uint8Array; name: string; candidates: Candidate[] }
  | {
      kind: 'readParts'
      bytes: Uint8Array
      name: string
      parts: (BookPart & { template: Template })[]
    }
  | { kind: 'lookAtData'; bytes: Uint8Array; name: string; options: ReadOptions; template: Template }
  /** Reads a package; `instead` by font id for fonts that it lacks. Those it still lacks are told instead. */
  | { kind: 'readPackage'; bytes: Uint8Array; name: string; instead: Record<string, FontInstead> }
  /** Draws the proofs of a package that is on nobody's shelf yet. */
  | { kind: 'proofs'; pack: TemplatePackage; scale: number }
  | { kind: 'zipPackage'; pack: TemplatePackage }
  /** Pictures of all titles together. */
  | { kind: 'contactSheets'; source: Source; settings: OutputSettings; match: Match; titles: SheetTitle[] }
  | { kind: 'loop'; source: Source; values: Values; scale: number }
  | { kind: 'decodeMovie'; bytes: Uint8Array; name: string }
  /** A template's layers, each by itself. */
  | { kind: 'flatPictures'; source: Source; merged: boolean; scale: number }
  | { kind: 'flatDescription'; source: Source; settings: OutputSettings; names: { parts: PartId[]; file: string }[] }
  | { kind: 'lookAtFootage'; bytes: Uint8Array; name: string }

/** A package as read, or the fonts that it lacks. */
export type ReadPackage = { pack: TemplatePackage; missing?: undefined } | { missing: FontFile[]; pack?: undefined }

export interface DrawnProof {
  name: string
  png: Uint8Array
  findings: Finding[]
}

/** Errors cross threads as data: a refusal keeps its code and status. */
export type Answer<T> =
  | { value: T }
  | { refusal: { code: string; message: string; status: 400 | 404 | 409 | 413 | 415 | 422 } }

const raster = new Raster()

async function openPackage({ bytes, name, instead }: Extract<Task, { kind: 'readPackage' }>): Promise<ReadPackage> {
  const files = unzipPackage(bytes, name)
  const missing = missingFonts(readDocument(files, name), files).filter((font) => !instead[font.id])
  return missing.length > 0 ? { missing } : { pack: await readPackage(files, name, instead) }
}

/** The poster and the proofs of a package, each with what was found about it. */
async function drawnProofs({ template, files }: TemplatePackage, scale: number): Promise<DrawnProof[]> {
  const scene = new Scene(template, await loadAssets(template, (entry) => files[entry.file]!))
  const timing = scene.timing()
  const settled = settledFrame(timing)
  const drawn = (name: string, values: Values, frame: number): DrawnProof => ({
    name,
    png: settledPng(scene, values, frame, scale, raster),
    findings: checkSettled(scene, scene.settle(values), timing),
  })
  return [
    drawn('Poster', template.poster.values, template.poster.frame),
    ...[...template.proofs, ...generatedProofs(template)].map((proof) => drawn(proof.name, proof.values, settled)),
  ]
}

async function run(task: Task): Promise<unknown> {
  switch (task.kind) {
    case 'check': {
      const scene = await sceneOf(task.source)
      const checker = new SheetChecker({ scene, match: task.match }, new Map(), new KnownNames(task.known))
      checker.splice({ at: 1, remove: 0, rows: task.rows })
      checker.compare()
      return task.rows.map((_, i) => checker.findings(i + 1))
    }
    case 'rowPictures': {
      const pictures: Uint8Array[] = []
      for (const { source, match, row } of task.rows)
        pictures.push(rowPng(await sceneOf(source), match, row, pictureSize, raster))
      await releasePixels()
      return pictures
    }
    case 'contactSheets': {
      const scene = await sceneOf(task.source, task.settings)
      const about = `${task.titles.length} ${task.titles.length === 1 ? 'title' : 'titles'}`
      const sheets = contactSheets(scene, task.match, task.titles, about, task.settings, raster)
      await releasePixels()
      return sheets
    }
    case 'signOffPdf':
      return signOffPdf(task.sheet)
    case 'still':
      return settledPng(await sceneOf(task.source), task.values, task.frame, task.scale, raster)
    case 'readData': {
      const { table, facts } = openDataFile(task.bytes, task.name, task.options, task.template)
      return {
        table,
        options: facts.options,
        match: matchColumns(task.template, table.columns, table.rows, table.marks),
      }
    }
    case 'readRows':
      return readDataFile(task.bytes, task.name, task.options, task.template)
    case 'lookAtBook':
      return bookOffers(task.bytes, task.name, task.candidates)
    case 'readParts':
      return task.parts.map(({ template, ...part }) => {
        const table = readPart(task.bytes, task.name, part)
        return { table, match: matchColumns(template, table.columns, table.rows, table.marks) }
      })
    case 'lookAtData':
      return previewOf(task.bytes, task.name, task.options, task.template)
    case 'readPackage':
      return openPackage(task)
    case 'proofs':
      return drawnProofs(task.pack, task.scale)
    case 'zipPackage':
      return zipPackage(task.pack)
    case 'loop': {
      const loop = previewLoop(await sceneOf(task.source), task.values, task.scale, raster)
      await releasePixels()
      return loop
    }
    case 'decodeMovie':
      return decodeMovie(task.bytes, task.name)
    case 'flatPictures': {
      const pictures = flatPictures(await sceneOf(task.source), task.merged, task.scale, raster)
      await releasePixels()
      return pictures
    }
    case 'flatDescription': {
      const { settings, names } = task
      const fileOf = (parts: readonly PartId[]) =>
        names.find((one) => one.parts.length === parts.length && one.parts.every((id, i) => id === parts[i]))?.file
      const scene = await sceneOf(task.source, settings)
      return flatDescription(scene, settings.parts !== 'apart', settings.frames, fileOf)
    }
    case 'lookAtFootage':
      return lookAtFootage(task.bytes, task.name)
  }
}

export default async function work(task: Task): Promise<Answer<unknown>> {
  try {
    return { value: await run(task) }
  } catch (error) {
    if (error instanceof Refusal) return { refusal: { code: error.code, message: error.message, status: error.status } }
    throw error
  }
}
