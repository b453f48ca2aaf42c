import { edgeWord, targetWords, tieWords } from '../layout/index.ts'
import { channels, lanesOf } from '../motion/index.ts'
import {
  type Axis,
  type AxisName,
  type AxisPlace,
  allParts,
  checkKinds,
  type Field,
  fullStyle,
  inSameWords,
  type Part,
  type Property,
  propertiesOf,
  type Run,
  reachedBy,
  type Setting,
  type Shape,
  shapeOf,
  type Template,
  updateOf,
  withSettings,
} from '../template/index.ts'

/** One thing in which two states of a template differ, in words. */
export interface Difference {
  about: 'parts' | 'ties' | 'style' | 'motion' | 'fields' | 'template'
  sentence: string
  part?: string
  field?: string
}

const round = (n: number) => Number(n.toFixed(3))

/** What changed from one state of a template to another: parts, ties, style, motion, fields, and the rest. */
export function differenceOf(before: Template, after: Template): Difference[] {
  return [
    ...partsDifference(before, after),
    ...fieldsDifference(before, after),
    ...templateDifference(before, after),
    ...shapesDifference(before, after),
  ]
}

/** What changed in other shapes of the frame alone. */
function shapesDifference(before: Template, after: Template): Difference[] {
  const [were, are] = [before.shapes ?? [], after.shapes ?? []]
  const list: Difference[] = []
  const say = (sentence: string) => list.push({ about: 'template', sentence })
  for (const { id, name } of were) if (!are.some((shape) => shape.id === id)) say(`The shape ${name} is gone`)
  const everywhere = new Set(partsDifference(before, after).map(({ sentence }) => sentence))
  for (const shape of are) {
    const was = were.find(({ id }) => id === shape.id)
    if (!was) {
      say(`The shape ${shape.name} (${shape.width} x ${shape.height}) is new`)
      continue
    }
    if (was.name !== shape.name) say(`The shape ${was.name} is called ${shape.name} now`)
    const size = ({ width, height }: Shape) => `${width} x ${height}`
    if (size(was) !== size(shape)) say(`The shape ${shape.name}: ${size(was)} → ${size(shape)}`)
    if (!inSameWords(was.safe, shape.safe)) say(`The safe areas of ${shape.name} are others`)
    if (!inSameWords(was.options, shape.options)) say(`Options set other values in ${shape.name}`)
    for (const one of partsDifference(shapeOf(before, was.id), shapeOf(after, shape.id)))
      if (!everywhere.has(one.sentence)) list.push({ ...one, sentence: `In ${shape.name}: ${one.sentence}` })
  }
  return list
}

/** One thing that a shape has otherwise than the first, in words. */
export interface ShapeDifference {
  setting: Setting
  sentence: string
}

/** Everything that parts are otherwise in a shape, in the order of the parts. */
export function shapeDifferences(template: Template, shape: Shape): ShapeDifference[] {
  const first = shapeOf(template)
  const place = new Map(allParts(first.parts).map((part, i) => [part.id, i]))
  return [...shape.sets]
    .sort((one, other) => place.get(one.part)! - place.get(other.part)!)
    .map((setting) => ({
      setting,
      sentence: settingWords(first, setting) || `${named(first, setting.part)} is as in the first shape`,
    }))
}

/** What a setting changes of a template, before and after, in words; empty: nothing. */
export const settingWords = (template: Template, setting: Setting): string =>
  partsDifference(template, withSettings(template, [setting]))
    .map(({ sentence }) => sentence)
    .join('; ')

