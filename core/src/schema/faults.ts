import { closest, distance } from 'fastest-levenshtein'
import {
  type EitherNode,
  inheritedNames,
  isOwn,
  type ListNode,
  type NumberNode,
  type RecordNode,
  type Schema,
  type TextNode,
  type VariantNode,
} from './nodes.ts'

/** What is wrong in a value: where, and in words that follow the name of the place. */
export interface Fault {
  path: (string | number)[]
  says: string
  /** The key that the object there does not know. */
  unknown?: string
}

type Json = Record<string, unknown>
const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value)
const inherited = new Set(inheritedNames)
const patterns = new Map<string, RegExp>()

/**
 * The first thing in a value that is not as described; undefined when all of it is. Members that are `undefined` count as
 * left out, as JSON leaves them out.
 * @param known a value that is as described, of which this one was made: what the two share is not looked at again
 */
export function faultIn(schema: Schema, value: unknown, known?: unknown): Fault | undefined {
  if (value === known && typeof value === 'object' && value !== null) return undefined
  switch (schema.kind) {
    case 'named':
      return faultIn(schema.of(), value, known)
    case 'optional':
      return value === undefined ? undefined : faultIn(schema.of, value, known)
    case 'any':
      return undefined
    case 'number':
      return isWithin(schema, value) ? undefined : fault(`must be ${numberWords(schema)}`)
    case 'text':
      return fits(schema, value) ? undefined : fault(`must be ${textWords(schema, value)}`)
    case 'switch':
      return typeof value === 'boolean' ? undefined : fault('must be true or false')
    case 'oneOf':
      return (schema.values as readonly unknown[]).includes(value)
        ? undefined
        : fault(`must be ${choiceWords(schema.values, value)}`)
    case 'list':
      return faultInList(schema, value, known)
    case 'tuple': {
      if (!Array.isArray(value) || value.length !== schema.of.length)
        return fault(`must be a list of ${schema.of.length}`)
      for (const [i, of] of schema.of.entries()) {
        const found = faultIn(of, value[i])
        if (found) return at(i, found)
      }
      return undefined
    }
    case 'map':
      return faultInMap(schema.of, value, known)
    case 'record':
      return faultInRecord(schema, value, known)
    case 'variant':
      return faultInVariant(schema, value, known)
    case 'either':
      return faultInEither(schema, value)
  }
}

const fault = (says: string, unknown?: string): Fault => ({ path: [], says, ...(unknown ? { unknown } : {}) })

function at(key: string | number, found: Fault): Fault {
  found.path.unshift(key)
  return found
}

const isWithin = ({ least, most, whole }: NumberNode, value: unknown): boolean =>
  typeof value === 'number' && value >= least && value <= most && (!whole || Number.isInteger(value))

function fits({ least, most, pattern }: TextNode, value: unknown): boolean {
  if (typeof value !== 'string') return false
  if (value.length > most || least > 0) {
    const length = [...value].length
    if (length > most || length < least) return false
  }
  if (pattern === undefined) return true
  let known = patterns.get(pattern)
  if (!known) {
    known = new RegExp(pattern, 'u')
    patterns.set(pattern, known)
  }
  return known.test(value)
}

/** What a text has to be; of what is no text at all, only that. */
const textWords = ({ like, pattern }: TextNode, value: unknown): string =>
  typeof value === 'string' || pattern !== undefined ? like : 'a text, in quotation marks'

/** Bounds that are only there because every number has some are not told. */
const boundless = 1e12

const numberWords = ({ least, most, whole, unit }: NumberNode): string => {
  const range = most >= boundless ? '' : ` from ${least} to ${most}`
  return `${whole ? 'a whole number' : 'a number'}${range}${unit && unit !== 'share' ? ` (${unit})` : ''}`
}

/** More words than these are not all told. */
const mostWords = 20

function choiceWords(values: readonly unknown[], given?: unknown): string {
  const words = values.map((value) => JSON.stringify(value))
  if (words.length === 1) return words[0]!
  if (words.length <= mostWords) return `one of ${words.join(', ')}`
  const near = typeof given === 'string' ? closest(given, values.map(String)) : String(values[0])
  return `one of ${words.length} words, as "${near}"`
}

