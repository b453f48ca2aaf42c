import { existsSync, readFileSync, rmSync, statSync } from 'node:fs'
import { basename, join } from 'node:path'
import {
  besideStops,
  cellsByKey,
  type Finding,
  type Match,
  type Row,
  SheetChecker,
  stateOf,
  stopsBeside,
  valuesOf,
} from '@hoja/core/data'
import {
  type Backdrop,
  checkSettings,
  clipsOf,
  durationOf,
  type FormatId,
  formatIds,
  namer,
  notesOn,
  type OutputSettings,
  outputFormats,
  parseRows,
  rowInOrder,
  settingsByShape,
  withNow,
} from '@hoja/core/output'
import { demand, Refusal } from '@hoja/core/refusal'
import { Scene } from '@hoja/core/scene'
import { carriedBy, firstShape, type PartId, shapeNamed, shapeOf, shapeWord, type Template } from '@hoja/core/template'
import { parseLength, parseRate } from '@hoja/core/time'
import chokidar from 'chokidar'
import { openPackage } from '../packageFolder.ts'
import { loadAssets } from '../render/assets.ts'
import { contactSheets, sheetName } from '../render/contactSheet.ts'
import { type Crew, isWorthAnotherTry } from '../render/crew.ts'
import { conformLists, titlePath } from '../render/deliver.ts'
import { demandFfmpeg } from '../render/ffmpeg.ts'
import { flatDescription } from '../render/flat.ts'
import { isMovie, streamOf } from '../render/movieIn.ts'
import { type Asked, OutFolder, supersededFolder } from '../render/outFolder.ts'
import { decodePicture, Raster } from '../render/raster.ts'
import { type Source, sceneOf } from '../render/scenes.ts'
import { titleKey } from '../render/title.ts'
import { FileStore, writeWhole } from '../store/files.ts'
import { temporaryFolder } from '../temporary.ts'
import { type FrameOptions, frameSettings, handlesFrom, shapesFrom } from './frameOptions.ts'
import { Progress, type RowState } from './progress.ts'
import { columnNotes, type DataOptions, knownFrom, nowFrom, type Rows, readRows } from './rows.ts'

export interface RenderOptions extends FrameOptions, DataOptions {
  out: string
  format: string
  rows?: string
  name?: string
  alpha?: string
  handles?: string
  under?: string
  timecode?: string
  silent?: boolean
  folders?: string
  withoutStops?: boolean
  workers?: number
  watch?: boolean
  superseded?: boolean
  fields?: string
  pieces?: boolean
  marks?: boolean
  at?: string
  conform?: boolean
  contactSheet?: boolean
  into?: number
  intoAt?: string
  json?: boolean
}

/** The titles that data asks for, and what is said of its columns first. */
interface Titles {
  match: Rows['match']
  /** Those that are rendered now. */
  wanted: Wanted[]
  /** Those of rows that this run leaves to others: what lies there of them stays. */
  others: Wanted[]
  notes: string[]
}

/** One title, or one clip of parts, that is to be there in the end. */
interface Wanted extends Asked {
  content: Row
  settings: OutputSettings
  only?: readonly PartId[]
  /** Stops that only show beside the other rows. */
  beside?: readonly Finding[]
}

/** A template opened and put where renderers find it. */
interface Opened {
  template: Template
  source: Source
  files: FileStore
  close(): void
}

async function open(path: string): Promise<Opened> {
  const { template, files: carried } = await openPackage(path)
  const folder = temporaryFolder()
  const files = new FileStore(folder)
  for (const entry of carriedBy(template)) files.put(carried[entry.file]!)
  const source = { kind: 'stored' as const, document: files.put(JSON.stringify(template)), files: folder }
  return { template, source, files, close: () => rmSync(folder, { recursive: true, force: true }) }
}

