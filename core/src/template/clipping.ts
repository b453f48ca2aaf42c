import { demand } from '../refusal/index.ts'
import { type Referred, withReferences } from '../schema/index.ts'
import { freeId, kindNames, newPart, newTemplate } from './create.ts'
import { described } from './description.ts'
import { drivenBy } from './drivers.ts'
import type { Change } from './edits.ts'
import { withinSpans } from './keyframes.ts'
import { namedByField, namedByPart } from './naming.ts'
import { type PartKind, propertiesOf, propertyOf } from './properties.ts'
import { readTemplate } from './reading.ts'
import type { Axis, Field, Part, PartId, SavedStyle, Target, Template } from './types.ts'
import { allParts, findPart, placeOf } from './walk.ts'

/** Parts taken along with all they use, so that another template can have them. */
export interface Clipping {
  hoja: 'parts'
  parts: Part[]
  palette: Template['palette']
  fonts: Template['fonts']
  media: Template['media']
  fields: Field[]
}

/** The outermost of some parts, in painting order: a part inside a chosen group goes with it. */
export function outermost(template: Template, ids: readonly PartId[]): Part[] {
  const chosen = new Set(ids)
  const visit = (parts: readonly Part[]): Part[] =>
    parts.flatMap((part) => (chosen.has(part.id) ? [part] : part.parts ? visit(part.parts) : []))
  return visit(template.parts)
}

/** Takes parts along with the fields, colours, fonts and pictures that they use. */
export function clip(template: Template, ids: readonly PartId[]): Clipping {
  const parts = outermost(template, ids)
  const all = allParts(parts)
  const partIds = new Set(all.map((part) => part.id))
  const inParts = all.flatMap(namedByPart)
  const inTexts = new Set(inParts.flatMap(({ to, id }) => (to === 'field' ? [id] : [])))
  const fields = template.fields.filter(
    (field) => inTexts.has(field.id) || drivenBy(template, field).some((target) => partIds.has(target.part)),
  )
  const found = [...inParts, ...fields.flatMap(namedByField)]
  const named = (to: Referred) => new Set(found.flatMap((one) => (one.to === to ? [one.id] : [])))
  const [colours, fonts, pictures] = [named('colour'), named('font'), named('picture')]
  const first = template.fonts[0]
  if (first && all.some((part) => part.kind === 'text' && !part.style.font)) fonts.add(first.id)
  return {
    hoja: 'parts',
    parts,
    // What they are worked out from may not come along: they come as they are.
    palette: template.palette.flatMap(({ from: _, ...entry }) => (colours.has(entry.id) ? [entry] : [])),
    fonts: template.fonts.filter((font) => fonts.has(font.id)),
    media: template.media.filter((media) => pictures.has(media.name)),
    fields: fields.map((field) => driving(field, (part) => (partIds.has(part) ? part : undefined))),
  }
}

type IdOf = (id: PartId) => PartId | undefined

/** A field that drives other parts: what it drove of each part, it drives of the one that `become` says. */
function driving(field: Field, become: IdOf, idOf: IdOf = (id) => id): Field {
  return withReferences(described.field, field, (to, id, as) => {
    if (to !== 'part') return id
    return as === 'driven' || as === 'set' ? become(id) : idOf(id)
  })
}

/** A part with other ids: what it refers to becomes what `idOf` says, and is let go where that says nothing. */
function rewired(part: Part, idOf: IdOf): Part {
  const renamed = ({ parts, ...one }: Part): Part =>
    ({ ...one, id: idOf(one.id)!, ...(parts ? { parts: parts.map(renamed) } : {}) }) as Part
  return renamed(withReferences(described.part, part, (to, id) => (to === 'part' ? idOf(id) : id)))
}

/** New ids for parts where theirs are taken. */
function freshIds(taken: readonly string[], parts: readonly Part[]): Map<PartId, PartId> {
  const used = new Set(taken)
  const ids = new Map<PartId, PartId>()
  for (const { id } of allParts(parts)) {
    const fresh = used.has(id) ? freeId(used, id.replace(/\d+$/, '') || 'part') : id
    used.add(fresh)
    ids.set(id, fresh)
  }
  return ids
}

const idsOf = (template: Template) => allParts(template.parts).map((part) => part.id)

