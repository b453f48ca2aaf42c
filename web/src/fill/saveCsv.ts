import { address } from '@hoja/core/api'
import type { Row } from '@hoja/core/data'
import { isFormulaLike } from '@hoja/core/formats'
import { toast } from 'sonner'
import { counted } from '../ui/counted.ts'

/** Saves a sheet as CSV, and says so when a spreadsheet would have taken some of it for formulas. */
export function saveCsv(sheet: number, rows: readonly Row[]): void {
  const guarded = rows.reduce((sum, { cells }) => sum + Object.values(cells).filter(isFormulaLike).length, 0)
  location.assign(address.sheetCsv({ id: sheet }))
  if (guarded === 0) return
  toast(`${counted(guarded, 'cell begins', 'cells begin')} like a formula.`, {
    description:
      'They are saved with an apostrophe before them, so that no spreadsheet runs them; Hoja reads them back as they were.',
  })
}
