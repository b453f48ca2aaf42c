import type { Output, TemplateSummary } from '@hoja/core/api'
import { Ellipsis } from 'lucide-react'
import { Link } from 'react-router'
import { classes } from '../ui/controls.tsx'
import { Menu, MenuHere } from '../ui/Menu.tsx'
import { day } from '../ui/words.ts'
import { endedOf, inOrder, outputName, outputSummary } from './outputWords.ts'
import { useOutputEntries } from './useOutputEntries.ts'

/** Outputs in their order, each with how far it is and what can be done with it. */
export function OutputTable({
  outputs,
  templates,
  label,
}: {
  outputs: readonly Output[]
  templates: readonly TemplateSummary[]
  label: string
}) {
  const entries = useOutputEntries()
  const nameOf = new Map(templates.map((template) => [template.id, template.name]))
  return (
    <table className="w-full table-fixed border-collapse bg-paper text-left" aria-label={label}>
      <thead>
        <tr className="border-y border-rule text-xs text-soft">
          <th className="px-3 py-1.5 font-medium">Output</th>
          <th className="w-36 px-3 font-medium">Template</th>
          <th className="w-52 px-3 font-medium">How far</th>
          <th className="w-36 px-3 font-medium">Ordered</th>
          <th className="w-10">
            <span className="sr-only">More</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {inOrder(outputs).map((output) => {
          const { ended, total } = endedOf(output)
          const { counts, state } = output
          const wrong = counts.held + counts.failed
          const isOpen = state === 'running' || state === 'paused'
          return (
            <MenuHere key={output.id} entries={() => entries(output)}>
              <tr className="border-b border-rule hover:bg-leaf-pale">
                <td className="truncate px-3 py-1.5">
                  <Link className="font-medium hover:underline" to={`/t/${output.template}/outputs/${output.id}`}>
                    {outputName(output)}
                  </Link>
                </td>
                <td className="truncate px-3">{nameOf.get(output.template) ?? output.template}</td>
                <td className="px-3">
                  <span className="flex items-center gap-2">
                    {isOpen && (
                      <span
                        role="progressbar"
                        aria-label={`${outputName(output)}, rendered rows`}
                        aria-valuenow={ended}
                        aria-valuemin={0}
                        aria-valuemax={total}
                        className="h-1.5 w-20 shrink-0 border border-rule bg-white"
                      >
                        <span
                          className={classes('block h-full', state === 'paused' ? 'bg-soft' : 'bg-leaf')}
                          style={{ width: `${(ended / Math.max(1, total)) * 100}%` }}
                        />
                      </span>
                    )}
                    <span className={classes('truncate', state === 'running' && 'text-leaf')}>
                      {outputSummary(output)}
                      {wrong > 0 && <span className="text-stop">, {wrong} not made</span>}
                    </span>
                  </span>
                </td>
                <td className="truncate px-3 text-soft">{day(output.created)}</td>
                <td className="pr-2">
                  <Menu label={`More for ${outputName(output)}`} align="end" entries={() => entries(output)}>
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
