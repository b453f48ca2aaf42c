import { createReadStream } from 'node:fs'
import { statfs } from 'node:fs/promises'
import { join, resolve } from 'node:path'
import { api } from '@hoja/core/api'
import type { Row } from '@hoja/core/data'
import {
  formatIds,
  type ManifestEntry,
  manifestCsv,
  manifestJson,
  outputFormats,
  settingsByShape,
} from '@hoja/core/output'
import { Refusal } from '@hoja/core/refusal'
import { shapeNamed } from '@hoja/core/template'
import { type Response, Router } from 'express'
import { sheetName } from '../render/contactSheet.ts'
import { decodedFrame, isDecodable, keptAlpha } from '../render/decoded.ts'
import {
  conformLists,
  type Delivered,
  manifestOf,
  piecesOf,
  sidecarOf,
  titleFiles,
  titlePath,
} from '../render/deliver.ts'
import { hasFfmpeg } from '../render/ffmpeg.ts'
import { finishedFolder, readFinished } from '../render/finished.ts'
import { asFile } from '../render/movieIn.ts'
import { type Zipped, zipFiles } from '../render/zip.ts'
import type { Order, OutputRow, TitleRow } from '../store/outputs.ts'
import type { Context } from './context.ts'
import { eventStream } from './eventStream.ts'
import { flattenedFiles } from './flattened.ts'
import { checkOrder, heldBeside, orderRows, usedNow } from './outputOrders.ts'
import { againOf, programmeRoutes } from './programmes.ts'
import { serving } from './serving.ts'

/** Width of a movie's frame that is looked at, px: for a screen of twice as many as it is drawn on. */
const looked = 680

