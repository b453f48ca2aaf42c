import { Refusal } from '../refusal/index.ts'
import type { Found } from '../schema/index.ts'
import { entryParts, takesItsTime } from './entries.ts'
import { isLanguage } from './language.ts'
import { namedByField, namedByPart, targetsOf } from './naming.ts'
import { sourcesOf } from './palette.ts'
import { differingVersions, shapeOf } from './shapes.ts'
import { refusePattern } from './shown.ts'
import type { Field, Keyframe, PaletteColour, Part, SpanName, Spans, Template } from './types.ts'
import { allParts } from './walk.ts'

const spanNames: Record<SpanName, string> = { in: 'In', hold: 'Hold', out: 'Out' }
const order: SpanName[] = ['in', 'hold', 'out']

/** How messages about a document name a part: as the designer does, and by its id. */
export const partWords = ({ name, id }: Pick<Part, 'name' | 'id'>): string => `"${name}" (${id})`

/**
 * Whether a document means what it says: what names something else that could not be meant, though it is there and of the
 * right shape.
 * @throws Refusal naming the part and what to do
 * @param isTouched the parts that have to be looked at; absent: all
 */
export function checkMeaning(template: Template, isTouched: (part: Part) => boolean = () => true): void {
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
  checkDerived(template)
  const parts = allParts(template.parts)
  const byId = new Map(parts.map((part) => [part.id, part]))
  for (const part of parts.filter(isTouched)) checkPart(part, template.spans, palette, byId)
  for (const { shape, parts: own } of differingVersions(template)) {
    const shaped = new Map(allParts(shapeOf(template, shape.id).parts).map((part) => [part.id, part]))
    for (const part of own) checkPart(part, template.spans, palette, shaped)
  }
  for (const field of template.fields) checkField(field, palette)
  checkLengths(template)
  checkLanguage('The template', template.language)
}

/** Colours that are worked out come from others that are there, and in the end from one that is not. */
function checkDerived({ palette }: Template): void {
  const entries = new Map(palette.map((entry) => [entry.id, entry]))
  for (const { name, from } of palette) {
    const missing = from && sourcesOf(from).find((id) => !entries.has(id))
    if (missing) refuse(`The palette's "${name}" is worked out from "${missing}", which is not there; choose another.`)
  }
  const open = new Set<string>()
  const done = new Set<string>()
  const visit = ({ id, name, from }: PaletteColour): void => {
    if (done.has(id) || !from) return
    if (open.has(id)) refuse(`The palette's "${name}" is worked out from itself; let it follow another, or none.`)
    open.add(id)
    for (const source of sourcesOf(from)) visit(entries.get(source)!)
    done.add(id)
  }
  palette.forEach(visit)
}

function refuse(message: string): never {
  throw new Refusal('template.meaning', message)
}

/** The first colour among what something names that is no entry of the palette, and the key it stands under. */
function strangeColour(
  found: readonly Found[],
  palette: ReadonlySet<string>,
): [key: string, colour: string] | undefined {
  const strange = found.find(({ to, id }) => to === 'colour' && !palette.has(id))
  return strange && [String(strange.path.filter((key) => typeof key === 'string').at(-1)), `palette:${strange.id}`]
}

function checkPart(part: Part, spans: Spans, palette: ReadonlySet<string>, parts: ReadonlyMap<string, Part>): void {
  const colour = strangeColour(namedByPart(part), palette)
  if (colour)
    refuse(
      `Part ${partWords(part)} has ${colour[1]} as its ${colour[0]}, which is not in the palette; use ${[...palette].map((id) => `palette:${id}`).join(', ') || '#rrggbb'}${colour[0] === 'fill' ? ', or null for no fill' : ''}.`,
    )
  checkMatte(part, parts)
  if (part.kind === 'text') checkLanguage(`Part ${partWords(part)}`, part.style.language)
  if (part.parts) {
    const held = new Set(allParts(part.parts).map(({ id }) => id))
    for (const target of [...targetsOf(part.x), ...targetsOf(part.y)])
      for (const id of 'parts' in target ? target.parts : [])
        if (held.has(id))
          refuse(
            `Group ${partWords(part)} is tied to ${partWords(parts.get(id)!)}, which it holds; tie it to a part outside, or leave its size to what it holds.`,
          )
  }
  const { tracks, segments } = part.motion
  for (const set of [tracks, segments?.tracks ?? {}])
    for (const [channel, track] of Object.entries(set)) if (track) checkKeys(part, channel, track.keys, spans)
}

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

function checkKeys(part: Part, channel: string, keys: readonly Keyframe[], spans: Spans): void {
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

/** A length that hangs on what the texts say can't be said in them. */
function checkLengths(template: Template): void {
  const says = template.fields.find(
    ({ stands, type }) => stands === 'length' && (type === 'moment' || type === 'number'),
  )
  const takes = says && entryParts(template).find(({ part }) => takesItsTime(part))
  if (takes)
    refuse(
      `The field "${says.name}" (${says.key}) says how long the title is, and ${partWords(takes.part)} makes it as long as its lists take; let them share Hold, or end on time.`,
    )
}

/** Bounds of a field that run from the higher to the lower. */
const backwards = (range: readonly [number, number] | undefined): boolean => range !== undefined && range[0] > range[1]

function checkField(field: Field, palette: ReadonlySet<string>): void {
  const told = `The field "${field.name}" (${field.key})`
  const colour = strangeColour(namedByField(field), palette)
  if (colour)
    refuse(
      `${told} names ${colour[1]}, which is not in the palette; use ${[...palette].map((id) => `palette:${id}`).join(', ') || '#rrggbb'}.`,
    )
  const { picture, sizes, reach, pattern, language, options = [] } = field
  if ([picture?.zoom, sizes, reach?.x, reach?.y].some(backwards))
    refuse(`${told} has bounds that run from the higher to the lower; write the lower first.`)
  const wrong = pattern === undefined ? undefined : refusePattern(pattern)
  if (wrong) refuse(`${told} has a pattern that can't be: ${wrong}.`)
  checkLanguage(told, language)
  for (const { sets } of options)
    for (const { property, value } of sets) if (property === 'language') checkLanguage(told, value as string)
}

function checkLanguage(told: string, language: string | undefined): void {
  if (language && !isLanguage(language))
    refuse(`${told} has the language "${language}", which is none; write a BCP 47 tag, as en, pt-BR or sr-Latn.`)
}
