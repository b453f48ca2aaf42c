import { drivenBy } from './drivers.ts'
import type { Field, Template } from './types.ts'

/**
 * Whether a field's default is only a sample, which must not go out because a row gave nothing: as its designer says,
 * or, unless told, of all that is read in a title. A house mark may go out, a sample name may not.
 */
export function defaultIsSample(template: Template, field: Field): boolean {
  if (field.sample !== undefined) return field.sample
  if (field.type === 'text' || field.type === 'texts' || field.type === 'moment' || field.type === 'numbers')
    return true
  return field.type === 'number' && drivenBy(template, field).some(({ property }) => property === 'content')
}

/** The word that means no picture in data. */
export const noPictureWord = (field: Field): string => field.none ?? 'none'
