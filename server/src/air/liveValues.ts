import { type LiveValue, type ValueBinding, valueKey } from '@hoja/core/air'
import type { Follower } from '../feeds/follower.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { Store } from '../store/index.ts'
import type { AirChannels } from './channels.ts'

/** A value that a channel asks of a source, as it is watched. */
interface Watched {
  name: string
  binding: ValueBinding
  /** What was last told to the channel. */
  told: LiveValue | undefined
  /** ms of the epoch at which the channel was told last, and at which the source was last read well. */
  toldAt: number
  readAt: number
  /** What it is to be told as soon as it may be: the latest wins. */
  next: string | undefined
  trouble: string
  timer: NodeJS.Timeout | undefined
  telling: boolean
}

/** Rows of a sheet in which values are looked for. */
const mostRows = 5000

/** ms between two looks at whether a source has been silent too long. */
const lookEvery = 250

/**
 * Tells channels what their sources say: not more often than each may change, nothing that its field does not take, and that
 * a source is gone when it has been for as long as a title waits.
 */
export class LiveValues {
  private readonly watched = new Map<string, Watched>()
  /** Sheets that are being read, and whether they have changed since that began. */
  private readonly reading = new Map<number, boolean>()
  private readonly stop: () => void
  private readonly look: NodeJS.Timeout
  private closed = false

  constructor(
    private readonly store: Store,
    private readonly jobs: Jobs,
    private readonly follower: Follower,
    private readonly channels: AirChannels,
  ) {
    channels.onAsked(() => this.asked())
    this.stop = follower.onNews(({ sheet, status }) => {
      void this.read(sheet, status.state === 'good', status.message)
    })
    this.look = setInterval(() => this.lookForDead(), lookEvery)
    this.asked()
  }

  async close(): Promise<void> {
    this.closed = true
    this.stop()
    clearInterval(this.look)
    for (const { timer } of this.watched.values()) clearTimeout(timer)
  }

  /** What is asked may be other values now. */
  private asked(): void {
    const wanted = new Map(this.channels.values().map((one) => [`${one.name} ${valueKey(one.binding)}`, one]))
    for (const [key, { timer }] of this.watched) {
      if (wanted.has(key)) continue
      clearTimeout(timer)
      this.watched.delete(key)
    }
    const sheets = new Set<number>()
    for (const [key, { name, binding }] of wanted) {
      const known = this.watched.get(key)
      if (known) {
        known.binding = binding
        continue
      }
      const now = Date.now()
      const told = this.channels.channel(name).values[valueKey(binding)]
      this.watched.set(key, {
        name,
        binding,
        told,
        toldAt: 0,
        readAt: now,
        next: undefined,
        trouble: '',
        timer: undefined,
        telling: false,
      })
      sheets.add(binding.sheet)
    }
    for (const sheet of sheets) {
      const status = this.follower.status(sheet)
      void this.read(sheet, status === undefined || status.state === 'good', status?.message ?? '')
    }
  }

  /** Reads what is asked of a sheet. */
  private async read(sheet: number, isGood: boolean, trouble: string): Promise<void> {
    const own = [...this.watched.values()].filter(({ binding }) => binding.sheet === sheet)
    if (own.length === 0 || this.closed) return
    for (const one of own) one.trouble = isGood ? '' : trouble
    if (!isGood) return
    // One reading after another, so that an older one never comes last.
    if (this.reading.has(sheet)) {
      this.reading.set(sheet, true)
      return
    }
    this.reading.set(sheet, false)
    try {
      const rows = this.store.sheets.rows(sheet, 1, mostRows)
      const cells = rows.map((row) => row.cells)
      const paths = own.map(({ binding }) => binding.path)
      const texts = await this.jobs.run<'readValues'>({ kind: 'readValues', rows: cells, paths })
      own.forEach((one, i) => {
        const text = texts[i]
        if (text === undefined) one.trouble = `"${one.binding.path}" finds nothing in the sheet.`
        else this.take(one, text)
      })
    } catch (error) {
      for (const one of own) one.trouble = (error as Error).message
    } finally {
      const isStale = this.reading.get(sheet)
      this.reading.delete(sheet)
      if (isStale) void this.read(sheet, true, '')
    }
  }

  /** A value came. */
  private take(one: Watched, text: string): void {
    one.readAt = Date.now()
    if (one.next === undefined && one.told?.text === text && !one.told.dead && one.told.trouble === '') return
    one.next = text
    this.tellSoon(one)
  }

  private tellSoon(one: Watched): void {
    if (one.timer || one.telling || this.closed) return
    const wait = Math.max(0, one.toldAt + 1000 / one.binding.most - Date.now())
    one.timer = setTimeout(() => {
      one.timer = undefined
      void this.tell(one)
    }, wait)
  }

  private async tell(one: Watched): Promise<void> {
    const text = one.next
    if (text === undefined || this.closed) return
    one.next = undefined
    one.telling = true
    try {
      const refused = await this.channels.refusedValue(one.name, one.binding, text)
      if (refused === undefined) await this.say(one, { text, dead: false, trouble: '', read: one.readAt })
      else {
        // What the field does not take is not shown; the last word stands until it has stood too long.
        one.readAt = one.told?.read ?? one.readAt
        one.trouble = refused
        if (one.told?.trouble !== refused)
          await this.say(one, {
            text: one.told?.text,
            dead: one.told?.dead ?? false,
            trouble: refused,
            read: one.readAt,
          })
      }
    } catch {
      // The channel is gone, or it could not be looked at just now: the value waits for the next time, unless another came.
      if (this.watched.has(`${one.name} ${valueKey(one.binding)}`)) one.next ??= text
      one.toldAt = Date.now()
    } finally {
      one.telling = false
      if (one.next !== undefined) this.tellSoon(one)
    }
  }

  private async say(one: Watched, value: LiveValue): Promise<void> {
    one.toldAt = Date.now()
    one.told = value
    await this.channels.say(one.name, one.binding, value)
  }

  private sayTrouble(one: Watched, value: LiveValue): void {
    const before = one.told
    this.say(one, value).catch(() => {
      // It is said again at the next look.
      one.told = before
    })
  }

  private lookForDead(): void {
    for (const one of this.watched.values()) {
      if (one.telling || one.next !== undefined) continue
      const { after } = one.binding.dead
      const status = this.follower.status(one.binding.sheet)
      const isSilent = one.trouble !== '' || (status !== undefined && status.state !== 'good')
      const isDead = isSilent && Date.now() - one.readAt > after * 1000
      const trouble = one.trouble || status?.message || 'It says nothing.'
      if (isDead && !one.told?.dead)
        this.sayTrouble(one, { text: one.told?.text, dead: true, trouble, read: one.readAt })
      else if (isSilent && !isDead && one.told && one.told.trouble !== trouble)
        this.sayTrouble(one, { ...one.told, trouble })
    }
  }
}
