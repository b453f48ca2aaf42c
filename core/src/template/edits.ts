import { type Draft, produce } from 'immer'
import { demand, Refusal } from '../refusal/index.ts'
import { faultIn } from '../schema/index.ts'
import { described } from './description.ts'
import { withinSpans } from './keyframes.ts'
import { checkMeaning } from './meaning.ts'
import { withoutNaming } from './naming.ts'
import { paletteWith } from './palette.ts'
import { propertyOf } from './properties.ts'
import { refusalOf } from './reading.ts'
import { checkReferences, checkRings } from './references.ts'
import { refuseValue } from './refusing.ts'
import { demandShape, setsSame } from './shapes.ts'
import { shownText } from './shown.ts'
import type {
  Axis,
  AxisName,
  Comment,
  Field,
  Frame,
  Guide,
  Matte,
  Motion,
  Part,
  PartId,
  Proof,
  Room,
  SavedStyle,
  Setting,
  Shape,
  ShapeId,
  Spans,
  Template,
  Track,
  Update,
} from './types.ts'
import type { FieldValue } from './values.ts'
import { isOfPart } from './variants.ts'
import { allParts, findPart, placeOf } from './walk.ts'

/**
 * Everything a designer can do to a template, as values. `edit` is pure and shares what did not change, so undo is a list
 * of templates and a saved draft is one of them.
 */
export type Change =
  | { kind: 'info'; name?: string; note?: string; language?: string }
  | { kind: 'frame'; frame: Frame }
  | { kind: 'shapes'; shapes: Shape[] }
  /** A property of a part, an axis, its motion or its room, as one of the other shapes has it; without a value, as the first. */
  | { kind: 'differ'; shape: ShapeId; part: PartId; property: string; value?: unknown }
  | { kind: 'spans'; spans: Spans }
  | { kind: 'palette'; palette: Template['palette'] }
  | { kind: 'guides'; guides: Guide[] }
  | { kind: 'styles'; styles: SavedStyle[] }
  | { kind: 'addPart'; part: Part; into?: PartId; index?: number }
  | { kind: 'removePart'; part: PartId }
  | { kind: 'reorder'; part: PartId; into?: PartId; index: number }
  /** Another part in the place of the one with its id: a box turned into a path. */
  | { kind: 'replacePart'; part: Part }
  | { kind: 'renamePart'; part: PartId; name: string }
  | { kind: 'lock'; part: PartId; locked: boolean }
  /** `why`: it may stay unseen; absent: it may not. */
  | { kind: 'unseen'; part: PartId; why: string | undefined }
  | { kind: 'style'; part: PartId; key: string; value: unknown }
  | { kind: 'axis'; part: PartId; axis: AxisName; value: Axis }
  | { kind: 'room'; part: PartId; room: Room }
  | { kind: 'motion'; part: PartId; motion: Motion }
  | { kind: 'matte'; part: PartId; matte: Matte | undefined }
  | { kind: 'field'; field: Field; index?: number }
  | { kind: 'removeField'; field: string }
  | { kind: 'orderFields'; ids: string[] }
  | { kind: 'sections'; sections: Template['sections'] }
  | { kind: 'comments'; comments: Comment[] }
  | { kind: 'tags'; tags: string[] }
  | { kind: 'sounds'; sounds: Template['sounds'] }
  | { kind: 'proofs'; proofs: Proof[] }
  | { kind: 'poster'; poster: Template['poster'] }
  | { kind: 'fonts'; fonts: Template['fonts']; fallbacks: Template['fallbacks'] }
  | { kind: 'media'; media: Template['media'] }
  | { kind: 'update'; update: Update }
  | { kind: 'levels'; levels: NonNullable<Template['levels']> }
  | { kind: 'several'; changes: Change[] }

/**
 * @throws Refusal when the change cannot be: a part that is gone, a value out of range, a ring of ties, whatever the server
 * would refuse. Only what the change touched is looked at for its shape.
 */