function partsDifference(before: Template, after: Template): Difference[] {
  const [were, are] = [allParts(before.parts), allParts(after.parts)]
  const list: Difference[] = []
  const old = new Map(were.map((part) => [part.id, part]))
  const now = new Map(are.map((part) => [part.id, part]))
  for (const part of were)
    if (!now.has(part.id)) list.push({ about: 'parts', sentence: `${part.name} (${part.kind}) is gone`, part: part.id })
  for (const part of are) {
    const was = old.get(part.id)
    if (!was) list.push({ about: 'parts', sentence: `${part.name} (${part.kind}) is new`, part: part.id })
    else list.push(...partDifference(before, after, was, part))
  }
  const common = (parts: Part[]) => parts.filter((part) => old.has(part.id) && now.has(part.id)).map((part) => part.id)
  if (!inSameWords(common(were), common(are))) list.push({ about: 'parts', sentence: 'The layer order is another' })
  return list
}

function partDifference(before: Template, after: Template, was: Part, is: Part): Difference[] {
  const list: Difference[] = []
  const say = (about: Difference['about'], sentence: string) => list.push({ about, sentence, part: is.id })
  if (was.name !== is.name) say('parts', `${was.name} is called ${is.name} now`)
  if (was.kind !== is.kind) say('parts', `${is.name} was a ${was.kind} and is a ${is.kind}`)
  for (const axis of ['x', 'y'] as const)
    for (const [line, from, to] of axisChanges(before, after, was, is, axis))
      say('ties', `${line[0]!.toUpperCase()}${line.slice(1)} of ${is.name}: ${from} → ${to}`)
  if (!inSameWords(was.room, is.room))
    say('ties', `Room of ${is.name}: ${roomWords(before, was)} → ${roomWords(after, is)}`)
  if (was.kind === is.kind) {
    const styles = [was, is].map((part) => fullStyle(part.kind, part.style as never) as Record<string, unknown>)
    for (const [key, property] of propertiesOf(is.kind)) {
      const [from, to] = styles.map((style) => style[key])
      if (inSameWords(from, to)) continue
      const words = [valueWords(before, property, from), valueWords(after, property, to)]
      say(
        'style',
        `${property.label} of ${is.name}${words[0] === words[1] ? ' is another' : `: ${words[0]} → ${words[1]}`}`,
      )
    }
  }
  if (!inSameWords(was.matte, is.matte))
    say(
      'style',
      is.matte ? `${is.name} is cut to ${named(after, is.matte.part)}` : `${is.name} is no longer cut by a matte`,
    )
  if (was.unseen !== is.unseen)
    say('style', is.unseen ? `${is.name} may stay unseen: ${is.unseen}` : `${is.name} may no longer stay unseen`)
  for (const sentence of motionChanges(before, after, was, is)) say('motion', sentence)
  return list
}

const named = (template: Template, id: string) => allParts(template.parts).find((part) => part.id === id)?.name ?? id

/** The lines of the edges table on one axis, in words. */
function axisLines(template: Template, axis: AxisName, value: Axis): Map<string, string> {
  const parts = allParts(template.parts)
  const lines = new Map<string, string>()
  for (const tie of value.ties) lines.set(edgeWord(axis, tie.edge), tieWords(template, parts, axis, tie))
  if (value.ties.length === 0) lines.set(edgeWord(axis, 'start'), `${round(value.place)} px`)
  const { size } = value
  if (value.ties.length < 2)
    lines.set(
      edgeWord(axis, 'size'),
      size.kind === 'fixed'
        ? `${round(size.value)} px`
        : size.kind === 'content'
          ? 'its own'
          : `${round(size.factor * 100)} % of ${targetWords(template, parts, size.of)}${size.plus ? ` and ${round(size.plus)} px` : ''}`,
    )
  if (value.min !== undefined) lines.set(`least ${edgeWord(axis, 'size')}`, `${value.min} px`)
  if (value.max !== undefined) lines.set(`most ${edgeWord(axis, 'size')}`, `${value.max} px`)
  return lines
}

