import {
  besideStops,
  type Finding,
  inThatShape,
  type Match,
  type Row,
  stateOf,
  stopsBeside,
  valuesOf,
} from '@hoja/core/data'
import { moveMatch } from '@hoja/core/handoff'
import {
  checkSettings,
  durationOf,
  namer,
  type OutputSettings,
  outputFormats,
  rowInOrder,
  withNow,
} from '@hoja/core/output'
import { demand } from '@hoja/core/refusal'
import { firstShape, type Template } from '@hoja/core/template'
import { demandFfmpeg, ffmpegVersion } from '../render/ffmpeg.ts'
import { readFinished } from '../render/finished.ts'
import { titleKey } from '../render/title.ts'
import type { Order, OutputRow, Used } from '../store/outputs.ts'
import type { SheetPicture, SheetRow } from '../store/sheets.ts'
import { hojaVersion } from '../version.ts'
import type { Context } from './context.ts'

/** What follows its sheet is made anew, so *now* is now. */
export function atThisMoment({ now: _, ...settings }: OutputSettings): OutputSettings {
  return settings
}

/** What an output is rendered with, for its history. */
export async function usedNow(): Promise<Used> {
  const ffmpeg = await ffmpegVersion()
  return { hoja: hojaVersion, ...(ffmpeg ? { ffmpeg } : {}) }
}

/** @throws Refusal for settings that can't be rendered here */
export function checkOrder({ store }: Pick<Context, 'store'>, settings: OutputSettings, template: Template): void {
  checkSettings(settings, template)
  if (outputFormats[settings.format].encoder) demandFfmpeg()
  const { backdrop } = settings
  if (!backdrop || backdrop.kind === 'colour') return
  const kind = store.assets.find(backdrop.sha256)?.kind
  demand(
    kind === (backdrop.kind === 'still' ? 'picture' : 'footage'),
    'output.backdrop',
    `The ${backdrop.kind} "${backdrop.name ?? backdrop.sha256}" is not stored here; choose the file again.`,
  )
}

/**
 * An order of a sheet's rows: which of them, and what their files are called.
 * @throws Refusal for settings that can't be, rows that are not there, or when nothing is left to render
 */
export async function orderRows(
  context: Pick<Context, 'store' | 'jobs'>,
  sheet: SheetRow,
  version: number,
  asked: OutputSettings,
): Promise<Order> {
  const { store } = context
  const { templates, sheets } = store
  const published = templates.version(version)
  const template = templates.published(published)
  checkOrder(context, asked, template)
  const settings = withNow(asked, template)
  // Fields may be called otherwise in another version than the one that the sheet was matched to.
  const match =
    version === sheet.version
      ? sheet.match
      : moveMatch(templates.published(templates.version(sheet.version)), template, sheet.match).match
  const all = sheets.rows(sheet.id)
  const rows = all.map((row, i) => rowInOrder(settings, template, match, row, [i + 1, all.length]))
  const pictures = sheets.pictures(sheet.id)
  // A row that is switched off is rendered when it is asked for by its number.
  let numbers = settings.rows
    ? [...new Set(settings.rows)].sort((a, b) => a - b)
    : rows.flatMap((row, i) => (row.off ? [] : [i + 1]))
  const outside = numbers.find((n) => n > rows.length)
  demand(!outside, 'output.row', `Row ${outside} does not exist; the sheet has ${rows.length}.`)
  demand(numbers.length > 0, 'output.rows', 'Every row is switched off; switch one on to render it.')
  // What a row by itself does not show has to be found before it is rendered by itself.
  const findings =
    settings.withoutStops || stopsBeside(template)
      ? await checkedRows(context, published.document, match, rows, pictures)
      : undefined
  if (settings.withoutStops) {
    const shape = settings.shape ?? firstShape
    numbers = numbers.filter((n) => stateOf(inThatShape(findings![n - 1]!, shape)) !== 'stop')
    demand(numbers.length > 0, 'output.rows', 'Every row has a stop; put one right to render it.')
  }
  const nameOf = namer(template, settings, { sheet: sheet.name, version: published.number })
  const order = { sheet: sheet.id, version, match, pictures, settings, used: await usedNow() }
  const titles = numbers.map((n) => {
    const row = rows[n - 1]!
    const { values } = valuesOf(template, match, row)
    const held = heldWords(findings?.[n - 1])
    return { n, row, name: nameOf(n, values), ...(held ? { held } : {}) }
  })
  if (!settings.changedOnly) return { ...order, titles }
  const known = store.outputs.latestResults(sheet.id, settings.format)
  const keyOf = keysIn(context, order)
  const changed = titles.filter(({ row, name }) => {
    const key = keyOf(row)
    return known.get(name) !== key || !readFinished(store.finished, key)
  })
  demand(
    changed.length > 0,
    'output.unchanged',
    'No row has changed since the last output; there is nothing to render.',
  )
  return { ...order, titles: changed }
}

/** By what a row's title will be known once it is rendered for an order. */
export function keysIn(
  { store: { templates } }: Pick<Context, 'store'>,
  { version, match, pictures, settings }: Pick<Order, 'version' | 'match' | 'pictures' | 'settings'>,
): (row: Row) => string {
  const template = templates.published(templates.version(version))
  return (row) => {
    const { document } = templates.version(row.version ?? version)
    const { values } = valuesOf(template, match, row)
    return titleKey({ document, values, pictures, settings, frames: durationOf(settings, template, match, row) })
  }
}

/** By row (from 1): why it must not go out, beside what it says by itself. */
export async function heldBeside(context: Context, { sheet, version, match, pictures }: OutputRow) {
  const { templates, sheets } = context.store
  const published = templates.version(version)
  if (sheet === null || !stopsBeside(templates.published(published))) return () => ''
  const findings = await checkedRows(context, published.document, match, sheets.rows(sheet), pictures)
  return (n: number) => heldWords(findings[n - 1])
}

const heldWords = (findings: Finding[] = []) =>
  besideStops(findings)
    .map(({ message }) => message)
    .join(' ')

/** Every row's findings, by itself and beside the others. */
export function checkedRows(
  { jobs, store }: Pick<Context, 'store' | 'jobs'>,
  document: string,
  match: Match,
  rows: Row[],
  pictures: SheetPicture[],
): Promise<Finding[][]> {
  const source = { kind: 'stored' as const, document, files: store.files.folder, pictures }
  return jobs.run<'check'>({ kind: 'check', source, match, rows, known: store.sheets.knownTexts() })
}
