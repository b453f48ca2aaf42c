import {
  type Field,
  type FieldValue,
  findPart,
  fullStyle,
  isLanguage,
  type PictureValue,
  readMoment,
  type ShiftValue,
  type StyleValue,
  type Template,
} from '../template/index.ts'
import { characterStarts } from '../text/index.ts'

/** Why a value may not stand in a field. `value`: it is of the wrong kind or not exposed; `limit`: it goes too far. */
export interface FieldRefusal {
  code: 'value' | 'limit'
  message: string
}

const hex = /^#[0-9a-fA-F]{6}([0-9a-fA-F]{2})?$/

/** The characters of `allowed`, ranges spelled out by a test. A `-` stands for itself at either end. */
export function allows(allowed: string, character: string): boolean {
  const all = characterStarts(allowed).map((start, i, starts) => allowed.slice(start, starts[i + 1]))
  const code = (text: string) => text.codePointAt(0)!
  for (let i = 0; i < all.length; i++) {
    if (all[i + 1] === '-' && i + 2 < all.length) {
      const single = [...character].length === 1
      if (single && code(character) >= code(all[i]!) && code(character) <= code(all[i + 2]!)) return true
      i += 2
    } else if (all[i] === character) return true
  }
  return false
}

const count = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`

function refuseText(field: Field, text: string): FieldRefusal | undefined {
  const starts = characterStarts(text)
  if (field.limit !== undefined && starts.length > field.limit)
    return {
      code: 'limit',
      message: `has ${count(starts.length, 'character')}, ${starts.length - field.limit} more than the ${field.limit} allowed; shorten it`,
    }
  const lines = text.split('\n').length
  if (field.lines !== undefined && lines > field.lines)
    return { code: 'limit', message: `has ${count(lines, 'line')}, ${field.lines} allowed; join some` }
  if (field.allowed === undefined) return undefined
  const strange = starts
    .map((start, i) => text.slice(start, starts[i + 1]))
    .filter((character) => character !== '\n' && !allows(field.allowed!, character))
  return strange.length === 0
    ? undefined
    : {
        code: 'limit',
        message: `holds ${[...new Set(strange)]
          .slice(0, 5)
          .map((c) => `"${c}"`)
          .join(', ')}; allowed are ${field.allowed}`,
      }
}

function refuseNumber(field: Field, value: unknown): FieldRefusal | undefined {
  if (typeof value !== 'number' || !Number.isFinite(value))
    return { code: 'value', message: `is not a number; write it with digits` }
  const { min, max } = field
  if ((min !== undefined && value < min) || (max !== undefined && value > max))
    return { code: 'limit', message: `is ${value}, outside ${min ?? '−∞'} to ${max ?? '∞'}; bring it inside` }
  return undefined
}

function refuseCount(field: Field, list: unknown[]): FieldRefusal | undefined {
  return field.count !== undefined && list.length > field.count
    ? { code: 'limit', message: `has ${list.length} entries, ${field.count} allowed; take some out` }
    : undefined
}

function refuseColour(template: Template, field: Field, value: unknown): FieldRefusal | undefined {
  const names = template.palette.map((entry) => entry.name).join(', ')
  if (typeof value !== 'string')
    return {
      code: 'value',
      message: 'is not a colour; write it as #rrggbb, a name of CSS, or by its name in the palette',
    }
  if (value.startsWith('palette:'))
    return template.palette.some((entry) => entry.id === value.slice(8))
      ? undefined
      : { code: 'value', message: `"${value}" is not in the palette; use one of ${names}` }
  if (!hex.test(value))
    return { code: 'value', message: `"${value}" is not a colour; write it as #rrggbb, or as a name of CSS` }
  return field.free
    ? undefined
    : { code: 'limit', message: `"${value}" is not a colour of the palette; use one of ${names}` }
}

const outside = (value: number, [from, to]: readonly [number, number]) => value < from || value > to

