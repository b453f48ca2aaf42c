import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { type FrameSettings, templateFor } from '@hoja/core/output'
import { Scene } from '@hoja/core/scene'
import { migrate, type Template, withPictures } from '@hoja/core/template'
import type { SheetPicture } from '../store/sheets.ts'
import { loadAssets } from './assets.ts'

/** Where a worker finds a template: its document, and how its files are reached. */
export type Source =
  | { kind: 'stored'; document: string; files: string; pictures?: SheetPicture[] }
  | { kind: 'draft'; document: string; files: string; template: Template }

const scenes = new Map<string, Promise<Scene>>()
const keep = 8

/** Where a stored file lies. */
export const storedFile = (source: Source, sha256: string): string => join(source.files, sha256.slice(0, 2), sha256)

/** A template ready to be drawn, for the frame of an output when one is told; kept for the next call. */
export function sceneOf(source: Source, settings: FrameSettings = {}): Promise<Scene> {
  const pictures = (source.kind === 'stored' && source.pictures) || []
  const key = [
    source.document,
    JSON.stringify([settings.shape, settings.size, settings.rate, settings.keepSizes]),
    ...pictures.map(({ name, sha256 }) => `${name} ${sha256}`),
  ].join('\n')
  let scene = scenes.get(key)
  if (!scene) {
    if (scenes.size >= keep) scenes.delete(scenes.keys().next().value!)
    const read = (entry: { sha256: string }) => readFileSync(storedFile(source, entry.sha256))
    const designed: Template =
      source.kind === 'draft'
        ? source.template
        : withPictures(
            migrate(JSON.parse(read({ sha256: source.document }).toString('utf8'))) as unknown as Template,
            pictures,
          )
    const template = templateFor(settings, designed)
    scene = loadAssets(template, read).then((assets) => new Scene(template, assets))
    // What could not be loaded now may be there the next time.
    scene.catch(() => scenes.delete(key))
    scenes.set(key, scene)
  }
  return scene
}