function axisChanges(
  before: Template,
  after: Template,
  was: Part,
  is: Part,
  axis: AxisName,
): [string, string, string][] {
  if (inSameWords(was[axis], is[axis])) return []
  const [from, to] = [axisLines(before, axis, was[axis]), axisLines(after, axis, is[axis])]
  const changed = [...new Set([...from.keys(), ...to.keys()])].flatMap((line): [string, string, string][] =>
    from.get(line) === to.get(line) ? [] : [[line, from.get(line) ?? 'not tied', to.get(line) ?? 'not tied']],
  )
  // What words don't show: whether a tie follows the movement, what it does when its target is gone.
  return changed.length > 0 ? changed : [[`the ties ${axis === 'x' ? 'across' : 'down'}`, 'other rules', 'other rules']]
}

function roomWords(template: Template, part: Part): string {
  const { room } = part
  if (!room || room.kind === 'free') return 'free'
  if (room.kind === 'width') return `${round(room.value)} px`
  const at = { edge: 'start' as const, follow: 'settled' as const, gone: 'collapse' as const, ...room }
  return `as far as ${tieWords(template, allParts(template.parts), 'x', at)}`
}

function colourWords(template: Template, colour: string): string {
  const entry = colour.startsWith('palette:') && template.palette.find((p) => p.id === colour.slice(8))
  return entry ? entry.name : colour
}

function valueWords(template: Template, property: Property, value: unknown): string {
  const units: { [U in NonNullable<Property['unit']>]?: string } = {
    px: ' px',
    'px/s': ' px/s',
    seconds: ' s',
    frames: ' frames',
    degrees: '°',
  }
  const unit = (property.unit && units[property.unit]) ?? ''
  switch (property.type) {
    case 'number':
      return property.unit === 'share' ? `${round((value as number) * 100)} %` : `${round(value as number)}${unit}`
    case 'switch':
      return value ? 'yes' : 'no'
    case 'colour':
      return colourWords(template, value as string)
    case 'fill':
      return value === null
        ? 'none'
        : typeof value === 'string'
          ? colourWords(template, value)
          : (value as { kind: string }).kind
    case 'runs':
      return `“${(value as Run[]).map((run) => (run.field ? `{${template.fields.find((f) => f.id === run.field)?.name ?? run.field}}` : run.text)).join('')}”`
    case 'font': {
      const font = template.fonts.find((f) => f.id === value)
      return font ? `${font.family} ${font.style}` : 'the first font'
    }
    case 'picture':
    case 'choice':
    case 'language':
      return String(value) || 'none'
    case 'features':
      return (value as string[]).join(', ') || 'none'
    case 'axes':
      return (value as AxisPlace[]).map(({ tag, value: at }) => `${tag} ${at}`).join(', ') || 'as the font is'
    case 'numbers':
      return (value as number[]).join('; ')
    case 'part':
      return value ? named(template, value as string) : 'nothing'
    case 'fit':
      return (
        (value as { step: string; to?: number; share?: number }[])
          .map(({ step, to = undefined, share }) =>
            share === undefined ? `${step}${to === undefined ? '' : ` to ${to}`}` : `${step} ${share} of its room`,
          )
          .join(', ') || 'none'
      )
    case 'shadows':
    case 'outlines':
      return `${(value as unknown[]).length}`
  }
}