function refusePicture(field: Field, value: unknown): FieldRefusal | undefined {
  if (typeof value === 'string') return undefined
  const given = value as PictureValue
  if (typeof given?.picture !== 'string') return { code: 'value', message: 'names no picture; write its file name' }
  const may = field.picture ?? {}
  const shut = (
    [
      ['scaling', may.scaling],
      ['focusX', may.focus],
      ['focusY', may.focus],
      ['zoom', may.zoom],
    ] as const
  ).find(([key, open]) => given[key] !== undefined && !open)
  if (shut) return { code: 'limit', message: `sets ${shut[0]}, which is locked; leave it out` }
  if (given.zoom !== undefined && outside(given.zoom, may.zoom!))
    return { code: 'limit', message: `is zoomed to ${given.zoom}, outside ${may.zoom!.join(' to ')}; bring it inside` }
  for (const focus of [given.focusX, given.focusY])
    if (focus !== undefined && (typeof focus !== 'number' || outside(focus, [0, 1])))
      return { code: 'value', message: 'has a focus outside the picture; give shares from 0 to 1' }
  if (given.scaling !== undefined && given.scaling !== 'cover' && given.scaling !== 'contain')
    return { code: 'value', message: `is scaled "${given.scaling}"; use cover or contain` }
  return undefined
}

function refuseStyle(template: Template, field: Field, value: unknown): FieldRefusal | undefined {
  const { font, size } = (value ?? {}) as StyleValue
  // The designed style always may stand.
  const own = field.targets[0] && findPart(template, field.targets[0].part)
  const designed = own?.kind === 'text' ? fullStyle('text', own.style) : undefined
  const fonts = field.fonts ?? []
  if (font !== undefined && font !== designed?.font && !fonts.includes(font)) {
    const names = fonts
      .flatMap((id) => template.fonts.find((f) => f.id === id) ?? [])
      .map((f) => `${f.family} ${f.style}`)
    return {
      code: 'limit',
      message: `may not be set in that font; ${names.length > 0 ? `use ${names.join(', ')}` : 'it is locked'}`,
    }
  }
  if (size === undefined) return undefined
  if (typeof size !== 'number') return { code: 'value', message: 'has a size that is not a number' }
  const [from, to] = field.sizes ?? [designed?.size ?? size, designed?.size ?? size]
  return outside(size, [from, to])
    ? { code: 'limit', message: `is ${size} px, outside ${from} to ${to}; bring it inside` }
    : undefined
}

function refuseShift(field: Field, value: unknown): FieldRefusal | undefined {
  const { x, y } = (value ?? {}) as ShiftValue
  if (typeof x !== 'number' || typeof y !== 'number')
    return { code: 'value', message: 'is not a shift; write it as across, down in px' }
  const { reach } = field
  if (reach && (outside(x, reach.x) || outside(y, reach.y)))
    return {
      code: 'limit',
      message: `is shifted by ${x}, ${y}; ${reach.x.join(' to ')} across and ${reach.y.join(' to ')} down are allowed`,
    }
  return undefined
}

/**
 * Whether a field may have a value: its kind, and every limit of the hand-off. This is the one place that says so, for
 * the form, the sheet and the server. The message goes on after the field's name.
 */
export function refuseFieldValue(template: Template, field: Field, value: FieldValue): FieldRefusal | undefined {
  switch (field.type) {
    case 'text':
      return typeof value === 'string' ? refuseText(field, value) : { code: 'value', message: 'is not a text' }
    case 'number':
      return refuseNumber(field, value)
    case 'moment':
      return readMoment(String(value)) || value === 'now'
        ? undefined
        : {
            code: 'value',
            message: `"${String(value)}" is no date; write it as 2026-11-26 or 2026-11-26T18:30, or as now`,
          }
    case 'texts':
      if (!Array.isArray(value)) return { code: 'value', message: 'is not a list of texts; write one a line' }
      return refuseCount(field, value) ?? value.map((one) => refuseText(field, String(one))).find(Boolean)
    case 'numbers':
      if (!Array.isArray(value)) return { code: 'value', message: 'is not a list of numbers; write 1.2; 3.4; …' }
      return refuseCount(field, value) ?? value.map((one) => refuseNumber(field, one)).find(Boolean)
    case 'switch':
      return typeof value === 'boolean'
        ? undefined
        : { code: 'value', message: `"${String(value)}" is neither yes nor no` }
    case 'colour':
      return refuseColour(template, field, value)
    case 'picture':
      return refusePicture(field, value)
    case 'choice':
      return field.options?.some((option) => option.value === value)
        ? undefined
        : {
            code: 'value',
            message: `"${String(value)}" is none of ${(field.options ?? []).map((option) => option.value).join(', ')}`,
          }
    case 'language':
      return typeof value === 'string' && (value === '' || isLanguage(value))
        ? undefined
        : { code: 'value', message: `"${String(value)}" is no language; write a BCP 47 tag, as en or pt-BR` }
    case 'style':
      return refuseStyle(template, field, value)
    case 'shift':
      return refuseShift(field, value)
  }
}
