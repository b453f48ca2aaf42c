import { palettePrefix } from '../schema/index.ts'
import { freeId } from './create.ts'
import type { Change } from './edits.ts'
import { keyFrom, newField } from './exposing.ts'
import { painters } from './palette.ts'
import type { Field, Template } from './types.ts'
import type { Colour } from './values.ts'

/** The choice whose options are palettes, if there is one. */
export const paletteChoice = (template: Pick<Template, 'fields'>): Field | undefined =>
  painters(template).find(({ type }) => type === 'choice')

/**
 * Adds a palette of a name: an option of the choice of palettes, in which the palette is as it was drawn until colours of it
 * are changed. The first makes that choice.
 * @returns the change, and what the option is called in data
 */
export function addPalette(template: Template, name: string): { change: Change; value: string } {
  const known = paletteChoice(template)
  const field =
    known ??
    newField(template, 'Palette', {
      type: 'choice',
      default: 'as-drawn',
      options: [{ value: 'as-drawn', name: 'As drawn', sets: [] }],
    })
  const options = field.options!
  const taken = new Set(options.map((option) => option.value))
  const stem = keyFrom(name, 'palette')
  const value = taken.has(stem) ? freeId(taken, `${stem}-`) : stem
  return {
    change: { kind: 'field', field: { ...field, options: [...options, { value, name, sets: [], colours: [] }] } },
    value,
  }
}

/** The choice of palettes with a colour of one of them changed, or (`undefined`) as it was drawn. */
export function recolour(
  field: Field,
  value: string,
  id: string,
  colour: Colour | undefined,
): Extract<Change, { kind: 'field' }> {
  const of = `${palettePrefix}${id}`
  const options = field.options!.map((option) => {
    if (option.value !== value) return option
    const others = (option.colours ?? []).filter((one) => one.of !== of)
    return { ...option, colours: colour === undefined ? others : [...others, { of, to: colour }] }
  })
  return { kind: 'field', field: { ...field, options } }
}

/** The field by which an editor chooses a colour of the palette, if there is one. */
export const fieldPainting = (template: Pick<Template, 'fields'>, id: string): Field | undefined =>
  painters(template).find(({ paints }) => paints?.includes(`${palettePrefix}${id}`))

/** Makes a colour of the palette a field: any colour, checked against the texts that stand on it. */
export function exposeColour(template: Template, id: string): Change {
  const { name } = template.palette.find((entry) => entry.id === id)!
  const colour = `${palettePrefix}${id}`
  return {
    kind: 'field',
    field: newField(template, name, { type: 'colour', default: colour, paints: [colour], free: true, onAir: true }),
  }
}