export function edit(template: Template, change: Change): Template {
  const next = applied(template, change)
  const fault = faultIn(described.document, next, template)
  if (fault) throw new Refusal('edit.shape', refusalOf(next, fault, 'That cannot be: '))
  const isTouched = isLocal(change) ? otherThan(template) : undefined
  checkReferences(next, isTouched)
  checkRings(next)
  checkMeaning(next, isTouched)
  return next
}

/** Changes of single parts that take nothing away from what others name, and move nothing into or out of a group. */
const local: ReadonlySet<Change['kind']> = new Set([
  ...(['style', 'axis', 'room', 'motion', 'matte', 'renamePart', 'lock', 'unseen', 'differ'] as const),
])
const isLocal = (change: Change): boolean =>
  change.kind === 'several' ? change.changes.every(isLocal) : local.has(change.kind)

/** The parts that a template does not have as they are. */
function otherThan(template: Template): (part: Part) => boolean {
  const known = new Set(allParts(template.parts))
  return (part) => !known.has(part)
}

/** A change that touches one place of the document. */
type Simple = Exclude<Change, { kind: 'several' | 'removePart' | 'removeField' }>

/** The change made, whatever comes of it. */
export function applied(template: Template, change: Change): Template {
  switch (change.kind) {
    case 'several':
      return severalApplied(template, change.changes)
    case 'removePart':
      return withoutParts(template, [change.part])
    case 'removeField':
      return withoutField(template, change.field)
    default:
      return produce(template, (draft) => apply(draft, change))
  }
}

/** One after another; parts that are removed in a row go in one step, since each has to be looked for everywhere. */
function severalApplied(template: Template, changes: readonly Change[]): Template {
  let next = template
  for (let i = 0; i < changes.length; ) {
    const ids: PartId[] = []
    for (let one = changes[i]; one?.kind === 'removePart'; one = changes[++i]) ids.push(one.part)
    next = ids.length > 0 ? withoutParts(next, ids) : applied(next, changes[i++]!)
  }
  return next
}

const gone = (id: string) => `There is no part "${id}" any more; undo, or choose another.`

/** Without some parts and, with them, every tie, matte, ride and field target that named them. */
function withoutParts(template: Template, ids: readonly PartId[]): Template {
  const removed = new Set<PartId>()
  for (const id of ids) {
    const part = findPart(template, id)
    demand(part && !removed.has(id), 'edit.part', gone(id))
    for (const inner of allParts([part])) removed.add(inner.id)
  }
  const left = (parts: readonly Part[]): Part[] =>
    parts
      .filter((part) => !removed.has(part.id))
      .map((part) =>
        part.parts?.some((inner) => allParts([inner]).some(({ id }) => removed.has(id)))
          ? ({ ...part, parts: left(part.parts) } as Part)
          : part,
      )
  return withoutNaming({ ...template, parts: left(template.parts) }, removed)
}

/** What is no change that Hoja knows, whoever sent it. */
function refuseUnknown(change: never): never {
  throw new Refusal('edit.kind', `There is no change "${(change as { kind: unknown }).kind}"; undo, or try another.`)
}

