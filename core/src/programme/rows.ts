import type { Match, Row } from '../data/index.ts'
import type { Template } from '../template/index.ts'
import type { Programme, TitleClip } from './description.ts'

/** How a title of a programme fills its template: each field by the text of its key, and its time by its place. */
export const clipMatch = ({ fields }: Pick<Template, 'fields'>): Match => ({
  ...Object.fromEntries(fields.map(({ key }) => [key, key])),
  ':length': ':length',
  ':from': ':from',
})

/** A title of a programme as a row: checked, drawn and rendered like any other. Its times count at the programme's rate. */
export const clipRow = (programme: Pick<Programme, 'words' | 'start'>, { words, frames, at }: TitleClip): Row => ({
  cells: {
    ...programme.words[words]!.cells,
    ':length': String(frames),
    ':from': String(programme.start.at + at),
  },
})

/** Fields of which a title's words are made, in their order: what is neither a colour, a picture nor a switch. */
export const wordKeysOf = ({ fields }: Pick<Template, 'fields'>): string[] =>
  fields.filter(({ type }) => ['text', 'texts', 'number', 'moment'].includes(type)).map(({ key }) => key)
