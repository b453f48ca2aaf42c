import type { SheetSummary } from '@hoja/core/api'
import { useQuery } from '@tanstack/react-query'
import { Ellipsis } from 'lucide-react'
import { Link } from 'react-router'
import { api } from '../api.ts'
import { StateMark } from '../ui/controls.tsx'
import { Menu, MenuHere } from '../ui/Menu.tsx'
import { day } from '../ui/words.ts'
import { useSheetEntries } from './useSheetEntries.ts'

/** Sheets of any templates, each with what can be done with it. `states`: and with what its rows' checks say. */
export function SheetTable({ sheets, states = false }: { sheets: readonly SheetSummary[]; states?: boolean }) {
  const entriesOf = useSheetEntries()
  return (
    <table className="w-full table-fixed border-collapse bg-paper text-left">
      <thead>
        <tr className="border-y border-rule text-xs text-soft">
          <th className="px-3 py-1.5 font-medium">Sheet</th>
          <th className="w-36 px-3 font-medium">Template</th>
          <th className="w-20 px-3 font-medium">Version</th>
          <th className="w-20 px-3 font-medium">Rows</th>
          {states && <th className="w-52 px-3 font-medium">Its rows are</th>}
          <th className="w-36 px-3 font-medium">Changed</th>
          <th className="w-10">
            <span className="sr-only">More</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {sheets.map((sheet) => {
          const entries = () => entriesOf(sheet)
          return (
            <MenuHere key={sheet.id} entries={entries}>
              <tr className="border-b border-rule hover:bg-leaf-pale">
                <td className="truncate px-3 py-1.5">
                  <Link className="font-medium hover:underline" to={`/t/${sheet.template}/fill/${sheet.id}`}>
                    {sheet.name}
                  </Link>
                  {sheet.link && <span className="text-soft"> follows a {sheet.link.kind}</span>}
                </td>
                <td className="truncate px-3">{sheet.templateName}</td>
                <td className="px-3">{sheet.number}</td>
                <td className="px-3">{sheet.count}</td>
                {states && (
                  <td className="px-3">
                    <State sheet={sheet} />
                  </td>
                )}
                <td className="truncate px-3 text-soft">{day(sheet.changed)}</td>
                <td className="pr-2">
                  <Menu label={`More for ${sheet.name}`} align="end" entries={entries}>
                    <Ellipsis size={14} aria-hidden="true" />
                  </Menu>
                </td>
              </tr>
            </MenuHere>
          )
        })}
      </tbody>
    </table>
  )
}

/** What the checks say of a sheet's rows. It says fine only of what was looked at. */
function State({ sheet }: { sheet: SheetSummary }) {
  const { data, error } = useQuery({
    queryKey: ['sheet-state', sheet.id, sheet.revision, sheet.version],
    // The server keeps what it worked out; pictures and known names may be others each time.
    queryFn: () => api.sheetState({ id: sheet.id }),
  })
  if (error) return <span className="text-look">not looked at: {error.message}</span>
  if (!data) return <span className="text-soft">looking …</span>
  const { stop, look, fine } = data
  if (stop + look + fine === 0) return <span className="text-soft">none that go out</span>
  const worst = stop > 0 ? 'stop' : look > 0 ? 'look' : 'fine'
  return (
    <span className="flex items-center gap-1.5">
      <StateMark state={worst} />
      {[
        stop > 0 && <b key="stop" className="font-medium text-stop">{`${stop} stop`}</b>,
        look > 0 && <span key="look" className="text-look">{`${look} look`}</span>,
        <span key="fine" className="text-soft">{`${fine} fine`}</span>,
      ]}
    </span>
  )
}