/** Copies of parts above the originals: the same size, style, ties and motion, tied among themselves as the originals are. */
export function duplicate(template: Template, ids: readonly PartId[]): { change: Change; ids: PartId[] } {
  const parts = outermost(template, ids)
  const fresh = freshIds(idsOf(template), parts)
  const idOf = (id: PartId) => fresh.get(id) ?? id
  const changes = parts.map((part): Change => {
    const place = placeOf(template.parts, part.id)!
    const parent = allParts(template.parts).find((other) => other.parts === place.list)
    return {
      kind: 'addPart',
      part: { ...rewired(part, idOf), name: freeName(template, part.name) },
      ...(parent ? { into: parent.id } : {}),
    }
  })
  for (const field of template.fields)
    if (drivenBy(template, field).some(({ part, property }) => property !== 'content' && fresh.has(part)))
      changes.push({ kind: 'field', field: withCopies(field, fresh, idOf) })
  return { change: { kind: 'several', changes }, ids: parts.map((part) => fresh.get(part.id)!) }
}

/** A field that drives copies of parts besides the originals. */
function withCopies(field: Field, fresh: ReadonlyMap<PartId, PartId>, idOf: (id: PartId) => PartId): Field {
  const copies = driving(field, (part) => fresh.get(part), idOf)
  return {
    ...field,
    targets: [...field.targets, ...copies.targets],
    ...(field.options
      ? {
          options: field.options.map((option, i) => ({
            ...option,
            sets: [...option.sets, ...copies.options![i]!.sets],
          })),
        }
      : {}),
  }
}

function freeName(template: Template, name: string): string {
  const names = new Set(allParts(template.parts).map((part) => part.name))
  const bare = name.replace(/ \d+$/, '')
  for (let n = 2; ; n++) if (!names.has(`${bare} ${n}`)) return `${bare} ${n}`
}

/** Reads what was copied; undefined when it is something else. */
export function readClipping(text: string): Clipping | undefined {
  try {
    const value = JSON.parse(text) as Clipping
    return value?.hoja === 'parts' && Array.isArray(value.parts) ? value : undefined
  } catch {
    return undefined
  }
}

/**
 * Puts a clipping into a template. Colours, fonts, pictures and fields that are there already (by name, file or key) are
 * used; the rest comes along. Ties to parts that were not copied are let go.
 * @throws Refusal for an empty clipping
 */
export function paste(template: Template, clipping: Clipping): { change: Change; ids: PartId[] } {
  demand(clipping.parts.length > 0, 'paste.none', 'No parts were copied; choose some in Draft and copy them.')
  const fresh = freshIds(idsOf(template), clipping.parts)
  const own = new Set(allParts(clipping.parts).map((part) => part.id))
  // Within the same template, ties to what stayed behind still hold.
  const idOf = (id: PartId) => fresh.get(id) ?? (own.has(id) ? undefined : findPart(template, id)?.id)

  const { fields, fonts, changes: brought, known } = broughtAlong(template, clipping)
  const timed = (part: Part): Part =>
    ({
      ...part,
      motion: withinSpans(part.motion, template.spans),
      ...(part.parts ? { parts: part.parts.map(timed) } : {}),
    }) as Part
  const dressed = (part: Part): Part => timed(withReferences(described.part, part, known))
  const renewed = (field: Field): Field => {
    const own = withReferences(
      described.field,
      driving(field, (part) => fresh.get(part), idOf),
      known,
    )
    const allowed = own.fonts?.filter((id) => fonts.list.some((font) => font.id === id))
    return allowed ? { ...own, fonts: allowed } : own
  }
  const mergedFields = fields.list.map((field) => {
    const source = clipping.fields.find((other) => fields.idOf.get(other.id) === field.id)
    const standing = template.fields.some((other) => other.id === field.id)
    if (!source) return field
    const own = renewed(source)
    // A field of the same key that is here already goes on as it is, and drives what came besides.
    if (standing) return { ...field, targets: [...field.targets, ...own.targets] }
    return { ...own, id: field.id, section: undefined }
  })
  const changes: Change[] = [
    ...brought,
    ...mergedFields
      .filter((field) => !template.fields.some((other) => other.id === field.id))
      .map((field): Change => ({ kind: 'field', field: bare(undriven(field)) })),
    ...clipping.parts.map((part): Change => ({ kind: 'addPart', part: rewired(dressed(part), idOf) })),
    ...mergedFields.map((field): Change => ({ kind: 'field', field: bare(field) })),
  ]
  return { change: { kind: 'several', changes }, ids: clipping.parts.map((part) => fresh.get(part.id)!) }
}

/**
 * What a clipping uses, in a template: colours, fonts, pictures and fields that are there already go by the ids they have,
 * the rest comes along.
 */
