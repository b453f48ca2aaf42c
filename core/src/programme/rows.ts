import { cached } from '../cache/index.ts'
import { type Match, matchByKey, type Row, valuesOf } from '../data/index.ts'
import { fieldValue } from '../scene/index.ts'
import type { Field, Template } from '../template/index.ts'
import type { Programme, TitleClip, Words } from './description.ts'

/** How a title of a programme fills its template: each field by the text of its key, and its time by its place. */
export const clipMatch = (template: Pick<Template, 'fields'>): Match => ({
  ...matchByKey(template),
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
const wordFields = ({ fields }: Pick<Template, 'fields'>): Field[] =>
  fields.filter(({ type }) => ['text', 'texts', 'number', 'moment'].includes(type))

export const wordKeysOf = (template: Pick<Template, 'fields'>): string[] => wordFields(template).map(({ key }) => key)

const said = new WeakMap<Template, WeakMap<Words, string[]>>()

/** What a title says, field by field, as it is seen: a sample that stands where nothing was given is said too. */
export function wordsOf(programme: Pick<Programme, 'words' | 'start'>, clip: TitleClip, template: Template): string[] {
  const known = cached(said, template, () => new WeakMap<Words, string[]>()) as WeakMap<Words, string[]>
  return cached(known, programme.words[clip.words]!, () => {
    const { values } = valuesOf(template, clipMatch(template), clipRow(programme, clip))
    return wordFields(template).flatMap((field) => {
      const value = fieldValue(field, values)
      const text = Array.isArray(value) ? value.join('\n') : String(value ?? '')
      return text.trim() === '' ? [] : [text.trim()]
    })
  })
}
