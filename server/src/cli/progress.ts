import { timeLeft } from '@hoja/core/output'

export type RowState = 'done' | 'unchanged' | 'held' | 'failed'

/** How a run is told: a bar that renews itself on a terminal, a line of JSON for each row otherwise. */
export class Progress {
  private readonly counts: Record<RowState, number> = { done: 0, unchanged: 0, held: 0, failed: 0 }
  private readonly took: { milliseconds: number }[] = []
  private readonly started = performance.now()

  constructor(
    private readonly total: number,
    private readonly lanes: number,
    private readonly json: boolean,
  ) {}

  row(row: number, name: string, state: RowState, more: { reason?: string; milliseconds?: number } = {}): void {
    this.counts[state]++
    const { reason, milliseconds } = more
    if (milliseconds !== undefined && state === 'done') this.took.push({ milliseconds })
    const ended = this.ended
    if (this.json) {
      const line = { row, name, state, ...(reason ? { reason } : {}), done: ended, total: this.total }
      console.log(JSON.stringify(line))
    } else if (state === 'held' || state === 'failed')
      this.say(`row ${row} ${state === 'held' ? 'was held' : 'failed'}: ${reason}`)
    if (!this.json) this.draw()
  }

  end(): Record<RowState, number> {
    const seconds = Number(((performance.now() - this.started) / 1000).toFixed(1))
    const { done, unchanged, held, failed } = this.counts
    if (this.json) console.log(JSON.stringify({ ended: true, ...this.counts, total: this.total, seconds }))
    else {
      const words = [
        `${done} of ${this.total} titles rendered in ${seconds} s`,
        ...(unchanged ? [`${unchanged} unchanged`] : []),
        ...(held ? [`${held} held by their checks`] : []),
        ...(failed ? [`${failed} failed`] : []),
      ]
      this.say(`${words.join(', ')}.`)
    }
    return this.counts
  }

  /** A sentence beside the bar. */
  say(text: string): void {
    if (this.json) console.log(JSON.stringify({ note: text }))
    else process.stderr.write(`${process.stderr.isTTY ? '\r\u001b[K' : ''}${text}\n`)
  }

  private get ended(): number {
    return Object.values(this.counts).reduce((a, b) => a + b, 0)
  }

  private draw(): void {
    if (!process.stderr.isTTY) return
    const left = timeLeft(this.took, this.total - this.ended, [], this.lanes)
    const bar = '█'.repeat(Math.round((this.ended / this.total) * 30)).padEnd(30, '░')
    const time = left === undefined ? '' : `, ${Math.ceil(left / 1000)} s left`
    process.stderr.write(`\r${bar} ${this.ended} of ${this.total}${time} \u001b[K`)
  }
}
