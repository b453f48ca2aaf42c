import type { Found, Referred } from '../schema/index.ts'
import { namedByField, namedByPart, namedByShape } from './naming.ts'
import type { MediaFile, Part, Template } from './types.ts'
import type { PictureValue } from './values.ts'
import { allParts } from './walk.ts'

const names = (found: readonly Found[], to: Referred, id: string) => found.some((one) => one.to === to && one.id === id)

/** The parts and fields that name something, by their names. */
function namersOf(template: Template, to: Referred, id: string, also: (part: Part) => boolean = () => false): string[] {
  const parts = allParts(template.parts).filter((part) => names(namedByPart(part), to, id) || also(part))
  const fields = template.fields.filter((field) => names(namedByField(field), to, id))
  const shapes = (template.shapes ?? []).filter((shape) => names(namedByShape(shape), to, id))
  return [
    ...parts.map(({ name }) => name),
    ...fields.map(({ name }) => `the field ${name}`),
    ...shapes.map(({ name }) => `the shape ${name}`),
  ]
}

/** Where a font is used: names of parts and fields. The first font is used by every text that names none. */
export function fontUses(template: Template, id: string): string[] {
  const isFirst = template.fonts[0]?.id === id
  return namersOf(template, 'font', id, (part) => isFirst && part.kind === 'text' && !part.style.font)
}

/** Where a picture or movie is used, by the name that data uses: names of parts, fields and proofs. */
export function pictureUses(template: Template, name: string): string[] {
  const isIt = (value: unknown) => value === name || (value as PictureValue | undefined)?.picture === name
  const keys = template.fields.filter((field) => field.type === 'picture').map((field) => field.key)
  const fillings = [...template.proofs, { name: 'the poster', values: template.poster.values }].flatMap((proof) =>
    keys.some((key) => isIt(proof.values[key])) ? [`the proof ${proof.name}`.replace('the proof the', 'the')] : [],
  )
  return [...namersOf(template, 'picture', name), ...fillings]
}

/** A template with another font in a font's place: the id stays, so everything that used it uses the other one. */
export function withFont(
  template: Template,
  id: string,
  other: Omit<Template['fonts'][number], 'id'>,
): Template['fonts'] {
  return template.fonts.map((font) => (font.id === id ? { ...other, id } : font))
}

/** A template that also carries a sheet's own pictures; one of the template's own names stays the template's. */
export function withPictures(template: Template, pictures: readonly MediaFile[]): Template {
  const own = new Set(template.media.map(({ name }) => name))
  const added = pictures.filter(({ name }) => !own.has(name))
  return added.length === 0 ? template : { ...template, media: [...template.media, ...added] }
}
