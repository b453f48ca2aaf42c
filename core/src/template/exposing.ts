import { demand, Refusal } from '../refusal/index.ts'
import { freeId } from './create.ts'
import { canDrive, drivenBy, driversOf, fieldDriving } from './drivers.ts'
import type { Change } from './edits.ts'
import { isInherited } from './inherited.ts'
import { languageOf } from './language.ts'
import { fullStyle, type Property, type PropertyKey, propertyOf } from './properties.ts'
import { readMoment, readNumber, shownText } from './shown.ts'
import type { Field, Part, Template, Values } from './types.ts'
import type { FieldType, FieldValue, Fill, Run } from './values.ts'
import { findPart, runsOf } from './walk.ts'

/** A key from words: lower case, letters, digits and hyphens; `otherwise` where the words have none of them. */
export const keyFrom = (words: string, otherwise: string): string =>
  words
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+|-+$/g, '')
    .slice(0, 48) || otherwise

/** A field's key from words, with a number where it is taken. */
export function freeKey(template: Pick<Template, 'fields'>, words: string): string {
  const stem = keyFrom(words, 'field')
  const taken = new Set(template.fields.map((field) => field.key))
  if (!taken.has(stem) && !isInherited(stem)) return stem
  for (let n = 2; ; n++) if (!taken.has(`${stem}-${n}`)) return `${stem}-${n}`
}

/** The axes that a style or shift field drives together with the property it was exposed by. */
const together: Record<string, PropertyKey[]> = {
  font: ['font', 'size'],
  size: ['font', 'size'],
  shiftX: ['shiftX', 'shiftY'],
  shiftY: ['shiftX', 'shiftY'],
}

/** What a field of some kind drives when it is exposed by a property. */
function targetsOf(part: string, key: string, type: FieldType): Field['targets'] {
  const properties = type === 'style' || type === 'shift' ? together[key]! : [key as PropertyKey]
  return properties.map((property) => ({ part, property }))
}

/** Words as the value of a field that stands in a text. */
function fromWords(words: string, type: FieldType): FieldValue {
  if (type === 'number') return readNumber(words.trim().split(/\s/)[0]!) || 0
  if (type === 'moment') return readMoment(words) ? words : '2026-11-26T18:30'
  return type === 'texts' ? words.split('\n') : words
}

/** What a new field stands at: the part's own value. */
function standingValue(part: Part, key: string, type: FieldType): FieldValue {
  const style = fullStyle(part.kind, part.style as never) as Record<string, unknown>
  const words = runsOf(part)
    .map((run) => run.text ?? '')
    .join('')
  switch (type) {
    case 'text':
    case 'moment':
    case 'texts':
      return fromWords(words, type)
    case 'number':
      return key === 'content' ? fromWords(words, type) : (style[key] as number)
    case 'colour': {
      const fill = style[key] as Fill
      if (typeof fill === 'string') return fill
      const what = fill === null ? 'no fill' : fill.kind === 'picture' ? 'a picture in its fill' : 'a gradient'
      throw new Refusal(
        'field.fill',
        `${part.name} has ${what}; make it one flat colour in Draft before an editor may choose it.`,
      )
    }
    case 'style':
      return { ...(style.font ? { font: style.font as string } : {}), size: style.size as number }
    case 'shift':
      return { x: style.shiftX as number, y: style.shiftY as number }
    default:
      return style[key] as FieldValue
  }
}

/** What an editor may not go past with a new field of a kind. */
function firstLimits(part: Part, key: string, property: Property, type: FieldType): Partial<Field> {
  switch (type) {
    case 'number': {
      if (key === 'content')
        return { format: { decimals: 0, mark: '.', group: '', before: '', after: '', plus: false } }
      const { min, max } = property
      return { ...(min === undefined ? {} : { min }), ...(max === undefined ? {} : { max }) }
    }
    case 'moment':
      return { pattern: 'EEEE d MMMM, HH:mm', language: 'en' }
    case 'texts':
      return { between: '  ·  ' }
    case 'picture':
      return { picture: {} }
    case 'choice':
      return {
        options: property.options!.map((value) => ({
          value: freeValue(value),
          name: value,
          sets: [{ part: part.id, property: key, value }],
        })),
      }
    case 'style': {
      const size = (fullStyle('text', part.style as never).size as number) ?? 48
      return { sizes: [Math.round(size * 0.75), Math.round(size * 1.25)], fonts: [] }
    }
    case 'shift':
      return { reach: { x: [-200, 200], y: [-200, 200] } }
    default:
      return {}
  }
}

