import type { Scene } from '../scene/index.ts'
import { rowAbout } from './about.ts'
import { type CheckedRow, checkRow, lookAtRow } from './checks.ts'
import { RowsTogether, textColumns } from './columns.ts'
import type { Finding, RowFound } from './finding.ts'
import { checkKnown, KnownNames } from './known.ts'
import type { Looks } from './looks.ts'
import { givenText, type Match } from './source.ts'
import type { Row } from './table.ts'
import { weighed } from './weighed.ts'

/** What rows fill: a version of a template, and how their columns go to its fields. */
export interface Filled {
  scene: Scene
  match: Match
}

/** From row `at` (from 1) so many rows are taken out, and these put in their place. */
export interface Splice {
  at: number
  remove: number
  rows: Row[]
}

/**
 * A sheet's rows with what is found about them, told of every edit: an edit of a cell costs the check of that row and of
 * the rows that it is like, whatever the sheet's length. Rows count from 1.
 */
export class SheetChecker {
  private rows: Row[] = []
  private alone: (Finding[] | undefined)[] = []
  /** Rows compared with one another; undefined until that is asked for, and after rows came or went. */
  private together: RowsTogether | undefined
  /** What was found by looking at a row's picture; undefined: nobody has looked yet. */
  private seen: (Finding[] | undefined)[] = []
  /** Rows about which something was said beside the others. */
  private noted: boolean[] = []
  private readonly keys: string[]

  /**
   * @param versions what the rows fill that stay on a version of their own, by its id
   * @param known how names are spelled
   */
  constructor(
    private readonly main: Filled,
    private readonly versions: ReadonlyMap<number, Filled> = new Map(),
    private readonly known: KnownNames = new KnownNames([]),
    /** What *now* is in its titles, local, as ISO 8601 has it; absent: as in a sample. */
    private readonly now?: string,
    /** Looks at the rows' pictures; absent: nobody does. */
    private readonly looks?: Looks,
  ) {
    this.keys = textColumns(main.scene.template, main.match, []).map(({ field }) => field.key)
  }

  get count(): number {
    return this.rows.length
  }

  /** A row with what its title is made among. */
  row(n: number): Row | undefined {
    const row = this.rows[n - 1]
    if (!row || this.now === undefined) return row
    return rowAbout(this.filled(row).scene.template, row, { now: this.now, row: n, rows: this.rows.length })
  }

  filled(row: Row): Filled {
    return (row.version !== undefined && this.versions.get(row.version)) || this.main
  }

  /** Carries out an edit; the rows (from 1, as they are numbered after it) about which something else may be said now. */
  splice({ at, remove, rows }: Splice): number[] {
    this.rows.splice(at - 1, remove, ...rows)
    this.alone.splice(at - 1, remove, ...rows.map(() => undefined))
    this.seen.splice(at - 1, remove, ...rows.map(() => undefined))
    this.noted.splice(at - 1, remove, ...rows.map(() => false))
    if (remove !== rows.length) {
      this.together = undefined
      return rows.map((_, i) => at + i)
    }
    const touched = new Set(rows.map((_, i) => at + i))
    if (this.together)
      rows.forEach((row, i) => {
        for (const n of this.together!.set(at + i, this.textsOf(row))) touched.add(n)
      })
    return [...touched]
  }

  private textsOf(row: Row): string[] {
    return this.keys.map((key) => givenText(this.main.match, key, row).text ?? '')
  }

  /** Checks a row by itself, and keeps what is found. A look at its picture comes with it where one like it was seen well. */
  check(n: number): CheckedRow {
    const row = this.row(n)!
    const { scene, match } = this.filled(row)
    const checked = checkRow(scene, match, row, n, undefined, this.looks?.known)
    const slips = weighed(scene.template, checkKnown(this.known, scene.template, match, row, n))
    const findings = slips.length > 0 ? [...checked.findings, ...slips] : checked.findings
    this.alone[n - 1] = findings
    this.seen[n - 1] = checked.isLooked ? [] : undefined
    return { ...checked, findings }
  }

  /** Whether a row's picture was looked at: until then nobody can say that it is fine. */
  isLooked(n: number): boolean {
    return this.seen[n - 1] !== undefined
  }

  /** Looks at a row's picture, and keeps what is found. */
  look(n: number): void {
    const row = this.row(n)!
    const { scene, match } = this.filled(row)
    if (this.looks) this.seen[n - 1] = lookAtRow(scene, match, row, n, this.looks)
  }

  /**
   * Checks every row, and looks at each.
   * @param isOver whether there is no time left to look; rows are checked all the same
   */
  lookAtAll(isOver: () => boolean = () => false): void {
    for (let n = 1; n <= this.rows.length; n++) {
      this.check(n)
      if (!this.isLooked(n) && !isOver()) this.look(n)
    }
  }

  /** What is found about a row: by itself, by looking at it once that was done, and beside the others once they were compared. */
  findings(n: number): Finding[] {
    const alone = this.alone[n - 1] ?? this.check(n).findings
    const beside = this.together ? weighed(this.main.scene.template, this.together.findings(n)) : []
    this.noted[n - 1] = beside.length > 0
    // A row may have moved since it was checked.
    return [...alone, ...(this.seen[n - 1] ?? []), ...beside].map((finding) =>
      finding.row === n ? finding : { ...finding, row: n },
    )
  }

  /** The same, and whether it was looked at. */
  found(n: number): RowFound {
    return { findings: this.findings(n), isLooked: this.isLooked(n) }
  }

  /** Compares the rows with one another, if they are not; the rows about which that says something, or did before. */
  compare(): number[] {
    if (this.together) return []
    const { scene, match } = this.main
    const together = new RowsTogether(textColumns(scene.template, match, this.rows))
    this.together = together
    return this.rows.flatMap((_, i) => (this.noted[i] || together.findings(i + 1).length > 0 ? [i + 1] : []))
  }
}
