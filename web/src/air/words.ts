import { fieldValue } from '@hoja/core/scene'
import { type Field, languageOf, shownText, type Template, type Values } from '@hoja/core/template'

/** What a field says, as it is seen; of a picture its name. */
export function shownWords(template: Template, field: Field, values: Values): string {
  const value = fieldValue(field, values)
  const words = shownText(field, value, languageOf(template))
  if (words !== '') return words
  if (typeof value === 'object') return 'picture' in value ? value.picture : ''
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)
}

/** An id that no other title has. */
export const freshId = (): string => crypto.randomUUID().replaceAll('-', '').slice(0, 20)

/** ms as minutes and seconds. */
export function clockWords(ms: number): string {
  const seconds = Math.floor(ms / 1000)
  const [hours, minutes, rest] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60]
  const two = (n: number) => String(n).padStart(2, '0')
  return hours > 0 ? `${hours}:${two(minutes)}:${two(rest)}` : `${minutes}:${two(rest)}`
}
