import { api, type Output } from '@hoja/core/api'
import { localMoment } from '@hoja/core/data'
import { safeName } from '@hoja/core/formats'
import { limits, most } from '@hoja/core/limits'
import { type OutputSettings, rowInOrder, withNow } from '@hoja/core/output'
import {
  clipMatch,
  clipRow,
  designFrom,
  drawnFor,
  emptyProgramme,
  firstWords,
  markerCsv,
  offTracks,
  type Placed,
  type Programme,
  programmeEdls,
  programmeOtio,
  programmeSrt,
  programmeVtt,
  type Rendered,
  type TitleClip,
  textList,
  titleOf,
  titlesOf,
} from '@hoja/core/programme'
import { demand, Refusal } from '@hoja/core/refusal'
import type { Patch } from '@hoja/core/session'
import { firstShape, shapesOf } from '@hoja/core/template'
import { frameOfTimecode, isDropFrame, parseRate } from '@hoja/core/time'
import { Router } from 'express'
import { zipSync } from 'fflate'
import { titlePath } from '../render/deliver.ts'
import { demandFfmpeg } from '../render/ffmpeg.ts'
import { readFinished } from '../render/finished.ts'
import type { Order, OutputRow } from '../store/outputs.ts'
import type { Context } from './context.ts'
import { cueSheet, designSources } from './cueSheet.ts'
import { id as idOf } from './errors.ts'
import { matchedPreview } from './matching.ts'
import { checkOrder, keysIn, usedNow } from './outputOrders.ts'
import { serving } from './serving.ts'
import { fieldJson, readOptions } from './sheets.ts'
import { withUpload } from './upload.ts'

const wrong = (what: string) => new Refusal('request', `The request is not right: ${what}.`, 400)

/** Changes as they come over the network. @throws Refusal */
function readPatches(value: unknown): { revision: number; patches: Patch[] } {
  const { revision, patches } = (value ?? {}) as { revision?: unknown; patches?: unknown }
  if (!Number.isInteger(revision)) throw wrong('revision must be a whole number')
  if (!Array.isArray(patches)) throw wrong('patches must be a list')
  for (const one of patches as Partial<Patch>[]) {
    const isPath = Array.isArray(one?.path) && one.path.every((key) => typeof key === 'string' || Number.isInteger(key))
    if (!isPath || (one.op !== 'put' && one.op !== 'remove'))
      throw wrong('a patch has an op, put or remove, and a path')
  }
  return { revision: revision as number, patches: patches as Patch[] }
}

const kinds = {
  otio: 'application/json',
  edl: 'text/plain',
  csv: 'text/csv',
  srt: 'application/x-subrip',
  vtt: 'text/vtt',
  txt: 'text/plain',
  pdf: 'application/pdf',
} as const

