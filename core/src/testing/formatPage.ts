import { readFileSync } from 'node:fs'

type Json = Record<string, unknown>

/** The page on which the format is explained, as somebody who writes a template by hand reads it. */
export const formatPage = readFileSync(new URL('../../../docs/format.md', import.meta.url), 'utf8')

/** A row of a table of the page: what its key means, the kinds of part that have it, and the example. */
interface Row {
  means: string
  kinds: string
  example: unknown
}

/** The tables of the page with an example in each row, by their heading. */
export const pageTables: Record<string, Record<string, Row>> = Object.fromEntries(
  formatPage.split(/^### /m).flatMap((section): [string, Record<string, Row>][] => {
    const [title] = section.split('\n')
    const lines = section.split('\n').filter((line) => line.startsWith('| '))
    const head = lines[0]?.split(' | ') ?? []
    if (!head.at(-1)?.startsWith('For example')) return []
    const rows = lines.slice(1).flatMap((line): [string, Row][] => {
      const cells = line.slice(2, -2).split(/(?<!\\) \| /)
      if (!cells[0]!.startsWith('`')) return []
      const example = JSON.parse(cells.at(-1)!.slice(1, -1).replaceAll('\\|', '|'))
      const kinds = cells.length > 3 ? cells[2]! : ''
      return [[cells[0]!.slice(1, -1), { means: cells[1]!, kinds, example }]]
    })
    return [[title!, Object.fromEntries(rows)]]
  }),
)

const examples = (title: string): Json =>
  Object.fromEntries(Object.entries(pageTables[title]!).map(([key, { example }]) => [key, example]))

const ids = { text: 'name', box: 'plate', ellipse: 'mount', path: 'wave', curve: 'tide', picture: 'mark', group: 'bar' }

/**
 * A template of nothing but the examples of the page: a part of every kind with every property it has, every key of every
 * table in its place.
 */
export function templateFromPage(): Json {
  const part = examples('Part')
  const style = (kind: string) =>
    Object.fromEntries(
      Object.entries(pageTables.Style!)
        // What is hidden or cuts others is not drawn.
        .filter(
          ([key, { kinds }]) => (kinds === 'all' || kinds.includes(kind)) && !['visible', 'matteOnly'].includes(key),
        )
        .map(([key, { example }]) => [key, example]),
    )
  const { ride, segments, tracks: _, ...motion } = examples('Motion') as Json & { segments: Json }
  const key = examples('Key')
  const own: Record<string, Json> = {
    text: { room: part.room, motion: { ...motion, tracks: {}, segments: { ...segments, ...examples('Segments') } } },
    box: { x: part.x, locked: part.locked, motion: { ...motion, tracks: examples('Channels') } },
    path: { motion: { ...motion, tracks: { fade: { keys: [key] } } } },
    picture: {
      matte: part.matte,
      x: { ...examples('Axis'), ties: [examples('Tie')] },
      motion: { ...motion, tracks: {}, ride },
    },
    group: { parts: part.parts },
  }
  const parts = Object.entries(ids).map(([kind, id]) => ({
    id,
    name: id,
    kind,
    x: part.y,
    y: part.y,
    style: style(kind),
    motion: { ...motion, tracks: {} },
    ...own[kind],
  }))
  return {
    ...examples('The document'),
    frame: examples('Frame'),
    spans: examples('Spans'),
    parts,
    fields: [examples('Field')],
  }
}
