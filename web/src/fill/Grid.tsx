import 'react-datasheet-grid/dist/style.css'
import { type Match, type Row, stateOfRow, withText } from '@hoja/core/data'
import type { Template } from '@hoja/core/template'
import { createContext, useContext, useEffect, useMemo, useRef } from 'react'
import { type CellProps, type Column, type DataSheetGridRef, DynamicDataSheetGrid } from 'react-datasheet-grid'
import { classes, StateMark } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { useSize } from '../ui/useSize.ts'
import { ChangedCells, cellText, FieldCell, type FieldColumn } from './FieldCell.tsx'
import { GridMenu } from './GridMenu.tsx'
import type { Marked } from './rowEdits.ts'
import type { Edit, Found } from './sheetSession.ts'
import { editThrough } from './view.ts'

interface Shown {
  order: readonly number[]
  findings: Found
}

// Not by the columns: a grid whose columns are other ones forgets the cell in which somebody begins to type.
const ShownRows = createContext<Shown>({ order: [], findings: [] })

/** The row's number and state, and what stands beside it. */
function StateCell({ rowData, rowIndex }: CellProps<Row>) {
  const { order, findings } = useContext(ShownRows)
  const n = order[rowIndex] ?? rowIndex
  const found = findings[n]
  return (
    <span className="flex w-full items-center justify-end gap-1.5 pr-1.5 text-soft">
      {rowData.note && (
        <span role="img" aria-label="has a note" title={rowData.note} className="text-madder">
          ¶
        </span>
      )}
      {rowData.frames !== undefined && (
        <span className="text-xs" title={counted(rowData.frames, 'frame')}>
          {rowData.frames} f
        </span>
      )}
      <span>{n + 1}</span>
      {found ? <StateMark state={stateOfRow(found)} /> : <span>·</span>}
    </span>
  )
}

/** The rows of a view as a grid: typed, pasted from a spreadsheet, copied back to one. A column for every field. */
export function Grid({
  template,
  match,
  rows,
  order,
  findings,
  chosen,
  linked,
  pictures,
  changed,
  starts,
  onEdit,
  onChoose,
  onMark,
  onTyping,
}: {
  template: Template
  match: Match
  rows: readonly Row[]
  /** Indices of the rows shown. */
  order: readonly number[]
  findings: Found
  /** Index of the row that is looked at. */
  chosen: number
  linked: boolean
  pictures: readonly string[]
  /** Field keys by row that came in just now. */
  changed: ReadonlyMap<Row, ReadonlySet<string>>
  /** Places in the view at which a group begins. */
  starts: ReadonlySet<number>
  onEdit: Edit
  onChoose: (row: number) => void
  onMark: (marked: Marked | undefined) => void
  onTyping: (message: string) => void
}) {
  const [ref, size] = useSize<HTMLDivElement>()
  const grid = useRef<DataSheetGridRef>(null)
  const own = useRef(0)
  const value = useMemo(() => order.map((i) => rows[i]!), [order, rows])
  // Chosen elsewhere (on the contact sheet): the grid goes there too.
  useEffect(() => {
    if (chosen === own.current) return
    own.current = chosen
    const row = order.indexOf(chosen)
    if (row >= 0) grid.current?.setActiveCell({ row, col: 1 })
  }, [chosen, order])
  const columns = useMemo(() => {
    const state: Partial<Column<Row, undefined, string>> = {
      id: 'state',
      title: '',
      basis: 74,
      grow: 0,
      shrink: 0,
      minWidth: 74,
      disabled: true,
      component: StateCell,
    }
    const fields = template.fields.map((field): Partial<Column<Row, FieldColumn, string>> => {
      const isChosen = field.type === 'choice' || field.type === 'picture' || (field.type === 'colour' && !field.free)
      return {
        id: field.key,
        title: (
          <span className="truncate" title={field.note || undefined}>
            {field.name}
            {field.required && <span className="text-soft"> required</span>}
          </span>
        ),
        grow: field.type === 'text' ? 3 : 1,
        minWidth: field.type === 'text' ? 140 : 96,
        disableKeys: isChosen,
        columnData: {
          template,
          field,
          match,
          pictures,
          linked,
          onTyping,
        },
        component: FieldCell,
        copyValue: ({ rowData }) => cellText(match, field, rowData).text,
        pasteValue: ({ rowData, value: text }) =>
          withText(match, field.key, rowData, String(text ?? '').replace(/\r\n?/g, '\n'), linked),
        deleteValue: ({ rowData }) => withText(match, field.key, rowData, '', linked),
        isCellEmpty: ({ rowData }) => cellText(match, field, rowData).text === '',
      }
    })
    return [state, ...fields] as Partial<Column<Row>>[]
  }, [template, match, pictures, linked, onTyping])
  const shown = useMemo(() => ({ order, findings }), [order, findings])
  return (
    <div ref={ref} className="min-h-0 flex-1 overflow-hidden" data-testid="grid">
      {size.height > 0 && (
        <ShownRows value={shown}>
          <ChangedCells value={changed}>
            <DynamicDataSheetGrid<Row>
              ref={grid}
              value={value}
              onChange={(next, edits) => onEdit(editThrough(rows, order, next, edits), 'the cells')}
              columns={columns as Column<Row>[]}
              height={size.height}
              addRowsComponent={false}
              contextMenuComponent={GridMenu}
              lockRows={linked}
              rowHeight={29}
              headerRowHeight={30}
              gutterColumn={false}
              createRow={() => ({ cells: {} })}
              duplicateRow={({ rowData }) => ({ ...rowData })}
              rowClassName={({ rowData, rowIndex }) =>
                classes(
                  order[rowIndex] === chosen && 'dsg-row-chosen',
                  (rowData as Row).off && 'dsg-row-off',
                  starts.has(rowIndex) && 'dsg-row-group',
                )
              }
              onActiveCellChange={({ cell }) => {
                const row = cell && order[cell.row]
                if (row === undefined || row === null) return
                own.current = row
                onChoose(row)
              }}
              onSelectionChange={({ selection }) =>
                onMark(
                  selection
                    ? {
                        from: selection.min.row,
                        to: selection.max.row + 1,
                        keys: template.fields
                          .slice(Math.max(0, selection.min.col - 1), selection.max.col)
                          .map((field) => field.key),
                      }
                    : undefined,
                )
              }
            />
          </ChangedCells>
        </ShownRows>
      )}
    </div>
  )
}