export function programmeRoutes(context: Context, begun: (order: Order) => Output): Router {
  const { store, jobs } = context
  const { programmes, productions, templates, outputs } = store
  const routes = Router()
  const serve = serving(routes)
  const publishedOf = (design: string) => templates.published(templates.version(Number(design)))

  /** What a document says of versions is what they say of themselves. */
  const checkDesigns = (next: Programme, before: Programme): void => {
    for (const [key, design] of Object.entries(next.designs)) {
      if (design === before.designs[key]) continue
      const version = templates.version(Number(key))
      const own = designFrom(next, version, templates.published(version))
      demand(
        JSON.stringify(own) === JSON.stringify({ ...own, ...design }),
        'programme.design',
        `What the programme says of "${own.name}" is not what its version ${version.number} says; load it again.`,
      )
    }
    if (next.clips === before.clips) return
    for (const [id, clip] of Object.entries(next.clips)) {
      if (clip === before.clips[id] || clip.kind !== 'title' || clip.shape === undefined) continue
      const template = publishedOf(clip.design)
      demand(
        shapesOf(template).some((shape) => shape.id === clip.shape),
        'programme.shape',
        `"${template.name}" has no shape "${clip.shape}".`,
      )
    }
  }

  serve(api.programmes, () => programmes.list())
  serve(api.newProgramme, ({ name, production, width, height, rate: rateText, start }) => {
    if (production !== undefined) productions.get(production)
    const rate = parseRate(rateText)
    const first = { at: frameOfTimecode(start, rate), drop: isDropFrame(start) }
    return programmes.add(emptyProgramme(name, { width, height, rate }, first), production ?? null)
  })
  /** What titles would be made of a list; nothing is kept. */
  serve(api.previewList, async (_input, { request, signal }) => {
    return withUpload(request, store.incoming, async ({ file, fields }) => {
      const version = templates.version(idOf(fields.version))
      const template = templates.published(version)
      const options = readOptions(fieldJson(fields.options, {}))
      const preview = await jobs.run<'previewData'>({ kind: 'previewData', file, options, template }, { signal })
      demand(
        preview.count <= limits.listRows.most,
        'list.long',
        `"${file.name}" has ${preview.count} rows; a list of titles has ${most('listRows')} or fewer.`,
      )
      const { rows } = await jobs.run<'readRows'>({ kind: 'readRows', file, options, template }, { signal })
      return { preview: matchedPreview(store, version, preview), rows }
    })
  })
  serve(api.programme, ({ id }) => programmes.get(id))
  serve(api.changeProgramme, ({ id }, { request }) => {
    const { revision, patches } = readPatches(request.body)
    return programmes.change(id, revision, patches, checkDesigns)
  })
  serve(api.removeProgramme, ({ id }) => {
    programmes.remove(id)
    store.tidy.soon()
  })

  /** A title as the row that an output renders: with what it is made among. */
  const rowOf = (settings: OutputSettings, programme: Programme, { id, clip }: Placed<TitleClip>) => {
    const all = titlesOf(programme)
    const template = publishedOf(clip.design)
    const place = [all.findIndex((one) => one.id === id) + 1, all.length] as const
    return rowInOrder(settings, template, clipMatch(template), clipRow(programme, clip), place)
  }

  /** The files of titles that are rendered as they are now, by clip: of the last output that has them. */
  const renderedOf = (id: number, programme: Programme): Rendered => {
    const found = new Map<string, { file: string; before: number; frames: number; start: number }>()
    for (const output of outputs.ofProgramme(id)) {
      const { settings } = output
      if (settings.review) continue
      const byKey = new Map(
        outputs
          .titles(output.id)
          .flatMap((title) => (title.result && title.state === 'done' ? [[title.result, title]] : [])),
      )
      const keyOf = keysIn(context, output)
      for (const title of titlesOf(programme)) {
        const { id: clipId, clip } = title
        if (found.has(clipId) || Number(clip.design) !== output.version) continue
        if ((settings.shape ?? firstShape) !== (clip.shape ?? firstShape)) continue
        const key = keyOf(rowOf(output.settings, programme, title))
        const made = byKey.get(key)
        const finished = made && readFinished(store.finished, key)
        if (!made || !finished) continue
        const start = settings.timecode ? frameOfTimecode(settings.timecode, programme.picture.rate) : 0
        found.set(clipId, {
          file: titlePath(settings, made.name),
          before: settings.handles?.before ?? 0,
          frames: finished.frames,
          start,
        })
      }
    }
    return found
  }

  serve(api.programmeAs, async ({ id, kind }, { response }) => {
    if (!Object.hasOwn(kinds, kind)) throw new Refusal('route', `A programme does not go out as ${kind}.`, 404)
    const { programme } = programmes.get(id)
    const name = safeName(programme.name)
    const send = (
      text: string | Uint8Array,
      ending: string = kind,
      type: string = kinds[kind as keyof typeof kinds],
    ) => {
      response
        .attachment(`${name}.${ending}`)
        .type(type)
        .send(typeof text === 'string' ? text : Buffer.from(text))
    }
    switch (kind as keyof typeof kinds) {
      case 'otio':
        return send(programmeOtio(programme, renderedOf(id, programme)))
      case 'csv':
        return send(markerCsv(programme, publishedOf))
      case 'srt':
        return send(programmeSrt(programme, publishedOf))
      case 'vtt':
        return send(programmeVtt(programme, publishedOf))
      case 'txt':
        return send(textList(programme, publishedOf))
      case 'pdf': {
        const sheet = await cueSheet(context, programme)
        return send(await jobs.run<'signOffPdf'>({ kind: 'signOffPdf', sheet }))
      }
      case 'edl': {
        const lists = programmeEdls(programme, renderedOf(id, programme))
        demand(lists.length > 0, 'programme.empty', 'There is no title in the programme yet; place one first.')
        if (lists.length === 1) return send(lists[0]!)
        const files = Object.fromEntries(lists.map((text, n) => [`${name}_${n + 1}.edl`, Buffer.from(text)]))
        return send(zipSync(files), 'zip', 'application/zip')
      }
    }
  })

  serve(api.programmeFrame, async ({ id, frame, now }, { response, signal }) => {
    const { programme } = programmes.get(id)
    const { folder: files } = store.files
    const sources = designSources(context, programme)
    const task = { kind: 'programmeFrame' as const, programme, frame, sources, files }
    const moment = now ?? localMoment(new Date())
    const picture = await jobs.run<'programmeFrame'>({ ...task, now: moment }, { signal })
    response.type('png').set('Cache-Control', 'no-store').send(Buffer.from(picture))
  })
  serve(api.renderProgramme, async ({ id, settings, clips }) => {
    const { programme } = programmes.get(id)
    const orders = await programmeOrders(context, id, programme, settings, clips)
    return orders.map(begun)
  })
  serve(api.reviewProgramme, async ({ id, timecode }) => begun(await reviewOrder(context, id, timecode)))
  return routes
}

