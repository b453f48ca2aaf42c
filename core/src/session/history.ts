/** What was done in one go: the edits, and those that take them back, in the order in which they are made. */
export interface Step<Edit> {
  name: string
  edits: Edit[]
  inverse: Edit[]
  /** What it belongs to while that goes on: the next step of the same joins it. */
  gesture?: string
}

export interface StoredHistory<Edit> {
  past: readonly Step<Edit>[]
  future: readonly Step<Edit>[]
}

/** The steps that were made and those that were taken back. */
export class History<Edit> {
  private past: Step<Edit>[] = []
  private future: Step<Edit>[] = []
  private open = false
  /** Made anew when steps change, so that who shows them can tell. */
  pastNames: readonly string[] = []
  futureNames: readonly string[] = []

  /** @param depth steps that are kept */
  constructor(private readonly depth: number) {}

  push(step: Step<Edit>): void {
    const last = this.past.at(-1)
    const joins = this.open && last && step.gesture !== undefined && last.gesture === step.gesture
    if (joins)
      this.past[this.past.length - 1] = {
        ...last,
        edits: [...last.edits, ...step.edits],
        inverse: [...step.inverse, ...last.inverse],
      }
    else this.past = [...this.past.slice(1 - this.depth), step]
    this.future = []
    this.open = true
    this.tell()
  }

  undo(): Step<Edit> | undefined {
    const step = this.past.pop()
    if (step) this.future.unshift(step)
    return this.moved(step)
  }

  redo(): Step<Edit> | undefined {
    const step = this.future.shift()
    if (step) this.past.push(step)
    return this.moved(step)
  }

  clear(): void {
    this.restore({ past: [], future: [] })
  }

  /** Every edit as it is after others were made below it; where one can't be, none can be taken back any more. */
  rebase(over: (edit: Edit) => Edit | undefined): void {
    const steps = (list: readonly Step<Edit>[]) =>
      list.map((step) => ({ ...step, edits: step.edits.map(over), inverse: step.inverse.map(over) }))
    const [past, future] = [steps(this.past), steps(this.future)]
    const isWhole = [...past, ...future].every(({ edits, inverse }) => ![...edits, ...inverse].includes(undefined))
    this.restore(isWhole ? ({ past, future } as StoredHistory<Edit>) : { past: [], future: [] })
  }

  /** The newest steps that fit into so many characters of JSON. */
  keep(most: number): StoredHistory<Edit> {
    let room = most
    const fitting = (steps: readonly Step<Edit>[]) => {
      const end = steps.findIndex((step) => {
        room -= JSON.stringify(step).length
        return room < 0
      })
      return end < 0 ? steps : steps.slice(0, end)
    }
    const past = [...fitting([...this.past].reverse())].reverse()
    return { past, future: fitting(this.future) }
  }

  restore({ past, future }: StoredHistory<Edit>): void {
    this.past = [...past]
    this.future = [...future]
    this.open = false
    this.tell()
  }

  private moved(step: Step<Edit> | undefined): Step<Edit> | undefined {
    this.open = false
    this.tell()
    return step
  }

  private tell(): void {
    this.pastNames = this.past.map(({ name }) => name)
    this.futureNames = this.future.map(({ name }) => name)
  }
}
