import { array, boolean, mixed, number, type ObjectSchema, object, string } from 'yup'
import { framesOfRow, localMoment, type Match, type Row, rowAbout, saysAbout } from '../data/index.ts'
import { limits } from '../limits/index.ts'
import { edit, type Frame, firstShape, reframe, type ShapeId, shapeOf, type Template } from '../template/index.ts'
import { type Rate, secondsOf } from '../time/index.ts'
import { type FormatId, formatIds, outputFormats } from './formats.ts'

/** What lies under titles that have no alpha. */
export type Backdrop =
  | { kind: 'colour' /** `#rrggbb` */; colour: string }
  /** The stored picture or footage, and what it was called. */
  | { kind: 'still' | 'footage'; sha256: string; name?: string }

/**
 * How titles are rendered. With the version and a row's values, all that a title's files depend on; the rest says which
 * rows, and what the files are called.
 */
export interface OutputSettings {
  format: FormatId
  /** How the colours of clear and half-clear pixels are kept, where the format takes both; absent: straight. */
  alpha?: 'straight' | 'premultiplied'
  /** Which of the template's shapes of frame, by its id; absent: the first. */
  shape?: ShapeId
  /** Of an order: the shapes that it is rendered in, an output of each; absent: `shape`. */
  shapes?: ShapeId[]
  /** px; absent: the shape's. Ties keep their meaning, so that another shape of frame is filled as it should be. */
  size?: { width: number; height: number }
  /** At another size, sizes and gaps stay as many px as they were drawn with; absent: they grow with the frame. */
  keepSizes?: boolean
  /** Frames per second; absent: the template's. */
  rate?: Rate
  /** Frames of every title that has none of its own; absent: as designed. */
  frames?: number
  /** The first frame held for so many before it, the last for so many behind it. */
  handles?: { before: number; after: number }
  /** Frames of two fields, drawn at twice the rate: which of them comes first. */
  fields?: 'top' | 'bottom'
  /** In, Hold and Out as files of their own. */
  pieces?: boolean
  /** In, Hold and Out marked: as chapters where the format has them, and in a file beside. */
  marks?: boolean
  /** The title changes while it is up: to these texts, by the keys of their fields, from a frame of it on. */
  change?: { at: number; cells: Record<string, string> }
  /** Of a still: the poster's frame, or one from 0; absent: the one in which every part has arrived. */
  at?: 'poster' | number
  backdrop?: Backdrop
  /** Of the file's first frame: `10:00:00:00`. */
  timecode?: string
  /** Without the template's sounds. */
  silent?: boolean
  /** File names, for example `{row:000}_{name}`; absent: by row and the template's first text. */
  pattern?: string
  /** Files in a folder for each sheet, or each template. */
  folders?: 'sheet' | 'template'
  /** The moment that *now* is in its titles, local, as ISO 8601 has it; absent: that of the order. */
  now?: string
  /** Rows, from 1; absent: all that are not switched off. */
  rows?: number[]
  /** Leave out what the sheet's last output of these settings holds already, unchanged. */
  changedOnly?: boolean
  /** Leave out rows that have a *stop*, instead of holding them. */
  withoutStops?: boolean
  /** A folder that follows the sheet: in which of the server's, what it is called, and where what is no longer asked for goes. */
  keep?: { root: string; folder: string; superseded?: boolean }
  /** Lists that put the files in their places in an edit, beside them. */
  conform?: boolean
  /** One picture of all titles, beside them. */
  contactSheet?: boolean
  /** Not a sheet's rows, but the template's locked parts by themselves: neighbours as one clip, or each apart. */
  parts?: 'merged' | 'apart'
  /** Not titles, but a programme as a movie to be looked at: what it was, stored under its SHA-256. */
  review?: { document: string; timecode: boolean }
}

