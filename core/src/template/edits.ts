import { type Draft, produce } from 'immer'
import { demand } from '../refusal/index.ts'
import { checkMeaning } from './meaning.ts'
import { checkReferences, checkRings } from './references.ts'
import { refuseValue } from './schema.ts'
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
  Spans,
  Template,
} from './types.ts'
import type { FieldValue } from './values.ts'
import { allParts, findPart, placeOf } from './walk.ts'

/**
 * Everything a designer can do to a template, as values. `edit` is pure and shares what did not change, so undo is a list
 * of templates and a saved draft is one of them.
 */
export type Change =
  | { kind: 'info'; name?: string; note?: string; language?: string }
  | { kind: 'frame'; frame: Frame }
  | { kind: 'spans'; spans: Spans }
  | { kind: 'palette'; palette: Template['palette'] }
  | { kind: 'guides'; guides: Guide[] }
  | { kind: 'addPart'; part: Part; into?: PartId; index?: number }
  | { kind: 'removePart'; part: PartId }
  | { kind: 'reorder'; part: PartId; into?: PartId; index: number }
  /** Another part in the place of the one with its id: a box turned into a path. */
  | { kind: 'replacePart'; part: Part }
  | { kind: 'renamePart'; part: PartId; name: string }
  | { kind: 'lock'; part: PartId; locked: boolean }
  | { kind: 'look'; part: PartId; key: string; value: unknown }
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
  | { kind: 'levels'; levels: NonNullable<Template['levels']> }
  | { kind: 'several'; changes: Change[] }

/** @throws Refusal when the change cannot be: a part that is gone, a value out of range, a ring of ties. */
export function edit(template: Template, change: Change): Template {
  const next = produce(template, (draft) => apply(draft, change))
  checkReferences(next)
  checkRings(next)
  checkMeaning(next)
  return next
}

function apply(template: Draft<Template>, change: Change): void {
  const partOf = (id: PartId): Draft<Part> => {
    const part = findPart(template as Template, id)
    demand(part, 'edit.part', `There is no part "${id}" any more; undo, or choose another.`)
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
    case 'removePart':
      removePart(template, change.part)
      return
    case 'reorder': {
      const from = placeOf(template.parts as Part[], change.part)
      demand(from, 'edit.part', `There is no part "${change.part}" any more; undo, or choose another.`)
      const [part] = from.list.splice(from.index, 1)
      const into = change.into ? partOf(change.into).parts : template.parts
      demand(into, 'edit.group', `"${change.into}" is not a group and cannot hold parts.`)
      into.splice(change.index, 0, part as Draft<Part>)
      return
    }
    case 'replacePart': {
      const place = placeOf(template.parts as Part[], change.part.id)
      demand(place, 'edit.part', `There is no part "${change.part.id}" any more; undo, or choose another.`)
      place.list[place.index] = change.part
      return
    }
    case 'lock':
      if (change.locked) partOf(change.part).locked = true
      else delete partOf(change.part).locked
      return
    case 'renamePart':
      partOf(change.part).name = change.name
      return
    case 'look': {
      const part = partOf(change.part)
      const sentence = change.value === undefined ? undefined : refuseValue(part.kind, change.key, change.value)
      demand(!sentence, 'edit.value', `Part "${part.name}": ${sentence}.`)
      const look = part.look as Record<string, unknown>
      if (change.value === undefined) delete look[change.key]
      else look[change.key] = change.value
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
        template.fields[at] = change.field
      } else template.fields.splice(change.index ?? template.fields.length, 0, change.field)
      return
    }
    case 'removeField':
      removeField(template, change.field)
      return
    case 'orderFields':
      template.fields.sort((a, b) => change.ids.indexOf(a.id) - change.ids.indexOf(b.id))
      return
    case 'fonts':
      template.fonts = change.fonts
      template.fallbacks = change.fallbacks
      return
    case 'several':
      for (const one of change.changes) apply(template, one)
      return
    default:
      // The remaining changes replace one top-level value of the same name.
      Object.assign(template, { [change.kind]: (change as unknown as Record<string, unknown>)[change.kind] })
  }
}

/** Removes a part and, with it, every tie, matte, ride and field target that named it. */
function removePart(template: Draft<Template>, id: PartId): void {
  const place = placeOf(template.parts as Part[], id)
  demand(place, 'edit.part', `There is no part "${id}" any more; undo, or choose another.`)
  const gone = new Set(allParts([place.list[place.index]!]).map((p) => p.id))
  place.list.splice(place.index, 1)
  for (const part of allParts(template.parts as Part[]) as Draft<Part>[]) {
    for (const axis of [part.x, part.y]) {
      for (const tie of axis.ties) if ('parts' in tie.to) tie.to.parts = tie.to.parts.filter((p) => !gone.has(p))
      axis.ties = axis.ties.filter((tie) => !('parts' in tie.to) || tie.to.parts.length > 0)
      if (axis.size.kind === 'share' && 'parts' in axis.size.of && axis.size.of.parts.some((p) => gone.has(p)))
        axis.size = { kind: 'fixed', value: 100 }
    }
    if (part.room?.kind === 'limit' && 'parts' in part.room.to && part.room.to.parts.some((p) => gone.has(p)))
      part.room = { kind: 'free' }
    if (part.matte && gone.has(part.matte.part)) delete part.matte
    if (part.motion.ride && gone.has(part.motion.ride)) delete part.motion.ride
    if (part.kind === 'text' && part.look.along && gone.has(part.look.along)) delete part.look.along
  }
  for (const field of template.fields) {
    field.targets = field.targets.filter((t) => !gone.has(t.part))
    for (const option of field.options ?? [])
      option.sets = option.sets.filter(({ part, value }) => !gone.has(part) && !namesOne(value, gone))
  }
}

/** Whether an axis that an option sets is tied to one of the parts. */
function namesOne(value: unknown, parts: Set<PartId>): boolean {
  const { ties = [], size } = (value ?? {}) as Partial<Axis>
  const targets = Array.isArray(ties)
    ? [...ties.map((tie) => tie.to), ...(size?.kind === 'share' ? [size.of] : [])]
    : []
  return targets.some((to) => 'parts' in to && to.parts.some((part) => parts.has(part)))
}

/** Removes a field; the texts in which it stood keep its default as their own words. */
function removeField(template: Draft<Template>, id: string): void {
  const field = template.fields.find((f) => f.id === id)
  for (const part of allParts(template.parts as Part[]))
    if (part.kind === 'text')
      for (const run of part.look.content ?? [])
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
}