export function outputRoutes(context: Context): Router {
  const { store, queue } = context
  const routes = Router()
  const serve = serving(routes)
  const { outputs, sheets, templates } = store

  /** What an output is of: a sheet, a programme, or nothing but parts. */
  const belongingOf = ({ sheet, programme }: OutputRow) => {
    const of = sheet !== null ? sheets.get(sheet) : programme === null ? undefined : store.programmes.about(programme)
    return { sheetName: of?.name ?? null, production: of?.production ?? null }
  }
  const shapeNameOf = ({ version, settings: { shape } }: OutputRow): string =>
    shape === undefined ? '' : shapeNamed(templates.published(templates.version(version)), shape).name
  const described = (output: OutputRow) => {
    const version = templates.version(output.version)
    const [newest] = templates.versions(version.template)
    return {
      ...output,
      ...belongingOf(output),
      template: version.template,
      number: version.number,
      shapeName: shapeNameOf(output),
      newest: newest ? { id: newest.id, number: newest.number } : null,
    }
  }
  const whole = (output: OutputRow) => {
    const titles = outputs.titles(output.id)
    return {
      ...described(output),
      titles: titles.map((title) => ({ ...title, file: titlePath(output.settings, title.name) })),
      progress: queue.progress(output, titles),
      log: outputs.lines(output.id, 60),
    }
  }
  /** An order put into the queue. */
  const begun = (order: Order, revision?: number) => {
    const output = outputs.add(order, revision)
    queue.wake()
    return described(output)
  }
  const finishedOf = (title: TitleRow) => {
    if (!title.result) throw new Refusal('output.unfinished', `Row ${title.row} is not rendered yet.`, 404)
    const finished = readFinished(store.finished, title.result)
    if (!finished)
      throw new Refusal(
        'output.gone',
        `What row ${title.row} was rendered to is not in the data folder any more; render it again.`,
        404,
      )
    return finished
  }

  routes.use(programmeRoutes(context, begun))
  serve(api.outputs, () => {
    return outputs.list().map(described)
  })
  serve(api.formats, () => {
    const ready = hasFfmpeg()
    return formatIds.map((format) => ({
      format,
      ...outputFormats[format],
      ready: ready || !outputFormats[format].encoder,
    }))
  })
  /** The folders in which others may be kept current. */
  /** What is free where finished titles lie. */
  serve(api.room, async () => {
    const { bavail, blocks, bsize } = await statfs(store.folder)
    return { free: bavail * bsize, total: blocks * bsize }
  })
  serve(api.keepRoots, () => {
    return Object.entries(context.keeper.roots).map(([name, path]) => ({ name, path: resolve(path) }))
  })
  serve(api.render, async (input) => {
    const { sheet: sheetId, ...asked } = input
    const sheet = sheets.get(sheetId)
    const template = templates.published(templates.version(sheet.version))
    const orders: Order[] = []
    // All of them can be, or none is begun.
    for (const settings of settingsByShape(asked, template)) {
      if (settings.keep) context.keeper.check(settings.keep)
      orders.push(await orderRows(context, sheet, sheet.version, settings))
    }
    const [first, ...others] = orders.map((order) => begun(order, order.settings.keep ? sheet.revision : undefined))
    return { ...first!, also: others.map(({ id }) => id) }
  })
  serve(api.output, (input) => {
    return whole(outputs.get(input.id))
  })
  serve(api.removeOutput, (input) => {
    outputs.remove(input.id)
    store.tidy.soon()
    return
  })
  serve(api.stop, (input) => {
    const output = input.id
    outputs.stop(output)
    queue.abort(output)
    queue.tell(output)
    return described(outputs.get(output))
  })
  serve(api.pause, (input) => {
    const output = input.id
    outputs.pause(output)
    return described(outputs.get(output))
  })
  serve(api.goOn, (input) => {
    const output = input.id
    outputs.goOn(output)
    queue.wake()
    return described(outputs.get(output))
  })
  serve(api.setPriority, async (input) => {
    const output = input.id
    const { priority } = input
    outputs.setPriority(output, priority)
    return described(outputs.get(output))
  })
  /** Tries again what did not come out: all of it, or one row. */
  serve(api.retry, async (input) => {
    const output = outputs.get(input.id)
    const { row } = input
    const rows = currentRows(context, output)
    const held = await heldBeside(context, output)
    outputs.retry(output.id, rows, held, row)
    queue.wake()
    return described(outputs.get(output.id))
  })
  /** The same order again, of the rows as they are now, on the newest version. */
  serve(api.renderAgain, async (input) => {
    const before = outputs.get(input.id)
    const { template } = templates.version(before.version)
    const newest = templates.versions(template)[0]!
    const { settings } = before
    if (before.programme !== null) return begun(await againOf(context, before))
    if (before.sheet === null) {
      checkOrder(context, settings, templates.published(newest))
      const parts = outputs.partsOf(before.id)
      const titles = outputs.titles(before.id).map(({ row, name }) => {
        const only = parts.get(row)
        return { n: row, name, row: { cells: {} }, ...(only ? { only } : {}) }
      })
      return begun({ ...before, version: newest.id, used: await usedNow(), titles })
    }
    // A folder has one output that keeps it.
    const { keep: _, ...once } = settings
    return begun(await orderRows(context, sheets.get(before.sheet), newest.id, once))
  })
  /** Progress as server-sent events. Each event is the whole state, so a reconnect misses nothing. */
  serve(api.outputNews, (input, { request, response }) => {
    const own = input.id
    // A large output is told less often: each event is all of it.
    const every = 200 + outputs.titles(own).length / 10
    outputs.get(own)
    let timer: NodeJS.Timeout | undefined
    let isBehind = false
    let stop = () => {}
    const tell = eventStream(request, response, () => {
      stop()
      clearTimeout(timer)
    })
    const send = () => {
      timer = undefined
      const told = whole(outputs.get(own))
      isBehind = told.progress.before > 0
      tell(told)
    }
    send()
    stop = queue.onChange((output) => {
      if (output === own) timer ??= setTimeout(send, every)
      // What waits for others hears, now and then, how many there still are.
      else if (isBehind) timer ??= setTimeout(send, 1000 + every)
    })
  })
  /** Everything that is finished, and the manifest of it. */
  serve(api.zip, async (input, { response }) => {
    const output = outputs.get(input.id)
    const { template, number: version } = templates.version(output.version)
    const titles = outputs
      .titles(output.id)
      .flatMap((title) => (title.result ? [{ title, finished: finishedOf(title) }] : []))
    if (titles.length === 0)
      throw new Refusal('zip.empty', 'No title of this output is rendered yet; wait for the first one.', 409)
    response.attachment(`${template}-${output.id}.zip`).type('application/zip')
    const manifest = titles.flatMap(({ title, finished }) => manifestOf(finished, title.row, title.name, version))
    const beside = output.settings.parts
      ? await flattenedFiles(context, output)
      : await filesBeside(context, output, manifest)
    const files = function* (): Generator<Zipped> {
      yield { path: 'manifest.csv', bytes: Buffer.from(manifestCsv(manifest)) }
      yield { path: 'manifest.json', bytes: Buffer.from(manifestJson(manifest, { template, version })) }
      yield* beside
      for (const entry of manifest) {
        const sidecar = sidecarOf(entry, output.settings.timecode)
        if (sidecar) yield { path: sidecar.path, bytes: Buffer.from(sidecar.text) }
      }
      for (const { title, finished } of titles) yield* titleFiles(store.finished, finished, title.name)
    }
    await zipFiles(files(), response)
  })
  /** A file of one title, by its number: to look at, or (`download`) to keep. A sequence is fetched with the others. */
  serve(api.madeFile, (input, { response }) => {
    const title = outputs.title(input.id, input.row)
    const finished = finishedOf(title)
    if (finished.files.some(({ sequence }) => sequence))
      throw new Refusal('output.sequence', 'A sequence is many files; fetch the output as a zip.', 404)
    const delivered = [...titleFiles(store.finished, finished, title.name)][input.file]
    if (!delivered) throw new Refusal('output.file', `Row ${title.row} has no such file.`, 404)
    if (input.download !== undefined) response.attachment(delivered.path.split('/').pop()!)
    else response.type(delivered.path.endsWith('.apng') ? 'image/apng' : delivered.path.replace(/^.*\./, ''))
    response.sendFile(resolve(delivered.from), { dotfiles: 'allow' })
  })
  /** What a title was made into: how many frames, and its files. */
  serve(api.made, (input) => {
    const { frames, pictures, rate, files } = finishedOf(outputs.title(input.id, input.row))
    return {
      frames,
      pictures,
      rate,
      files: files.map(({ suffix, bytes, frames: own, sequence }) => ({
        suffix,
        bytes,
        frames: own,
        isSequence: sequence !== undefined,
      })),
    }
  })
  /** A frame as it was written, as PNG: out of a sequence, or decoded from a movie (the one that `file` counts to). */
  serve(api.madeFrame, async (input, { response }) => {
    const output = outputs.get(input.id)
    const title = outputs.title(output.id, input.row)
    const { key, files, rate, format } = finishedOf(title)
    const file = files[input.file ?? 0]
    if (!file || !isDecodable(format))
      throw new Refusal('output.file', `Row ${title.row} has no such movie or sequence; fetch its file.`, 404)
    const { frames, sequence } = file
    const frame = Number(input.frame)
    if (!Number.isInteger(frame) || frame < 0 || frame >= frames)
      throw new Refusal(
        'frame.range',
        `Frame ${input.frame} does not exist: the title has frames 0 to ${frames - 1}.`,
        404,
      )
    const from = join(finishedFolder(store.finished, key), file.file)
    const alpha = keptAlpha(format, output.settings)
    if (sequence) {
      const part = { path: '', from, ...sequence.pictures[sequence.frames[frame]!]! }
      const { pictures = '.png' } = outputFormats[format]
      if (pictures === '.png') return sendPart(response, part)
      const one = { frame: 0, rate, alpha, width: looked }
      const bytes = Buffer.concat([...piecesOf(part)])
      response.type('png').send(await asFile(bytes, `picture${pictures}`, (path) => decodedFrame(path, one)))
      return
    }
    response.type('png').send(await decodedFrame(from, { frame, rate, alpha, width: looked }))
  })
  return routes
}

