import { asRunCsv, type Channel, frameAt, layerPhase, stageOf, upOn } from '@hoja/core/air'
import { api, type ChannelSummary } from '@hoja/core/api'
import { Refusal } from '@hoja/core/refusal'
import { parseRate } from '@hoja/core/time'
import { Router } from 'express'
import type { ChannelRow } from '../store/channels.ts'
import type { Context } from './context.ts'
import { eventStream, lastHeard } from './eventStream.ts'
import { build } from './pages.ts'
import { serving } from './serving.ts'

/** Minutes that the clock on the wall is ahead of UTC. */
const offset = (): number => -new Date().getTimezoneOffset()

/** ms between two signs of life: who hears none for longer knows that the line is cut, though nobody said so. */
const beatEvery = 4000

/** Channels: what is up, what is done to them, and what was. */
export function airRoutes({ store, air }: Context): Router {
  const routes = Router()
  const serve = serving(routes)

  const summary = ({ name, title, production }: ChannelRow): ChannelSummary => {
    const channel = air.channel(name)
    const { width, height, rate, rehearsal } = channel
    const stage = stageOf(channel)
    const frame = frameAt(channel, Date.now())
    return {
      name,
      title,
      production,
      width,
      height,
      rate,
      layers: channel.layers.map(({ id, name: called }) => ({
        id,
        name: called,
        phase: layerPhase(channel, stage, id, frame),
        item: upOn(channel, stage, id, frame)?.item ?? null,
      })),
      next: stage.next ?? null,
      rehearsing: rehearsal !== undefined,
      pages: air.pages(name),
    }
  }

  serve(api.channels, () => store.channels.list().map(summary))
  serve(api.newChannel, ({ name, title, production, width, height, rate, layers }) => {
    if (production !== undefined) store.productions.get(production)
    const named = layers.map((layer, i) => ({ id: `l${i + 1}`, name: layer }))
    air.add({ name, title, production: production ?? null }, { width, height, rate: parseRate(rate), layers: named })
    return summary(store.channels.get(name))
  })
  serve(api.channel, ({ channel: name }) => ({
    ...summary(store.channels.get(name)),
    state: air.channel(name),
    now: Date.now(),
    offset: offset(),
    found: air.found(name),
  }))
  serve(api.removeChannel, ({ channel }) => air.remove(channel))

  const told = async (name: string, asked: unknown) => {
    const { n, frame } = await air.ask(name, asked)
    return { n, frame }
  }
  serve(api.askChannel, ({ channel }, { request }) =>
    told(channel, (request.body as { command?: unknown } | undefined)?.command),
  )
  serve(api.cue, ({ channel: name, item, place, step }) =>
    told(name, { kind: 'cue', item: cued(air.channel(name), { item, place, step }) }),
  )
  serve(api.take, ({ channel, item, anyway }) => told(channel, { kind: 'take', item, anyway }))
  serve(api.takeOut, ({ channel, layer }) => told(channel, { kind: 'out', layer }))
  serve(api.updateUp, ({ channel, layer, cells, anyway }) => told(channel, { kind: 'update', layer, cells, anyway }))
  serve(api.cut, ({ channel, layer }) => told(channel, { kind: 'cut', layer }))
  serve(api.clear, ({ channel }) => told(channel, { kind: 'clear' }))

  serve(api.airNews, ({ channel: name }, { request, response }) => {
    // What a listener missed is told before anything new.
    const heard = lastHeard(request)
    const missed = heard === undefined ? undefined : air.since(name, heard)
    const state = air.channel(name)
    let stop = () => {}
    const send = eventStream(request, response, () => stop())
    const watch = air.watch(name, (news) => send(news, news.kind === 'command' ? news.numbered.n : undefined))
    const beat = setInterval(() => send({ kind: 'here' }), beatEvery)
    stop = () => {
      clearInterval(beat)
      watch.stop()
    }
    if (missed) {
      for (const numbered of missed) send({ kind: 'command', numbered }, numbered.n)
      send({ kind: 'listener', listener: watch.listener, build })
    } else send({ kind: 'state', state, now: Date.now(), offset: offset(), listener: watch.listener, build }, state.n)
    send({ kind: 'found', found: air.found(name) })
    send({ kind: 'pages', pages: air.pages(name) })
  })
  serve(api.airPages, ({ channel, listener, pages }) => air.setPages(channel, listener, pages))
  serve(api.airClock, ({ channel }) => {
    store.channels.get(channel)
    return { now: Date.now(), offset: offset() }
  })
  serve(api.asRun, ({ channel, most }) => store.channels.asRun(channel, most))
  serve(api.asRunCsv, ({ channel }, { response }) => {
    response
      .attachment(`${channel} as run.csv`)
      .type('text/csv')
      .send(`\ufeff${asRunCsv(store.channels.asRun(channel).reverse())}`)
  })
  return routes
}

/** The title that is meant to be the next one. @throws Refusal when it is not told, or not there */
function cued(
  channel: Channel,
  { item, place, step }: { item?: string | undefined; place?: number | undefined; step?: number | undefined },
): string {
  if (item !== undefined) return item
  const { list } = channel
  const at = list.findIndex(({ id }) => id === stageOf(channel).next)
  const index =
    place !== undefined ? place - 1 : step !== undefined ? (at < 0 && step < 0 ? list.length : at) + step : -1
  const found = list[index]
  if (found) return found.id
  throw new Refusal(
    'air.none',
    place === undefined && step === undefined
      ? 'Say which title is the next one: its id, its place, or a step.'
      : `The running list has ${list.length} titles; there is none there.`,
    place === undefined && step === undefined ? 400 : 404,
  )
}
