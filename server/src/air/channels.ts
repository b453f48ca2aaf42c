import { EventEmitter } from 'node:events'
import {
  type AirItem,
  type Asked,
  askedSchema,
  askedValues,
  type Channel,
  type ChannelFrame,
  type Command,
  carriedOut,
  cellsNow,
  demandLive,
  demandUp,
  designOfUp,
  emptyChannel,
  frameAt,
  itemOf,
  type LiveValue,
  layerMeant,
  momentOf,
  type Numbered,
  seenAs,
  stageOf,
  type Up,
  upOn,
  type ValueBinding,
  valueKey,
  withLive,
} from '@hoja/core/air'
import { LastFew } from '@hoja/core/cache'
import { type Cells, type Finding, localMoment } from '@hoja/core/data'
import { common } from '@hoja/core/paint'
import { Refusal } from '@hoja/core/refusal'
import { faultIn } from '@hoja/core/schema'
import { refusalOf } from '@hoja/core/template'
import type { Jobs } from '../jobs/jobs.ts'
import type { ReadyTitle } from '../jobs/tasks.ts'
import type { Source } from '../render/scenes.ts'
import type { Store } from '../store/index.ts'
import { asRunOf, leftBy } from './asRunOf.ts'

/** What those who watch a channel hear. */
export type AirNews =
  | { kind: 'command'; numbered: Numbered }
  /** How many output pages watch it. */
  | { kind: 'pages'; pages: number }
  /** What is found about titles of the list. */
  | { kind: 'found'; found: Record<string, Finding[]> }

/** How many checked titles are kept for each channel: a whole list, and what sources said of late. */
const keepReady = 2500
/** ms of the longest timer that is set; further ones are set again. */
const longestTimer = 2 ** 31 - 1

/** Title as it is checked and measured: of what it is, and what it says. */
const readyKey = ({ version, hold }: Pick<AirItem, 'version' | 'hold'>, cells: Cells) =>
  `${version} ${hold ?? ''} ${JSON.stringify(cells)}`

/** A title as it is looked at. */
type Titled = Pick<AirItem, 'version' | 'cells'> & { hold?: number | undefined }

class OpenChannel {
  readonly events = new EventEmitter().setMaxListeners(0)
  readonly ready = new LastFew<string, ReadyTitle>(keepReady)
  /** Output pages that hear, by listener. */
  readonly pages = new Map<number, number>()
  timer: NodeJS.Timeout | undefined
  /** When the next title leaves that is held for its time. */
  leaves: NodeJS.Timeout | undefined
  checking = false

  constructor(
    readonly name: string,
    public channel: Channel,
  ) {}
}

/**
 * What is on air: every channel as it stands. Commands are carried out one after another, each kept before anybody hears of
 * it, so that a server that is killed at any moment comes back to what was on air.
 */
export class AirChannels {
  private readonly open = new Map<string, OpenChannel>()
  private readonly asked = new EventEmitter().setMaxListeners(0)
  private closed = false
  private listeners = 0

  constructor(
    private readonly store: Store,
    private readonly jobs: Jobs,
  ) {
    for (const { name } of store.channels.list()) {
      const own = this.opened(name)
      this.logLeft(own)
      this.wait(own)
      void this.check(own)
    }
  }

  /** A channel as it stands. @throws Refusal, 404 */
  channel(name: string): Channel {
    return this.opened(name).channel
  }

  pages(name: string): number {
    return pagesOf(this.opened(name))
  }

  /** What is found about the titles of the list, as far as they were looked at. */
  found(name: string): Record<string, Finding[]> {
    return this.findings(this.opened(name))
  }

  add(row: { name: string; title: string; production: number | null }, frame: ChannelFrame): void {
    this.store.channels.add(row, emptyChannel(frame))
  }

  /** @throws Refusal while something is up */
  remove(name: string): void {
    const own = this.opened(name)
    const frame = this.now(own)
    const up = own.channel.layers.find(({ id }) => upOn(own.channel, own.channel.air, id, frame))
    if (up) throw new Refusal('air.state', `Something is up on ${up.name}; take it out first.`, 409)
    clearTimeout(own.timer)
    clearTimeout(own.leaves)
    this.open.delete(name)
    this.store.channels.remove(name)
    this.asked.emit('values')
  }

  /** Hears a channel's news. @returns the number that the listener is known by, and what ends that */
  watch(name: string, hear: (news: AirNews) => void): { listener: number; stop: () => void } {
    const own = this.opened(name)
    const listener = ++this.listeners
    own.events.on('news', hear)
    own.pages.set(listener, 0)
    return {
      listener,
      stop: () => {
        own.events.off('news', hear)
        const pages = own.pages.get(listener)
        own.pages.delete(listener)
        if (pages) this.tellPages(own)
      },
    }
  }

