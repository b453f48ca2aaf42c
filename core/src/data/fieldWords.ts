import type { Field, FieldType, Template } from '../template/index.ts'

/** Kinds of field by the words people use for them. */
export const fieldTypeNames: Record<FieldType, string> = {
  text: 'text',
  number: 'number',
  moment: 'date and time',
  texts: 'list of texts',
  numbers: 'list of numbers',
  switch: 'yes or no',
  colour: 'colour',
  picture: 'picture',
  choice: 'choice',
  style: 'text style',
  shift: 'shift',
  language: 'language',
}

/** What a field says of itself where nothing is given, in words. */
export const standsWords: Record<NonNullable<Field['stands']>, string> = {
  now: 'the moment of rendering',
  length: "the title's length",
  row: 'the number of its row',
  rows: 'the number of rows',
}

/** Those that fields of a kind can say. */
export function standsOf(type: FieldType): NonNullable<Field['stands']>[] {
  return type === 'moment' ? ['now', 'length'] : type === 'number' ? ['row', 'rows', 'length'] : []
}

const rangeWords = (from: number | undefined, to: number | undefined, unit = '') =>
  from !== undefined && to !== undefined
    ? `from ${from} to ${to}${unit}`
    : from !== undefined
      ? `${from}${unit} or more`
      : to !== undefined
        ? `${to}${unit} or less`
        : undefined

/** What a field allows, piece by piece: `at most 40 characters`, `from 0 to 9.5`. */
export function limitWords(template: Template, field: Field): string[] {
  const each = field.type === 'texts' ? ' each' : ''
  const named = (ids: readonly string[]) =>
    ids
      .flatMap((id) => template.fonts.find((font) => font.id === id) ?? [])
      .map((font) => `${font.family} ${font.style}`)
  const words: (string | false | undefined)[] = [
    field.limit !== undefined && `at most ${field.limit} characters${each}`,
    field.lines !== undefined && `at most ${field.lines} ${field.lines === 1 ? 'line' : 'lines'}`,
    field.allowed !== undefined && `of the characters ${field.allowed}`,
    field.count !== undefined && `at most ${field.count} entries`,
    (field.type === 'number' || field.type === 'numbers') && rangeWords(field.min, field.max, field.format?.after),
    field.type === 'moment' && 'as 2026-11-26 or 2026-11-26T18:30, or now',
    field.type === 'language' && 'a BCP 47 tag, as en or pt-BR',
    field.type === 'colour' &&
      (field.free ? 'any colour' : `one of ${template.palette.map((entry) => entry.name).join(', ')}`),
    field.stands && `left empty: ${standsWords[field.stands]}`,
    field.options && `one of ${field.options.map((option) => option.value).join(', ')}`,
    field.picture?.scaling && 'scaling may be changed',
    field.picture?.focus && 'its focus may be moved',
    field.picture?.zoom && `zoom ${rangeWords(...field.picture.zoom)}`,
    field.sizes && rangeWords(...field.sizes, ' px'),
    field.fonts && field.fonts.length > 0 && `in ${named(field.fonts).join(', ')}`,
    field.reach && `${field.reach.x.join(' to ')} px across, ${field.reach.y.join(' to ')} px down`,
  ]
  return words.filter((word): word is string => typeof word === 'string')
}

/** A field in one line: kind, whether it is required, limits. */
export function fieldLine(template: Template, field: Field): string {
  return [fieldTypeNames[field.type], ...(field.required ? ['required'] : []), ...limitWords(template, field)].join(
    ', ',
  )
}
