import type { Match } from '@hoja/core/data'
import type { Link, ReadOptions } from '@hoja/core/formats'
import type { Results, Task } from '../jobs/tasks.ts'
import type { Arriving, SheetRow } from '../store/sheets.ts'
import type { VersionRow } from '../store/templates.ts'
import type { Context } from './context.ts'
import { matchFor } from './matching.ts'

interface Wanted {
  name: string
  /** As it was chosen; absent: as it was last set for such columns, or as is guessed. */
  match?: Match
  link?: Link
  signal: AbortSignal
}

/**
 * A sheet of a file that a job reads: its rows are kept as they come, and nobody sees them before all are there.
 * @throws Refusal; nothing of it stays
 */
export async function arrived(
  { store, jobs }: Pick<Context, 'store' | 'jobs'>,
  task: Extract<Task, { kind: 'readTable' }>,
  version: VersionRow,
  { name, match, link, signal }: Wanted,
): Promise<{ sheet: SheetRow; options: ReadOptions }> {
  let arriving: Arriving | undefined
  const onPiece = (rows: string[]) => {
    // The columns come first.
    if (arriving) arriving.take(rows)
    else arriving = store.sheets.arrive(version.id, name, JSON.parse(rows[0]!) as string[], link ?? null)
  }
  try {
    const read: Results['readTable'] = await jobs.run<'readTable'>(task, { signal, onPiece })
    const sheet = arriving!.complete(match ?? matchFor(store, version, read.columns, read.match).match)
    return { sheet, options: read.options }
  } catch (error) {
    try {
      arriving?.giveUp()
      store.tidy.soon()
    } catch {
      // Where nothing can be written: what was arriving goes at the next start.
    }
    throw error
  }
}
