import type { Finding, Match, Row, Splice } from '@hoja/core/data'
import type { BookOffer, BookPart, DataPreview, Link, LinkStatus, ReadOptions } from '@hoja/core/formats'
import type { SavedMove } from '@hoja/core/motion'
import type { FlatLayer, FormatId, OutputFormat, OutputSettings, PresetSettings } from '@hoja/core/output'
import type { Field, Frame, MediaFile, Spans, Template } from '@hoja/core/template'
import type { FontFacts } from '@hoja/core/text'
import type { Rate } from '@hoja/core/time'
import { noteBuild } from './build.ts'

/** A data file as it would come in, and whether its match is one that a person set before. */
export type MatchedPreview = DataPreview & { remembered: boolean }

/** A refusal of the server: one sentence for a person. */
export class ApiError extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly status: number,
    readonly body: Record<string, unknown>,
  ) {
    super(message)
  }
}

async function ask<T>(path: string, init?: RequestInit, base = '/api'): Promise<T> {
  let response: Response
  try {
    response = await fetch(`${base}${path}`, init)
  } catch {
    throw new ApiError('offline', 'Hoja does not answer; look whether it is still running, then try again.', 0, {})
  }
  noteBuild(response.headers.get('X-Hoja-Build'))
  if (response.status === 204) return undefined as T
  let body: Record<string, unknown>
  try {
    body = (await response.json()) as Record<string, unknown>
  } catch {
    throw new ApiError('answer', 'What Hoja answered could not be read; try again.', response.status, {})
  }
  if (!response.ok) {
    const error = body.error as { code: string; message: string } | undefined
    throw new ApiError(error?.code ?? 'unknown', error?.message ?? 'Something went wrong.', response.status, body)
  }
  return body as T
}

const send = (method: string, body?: unknown): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  ...(body === undefined ? {} : { body: JSON.stringify(body) }),
})
const upload = (file: File, fields: Record<string, string> = {}): RequestInit => {
  const form = new FormData()
  for (const [key, value] of Object.entries(fields)) form.append(key, value)
  form.append('file', file)
  return { method: 'POST', body: form }
}

export interface TemplateSummary {
  id: string
  name: string
  note: string
  revision: number
  changed: string
  frame: Frame
  spans: Spans
  tags: string[]
  folder: string
  /** When it was put away; null while it is on the shelf. */
  archived: string | null
  fields: Pick<Field, 'key' | 'name' | 'type' | 'note'>[]
  carries: { fonts: number; media: number; sounds: number }
  version: number
  ahead: boolean
}
export interface Version {
  id: number
  template: string
  number: number
  note: string
  created: string
}
export interface TemplateDetail {
  id: string
  name: string
  revision: number
  changed: string
  template: Template
  versions: Version[]
  ahead: boolean
}
/** A file that can be followed. */
export interface RootFile {
  root: string
  path: string
  size: number
  changed: string
}
/** What happens to a linked sheet. */
export interface SheetNews {
  status: LinkStatus | null
  change?: { from: number; revision: number; columns: string[]; changes: Splice[] }
}
export interface StandIn {
  name: string
  behaviour: string
  behaviours: string[]
}

export interface Sheet {
  id: number
  version: number
  name: string
  columns: string[]
  match: Match
  revision: number
  changed: string
  /** Rows. */
  count: number
  link: Link | null
  /** It knows how names are spelled. */
  known: boolean
}
export type SheetSummary = Sheet & { template: string; templateName: string; number: number }
export type SheetDetail = Sheet & {
  template: string
  number: number
  pictures: MediaFile[]
  following: LinkStatus | null
  rows: Row[]
}
/** What templates a file's worksheets, or rows, look like. */
export interface BookLook {
  sheets: BookOffer[]
  column: string | null
  byColumn: BookOffer[]
  templates: { version: number; name: string }[]
}

export type UnitState = 'waiting' | 'running' | 'done' | 'held' | 'failed' | 'stopped'
export interface Unit {
  row: number
  name: string
  /** What it is called in the zip. */
  file: string
  state: UnitState
  reason: string
  attempts: number
  result: string | null
  found: number
  milliseconds: number | null
}
export interface Output {
  id: number
  /** Null: a template's parts by themselves. */
  sheet: number | null
  sheetName: string | null
  template: string
  number: number
  /** The newest version of its template. */
  newest: { id: number; number: number } | null
  settings: OutputSettings
  used: { hoja?: string; ffmpeg?: string }
  state: 'running' | 'paused' | 'done' | 'stopped'
  priority: number
  created: string
  ended: string | null
  counts: Record<UnitState, number>
}
export type OutputDetail = Output & {
  units: Unit[]
  progress: { rows: Record<number, number>; left: number | null; before: number; hindrance: string | null }
  log: { time: string; row: number | null; text: string }[]
}
export type ReadyFormat = OutputFormat & { format: FormatId; ready: boolean }
/** What a title was made into. */
export interface Made {
  frames: number
  pictures: number
  rate: Rate
  files: { suffix: string; bytes: number; frames: number; isSequence: boolean }[]
}
export interface Preset {
  name: string
  settings: PresetSettings
}
/** A still or footage that can lie under titles. */
export interface Underneath {
  kind: 'still' | 'footage'
  sha256: string
  name: string
  width: number
  height: number
  warning: string | null
}

