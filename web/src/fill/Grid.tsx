import 'react-datasheet-grid/dist/style.css'
import { type Cells, type Match, stateOf } from '@hoja/core/data'
import type { Template } from '@hoja/core/template'
import { useEffect, useMemo, useRef } from 'react'
import { type Column, type DataSheetGridRef, DynamicDataSheetGrid, keyColumn, textColumn } from 'react-datasheet-grid'
import { StateMark } from '../ui/controls.tsx'
import { useSize } from '../ui/useSize.ts'
import type { Found } from './useSheet.ts'

export const columnOf = (match: Match, key: string) => match[key] ?? key

/** The rows as a grid: typed, pasted from a spreadsheet, copied back to one. A column for every field, a mark for every row. */
export function Grid({
  template,
  match,
  cells,
  findings,
  chosen,
  onCells,
  onChoose,
}: {
  template: Template
  match: Match
  cells: Cells[]
  findings: Found
  chosen: number
  onCells: (cells: Cells[]) => void
  onChoose: (row: number) => void
}) {
  const [ref, size] = useSize<HTMLDivElement>()
  const grid = useRef<DataSheetGridRef>(null)
  const own = useRef(0)
  // Chosen elsewhere (on the contact sheet): the grid goes there too.
  useEffect(() => {
    if (chosen === own.current) return
    own.current = chosen
    grid.current?.setActiveCell({ row: chosen, col: 1 })
  }, [chosen])
  const columns = useMemo(() => {
    const state: Partial<Column<Cells>> = {
      id: 'state',
      title: '',
      basis: 34,
      grow: 0,
      shrink: 0,
      minWidth: 34,
      disabled: true,
      component: ({ rowData }) => {
        const own = findings.get(rowData)
        return (
          <span className="w-full text-center">
            {own ? <StateMark state={stateOf(own)} /> : <span className="text-soft">·</span>}
          </span>
        )
      },
    }
    const fields = template.fields.map((field) => ({
      ...keyColumn<Cells, string>(
        columnOf(match, field.key),
        textColumn as Partial<Column<string | undefined>> as never,
      ),
      id: field.key,
      title: field.name,
      grow: field.type === 'text' ? 3 : 1,
      minWidth: field.type === 'text' ? 140 : 90,
    }))
    return [state, ...fields] as Partial<Column<Cells>>[]
  }, [template, match, findings])
  return (
    <div ref={ref} className="min-h-0 flex-1 overflow-hidden" data-testid="grid">
      {size.height > 0 && (
        <DynamicDataSheetGrid<Cells>
          ref={grid}
          value={cells}
          onChange={(next) =>
            onCells(
              next.map((row) =>
                Object.values(row).includes(null as never)
                  ? Object.fromEntries(Object.entries(row).map(([key, value]) => [key, value ?? '']))
                  : row,
              ),
            )
          }
          columns={columns as Column<Cells>[]}
          height={size.height}
          addRowsComponent={false}
          rowHeight={29}
          headerRowHeight={30}
          createRow={() => Object.fromEntries(template.fields.map((field) => [columnOf(match, field.key), '']))}
          duplicateRow={({ rowData }) => ({ ...rowData })}
          rowClassName={({ rowIndex }) => (rowIndex === chosen ? 'dsg-row-chosen' : undefined)}
          onActiveCellChange={({ cell }) => {
            if (!cell) return
            own.current = cell.row
            onChoose(cell.row)
          }}
        />
      )}
    </div>
  )
}