  /** How many output pages hear through a listener; one that is gone is not counted. */
  setPages(name: string, listener: number, pages: number): void {
    const own = this.opened(name)
    if (!own.pages.has(listener) || own.pages.get(listener) === pages) return
    own.pages.set(listener, pages)
    this.tellPages(own)
  }

  /** Hears when what is asked of sources may be other values. */
  onAsked(hear: () => void): void {
    this.asked.on('values', hear)
  }

  /** Every value asked of a source, with the channels that ask. */
  values(): { name: string; binding: ValueBinding }[] {
    return [...this.open.values()].flatMap(({ name, channel }) =>
      askedValues(channel).map((binding) => ({ name, binding })),
    )
  }

  /** The commands behind one; undefined when not all of them are kept any more. */
  since(name: string, n: number): Numbered[] | undefined {
    const { channel } = this.opened(name)
    if (n > channel.n) return undefined
    const commands = this.store.channels.since(name, n)
    return commands.length === channel.n - n ? commands : undefined
  }

  /**
   * Does what is asked of a channel.
   * @throws Refusal for what can't be, what is locked, and a title that must not go out, unless it is taken anyway
   */
  async ask(name: string, given: unknown): Promise<Numbered> {
    const own = this.opened(name)
    const fault = faultIn(askedSchema, given)
    if (fault) throw new Refusal('request', refusalOf(given, fault, 'The request is not right: '), 400)
    const asked = given as Asked
    const command = await this.command(own, asked)
    return this.carryOut(own, command)
  }

  /** What a source says now. */
  async say(name: string, { sheet, path }: ValueBinding, value: LiveValue): Promise<void> {
    const own = this.open.get(name)
    if (!own || this.closed) return
    const after = { ...own.channel, values: { ...own.channel.values, [valueKey({ sheet, path })]: value } }
    const runs: Record<number, NonNullable<ReadyTitle['run']>> = {}
    for (const stage of [after.air, after.rehearsal])
      for (const up of Object.values(stage?.layers ?? {}).flat()) {
        const cells = withLive(after, cellsNow(up), up.live, up.hand)
        if (!up.run || cells === cellsNow(up)) continue
        const { run } = await this.lookedAt(own, up, cells)
        if (run) runs[up.n] = run
      }
    this.carryOut(own, { kind: 'value', sheet, path, value, runs })
  }

  /** What a field would say by a source's text is found about it: sentences that say that it must not. */
  async refusedValue(name: string, { sheet, path }: ValueBinding, text: string): Promise<string | undefined> {
    const own = this.open.get(name)
    if (!own) return undefined
    const value: LiveValue = { text, dead: false, trouble: '', read: Date.now() }
    const values = { ...own.channel.values, [valueKey({ sheet, path })]: value }
    const ups = Object.values(own.channel.air.layers).flat()
    const asks = [
      // What is up first: at most so many are looked at.
      ...ups.map((up) => ({ ...up, cells: cellsNow(up) })),
      ...own.channel.list.map((item) => ({ ...item, hand: [] as readonly string[] })),
    ].flatMap(({ version, hold, cells, live, hand }) => {
      const fields = Object.entries(live).flatMap(([key, one]) =>
        one.kind === 'value' && one.sheet === sheet && one.path === path && !hand.includes(key) ? [key] : [],
      )
      return fields.length > 0 ? [{ version, hold, fields, cells: withLive({ values }, cells, live, hand) }] : []
    })
    const ready = await this.readyOf(own, asks.slice(0, 20))
    for (const [i, { findings }] of ready.entries()) {
      const stop = findings.find(({ level, field }) => level === 'stop' && field && asks[i]!.fields.includes(field))
      if (stop) return stop.message
    }
    return undefined
  }

  async close(): Promise<void> {
    this.closed = true
    for (const { timer, leaves } of this.open.values()) {
      clearTimeout(timer)
      clearTimeout(leaves)
    }
  }

  private opened(name: string): OpenChannel {
    let own = this.open.get(name)
    if (!own) {
      this.store.channels.get(name)
      own = new OpenChannel(name, this.store.channels.channel(name))
      this.open.set(name, own)
    }
    return own
  }

  private now({ channel }: OpenChannel): number {
    return frameAt(channel, Date.now())
  }

  private tellPages(own: OpenChannel): void {
    own.events.emit('news', { kind: 'pages', pages: pagesOf(own) } satisfies AirNews)
  }