/** The rows of an output as they are now, from 1; of a programme, as they were ordered. */
function currentRows({ store }: Pick<Context, 'store'>, { id, sheet, settings }: OutputRow) {
  if (settings.parts) return (): Row => ({ cells: {} })
  if (sheet === null) {
    const rows = new Map(store.outputs.contents(id).map(({ n, row }) => [n, row]))
    return (n: number) => rows.get(n)
  }
  const rows = store.sheets.rows(sheet)
  return (n: number) => rows[n - 1]
}

/** What is asked for about all titles of an output together. */
async function filesBeside(context: Context, output: OutputRow, manifest: ManifestEntry[]): Promise<Zipped[]> {
  const { store } = context
  const { settings, sheet, programme, match } = output
  const files: Zipped[] = []
  if (settings.conform) {
    const name = sheet === null ? store.programmes.about(programme!).name : store.sheets.get(sheet).name
    const lists = conformLists(manifest, { name, match, timecode: settings.timecode }, currentRows(context, output))
    for (const { path, text } of lists) files.push({ path, bytes: Buffer.from(text) })
  }
  if (settings.contactSheet)
    for (const [path, bytes] of await contactSheetsOf(context, output)) files.push({ path, bytes })
  return files
}

/** Pictures of an output's finished titles, by what they are called. */
export async function contactSheetsOf(
  { store, jobs }: Pick<Context, 'store' | 'jobs'>,
  output: OutputRow,
): Promise<Map<string, Uint8Array>> {
  const { settings, match, pictures, version } = output
  const { document } = store.templates.version(version)
  const source = { kind: 'stored' as const, document, files: store.files.folder, pictures }
  const titles = store.outputs.contents(output.id).filter(({ state }) => state === 'done')
  const sheets = await jobs.run<'contactSheets'>({ kind: 'contactSheets', source, settings, match, titles })
  return new Map(sheets.map((picture, page) => [sheetName(page), picture]))
}

function sendPart(response: Response, { from, at, length }: Delivered): void {
  createReadStream(from, { start: at, end: at + length - 1 }).pipe(response.type('png'))
}
