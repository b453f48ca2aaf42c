import { randomUUID } from 'node:crypto'
import { existsSync, renameSync, rmSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { checkRow, type Finding, stateOf } from '@hoja/core/data'
import { changedRow, durationOf, type OutputSettings, picturedBy } from '@hoja/core/output'
import type { Layout, Scene } from '@hoja/core/scene'
import type { PartId, Values } from '@hoja/core/template'
import { hashOf, makeFolder, syncFolder, writeWhole } from '../store/files.ts'
import type { SheetPicture } from '../store/sheets.ts'
import { aboutFile, type Finished, finishedFolder, readFinished } from './finished.ts'
import type { Raster } from './raster.ts'
import { type TitleOrder, writeTitle } from './writeTitle.ts'

/** Raised whenever the same input would give other bytes than before, so that old results are not found again. */
export const engine = 6

export type TitleResult =
  | { state: 'done'; finished: Finished; found: boolean; values: Values }
  | { state: 'held'; findings: Finding[]; values: Values }

/** The sheet's pictures that a title shows, by their bytes: another one of the same name makes another title. */
function picturesOf(values: Values, pictures: readonly SheetPicture[]): string[] {
  const named = new Set(
    Object.values(values).map((value) =>
      typeof value === 'object' && 'picture' in value ? value.picture : String(value),
    ),
  )
  return pictures.filter(({ name }) => named.has(name)).map(({ sha256 }) => sha256)
}

/** What a title is made of. */
export interface Content {
  /** SHA-256 of the version's document. */
  document: string
  values: Values
  /** Pictures that came with the sheet. */
  pictures: readonly SheetPicture[]
  settings: OutputSettings
  /** Frames of this title; absent: as designed. */
  frames: number | undefined
  /** The parts that are drawn; absent: all. */
  only?: readonly PartId[]
}

/** Names a title's files by all they depend on: the version's document, the row's values and pictures, the settings. */
export function titleKey({ document, values, pictures, settings, frames, only }: Content): string {
  const sorted = Object.fromEntries(Object.entries(values).sort(([a], [b]) => (a < b ? -1 : 1)))
  const { frames: _, ...seen } = picturedBy(settings)
  const shown = picturesOf(values, pictures)
  return hashOf(
    JSON.stringify({
      engine,
      document,
      values: sorted,
      ...seen,
      ...(frames === undefined ? {} : { frames }),
      ...(shown.length > 0 ? { pictures: shown } : {}),
      ...(only ? { only: [...only].sort() } : {}),
    }),
  )
}

/**
 * Renders one row: checks it, looks for a finished title of the same key, else draws into a folder of another name and
 * moves that into place whole. A row with a *stop* is held, with what was found.
 */
export async function renderTitle(order: TitleOrder, raster: Raster): Promise<TitleResult> {
  const { scene, root, settings, document, pictures, only } = order
  const frames = durationOf(settings, order.designed, order.match, order.row)
  const {
    values,
    findings: own,
    layout,
  } = only ? posterOf(scene) : checkRow(scene, order.match, order.row, order.n, frames, raster.looks)
  const changed = only ? undefined : changedRow(settings, order.row)
  const after = changed && checkRow(scene, order.match, changed, order.n, frames, raster.looks)
  const findings = after ? [...own, ...after.findings] : own
  if (stateOf(findings) === 'stop')
    return { state: 'held', findings: findings.filter((f) => f.level === 'stop'), values }
  const key = titleKey({ document, values, pictures, settings, frames, ...(only ? { only } : {}) })
  const known = readFinished(root, key)
  if (known) return { state: 'done', finished: known, found: true, values }
  const folder = finishedFolder(root, key)
  const work = `${folder}.${randomUUID()}.part`
  makeFolder(work)
  try {
    const written = await writeTitle(
      order,
      layout,
      frames,
      work,
      raster,
      after && { at: settings.change!.at, values: after.values },
    )
    const finished: Finished = { key, format: settings.format, ...written }
    writeWhole(join(work, aboutFile), JSON.stringify(finished))
    movedIntoPlace(work, folder)
    return { state: 'done', finished, found: false, values }
  } finally {
    rmSync(work, { recursive: true, force: true })
  }
}

/** Parts by themselves are drawn as on the poster, and are no title that could be wrong. */
function posterOf(scene: Scene): { values: Values; findings: Finding[]; layout: Layout } {
  const { values } = scene.template.poster
  return { values, findings: [], layout: scene.layout(values) }
}

/** Two rows may have been the same title and rendered at once: the first one's files stay. */
export function movedIntoPlace(work: string, folder: string): void {
  try {
    renameSync(work, folder)
  } catch (error) {
    if (!existsSync(join(folder, aboutFile))) throw error
  }
  syncFolder(dirname(folder))
}
