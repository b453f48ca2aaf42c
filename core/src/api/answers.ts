import { array, boolean, type InferType, mixed, number, object, string } from 'yup'
import type { Channel } from '../air/index.ts'
import type { Finding, Match, Row, Splice } from '../data/index.ts'
import type { BookOffer, Link, LinkStatus } from '../formats/index.ts'
import type { SavedMove } from '../motion/index.ts'
import type { FormatId, OutputSettings, PresetSettings } from '../output/index.ts'
import type { Medium, Programme } from '../programme/index.ts'
import type { Field, Frame, MediaFile, ShelfStyle, Spans, Template } from '../template/index.ts'
import type { FontFacts } from '../text/index.ts'
import type { Rate } from '../time/index.ts'

/** What routes answer. What a document says of itself stands in its own description and is told by its name here. */

const text = () => string().defined()
const whole = () => number().integer().required()
const flag = () => boolean().required()
const texts = () => array(text()).required()
/** Something whose own description stands elsewhere. */
const of = <T>(name: string) => mixed<T & object>().required().meta({ name })
const listOf = <T>(name: string) => array(of<T>(name)).required()

export const version = object({
  id: whole(),
  template: text(),
  number: whole(),
  note: text(),
  created: text(),
  document: text(),
})
export type Version = InferType<typeof version>

export const templateSummary = object({
  id: text(),
  name: text(),
  note: text(),
  revision: whole(),
  created: text(),
  changed: text(),
  frame: of<Frame>('Frame'),
  spans: of<Spans>('Spans'),
  tags: texts(),
  folder: text(),
  /** When it was put away; null while it is on the shelf. */
  archived: string().nullable().defined(),
  fields: listOf<Pick<Field, 'key' | 'name' | 'type' | 'note'>>('FieldName'),
  carries: object({ fonts: whole(), media: whole(), sounds: whole() }).required(),
  version: whole(),
  ahead: flag(),
})
export type TemplateSummary = InferType<typeof templateSummary>
/** `instead`: which fonts took the place of others, in words. */
export const imported = templateSummary.shape({ instead: texts() })

const templateRow = {
  id: text(),
  name: text(),
  revision: whole(),
  created: text(),
  changed: text(),
  folder: text(),
  archived: string().nullable().defined(),
}
export const newTemplate = object(templateRow)
export const templateDetail = object({
  ...templateRow,
  template: of<Template>('Template'),
  versions: array(version).required(),
  ahead: flag(),
})
export type TemplateDetail = InferType<typeof templateDetail>

export const savedDraft = object({ revision: whole(), changed: text(), ahead: flag() })
export const versionDetail = version.shape({ content: of<Template>('Template') })

export const importPreview = object({
  name: text(),
  words: texts(),
  /** The poster as the package brought it, and as it would be; data URLs. */
  came: string().nullable().defined(),
  poster: text(),
  proofs: array(object({ name: text(), picture: text(), findings: listOf<Finding>('Finding') })).required(),
})

/** What stands for the fonts that a package lacks: font id to SHA-256. */
export type FontsInstead = Record<string, string>

export const asset = object({
  sha256: text(),
  kind: string()
    .oneOf(['font', 'picture', 'sound'] as const)
    .required(),
  name: text(),
  size: whole(),
  type: string(),
  family: string(),
  style: string(),
  width: number(),
  height: number(),
  movie: mixed<{ frames: number; rate: Rate }>().meta({ name: 'MovieFacts' }),
  seconds: number(),
})
export type Asset = InferType<typeof asset>
export const fontFacts = of<FontFacts & { size: number }>('FontFacts')
/** A font that ships with Hoja, or one that somebody brought: then its id is its SHA-256, and `file` its name. */
export const knownFonts = array(object({ id: text(), family: text(), style: text(), file: string() })).required()
export type KnownFont = InferType<typeof knownFonts>[number]
export const box = object({
  x: number().required(),
  y: number().required(),
  width: number().required(),
  height: number().required(),
})
/** Which characters each family has, as pairs of code points from and to. */
export const coverage = listOf<object>('Coverage')
export const savedMove = of<SavedMove>('SavedMove')
export const shelfStyle = of<ShelfStyle>('ShelfStyle')
export const shelfStyles = listOf<ShelfStyle>('ShelfStyle')
export const savedMoves = listOf<SavedMove>('SavedMove')