const backdropSchema = object({
  kind: string().oneOf(['colour', 'still', 'footage']).required(),
  colour: string()
    .matches(/^#[0-9a-f]{6}$/i, 'a colour is written as #rrggbb')
    .when('kind', ([kind], own) => (kind === 'colour' ? own.required() : own)),
  sha256: string()
    .matches(/^[0-9a-f]{64}$/, 'a stored file is named by its SHA-256')
    .when('kind', ([kind], own) => (kind === 'colour' ? own : own.required())),
  name: string().max(300),
})

/** Least and most of what is counted, wherever it is typed. */
export const settingBounds = {
  /** px */
  side: [16, limits.frameSide.most],
  frames: [1, limits.titleFrames.most],
  /** Frames. */
  handle: [0, 10_000],
  /** Frames a second. */
  rate: [1, 240],
} as const

const within = ([least, most]: readonly [number, number]) => number().integer().min(least).max(most)

const isTexts = (value: unknown): boolean =>
  typeof value === 'object' && Object.values(value ?? [value]).every((text) => typeof text === 'string')

/** Settings as they come from outside. */
export const settingsSchema = object({
  format: string()
    .oneOf([...formatIds])
    .required(),
  alpha: string().oneOf(['straight', 'premultiplied']),
  shape: string().max(64),
  shapes: array(string().max(64).required()).max(13),
  size: object({
    width: within(settingBounds.side).required(),
    height: within(settingBounds.side).required(),
  }).default(undefined),
  keepSizes: boolean(),
  rate: object({
    num: number().integer().min(1).max(240_000).required(),
    den: number().integer().min(1).max(1001).required(),
  }).default(undefined),
  frames: within(settingBounds.frames),
  handles: object({
    before: within(settingBounds.handle).required(),
    after: within(settingBounds.handle).required(),
  }).default(undefined),
  fields: string().oneOf(['top', 'bottom']),
  pieces: boolean(),
  marks: boolean(),
  change: object({
    at: number().integer().min(0).max(limits.titleFrames.most).required(),
    cells: mixed<Record<string, string>>()
      .test('cells', 'what a title changes to is texts by the keys of its fields', isTexts)
      .required(),
  }).default(undefined),
  at: mixed<'poster' | number>().test(
    'frame',
    'a still shows the poster or a frame from 0',
    (at) =>
      at === undefined ||
      at === 'poster' ||
      (Number.isInteger(at) && Number(at) >= 0 && Number(at) < limits.titleFrames.most),
  ),
  backdrop: backdropSchema.default(undefined),
  timecode: string().max(20),
  silent: boolean(),
  now: string().matches(/^\d{4}-\d{2}-\d{2}([T ]\d{2}:\d{2}(:\d{2})?)?$/, {
    message: 'now is a date or a moment, as 2026-11-26T18:30',
    excludeEmptyString: true,
  }),
  pattern: string().max(200),
  folders: string().oneOf(['sheet', 'template']),
  rows: array(number().integer().min(1).required()).max(100_000),
  changedOnly: boolean(),
  withoutStops: boolean(),
  keep: object({
    root: string().max(200).required(),
    folder: string().trim().min(1).max(300).required(),
    superseded: boolean(),
  }).default(undefined),
  conform: boolean(),
  contactSheet: boolean(),
  parts: string().oneOf(['merged', 'apart']),
}) as unknown as ObjectSchema<OutputSettings>

/** Settings that get a name, for any sheet: rows are one sheet's. */
export type PresetSettings = Omit<OutputSettings, 'rows'>

export const presetSchema = settingsSchema.omit(['rows']) as unknown as ObjectSchema<PresetSettings>

/** The settings that a title's bytes depend on; what its format does not take is left out. */
export function picturedBy(settings: OutputSettings): Partial<OutputSettings> {
  const facts = outputFormats[settings.format]
  const { format, alpha, shape, size, keepSizes, rate, frames, handles, backdrop, timecode, silent } = settings
  const { fields, pieces, marks, at, change } = settings
  const kept = {
    format,
    ...(facts.alpha === 'either' && alpha === 'premultiplied' ? { alpha } : {}),
    ...(shape !== undefined && shape !== firstShape ? { shape } : {}),
    ...(size ? { size, ...(keepSizes ? { keepSizes } : {}) } : {}),
    ...(rate ? { rate } : {}),
    ...(frames === undefined ? {} : { frames }),
    ...(handles && !facts.still && handles.before + handles.after > 0 ? { handles } : {}),
    ...(facts.fields && fields ? { fields } : {}),
    ...(!facts.still && pieces ? { pieces } : {}),
    ...(!facts.still && marks && !pieces ? { marks } : {}),
    ...(facts.still && at !== undefined ? { at } : {}),
    ...(!facts.still && change ? { change } : {}),
    ...(facts.timecode && timecode ? { timecode } : {}),
    ...(facts.sound && silent ? { silent } : {}),
  }
  if (!backdrop || facts.backdrop === 'never') return kept
  const seen = backdrop.kind === 'colour' ? backdrop : { kind: backdrop.kind, sha256: backdrop.sha256 }
  return { ...kept, backdrop: seen }
}

/** Frames a second that titles are drawn at: of frames of two fields twice as many. */
export function drawnRate(
  { fields, format, rate }: Pick<OutputSettings, 'fields' | 'format' | 'rate'>,
  designed: Rate,
): Rate {
  const { num, den } = rate ?? designed
  return fields && outputFormats[format].fields ? { num: 2 * num, den } : { num, den }
}

/** The frame that titles are drawn for. */
export function frameOf(settings: Pick<OutputSettings, 'shape' | 'size' | 'rate'>, template: Template): Frame {
  const { frame } = shapeOf(template, settings.shape)
  return { ...frame, ...settings.size, rate: settings.rate ?? frame.rate }
}

const sameRate = (a: Rate, b: Rate) => a.num * b.den === b.num * a.den

/** What the frame of an output hangs on. */
export type FrameSettings = Pick<OutputSettings, 'shape' | 'size' | 'rate' | 'keepSizes'>

/** A template for the frame of an output: the same one where nothing differs. @throws Refusal for a shape that is not there */
export function templateFor(settings: FrameSettings, designed: Template): Template {
  const template = shapeOf(designed, settings.shape)
  const frame = frameOf(settings, designed)
  const { width, height, rate } = template.frame
  if (frame.width === width && frame.height === height && sameRate(frame.rate, rate)) return template
  return edit(template, reframe(template, frame, !settings.keepSizes))
}

/** A row of an order with what its title is made among. @param n from 1 @param rows of the sheet */
export function rowInOrder(
  settings: Pick<OutputSettings, 'frames' | 'rate' | 'now'>,
  template: Template,
  match: Match,
  row: Row,
  [n, rows]: readonly [n: number, rows: number],
): Row {
  if (!saysAbout(template)) return row
  const frames = durationOf(settings, template, match, row)
  const seconds = frames === undefined ? {} : { seconds: secondsOf(frames, settings.rate ?? template.frame.rate) }
  return rowAbout(template, row, { now: settings.now ?? localMoment(new Date()), row: n, rows, ...seconds })
}

/** A row as its title is after it changed; undefined: it does not. */
export const changedRow = ({ change, format }: Pick<OutputSettings, 'change' | 'format'>, row: Row): Row | undefined =>
  change && !outputFormats[format].still ? { ...row, own: { ...row.own, ...change.cells } } : undefined

/** An order's settings with the moment that *now* is in it, for templates that say it. */
export const withNow = (settings: OutputSettings, template: Template): OutputSettings =>
  saysAbout(template) && !settings.now ? { ...settings, now: localMoment(new Date()) } : settings

/**
 * Frames of one title: its row's own, set by hand or said by its data, else those of the order, else as designed
 * (undefined).
 */
export function durationOf(
  settings: Pick<OutputSettings, 'frames' | 'rate'>,
  template: Pick<Template, 'frame'>,
  match: Match,
  row: Row,
): number | undefined {
  const designed = template.frame.rate
  return framesOfRow(match, row, designed, settings.rate ?? designed) ?? settings.frames
}
