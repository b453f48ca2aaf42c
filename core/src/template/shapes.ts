import { cached } from '../cache/index.ts'
import { demand } from '../refusal/index.ts'
import { propertyOf } from './properties.ts'
import type { Field, Frame, Part, Setting, Shape, ShapeId, Template } from './types.ts'
import { isOfPart, withSettings } from './variants.ts'
import { allParts } from './walk.ts'

/** The shape that a template's own frame has. */
export const firstShape: ShapeId = 'first'

/** A shape as people choose it. */
export type NamedShape = Pick<Shape, 'id' | 'name' | 'width' | 'height'>

const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b))

/** How a frame's sides stand to each other: `16:9`; of sides that have no short ratio themselves, `1920 × 818`. */
export function ratioWords({ width, height }: Pick<Frame, 'width' | 'height'>): string {
  const by = divisor(width, height)
  const [across, down] = [width / by, height / by]
  return Math.max(across, down) <= 32 ? `${across}:${down}` : `${width} × ${height}`
}

/** The shapes of a template, its own frame's first. */
export function shapesOf({ frame, shapes = [] }: Pick<Template, 'frame' | 'shapes'>): NamedShape[] {
  const { width, height } = frame
  return [{ id: firstShape, name: ratioWords(frame), width, height }, ...shapes]
}

/** A shape's name as it stands in the names of files: `16x9`. */
export const shapeWord = ({ name }: Pick<Shape, 'name'>): string =>
  name
    .trim()
    .replaceAll(/\s*[:×]\s*/g, 'x')
    .replaceAll(/\s+/g, '-')

/** The shape that is meant by an id or a name. @throws Refusal naming those that there are */
export function shapeNamed(template: Pick<Template, 'frame' | 'shapes'>, word: string): NamedShape {
  const all = shapesOf(template)
  const found =
    all.find(({ id }) => id === word) ?? all.find((shape) => shape.name === word || shapeWord(shape) === word)
  demand(
    found,
    'shape.none',
    `There is no shape "${word}"; the template has ${all.map(({ name }) => name).join(', ')}.`,
  )
  return found
}

/** @throws Refusal when there is no such shape beside the first */
export function demandShape({ shapes = [], name }: Pick<Template, 'shapes' | 'name'>, id: ShapeId): Shape {
  const shape = shapes.find((one) => one.id === id)
  demand(shape, 'shape.none', `"${name}" has no shape "${id}" any more; choose another.`)
  return shape
}

const known = new WeakMap<Template, Map<ShapeId, Template>>()

/**
 * The template as one of its shapes has it, a template like any other, of one shape. Equal questions give the same object;
 * what does not differ is the first shape's own.
 * @param id absent: the first
 * @throws Refusal when there is no such shape
 */
export function shapeOf(template: Template, id: ShapeId = firstShape): Template {
  if (!template.shapes) return id === firstShape ? template : inFrame(template, demandShape(template, id))
  const views = cached(known, template, () => new Map<ShapeId, Template>())
  return cached(views, id, () => {
    const { shapes: _, ...first } = template
    return id === firstShape ? first : inFrame(first, demandShape(template, id))
  })
}

/** All the shapes of a template, each as a template of its own. */
export const everyShape = (template: Template): { shape: NamedShape; template: Template }[] =>
  shapesOf(template).map((shape) => ({ shape, template: shapeOf(template, shape.id) }))

function inFrame(template: Template, shape: Shape): Template {
  const { width, height, safe, guides, sets, options } = shape
  const isPlain = sets.length === 0 && options.length === 0
  return {
    ...withSettings(template, sets),
    frame: { ...template.frame, width, height, safe },
    guides,
    fields: isPlain ? template.fields : template.fields.map((field) => fieldIn(template, field, shape)),
  }
}

/** What both set about the same property. */
export const setsSame = (one: Setting, other: Pick<Setting, 'part' | 'property'>): boolean =>
  one.part === other.part && one.property === other.property

/**
 * A field as a shape has it: its options set what that sets otherwise, and what they leave as it is drawn is as the shape
 * draws it.
 */
export function fieldIn(template: Template, field: Field, { sets, options }: Shape): Field {
  if (!field.options?.some((option) => option.sets.length > 0)) return field
  return {
    ...field,
    options: field.options.map((option) => {
      const own = options.find((one) => one.field === field.id && one.option === option.value)?.sets ?? []
      return { ...option, sets: option.sets.map((setting) => settingIn(template, setting, own, sets)) }
    }),
  }
}

function settingIn(template: Template, setting: Setting, own: readonly Setting[], sets: readonly Setting[]): Setting {
  const otherwise = own.find((other) => setsSame(other, setting))
  if (otherwise) return otherwise
  const drawn = sets.find((other) => setsSame(other, setting))
  const isAsDrawn = drawn && inSameWords(setting.value, drawnValue(template, setting))
  return isAsDrawn ? { ...setting, value: drawn.value } : setting
}

/** What stands at the place of a setting as a template is drawn; undefined: nothing that could be set so. */
export function drawnValue(template: Template, { part: id, property }: Pick<Setting, 'part' | 'property'>): unknown {
  const part = allParts(template.parts).find((one) => one.id === id)
  return part && (standingAt(part, property) ?? propertyOf(part.kind, property)?.default)
}

/** What a setting sets, as a part has it; undefined: nothing, so that its default stands. */
export function standingAt(part: Part, property: string): unknown {
  return isOfPart(property) ? part[property as 'x'] : (part.style as Record<string, unknown>)[property]
}

/** The parts that the other shapes of a template have otherwise than the first, each as it is there. */
export const differingVersions = (template: Template): { shape: Shape; parts: Part[] }[] => {
  const first = new Set(allParts(template.parts))
  return (template.shapes ?? []).map((shape) => ({
    shape,
    parts: allParts(shapeOf(template, shape.id).parts).filter((part) => !first.has(part)),
  }))
}

/** Whether two values of a document are written alike. */
export const inSameWords = (one: unknown, other: unknown): boolean =>
  one === other || JSON.stringify(one) === JSON.stringify(other)
