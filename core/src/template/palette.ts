import { cached } from '../cache/index.ts'
import { contrastRatio, darker, lighter } from '../colour/index.ts'
import { palettePrefix } from '../schema/index.ts'
import { namedByPart } from './naming.ts'
import type { Derived, Field, PaletteColour, Part, Template, Values } from './types.ts'
import type { Colour } from './values.ts'
import { allParts } from './walk.ts'

/** The id of the palette's colour that is named; undefined for a colour of its own. */
const idIn = (colour: Colour): string | undefined =>
  colour.startsWith(palettePrefix) ? colour.slice(palettePrefix.length) : undefined

/** The palette's colours that one is worked out from. */
export function sourcesOf(from: Derived): string[] {
  const named = from.as === 'readable' ? [from.on, from.one, from.other] : [from.of]
  return named.map((colour) => colour.slice(palettePrefix.length))
}

/** Of two colours the one that stands out more from a ground, by contrast as WCAG 2.2 counts it; where both do, the first. */
const readable = (on: string, one: string, other: string) =>
  contrastRatio(other, on) > contrastRatio(one, on) ? other : one

/**
 * A palette with some of its colours given, and those that are worked out from others worked out anew. Opacity of the
 * source stays.
 * @param given by id: `#rrggbb`, `#rrggbbaa`, or another colour of the palette, as it is before anything is given
 */
export function paletteWith(palette: readonly PaletteColour[], given: ReadonlyMap<string, Colour>): PaletteColour[] {
  const entries = new Map(palette.map((entry) => [entry.id, entry]))
  const plain = (colour: Colour) => {
    const id = idIn(colour)
    return id === undefined ? colour : (entries.get(id)?.colour ?? '#000000')
  }
  const known = new Map<string, string>()
  const colourOf = (id: string): string => {
    const entry = entries.get(id)
    if (!entry) return '#000000'
    const was = known.get(id)
    if (was !== undefined) return was
    // A ring, which no document has, ends at the colour that stands there.
    known.set(id, entry.colour)
    const own = given.get(id)
    const colour = own !== undefined ? plain(own) : entry.from ? derived(entry.from) : entry.colour
    known.set(id, colour)
    return colour
  }
  const derived = (from: Derived): string => {
    const [first, one, other] = sourcesOf(from).map(colourOf) as [string, string, string]
    if (from.as === 'readable') return readable(first, one, other)
    return from.as === 'lighter' ? lighter(first, from.by) : darker(first, from.by)
  }
  return palette.map((entry) => {
    const colour = colourOf(entry.id)
    return colour === entry.colour ? entry : { ...entry, colour }
  })
}

const isColour = ({ palette }: Template, value: unknown): value is Colour =>
  typeof value === 'string' &&
  (/^#[0-9a-f]{6}([0-9a-f]{2})?$/i.test(value) || palette.some(({ id }) => value === `${palettePrefix}${id}`))

/** What a filling gives the palette: by its choices' options first, by its colours then. */
export function paintedIn(template: Template, values: Values): Map<string, Colour> {
  const given = new Map<string, Colour>()
  for (const field of painters(template)) {
    const value = values[field.key] ?? field.default
    for (const { of, to } of field.options?.find((option) => option.value === value)?.colours ?? [])
      given.set(of.slice(palettePrefix.length), to)
  }
  for (const field of painters(template)) {
    const value = values[field.key] ?? field.default
    for (const colour of field.paints ?? []) {
      const id = colour.slice(palettePrefix.length)
      // Its own name is what it is by itself; what is no colour is told of the row, and paints nothing.
      if (value !== colour && isColour(template, value)) given.set(id, value)
    }
  }
  return given
}

const painting = new WeakMap<Field[], Field[]>()

/** The fields that give colours of the palette. */
export const painters = ({ fields }: Pick<Template, 'fields'>): Field[] =>
  cached(painting, fields, () =>
    fields.filter((field) => field.paints?.length || field.options?.some(({ colours }) => colours !== undefined)),
  )

/** The palette's colours that a field changes, those worked out from them too. */
export function paintedBy({ palette }: Pick<Template, 'palette'>, field: Field): Set<string> {
  const painted = new Set(
    [
      ...(field.paints ?? []),
      ...(field.options ?? []).flatMap(({ colours }) => (colours ?? []).map(({ of }) => of)),
    ].map((colour) => colour.slice(palettePrefix.length)),
  )
  for (let before = -1; before !== painted.size; ) {
    before = painted.size
    for (const { id, from } of palette)
      if (from && sourcesOf(from).some((source) => painted.has(source))) painted.add(id)
  }
  return painted
}

/** Where a part names colours: properties of its style, or its `motion`. */
function colouredIn(part: Part, colours: ReadonlySet<string>): string[] {
  const named = namedByPart(part).filter(({ to, id }) => to === 'colour' && colours.has(id))
  return [...new Set(named.map(({ path }) => String(path[0] === 'style' ? path[1] : path[0])))]
}

const coloured = new WeakMap<Template, Map<Field, { part: string; property: string }[]>>()

/** The properties that a field changes by what it gives the palette. */
export function colouredBy(template: Template, field: Field): { part: string; property: string }[] {
  const colours = paintedBy(template, field)
  if (colours.size === 0) return []
  const known = cached(coloured, template, () => new Map())
  return cached(known, field, () => colouredWith(template, colours))
}

function colouredWith(template: Template, colours: ReadonlySet<string>): { part: string; property: string }[] {
  return allParts(template.parts).flatMap((part) =>
    colouredIn(part, colours).map((property) => ({ part: part.id, property })),
  )
}
