import { Refusal } from '../refusal/index.ts'
import { isWords } from './meant.ts'
import type { Field, Key, Part, SpanName, Spans, Target, Template } from './types.ts'
import type { FieldType } from './values.ts'
import { allParts } from './walk.ts'

const spanNames: Record<SpanName, string> = { in: 'In', hold: 'Hold', out: 'Out' }
const order: SpanName[] = ['in', 'hold', 'out']

/** How messages about a document name a part: as the designer does, and by its id. */
export const partWords = ({ name, id }: Pick<Part, 'name' | 'id'>): string => `"${name}" (${id})`

/**
 * Whether a document means what it says: what names something else that could not be meant, though it is there and of the
 * right shape.
 * @throws Refusal naming the part and what to do
 */
export function checkMeaning(template: Template): void {
  const { hold } = template.spans
  if (hold.gives === 'loop' && !hold.loop)
    refuse('Hold loops and says nothing of what; give spans.hold.loop its from and to, or let Hold freeze or stretch.')
  if (hold.loop && (hold.loop.to <= hold.loop.from || hold.loop.to > hold.frames))
    refuse(
      `Hold's loop runs from ${hold.loop.from} to ${hold.loop.to}; both are frames of Hold, from 0 to ${hold.frames}, and it has to end after it begins.`,
    )
  const palette = new Set(template.palette.map((entry) => entry.id))
  for (const { name, colour } of template.palette)
    if (colour.startsWith('palette:'))
      refuse(`The palette's "${name}" is "${colour}"; give it a colour of its own, as #rrggbb.`)
  const parts = allParts(template.parts)
  const byId = new Map(parts.map((part) => [part.id, part]))
  for (const part of parts) checkPart(part, template.spans, palette, byId)
  for (const field of template.fields) checkField(field, palette)
}

function refuse(message: string): never {
  throw new Refusal('template.meaning', message)
}

/** The first colour of a palette entry that is not there, however deep, and the key it stands under. */
function strangeColour(value: unknown, palette: ReadonlySet<string>, key = ''): [string, string] | undefined {
  if (typeof value === 'string')
    return value.startsWith('palette:') && !palette.has(value.slice(8)) ? [key, value] : undefined
  if (typeof value !== 'object' || value === null) return undefined
  for (const name of Object.keys(value)) {
    if (isWords(name)) continue
    const found = strangeColour((value as Record<string, unknown>)[name], palette, /^\d+$/.test(name) ? key : name)
    if (found) return found
  }
  return undefined
}

function checkPart(part: Part, spans: Spans, palette: ReadonlySet<string>, parts: ReadonlyMap<string, Part>): void {
  const colour = strangeColour(part.look, palette) ?? strangeColour(part.motion.tracks.colour, palette)
  if (colour)
    refuse(
      `Part ${partWords(part)} has ${colour[1]} as its ${colour[0]}, which is not in the palette; use ${[...palette].map((id) => `palette:${id}`).join(', ') || '#rrggbb'}${colour[0] === 'fill' ? ', or null for no fill' : ''}.`,
    )
  checkMatte(part, parts)
  if (part.parts) {
    const held = new Set(allParts(part.parts).map(({ id }) => id))
    for (const target of targetsOf(part))
      for (const id of 'parts' in target ? target.parts : [])
        if (held.has(id))
          refuse(
            `Group ${partWords(part)} is tied to ${partWords(parts.get(id)!)}, which it holds; tie it to a part outside, or leave its size to what it holds.`,
          )
  }
  const { tracks, units } = part.motion
  for (const set of [tracks, units?.tracks ?? {}])
    for (const [channel, track] of Object.entries(set)) if (track) checkKeys(part, channel, track.keys, spans)
}

const targetsOf = (part: Part): Target[] =>
  [part.x, part.y].flatMap(({ ties, size }) => [
    ...ties.map(({ to }) => to),
    ...(size.kind === 'share' ? [size.of] : []),
  ])

function checkMatte(part: Part, parts: ReadonlyMap<string, Part>): void {
  if (!part.matte) return
  const way = [part]
  for (let other = parts.get(part.matte.part); other; other = other.matte && parts.get(other.matte.part)) {
    if (other === part)
      refuse(
        way.length === 1
          ? `Part ${partWords(part)} is its own matte; cut it to another part, or take the matte away.`
          : `Parts ${way.map(partWords).join(', ')} are each other's mattes; take the matte of one of them away.`,
      )
    if (other.parts && allParts(other.parts).some(({ id }) => id === part.id))
      refuse(`Part ${partWords(part)} is cut to ${partWords(other)}, the group that holds it; cut it to another part.`)
    // A ring that this part is not of is told of its own parts.
    if (way.includes(other)) return
    way.push(other)
  }
}

function checkKeys(part: Part, channel: string, keys: readonly Key[], spans: Spans): void {
  const lengths = { in: spans.in, hold: spans.hold.frames, out: spans.out }
  keys.forEach((key, i) => {
    const place = `Part ${partWords(part)} has a key of "${channel}" at ${spanNames[key.span]} ${key.at}`
    if (key.at > lengths[key.span])
      refuse(
        `${place}, but ${spanNames[key.span]} has ${lengths[key.span]} frames; move it in, or make ${spanNames[key.span]} longer.`,
      )
    const before = keys[i - 1]
    if (!before) return
    const [a, b] = [order.indexOf(before.span), order.indexOf(key.span)]
    if (a > b || (a === b && before.at >= key.at))
      refuse(
        `${place} after one at ${spanNames[before.span]} ${before.at}; keys stand in the order of their time, one a frame.`,
      )
  })
}

const isList = (of: string) => (value: unknown) => Array.isArray(value) && value.every((one) => typeof one === of)
const isOf = (of: string) => (value: unknown) => typeof value === of
const isObject = (value: unknown) => typeof value === 'object' && value !== null && !Array.isArray(value)

/** What a default of each kind of field is written as. */
const kinds: Record<FieldType, [test: (value: unknown) => boolean, words: string]> = {
  text: [isOf('string'), 'a text, in quotation marks'],
  number: [isOf('number'), 'a number'],
  moment: [isOf('string'), 'a date as "2026-11-26" or "2026-11-26T18:30"'],
  texts: [isList('string'), 'a list of texts'],
  numbers: [isList('number'), 'a list of numbers'],
  switch: [isOf('boolean'), 'true or false'],
  colour: [isOf('string'), 'a colour as "#rrggbb" or "palette:ID"'],
  picture: [(value) => typeof value === 'string' || isObject(value), "a picture's name, or an object with it"],
  choice: [isOf('string'), 'the value of one of its options'],
  style: [isObject, 'an object with font and size'],
  shift: [isObject, 'an object with x and y'],
  language: [isOf('string'), 'a BCP 47 tag, as "en"'],
}

function checkField(field: Field, palette: ReadonlySet<string>): void {
  const [isRight, words] = kinds[field.type]
  if (!isRight(field.default))
    refuse(
      `The default of the field "${field.name}" (${field.key}) is ${JSON.stringify(field.default)}; that of a ${field.type} is ${words}.`,
    )
  const colour =
    (field.type === 'colour' ? strangeColour(field.default, palette, 'default') : undefined) ??
    strangeColour(field.options, palette)
  if (colour)
    refuse(
      `The field "${field.name}" (${field.key}) names ${colour[1]}, which is not in the palette; use ${[...palette].map((id) => `palette:${id}`).join(', ') || '#rrggbb'}.`,
    )
}
