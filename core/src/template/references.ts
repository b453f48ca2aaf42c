import { Refusal } from '../refusal/index.ts'
import { ringIn } from './dependencies.ts'
import { driversOf } from './drivers.ts'
import { propertiesOf } from './properties.ts'
import { axis, refuseValue } from './schema.ts'
import type { Axis, Field, Part, Setting, Target, Template } from './types.ts'
import { placedVariants } from './variants.ts'
import { allParts, findPart, runsOf } from './walk.ts'

/** @throws Refusal when ties go round in a ring, naming its parts. */
export function checkRings(template: Template): void {
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
  return list.find((item, index) => list.indexOf(item) !== index)
}

/** @throws Refusal when two things share an id or key, or something named is not there. */
export function checkReferences(template: Template): void {
  const parts = allParts(template.parts)
  const refuse = (message: string): never => {
    throw new Refusal('template.reference', message)
  }
  const twice = firstTwice(parts.map((q) => q.id))
  if (twice) refuse(`Two parts have the id "${twice}"; give one another id.`)
  const twiceKey = firstTwice(template.fields.map((f) => f.key))
  if (twiceKey) refuse(`Two fields have the key "${twiceKey}"; give one another key.`)
  const twiceField = firstTwice(template.fields.map((f) => f.id))
  if (twiceField) refuse(`Two fields have the id "${twiceField}"; give one another id.`)
  const partIds = new Map(parts.map((q) => [q.id, q]))
  const fieldIds = new Set(template.fields.map((f) => f.id))
  const fontIds = new Set(template.fonts.map((f) => f.id))
  for (const q of parts) checkPart(q, partIds, fieldIds, fontIds, refuse)
  for (const f of template.fields) checkField(f, template, partIds, refuse)
  for (const comment of template.comments)
    if (comment.before !== undefined && !fieldIds.has(comment.before))
      refuse(`The comment "${comment.text}" stands before the field "${comment.before}", which is not there.`)
  for (const font of template.fallbacks)
    if (!fontIds.has(font)) refuse(`The fallback font "${font}" is not among the template's fonts.`)
}

const targetsOf = (a: Axis): Target[] => [...a.ties.map((t) => t.to), ...(a.size.kind === 'share' ? [a.size.of] : [])]

function checkPart(
  q: Part,
  parts: Map<string, Part>,
  fields: Set<string>,
  fonts: Set<string>,
  refuse: (m: string) => never,
): void {
  const targets = [q.x, q.y].flatMap(targetsOf)
  if (q.room?.kind === 'limit') targets.push(q.room.to)
  for (const t of targets)
    if ('parts' in t)
      for (const other of t.parts)
        if (!parts.has(other))
          refuse(`Part "${q.name}" is tied to "${other}", which is not there; tie it to another part.`)
  if (q.matte && !parts.has(q.matte.part))
    refuse(`Part "${q.name}" has the matte "${q.matte.part}", which is not there; choose another.`)
  if (q.motion.ride && !parts.has(q.motion.ride))
    refuse(`Part "${q.name}" rides "${q.motion.ride}", which is not there; choose another.`)
  if (q.kind === 'text' && q.look.along && !parts.has(q.look.along))
    refuse(`Text "${q.name}" runs along "${q.look.along}", which is not there; choose another.`)
  for (const r of runsOf(q)) {
    if (r.field && !fields.has(r.field))
      refuse(`Text "${q.name}" shows the field "${r.field}", which is not there; choose another.`)
    if (r.font && !fonts.has(r.font))
      refuse(`Text "${q.name}" uses the font "${r.font}", which the template does not carry.`)
  }
  if (q.kind === 'text' && q.look.font && !fonts.has(q.look.font))
    refuse(`Text "${q.name}" uses the font "${q.look.font}", which the template does not carry.`)
}

/** A sentence when an option sets what is not there, or to what may not stand there. */
function refuseSetting({ part, property, value }: Setting, template: Template, parts: Map<string, Part>) {
  const q = parts.get(part)
  if (!q) return `the part "${part}", which is not there`
  if (property !== 'x' && property !== 'y') {
    const known = propertiesOf(q.kind).find(([k]) => k === property)?.[1]
    if (known?.type === 'font' && value && !template.fonts.some((font) => font.id === value))
      return `a font of "${q.name}" that the template does not carry`
    return known?.type === 'part' ? `"${property}", which no field can set` : refuseValue(q.kind, property, value)
  }
  try {
    axis.validateSync(value)
  } catch (error) {
    return (error as Error).message
  }
  const gone = targetsOf(value as Axis)
    .flatMap((t) => ('parts' in t ? t.parts : []))
    .find((other) => !parts.has(other))
  return gone === undefined ? undefined : `a tie of "${q.name}" to "${gone}", which is not there`
}

function checkField(f: Field, template: Template, parts: Map<string, Part>, refuse: (m: string) => never): void {
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
    if (!q) {
      refuse(
        `Field "${f.name}" drives the part "${t.part}", which is not there; remove the field or point it elsewhere.`,
      )
      continue
    }
    const property = propertiesOf(q.kind).find(([k]) => k === t.property)
    // Texts stand in runs, by the field's id; everything else is driven through its property.
    if (!property || !driversOf(...property).includes(f.type) || f.type === 'choice' || t.property === 'content')
      refuse(`Field "${f.name}" cannot drive "${t.property}" of part "${q.name}" with a ${f.type}.`)
  }
}
