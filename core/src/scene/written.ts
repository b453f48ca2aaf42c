import { fieldToken, fieldWritten, runsOf, type Template } from '../template/index.ts'
import { characterStarts, drawnText, softHyphen } from '../text/index.ts'
import type { Layout } from './layout.ts'

/** Which characters of a drawn text are which of the text as it is written. Offsets are UTF-16. */
export interface Written {
  /** The words, with a token for each field among them. */
  words: string
  toDrawn(offset: number): number
  /** The nearest place between written characters at or before a drawn one; inside of a field, its nearer end. */
  toWritten(offset: number): number
  /** Where fields stand among the drawn characters. */
  tokens: { start: number; end: number; field: string }[]
}

/**
 * How what is drawn of a text goes back to what was written: case may lengthen it, hyphenation puts marks into it, a cut
 * leaves its end out, and each field's words are one character.
 * @param own what a person writes: the text itself, or, where all of it is one field's, that field's words
 */
export function writtenText(template: Template, layout: Layout, index: number, own: 'text' | 'field'): Written {
  const part = layout.rest.order.parts[index]!
  const runs = runsOf(part)
  const drawn = layout.shapes[index]!.runs
  const drawnLength = layout.blocks[index]!.text.length
  const places: number[] = [0]
  const tokens: Written['tokens'] = []
  let words = ''
  let at = 0
  const isField = own === 'field' && fieldWritten(template, part) !== undefined
  runs.forEach((run, i) => {
    const shown = drawn[i]?.text ?? ''
    if (run.field && !isField) {
      tokens.push({ start: at, end: at + shown.length, field: run.field })
      words += fieldToken
      places.push(at + shown.length)
    } else {
      const text = isField ? fieldText(layout, run.field!) : (run.text ?? '')
      words += text
      for (const place of placesIn(text, shown).slice(1)) places.push(at + place)
    }
    at += shown.length
  })
  const cut = (offset: number) => Math.min(offset, drawnLength)
  return {
    words,
    tokens,
    toDrawn: (offset) => cut(places[Math.min(offset, words.length)]!),
    toWritten(offset) {
      const token = tokens.find(({ start, end }) => offset > start && offset < end)
      if (token) return places.indexOf(offset - token.start < token.end - offset ? token.start : token.end)
      // Of several that are drawn in one place, the last: a cut's end is the end of what is drawn.
      return Math.max(
        0,
        places.findLastIndex((place) => place <= offset),
      )
    },
  }
}

const fieldText = (layout: Layout, field: string) => String(layout.content.fields.get(field) ?? '')

/** For each offset of a written text, the offset at which it stands as it is drawn. */
function placesIn(written: string, drawn: string): number[] {
  const places: number[] = []
  const starts = characterStarts(written)
  let at = 0
  starts.forEach((start, i) => {
    const character = written.slice(start, starts[i + 1] ?? written.length)
    // Parts of words are marked as they are drawn.
    while (drawn[at] === softHyphen && !character.startsWith(softHyphen)) at++
    const forms = [drawnText(character), character.toLocaleUpperCase('und'), character.toLocaleLowerCase('und')]
    const form = forms.find((one) => one !== '' && drawn.startsWith(one, at))
    const length = form?.length ?? (forms[0] === '' ? 0 : character.length)
    for (let unit = 0; unit < character.length; unit++) places.push(unit === 0 ? at : at + length)
    at += length
  })
  places.push(at)
  return places
}
