import { createReadStream } from 'node:fs'
import { join } from 'node:path'
import { valuesOf } from '@hoja/core/data'
import { nameFrom } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import { Router } from 'express'
import { number } from 'yup'
import { hasFfmpeg } from '../render/encode.ts'
import { formatNotes, formats, settingsSchema } from '../render/settings.ts'
import { finishedFolder, readFinished } from '../render/unit.ts'
import { zipOutput } from '../render/zip.ts'
import type { OutputRow } from '../store/outputs.ts'
import type { Context } from './context.ts'
import { body, id } from './errors.ts'
import { eventStream } from './eventStream.ts'

export function outputRoutes({ store, queue }: Context): Router {
  const routes = Router()
  const { outputs, sheets, templates } = store

  const withSheet = (output: OutputRow) => {
    const sheet = sheets.get(output.sheet)
    const version = templates.version(output.version)
    return { ...output, sheetName: sheet.name, template: version.template, number: version.number }
  }

  routes.get('/', (_request, response) => {
    response.json(outputs.list().map(withSheet))
  })
  routes.get('/formats', (_request, response) => {
    response.json(
      formats.map((format) => ({ format, note: formatNotes[format], ready: format === 'png' || hasFfmpeg() })),
    )
  })
  routes.post('/', async (request, response) => {
    const { sheet: sheetId, ...settings } = await body(
      settingsSchema.shape({ sheet: number().integer().required() }),
      request,
    )
    if (settings.format !== 'png' && !hasFfmpeg())
      throw new Refusal(
        'ffmpeg.none',
        'Movie files need ffmpeg, which is not installed here; install it, or choose PNG.',
      )
    const sheet = sheets.get(sheetId)
    const template = templates.published(templates.version(sheet.version))
    const least = template.spans.in + template.spans.out
    if (settings.frames !== undefined && settings.frames < Math.max(1, least))
      throw new Refusal('duration.short', `${settings.frames} frames are too few: In and Out need ${least}.`)
    const rows = sheets.rows(sheetId)
    // A row that is switched off is rendered when it is asked for by its number.
    const numbers = settings.rows ?? rows.flatMap((row, i) => (row.off ? [] : [i + 1]))
    const outside = numbers.find((n) => n > rows.length)
    if (outside) throw new Refusal('output.row', `Row ${outside} does not exist; the sheet has ${rows.length}.`)
    if (numbers.length === 0) throw new Refusal('output.rows', 'Every row is switched off; switch one on to render it.')
    const taken = new Set<string>()
    const units = numbers.map((n) => {
      const row = rows[n - 1]!
      const { values } = valuesOf(template, sheet.match, row)
      return { n, row, name: nameFrom(settings.pattern, n, values, taken) }
    })
    const output = outputs.add(sheet, settings, units, sheets.pictures(sheetId))
    queue.wake()
    response.status(201).json(withSheet(output))
  })
  routes.get('/:id', (request, response) => {
    const output = outputs.get(id(request.params.id))
    response.json({ ...withSheet(output), units: outputs.units(output.id) })
  })
  routes.post('/:id/stop', (request, response) => {
    const output = id(request.params.id)
    outputs.stop(output)
    queue.abort(output)
    response.json(withSheet(outputs.get(output)))
  })
  routes.post('/:id/retry', (request, response) => {
    const output = outputs.get(id(request.params.id))
    const rows = sheets.rows(output.sheet)
    outputs.retry(output.id, (n) => rows[n - 1])
    queue.wake()
    response.json(withSheet(outputs.get(output.id)))
  })
  /** Progress as server-sent events. Each event is the whole state, so a reconnect misses nothing. */
  routes.get('/:id/events', (request, response) => {
    const own = id(request.params.id)
    // A large output is told less often: each event is all of it.
    const every = 200 + outputs.units(own).length / 10
    outputs.get(own)
    let timer: NodeJS.Timeout | undefined
    let stop = () => {}
    const tell = eventStream(request, response, () => {
      stop()
      clearTimeout(timer)
    })
    const send = () => {
      timer = undefined
      tell({ ...withSheet(outputs.get(own)), units: outputs.units(own) })
    }
    send()
    stop = queue.onChange((output) => {
      if (output === own) timer ??= setTimeout(send, every)
    })
  })
  routes.get('/:id/zip', async (request, response) => {
    const output = outputs.get(id(request.params.id))
    const name = `${templates.version(output.version).template}-${output.id}.zip`
    response.attachment(name).type('application/zip')
    await zipOutput(store.finished, output.settings.format, outputs.units(output.id), response)
  })
  /** One title's movie, or one frame of its sequence (`middle`: the one halfway). */
  routes.get('/:id/rows/:row/:frame', (request, response) => {
    const unit = outputs.unit(id(request.params.id), id(request.params.row))
    const finished = unit.result ? readFinished(store.finished, unit.result) : undefined
    if (!finished) throw new Refusal('output.unfinished', `Row ${unit.row} is not rendered yet.`, 404)
    const file = join(finishedFolder(store.finished, finished.key), finished.file)
    if (finished.format !== 'png') return void response.type(finished.format).sendFile(file, { dotfiles: 'allow' })
    const { frames } = finished
    const frame = request.params.frame === 'middle' ? Math.floor(frames.length / 2) : Number(request.params.frame)
    const place = finished.pictures[frames[frame] ?? -1]
    if (!place)
      throw new Refusal(
        'frame.range',
        `Frame ${request.params.frame} does not exist: the title has frames 0 to ${finished.frames.length - 1}.`,
        404,
      )
    createReadStream(file, { start: place.at, end: place.at + place.length - 1 }).pipe(response.type('png'))
  })
  return routes
}