export const sheet = object({
  id: whole(),
  version: whole(),
  name: text(),
  columns: texts(),
  match: of<Match>('Match'),
  revision: whole(),
  /** The revision at which rows last changed their places. */
  placed: whole(),
  created: text(),
  changed: text(),
  /** Rows. */
  count: whole(),
  link: mixed<Link>().nullable().defined().meta({ name: 'Link' }),
  /** It knows how names are spelled. */
  known: flag(),
  /** The production that it belongs to. */
  production: number().nullable().defined(),
})
export type Sheet = InferType<typeof sheet>
export const sheetSummaries = array(sheet.shape({ template: text(), templateName: text(), number: whole() })).required()
export type SheetSummary = InferType<typeof sheetSummaries>[number]
export const sheetAbout = sheet.shape({
  template: text(),
  number: whole(),
  pictures: listOf<MediaFile>('SheetPicture'),
  following: mixed<LinkStatus>().nullable().defined().meta({ name: 'LinkStatus' }),
})
/** How many rows that go out must not, are to be looked at, and are fine. */
export const sheetState = object({ revision: whole(), stop: whole(), look: whole(), fine: whole() })
export const production = object({ id: whole(), name: text(), created: text(), templates: texts() })
export type Production = InferType<typeof production>
/** A data file as it would come in, and whether its match is one that a person set before. */
export const matchedPreview = of<import('../formats/index.ts').DataPreview & { remembered: boolean }>('DataPreview')
export type MatchedPreview = InferType<typeof matchedPreview>
const programmeRow = {
  id: whole(),
  production: number().nullable().defined(),
  name: text(),
  revision: whole(),
  created: text(),
  changed: text(),
  titles: whole(),
  frames: whole(),
  rate: of<Rate>('Rate'),
}
export const programmeSummary = object(programmeRow)
export type ProgrammeSummary = InferType<typeof programmeSummary>
export const programmeDetail = object({ ...programmeRow, programme: of<Programme>('Programme') })
/** A list that titles are made of: how it is read, and every row of it. */
export const listPreview = object({
  preview: matchedPreview,
  rows: array(texts()).required(),
})
export const medium = of<Medium>('Medium')
export const footageProxy = object({
  state: string()
    .oneOf(['making', 'ready', 'failed'] as const)
    .required(),
  /** While it is made: how much of it is, 0 to 1. */
  share: number(),
  reason: string(),
  width: number().integer(),
  height: number().integer(),
  rate: mixed<Rate>().meta({ name: 'Rate' }),
  frames: number().integer(),
  sound: boolean(),
  /** Frames at which another shot begins. */
  cuts: array(number().integer().required()),
})
export type FootageProxy = InferType<typeof footageProxy>
export const savedProgramme = object({ revision: whole(), changed: text() })
/** Bytes of the disk that finished titles lie on. */
export const room = object({ free: number().required(), total: number().required() })
export const rowsPage = object({ revision: whole(), count: whole(), rows: listOf<Row>('Row') })
export const knownNames = object({ texts: texts() })
export const pictures = object({ pictures: listOf<MediaFile>('SheetPicture') })
export const addedPictures = pictures.shape({ added: texts(), failed: texts() })
/** What templates a file's worksheets, or rows, look like. */
export const bookPreview = object({
  sheets: listOf<BookOffer>('BookOffer'),
  column: string().nullable().defined(),
  byColumn: listOf<BookOffer>('BookOffer'),
  templates: array(object({ version: whole(), template: text(), name: text() })).required(),
})
export const partSheets = array(sheet.shape({ template: text() })).required()
export const linkStatus = of<LinkStatus>('LinkStatus')
/** What happens to a linked sheet, as an event of its stream. */
export interface SheetNews {
  status: LinkStatus | null
  change?: { from: number; revision: number; columns: string[]; changes: Splice[] }
}
/** A file that can be followed. */
export const rootFiles = array(object({ root: text(), path: text(), size: whole(), changed: text() })).required()
export type RootFile = InferType<typeof rootFiles>[number]
export const standIn = object({ name: text(), behaviour: text(), behaviours: texts() })
export type StandIn = InferType<typeof standIn>

