import type { Version } from '@hoja/core/api'
import { valuesOf } from '@hoja/core/data'
import { namer, type OutputSettings, outputFormats, rowInOrder, suffixesOf } from '@hoja/core/output'
import { Refusal } from '@hoja/core/refusal'
import type { Template } from '@hoja/core/template'
import type { SheetDetail } from '../../api.ts'

/** Settings to put in place of others; undefined takes one away. */
export type Change = { [K in keyof OutputSettings]?: OutputSettings[K] | undefined }

/** What every section of an order is given. */
export interface SectionProps {
  settings: OutputSettings
  /** The template as it was designed. */
  template: Template
  change: (more: Change) => void
}

export function changed(settings: OutputSettings, more: Change): OutputSettings {
  const kept = Object.entries({ ...settings, ...more }).filter(([, value]) => value !== undefined)
  return Object.fromEntries(kept) as unknown as OutputSettings
}

/** What is wrong with what somebody wrote, in a sentence; undefined: nothing. */
export function wrongWith(read: () => unknown): string | undefined {
  try {
    read()
    return undefined
  } catch (error) {
    if (error instanceof Refusal) return error.message
    throw error
  }
}

/** The settings that are ordered: what the format does not take is left out, though it is kept for the next choice. */
export function orderedFrom(settings: OutputSettings, rows: number[] | undefined): OutputSettings {
  const facts = outputFormats[settings.format]
  const { backdrop, alpha, timecode, silent, handles, fields, pieces, marks, at, conform, change, ...rest } = settings
  return {
    ...rest,
    ...(facts.alpha === 'either' && alpha ? { alpha } : {}),
    ...(facts.backdrop !== 'never' && backdrop ? { backdrop } : {}),
    ...(facts.timecode && timecode ? { timecode } : {}),
    ...(facts.sound && silent ? { silent } : {}),
    ...(handles && !facts.still ? { handles } : {}),
    ...(facts.fields && fields ? { fields } : {}),
    ...(!facts.still && pieces ? { pieces } : {}),
    ...(!facts.still && !pieces && marks ? { marks } : {}),
    ...(facts.still && at !== undefined ? { at } : {}),
    ...(!facts.still && change ? { change } : {}),
    ...(!facts.still && !pieces && conform ? { conform } : {}),
    ...(rows ? { rows } : {}),
  }
}

/** What the first few files will be called. */
export function exampleNames(
  sheet: SheetDetail,
  numbers: readonly number[],
  { content: template, number }: Version & { content: Template },
  settings: OutputSettings,
): string[] {
  const nameOf = namer(template, settings, { sheet: sheet.name, version: number })
  const [suffix] = suffixesOf(settings, ['in', 'hold', 'out'])
  const ending = `${suffix}${outputFormats[settings.format].pictures ? '/' : ''}`
  return numbers.slice(0, 3).map((n) => {
    const row = rowInOrder(settings, template, sheet.match, sheet.rows[n - 1]!, [n, sheet.rows.length])
    return `${nameOf(n, valuesOf(template, sheet.match, row).values)}${ending}`
  })
}