function broughtAlong(template: Template, clipping: Clipping) {
  const palette = merged(
    template.palette,
    clipping.palette,
    (a, b) => a.name === b.name && a.colour === b.colour,
    'colour',
  )
  const fonts = merged(template.fonts, clipping.fonts, (a, b) => a.sha256 === b.sha256, 'font')
  const media = merged(template.media, clipping.media, (a, b) => a.name === b.name, 'picture')
  const fields = merged(template.fields, clipping.fields, (a, b) => a.key === b.key && a.type === b.type, 'field')
  const lists = { colour: palette, font: fonts, field: fields }
  const changes: Change[] = [
    { kind: 'palette', palette: palette.list },
    { kind: 'fonts', fonts: fonts.list, fallbacks: template.fallbacks },
    { kind: 'media', media: media.list },
  ]
  return {
    fields,
    fonts,
    changes,
    /** What something that is referred to is called here. */
    known: (to: Referred, id: string): string =>
      (to === 'colour' || to === 'font' || to === 'field' ? lists[to].idOf.get(id) : undefined) ?? id,
  }
}

/** Properties that say what a part shows, or where it stands: they stay with it when its style goes to others. */
const staying = new Set([
  'visible',
  'matteOnly',
  'shiftX',
  'shiftY',
  'content',
  'along',
  'outlines',
  'values',
  'picture',
])

/** The lines of a style that others can take: properties of its kind, with what they are called. */
export const styleLines = (kind: PartKind): [key: string, label: string][] =>
  propertiesOf(kind).flatMap(([key, { label }]) => (staying.has(key) ? [] : [[key, label]]))

/** A part's style under a name. */
export const savedStyle = (part: Part, name: string): SavedStyle =>
  ({
    name,
    kind: part.kind,
    style: Object.fromEntries(Object.entries(part.style).filter(([key]) => !staying.has(key))),
  }) as SavedStyle

/** A style with all it uses, so that any template can have it: a clipping of one part that shows nothing. */
export function clipStyle(template: Template, { name, kind, style }: SavedStyle): Clipping {
  const part = { ...newPart(kind, 'style', name), style } as Part
  const { parts, palette, media } = clip({ ...template, parts: [part], fields: [] }, [part.id])
  // A text that names no font goes on with that of whoever takes the style.
  const fonts =
    kind === 'text' && !style.font ? [] : template.fonts.filter(({ id }) => 'font' in style && id === style.font)
  return { hoja: 'parts', parts, palette, fonts, media, fields: [] }
}

/** A style on the shelf: a clipping of one part, under a name. */
export interface ShelfStyle {
  id: string
  name: string
  clipping: Clipping
}

/** Reads a style that came from outside: what it holds must be what a template may hold. @throws Refusal in one sentence */
export function readShelfStyle(value: unknown): Omit<ShelfStyle, 'id'> {
  const { name, clipping } = (value ?? {}) as Partial<ShelfStyle>
  const named = typeof name === 'string' ? name.trim() : ''
  demand(named.length > 0 && named.length <= 80, 'style.shape', 'A style needs a name of 1 to 80 letters; give it one.')
  const isOne = clipping?.hoja === 'parts' && Array.isArray(clipping.parts) && clipping.parts.length === 1
  demand(isOne, 'style.shape', `The style "${named}" is no copied part; save it again.`)
  const { parts, palette, fonts, media } = clipping!
  const read = readTemplate({ ...newTemplate('style', named), parts, palette, fonts, media })
  return { name: named, clipping: { hoja: 'parts', ...pick(read), fields: [] } }
}

const pick = ({ parts, palette, fonts, media }: Template) => ({ parts, palette, fonts, media })

/**
 * Gives parts the style of a clipping's first part, as far as their kinds have the same properties; what the style leaves
 * at its default becomes that.
 * Only the colours, fonts and pictures that are taken come along.
 * @param lines which of its properties; absent: all
 * @throws Refusal for an empty clipping, and for a part that has none of them
 */
export function pasteStyle(
  template: Template,
  clipping: Clipping,
  ids: readonly PartId[],
  lines?: readonly string[],
): Change {
  const [copied] = clipping.parts
  demand(copied, 'paste.none', 'No style was copied; choose a part in Draft and copy it.')
  const wanted = styleLines(copied.kind).filter(([key]) => !lines || lines.includes(key))
  const { name, kind } = copied
  const all = copied.style as Record<string, unknown>
  const own = Object.fromEntries(wanted.flatMap(([key]) => (all[key] === undefined ? [] : [[key, all[key]]])))
  // Only what these lines use comes along.
  const used = clipStyle({ ...newTemplate('style', name), ...clipping }, { name, kind, style: own } as SavedStyle)
  const { changes, known } = broughtAlong(template, used)
  const style = withReferences(described.part, used.parts[0]!, known).style as Record<string, unknown>
  const put = ids.flatMap((id) => {
    const part = findPart(template, id)
    return wanted.flatMap(([key]): Change[] => {
      const there = part && propertyOf(part.kind, key)
      if (!there || there.type !== propertyOf(copied.kind, key)!.type) return []
      return [{ kind: 'style', part: id, key, value: style[key] }]
    })
  })
  demand(
    put.length > 0,
    'paste.style',
    `The style of a ${kindNames[copied.kind]} has nothing that the chosen parts have; choose parts that are alike.`,
  )
  return { kind: 'several', changes: [...changes, ...put] }
}

