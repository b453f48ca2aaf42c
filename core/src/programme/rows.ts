import { cached } from '../cache/index.ts'
import { type Match, matchByKey, type Row, saidIn, valuesOf } from '../data/index.ts'
import type { Template } from '../template/index.ts'
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

const said = new WeakMap<Template, WeakMap<Words, string[]>>()

/** What a title says, field by field, as it is seen: a sample that stands where nothing was given is said too. */
export function wordsOf(programme: Pick<Programme, 'words' | 'start'>, clip: TitleClip, template: Template): string[] {
  const known = cached(said, template, () => new WeakMap<Words, string[]>()) as WeakMap<Words, string[]>
  return cached(known, programme.words[clip.words]!, () => {
    return saidIn(template, valuesOf(template, clipMatch(template), clipRow(programme, clip)).values)
  })
}
