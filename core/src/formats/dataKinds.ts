import { Refusal } from '../refusal/index.ts'

/** The endings of data files that rows are read from. */
export const dataKinds = [
  'csv',
  'tsv',
  'txt',
  'xlsx',
  'ods',
  'json',
  'rss',
  'atom',
  'xml',
  'vtt',
  'srt',
  'edl',
  'otio',
] as const
export type DataKind = (typeof dataKinds)[number]

/** The kind of data file that a name tells; nothing where it tells none. */
export function dataKindOf(name: string): DataKind | undefined {
  const ending = /\.([^.]*)$/.exec(name)?.[1]?.toLowerCase()
  return dataKinds.find((kind) => kind === ending)
}

/** What is said of a file of no kind that is read. */
export const unknownKind = (name: string): Refusal =>
  new Refusal(
    'data.kind',
    `"${name}" is of no kind that Hoja reads; use ${dataKinds.slice(0, -1).join(', ')} or ${dataKinds.at(-1)}.`,
    415,
  )