  /** What was asked, with all that has to be found out for it. */
  private async command(own: OpenChannel, asked: Asked): Promise<Command> {
    const frame = this.now(own)
    const { channel } = own
    switch (asked.kind) {
      case 'take': {
        const id = asked.item ?? stageOf(channel).next
        if (id === undefined) throw new Refusal('air.next', 'No title is next; choose one of the running list.', 409)
        const item = itemOf(channel, id)
        if (asked.seen !== undefined && asked.seen !== seenAs(item))
          throw new Refusal('air.changed', 'The title was changed a moment ago; look at it again, then take it.', 409)
        const [ready] = await this.readyOf(own, [{ ...item, cells: withLive(channel, item.cells, item.live) }])
        const stop = ready!.findings.find(({ level }) => level === 'stop')
        if (stop && !asked.anyway)
          throw new Refusal(
            'air.stop',
            `This title must not go out: ${stop.message} Take it again to take it all the same.`,
            409,
          )
        return { kind: 'take', item: id, run: ready!.run }
      }
      case 'update': {
        const layer = layerMeant(channel, asked.layer, frame)
        const up = demandUp(channel, layer, frame)
        demandLive(designOfUp(channel, up), Object.keys(asked.cells))
        const cells = { ...cellsNow(up), ...asked.cells }
        const ready = await this.lookedAt(own, up, cells)
        const stop = ready.findings.find(
          ({ level, field }) => level === 'stop' && (field === undefined || field in asked.cells),
        )
        if (stop && !asked.anyway)
          throw new Refusal(
            'air.stop',
            `That must not go out: ${stop.message} Update again to do it all the same.`,
            409,
          )
        return { kind: 'update', layer, cells: asked.cells, run: up.run ? ready.run : undefined }
      }
      case 'release': {
        const layer = layerMeant(channel, asked.layer, frame)
        const up = demandUp(channel, layer, frame)
        const hand = up.hand.filter((key) => key !== asked.field)
        const cells = withLive(channel, cellsNow(up), up.live, hand)
        const run = up.run ? (await this.lookedAt(own, up, cells)).run : undefined
        return { kind: 'release', layer, cells: {}, field: asked.field, run }
      }
      case 'first': {
        const layer = layerMeant(channel, asked.layer, frame)
        const up = demandUp(channel, layer, frame)
        const [list] = designOfUp(channel, up).lists
        if (!list) throw new Refusal('air.state', 'Nothing runs without end in the title that is up.', 409)
        const ready = await this.lookedAt(own, up, { ...cellsNow(up), [list]: JSON.stringify([asked.text]) })
        const [measured] = ready.run?.items ?? []
        if (!measured) throw new Refusal('air.state', 'A notice needs words.', 409)
        return { kind: 'first', layer, item: measured }
      }
      case 'add': {
        const { channel: before } = own
        const unknown = [...new Set(asked.items.map(({ version }) => version))].filter((one) => !before.designs[one])
        const ready = await this.readyOf(
          own,
          unknown.map((version) => ({ version, cells: asked.items.find((one) => one.version === version)!.cells })),
        )
        return { ...asked, designs: Object.fromEntries(unknown.map((version, i) => [version, ready[i]!.design])) }
      }
      default:
        return asked
    }
  }

  private async lookedAt(
    own: OpenChannel,
    { version, hold }: Pick<Up, 'version' | 'hold'>,
    cells: Cells,
  ): Promise<ReadyTitle> {
    const [ready] = await this.readyOf(own, [{ version, hold, cells }])
    return ready!
  }

  /** Titles as they are checked and measured for a channel; each once. */
  private async readyOf({ ready, channel }: OpenChannel, titles: readonly Titled[]): Promise<ReadyTitle[]> {
    const known = titles.map((one) => ready.get(readyKey(one, one.cells)))
    const missing = titles.filter((_, i) => !known[i])
    if (missing.length === 0) return known as ReadyTitle[]
    const found = await this.jobs.run<'readyTitles'>({
      kind: 'readyTitles',
      titles: missing.map(({ version, cells, hold }) => ({ ...this.sourceOf(version), cells, hold })),
      picture: { width: channel.width, height: channel.height, rate: channel.rate, layers: channel.layers },
      known: this.store.sheets.knownTexts(),
      now: localMoment(new Date()),
    })
    found.forEach((one, i) => {
      ready.set(readyKey(missing[i]!, missing[i]!.cells), one)
    })
    let next = 0
    return known.map((one) => one ?? found[next++]!)
  }

  private sourceOf(version: number): { source: Source; template: string; number: number } {
    const { document, template, number } = this.store.templates.version(version)
    return { source: { kind: 'stored', document, files: this.store.files.folder }, template, number }
  }

