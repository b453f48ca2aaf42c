import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { AirItem, Binding } from '@hoja/core/air'
import { cellsByKey } from '@hoja/core/data'
import { demand } from '@hoja/core/refusal'
import { parseRate } from '@hoja/core/time'
import type { AirChannels } from './air/channels.ts'
import type { Store } from './store/index.ts'

/** A channel of the demo as its file has it: sheets by the names of their files, layers by their names. */
interface DemoChannel {
  name: string
  title: string
  rate: string
  layers: string[]
  list: ({ template: string; layer: string; hold?: number; live?: Record<string, Binding & { sheet: string }> } & (
    | { cells: Record<string, string> }
    | { sheet: string; row: number }
  ))[]
}

/** Channels of the demo, each with a running list, in a folder that has just got the rest of it. */
export async function seedAir(store: Store, air: AirChannels, folder: string): Promise<void> {
  const show = store.productions.list().find(({ name }) => name === 'Estuary Week')
  const sheets = store.sheets.list()
  const sheetOf = (file: string) => {
    const found = sheets.find(({ name }) => name === file)
    demand(found, 'demo', `The demo sheet ${file} is not there.`)
    return found
  }
  for (const file of ['lower-third', 'corner', 'crawl']) {
    const text = readFileSync(join(folder, `${file}.json`), 'utf8')
    const { name, title, rate, layers, list } = JSON.parse(text) as DemoChannel
    const ids = new Map(layers.map((layer, i) => [layer, `l${i + 1}`]))
    const named = layers.map((layer) => ({ id: ids.get(layer)!, name: layer }))
    const items = list.map((one, i): AirItem => {
      const version = store.templates.versions(one.template)[0]!
      const template = store.templates.published(version)
      const sheet = 'sheet' in one ? sheetOf(one.sheet) : undefined
      const row = sheet && 'row' in one ? store.sheets.rows(sheet.id, one.row, 1)[0]! : undefined
      const cells = 'cells' in one ? one.cells : cellsByKey(template, sheet!.match, row!)
      const live = Object.entries(one.live ?? {}).map(([key, binding]) => [
        key,
        binding.kind === 'value' ? { ...binding, sheet: sheetOf(binding.sheet).id } : binding,
      ])
      return {
        id: `demo${i + 1}`,
        version: version.id,
        layer: ids.get(one.layer)!,
        cells,
        ...(sheet && 'row' in one ? { row: { sheet: sheet.id, n: one.row } } : {}),
        ...(one.hold === undefined ? {} : { hold: one.hold }),
        live: Object.fromEntries(live),
      }
    })
    air.add(
      { name, title, production: show?.id ?? null },
      { width: 1920, height: 1080, rate: parseRate(rate), layers: named },
    )
    await air.ask(name, { kind: 'add', items })
  }
}
