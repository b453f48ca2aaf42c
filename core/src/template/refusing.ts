import { faultIn } from '../schema/index.ts'
import { described, valueSchema } from './description.ts'
import { isLanguage } from './language.ts'
import { type PartKind, propertyOf } from './properties.ts'

/** Whether a value may stand in a property; undefined when it may, else one sentence. */
export function refuseValue(kind: PartKind, key: string, value: unknown): string | undefined {
  const property = propertyOf(kind, key)
  if (!property) return `a ${kind} has no ${key}`
  const fault = faultIn(valueSchema(property), value)
  if (fault) return `${[property.label, ...fault.path].join('.')} ${fault.says}`
  if (property.type === 'language' && value !== '' && !isLanguage(value as string)) return `"${value}" is no language`
  return undefined
}

/** Whether a value holds the keys of a motion; undefined when it does, else one sentence. */
export function refuseKeys(value: unknown): string | undefined {
  const fault = faultIn(described.arrival, value)
  return fault && `${fault.path.join('.')} ${fault.says}`
}
