import type { MediaFile, Template } from './types.ts'
import type { PictureValue, StyleValue } from './values.ts'
import { allParts, runsOf } from './walk.ts'

/** Where a font is used: names of parts and fields. The first font is used by every text that names none. */
export function fontUses(template: Template, id: string): string[] {
  const isFirst = template.fonts[0]?.id === id
  const parts = allParts(template.parts).flatMap((part) => {
    if (part.kind !== 'text') return []
    const own = part.look.font ? part.look.font === id : isFirst
    return own || runsOf(part).some((run) => run.font === id) ? [part.name] : []
  })
  const fields = template.fields.flatMap((field) => {
    const style = field.type === 'style' && (field.default as StyleValue).font === id
    const set = (field.options ?? []).some((option) => option.sets.some((one) => one.value === id))
    return style || set || field.fonts?.includes(id) ? [`the field ${field.name}`] : []
  })
  return [...parts, ...fields]
}

/** Where a picture or movie is used, by the name that data uses: names of parts, fields and proofs. */
export function pictureUses(template: Template, name: string): string[] {
  const isIt = (value: unknown) => value === name || (value as PictureValue | undefined)?.picture === name
  const parts = allParts(template.parts).flatMap((part) => {
    const { picture, fill } = part.look as { picture?: string; fill?: unknown }
    return picture === name || isIt(fill) ? [part.name] : []
  })
  const fields = template.fields.flatMap((field) => {
    const set = (field.options ?? []).some((option) => option.sets.some((one) => isIt(one.value)))
    return set || (field.type === 'picture' && isIt(field.default)) ? [`the field ${field.name}`] : []
  })
  const keys = template.fields.filter((field) => field.type === 'picture').map((field) => field.key)
  const fillings = [...template.proofs, { name: 'the poster', values: template.poster.values }].flatMap((proof) =>
    keys.some((key) => isIt(proof.values[key])) ? [`the proof ${proof.name}`.replace('the proof the', 'the')] : [],
  )
  return [...parts, ...fields, ...fillings]
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
