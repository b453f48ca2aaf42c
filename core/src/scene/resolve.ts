import { cached } from '../cache/index.ts'
import {
  type Colour,
  entryOf,
  entryParts,
  type Field,
  type FieldValue,
  type Fill,
  fullStyle,
  givenBy,
  languageFieldOf,
  languageOf,
  type Part,
  type PartKind,
  type PropertyType,
  pageBreak,
  propertyOf,
  type Run,
  runsOf,
  type Shadow,
  type StyleValues,
  shownText,
  type Template,
  tieOrder,
  type Values,
} from '../template/index.ts'

/** A part's properties with a filling put in: defaults filled in, palette looked up, fields' words in the runs. */
type StyleOf<K extends PartKind> = { readonly kind: K } & Readonly<
  Omit<StyleValues<K>, 'content'> & (K extends 'text' ? { content: SpokenRun[] } : unknown)
>
export type PartStyle<K extends PartKind = PartKind> = { [P in PartKind]: StyleOf<P> }[K]

/** A template with one filling: what each part shows, before anything is measured. */
export interface Content {
  /** By part index. */
  readonly styles: readonly PartStyle[]
  /** Indices of parts whose style a field can change. */
  reached: ReadonlySet<number>
  /** The value of each field, defaults put in, by field id. */
  fields: Map<string, FieldValue>
  /** BCP 47 tag of the language of texts that say no other. */
  language: string
}

/** A run with its words put in; those of a field are in the field's language. */
export type SpokenRun = Run & { language?: string | undefined }

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
  const given = values[field.key]
  // Which moment now is, is put in where a title is made; else the default shows what it would look like.
  return given === undefined || (given === 'now' && field.type === 'moment') ? field.default : given
}

/** What does not depend on a filling: styles as designed, and which parts a field reaches. */
interface Groundwork {
  styles: PartStyle[]
  /** Indices of parts whose style a field changes. */
  reached: ReadonlySet<number>
  /** The field that says the language of the whole title, where rows differ: it drives no part. */
  languageField: Field | undefined
  /** Languages of fields that have one of their own, by field id. */
  languages: ReadonlyMap<string, string>
}

const groundworks = new WeakMap<Template, Groundwork>()

function groundworkOf(template: Template): Groundwork {
  return cached(groundworks, template, () => {
    const { parts } = tieOrder(template)
    const targets = new Set(template.fields.flatMap((field) => field.targets.map((target) => target.part)))
    const reached = new Set(
      parts.flatMap((part, i) => (targets.has(part.id) || runsOf(part).some((run) => run.field) ? [i] : [])),
    )
    return {
      styles: parts.map((part) => designedStyle(template, part)),
      reached,
      languageField: languageFieldOf(template),
      languages: new Map(template.fields.flatMap(({ id, language }) => (language ? [[id, language] as const] : []))),
    }
  })
}

/**
 * Which entry of its lists each part shows that goes through them, from 0: those in turn, and those in a strip; -1: the
 * first that says something.
 */
export interface EntryChoice {
  turn: number
  item: number
}
export const firstEntries: EntryChoice = { turn: 0, item: -1 }

/** Puts a filling into a template. Only fields reach parts: nothing in `values` but a field's key has any effect. */
export function resolve(template: Template, values: Values, chosen: EntryChoice = firstEntries): Content {
  const fields = new Map(template.fields.map((field) => [field.id, fieldValue(field, values)]))
  const overrides = new Map<string, [string, unknown][]>()
  for (const field of template.fields)
    for (const { part, property } of field.targets) {
      const given = givenBy(field, property, fields.get(field.id)!)
      const known = overrides.get(part)
      if (known) known.push(...given)
      else overrides.set(part, given)
    }
  const ground = groundworkOf(template)
  const language = String((ground.languageField && fields.get(ground.languageField.id)) || languageOf(template))
  const texts = new Map(template.fields.map((field) => [field.id, shownText(field, fields.get(field.id)!, language)]))
  const said: Said = { texts, languages: ground.languages }
  const stepping = steppingIn(template, fields, said, language, chosen)
  const { parts } = tieOrder(template)
  const styles = [...ground.styles]
  for (const i of ground.reached) {
    const part = parts[i]!
    const style: Record<string, unknown> = { ...styles[i] }
    for (const [key, value] of overrides.get(part.id) ?? [])
      style[key] = resolveValue(template, propertyOf(part.kind, key)?.type, value, said)
    if (part.kind === 'text')
      style.content = resolveValue(template, 'runs', part.style.content ?? [], stepping.get(i) ?? said)
    styles[i] = style as unknown as PartStyle
  }
  return { styles, reached: ground.reached, fields, language }
}

