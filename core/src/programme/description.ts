import { limits } from '../limits/index.ts'
import {
  bool,
  type Infer,
  identifier,
  list,
  map,
  oneOf,
  optional,
  record,
  type Schema,
  text,
  variant,
  whole,
} from '../schema/index.ts'

/** The document version this code writes. */
export const currentProgramme = 1

const id = identifier
const name = text(200, { least: 1 })
const sha256 = text(64, { pattern: '^[0-9a-f]{64}$', like: 'the SHA-256 of a stored file' })
/** Frames of the programme: a day at 240 a second. */
const mostFrames = 24 * 3600 * 240
const frames = (least = 0) => whole(least, mostFrames, { unit: 'frames' })

const rate = record({ num: whole(1, 240_000), den: whole(1, 1001) })

/** A published version of a template as a timeline needs it, in frames of the programme. */
const design = record({
  template: id,
  name,
  number: whole(1, 1_000_000),
  /** Protected: no clip is shorter than both. */
  in: frames(),
  out: frames(),
  /** As designed. */
  frames: frames(1),
})

/** What is laid under titles. What stands in the store is never changed. */
const medium = variant(
  'kind',
  { name },
  {
    /** A drawn shot with its own timecode, at the programme's rate. */
    shot: { frames: frames(1), scene: whole(0, 1000) },
    movie: {
      sha256,
      /** Of the programme: how long it is. */
      frames: frames(1),
      width: whole(1, limits.frameSide.most, { unit: 'px' }),
      height: whole(1, limits.frameSide.most, { unit: 'px' }),
      rate,
      sound: bool,
      /** Frames of it, at the programme's rate, at which another shot begins. */
      cuts: optional(list(frames(1), 100_000)),
    },
    still: {
      sha256,
      width: whole(1, limits.pictureSide.most, { unit: 'px' }),
      height: whole(1, limits.pictureSide.most, { unit: 'px' }),
    },
    sound: { sha256, frames: frames(1) },
  },
)

const clip = variant(
  'kind',
  {
    track: id,
    /** First frame, from the programme's first. */
    at: frames(),
    frames: frames(1),
  },
  {
    title: {
      /** A key of `designs`. */
      design: id,
      /** A key of `words`; titles that share them say the same. */
      words: id,
      /** One of the template's shapes of frame; absent: the first. */
      shape: optional(id),
    },
    footage: {
      medium: id,
      /** Of the medium, in frames of the programme: the first one that is seen. */
      from: frames(),
      /** dB */
      level: optional(whole(-60, 12, { unit: 'dB' })),
    },
  },
)

/** What a title says: texts by the keys of its template's fields, written as the cells of a sheet are. */
const words = record({
  cells: map(text(limits.cellCharacters.most)),
  /** The row of a sheet that they were taken from, or saved to. */
  row: optional(record({ sheet: whole(1, Number.MAX_SAFE_INTEGER), n: whole(1, limits.rows.most) })),
})

const track = record({ id, name, kind: oneOf('title', 'footage', 'sound'), off: optional(bool) })

const marker = record({ at: frames(), name: text(200) })

export const programmeDescription = record({
  schema: oneOf(currentProgramme),
  name,
  picture: record({
    width: whole(16, limits.frameSide.most, { unit: 'px' }),
    height: whole(16, limits.frameSide.most, { unit: 'px' }),
    rate,
  }),
  /** Frame of day of the programme's first frame, and whether its timecode drops numbers. */
  start: record({ at: frames(), drop: bool }),
  /** What is told of titles along time, in frames; 0: nothing. `end`: where the programme does. */
  rules: record({ longest: frames(), apart: frames(), end: frames() }),
  designs: map(design),
  media: map(medium),
  /** From the top. */
  tracks: list(track, 100, { least: 1 }),
  clips: map(clip),
  words: map(words),
  markers: map(marker),
  /** Frames at which a list says that another shot begins. */
  cuts: list(frames(), 100_000),
})

export type Programme = Infer<typeof programmeDescription>
export type ProgrammeClip = Infer<typeof clip>
export type TitleClip = Extract<ProgrammeClip, { kind: 'title' }>
export type FootageClip = Extract<ProgrammeClip, { kind: 'footage' }>
export type Medium = Infer<typeof medium>
export type Movie = Extract<Medium, { kind: 'movie' }>
export type Design = Infer<typeof design>
export type Words = Infer<typeof words>
export type Track = Infer<typeof track>
export type Marker = Infer<typeof marker>
export type ClipId = string

export const programmeSchema: Schema<Programme> = programmeDescription
