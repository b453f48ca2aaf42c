import { mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { valuesOf } from '@hoja/core/data'
import { nameFrom } from '@hoja/core/formats'
import { timingOf } from '@hoja/core/motion'
import { demand, Refusal } from '@hoja/core/refusal'
import { carriedBy } from '@hoja/core/template'
import { openPackage } from '../packageFolder.ts'
import { hasFfmpeg } from '../render/encode.ts'
import { Pool } from '../render/pool.ts'
import { type Format, formats, parseRows } from '../render/settings.ts'
import { titleFiles } from '../render/zip.ts'
import { FileStore } from '../store/files.ts'
import { readRows, rowAt } from './rows.ts'

interface Options {
  out: string
  format: string
  rows?: string
  sheet?: string
  frames?: number
  name: string
  json?: boolean
}

/** Renders a sheet into a folder. Returns the exit code: 1 when some rows were held by their checks. */
export async function render(path: string, data: string, options: Options): Promise<number> {
  const format = options.format as Format
  demand(formats.includes(format), 'call', `"${options.format}" is no format; choose ${formats.join(', ')}.`)
  demand(
    format === 'png' || hasFfmpeg(),
    'ffmpeg.none',
    'Movie files need ffmpeg, which is not installed here; install it, or choose png.',
  )
  const opened = await openPackage(path)
  const { template } = opened
  timingOf(template, options.frames)
  const sheet = readRows(template, data, options.sheet)
  const rows = options.rows === undefined ? sheet.rows.map((_, i) => i + 1) : parseRows(options.rows, sheet.rows.length)
  const settings = {
    format,
    pattern: options.name,
    ...(options.frames === undefined ? {} : { frames: options.frames }),
  }

  const work = mkdtempSync(join(tmpdir(), 'hoja-'))
  const files = new FileStore(join(work, 'files'))
  for (const entry of carriedBy(template)) files.put(opened.files[entry.file]!)
  const source = { kind: 'stored' as const, document: files.put(JSON.stringify(template)), files: files.folder }
  const pool = new Pool()
  const progress = new Progress(rows.length, options.json === true)
  const taken = new Set<string>()
  let held = 0
  try {
    mkdirSync(options.out, { recursive: true })
    const named = rows.map((row) => ({
      row,
      name: nameFrom(options.name, row, valuesOf(template, sheet.match, rowAt(sheet, row)).values, taken),
    }))
    // A few more than there are threads, so that none waits; not all, so that memory stays flat.
    let next = 0
    const lane = async () => {
      for (let at = next++; at < named.length; at = next++) {
        const { row, name } = named[at]!
        const result = await pool.run<'render'>({
          kind: 'render',
          source,
          match: sheet.match,
          row: rowAt(sheet, row),
          n: row,
          settings,
          root: join(work, 'finished'),
        })
        if (result.state === 'held') {
          held++
          progress.row(row, name, 'held', result.findings.map((f) => f.message).join(' '))
        } else {
          for (const [file, bytes] of titleFiles(join(work, 'finished'), result.finished, name))
            write(join(options.out, file), bytes)
          rmSync(join(work, 'finished', result.finished.key.slice(0, 2), result.finished.key), {
            recursive: true,
            force: true,
          })
          progress.row(row, name, 'done')
        }
      }
    }
    await Promise.all(Array.from({ length: pool.threads }, lane))
    progress.end(held)
    return held > 0 ? 1 : 0
  } finally {
    await pool.close()
    rmSync(work, { recursive: true, force: true })
  }
}

const made = new Set<string>()

function write(path: string, bytes: Uint8Array): void {
  const folder = dirname(path)
  if (!made.has(folder)) {
    mkdirSync(folder, { recursive: true })
    made.add(folder)
  }
  try {
    writeFileSync(`${path}.part`, bytes)
    renameSync(`${path}.part`, path)
  } catch (error) {
    rmSync(`${path}.part`, { force: true })
    const full = (error as NodeJS.ErrnoException).code === 'ENOSPC'
    throw full
      ? new Refusal('disk', `The disk is full; make room and render again: "${path}" could not be written.`)
      : error
  }
}

/** A line that renews itself on a terminal; lines of JSON, or of plain text, elsewhere. */
class Progress {
  private done = 0
  private readonly started = performance.now()

  constructor(
    private readonly total: number,
    private readonly json: boolean,
  ) {}

  row(row: number, name: string, state: 'done' | 'held', reason = ''): void {
    this.done++
    if (this.json)
      console.log(
        JSON.stringify({ row, name, state, ...(reason ? { reason } : {}), done: this.done, total: this.total }),
      )
    else if (state === 'held') this.line(`row ${row} was held: ${reason}`)
    if (!this.json && process.stderr.isTTY) {
      const left = ((performance.now() - this.started) / this.done) * (this.total - this.done)
      const bar = '█'.repeat(Math.round((this.done / this.total) * 30)).padEnd(30, '░')
      process.stderr.write(`\r${bar} ${this.done} of ${this.total}, ${Math.ceil(left / 1000)} s left \u001b[K`)
    }
  }

  private line(text: string): void {
    process.stderr.write(`${process.stderr.isTTY ? '\r\u001b[K' : ''}${text}\n`)
  }

  end(held: number): void {
    const seconds = ((performance.now() - this.started) / 1000).toFixed(1)
    if (!this.json)
      this.line(
        `${this.total - held} of ${this.total} titles rendered in ${seconds} s${held ? `, ${held} held by their checks` : ''}.`,
      )
  }
}