/**
 * Orders of a programme's titles, each cut to its length: one for every template's version and shape among them. Titles that
 * share their words and their length are rendered once and lie under both names.
 * @param only clips; absent: all titles on tracks that are on
 * @throws Refusal when there is nothing to render, or it can't be
 */
export async function programmeOrders(
  context: Pick<Context, 'store' | 'jobs'>,
  id: number,
  programme: Programme,
  asked: OutputSettings,
  only?: readonly string[],
): Promise<Order[]> {
  const { templates } = context.store
  const off = offTracks(programme)
  for (const one of only ?? []) titleOf(programme, one)
  const wanted = new Set(only)
  const titles = titlesOf(programme).filter(({ id, clip }) => (only ? wanted.has(id) : !off.has(clip.track)))
  demand(titles.length > 0, 'programme.empty', 'There is no title to render; place one first.')
  const groups = new Map<string, typeof titles>()
  for (const title of titles) {
    const key = JSON.stringify([title.clip.design, title.clip.shape ?? null])
    const group = groups.get(key)
    if (group) group.push(title)
    else groups.set(key, [title])
  }
  const used = await usedNow()
  const taken = new Set<string>()
  const numbers = new Map(titlesOf(programme).map(({ id }, i) => [id, i + 1]))
  const { rows: _, changedOnly: __, keep: ___, shapes: ____, frames: _____, ...kept } = asked
  return [...groups.values()].map((group) => {
    const { design, shape } = group[0]!.clip
    const published = templates.version(Number(design))
    const template = templates.published(published)
    const settings = withNow({ ...kept, ...drawnFor(programme, shape) }, template)
    checkOrder(context, settings, template)
    const match = clipMatch(template)
    return {
      sheet: null,
      programme: id,
      version: published.id,
      match,
      pictures: [],
      settings,
      used,
      titles: group.map(({ id, clip }) => {
        const n = numbers.get(id)!
        const row = rowInOrder(settings, template, match, clipRow(programme, clip), [n, numbers.size])
        return { n, name: nameOf(n, firstWords(programme, clip), taken), row }
      }),
    }
  })
}

/** What a title's file is called: its number in the programme, and its first words. */
function nameOf(n: number, words: string, taken: Set<string>): string {
  const name = `${String(n).padStart(3, '0')}_${safeName(words).slice(0, 60)}`
  let own = name
  for (let k = 2; taken.has(own); k++) own = `${name}_${k}`
  taken.add(own)
  return own
}

/** The same titles of a programme again, as they are now. */
export async function againOf(context: Pick<Context, 'store' | 'jobs'>, before: OutputRow): Promise<Order> {
  const { programme } = context.store.programmes.get(before.programme!)
  const { review } = before.settings
  if (review) return reviewOrder(context, before.programme!, review.timecode)
  const orders = await programmeOrders(context, before.programme!, programme, before.settings)
  const same = orders.find(
    ({ version, settings }) => version === before.version && settings.shape === before.settings.shape,
  )
  if (!same) throw new Refusal('programme.empty', 'The programme has no title of that version any more.')
  return same
}

/**
 * A programme as it is now, as a movie to be looked at.
 * @param timecode whether it is burnt into the picture
 * @throws Refusal when it can't be made
 */
export async function reviewOrder(
  { store: { programmes, templates, assets } }: Pick<Context, 'store'>,
  id: number,
  timecode: boolean,
): Promise<Order> {
  demandFfmpeg()
  const { programme, name } = programmes.get(id)
  const designs = Object.keys(programme.designs)
  demand(designs.length > 0, 'programme.empty', 'There is no title in the programme yet; place one first.')
  const documents = Object.fromEntries(designs.map((design) => [design, templates.version(Number(design)).document]))
  return {
    sheet: null,
    programme: id,
    version: Number(designs[0]),
    match: {},
    pictures: [],
    settings: {
      format: 'mp4',
      review: { document: assets.addDocument(JSON.stringify({ programme, documents }), `${name}.json`), timecode },
      now: localMoment(new Date()),
    },
    used: await usedNow(),
    titles: [{ n: 1, name: safeName(`${name} review`), row: { cells: {} } }],
  }
}
