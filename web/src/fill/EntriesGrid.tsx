import 'react-datasheet-grid/dist/style.css'
import type { Field } from '@hoja/core/template'
import { useLayoutEffect, useMemo, useRef } from 'react'
import { type CellProps, type Column, DynamicDataSheetGrid, keyColumn } from 'react-datasheet-grid'
import { Button } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { GridMenu } from './GridMenu.tsx'

/** One entry of some lists that go together, by the key of their fields. */
type Entry = Record<string, string | null>

const rowHeight = 29
/** px; longer lists scroll. */
const most = 320

/** What one list says in an entry. */
function EntryCell({ rowData, setRowData, rowIndex, focus, columnData: name }: CellProps<string | null, string>) {
  const ref = useRef<HTMLInputElement>(null)
  useLayoutEffect(() => {
    if (focus) ref.current?.select()
    else ref.current?.blur()
  }, [focus])
  return (
    <input
      ref={ref}
      className="dsg-input"
      tabIndex={-1}
      aria-label={`${name} of entry ${rowIndex + 1}`}
      // Until it is written in, the grid has the pointer.
      style={{ pointerEvents: focus ? 'auto' : 'none' }}
      value={rowData ?? ''}
      onChange={(event) => setRowData(event.target.value)}
    />
  )
}

const entryColumn: Partial<Column<string | null, string, string>> = {
  component: EntryCell,
  copyValue: ({ rowData }) => rowData,
  pasteValue: ({ value }) => value.replaceAll(/\s*[\r\n]+\s*/g, ' '),
  deleteValue: () => '',
  isCellEmpty: ({ rowData }) => !rowData,
}

/** Lists whose entries go together, an entry a line: typed, pasted from a spreadsheet, put in and taken out as a whole. */
export function EntriesGrid({
  fields,
  lists,
  label,
  onLists,
}: {
  fields: readonly Field[]
  /** By field key. */
  lists: Readonly<Record<string, readonly string[]>>
  label: string
  onLists: (lists: Record<string, string[]>) => void
}) {
  const count = Math.max(0, ...fields.map(({ key }) => lists[key]?.length ?? 0))
  const entries = useMemo(
    () =>
      Array.from(
        { length: count },
        (_, i): Entry => Object.fromEntries(fields.map(({ key }) => [key, lists[key]?.[i] ?? ''])),
      ),
    [fields, lists, count],
  )
  const columns = useMemo(
    () =>
      fields.map(
        ({ key, name }) =>
          ({ ...keyColumn(key, { ...entryColumn, columnData: name }), title: name, minWidth: 60 }) as Partial<
            Column<Entry>
          >,
      ),
    [fields],
  )
  const put = (next: readonly Entry[]) =>
    onLists(Object.fromEntries(fields.map(({ key }) => [key, next.map((entry) => entry[key] ?? '')])))
  return (
    <section aria-label={label} className="py-1">
      <DynamicDataSheetGrid<Entry>
        value={entries}
        onChange={put}
        columns={columns as Column<Entry>[]}
        height={Math.min(most, rowHeight * (count + 1) + 4)}
        rowHeight={rowHeight}
        headerRowHeight={rowHeight}
        addRowsComponent={false}
        contextMenuComponent={GridMenu}
        createRow={() => ({})}
        autoAddRow
      />
      <p className="flex items-center gap-2 pt-1 text-xs text-soft">
        {counted(count, 'entry', 'entries')}; --- begins a new page.
        <Button small className="ml-auto" onClick={() => put([...entries, {}])}>
          + entry
        </Button>
      </p>
    </section>
  )
}