/** A field before the parts that it drives are there. */
function undriven(field: Field & { section?: string | undefined }): typeof field {
  return {
    ...field,
    targets: [],
    ...(field.options ? { options: field.options.map((option) => ({ ...option, sets: [] })) } : {}),
  }
}

/** Without a section that is undefined. */
function bare({ section, ...field }: Field & { section?: string | undefined }): Field {
  return section === undefined ? field : { ...field, section }
}

/** Two lists as one: an entry that is there already is used under its id there; another gets an id of its own. */
function merged<T extends { id: string }>(
  there: readonly T[],
  coming: readonly T[],
  same: (a: T, b: T) => boolean,
  prefix: string,
): { list: T[]; idOf: Map<string, string> } {
  const list = [...there]
  const idOf = new Map<string, string>()
  for (const entry of coming) {
    const known = list.find((other) => same(other, entry))
    const id =
      known?.id ??
      (list.some((other) => other.id === entry.id)
        ? freeId(
            list.map((e) => e.id),
            prefix,
          )
        : entry.id)
    idOf.set(entry.id, id)
    if (!known) list.push({ ...entry, id })
  }
  return { list, idOf }
}

/** Puts parts into a new group where the uppermost of them was; nothing moves. @throws Refusal */
export function group(template: Template, ids: readonly PartId[]): { change: Change; id: PartId } {
  const parts = outermost(template, ids)
  demand(parts.length > 0, 'group.none', 'Choose the parts to group first.')
  const top = placeOf(template.parts, parts[parts.length - 1]!.id)!
  const parent = allParts(template.parts).find((part) => part.parts === top.list)
  demand(
    !parts.some((part) => parent && allParts([part]).some((inner) => inner.id === parent.id)),
    'group.inside',
    'A group cannot go into itself.',
  )
  const id = freeId(idsOf(template), 'group')
  const before = top.list.slice(0, top.index).filter((part) => !parts.includes(part)).length
  const content: Axis = { ties: [], place: 0, size: { kind: 'content' } }
  const fresh: Part = {
    id,
    name: freeName({ ...template }, 'Group'),
    kind: 'group',
    x: content,
    y: content,
    style: {},
    motion: { anchor: { x: 0.5, y: 0.5 }, tracks: {}, out: 'mirror' },
    parts: [],
  }
  const into = parent ? { into: parent.id } : {}
  return {
    id,
    change: {
      kind: 'several',
      changes: [
        { kind: 'addPart', part: fresh, ...into },
        ...parts.map((part, index): Change => ({ kind: 'reorder', part: part.id, into: id, index })),
        { kind: 'reorder', part: id, ...into, index: before },
      ],
    },
  }
}

/** Takes a group's parts out of it, to where it stood. What was tied to the group is tied to its parts. */
export function ungroup(template: Template, id: PartId): { change: Change; ids: PartId[] } {
  const whole = findPart(template, id)
  demand(whole?.parts, 'group.none', 'Choose a group to take apart.')
  const inside = whole.parts
  const place = placeOf(template.parts, id)!
  const parent = allParts(template.parts).find((part) => part.parts === place.list)
  const retied = (target: Target): Target =>
    'parts' in target && target.parts.includes(id)
      ? {
          parts: [
            ...new Set(target.parts.flatMap((other) => (other === id ? inside.map((part) => part.id) : [other]))),
          ],
        }
      : target
  const axisOf = (axis: Axis): Axis => ({
    ...axis,
    ties: axis.ties.map((tie) => ({ ...tie, to: retied(tie.to) })),
    ...(axis.size.kind === 'share' ? { size: { ...axis.size, of: retied(axis.size.of) } } : {}),
  })
  const changes: Change[] = [
    ...inside.map(
      (part, n): Change => ({
        kind: 'reorder',
        part: part.id,
        ...(parent ? { into: parent.id } : {}),
        index: place.index + n,
      }),
    ),
    ...allParts(template.parts)
      .filter((part) => part.id !== id && inside.length > 0)
      .flatMap((part): Change[] =>
        (['x', 'y'] as const).flatMap((axis): Change[] => {
          const value = axisOf(part[axis])
          return JSON.stringify(value) === JSON.stringify(part[axis])
            ? []
            : [{ kind: 'axis', part: part.id, axis, value }]
        }),
      ),
    { kind: 'removePart', part: id },
  ]
  return { change: { kind: 'several', changes }, ids: inside.map((part) => part.id) }
}
