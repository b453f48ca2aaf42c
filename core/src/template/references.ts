import { Refusal } from '../refusal/index.ts'
import { faultIn, references } from '../schema/index.ts'
import { ringIn } from './dependencies.ts'
import { described } from './description.ts'
import { driversOf } from './drivers.ts'
import { namedByPart } from './naming.ts'
import { propertiesOf } from './properties.ts'
import { refuseValue } from './refusing.ts'
import { differingVersions, everyShape, shapesOf } from './shapes.ts'
import type { Field, Part, Setting, Shape, Template } from './types.ts'
import { isOfPart, placedVariants } from './variants.ts'
import { allParts, findPart } from './walk.ts'

/** @throws Refusal when ties go round in a ring, naming its parts. */
export function checkRings(template: Template): void {
  for (const { template: shaped } of everyShape(template)) checkRingsIn(shaped)
}

function checkRingsIn(template: Template): void {
  const variants = placedVariants(template)
  if (!variants)
    throw new Refusal(
      'field.options',
      'The options of choices that move parts meet in more than 256 ways; let fewer of them move parts.',
    )
  const ring = variants.map(ringIn).find(Boolean)
  const names = ring?.map((id) => findPart(template, id)?.name ?? id).join(' → ')
  if (ring)
    throw new Refusal(
      'ties.ring',
      `That would tie parts in a ring: ${names}; tie one of them to something else.`,
      422,
      ring,
    )
}

function firstTwice(list: string[]): string | undefined {
  const seen = new Set<string>()
  return list.find((item) => seen.size === seen.add(item).size)
}

/** What a part, or a field, that names what is not there is told, by what it is to it. */
const partSentences: Record<string, (name: string, id: string) => string> = {
  target: (name, id) => `Part "${name}" is tied to "${id}", which is not there; tie it to another part.`,
  matte: (name, id) => `Part "${name}" has the matte "${id}", which is not there; choose another.`,
  ride: (name, id) => `Part "${name}" rides "${id}", which is not there; choose another.`,
  along: (name, id) => `Text "${name}" runs along "${id}", which is not there; choose another.`,
}

/**
 * @param isTouched the parts that have to be looked at; absent: all
 * @throws Refusal when two things share an id or key, or something named is not there.
 */
export function checkReferences(template: Template, isTouched: (part: Part) => boolean = () => true): void {
  const parts = allParts(template.parts)
  const twice = firstTwice(parts.map((q) => q.id))
  if (twice) refuse(`Two parts have the id "${twice}"; give one another id.`)
  const twiceKey = firstTwice(template.fields.map((f) => f.key))
  if (twiceKey) refuse(`Two fields have the key "${twiceKey}"; give one another key.`)
  const twiceField = firstTwice(template.fields.map((f) => f.id))
  if (twiceField) refuse(`Two fields have the id "${twiceField}"; give one another id.`)
  const there = {
    part: new Map(parts.map((q) => [q.id, q])),
    field: new Set(template.fields.map((f) => f.id)),
    font: new Set(template.fonts.map((f) => f.id)),
  }
  // What another shape sets of a part is looked at as that part.
  for (const q of [...parts.filter(isTouched), ...differingVersions(template).flatMap((one) => one.parts)])
    for (const { to, as, id } of namedByPart(q)) {
      if (to === 'picture' || to === 'colour' || to === 'section' || there[to].has(id)) continue
      if (to === 'field') refuse(`Text "${q.name}" shows the field "${id}", which is not there; choose another.`)
      if (to === 'font') refuse(`Text "${q.name}" uses the font "${id}", which the template does not carry.`)
      refuse(partSentences[as]!(q.name, id))
    }
  for (const f of template.fields) checkField(f, template, there.part)
  for (const shape of template.shapes ?? []) checkShape(shape, template, there.part)
  for (const comment of template.comments)
    if (comment.before !== undefined && !there.field.has(comment.before))
      refuse(`The comment "${comment.text}" stands before the field "${comment.before}", which is not there.`)
  for (const font of template.fallbacks)
    if (!there.font.has(font)) refuse(`The fallback font "${font}" is not among the template's fonts.`)
}

function refuse(message: string): never {
  throw new Refusal('template.reference', message)
}

/** A sentence when an option sets what is not there, or to what may not stand there. */
function refuseSetting({ part, property, value }: Setting, template: Template, parts: ReadonlyMap<string, Part>) {
  const q = parts.get(part)
  if (!q) return `the part "${part}", which is not there`
  if (!isOfPart(property)) {
    const known = propertiesOf(q.kind).find(([k]) => k === property)?.[1]
    if (known?.type === 'font' && value && !template.fonts.some((font) => font.id === value))
      return `a font of "${q.name}" that the template does not carry`
    return known?.type === 'part' ? `"${property}", which no field can set` : refuseValue(q.kind, property, value)
  }
  const isAxis = property === 'x' || property === 'y'
  const schema = isAxis ? described.axis : described[property as 'motion' | 'room' | 'order']
  const what = isAxis ? `the axis ${property}` : `the ${property}`
  const fault = faultIn(schema, value)
  if (fault) return `${[`${what} of "${q.name}", whose`, fault.path.join('.'), fault.says].join(' ')}`
  const gone = references(schema, value).find(({ to, id }) => to === 'part' && !parts.has(id))
  return gone && `a tie of "${q.name}" to "${gone.id}", which is not there`
}

function checkShape(shape: Shape, template: Template, parts: ReadonlyMap<string, Part>): void {
  const { id, name, sets, options } = shape
  if (shapesOf(template).filter((one) => one.id === id).length > 1)
    refuse(`Two shapes of the frame have the id "${id}"; give one another id.`)
  const twice = firstTwice(sets.map(({ part, property }) => `${part} ${property}`))
  if (twice) refuse(`The shape "${name}" sets "${twice}" twice; leave one out.`)
  const settings = [...sets, ...options.flatMap((one) => one.sets)]
  for (const setting of settings) {
    const sentence = refuseSetting(setting, template, parts)
    if (sentence) refuse(`The shape "${name}" cannot be: it sets ${sentence}.`)
  }
  for (const { field, option } of options) {
    const own = template.fields.find((one) => one.id === field)?.options?.some(({ value }) => value === option)
    if (!own) refuse(`The shape "${name}" names the option "${option}" of the field "${field}", which is not there.`)
  }
}

function checkField(f: Field, template: Template, parts: ReadonlyMap<string, Part>): void {
  const twice = firstTwice((f.options ?? []).map((option) => option.value))
  if (twice) refuse(`The field "${f.name}" has the option "${twice}" twice; name one otherwise.`)
  for (const option of f.options ?? [])
    for (const setting of option.sets) {
      const sentence = refuseSetting(setting, template, parts)
      if (sentence) refuse(`The option "${option.value}" of the field "${f.name}" cannot be: it sets ${sentence}.`)
    }
  for (const font of f.fonts ?? [])
    if (!template.fonts.some((one) => one.id === font))
      refuse(`The field "${f.name}" allows the font "${font}", which the template does not carry.`)
  for (const t of f.targets) {
    const q = parts.get(t.part)
    if (!q)
      refuse(
        `Field "${f.name}" drives the part "${t.part}", which is not there; remove the field or point it elsewhere.`,
      )
    const property = propertiesOf(q.kind).find(([k]) => k === t.property)
    // Texts stand in runs, by the field's id; everything else is driven through its property.
    if (!property || !driversOf(...property).includes(f.type) || f.type === 'choice' || t.property === 'content')
      refuse(`Field "${f.name}" cannot drive "${t.property}" of part "${q.name}" with a ${f.type}.`)
  }
}