/** What fields say in a filling, and in which languages, by their ids. */
interface Said {
  texts: ReadonlyMap<string, string>
  languages: ReadonlyMap<string, string>
}
/** What fields say in the parts that go through lists: one entry of each. */
function steppingIn(
  template: Template,
  values: ReadonlyMap<string, FieldValue>,
  said: Said,
  language: string,
  { turn, item }: EntryChoice,
): ReadonlyMap<number, Said> {
  const stepping = new Map<number, Said>()
  for (const { way, holds, lists } of entryParts(template)) {
    if (lists.size === 0) continue
    const texts = new Map(said.texts)
    const own = template.fields.filter(({ id }) => lists.has(id))
    const at = way === 'turn' ? turn : item < 0 ? firstSaid(own, values) : item
    for (const field of own) texts.set(field.id, shownText(field, entryOf(field, values.get(field.id)!, at), language))
    for (const i of holds) stepping.set(i, { ...said, texts })
  }
  return stepping
}
/** The first entry of which some list says something. */
function firstSaid(lists: readonly Field[], values: ReadonlyMap<string, FieldValue>): number {
  const firsts = lists.map((field) =>
    ((values.get(field.id) as string[] | undefined) ?? []).findIndex((one) => one !== '' && one !== pageBreak),
  )
  return Math.max(0, Math.min(...firsts.map((at) => (at < 0 ? Number.POSITIVE_INFINITY : at)), 1e9) % 1e9)
}
const nothingSaid: Said = { texts: new Map(), languages: new Map() }

/** A part's style as designed: defaults filled in, palette looked up. */
function designedStyle(template: Template, part: Part): PartStyle {
  const style: Record<string, unknown> = { kind: part.kind, ...fullStyle(part.kind, part.style as never) }
  for (const [key, value] of Object.entries(style))
    style[key] = resolveValue(template, propertyOf(part.kind, key)?.type, value, nothingSaid)
  return style as unknown as PartStyle
}

/** The style of a part of a kind that is known. */
export function styleOf<K extends PartKind>(content: Content, index: number, ...kinds: readonly K[]): PartStyle<K> {
  const style = content.styles[index]!
  if (!(kinds as readonly PartKind[]).includes(style.kind)) throw new Error(`part ${index} is a ${style.kind}`)
  return style as PartStyle<K>
}

/** A property's value with palette and the fields' texts put in. */
function resolveValue(template: Template, type: PropertyType | undefined, value: unknown, said: Said): unknown {
  if (type === 'colour') return colourOf(template, value as Colour)
  if (type === 'fill') return fillOf(template, value as Fill)
  if (type === 'shadows')
    return (value as Shadow[]).map((shadow) => ({ ...shadow, colour: colourOf(template, shadow.colour) }))
  if (type === 'runs')
    return (value as Run[]).map(
      // Key by key, so that all are of one shape: this runs for every text of every row.
      (run): SpokenRun => ({
        text: run.field ? (said.texts.get(run.field) ?? '') : (run.text ?? ''),
        field: run.field,
        font: run.font,
        size: run.size,
        colour: run.colour && colourOf(template, run.colour),
        tracking: run.tracking,
        features: run.features,
        weight: run.weight,
        stretch: run.stretch,
        axes: run.axes,
        language: run.field ? said.languages.get(run.field) : undefined,
      }),
    )
  return value
}
