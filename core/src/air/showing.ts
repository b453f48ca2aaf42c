import { LastFew } from '../cache/index.ts'
import { type Cells, matchByKey, saysAbout, valuesOf } from '../data/index.ts'
import type { Timing } from '../motion/index.ts'
import type { DrawList } from '../paint/index.ts'
import { ChangingTitle, type Layout, type Posed, type RunsShown, type Scene } from '../scene/index.ts'
import type { Values } from '../template/index.ts'
import { clockText, wallClock } from './clock.ts'
import type { AirItem } from './description.ts'
import { withLive } from './live.ts'
import { type Run, runAt } from './run.ts'
import { type Channel, momentOf, type Stage, type Up } from './state.ts'

/** What draws a channel's titles. */
export interface AirScenes {
  /** The scene of a version for the channel's frame; undefined: not there yet. */
  sceneOf(version: number): Scene | undefined
  /** Minutes that the clock on the server's wall is ahead of UTC. */
  offset: number
}

/** A title of a layer at a frame. */
export interface Shown {
  /** The command that took it. */
  n: number
  layer: string
  /** Differs when the picture does. */
  key: string
  list: DrawList
}

/** Fillings by their texts and the second: what is said over and over is made once. */
const keepFillings = 64

/** A title that is up, as one client has followed it. */
class Followed {
  private title: ChangingTitle
  /** Number of the last change that was taken in. */
  private last = 0
  private readonly values = new LastFew<string, Values>(keepFillings)

  constructor(
    private readonly channel: Pick<Channel, 'rate'>,
    readonly scene: Scene,
    up: Up,
    private readonly wall: Pick<AirScenes, 'offset'>,
  ) {
    this.title = ChangingTitle.of(scene, this.filling(up, up.cells))
  }

  /** Texts as a filling of the title: clocks go on in it. @param of the title when they came: its live fields are its own */
  private filling({ live, began }: Up, cells: Cells): (frame: number) => Values {
    const { template } = this.scene
    const clocks = Object.entries(live).flatMap(([key, binding]) => {
      const field = template.fields.find((one) => one.key === key)
      return binding.kind === 'clock' && field ? [{ key, binding, type: field.type }] : []
    })
    const match = matchByKey(template)
    const make = (own: Cells, now: string) =>
      valuesOf(template, match, { cells: own, about: { now, row: 1, rows: 1 } }).values
    if (clocks.length === 0 && !saysAbout(template)) {
      const values = make(cells, '')
      return () => values
    }
    return (frame) => {
      const ms = momentOf(this.channel, began + frame)
      const { offset } = this.wall
      const at = { now: ms, offset, taken: momentOf(this.channel, began) }
      const said = clocks.map(({ key, binding, type }) => [key, clockText(binding, type, at)] as const)
      const own = said.length > 0 ? { ...cells, ...Object.fromEntries(said) } : cells
      const now = wallClock(ms, offset)
      const name = JSON.stringify([own, now])
      let values = this.values.get(name)
      if (!values) {
        values = make(own, now)
        this.values.set(name, values)
      }
      return values
    }
  }

  private timing(up: Up): Timing {
    const out = up.out === undefined ? undefined : up.out - up.began
    return this.scene.open(this.title.layout(0), out)
  }

  /** The title at a frame of the channel. */
  posed(up: Up, frame: number): Posed {
    const timing = this.timing(up)
    for (const change of up.changes) {
      if (change.n <= this.last) continue
      this.last = change.n
      this.title = this.title.changed(this.filling(up, change.cells), change.frame - up.began, timing)
    }
    const own = Math.max(0, Math.min(frame - up.began, timing.total - 1))
    return this.title.posed(timing, own, (layout) => this.runs(layout, up.run, frame))
  }

  /** What is in sight of the endless runs of a title. */
  private runs(layout: Layout, run: Run | undefined, frame: number): RunsShown | undefined {
    const [strip] = this.scene.endless(layout)
    if (!run || !strip) return undefined
    const { placed, gone } = runAt(run, frame)
    const items = placed.map(({ texts, at, size }) => ({ texts, along: gone - at, size }))
    const key = `${gone} ${placed.map(({ id, at }) => `${at}:${id}`).join()}`
    return { key, items: new Map([[strip.index, this.scene.runItems(layout, strip, items)]]) }
  }
}

/** The titles of a stage as they are drawn, followed from frame to frame. */
export class AirTitles {
  private readonly followed = new Map<number, Followed>()

  constructor(private readonly scenes: AirScenes) {}

  /** What a stage shows at a frame, lowest first; a title whose scene is not there yet is left out. */
  shown(channel: Channel, stage: Stage, frame: number): Shown[] {
    const all: Shown[] = []
    const there = new Set<number>()
    for (const { id: layer } of channel.layers)
      for (const up of stage.layers[layer] ?? []) {
        there.add(up.n)
        const design = channel.designs[up.version]!
        if (frame < up.began || (up.out !== undefined && frame >= up.out + design.out)) continue
        const posed = this.posed(channel, up, frame)
        if (posed) all.push({ n: up.n, layer, key: `${up.n} ${posed.key}`, list: posed.drawList() })
      }
    for (const n of this.followed.keys()) if (!there.has(n)) this.followed.delete(n)
    return all
  }

  /** What the next title will look like when it stands, over what is up on other layers. */
  next(channel: Channel, stage: Stage, frame: number): Shown[] {
    const item = channel.list.find(({ id }) => id === stage.next)
    const scene = item && this.scenes.sceneOf(item.version)
    if (!item || !scene) return this.shown(channel, stage, frame)
    const others = this.shown(channel, stage, frame).filter(({ layer }) => layer !== item.layer)
    const at = { now: momentOf(channel, frame), offset: this.scenes.offset }
    const layout = scene.layout(valuesOfItem(channel, item, scene, at))
    const timing = scene.timing(layout)
    const posed = scene.posed(layout, timing, scene.settled(layout, timing))
    const own: Shown = { n: 0, layer: item.layer, key: `${item.id} ${posed.key}`, list: posed.drawList() }
    const order = channel.layers.map(({ id }) => id)
    return [...others, own].sort((a, b) => order.indexOf(a.layer) - order.indexOf(b.layer))
  }

  private posed(channel: Channel, up: Up, frame: number): Posed | undefined {
    const scene = this.scenes.sceneOf(up.version)
    if (!scene) return undefined
    let followed = this.followed.get(up.n)
    if (followed?.scene !== scene) {
      followed = new Followed(channel, scene, up, this.scenes)
      this.followed.set(up.n, followed)
    }
    return followed.posed(up, frame)
  }
}

/**
 * What a title of the running list would say if it were taken at a moment: what its preview shows.
 * @param at ms of the epoch, minutes that the wall is ahead of UTC; `taken`: when it was, if it is up already
 */
export function valuesOfItem(
  channel: Channel,
  item: Pick<AirItem, 'cells' | 'live'>,
  { template }: Scene,
  { now, offset, taken = now }: { now: number; offset: number; taken?: number },
): Values {
  const clocks = Object.entries(item.live).flatMap(([key, binding]) => {
    const field = template.fields.find((one) => one.key === key)
    return binding.kind === 'clock' && field ? [[key, clockText(binding, field.type, { now, offset, taken })]] : []
  })
  const cells = { ...withLive(channel, item.cells, item.live), ...Object.fromEntries(clocks) }
  const about = { now: wallClock(now, offset), row: 1, rows: 1 }
  return valuesOf(template, matchByKey(template), { cells, about }).values
}
