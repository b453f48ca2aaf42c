import type { Template } from '../template/index.ts'
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