export const titleStates = ['waiting', 'running', 'done', 'held', 'failed', 'stopped'] as const
export type TitleState = (typeof titleStates)[number]
export const renderedTitle = object({
  output: whole(),
  row: whole(),
  name: text(),
  /** What it is called in the zip. */
  file: text(),
  state: string()
    .oneOf([...titleStates])
    .required(),
  reason: text(),
  attempts: whole(),
  result: string().nullable().defined(),
  found: whole(),
  milliseconds: number().nullable().defined(),
  ended: string().nullable().defined(),
})
export type RenderedTitle = InferType<typeof renderedTitle>
const outputRow = {
  id: whole(),
  /** Null: a programme's titles, or a template's parts by themselves. */
  sheet: number().nullable().defined(),
  programme: number().nullable().defined(),
  version: whole(),
  match: of<Match>('Match'),
  pictures: listOf<MediaFile>('SheetPicture'),
  settings: of<OutputSettings>('OutputSettings'),
  used: object({ hoja: string(), ffmpeg: string() }).required(),
  state: string()
    .oneOf(['running', 'paused', 'done', 'stopped'] as const)
    .required(),
  priority: whole(),
  created: text(),
  ended: string().nullable().defined(),
  revision: number().nullable().defined(),
  counts: of<Record<TitleState, number>>('UnitCounts'),
}
export const flattenedOutput = object(outputRow)
export const output = object({
  ...outputRow,
  /** The production of its sheet or programme. */
  production: number().nullable().defined(),
  /** Of the sheet, or the programme. */
  sheetName: string().nullable().defined(),
  template: text(),
  number: whole(),
  /** Of the shape that was asked for; empty: none in particular. */
  shapeName: string().defined(),
  /** The newest version of its template. */
  newest: object({ id: whole(), number: whole() }).nullable().defined(),
})
export type Output = InferType<typeof output>
/** `also`: the outputs of the other shapes that were ordered in one go. */
export const ordered = output.shape({ also: array(whole()).required() })
export const outputDetail = output.shape({
  titles: array(renderedTitle).required(),
  progress: object({
    rows: of<Record<number, number>>('RowShares'),
    left: number().nullable().defined(),
    before: whole(),
    hindrance: string().nullable().defined(),
  }).required(),
  log: array(object({ time: text(), row: number().nullable().defined(), text: text() })).required(),
})
export type OutputDetail = InferType<typeof outputDetail>
export const readyFormats = listOf<import('../output/index.ts').OutputFormat & { format: FormatId; ready: boolean }>(
  'OutputFormat',
)
export type ReadyFormat = InferType<typeof readyFormats>[number]
export const keepRoots = array(object({ name: text(), path: text() })).required()
/** What a title was made into. */
export const made = object({
  frames: whole(),
  pictures: whole(),
  rate: of<Rate>('Rate'),
  files: array(object({ suffix: text(), bytes: whole(), frames: whole(), isSequence: flag() })).required(),
})
export type Made = InferType<typeof made>
export const presets = array(object({ name: text(), settings: of<PresetSettings>('PresetSettings') })).required()
export type Preset = InferType<typeof presets>[number]
export const layers = listOf<import('../output/index.ts').FlatLayer & { picture: string }>('FlatLayer')
/** A still or footage that can lie under titles. */
export const underneath = object({
  kind: string()
    .oneOf(['still', 'footage'] as const)
    .required(),
  sha256: text(),
  name: text(),
  width: number().required(),
  height: number().required(),
  rate: mixed<Rate>().meta({ name: 'Rate' }),
  seconds: number(),
  warning: string().nullable().defined(),
})
/** What the data folder holds, and what the last backup of it held, in words. */
export const backupState = object({
  folder: text(),
  now: text(),
  last: object({ made: text(), holds: text() }).nullable().defined(),
  running: object({ done: whole(), of: whole() }).nullable().defined(),
  trouble: string().nullable().defined(),
})

const layerState = object({
  id: text(),
  name: text(),
  phase: string()
    .oneOf(['empty', 'cued', 'waiting', 'coming in', 'holding', 'updating', 'leaving', 'gone'] as const)
    .required(),
  /** The id of the title that is up. */
  item: string().nullable().defined(),
})
const channelRow = {
  name: text(),
  title: text(),
  production: number().nullable().defined(),
  width: whole(),
  height: whole(),
  rate: of<Rate>('Rate'),
  layers: array(layerState).required(),
  next: string().nullable().defined(),
  rehearsing: flag(),
  /** Output pages that are open. */
  pages: whole(),
}
export const channelSummary = object(channelRow)
export type ChannelSummary = InferType<typeof channelSummary>
export const channelDetail = object({
  ...channelRow,
  state: of<Channel>('Channel'),
  /** ms of the epoch, and minutes that the clock on the wall is ahead of UTC. */
  now: number().required(),
  offset: number().required(),
  found: of<Record<string, Finding[]>>('FindingsByItem'),
})
export type ChannelDetail = InferType<typeof channelDetail>
export const carriedOut = object({ n: whole(), frame: whole() })
export const asRunLine = object({
  at: text(),
  layer: text(),
  what: string()
    .oneOf(['up', 'changed', 'out', 'cut'] as const)
    .required(),
  words: text(),
  template: text(),
  version: whole(),
  by: string()
    .oneOf(['hand', 'time', 'source'] as const)
    .required(),
})
export type AsRunLine = InferType<typeof asRunLine>
