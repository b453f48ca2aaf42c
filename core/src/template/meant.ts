import { type Schema, withReferences } from '../schema/index.ts'
import { described } from './description.ts'
import { withinSpans } from './keyframes.ts'
import type { Motion, Spans } from './types.ts'

type Json = Record<string, unknown>

const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value)
const listOf = (value: unknown): unknown[] => (Array.isArray(value) ? value : [])

/**
 * A document of schema 3 as it was drawn, where it said what could not be meant: colours that are not in the palette
 * were black, keys were read in order, a part was not cut by itself, a Hold without its loop stood still. What is no
 * document at all is left to the validator.
 */
export function meant(document: Json): Json {
  const palette = new Set(listOf(document.palette).flatMap((entry) => (isObject(entry) ? [entry.id] : [])))
  const spans = isObject(document.spans) ? document.spans : {}
  const hold = isObject(spans.hold) ? spans.hold : {}
  const fields = listOf(document.fields).map((field) =>
    isObject(field) && field.type === 'text' && typeof field.default === 'number'
      ? { ...field, default: String(field.default) }
      : field,
  )
  const frozen = hold.gives === 'loop' && !isObject(hold.loop) ? { ...hold, gives: 'freeze' } : hold
  const colours = listOf(document.palette).map((entry) =>
    isObject(entry) && typeof entry.colour === 'string' && entry.colour.startsWith('palette:')
      ? { ...entry, colour: '#000000' }
      : entry,
  )
  return {
    ...document,
    ...(Array.isArray(document.palette) ? { palette: colours } : {}),
    ...(isObject(spans.hold) ? { spans: { ...spans, hold: frozen } } : {}),
    ...(Array.isArray(document.fields)
      ? { fields: fields.map((field) => painted(described.field, field, palette)) }
      : {}),
    ...(Array.isArray(document.parts) ? { parts: document.parts.map((part) => meantPart(part, palette, spans)) } : {}),
  }
}

/** With every colour of a palette entry that is not there as it was drawn: black. */
const painted = (schema: Schema, value: unknown, palette: ReadonlySet<unknown>): unknown =>
  withReferences(schema, value, (to, id) => (to === 'colour' && !palette.has(id) ? undefined : id))

/** Ids of everything a group holds. */
function heldBy(part: Json): unknown[] {
  return listOf(part.parts).flatMap((inner) => (isObject(inner) ? [inner.id, ...heldBy(inner)] : []))
}

function meantPart(value: unknown, palette: ReadonlySet<unknown>, spans: Json): unknown {
  if (!isObject(value)) return value
  const part = { ...(painted(described.part, { ...value, parts: undefined }, palette) as Json) }
  if (!('parts' in value)) delete part.parts
  if (isObject(part.matte) && part.matte.part === part.id) delete part.matte
  const held = new Set(heldBy(value))
  for (const axis of ['x', 'y'])
    if (isObject(part[axis]) && held.size > 0) part[axis] = untied(part[axis] as Json, held)
  if (isObject(part.motion)) part.motion = meantMotion(part.motion, spans)
  if (Array.isArray(value.parts)) part.parts = value.parts.map((inner) => meantPart(inner, palette, spans))
  return part
}

/** An axis without ties to some parts. */
function untied(axis: Json, parts: ReadonlySet<unknown>): Json {
  const looksAt = (target: unknown) => isObject(target) && listOf(target.parts).some((id) => parts.has(id))
  const { size } = axis
  return {
    ...axis,
    ties: listOf(axis.ties).filter((tie) => !isObject(tie) || !looksAt(tie.to)),
    ...(isObject(size) && size.kind === 'share' && looksAt(size.of) ? { size: { kind: 'fixed', value: 100 } } : {}),
  }
}

/** Motion with its keys in order and within their spans, as far as its shape is one. */
function meantMotion(motion: Json, spans: Json): Json {
  const isKey = (key: unknown) =>
    isObject(key) && typeof key.at === 'number' && ['in', 'hold', 'out'].includes(key.span as string)
  const areTracks = (tracks: unknown) =>
    tracks === undefined ||
    (isObject(tracks) && Object.values(tracks).every((track) => isObject(track) && listOf(track.keys).every(isKey)))
  const { segments, tracks } = motion
  const areSpans = typeof spans.in === 'number' && typeof spans.out === 'number' && isObject(spans.hold)
  const isWhole = areSpans && isObject(tracks) && areTracks(tracks)
  if (
    !isWhole ||
    (segments !== undefined && !(isObject(segments) && isObject(segments.tracks) && areTracks(segments.tracks)))
  )
    return motion
  return withinSpans(motion as unknown as Motion, spans as unknown as Spans) as unknown as Json
}
