import type { Channel, AirScenes as Scenes } from '@hoja/core/air'
import { address } from '@hoja/core/api'
import { templateFor } from '@hoja/core/output'
import { Scene } from '@hoja/core/scene'
import type { Template } from '@hoja/core/template'
import { loadAssets } from '../assets.ts'

/** ms after which a version that could not be fetched is asked for again. */
const againAfter = 1000

/** What draws the titles of a channel: each version for its frame, fetched once. */
export class AirScenes implements Scenes {
  private readonly scenes = new Map<number, Scene>()
  private readonly asked = new Set<number>()
  private readonly listeners = new Set<() => void>()

  constructor(
    private readonly frame: Pick<Channel, 'width' | 'height' | 'rate'>,
    private readonly wall: () => number,
  ) {}

  get offset(): number {
    return this.wall()
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  sceneOf = (version: number): Scene | undefined => {
    this.want(version)
    return this.scenes.get(version)
  }

  /** Fetches a version, so that its titles can be drawn as soon as they are taken. */
  want(version: number): void {
    if (this.asked.has(version)) return
    this.asked.add(version)
    this.load(version).catch(() => setTimeout(() => this.asked.delete(version), againAfter))
  }

  private async load(version: number): Promise<void> {
    const response = await fetch(address.version({ id: version }))
    if (!response.ok) throw new Error(response.statusText)
    const { content } = (await response.json()) as { content: Template }
    const { width, height, rate } = this.frame
    const template = templateFor({ size: { width, height }, rate }, content)
    this.scenes.set(version, new Scene(template, await loadAssets(template)))
    for (const listener of this.listeners) listener()
  }
}
