import { doubtAbout, type Match, refuseMatch, timeSources, usedColumns } from '@hoja/core/data'
import type { DataPreview } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import type { Template } from '@hoja/core/template'
import type { Store } from '../store/index.ts'
import type { VersionRow } from '../store/templates.ts'

/** @throws Refusal for what is no match of the template: the hand-off says what can be filled, not the request. */
export function checkedMatch(template: Template, match: unknown): Match {
  const refused = refuseMatch(template, match)
  if (refused) throw new Refusal('match.locked', refused)
  return match as Match
}

/** The match as it was last set for a sheet with these columns; for a field that nobody was asked about then, the guess. */
export function matchFor(
  { sheets, templates }: Store,
  version: VersionRow,
  columns: readonly string[],
  guess: Match,
): { match: Match; remembered: boolean } {
  const keysOf = (one: VersionRow) => [
    ...templates.published(one).fields.map((field) => field.key),
    ...timeSources.map(({ key }) => key),
  ]
  const known = sheets.rememberedMatch(version.template, columns)
  if (!known) return { match: guess, remembered: false }
  const asked = new Set(keysOf(templates.version(known.version)))
  const used = new Set(usedColumns(known.match))
  const match: Match = {}
  for (const key of keysOf(version)) {
    const source = asked.has(key) ? known.match[key] : guess[key]
    if (source !== undefined && (asked.has(key) || typeof source !== 'string' || !used.has(source))) match[key] = source
  }
  return { match, remembered: true }
}

/** What was seen of a data file, with the match that it will come in with, and a doubt about that one. */
export function matchedPreview(
  store: Store,
  version: VersionRow,
  preview: DataPreview,
): DataPreview & { remembered: boolean } {
  const found = matchFor(store, version, preview.columns, preview.match)
  if (!found.remembered) return { ...preview, ...found }
  const template = store.templates.published(version)
  return { ...preview, ...found, doubt: doubtAbout(template, found.match, preview) ?? null }
}
