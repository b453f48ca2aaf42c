import type { Channel } from '@hoja/core/air'
import { AirBeat } from '../preview/air/AirBeat.ts'
import { AirClient } from '../preview/air/AirClient.ts'
import { AirPainter, type AirPart } from '../preview/air/AirPainter.ts'
import { AirScenes } from '../preview/air/AirScenes.ts'

/*
 * An output page: the picture of a channel in its own size, and nothing else. `?view=fill` shows it over black, `?view=key`
 * how much of it is seen, as white over black, `?view=next` what the next title will look like; `?layer=` one layer alone.
 */

const name = decodeURIComponent(location.pathname.split('/').filter(Boolean)[1] ?? '')
const asked = new URLSearchParams(location.search)
const view = asked.get('view')
const part: AirPart = view === 'fill' || view === 'key' || view === 'next' ? view : 'picture'
const layer = asked.get('layer') ?? undefined
if (part === 'fill' || part === 'key') document.body.style.background = '#000'

// A look at what is next shows nothing that is on air, and is not counted.
const client = new AirClient(name, part !== 'next')
const canvas = document.createElement('canvas')
const beat = new AirBeat()
let painter: AirPainter | undefined
let scenes: AirScenes | undefined
let known: Channel | undefined

/** What draws is made when the channel is known, and everything on its list is fetched before it is taken. */
function prepare(channel: Channel): void {
  if (!scenes) {
    canvas.width = channel.width
    canvas.height = channel.height
    scenes = new AirScenes(channel, () => client.offset)
    painter = new AirPainter(canvas, scenes, part, layer)
    document.body.append(canvas)
  }
  if (channel.list !== known?.list) for (const { version } of channel.list) scenes.want(version)
  known = channel
}

requestAnimationFrame(function show(time) {
  requestAnimationFrame(show)
  const { channel } = client.get() ?? {}
  if (!channel) return
  prepare(channel)
  // A newer Hoja may carry commands out otherwise: the page begins anew as soon as nothing is seen of it.
  if (client.isOlder && Object.keys(channel.air.layers).length === 0) {
    location.reload()
    return
  }
  // When the display began this frame, by the server's clock.
  const frame = beat.frame(channel, client.now() - (performance.now() - time))
  const drawn = painter!.draw(channel, channel.air, frame)
  if (drawn > 0) {
    // Which frame it is, when the display began it (ms of the epoch), and px that were drawn: for whoever looks into it.
    canvas.dataset.at = String(performance.timeOrigin + time)
    canvas.dataset.frame = String(frame)
    canvas.dataset.drawn = String(drawn)
  }
})