const freeValue = (words: string) => words.replaceAll(' ', '-')

/**
 * Makes a property a field of a kind: named after its part, at the part's own value, limited as the property is.
 * @throws Refusal when that kind cannot drive it, another field does, or it has no one colour
 */
export function expose(
  template: Template,
  partId: string,
  key: string,
  type?: FieldType,
): { field: Field; change: Change } {
  const part = findPart(template, partId)
  demand(part, 'field.part', `There is no part "${partId}" any more; choose another.`)
  const property = propertyOf(part.kind, key)
  const kinds = property ? driversOf(key, property) : []
  const kind = type ?? kinds[0]
  demand(
    property && kind && kinds.includes(kind),
    'field.locked',
    `"${property?.label ?? key}" of ${part.name} stays locked: no ${type ?? ''} field can drive it.`.replace('  ', ' '),
  )
  const known = fieldDriving(template, part, key)
  demand(!known, 'field.twice', `"${property.label}" of ${part.name} is driven by the field "${known?.name}" already.`)
  const plain = key === 'content' || key === 'picture' || key === 'values'
  const name = plain
    ? part.name
    : kind === 'style'
      ? `${part.name} style`
      : `${part.name} ${property.label.toLowerCase()}`
  const id = freeId(
    template.fields.map((f) => f.id),
    'f',
  )
  const value = standingValue(part, key, kind)
  const field: Field = {
    id,
    key: freeKey(template, name),
    name,
    note: '',
    type: kind,
    targets: key === 'content' || kind === 'choice' ? [] : targetsOf(part.id, key, kind),
    default: kind === 'choice' ? freeValue(String(value)) : value,
    required: false,
    onAir: property.onAir,
    ...firstLimits(part, key, property, kind),
  }
  const { text: _, field: __, ...style } = (runsOf(part)[0] ?? {}) as Run
  const standing: Change[] =
    key === 'content' ? [{ kind: 'style', part: part.id, key: 'content', value: [{ ...style, field: id }] }] : []
  return { field, change: { kind: 'several', changes: [{ kind: 'field', field }, ...standing] } }
}

/** What a field drives by which it could be of most kinds. */
function mainDriven(template: Template, field: Field) {
  const kinds = ({ part, property }: { part: string; property: string }) => {
    const own = findPart(template, part)
    const known = own && propertyOf(own.kind, property)
    return known ? driversOf(property, known) : []
  }
  return drivenBy(template, field)
    .map((driven) => ({ ...driven, kinds: kinds(driven) }))
    .sort((one, other) => other.kinds.length - one.kinds.length)[0]
}

/** The kinds that a field could be of, driving what it drives now: the usual one first. */
export function kindsFor(template: Template, field: Field): readonly FieldType[] {
  const main = mainDriven(template, field)
  if (!main || field.type === 'choice') return [field.type]
  const alone = drivenBy(template, field).every(({ part, property }) =>
    main.property === 'content' ? property === 'content' : part === main.part,
  )
  return alone ? main.kinds : [field.type]
}

/**
 * A field as one of another kind: its name, key and note stay, its default and its limits are those of the kind. What proofs
 * and the poster say in words they go on saying; else they stand at the default.
 */