  /** Carries a command out: kept, then told. */
  private carryOut(own: OpenChannel, command: Command): Numbered {
    this.logLeft(own)
    const before = own.channel
    const numbered = { n: before.n + 1, frame: this.now(own), command }
    const after = carriedOut(before, numbered)
    this.store.channels.keep(own.name, numbered, after, asRunOf(before, after, numbered))
    own.channel = after
    own.events.emit('news', { kind: 'command', numbered } satisfies AirNews)
    this.logLeft(own)
    this.wait(own)
    if (before.air.layers !== after.air.layers || before.list !== after.list || before.values !== after.values) {
      void this.check(own)
      if (before.list !== after.list) this.asked.emit('values')
    }
    return numbered
  }

  /** Logs titles that left because their time was over, and waits for the next one that will. */
  private logLeft(own: OpenChannel): void {
    clearTimeout(own.leaves)
    const { channel } = own
    const frame = this.now(own)
    const left = leftBy(channel, frame)
    if (left.length > 0) this.store.channels.log(own.name, left)
    const outs = Object.values(channel.air.layers)
      .flat()
      .flatMap(({ out }) => (out !== undefined && out > frame ? [out] : []))
    if (outs.length === 0 || this.closed) return
    const ms = momentOf(channel, Math.min(...outs)) - Date.now() + 5
    own.leaves = setTimeout(
      () => {
        try {
          this.logLeft(own)
        } catch {
          // The disk may be full just now; it is logged with the next command, with its own time.
        }
      },
      Math.min(longestTimer, Math.max(5, ms)),
    )
  }

  /** When the list goes on by itself: a title was held for its time, so the next one is taken. */
  private wait(own: OpenChannel): void {
    clearTimeout(own.timer)
    const { channel } = own
    const stage = stageOf(channel)
    if (channel.runs !== 'by itself' || stage.next === undefined || this.closed) return
    const held = Object.values(stage.layers)
      .flat()
      .filter((up) => up.hold !== undefined && up.out !== undefined)
    const last = held.sort((a, b) => a.n - b.n).at(-1)
    if (!last || last.n !== lastTaken(stage.layers)) return
    const ms = momentOf(channel, last.out!) - Date.now()
    own.timer = setTimeout(
      () => {
        void this.ask(own.name, { kind: 'take', anyway: false }).catch(() => {
          // What must not go out does not go by itself: it waits for a hand.
        })
      },
      Math.min(longestTimer, Math.max(0, ms)),
    )
  }

  private findings({ channel, ready }: OpenChannel): Record<string, Finding[]> {
    const found: Record<string, Finding[]> = {}
    for (const item of channel.list) {
      const one = ready.get(readyKey(item, withLive(channel, item.cells, item.live)))
      if (one) found[item.id] = [...one.findings, ...this.beside({ channel, ready }, item, one)]
    }
    return found
  }

  /** What is found about the next title beside those that are up on other layers. */
  private beside(
    { channel, ready }: Pick<OpenChannel, 'channel' | 'ready'>,
    item: AirItem,
    own: ReadyTitle,
  ): Finding[] {
    const stage = stageOf(channel)
    if (item.id !== stage.next) return []
    const frame = frameAt(channel, Date.now())
    return channel.layers.flatMap(({ id, name }): Finding[] => {
      const up = id === item.layer ? undefined : upOn(channel, stage, id, frame)
      const other = up && ready.get(readyKey(up, cellsNow(up)))
      if (!other) return []
      const { width, height } = common(own.region, other.region)
      if (width <= 1 || height <= 1) return []
      const message = `It would stand in the same place as what is up on ${name}: ${Math.round(width)} by ${Math.round(height)} px of it.`
      return [{ row: 1, level: 'look', code: 'air.place', message }]
    })
  }

  /** Looks at all titles of the list, the next one first, so that taking it waits for nothing. */
  private async check(own: OpenChannel): Promise<void> {
    if (own.checking) return
    own.checking = true
    try {
      for (;;) {
        const { channel, ready } = own
        const { next } = stageOf(channel)
        const at = Math.max(
          0,
          channel.list.findIndex(({ id }) => id === next),
        )
        const order = [...channel.list.slice(at), ...channel.list.slice(0, at)]
        const open = order
          .map(({ version, hold, cells, live }) => ({ version, hold, cells: withLive(channel, cells, live) }))
          .filter((one) => !ready.get(readyKey(one, one.cells)))
        if (open.length === 0 || this.closed) break
        await this.readyOf(own, open.slice(0, 20))
      }
    } catch {
      // What could not be looked at says so when it is taken.
    } finally {
      own.checking = false
    }
    if (!this.closed) own.events.emit('news', { kind: 'found', found: this.findings(own) } satisfies AirNews)
  }
}

const pagesOf = ({ pages }: OpenChannel): number => [...pages.values()].reduce((sum, one) => sum + one, 0)

const lastTaken = (layers: Channel['air']['layers']): number =>
  Math.max(0, ...Object.values(layers).flatMap((ups) => ups.map(({ n }) => n)))