function apply(template: Draft<Template>, change: Simple): void {
  const partOf = (id: PartId): Draft<Part> => {
    const part = findPart(template as Template, id)
    demand(part, 'edit.part', gone(id))
    return part as Draft<Part>
  }
  switch (change.kind) {
    case 'info':
      if (change.name !== undefined) template.name = change.name
      if (change.note !== undefined) template.note = change.note
      if (change.language) template.language = change.language
      else if (change.language === '') delete template.language
      return
    case 'addPart': {
      demand(
        !findPart(template as Template, change.part.id),
        'edit.id',
        `A part with the id "${change.part.id}" is already there.`,
      )
      const list = change.into ? partOf(change.into).parts : template.parts
      demand(list, 'edit.group', `"${change.into}" is not a group and cannot hold parts.`)
      list.splice(change.index ?? list.length, 0, change.part as Draft<Part>)
      return
    }
    case 'reorder': {
      const from = placeOf(template.parts as Part[], change.part)
      demand(from, 'edit.part', gone(change.part))
      const [part] = from.list.splice(from.index, 1)
      const into = change.into ? partOf(change.into).parts : template.parts
      demand(into, 'edit.group', `"${change.into}" is not a group and cannot hold parts.`)
      into.splice(change.index, 0, part as Draft<Part>)
      return
    }
    case 'replacePart': {
      const place = placeOf(template.parts as Part[], change.part.id)
      demand(place, 'edit.part', gone(change.part.id))
      place.list[place.index] = change.part
      tidyShapes(template)
      return
    }
    case 'lock':
      if (change.locked) partOf(change.part).locked = true
      else delete partOf(change.part).locked
      return
    case 'unseen':
      if (change.why) partOf(change.part).unseen = change.why
      else delete partOf(change.part).unseen
      return
    case 'renamePart':
      partOf(change.part).name = change.name
      return
    case 'style': {
      const part = partOf(change.part)
      const sentence = change.value === undefined ? undefined : refuseValue(part.kind, change.key, change.value)
      demand(!sentence, 'edit.value', `Part "${part.name}": ${sentence}.`)
      const style = part.style as Record<string, unknown>
      if (change.value === undefined) delete style[change.key]
      else style[change.key] = change.value
      return
    }
    case 'axis':
      partOf(change.part)[change.axis] = change.value as Draft<Axis>
      return
    case 'room':
      partOf(change.part).room = change.room as Draft<Room>
      return
    case 'motion':
      partOf(change.part).motion = change.motion as Draft<Motion>
      return
    case 'matte': {
      const part = partOf(change.part)
      if (change.matte) part.matte = change.matte
      else delete part.matte
      return
    }
    case 'field': {
      const clash = template.fields.find((f) => f.key === change.field.key && f.id !== change.field.id)
      demand(
        !clash,
        'edit.key',
        `The key "${change.field.key}" is taken by the field "${clash?.name}"; choose another.`,
      )
      const at = template.fields.findIndex((f) => f.id === change.field.id)
      if (at >= 0) {
        const was = template.fields[at]!.key
        if (was !== change.field.key)
          for (const { values } of [...template.proofs, template.poster])
            if (was in values) {
              values[change.field.key] = values[was]!
              delete values[was]
            }
        renameOptions(template, template.fields[at]!, change.field)
        template.fields[at] = change.field
      } else template.fields.splice(change.index ?? template.fields.length, 0, change.field)
      tidyShapes(template)
      return
    }
    case 'orderFields':
      template.fields.sort((a, b) => change.ids.indexOf(a.id) - change.ids.indexOf(b.id))
      return
    case 'fonts':
      template.fonts = change.fonts
      template.fallbacks = change.fallbacks
      return
    case 'frame':
      template.frame = change.frame
      return
    case 'shapes':
      setShapes(template, change.shapes)
      return
    case 'differ': {
      const shape = demandShape(template as Template, change.shape) as Draft<Shape>
      partOf(change.part)
      const { part, property, value } = change
      const at = shape.sets.findIndex((setting) => setsSame(setting as Setting, change))
      if (value === undefined) shape.sets = shape.sets.filter((_, i) => i !== at)
      else if (at < 0) shape.sets.push({ part, property, value })
      else shape.sets[at]!.value = value
      return
    }
    case 'spans':
      template.spans = change.spans
      bringWithin(template, change.spans)
      return
    case 'palette':
      template.palette = paletteWith(change.palette, new Map())
      return
    case 'guides':
      template.guides = change.guides
      return
    case 'styles':
      template.styles = change.styles
      return
    case 'sections':
      template.sections = change.sections
      return
    case 'comments':
      template.comments = change.comments
      return
    case 'tags':
      template.tags = change.tags
      return
    case 'sounds':
      template.sounds = change.sounds
      return
    case 'proofs':
      template.proofs = change.proofs
      return
    case 'poster':
      template.poster = change.poster
      return
    case 'media':
      template.media = change.media
      return
    case 'levels':
      template.levels = change.levels
      return
    case 'update':
      template.update = change.update
      return
    default:
      refuseUnknown(change)
  }
}

