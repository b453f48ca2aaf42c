import type { ContextMenuComponentProps, ContextMenuItem } from 'react-datasheet-grid'
import { MenuAt, type MenuEntry } from '../ui/Menu.tsx'

const rows = ({ fromRow, toRow }: { fromRow: number; toRow: number }) => `rows ${fromRow} to ${toRow}`

/** What the grid can do with the cells and rows that are marked, in Hoja's words. */
function entryOf(item: ContextMenuItem): MenuEntry {
  const onSelect = item.action
  switch (item.type) {
    case 'CUT':
      return { label: 'Cut', keys: 'Ctrl X', onSelect }
    case 'COPY':
      return { label: 'Copy', keys: 'Ctrl C', onSelect }
    case 'PASTE':
      return { label: 'Paste', keys: 'Ctrl V', onSelect }
    case 'INSERT_ROW_BELLOW':
      return { label: 'Add a row below', keys: 'Shift Enter', onSelect }
    case 'DUPLICATE_ROW':
      return { label: 'Duplicate the row', keys: 'Ctrl D', onSelect }
    case 'DUPLICATE_ROWS':
      return { label: `Duplicate ${rows(item)}`, keys: 'Ctrl D', onSelect }
    case 'DELETE_ROW':
      return { label: 'Remove the row', onSelect }
    case 'DELETE_ROWS':
      return { label: `Remove ${rows(item)}`, onSelect }
  }
}

export function GridMenu({ clientX, clientY, items, close }: ContextMenuComponentProps) {
  return <MenuAt x={clientX} y={clientY} entries={items.map(entryOf)} onClose={close} />
}
