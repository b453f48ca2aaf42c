import { safeName } from '../formats/index.ts'
import { demand } from '../refusal/index.ts'
import { firstShape, shapeNamed, shapeWord, type Template } from '../template/index.ts'
import { frameOf, type OutputSettings } from './settings.ts'

/** What a pattern may name besides the fields of the template. */
export const patternWords = ['row', 'sheet', 'template', 'version', 'format', 'size', 'shape'] as const

/** What files are called when nobody says otherwise: by row and the template's first text. */
export function patternFor({ fields }: Pick<Template, 'fields'>): string {
  const first = fields.find(({ type }) => type === 'text') ?? fields[0]
  return first ? `{row:000}_{${first.key}}` : '{row:000}'
}

/** A pattern for files of several shapes: it says which. */
export const shapedPattern = (pattern: string): string => (/\{shape\}/.test(pattern) ? pattern : `${pattern}_{shape}`)

const blank = /\{([^{}]*)\}/g
const worded = /^([a-z][a-z0-9_-]*)(?::(0+))?$/

/** @throws Refusal for a blank that nothing fills in */
export function checkPattern(pattern: string, template: Pick<Template, 'fields'>): void {
  const known = [...patternWords, ...template.fields.map(({ key }) => key)]
  for (const [whole, inside] of pattern.matchAll(blank)) {
    const key = worded.exec(inside!)?.[1]
    demand(
      key && known.includes(key),
      'output.pattern',
      `"${whole}" in the file names stands for nothing; write one of ${known.map((word) => `{${word}}`).join(', ')}.`,
    )
  }
}

/**
 * A file name from a pattern: `{row}`, `{row:000}` (with leading zeros), `{FIELD}` and the other words; and never one that
 * is taken.
 */
export function nameFrom(pattern: string, row: number, values: Record<string, unknown>, taken: Set<string>): string {
  const name = safeName(
    pattern.replace(blank, (_, inside: string) => {
      const [, key = '', zeros] = worded.exec(inside) ?? []
      return key === 'row' ? String(row).padStart(zeros?.length ?? 1, '0') : textOf(values[key])
    }),
  )
  let free = name
  for (let n = 2; taken.has(free.toLowerCase()); n++) free = `${name}_${n}`
  taken.add(free.toLowerCase())
  return free
}

/** Names titles, one after another, as an order has them; folders included. */
export function namer(
  template: Template,
  settings: OutputSettings,
  about: { sheet: string; version?: number },
): (row: number, values: Record<string, unknown>) => string {
  const { width, height } = frameOf(settings, template)
  const words = {
    sheet: about.sheet,
    template: template.name,
    version: about.version,
    format: settings.format,
    size: `${width}x${height}`,
    shape: shapeWord(shapeNamed(template, settings.shape ?? firstShape)),
  }
  const folder = { sheet: about.sheet, template: template.name, none: '' }[settings.folders ?? 'none']
  const pattern = settings.pattern ?? patternFor(template)
  const taken = new Set<string>()
  return (row, values) => {
    const name = nameFrom(pattern, row, { ...words, ...values }, taken)
    return folder ? `${safeName(folder)}/${name}` : name
  }
}

function textOf(value: unknown): string {
  if (typeof value === 'object' && value !== null && 'picture' in value) return String(value.picture)
  return String(value ?? '')
}
