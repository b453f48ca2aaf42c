import { cellsByKey, type Row, saidIn, valuesOf } from '@hoja/core/data'
import { type Template, updateOf } from '@hoja/core/template'
import type { SheetDetail } from '../../api.ts'
import { Line, Select } from '../../ui/controls.tsx'
import { LengthInput } from '../../ui/FrameInputs.tsx'
import type { SectionProps } from './settings.ts'

/** Rows that are offered to change into. */
const mostOffered = 500

/** Titles that change into another row's words while they are up. */
export function ChangeLine({
  settings,
  template,
  drawn,
  change,
  sheet,
}: SectionProps & { drawn: Template; sheet: SheetDetail }) {
  const now = settings.change
  const cellsOf = (row: Row) => cellsByKey(template, sheet.match, row)
  const words = (row: Row) =>
    saidIn(template, valuesOf(template, sheet.match, row).values)
      .slice(0, 2)
      .join(' · ')
  const chosen = now ? sheet.rows.findIndex((row) => JSON.stringify(cellsOf(row)) === JSON.stringify(now.cells)) : -1
  const { spans, frame } = drawn
  const middle = spans.in + Math.floor(spans.hold.frames / 2)
  return (
    <Line
      label="It changes"
      note={
        now
          ? `While it is up, from that frame on; ${updateOf(drawn).words === 'fade' ? 'its words fade out and in' : 'its words leave and come by their own moves'}, and what stands round them travels.`
          : undefined
      }
    >
      {(id) => (
        <span className="flex items-center gap-1.5">
          <Select
            id={id}
            value={now ? String(chosen) : 'no'}
            options={[
              ['no', 'it stays as it is'],
              ...(now && chosen < 0 ? [['-1', 'into other words'] as const] : []),
              ...sheet.rows
                .slice(0, mostOffered)
                .map((row, i): [string, string] => [String(i), `into row ${i + 1}: ${words(row)}`.slice(0, 80)]),
            ]}
            onChange={(event) => {
              const row = sheet.rows[Number(event.target.value)]
              change({ change: row ? { at: now?.at ?? middle, cells: cellsOf(row) } : undefined })
            }}
          />
          {now && (
            <>
              <span className="text-soft">at</span>
              <LengthInput
                aria-label="Frame at which it changes"
                rate={frame.rate}
                min={spans.in}
                value={now.at}
                onValue={(at) => change({ change: { ...now, at } })}
              />
            </>
          )}
        </span>
      )}
    </Line>
  )
}
