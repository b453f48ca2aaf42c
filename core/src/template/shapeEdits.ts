import { setsItsPlace, tieOrder } from './dependencies.ts'
import { applied, type Change } from './edits.ts'
import { propertyOf } from './properties.ts'
import {
  demandShape,
  drawnValue,
  fieldIn,
  firstShape,
  inSameWords,
  ratioWords,
  setsSame,
  shapeOf,
  shapesOf,
  shapeWord,
  standingAt,
} from './shapes.ts'
import type { Axis, AxisName, Field, Frame, Part, Setting, Shape, ShapeId, Template } from './types.ts'
import type { Run } from './values.ts'
import { allParts, findPart, runsOf } from './walk.ts'

/** What stands by hand is rounded to so many parts of a px. */
const fineness = 1000

/**
 * Another shape of a template: what is tied to the frame follows by itself, what stands by hand keeps its share of the frame,
 * and all else is as in the first.
 * @param size px
 */
export function newShape(template: Template, size: Pick<Frame, 'width' | 'height'>): Shape {
  const name = ratioWords(size)
  const { safe, width, height } = template.frame
  const along = { x: size.width / width, y: size.height / height }
  const { parts, space } = tieOrder(template)
  const sets = parts.flatMap((part, i) =>
    (['x', 'y'] as const).flatMap((axis, a): Setting[] => {
      const own = part[axis]
      const place = Math.round(own.place * along[axis] * fineness) / fineness
      if (own.ties.length > 0 || space[i * 2 + a] !== -1 || place === own.place) return []
      return [{ part: part.id, property: axis, value: { ...own, place } }]
    }),
  )
  return { id: freeShapeId(template, shapeWord({ name })), name, ...size, safe, guides: [], sets, options: [] }
}

/** Shapes of the trade, in px, with the short side that a frame has: 16:9, 9:16, 1:1, 4:5. */
export function commonShapes({ width, height }: Pick<Frame, 'width' | 'height'>): Pick<Frame, 'width' | 'height'>[] {
  const short = Math.min(width, height)
  const long = (share: number) => 2 * Math.round((short * share) / 2)
  return [
    { width: long(16 / 9), height: short },
    { width: short, height: long(16 / 9) },
    { width: short, height: short },
    { width: short, height: long(5 / 4) },
  ]
}

function freeShapeId(template: Template, word: string): ShapeId {
  const taken = shapesOf(template).map(({ id }) => id)
  for (let n = 1; ; n++) {
    const id = n === 1 ? word : `${word}-${n}`
    if (!taken.includes(id)) return id
  }
}

/**
 * A change that somebody makes while looking at one shape, as a change of the whole document: what is set of a part there
 * is that shape's own; what comes and goes, and all that is no matter of shape, is every shape's.
 */
export function inShape(template: Template, id: ShapeId, change: Change): Change {
  if (id === firstShape) return change
  const changes: Change[] = []
  let now = template
  const all = flat(change)
  all.forEach((one, i) => {
    const made = madeIn(now, id, one)
    changes.push(made)
    // What comes after it is about the document as it then is.
    if (i < all.length - 1) now = applied(now, made)
  })
  return changes.length === 1 ? changes[0]! : { kind: 'several', changes }
}

const flat = (change: Change): Change[] => (change.kind === 'several' ? change.changes.flatMap(flat) : [change])

function madeIn(template: Template, id: ShapeId, change: Change): Change {
  const differ = (part: string, property: string, value: unknown) => differing(template, id, { part, property, value })
  switch (change.kind) {
    case 'style':
      return change.key === 'content' && !saysTheSame(shapeOf(template, id), change)
        ? said(template, change)
        : differ(change.part, change.key, change.value)
    case 'axis':
      return differ(change.part, change.axis, change.value)
    case 'room':
      return differ(change.part, 'room', change.room)
    case 'motion':
      return differ(change.part, 'motion', change.motion)
    case 'replacePart':
      return replaced(template, id, change.part)
    case 'addPart':
      return added(template, id, change)
    case 'field':
      return fieldSet(template, id, change)
    case 'frame': {
      const { width, height, safe, rate } = change.frame
      return several([
        withShape(template, id, (shape) => ({ ...shape, width, height, safe })),
        { kind: 'frame', frame: { ...template.frame, rate } },
      ])
    }
    case 'guides':
      return withShape(template, id, (shape) => ({ ...shape, guides: change.guides }))
    default:
      return change
  }
}

type StyleChange = Extract<Change, { kind: 'style' }>

/** What runs say, however they are styled. */
const wordsIn = (runs: readonly Run[]): string =>
  runs.map(({ field, text }) => (field === undefined ? text : `\u0000${field}\u0000`)).join('')

/** Whether a change of a text's runs leaves what it says, so that it is a matter of how it looks. */
function saysTheSame(view: Template, { part, value }: StyleChange): boolean {
  const own = findPart(view, part)
  return own !== undefined && Array.isArray(value) && wordsIn(runsOf(own)) === wordsIn(value as Run[])
}