function motionChanges(before: Template, after: Template, was: Part, is: Part): string[] {
  if (inSameWords(was.motion, is.motion)) return []
  const list: string[] = []
  const lanes = (part: Part) =>
    new Map(lanesOf(part).map(({ lane, track }) => [`${lane.set} ${lane.channel}`, { lane, track }]))
  const [from, to] = [lanes(was), lanes(is)]
  const nameOf = (key: string) => {
    const { lane } = (from.get(key) ?? to.get(key))!
    return lane.set === 'segments' ? `${channels[lane.channel].label} of each` : channels[lane.channel].label
  }
  for (const key of new Set([...from.keys(), ...to.keys()])) {
    const [a, b] = [from.get(key)?.track, to.get(key)?.track]
    if (inSameWords(a, b)) continue
    const keys = (n: number) => `${n} ${n === 1 ? 'key' : 'keys'}`
    list.push(
      `${nameOf(key)} of ${is.name} ${!a ? `is keyed (${keys(b!.keys.length)})` : !b ? 'is no longer keyed' : a.keys.length === b.keys.length ? 'is keyed otherwise' : `has ${keys(b.keys.length)}, it had ${keys(a.keys.length)}`}`,
    )
  }
  const { segments: segmentsWere } = was.motion
  const { segments: segmentsAre } = is.motion
  const segments = (u: Part['motion']['segments']) =>
    u && { by: u.by, order: u.order, overlap: u.overlap, seed: u.seed }
  if (!inSameWords(segments(segmentsWere), segments(segmentsAre)))
    list.push(
      `${is.name} moves ${segmentsAre ? `${segmentsAre.by} by ${segmentsAre.by}, ${segmentsAre.order}` : 'in one piece'}`,
    )
  if (was.motion.out !== is.motion.out)
    list.push(`Out of ${is.name} ${is.motion.out === 'mirror' ? 'mirrors In' : 'has keys of its own'}`)
  if (was.motion.ride !== is.motion.ride)
    list.push(
      is.motion.ride
        ? `${is.name} rides ${named(after, is.motion.ride)}`
        : `${is.name} rides ${named(before, was.motion.ride!)} no longer`,
    )
  if (!inSameWords(was.motion.anchor, is.motion.anchor)) list.push(`The anchor of ${is.name} is at another place`)
  return list
}

/** The parts of a field that people speak of, in words. */
function fieldAspects(template: Template, field: Field): Map<string, string> {
  const words = (value: unknown) =>
    value === undefined ? 'none' : typeof value === 'string' ? `"${value}"` : JSON.stringify(value)
  const limits: (keyof Field)[] = [
    'limit',
    'lines',
    'allowed',
    'min',
    'max',
    'count',
    'format',
    'pattern',
    'language',
    'between',
    'free',
    'picture',
    'fonts',
    'sizes',
    'reach',
  ]
  const section = template.sections.find((s) => s.id === field.section)?.name
  return new Map([
    ['name', words(field.name)],
    ['key', words(field.key)],
    ['kind', field.type],
    ['note', words(field.note)],
    ['placeholder', words(field.placeholder)],
    ['default', words(field.default)],
    ['required', field.required ? 'yes' : 'no'],
    ['section', section ?? 'none'],
    ['on air', field.onAir ? 'yes' : 'no'],
    ['options', (field.options ?? []).map((option) => option.name).join(', ') || 'none'],
    ...limits.map((limit): [string, string] => [limit, words(field[limit])]),
  ])
}

function fieldsDifference(before: Template, after: Template): Difference[] {
  const list: Difference[] = []
  const say = (field: Field, sentence: string) => list.push({ about: 'fields', sentence, field: field.id })
  for (const field of before.fields)
    if (!after.fields.some((other) => other.id === field.id)) say(field, `The field ${field.name} is gone`)
  for (const field of after.fields) {
    const was = before.fields.find((other) => other.id === field.id)
    if (!was) {
      say(field, `The field ${field.name} (${field.type}) is new`)
      continue
    }
    const [from, to] = [fieldAspects(before, was), fieldAspects(after, field)]
    for (const [aspect, value] of to)
      if (from.get(aspect) !== value) say(field, `${field.name}, ${aspect}: ${from.get(aspect)} → ${value}`)
    const sets = (f: Field) => (f.options ?? []).map((option) => [option.sets, option.colours ?? []])
    if (!inSameWords(sets(was), sets(field))) say(field, `${field.name}: its options set other values`)
    if (!inSameWords(reachedBy(before, was), reachedBy(after, field)))
      say(field, `${field.name} drives other properties`)
  }
  const order = (one: Template, other: Template) =>
    one.fields.filter((f) => other.fields.some((g) => g.id === f.id)).map((f) => f.id)
  if (!inSameWords(order(before, after), order(after, before)))
    list.push({ about: 'fields', sentence: 'The order of the fields is another' })
  if (!inSameWords(before.comments, after.comments))
    list.push({ about: 'fields', sentence: 'The comments between the fields are others' })
  if (!inSameWords(before.sections, after.sections)) list.push({ about: 'fields', sentence: 'The sections are others' })
  return list
}