export interface Asset {
  sha256: string
  kind: 'font' | 'picture' | 'sound'
  name: string
  size: number
  family?: string
  style?: string
  width?: number
  height?: number
  movie?: { frames: number; rate: Rate }
  seconds?: number
}

/** A font that ships with Hoja, or one that somebody brought: then its id is its SHA-256. */
export interface KnownFont {
  id: string
  family: string
  style: string
  /** Of those that somebody brought. */
  file?: string
}

/** What stands for the fonts that a package lacks: font id to SHA-256. */
export type FontsInstead = Record<string, string>

/** What a package would look like with other fonts. */
export interface ImportLook {
  name: string
  words: string[]
  /** The poster as the package brought it, and as it would be. */
  came: string | null
  poster: string
  proofs: { name: string; picture: string; findings: Finding[] }[]
}

/** What the data folder holds, and what the last backup of it held, in words. */
export interface BackupState {
  folder: string
  now: string
  last: { made: string; holds: string } | null
  running: { done: number; of: number } | null
  trouble: string | null
}

export const api = {
  templates: () => ask<TemplateSummary[]>('/templates'),
  template: (id: string) => ask<TemplateDetail>(`/templates/${id}`),
  newTemplate: (name: string) => ask<TemplateSummary>('/templates', send('POST', { name })),
  /** `into`: the template that the package is another state of; `publish`: the note with which it is published. */
  importTemplate: (file: File, instead: FontsInstead = {}, more: { into?: string; publish?: string } = {}) =>
    ask<TemplateSummary & { instead: string[] }>(
      '/templates/import',
      upload(file, { instead: JSON.stringify(instead), ...more }),
    ),
  lookAtImport: (file: File, instead: FontsInstead) =>
    ask<ImportLook>('/templates/import/look', upload(file, { instead: JSON.stringify(instead) })),
  shelve: (id: string, change: { name?: string; tags?: string[]; folder?: string; archived?: boolean }) =>
    ask<TemplateSummary>(`/templates/${id}`, send('PATCH', change)),
  duplicate: (id: string) => ask<TemplateSummary>(`/templates/${id}/duplicate`, send('POST')),
  remove: (id: string) => ask<void>(`/templates/${id}`, send('DELETE')),
  save: (id: string, revision: number, template: Template) =>
    ask<{ revision: number; changed: string; ahead: boolean }>(`/templates/${id}`, send('PUT', { revision, template })),
  publish: (id: string, note: string, revision: number) =>
    ask<Version>(`/templates/${id}/versions`, send('POST', { note, revision })),
  version: (id: number) => ask<Version & { content: Template }>(`/versions/${id}`),
  fonts: () => ask<KnownFont[]>('/fonts'),
  addFont: (id: string) => ask<Asset>('/fonts', send('POST', { id })),
  moves: () => ask<SavedMove[]>('/moves'),
  saveMove: (move: Omit<SavedMove, 'id'>) => ask<SavedMove>('/moves', send('POST', move)),
  removeMove: (id: string) => ask<void>(`/moves/${id}`, send('DELETE')),
  addAsset: (file: File) => ask<Asset>('/assets', upload(file)),
  fontFacts: (sha256: string) => ask<FontFacts & { size: number }>(`/assets/${sha256}/facts`),
  sheets: (template?: string) =>
    ask<SheetSummary[]>(`/sheets${template ? `?template=${encodeURIComponent(template)}` : ''}`),
  /** A sheet with all of its rows, page by page; `onRows` hears how many there are so far. */
  async sheet(id: number, signal?: AbortSignal, onRows?: (rows: number, of: number) => void): Promise<SheetDetail> {
    const given = signal ? { signal } : {}
    for (;;) {
      const sheet = await ask<Omit<SheetDetail, 'rows'>>(`/sheets/${id}`, given)
      const rows: Row[] = []
      let revision = sheet.revision
      while (rows.length < sheet.count && revision === sheet.revision) {
        const page = await ask<{ revision: number; rows: Row[] }>(`/sheets/${id}/rows?from=${rows.length + 1}`, given)
        rows.push(...page.rows)
        revision = page.revision
        onRows?.(rows.length, sheet.count)
      }
      // Changed between two pages: from the beginning.
      if (revision === sheet.revision) return { ...sheet, rows }
    }
  },
  importSheet: (file: File, version: number, options: ReadOptions, name: string, signal?: AbortSignal) =>
    ask<Sheet>('/sheets/import', {
      ...upload(file, { version: String(version), options: JSON.stringify(options), name }),
      ...(signal ? { signal } : {}),
    }),
  lookAtSheet: (file: File, version: number, options: ReadOptions, signal: AbortSignal) =>
    ask<MatchedPreview>('/sheets/import/look', {
      ...upload(file, { version: String(version), options: JSON.stringify(options) }),
      signal,
    }),
  lookAtParts: (file: File, signal: AbortSignal) =>
    ask<BookLook>('/sheets/import/parts/look', { ...upload(file), signal }),
  importParts: (file: File, parts: (BookPart & { version: number; name: string })[]) =>
    ask<(Sheet & { template: string })[]>('/sheets/import/parts', upload(file, { parts: JSON.stringify(parts) })),
  followable: () => ask<RootFile[]>('/links/files'),
  lookAtLink: (version: number, link: Link, signal: AbortSignal) =>
    ask<MatchedPreview>('/links/look', { ...send('POST', { version, link }), signal }),
  followLink: (version: number, name: string, link: Link) =>
    ask<Sheet>('/links', send('POST', { version, name, link })),
  standIns: () => ask<StandIn[]>('/', undefined, '/stand-ins'),
  tellStandIn: (name: string, behaviour: string) => ask<StandIn>(`/${name}`, send('PUT', { behaviour }), '/stand-ins'),
  stopFollowing: (sheet: number) => ask<Sheet>(`/links/${sheet}`, send('DELETE')),
  addPictures: (sheet: number, file: File) =>
    ask<{ pictures: MediaFile[]; added: string[]; failed: string[] }>(`/sheets/${sheet}/pictures`, upload(file)),
  removePicture: (sheet: number, name: string) =>
    ask<{ pictures: MediaFile[] }>(`/sheets/${sheet}/pictures/${encodeURIComponent(name)}`, send('DELETE')),
  newSheet: (version: number, name: string) => ask<Sheet>('/sheets', send('POST', { version, name })),
  knownNames: () => ask<{ texts: string[] }>('/sheets/known'),
  setKnown: (id: number, known: boolean) => ask<Sheet>(`/sheets/${id}/known`, send('PUT', { known })),
  readAgain: (sheet: number) => ask<LinkStatus>(`/links/${sheet}/read`, send('POST')),
  removeSheet: (id: number) => ask<void>(`/sheets/${id}`, send('DELETE')),
  changeRows: (id: number, revision: number, changes: Splice[]) =>
    ask<Sheet>(`/sheets/${id}/rows`, send('PATCH', { revision, changes })),
  moveSheet: (id: number, revision: number, version: number, match: Match) =>
    ask<Sheet>(`/sheets/${id}/version`, send('PUT', { revision, version, match })),
  setMatch: (id: number, revision: number, match: Match) =>
    ask<Sheet>(`/sheets/${id}/match`, send('PUT', { revision, match })),
  outputs: () => ask<Output[]>('/outputs'),
  output: (id: number) => ask<OutputDetail>(`/outputs/${id}`),
  formats: () => ask<ReadyFormat[]>('/outputs/formats'),
  render: (sheet: number, settings: OutputSettings) => ask<Output>('/outputs', send('POST', { sheet, ...settings })),
  stop: (id: number) => ask<Output>(`/outputs/${id}/stop`, send('POST')),
  pause: (id: number) => ask<Output>(`/outputs/${id}/pause`, send('POST')),
  goOn: (id: number) => ask<Output>(`/outputs/${id}/go-on`, send('POST')),
  setPriority: (id: number, priority: number) => ask<Output>(`/outputs/${id}/priority`, send('PUT', { priority })),
  retry: (id: number, row?: number) => ask<Output>(`/outputs/${id}/retry`, send('POST', row ? { row } : {})),
  renderAgain: (id: number) => ask<Output>(`/outputs/${id}/again`, send('POST')),
  removeOutput: (id: number) => ask<void>(`/outputs/${id}`, send('DELETE')),
  /** The folders in which others may be kept current. */
  keepRoots: () => ask<{ name: string; path: string }[]>('/outputs/keep'),
  made: (id: number, row: number) => ask<Made>(`/outputs/${id}/rows/${row}`),
  presets: () => ask<Preset[]>('/presets'),
  savePreset: (preset: Preset) => ask<Preset[]>('/presets', send('PUT', preset)),
  removePreset: (name: string) => ask<Preset[]>(`/presets/${encodeURIComponent(name)}`, send('DELETE')),
  layersOf: (version: number, parts: 'merged' | 'apart') =>
    ask<(FlatLayer & { picture: string })[]>(`/flattened/${version}?parts=${parts}`),
  flatten: (version: number, settings: OutputSettings) =>
    ask<Output>('/flattened', send('POST', { version, ...settings })),
  backup: () => ask<BackupState>('/backup'),
  startBackup: () => ask<BackupState>('/backup', send('POST')),
  addUnderneath: (file: File) => ask<Underneath>('/footage', upload(file)),
}

export const sizeWords = (bytes: number) =>
  bytes >= 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.ceil(bytes / 1000)} kB`
export const clock = (time: string) => new Date(time).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })
export const day = (time: string) =>
  new Date(time).toLocaleString([], { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
