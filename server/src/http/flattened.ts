import { api } from '@hoja/core/api'
import { safeName } from '@hoja/core/formats'
import { clipsOf } from '@hoja/core/output'
import { shapeOf } from '@hoja/core/template'
import { Router } from 'express'
import { titlePath } from '../render/deliver.ts'
import type { OutputRow } from '../store/outputs.ts'
import type { Context } from './context.ts'
import { checkOrder, usedNow } from './outputOrders.ts'
import { serving } from './serving.ts'

/** A template's locked parts by themselves, for systems that draw their own text. */
export function flattenedRoutes(context: Context): Router {
  const { store, jobs, queue } = context
  const routes = Router()
  const serve = serving(routes)
  const sourceOf = (version: number) => ({
    kind: 'stored' as const,
    document: store.templates.version(version).document,
    files: store.files.folder,
  })
  /** What will become clips, and what will be left to whoever takes them. */
  serve(api.layersOf, async (input) => {
    const source = sourceOf(input.version)
    const merged = input.parts !== 'apart'
    const layers = await jobs.run<'flatPictures'>({ kind: 'flatPictures', source, merged, scale: 1 / 4 })
    return layers.map(({ png, ...layer }) => ({
      ...layer,
      picture: `data:image/png;base64,${Buffer.from(png).toString('base64')}`,
    }))
  })
  serve(api.flatten, async (input) => {
    const { version, ...settings } = input
    const published = store.templates.version(version)
    const template = store.templates.published(published)
    checkOrder(context, settings, template)
    const titles = clipsOf(shapeOf(template, settings.shape), settings).map(({ file, parts }, i) => ({
      n: i + 1,
      name: `${safeName(template.name)}/${file}`,
      row: { cells: {} },
      only: parts,
    }))
    const output = store.outputs.add({
      sheet: null,
      version,
      match: {},
      pictures: [],
      settings: { ...settings, parts: settings.parts ?? 'merged' },
      used: await usedNow(),
      titles,
    })
    queue.wake()
    return output
  })
  return routes
}

/** What lies beside the clips: the description of the layers. */
export async function flattenedFiles({ store, jobs }: Context, output: OutputRow) {
  const { settings, version } = output
  const template = store.templates.version(version)
  const parts = store.outputs.partsOf(output.id)
  const names = store.outputs.titles(output.id).map(({ row, name }) => ({
    parts: parts.get(row) ?? [],
    file: titlePath(settings, name.split('/').pop()!),
  }))
  const source = { kind: 'stored' as const, document: template.document, files: store.files.folder }
  const description = await jobs.run<'flatDescription'>({ kind: 'flatDescription', source, settings, names })
  const folder = safeName(store.templates.published(template).name)
  return [{ path: `${folder}/layers.json`, bytes: Buffer.from(`${JSON.stringify(description, null, 2)}\n`) }]
}
