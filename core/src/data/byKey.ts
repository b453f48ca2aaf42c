import { fieldValue } from '../scene/index.ts'
import { type Field, languageOf, shownText, type Template, type Values } from '../template/index.ts'
import { givenText, type Match } from './source.ts'
import type { Cells, Row } from './table.ts'

/** How a title fills its template that was filled by itself: each field by the text of its own key. */
export const matchByKey = ({ fields }: Pick<Template, 'fields'>): Match =>
  Object.fromEntries(fields.map(({ key }) => [key, key]))

/** What a row of a sheet gives to the fields of a template, by their keys. */
export const cellsByKey = ({ fields }: Pick<Template, 'fields'>, match: Match, row: Row): Cells =>
  Object.fromEntries(
    fields.flatMap(({ key }) => {
      const { text } = givenText(match, key, row)
      return text === undefined ? [] : [[key, text]]
    }),
  )

/** Fields of which a title's words are made, in their order: what is neither a colour, a picture nor a switch. */
const wordFields = ({ fields }: Pick<Template, 'fields'>): Field[] =>
  fields.filter(({ type }) => ['text', 'texts', 'number', 'moment'].includes(type))

export const wordKeysOf = (template: Pick<Template, 'fields'>): string[] => wordFields(template).map(({ key }) => key)

/** What a title says, field by field, as it is seen: a sample that stands where nothing was given is said too. */
export const saidIn = (template: Pick<Template, 'fields' | 'language'>, values: Values): string[] =>
  wordFields(template).flatMap((field) => {
    const value = fieldValue(field, values)
    const text = Array.isArray(value) ? value.join('\n') : shownText(field, value, languageOf(template))
    return text.trim() === '' ? [] : [text.trim()]
  })
