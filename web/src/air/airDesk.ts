import {
  type AirItem,
  type Asked,
  type Channel,
  phaseOf,
  type Stage,
  seenAs,
  stageOf,
  type Up,
  upOn,
} from '@hoja/core/air'
import type { Scene } from '@hoja/core/scene'
import { createContext, useContext, useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import { ApiError, api } from '../api.ts'
import { AirClient, type AirView } from '../preview/air/AirClient.ts'
import { AirScenes } from '../preview/air/AirScenes.ts'

/** What was refused because a check says stop: asked for again, it is done all the same. */
export interface Doubt {
  asked: Asked
  message: string
}

/** What the desk shows. */
export interface DeskView extends AirView {
  doubt: Doubt | undefined
  /** Differs when a title's scene has come in. */
  scenes: number
}

/** ms that a command may take until it is heard. */
const patience = 1500
/** ms within which two presses are one. */
const once = 300

/** One channel as an operator works with it: what is known of it, and what is asked of it. */
export class AirDesk {
  readonly client: AirClient
  private readonly loaded: { scenes: AirScenes | undefined } = { scenes: undefined }
  private readonly listeners = new Set<() => void>()
  private view: DeskView | undefined
  private doubt: Doubt | undefined
  private count = 0
  /** What is asked and not answered yet. */
  private asking = 0
  /** When a title was taken last. */
  private took = Number.NEGATIVE_INFINITY

  constructor(readonly name: string) {
    this.client = new AirClient(name, false)
    this.client.subscribe(() => this.changed())
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  get = (): DeskView | undefined => this.view

  /** What draws the channel's titles; there as soon as the channel is known. */
  get scenes(): AirScenes {
    return this.loaded.scenes!
  }

  sceneOf(version: number): Scene | undefined {
    return this.loaded.scenes?.sceneOf(version)
  }

  close(): void {
    this.client.close()
    this.listeners.clear()
  }

  private changed(): void {
    const known = this.client.get()
    if (!known) return
    if (!this.loaded.scenes) {
      this.loaded.scenes = new AirScenes(known.channel, () => this.client.offset)
      this.loaded.scenes.subscribe(() => {
        this.count++
        this.changed()
      })
    }
    this.view = { ...known, doubt: this.doubt, scenes: this.count }
    for (const listener of this.listeners) listener()
  }

  private setDoubt(doubt: Doubt | undefined): void {
    this.doubt = doubt
    this.changed()
  }

  /** Asks the server for something; what is refused is said. @returns whether it was done */
  async ask(asked: Asked): Promise<boolean> {
    this.asking++
    try {
      const { n } = await api.askChannel({ channel: this.name, command: asked })
      await this.heard(n)
      if (this.doubt) this.setDoubt(undefined)
      return true
    } catch (error) {
      if (error instanceof ApiError && error.code === 'air.stop') this.setDoubt({ asked, message: error.message })
      else toast.error((error as Error).message)
      return false
    } finally {
      this.asking--
      this.changed()
    }
  }

  /** Until the channel is here as it is after a command, or for as long as that should take at most. */
  private heard(n: number): Promise<void> {
    return this.until(() => (this.client.get()?.channel.n ?? 0) >= n)
  }

  private until(isSo: () => boolean): Promise<void> {
    if (isSo()) return Promise.resolve()
    return new Promise((done) => {
      const end = () => {
        clearTimeout(timer)
        stop()
        done()
      }
      const timer = setTimeout(end, patience)
      const stop = this.subscribe(() => isSo() && end())
    })
  }

  /**
   * Takes what is next, exactly as it was seen; when that was doubted, all the same. A press right behind one that took a title
   * is the same press: two would be on air one after the other, or one whose stop nobody has read.
   */
  async take(chosen?: AirItem): Promise<void> {
    const now = performance.now()
    if (now - this.took < once) return
    this.took = now
    // What was typed just before goes before it.
    await this.until(() => this.asking === 0)
    const item = chosen ?? this.next
    const { doubt } = this
    const isDoubted = doubt?.asked.kind === 'take' && doubt.asked.item === item?.id
    await this.ask({
      kind: 'take',
      ...(item ? { item: item.id, seen: seenAs(item) } : {}),
      ...(isDoubted ? { anyway: true } : {}),
    })
  }

  /** Does what was doubted all the same, or lets it be. */
  decide(anyway: boolean): void {
    const { doubt } = this
    this.took = Number.NEGATIVE_INFINITY
    this.setDoubt(undefined)
    if (anyway && doubt) void this.ask({ ...doubt.asked, anyway: true } as Asked)
  }

  /** What is next on the list. */
  get next(): AirItem | undefined {
    const { channel } = this.view ?? {}
    return channel && nextOf(channel)
  }
}

export const nextOf = (channel: Channel): AirItem | undefined =>
  channel.list.find(({ id }) => id === stageOf(channel).next)

/** The layers on which something is up, lowest first. */
export function upsOf(channel: Channel, stage: Stage, frame: number): { layer: string; name: string; up: Up }[] {
  return channel.layers.flatMap(({ id, name }) => {
    const up = upOn(channel, stage, id, frame)
    return up ? [{ layer: id, name, up }] : []
  })
}

/** A title that is just leaving; undefined: none is. */
export function leavingOf(channel: Channel, stage: Stage, frame: number): { name: string; up: Up } | undefined {
  for (const { id, name } of channel.layers)
    for (const up of stage.layers[id] ?? [])
      if (phaseOf(up, channel.designs[up.version]!, frame) === 'leaving') return { name, up }
  return undefined
}

/** How a title of the list stands: up, next, done, or waiting. */
export function standing(channel: Channel, item: AirItem, frame: number): 'up' | 'next' | 'done' | '' {
  const stage = stageOf(channel)
  const ups = stage.layers[item.layer] ?? []
  const up = ups.find((one) => one.item === item.id)
  if (up && phaseOf(up, channel.designs[up.version]!, frame) !== 'gone') return 'up'
  if (stage.next === item.id) return 'next'
  return stage.done.includes(item.id) ? 'done' : ''
}

/** What a title says in one line. */
export const lineOf = (said: readonly string[]): string => said.join(' · ').replace(/\s*\n\s*/g, ' / ')

export const DeskContext = createContext<AirDesk | undefined>(undefined)

export function useDesk(): AirDesk {
  return useContext(DeskContext)!
}

/** What a component needs of the desk; it is drawn again when that is another. */
export function useAir<T>(select: (view: DeskView) => T): T {
  const desk = useDesk()
  return useSyncExternalStore(desk.subscribe, () => select(desk.get()!))
}