/** What the options ask for, by shape of the frame. @throws Refusal for what can't be */
async function settingsFrom(options: RenderOptions, template: Template, files: FileStore): Promise<OutputSettings[]> {
  const { format, alpha, handles, under, timecode, silent, folders, name } = options
  const { fields, pieces, marks, at, conform, contactSheet } = options
  const rate = options.rate ? parseRate(options.rate) : template.frame.rate
  demand(formatIds.includes(format as FormatId), 'call', `"${format}" is no format; choose ${formatIds.join(', ')}.`)
  demand(
    !alpha || ['straight', 'premultiplied'].includes(alpha),
    'call',
    `"${alpha}" is neither straight nor premultiplied.`,
  )
  demand(!folders || ['sheet', 'template'].includes(folders), 'call', `"${folders}" is neither sheet nor template.`)
  demand(!fields || ['top', 'bottom'].includes(fields), 'call', `"${fields}" is neither top nor bottom.`)
  const asked: OutputSettings = {
    format: format as FormatId,
    ...frameSettings(options, template.frame.rate),
    ...nowFrom(options.now),
    ...(alpha ? { alpha: alpha as 'straight' } : {}),
    ...(handles ? { handles: handlesFrom(handles, rate) } : {}),
    ...(under ? { backdrop: await backdropFrom(under, files) } : {}),
    ...(timecode ? { timecode } : {}),
    ...(silent ? { silent } : {}),
    ...(fields ? { fields: fields as 'top' } : {}),
    ...(pieces ? { pieces } : {}),
    ...(marks ? { marks } : {}),
    ...(at === undefined ? {} : { at: at === 'poster' ? 'poster' : parseLength(at, rate) }),
    ...(conform ? { conform } : {}),
    ...(contactSheet ? { contactSheet } : {}),
    ...(folders ? { folders: folders as 'sheet' } : {}),
    ...(name === undefined ? {} : { pattern: name }),
  }
  const all = settingsByShape({ ...withNow(asked, template), shapes: shapesFrom(options.shape, template) }, template)
  for (const settings of all) checkSettings(settings, template)
  if (outputFormats[asked.format].encoder) demandFfmpeg()
  return all
}

