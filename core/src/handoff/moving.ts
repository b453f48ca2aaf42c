import { type Match, timeSources } from '../data/index.ts'
import type { Field, Template } from '../template/index.ts'

/** What becomes of a sheet's fields when it goes over to another version. */
export interface Moving {
  match: Match
  /** Fields of the version it stands on, and those they become. */
  kept: { from: Field; to: Field }[]
  /** Fields that have a column now and have nobody to give it to. Their columns stay in the sheet. */
  lost: Field[]
  /** Fields that are new; they stand at their default until a column is matched. */
  fresh: Field[]
}

/** Maps a sheet's match from one version of a template to another: by the field, then by its key. */
export function moveMatch(before: Template, after: Template, match: Match): Moving {
  const moving: Moving = { match: {}, kept: [], lost: [], fresh: [] }
  const taken = new Set<string>()
  for (const from of before.fields) {
    const source = match[from.key]
    const to =
      after.fields.find((field) => field.id === from.id && field.type === from.type) ??
      after.fields.find((field) => field.key === from.key && field.type === from.type)
    if (!to || taken.has(to.id)) {
      if (source !== undefined) moving.lost.push(from)
      continue
    }
    taken.add(to.id)
    moving.kept.push({ from, to })
    if (source !== undefined) moving.match[to.key] = source
  }
  // A title's time is nobody's field.
  for (const { key } of timeSources) if (match[key] !== undefined) moving.match[key] = match[key]
  moving.fresh = after.fields.filter((field) => !taken.has(field.id))
  return moving
}
