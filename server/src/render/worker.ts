import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { type Cells, checkRow, type Finding, type Match, matchColumns } from '@hoja/core/data'
import { readDataFile, readPackage, type TemplatePackage, unzipPackage } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import { Scene } from '@hoja/core/scene'
import type { Template, Values } from '@hoja/core/template'
import { loadAssets } from './assets.ts'
import { releasePixels } from './memory.ts'
import { Raster } from './raster.ts'
import type { OutputSettings } from './settings.ts'
import { settledPng } from './still.ts'
import { renderUnit, type UnitResult } from './unit.ts'

/** Where a worker finds a template: its document, and how its files are reached. */
export type Source =
  | { kind: 'stored'; document: string; files: string }
  | { kind: 'draft'; document: string; files: string; template: Template }

export type Task =
  | { kind: 'render'; source: Source; match: Match; cells: Cells; row: number; settings: OutputSettings; root: string }
  | { kind: 'check'; source: Source; match: Match; rows: Cells[]; first: number; frames?: number }
  | { kind: 'still'; source: Source; values: Values; frame: number; scale: number }
  | { kind: 'readData'; bytes: Uint8Array; name: string; sheet?: string; template: Template }
  | { kind: 'readPackage'; bytes: Uint8Array; name: string }

/** Errors cross threads as data: a refusal keeps its code and status. */
export type Answer<T> =
  | { value: T }
  | { refusal: { code: string; message: string; status: 400 | 404 | 409 | 413 | 415 | 422 } }

const scenes = new Map<string, Promise<Scene>>()
const raster = new Raster()

function sceneOf(source: Source): Promise<Scene> {
  let scene = scenes.get(source.document)
  if (!scene) {
    if (scenes.size >= 8) scenes.delete(scenes.keys().next().value!)
    const read = (entry: { sha256: string }) => readFileSync(join(source.files, entry.sha256.slice(0, 2), entry.sha256))
    const template: Template =
      source.kind === 'draft' ? source.template : JSON.parse(read({ sha256: source.document }).toString('utf8'))
    scene = loadAssets(template, read).then((assets) => new Scene(template, assets))
    scenes.set(source.document, scene)
  }
  return scene
}

async function run(task: Task): Promise<unknown> {
  switch (task.kind) {
    case 'render': {
      const { source, ...order } = task
      const result: UnitResult = await renderUnit(
        { ...order, scene: await sceneOf(source), document: source.document },
        raster,
      )
      await releasePixels()
      return result
    }
    case 'check': {
      const scene = await sceneOf(task.source)
      return task.rows.map(
        (cells, i): Finding[] => checkRow(scene, task.match, cells, task.first + i, task.frames).findings,
      )
    }
    case 'still':
      return settledPng(await sceneOf(task.source), task.values, task.frame, task.scale, raster)
    case 'readData': {
      const table = readDataFile(task.bytes, task.name, task.sheet)
      return { table, match: matchColumns(task.template, table.columns) }
    }
    case 'readPackage':
      return readPackage(unzipPackage(task.bytes, task.name), task.name) satisfies Promise<TemplatePackage>
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