/** @throws Refusal for what is no colour, picture or movie */
async function backdropFrom(under: string, files: FileStore): Promise<Backdrop> {
  if (/^#[0-9a-f]{6}$/i.test(under)) return { kind: 'colour', colour: under }
  demand(existsSync(under), 'call', `"${under}" is neither a colour (#rrggbb) nor a picture or movie that is there.`)
  const name = basename(under)
  if (isMovie(under)) {
    demandFfmpeg()
    await streamOf(under, name)
    return { kind: 'footage', sha256: files.put(readFileSync(under)), name }
  }
  const bytes = readFileSync(under)
  await decodePicture(bytes, name, name)
  return { kind: 'still', sha256: files.put(bytes), name }
}

/** What renders into a folder: a template opened, renderers, and the folder's own book. */
interface Work {
  opened: Opened
  crew: Crew
  out: OutFolder
  options: RenderOptions
}

/** Opens all that rendering takes, and closes it again. `order`: read before anything is written */
async function rendering<T>(
  path: string,
  options: RenderOptions,
  crew: Crew,
  order: (opened: Opened) => T | Promise<T>,
  act: (work: Work, ordered: T) => Promise<number>,
): Promise<number> {
  let opened: Opened | undefined
  try {
    opened = await open(path)
    const ordered = await order(opened)
    const out = new OutFolder(
      options.out,
      { template: opened.template.name },
      {
        keepSuperseded: options.superseded === true,
        timecode: options.timecode,
      },
    )
    try {
      return await act({ opened, crew, out, options }, ordered)
    } finally {
      out.close()
    }
  } finally {
    await crew.close()
    opened?.close()
  }
}

/** Renders a sheet into a folder. Returns the exit code: 1 when some rows were held by their checks or failed. */
export function render(path: string, data: string, options: RenderOptions, crew: Crew): Promise<number> {
  return rendering(
    path,
    options,
    crew,
    async (opened) => {
      const shapes = await settingsFrom(options, opened.template, opened.files)
      const read = writeOf(data)
      return { shapes, read, titles: await titlesOf(opened, data, options, shapes) }
    },
    async (work, { shapes, read, titles }) => {
      const code = await run(work, shapes, titles)
      if (options.watch) await watch(work, shapes, data, read)
      return code
    },
  )
}

/** Renders a template's locked parts by themselves, with a description of the layers. */
export function flatten(path: string, options: RenderOptions & { apart?: boolean }, crew: Crew): Promise<number> {
  const merged = !options.apart
  return rendering(
    path,
    options,
    crew,
    async ({ template, source, files }) => {
      const [asked, ...others] = await settingsFrom(options, template, files)
      demand(others.length === 0, 'call', 'Locked parts are made in one shape at a time; choose one with --shape.')
      const settings: OutputSettings = { ...asked!, parts: merged ? 'merged' : 'apart' }
      const clips = clipsOf(shapeOf(template, settings.shape), settings).map(({ file, parts }, i): Wanted => {
        const content = {
          document: source.document,
          values: template.poster.values,
          pictures: [],
          settings,
          frames: settings.frames,
          only: parts,
        }
        return { row: i + 1, name: file, content: { cells: {} }, key: titleKey(content), only: parts, settings }
      })
      return { settings, clips }
    },
    async (work, { settings, clips }) => {
      const code = await run(work, [settings], {
        match: {},
        wanted: clips,
        others: [],
        notes: notesOn(settings, work.opened.template),
      })
      const scene = await sceneOf(work.opened.source, settings)
      const fileOf = (parts: readonly PartId[]) => {
        const clip = clips.find(({ only }) => JSON.stringify(only) === JSON.stringify(parts))
        return clip && titlePath(settings, clip.name)
      }
      const layers = flatDescription(scene, merged, settings.frames, fileOf)
      writeWhole(join(options.out, 'layers.json'), `${JSON.stringify(layers, null, 2)}\n`)
      return code
    },
  )
}

/** The titles that a data file asks for now: each row in each shape. */
async function titlesOf(
  opened: Opened,
  data: string,
  options: RenderOptions,
  shapes: readonly OutputSettings[],
): Promise<Titles> {
  const { template } = opened
  const read = readRows(template, data, options)
  const lists = await Promise.all(shapes.map((settings) => shapedTitles(opened, data, read, options, settings)))
  const notes = shapes.flatMap((settings) => notesOn(settings, template))
  return {
    match: read.match,
    wanted: lists.flatMap(({ wanted }) => wanted),
    others: lists.flatMap(({ others }) => others),
    notes: [...new Set([...notes, ...columnNotes(read)])],
  }
}

/** The settings of titles that change into another row's words. @throws Refusal for a row that is not there */
function withChange(
  settings: OutputSettings,
  { into, intoAt }: RenderOptions,
  template: Template,
  match: Rows['match'],
  rows: readonly Row[],
): OutputSettings {
  if (into === undefined) return settings
  const row = rows[into - 1]
  demand(row, 'call', `There is no row ${into} to change into; the data has rows 1 to ${rows.length}.`)
  demand(intoAt !== undefined, 'call', 'Say when titles change with --into-at, as 60 or 2.4s.')
  const at = parseLength(intoAt, settings.rate ?? template.frame.rate)
  return { ...settings, change: { at, cells: cellsByKey(template, match, row) } }
}

async function shapedTitles(
  { template, source, files }: Opened,
  data: string,
  { match, rows: read }: Rows,
  options: RenderOptions,
  asked: OutputSettings,
): Promise<Pick<Titles, 'wanted' | 'others'>> {
  const settings = withChange(asked, options, template, match, read)
  const rows = read.map((row, i) => rowInOrder(settings, template, match, row, [i + 1, read.length]))
  let chosen = options.rows === undefined ? rows.map((_, i) => i + 1) : parseRows(options.rows, rows.length)
  const beside = new Map<number, Finding[]>()
  if (options.withoutStops || stopsBeside(template)) {
    const shaped = shapeOf(template, settings.shape)
    const scene = new Scene(shaped, await loadAssets(shaped, ({ sha256 }) => files.get(sha256)))
    const { looks } = new Raster()
    const checker = new SheetChecker({ scene, match }, new Map(), knownFrom(options.known), undefined, looks)
    checker.splice({ at: 1, remove: 0, rows })
    checker.compare()
    checker.lookAtAll()
    if (options.withoutStops) chosen = chosen.filter((n) => stateOf(checker.findings(n)) !== 'stop')
    for (const n of chosen) beside.set(n, besideStops(checker.findings(n)))
  }
  const sheet = options.sheet ?? basename(data).replace(/\.[^.]*$/, '')
  const nameOf = namer(template, settings, { sheet })
  // Every row has its name and its making, whichever are rendered now: what other rows have lying there stays.
  const titles = rows.map((content, i): Wanted => {
    const { values } = valuesOf(template, match, content)
    const frames = durationOf(settings, template, match, content)
    const key = titleKey({ document: source.document, values, pictures: [], settings, frames })
    return { row: i + 1, name: nameOf(i + 1, values), content, key, beside: beside.get(i + 1) ?? [], settings }
  })
  const wanted = chosen.map((n) => titles[n - 1]!)
  const others = options.rows === undefined ? [] : titles.filter(({ row }) => !chosen.includes(row))
  return { wanted, others }
}

/** Brings the folder to what is asked for: what lies there stays or is renamed, the rest is rendered or goes. */
async function run(
  work: Work,
  shapes: readonly OutputSettings[],
  { match, wanted, others, notes }: Titles,
): Promise<number> {
  const {
    opened: { source },
    crew,
    out,
    options,
  } = work
  const progress = new Progress(wanted.length, crew.size, options.json === true || !process.stderr.isTTY)
  for (const note of notes) progress.say(note)
  await out.arrange([...wanted, ...others])
  const there: Asked[] = [...others]
  let booked = Date.now()
  const one = async (title: Wanted): Promise<[RowState, { reason?: string; milliseconds?: number }]> => {
    const { row, name, content, only, settings, beside = [] } = title
    if (beside.length > 0) return ['held', { reason: beside.map(({ message }) => message).join(' ') }]
    if (await out.holds(title)) {
      there.push(title)
      return ['unchanged', {}]
    }
    const started = performance.now()
    for (let attempt = 1; ; attempt++)
      try {
        // Rows may say the same: each has a place of its own until its files are in theirs.
        const root = join(out.work, `row-${row}-${settings.shape ?? firstShape}`)
        const task = { source, match, row: content, n: row, settings, root, ...(only ? { only } : {}) }
        const result = await crew.run(task)
        if (result.state === 'held') return ['held', { reason: result.findings.map((f) => f.message).join(' ') }]
        await out.put(result.finished, row, name, root)
        there.push(title)
        return ['done', { milliseconds: performance.now() - started }]
      } catch (error) {
        if (isWorthAnotherTry(error, attempt)) continue
        // What would fail for every row ends the run: what is done is booked, and the next run goes on from there.
        if (!(error instanceof Refusal) || /^(disk|ffmpeg\.none)/.test(error.code)) throw error
        return ['failed', { reason: error.message }]
      }
  }
  let next = 0
  const lane = async () => {
    for (let title = wanted[next++]; title; title = wanted[next++]) {
      const [state, more] = await one(title)
      progress.row(title.row, title.name, state, more)
      if (Date.now() - booked < 1000) continue
      out.book()
      booked = Date.now()
    }
  }
  try {
    await Promise.all(Array.from({ length: crew.size }, lane))
    const gone = out.clear(there)
    await writeBeside(work, shapes, match, [...wanted, ...others])
    if (gone > 0)
      progress.say(
        `${gone} ${gone === 1 ? 'title' : 'titles'} no longer asked for ${options.superseded ? `moved to ${supersededFolder}/` : 'removed'}.`,
      )
  } finally {
    out.book()
  }
  const { held, failed } = progress.end()
  return held + failed > 0 ? 1 : 0
}

/** What is asked for about all titles of each shape together. */
async function writeBeside(
  { opened: { source, template }, out, options }: Work,
  shapes: readonly OutputSettings[],
  match: Match,
  all: readonly Wanted[],
): Promise<void> {
  const beside = new Map<string, Uint8Array | string>()
  for (const settings of shapes) {
    const wanted = all.filter((title) => title.settings.shape === settings.shape)
    const names = new Set(wanted.map(({ name }) => name))
    const entries = out.entries().filter(({ title }) => names.has(title))
    const shape = shapeWord(shapeNamed(template, settings.shape ?? firstShape))
    const put = (path: string, what: Uint8Array | string) =>
      beside.set(shapes.length > 1 ? `${shape}_${path}` : path, what)
    if (settings.conform) {
      const rows = new Map(wanted.map((title) => [title.row, title.content]))
      const about = { name: basename(options.out), match, timecode: settings.timecode }
      for (const { path, text } of conformLists(entries, about, (n) => rows.get(n))) put(path, text)
    }
    if (settings.contactSheet) {
      const scene = await sceneOf(source, settings)
      const there = new Set(entries.map(({ title }) => title))
      const titles = wanted.filter(({ name }) => there.has(name))
      const list = titles.map(({ row, name, content }) => ({ n: row, name, row: content }))
      const sheets = contactSheets(scene, match, list, `${list.length} titles`, settings, new Raster())
      for (const [page, picture] of sheets.entries()) put(sheetName(page), picture)
    }
  }
  out.writeBeside(beside)
}

/** What tells that a file was written since. */
function writeOf(file: string): string {
  const stat = statSync(file, { throwIfNoEntry: false })
  return stat ? `${stat.mtimeMs} ${stat.size} ${stat.ino}` : ''
}

/**
 * Renders again whenever the data changes, until it is ended. Broken data is told and leaves everything as it is.
 * @param read the state that the file was in when it was read last: what changed since, while the first run went on, counts
 */
async function watch(work: Work, shapes: readonly OutputSettings[], data: string, read: string): Promise<void> {
  const { opened, options } = work
  const progress = new Progress(0, 1, options.json === true || !process.stderr.isTTY)
  const watcher = chokidar.watch(data, {
    ignoreInitial: true,
    awaitWriteFinish: { stabilityThreshold: 150, pollInterval: 50 },
  })
  let running = Promise.resolve()
  const again = () => {
    running = running.then(async () => {
      try {
        await run(work, shapes, await titlesOf(opened, data, options, shapes))
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        progress.say(error.message)
      }
    })
  }
  watcher.on('change', again).on('add', again)
  watcher.once('ready', () => {
    progress.say(`Watching ${basename(data)}; end with Ctrl-C.`)
    if (writeOf(data) !== read) again()
  })
  await new Promise<void>((end) => {
    process.once('SIGINT', end)
    process.once('SIGTERM', end)
  })
  await watcher.close()
  await running
}
