import { cached, LastFew } from '../cache/index.ts'
import { paintedIn, painters, paletteWith } from './palette.ts'
import type { Field, Part, Setting, Template, Values } from './types.ts'

/** More combinations of options that move parts than this are refused: each has to be looked through for rings. */
const mostCombinations = 256

const choosing = new WeakMap<Field[], Field[]>()

/** The fields whose options set something. */
function choiceFields(template: Template): Field[] {
  return cached(choosing, template.fields, () =>
    template.fields.filter((f) => f.type === 'choice' && f.options?.some((option) => option.sets.length > 0)),
  )
}

const variants = new WeakMap<Template, LastFew<string, Template>>()

/**
 * The template as a filling makes it: every property that the chosen options set, set, and the palette in the colours that
 * are given. Equal choices give the same object, so that what is worked out once per drawing is worked out once per combination.
 */
export function variantOf(template: Template, values: Values): Template {
  const [fields, painting] = [choiceFields(template), painters(template)]
  if (fields.length === 0 && painting.length === 0) return template
  const chosen = [...fields, ...painting].map((field) => values[field.key] ?? field.default)
  const known = cached(variants, template, () => new LastFew<string, Template>(64))
  return cached(known, JSON.stringify(chosen), () => {
    const given = paintedIn(template, values)
    const set = withSettings(
      template,
      fields.flatMap((field, i) => field.options!.find((option) => option.value === chosen[i])?.sets ?? []),
    )
    return given.size === 0 ? set : { ...set, palette: paletteWith(set.palette, given) }
  })
}

const ofPart = ['x', 'y', 'motion', 'room', 'order']
/** Whether an option sets something of a part itself, which is no property of its style. */
export const isOfPart = (property: string): boolean => ofPart.includes(property)

/** A template in which some things of parts are set. */
export function withSettings(template: Template, sets: Setting[]): Template {
  if (sets.length === 0) return template
  const byPart = new Map<string, Setting[]>()
  for (const setting of sets) byPart.set(setting.part, [...(byPart.get(setting.part) ?? []), setting])
  const visit = (part: Part): Part => {
    const own = byPart.get(part.id)?.filter(({ property }) => property !== 'order')
    const parts = part.parts && ordered(part.parts.map(visit), byPart)
    // What nothing is set of stays the same object, so that what is known of it stays known.
    if (!own && (parts === undefined || parts.every((one, i) => one === part.parts![i]))) return part
    const style: Record<string, unknown> = { ...part.style }
    const whole: Record<string, unknown> = {}
    for (const { property, value } of own ?? []) (isOfPart(property) ? whole : style)[property] = value
    return { ...part, ...whole, style, ...(parts ? { parts } : {}) } as Part
  }
  return { ...template, parts: ordered(template.parts.map(visit), byPart) }
}

/** Parts of one list as their settings order them: each at its place from below, the others as they were. */
function ordered(parts: Part[], settings: ReadonlyMap<string, readonly Setting[]>): Part[] {
  const placeOf = ({ id }: Part) => settings.get(id)?.find(({ property }) => property === 'order')?.value
  const placed = parts.filter((part) => placeOf(part) !== undefined)
  if (placed.length === 0) return parts
  const result = parts.filter((part) => !placed.includes(part))
  for (const part of placed.sort((one, other) => Number(placeOf(one)) - Number(placeOf(other))))
    result.splice(Number(placeOf(part)), 0, part)
  return result
}

/** What of a part no tie hangs on. */
const still = ['motion', 'order']

/** Every way in which options that move parts can meet; undefined when there are too many. */
export function placedVariants(template: Template): Template[] | undefined {
  const moving = choiceFields(template).filter((field) =>
    field.options!.some((option) =>
      option.sets.some(({ property }) => !still.includes(property) && isOfPart(property)),
    ),
  )
  const count = moving.reduce((n, field) => n * field.options!.length, 1)
  if (count > mostCombinations) return undefined
  let all: Values[] = [{}]
  for (const field of moving)
    all = all.flatMap((values) => field.options!.map((option) => ({ ...values, [field.key]: option.value })))
  return moving.length === 0 ? [template] : all.map((values) => variantOf(template, values))
}
