/** One limit: the most of something, and who it is that says so. */
export interface Limit {
  most: number
  unit:
    | 'bytes'
    | 'rows'
    | 'columns'
    | 'cells'
    | 'characters'
    | 'levels'
    | 'px'
    | 'pixels'
    | 'frames'
    | 'files'
    | 'parts'
  /** Of what, as a person would say it. */
  of: string
}

const limit = (most: number, unit: Limit['unit'], of: string): Limit => ({ most, unit, of })
const mb = 1024 * 1024

/**
 * Everything that Hoja takes only so much of, in one table. A number in a file is never trusted: what it unfolds to is
 * counted while it unfolds, and stopped here.
 */
export const limits = {
  uploadBytes: limit(256 * mb, 'bytes', 'a file that is sent'),
  footageBytes: limit(16 * 1024 * mb, 'bytes', 'a movie that lies under titles'),
  assetBytes: limit(64 * mb, 'bytes', 'a font, a picture, a sound or a movie for a template'),
  draftBytes: limit(24 * mb, 'bytes', 'a draft'),
  editBytes: limit(8 * mb, 'bytes', 'one edit of the rows of a sheet'),
  editRows: limit(5000, 'rows', 'one edit of the rows of a sheet, or a table that is no file'),
  smallRequestBytes: limit(2 * mb, 'bytes', 'any other request that is no file'),
  followedBytes: limit(64 * mb, 'bytes', 'a data file that is followed'),
  feedBytes: limit(16 * mb, 'bytes', 'an answer of a feed'),
  rows: limit(500_000, 'rows', 'a data file, a worksheet or a sheet'),
  columns: limit(2000, 'columns', 'a data file, a worksheet or a sheet'),
  listRows: limit(5000, 'rows', 'a list that titles of a programme are made of'),
  cells: limit(10_000_000, 'cells', 'a data file: its rows times its columns'),
  cellCharacters: limit(100_000, 'characters', 'a cell'),
  jsonDepth: limit(200, 'levels', 'lists and objects within one another in a JSON file or a template'),
  xmlDepth: limit(200, 'levels', 'elements within one another in a feed or a drawing, marks in a cue'),
  patternCharacters: limit(500, 'characters', 'a pattern'),
  pathCharacters: limit(2000, 'characters', 'a path of a JSON file'),
  packageBytes: limit(256 * mb, 'bytes', 'what a template package unpacks to'),
  packageFiles: limit(500, 'files', 'a template package'),
  workbookBytes: limit(512 * mb, 'bytes', 'what a workbook unpacks to'),
  workbookFiles: limit(5000, 'files', 'a workbook'),
  picturesBytes: limit(512 * mb, 'bytes', 'what a zip of pictures unpacks to'),
  picturesFiles: limit(5000, 'files', 'a zip of pictures'),
  fontBytes: limit(64 * mb, 'bytes', 'what a compressed font unpacks to'),
  pictureSide: limit(12_000, 'px', 'the longer side of a picture'),
  picturePixels: limit(64_000_000, 'pixels', 'a picture: its width times its height'),
  movieFrames: limit(750, 'frames', 'a movie in a template'),
  moviePixels: limit(2_000_000_000, 'pixels', 'a movie in a template: its pixels times its frames'),
  movieBytes: limit(96 * mb, 'bytes', 'a movie in a template, once it is decoded'),
  drawingCharacters: limit(4_000_000, 'characters', 'an SVG drawing'),
  titleFrames: limit(1_000_000, 'frames', 'a title, and each of its spans'),
  frameSide: limit(8192, 'px', 'a side of a frame'),
  parts: limit(2000, 'parts', 'a template, or a group in it, counted at its top'),
} as const satisfies Record<string, Limit>

export type LimitId = keyof typeof limits

/** Seconds between two looks at a feed. */
export const followSeconds = { least: 1, most: 3600, step: 1, whole: true } as const

/** A number of something as people read it: `1,048,576 rows`, `256 MB`. */
export function amount(value: number, unit: Limit['unit']): string {
  if (unit === 'bytes' && value >= mb) return `${Math.round(value / mb).toLocaleString('en')} MB`
  return `${value.toLocaleString('en')} ${unit}`
}

/** The most of something, in words: `500,000 rows`. */
export const most = (id: LimitId): string => amount(limits[id].most, limits[id].unit)

/** The table of limits in Markdown. */
export function limitsTable(): string {
  const lines = Object.values<Limit>(limits).map((one) => `| ${one.of} | ${amount(one.most, one.unit)} |`)
  return ['| Of | At most |', '| --- | --- |', ...lines].join('\n')
}