/** Words are the same in every shape. */
const said = (template: Template, change: StyleChange): Change =>
  several([
    change,
    ...(template.shapes ?? [])
      .filter(({ sets }) => sets.some((setting) => setsSame(setting, { part: change.part, property: 'content' })))
      .map(({ id }): Change => ({ kind: 'differ', shape: id, part: change.part, property: 'content' })),
  ])

const several = (changes: Change[]): Change => ({ kind: 'several', changes })

function withShape(template: Template, id: ShapeId, make: (shape: Shape) => Shape): Change {
  demandShape(template, id)
  return { kind: 'shapes', shapes: template.shapes!.map((shape) => (shape.id === id ? make(shape) : shape)) }
}

/** What a part is otherwise in a shape; as the first shape has it is no difference. */
function differing(template: Template, shape: ShapeId, { part: id, property, value }: Setting): Change {
  const part = findPart(template, id)
  // Who takes a property back in a shape wants its default there.
  const given = value === undefined && part ? propertyOf(part.kind, property)?.default : value
  return inSameWords(drawnValue(template, { part: id, property }), given)
    ? { kind: 'differ', shape, part: id, property }
    : { kind: 'differ', shape, part: id, property, value: given }
}

/** A part and what it holds as they are in a shape, in the place of those that are there. */
function replaced(template: Template, id: ShapeId, part: Part): Change {
  const view = shapeOf(template, id)
  const before = new Map(allParts(view.parts).map((one) => [one.id, one]))
  const parts = allParts([part])
  if (parts.some((one) => before.get(one.id)?.kind !== one.kind)) return { kind: 'replacePart', part }
  return several(
    parts.flatMap((one) => {
      const old = before.get(one.id)!
      const keys = [...new Set([...Object.keys(old.style), ...Object.keys(one.style)])]
      return [...keys, 'x', 'y', 'motion', 'room']
        .filter((key) => !inSameWords(standingAt(old, key), standingAt(one, key)))
        .map((property) => differing(template, id, { part: one.id, property, value: standingAt(one, property) }))
    }),
  )
}

/** A new part stands in every shape, at the same share of its frame where nothing ties it. */
function added(template: Template, id: ShapeId, change: Extract<Change, { kind: 'addPart' }>): Change {
  const shape = demandShape(template, id)
  const { frame } = template
  const along = { x: frame.width / shape.width, y: frame.height / shape.height }
  const moved: { part: Part; axis: AxisName; value: Axis }[] = []
  const visit = (part: Part): Part => {
    const place = (axis: AxisName): Axis => {
      const own = part[axis]
      if (own.ties.length > 0 || own.place === 0) return own
      moved.push({ part, axis, value: own })
      return { ...own, place: Math.round(own.place * along[axis] * fineness) / fineness }
    }
    const inFrame = part.kind === 'group' && !setsItsPlace(part.x) && !setsItsPlace(part.y)
    return { ...part, x: place('x'), y: place('y'), ...(inFrame ? { parts: part.parts?.map(visit) } : {}) } as Part
  }
  // Inside a group that has a place the group's own coordinates hold in every shape.
  if (change.into) return change
  const part = visit(change.part)
  return several([
    { ...change, part },
    ...moved.map(
      ({ part: { id: own }, axis, value }): Change => ({ kind: 'differ', shape: id, part: own, property: axis, value }),
    ),
  ])
}

/** What options set, by what they set: a value that differs from the first shape's is this shape's own. */
function fieldSet(template: Template, id: ShapeId, change: Extract<Change, { kind: 'field' }>): Change {
  const first = template.fields.find((field) => field.id === change.field.id)
  const { options } = change.field
  if (!options) return change
  const shape = demandShape(template, id)
  const view = shapeOf(template, id)
  const own: Shape['options'] = []
  const field: Field = {
    ...change.field,
    options: options.map((option, n) => {
      const before = first?.options?.find(({ value }) => value === option.value) ?? first?.options?.[n]
      // What comes new as this shape draws it is as the first one draws it there.
      const asFirst = (setting: Setting): Setting =>
        inSameWords(setting.value, drawnValue(view, setting))
          ? { ...setting, value: drawnValue(template, setting) ?? setting.value }
          : setting
      const kept = option.sets.map((setting) => before?.sets.find((one) => setsSame(one, setting)) ?? asFirst(setting))
      const shown = fieldIn(
        template,
        { ...change.field, options: [{ ...option, sets: kept }] },
        { ...shape, options: [] },
      )
      const sets = option.sets.filter((setting, i) => !inSameWords(setting, shown.options![0]!.sets[i]))
      if (sets.length > 0) own.push({ field: change.field.id, option: option.value, sets })
      return { ...option, sets: kept }
    }),
  }
  const others = (of: Shape) => of.options.filter((one) => one.field !== change.field.id)
  return several([
    { ...change, field },
    withShape(template, id, (now) => ({ ...now, options: [...others(now), ...own] })),
  ])
}