function templateDifference(before: Template, after: Template): Difference[] {
  const list: Difference[] = []
  const say = (sentence: string) => list.push({ about: 'template', sentence })
  if (before.name !== after.name) say(`"${before.name}" is called "${after.name}" now`)
  if (before.note !== after.note) say('The note is another')
  if (!inSameWords(before.tags, after.tags))
    say(`Tags: ${before.tags.join(', ') || 'none'} → ${after.tags.join(', ') || 'none'}`)
  const frame = ({ frame: f }: Template) => `${f.width} x ${f.height} at ${round(f.rate.num / f.rate.den)} fps`
  if (frame(before) !== frame(after)) say(`The frame: ${frame(before)} → ${frame(after)}`)
  else if (!inSameWords(before.frame, after.frame)) say('The safe areas are others')
  for (const span of ['in', 'out'] as const)
    if (before.spans[span] !== after.spans[span])
      say(`${span === 'in' ? 'In' : 'Out'}: ${before.spans[span]} → ${after.spans[span]} frames`)
  if (!inSameWords(before.spans.hold, after.spans.hold))
    say(
      `Hold: ${before.spans.hold.frames} frames, ${before.spans.hold.gives} → ${after.spans.hold.frames} frames, ${after.spans.hold.gives}`,
    )
  for (const entry of before.palette) {
    const now = after.palette.find((other) => other.id === entry.id)
    if (!now) say(`The colour ${entry.name} is gone`)
    else if (now.colour !== entry.colour) say(`The colour ${now.name}: ${entry.colour} → ${now.colour}`)
    if (now && !inSameWords(now.from, entry.from))
      say(`The colour ${now.name} follows ${now.from ? 'others in another way' : 'no other any more'}`)
  }
  for (const entry of after.palette)
    if (!before.palette.some((other) => other.id === entry.id)) say(`The colour ${entry.name} is new`)
  const carried = (t: Template) => [
    ...t.fonts.map((f) => `${f.family} ${f.style}`),
    ...[...t.media, ...t.sounds].map((f) => f.name),
  ]
  const [had, has] = [carried(before), carried(after)]
  for (const name of had) if (!has.includes(name)) say(`It no longer carries ${name}`)
  for (const name of has) if (!had.includes(name)) say(`It carries ${name}`)
  const hashes = (t: Template) => [...t.fonts, ...t.media, ...t.sounds].map((f) => `${f.id} ${f.sha256}`)
  if (inSameWords(had, has) && !inSameWords(hashes(before), hashes(after)))
    say('A file that it carries is another one under the same name')
  const played = (t: Template) => t.sounds.map(({ name, span, at, level }) => ({ name, span, at, level }))
  if (!inSameWords(played(before), played(after)) && inSameWords(had, has)) say('Its sounds begin or play otherwise')
  if (!inSameWords(before.fallbacks, after.fallbacks)) say('The fallback fonts are others')
  for (const [code, { label, level }] of Object.entries(checkKinds)) {
    const [was, is] = [before.levels?.[code] ?? level, after.levels?.[code] ?? level]
    if (was !== is) say(`The check "${label}" weighs ${is} instead of ${was}`)
  }
  if (!inSameWords(updateOf(before), updateOf(after)))
    say('It goes otherwise from one filling to the next while it is up')
  if (!inSameWords(before.poster, after.poster)) say('The poster is another')
  return list
}
