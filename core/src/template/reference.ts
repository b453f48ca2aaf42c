import { type Meaning, meanings, propertyMeanings, valueMeanings } from './meanings.ts'
import { type Property, partKinds, propertiesOf } from './properties.ts'

const code = (value: unknown) => `\`${JSON.stringify(value).replaceAll('|', '\\|')}\``

function table(rows: Record<string, Meaning>): string {
  const lines = Object.entries(rows).map(
    ([key, { means, example }]) => `| \`${key}\` | ${means.replaceAll('|', '\\|')} | ${code(example)} |`,
  )
  return ['| Key | Means | For example |', '| --- | --- | --- |', ...lines].join('\n')
}

const titles: Record<keyof typeof meanings, [title: string, about: string]> = {
  document: ['The document', ''],
  derived: ['Derived', 'A colour of the palette that is worked out from others.'],
  frame: ['Frame', ''],
  shape: ['Shape', 'Of `shapes`: another frame for the same title.'],
  spans: ['Spans', ''],
  update: ['Update', 'How a title goes from one filling to the next while it is up.'],
  part: ['Part', ''],
  axis: ['Axis', 'The `x` or `y` of a part.'],
  tie: ['Tie', '*My `edge` = `at` of `to` + `gap`.*'],
  motion: ['Motion', ''],
  channels: [
    'Channels',
    'Each has `keys`; what it is before its first key is what it is there, after its last what it was.',
  ],
  key: ['Key', 'Of a channel.'],
  segments: ['Segments', ''],
  savedStyle: ['SavedStyle', 'Of `styles`.'],
  field: ['Field', ''],
}

function unitOf({ unit, min, max, options }: Property): string {
  const range = min === undefined && max === undefined ? '' : `${min ?? ''} to ${max ?? ''}`
  return [options ? options.join(', ') : '', range, unit ?? ''].filter((words) => words !== '').join(' ')
}

/** The properties of every kind's style, each once, with the kinds that have it. */
function styles(): string {
  const rows = new Map<string, { property: Property; kinds: string[] }>()
  for (const kind of partKinds)
    for (const [key, property] of propertiesOf(kind)) {
      const known = rows.get(key)
      if (known) known.kinds.push(kind)
      else rows.set(key, { property, kinds: [kind] })
    }
  const lines = [...rows].map(([key, { property, kinds }]) => {
    const { means, example } = propertyMeanings[key]!
    const which = kinds.length === partKinds.length ? 'all' : kinds.join(', ')
    return `| \`${key}\` | ${means} | ${which} | ${unitOf(property)} | ${code(property.default)} | ${code(example)} |`
  })
  return [
    '| Key | Means | Kinds | Allowed | Default | For example |',
    '| --- | --- | --- | --- | --- | --- |',
    ...lines,
  ].join('\n')
}

/** What every key means, as Markdown: the reference in `docs/format.md`. */
export function formatReference(): string {
  const sections = (Object.keys(titles) as (keyof typeof meanings)[]).map((name) => {
    const [title, about] = titles[name]
    return `### ${title}\n\n${about ? `${about}\n\n` : ''}${table(meanings[name])}`
  })
  const at = sections.findIndex((text) => text.startsWith('### Motion'))
  sections.splice(
    at,
    0,
    `### Style\n\nThe properties of a part, by the kinds that have them. What is left out stands at its default.\n\n${styles()}`,
    `### Values\n\nOf properties that are more than a number or a word.\n\n${table(valueMeanings)}`,
  )
  return sections.join('\n\n')
}
