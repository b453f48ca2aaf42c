import {
  type Colour,
  type Field,
  type FieldValue,
  type Fill,
  fullLook,
  givenBy,
  languageOf,
  type Part,
  type PropertyType,
  propertyOf,
  type Run,
  runsOf,
  type Shadow,
  shownText,
  type Template,
  tieOrder,
  type Values,
} from '../template/index.ts'

/** A template with one filling: what each part shows, before anything is measured. */
export interface Content {
  /** By part index. */
  looks: Record<string, unknown>[]
  /** Indices of parts whose look a field can change. */
  reached: ReadonlySet<number>
  /** The value of each field, defaults put in, by field id. */
  fields: Map<string, FieldValue>
  /** BCP 47 tag of the language of texts that say no other. */
  language: string
}

/** A run with its words put in; those of a field are in the field's language. */
export type SpokenRun = Run & { language?: string }

/** A colour with the palette looked up: `#rrggbb` or `#rrggbbaa`. An unknown palette entry is black. */
export function colourOf(template: Template, colour: Colour): string {
  if (!colour.startsWith('palette:')) return colour
  const entry = template.palette.find((p) => p.id === colour.slice(8))
  return entry ? colourOf({ ...template, palette: [] }, entry.colour) : '#000000'
}

function fillOf(template: Template, fill: Fill): Fill {
  if (fill === null) return null
  if (typeof fill === 'string') return colourOf(template, fill)
  if (fill.kind === 'picture') return fill
  return { ...fill, stops: fill.stops.map((stop) => ({ ...stop, colour: colourOf(template, stop.colour) })) }
}

/** The value a field has in a filling: its own, or the default when the row says nothing. */
export function fieldValue(field: Field, values: Values): FieldValue {
  return values[field.key] ?? field.default
}

/** What does not depend on a filling: looks as designed, and which parts a field reaches. */
interface Groundwork {
  looks: Record<string, unknown>[]
  /** Indices of parts whose look a field changes. */
  reached: ReadonlySet<number>
}

const groundworks = new WeakMap<Template, Groundwork>()

function groundworkOf(template: Template): Groundwork {
  let known = groundworks.get(template)
  if (!known) {
    const { parts } = tieOrder(template)
    const targets = new Set(template.fields.flatMap((field) => field.targets.map((target) => target.part)))
    const reached = new Set(
      parts.flatMap((part, i) => (targets.has(part.id) || runsOf(part).some((run) => run.field) ? [i] : [])),
    )
    known = { looks: parts.map((part) => designedLook(template, part)), reached }
    groundworks.set(template, known)
  }
  return known
}

/** Puts a filling into a template. Only fields reach parts: nothing in `values` but a field's key has any effect. */
export function resolve(template: Template, values: Values): Content {
  const fields = new Map(template.fields.map((field) => [field.id, fieldValue(field, values)]))
  const overrides = new Map<string, [string, unknown][]>()
  for (const field of template.fields)
    for (const { part, property } of field.targets) {
      const given = givenBy(field, property, fields.get(field.id)!)
      const known = overrides.get(part)
      if (known) known.push(...given)
      else overrides.set(part, given)
    }
  const language = titleLanguage(template, fields)
  const shown = new Map(
    template.fields.map((field) => [
      field.id,
      {
        text: shownText(field, fields.get(field.id)!, language),
        ...(field.language ? { language: field.language } : {}),
      },
    ]),
  )
  const { parts } = tieOrder(template)
  const ground = groundworkOf(template)
  const looks = [...ground.looks]
  for (const i of ground.reached) {
    const part = parts[i]!
    const look = { ...looks[i] }
    for (const [key, value] of overrides.get(part.id) ?? [])
      look[key] = resolveValue(template, propertyOf(part.kind, key)?.type, value, shown)
    if (part.kind === 'text') look.content = resolveValue(template, 'runs', part.look.content ?? [], shown)
    looks[i] = look
  }
  return { looks, reached: ground.reached, fields, language }
}

/** The language that a row's title is in: a language field that drives no part sets it for all. */
function titleLanguage(template: Template, fields: ReadonlyMap<string, FieldValue>): string {
  const field = template.fields.find(({ type, targets }) => type === 'language' && targets.length === 0)
  return String((field && fields.get(field.id)) || languageOf(template))
}

/** A part's look as designed: defaults filled in, palette looked up. */
function designedLook(template: Template, part: Part): Record<string, unknown> {
  const look = { ...fullLook(part.kind, part.look as never) } as Record<string, unknown>
  for (const [key, value] of Object.entries(look))
    look[key] = resolveValue(template, propertyOf(part.kind, key)?.type, value, new Map())
  return look
}

/** A property's value with palette and the fields' texts put in. */
function resolveValue(
  template: Template,
  type: PropertyType | undefined,
  value: unknown,
  shown: ReadonlyMap<string, { text: string; language?: string }>,
): unknown {
  if (type === 'colour') return colourOf(template, value as Colour)
  if (type === 'fill') return fillOf(template, value as Fill)
  if (type === 'shadows')
    return (value as Shadow[]).map((shadow) => ({ ...shadow, colour: colourOf(template, shadow.colour) }))
  if (type === 'runs')
    return (value as Run[]).map((run) => ({
      ...run,
      ...(run.field ? (shown.get(run.field) ?? { text: '' }) : { text: run.text ?? '' }),
      colour: run.colour && colourOf(template, run.colour),
    }))
  return value
}