export function asKind(template: Template, fieldId: string, type: FieldType): Change {
  const field = template.fields.find((one) => one.id === fieldId)
  demand(
    field && kindsFor(template, field).includes(type),
    'field.kind',
    `That field can't be a ${type}; expose another.`,
  )
  const { part: partId, property: key } = mainDriven(template, field)!
  const part = findPart(template, partId)!
  const { id, name, note, required, section, onAir } = field
  const property = propertyOf(part.kind, key)!
  const targets = field.targets.length === 0 ? [] : targetsOf(part.id, key, type)
  const value = key === 'content' ? fromWords(shownText(field, field.default), type) : standingValue(part, key, type)
  const next: Field = {
    id,
    key: field.key,
    name,
    note,
    type,
    targets,
    default: value,
    required,
    onAir,
    ...(section === undefined ? {} : { section }),
    ...firstLimits(part, key, property, type),
  }
  const filled = (values: Values): Values => {
    const { [field.key]: given, ...rest } = values
    if (given === undefined) return values
    return key === 'content' ? { ...rest, [field.key]: fromWords(shownText(field, given), type) } : rest
  }
  return {
    kind: 'several',
    changes: [
      { kind: 'field', field: next },
      { kind: 'proofs', proofs: template.proofs.map((proof) => ({ ...proof, values: filled(proof.values) })) },
      { kind: 'poster', poster: { ...template.poster, values: filled(template.poster.values) } },
    ],
  }
}

/** A field that drives nothing yet, with an id and a key of its own. */
export function newField(
  template: Template,
  name: string,
  more: Pick<Field, 'type' | 'default'> & Partial<Field>,
): Field {
  const ids = template.fields.map((field) => field.id)
  const key = freeKey(template, name)
  return { id: freeId(ids, 'f'), key, name, note: '', targets: [], required: false, onAir: false, ...more }
}

/** A choice that sets nothing yet: what its options set is said afterwards. */
export const newChoice = (template: Template): Field =>
  newField(template, 'Choice', {
    type: 'choice',
    default: 'first',
    options: ['First', 'Second'].map((words) => ({ value: words.toLowerCase(), name: words, sets: [] })),
  })

/** A language that each row can give: it drives no part, so it is that of the whole title. */
export const newLanguage = (template: Template): Field =>
  newField(template, 'Language', {
    note: 'Of the words, as en, pt-BR or ar: capitals, digits and quotation marks go by it.',
    type: 'language',
    default: languageOf(template),
    onAir: true,
  })

/** Lets a field drive one more property, of a kind that it can drive. @throws Refusal */
export function driveToo(template: Template, fieldId: string, partId: string, key: string): Change {
  const field = template.fields.find((one) => one.id === fieldId)
  const part = findPart(template, partId)
  demand(field && part, 'field.part', 'That field or part is not there any more; choose another.')
  const property = propertyOf(part.kind, key)
  demand(
    property && canDrive(field, key, property),
    'field.kind',
    `"${property?.label ?? key}" of ${part.name} can't be driven by a ${field.type}; expose it as a field of its own.`,
  )
  const known = fieldDriving(template, part, key)
  demand(!known, 'field.twice', `"${property.label}" of ${part.name} is driven by the field "${known?.name}" already.`)
  if (key === 'content') {
    const { text: _, ...style } = (runsOf(part)[0] ?? {}) as Run
    return { kind: 'style', part: part.id, key: 'content', value: [{ ...style, field: field.id }] }
  }
  if (field.type === 'choice') {
    const style = fullStyle(part.kind, part.style as never) as Record<string, unknown>
    const options = (field.options ?? []).map((option) => ({
      ...option,
      sets: [...option.sets, { part: part.id, property: key, value: style[key] }],
    }))
    return { kind: 'field', field: { ...field, options } }
  }
  const targets = [...field.targets, ...targetsOf(part.id, key, field.type)]
  return { kind: 'field', field: { ...field, targets } }
}

/** Takes a property out of what a field drives; a text keeps the field's default as its own words. */
export function letGo(template: Template, field: Field, partId: string, key: string): Change {
  if (key === 'content') {
    const part = findPart(template, partId)!
    const value = runsOf(part).map(({ field: own, ...run }) =>
      own === field.id ? { ...run, text: String(field.default) } : own ? { ...run, field: own } : run,
    )
    return { kind: 'style', part: partId, key: 'content', value }
  }
  const other = (one: { part: string; property: string }) => one.part !== partId || one.property !== key
  return {
    kind: 'field',
    field: {
      ...field,
      targets: field.targets.filter(other),
      ...(field.options
        ? { options: field.options.map((option) => ({ ...option, sets: option.sets.filter(other) })) }
        : {}),
    },
  }
}