function faultInList({ of, least, most, distinct }: ListNode, value: unknown, known: unknown): Fault | undefined {
  if (!Array.isArray(value)) return fault('must be a list')
  if (value.length > most) return fault(`must have at most ${most} entries`)
  if (value.length < least) return fault(least === 1 ? 'must have an entry' : `must have at least ${least} entries`)
  const before: readonly unknown[] = Array.isArray(known) ? known : []
  let all: Set<unknown> | undefined
  for (let i = 0; i < value.length; i++) {
    const one = value[i]
    if (one === before[i] && typeof one === 'object' && one !== null) continue
    if (before.length > 0) {
      all ??= new Set(before)
      if (typeof one === 'object' && one !== null && all.has(one)) continue
    }
    const found = faultIn(of, one, before[i])
    if (found) return at(i, found)
  }
  if (distinct === undefined) return undefined
  const words = value.map((one) => (one as Json)[distinct])
  const twice = words.find((word, i) => words.indexOf(word) !== i)
  return twice === undefined ? undefined : fault(`has the ${distinct} "${twice}" twice`)
}

function faultInMap(of: Schema, value: unknown, known: unknown): Fault | undefined {
  if (!isObject(value)) return fault('must be an object')
  const before = isObject(known) ? known : {}
  for (const key of Object.keys(value)) {
    if (inherited.has(key)) return fault(`has no "${key}"; take it out`, key)
    const one = value[key]
    const was = Object.hasOwn(before, key) ? before[key] : undefined
    // What is as it was is not looked at again: a map may have thousands of entries.
    if (one === undefined || (one === was && typeof one === 'object')) continue
    const found = faultIn(of, one, was)
    if (found) return at(key, found)
  }
  return undefined
}

function faultInRecord({ members }: RecordNode, value: unknown, known: unknown): Fault | undefined {
  if (!isObject(value)) return fault('must be an object')
  for (const key of Object.keys(value))
    if (!Object.hasOwn(members, key) && !isOwn(key) && value[key] !== undefined) return strange(key, members)
  const before = isObject(known) ? known : undefined
  for (const key of Object.keys(members)) {
    const member = members[key]!
    const one = Object.hasOwn(value, key) ? value[key] : undefined
    if (one === undefined) {
      if (member.kind !== 'optional') return at(key, fault('is missing'))
      continue
    }
    const found = faultIn(member, one, before?.[key])
    if (found) return at(key, found)
  }
  return undefined
}

function strange(key: string, members: object): Fault {
  const keys = Object.keys(members)
  if (inherited.has(key)) return fault(`has no "${key}"; take it out`, key)
  const near = keys.length > 0 ? closest(key, keys) : ''
  const guess = near && distance(key, near) <= 2 ? `did you mean "${near}"?` : `it knows ${keys.join(', ')}`
  return fault(`has no "${key}"; ${guess}`, key)
}

function faultInVariant({ tag, records }: VariantNode, value: unknown, known: unknown): Fault | undefined {
  if (!isObject(value)) return fault('must be an object')
  const word = Object.hasOwn(value, tag) ? value[tag] : undefined
  const record = typeof word === 'string' ? records.get(word) : undefined
  if (!record)
    return at(tag, fault(word === undefined ? 'is missing' : `must be ${choiceWords([...records.keys()], word)}`))
  return faultInRecord(record, value, isObject(known) && known[tag] === word ? known : undefined)
}

/** Right when it is as any of them is; else what is wrong by the one that it is most like. */
function faultInEither({ of, like }: EitherNode, value: unknown): Fault | undefined {
  let nearest: { fault: Fault; shares: number } | undefined
  for (const one of of) {
    const found = faultIn(one, value)
    if (!found) return undefined
    const shares = isObject(value) ? sharedKeys(one, value) : 0
    if (shares > (nearest?.shares ?? 0)) nearest = { fault: found, shares }
  }
  return nearest?.fault ?? fault(`must be ${like}`)
}

function sharedKeys(schema: Schema, value: Json): number {
  if (schema.kind === 'named') return sharedKeys(schema.of(), value)
  if (schema.kind === 'variant') return Object.hasOwn(value, schema.tag) ? 1 : 0
  if (schema.kind !== 'record') return 0
  return Object.keys(value).filter((key) => Object.hasOwn(schema.members, key)).length
}
