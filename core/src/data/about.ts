import type { Field, Template } from '../template/index.ts'
import { type Rate, secondsOf } from '../time/index.ts'
import { standsOf } from './fieldWords.ts'
import type { About, Row } from './table.ts'

/** What stands for the moment of rendering in data, in the languages of months and days. */
const nowWords = new Set(
  'now jetzt heute maintenant ahora hoy agora hoje adesso oggi nu teraz nyt orain ara bây today'.split(' '),
)

export const isNow = (text: string): boolean => nowWords.has(text.trim().toLowerCase())

/** Whether anything in a template's titles hangs on what they are made among. */
export const saysAbout = ({ fields }: Pick<Template, 'fields'>): boolean =>
  fields.some(({ type, stands }) => stands !== undefined || type === 'moment')

const pad = (value: number) => String(value).padStart(2, '0')

/** A moment of the clock on the wall where the program runs, as ISO 8601 has it. */
export function localMoment(date: Date): string {
  const day = `${String(date.getFullYear()).padStart(4, '0')}-${pad(date.getMonth() + 1)}-${pad(date.getDate())}`
  return `${day}T${pad(date.getHours())}:${pad(date.getMinutes())}:${pad(date.getSeconds())}`
}

/** A length as a moment of a day that begins with it, so that a date pattern writes it: `m:ss`. */
function lengthMoment(seconds: number): string {
  const whole = Math.round(seconds) % 86_400
  return `2000-01-01T${pad(Math.floor(whole / 3600))}:${pad(Math.floor(whole / 60) % 60)}:${pad(whole % 60)}`
}

/** A row with what its title is made among; itself where nothing of its template hangs on that. */
export const rowAbout = (template: Pick<Template, 'fields'>, row: Row, about: About): Row =>
  saysAbout(template) ? { ...row, about } : row

/**
 * What a field says of itself where a row gives it nothing; undefined: its default stands.
 * @param ofRow seconds that the row itself says its title is long
 */
export function standing(
  { spans, frame }: { spans: Template['spans']; frame: { rate: Rate } },
  { type, stands }: Field,
  about: About | undefined,
  ofRow: () => number | undefined,
): string | number | undefined {
  if (!about || stands === undefined || !standsOf(type).includes(stands)) return undefined
  switch (stands) {
    case 'now':
      return about.now
    case 'length': {
      const designed = secondsOf(spans.in + spans.hold.frames + spans.out, frame.rate)
      const seconds = about.seconds ?? ofRow() ?? designed
      return type === 'moment' ? lengthMoment(seconds) : seconds
    }
    case 'row':
      return about.row
    case 'rows':
      return about.rows
  }
}
