import { api } from '@hoja/core/api'
import { stateOf } from '@hoja/core/data'
import { Router } from 'express'
import type { Context } from './context.ts'
import { checkedRows } from './outputOrders.ts'
import { serving } from './serving.ts'

/** How many sheets' states are remembered; each is a few numbers. */
const remembered = 500

export function productionRoutes(context: Context): Router {
  const { store } = context
  const { productions, sheets, templates } = store
  const routes = Router()
  const serve = serving(routes)
  /** By sheet, with what it was worked out from. */
  const states = new Map<number, { of: string; counts: { stop: number; look: number; fine: number } }>()

  serve(api.productions, () => productions.list())
  serve(api.newProduction, ({ name }) => productions.add(name))
  serve(api.production, ({ id }) => productions.get(id))
  serve(api.changeProduction, ({ id, name, templates }) => productions.change(id, { name, templates }))
  serve(api.removeProduction, ({ id }) => productions.remove(id))
  serve(api.putIntoProduction, ({ id, production }) => sheets.putInto(id, production))
  /** Worked out when it is asked for, and again when the rows, the version, the pictures or the known names have changed. */
  serve(api.sheetState, async ({ id }) => {
    const sheet = sheets.get(id)
    const pictures = sheets.pictures(id)
    // A picture that comes or goes is no revision of the rows, and changes what is said of them all the same.
    const of = JSON.stringify([sheet.revision, sheet.version, sheets.knownMark(), pictures])
    const before = states.get(id)
    if (before?.of === of) return { revision: sheet.revision, ...before.counts }
    const rows = sheets.rows(id)
    const { document } = templates.version(sheet.version)
    const findings = await checkedRows(context, document, sheet.match, rows, pictures)
    const counts = { stop: 0, look: 0, fine: 0 }
    rows.forEach((row, i) => {
      if (!row.off) counts[stateOf(findings[i]!)]++
    })
    if (states.size >= remembered) states.delete(states.keys().next().value!)
    states.set(id, { of, counts })
    return { revision: sheet.revision, ...counts }
  })
  return routes
}