/** Without a field; the texts in which it stood keep its default as their own words. */
const withoutField = (whole: Template, id: string): Template => produce(whole, (template) => takeField(template, id))

function takeField(template: Draft<Template>, id: string): void {
  const field = template.fields.find((f) => f.id === id)
  for (const part of allParts(template.parts as Part[]))
    if (part.kind === 'text')
      for (const run of part.style.content ?? [])
        if (run.field === id) {
          delete run.field
          run.text = field ? shownText(field as Field, field.default as FieldValue) : ''
        }
  const next = template.fields[template.fields.findIndex((f) => f.id === id) + 1]
  for (const comment of template.comments)
    if (comment.before === id) {
      if (next) comment.before = next.id
      else delete comment.before
    }
  template.fields = template.fields.filter((f) => f.id !== id)
  tidyShapes(template)
}

function setShapes(template: Draft<Template>, shapes: Shape[]): void {
  if (shapes.length > 0) template.shapes = shapes as Draft<Shape>[]
  else delete template.shapes
}

/** Keys past the end of a shorter span are brought to its end, so that everything still arrives within it. */
function bringWithin(template: Draft<Template>, spans: Spans): void {
  const length = { in: spans.in, hold: spans.hold.frames, out: spans.out }
  const isWithin = ({ tracks, segments }: Motion) =>
    [...Object.values(tracks), ...Object.values(segments?.tracks ?? {})].every(
      (track: Track | undefined) => track?.keys.every((key) => key.at <= length[key.span]) ?? true,
    )
  const brought = (motion: Motion) => (isWithin(motion) ? motion : withinSpans(motion, spans)) as Draft<Motion>
  for (const part of allParts(template.parts as Part[])) {
    const motion = brought(part.motion)
    if (motion !== part.motion) (part as Draft<Part>).motion = motion
  }
  const settings = [
    ...template.fields.flatMap((field) => field.options ?? []),
    ...(template.shapes ?? []).flatMap((shape) => [shape, ...shape.options]),
  ].flatMap(({ sets }) => sets)
  for (const setting of settings) if (setting.property === 'motion') setting.value = brought(setting.value as Motion)
}

/** What shapes set otherwise of an option goes along when that is called otherwise. */
function renameOptions(template: Draft<Template>, before: Draft<Field>, now: Field): void {
  if (before.options?.length !== now.options?.length) return
  for (const shape of template.shapes ?? [])
    for (const own of shape.options) {
      if (own.field !== now.id || now.options!.some(({ value }) => value === own.option)) continue
      own.option = now.options![before.options!.findIndex(({ value }) => value === own.option)]?.value ?? own.option
    }
}

/** Nothing stays in a shape that is about an option that is gone, or about what a part has no more. */
function tidyShapes(template: Draft<Template>): void {
  for (const shape of template.shapes ?? []) {
    const isOf = ({ part, property }: { part: PartId; property: string }) => {
      const own = findPart(template as Template, part)
      return own !== undefined && (isOfPart(property) || propertyOf(own.kind, property) !== undefined)
    }
    shape.sets = shape.sets.filter(isOf)
    shape.options = shape.options.flatMap(({ field, option, sets }) => {
      const own = template.fields.find((one) => one.id === field)?.options?.find(({ value }) => value === option)
      const left = sets.filter((setting) => own?.sets.some((other) => setsSame(other as Setting, setting)))
      return left.length > 0 ? [{ field, option, sets: left }] : []
    })
  }
}
