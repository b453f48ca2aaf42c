import type {
  LetGo,
  ListNode,
  NumberNode,
  RecordNode,
  Reference,
  Referred,
  Schema,
  TextNode,
  VariantNode,
} from './nodes.ts'

type Json = Record<string, unknown>
const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value)

/** One place where a value names something else. */
export interface Found extends Reference {
  /** What is named: an id, or a picture's name. */
  id: string
  path: readonly (string | number)[]
}

/** What stands before the id of a colour of the palette where it is named. */
export const palettePrefix = 'palette:'

/** What a text names; undefined where it names nothing: empty, or a colour of its own. */
function named({ refers }: TextNode, value: unknown): string | undefined {
  if (!refers || typeof value !== 'string' || value === '') return undefined
  if (refers.to !== 'colour') return value
  return value.startsWith(palettePrefix) ? value.slice(palettePrefix.length) : undefined
}

/** Whether a schema describes anything of a sort, however deep; where it doesn't, nobody looks. */
function holding(isSought: (schema: Schema) => boolean): (schema: Schema) => boolean {
  const known = new WeakMap<Schema, boolean>()
  const holds = (schema: Schema): boolean => {
    const was = known.get(schema)
    if (was !== undefined) return was
    // What holds itself holds the sought if anything else in it does.
    known.set(schema, false)
    const found = isSought(schema) || partsOf(schema).some(holds)
    known.set(schema, found)
    return found
  }
  return holds
}
const names = holding((schema) => schema.kind === 'text' && schema.refers !== undefined)
const measures = holding((schema) => schema.kind === 'number')

function partsOf(schema: Schema): readonly Schema[] {
  switch (schema.kind) {
    case 'named':
      return [schema.of()]
    case 'optional':
    case 'list':
    case 'map':
      return [schema.of]
    case 'tuple':
    case 'either':
      return schema.of
    case 'record':
      return Object.values(schema.members)
    case 'variant':
      return [...schema.records.values()]
    default:
      return []
  }
}

/** The record of a variant that a value is, if it is one. */
const recordOf = ({ tag, records }: VariantNode, value: Json): RecordNode | undefined =>
  typeof value[tag] === 'string' ? records.get(value[tag]) : undefined

/** Whether a value could be what an alternative describes: of an object by its members, of anything else by its type. */
function suits(schema: Schema, value: unknown): boolean {
  switch (schema.kind) {
    case 'named':
      return suits(schema.of(), value)
    case 'record':
      return isObject(value) && Object.keys(schema.members).some((key) => key in value)
    case 'variant':
      return isObject(value) && recordOf(schema, value) !== undefined
    case 'list':
      return Array.isArray(value)
    case 'text':
      return typeof value === 'string'
    default:
      return false
  }
}

/** What a schema comes to for one value: the record of a variant, the alternative that suits it. */
function resolved(schema: Schema, value: unknown): Schema | undefined {
  switch (schema.kind) {
    case 'named':
      return schema.of()
    case 'optional':
      return schema.of
    case 'variant':
      return isObject(value) ? recordOf(schema, value) : undefined
    case 'either':
      return schema.of.find((each) => suits(each, value))
    default:
      return undefined
  }
}

/**
 * Every place in a value where it names something, in the order of the document.
 * @param value need not be as described: what is not is passed over
 */
export function references(schema: Schema, value: unknown): Found[] {
  const found: Found[] = []
  visit(schema, value, [], found)
  return found
}

function visit(schema: Schema, value: unknown, path: (string | number)[], found: Found[]): void {
  if (value === undefined || !names(schema)) return
  const into = (of: Schema, key: string | number, one: unknown) => {
    path.push(key)
    visit(of, one, path, found)
    path.pop()
  }
  switch (schema.kind) {
    case 'text': {
      const id = named(schema, value)
      if (id !== undefined) found.push({ ...schema.refers!, id, path: [...path] })
      return
    }
    case 'list':
      if (Array.isArray(value)) for (let i = 0; i < value.length; i++) into(schema.of, i, value[i])
      return
    case 'tuple':
      if (Array.isArray(value)) for (let i = 0; i < schema.of.length; i++) into(schema.of[i]!, i, value[i])
      return
    case 'map':
      if (isObject(value)) for (const key of Object.keys(value)) into(schema.of, key, value[key])
      return
    case 'record':
      if (isObject(value))
        for (const key of Object.keys(schema.members))
          if (value[key] !== undefined) into(schema.members[key]!, key, value[key])
      return
    default: {
      const one = resolved(schema, value)
      if (one) visit(one, value, path, found)
    }
  }
}

/** What a reference becomes: another id, itself, or, with `undefined`, it is let go. */
export type Renamed = (to: Referred, id: string, as: string) => string | undefined

const gone = Symbol('gone')

/**
 * A value with other references. What is let go takes along whatever can't be without it: an entry leaves its list, a
 * member its record, and what then can't be goes too, or becomes what its description says. What doesn't change is shared.
 */
export function withReferences<T>(schema: Schema, value: T, renamed: Renamed): T {
  const going: Going = { count: 0 }
  const next = mapped(schema, value, names, going, (leaf, one) => {
    const id = leaf.kind === 'text' ? named(leaf, one) : undefined
    if (leaf.kind !== 'text' || id === undefined) return one
    const { to, as } = leaf.refers!
    const other = renamed(to, id, as)
    if (other === undefined && leaf.otherwise !== undefined) return leaf.otherwise
    if (other === undefined) {
      going.count++
      return gone
    }
    return other === id ? one : to === 'colour' ? `${palettePrefix}${other}` : other
  })
  return (next === gone ? undefined : next) as T
}

/** A value with other numbers, each brought within its bounds. What doesn't change is shared. */
export function withNumbers<T>(schema: Schema, value: T, changed: (value: number, of: NumberNode) => number): T {
  return mapped(schema, value, measures, { count: 0 }, (leaf, one) => {
    if (leaf.kind !== 'number' || typeof one !== 'number') return one
    const next = changed(one, leaf)
    return next === one ? one : Math.min(leaf.most, Math.max(leaf.least, leaf.whole ? Math.round(next) : next))
  }) as T
}

type Leaf = (schema: TextNode | NumberNode, value: unknown) => unknown

/** How many references have been let go so far. */
interface Going {
  count: number
}

function mapped(schema: Schema, value: unknown, holds: (schema: Schema) => boolean, going: Going, leaf: Leaf): unknown {
  if (value === undefined || !holds(schema)) return value
  const into = (of: Schema, one: unknown) => mapped(of, one, holds, going, leaf)
  switch (schema.kind) {
    case 'text':
    case 'number':
      return leaf(schema, value)
    case 'list':
      return Array.isArray(value) ? mappedList(schema, value, into) : value
    case 'tuple':
      return Array.isArray(value)
        ? shared(
            value,
            value.map((one, i) => into(schema.of[i]!, one)),
          )
        : value
    case 'map': {
      if (!isObject(value)) return value
      const next = Object.fromEntries(Object.entries(value).map(([key, one]) => [key, into(schema.of, one)]))
      return Object.keys(next).some((key) => next[key] !== value[key]) ? next : value
    }
    case 'record':
      return isObject(value) ? mappedRecord(schema, value, into, going, schema) : value
    default: {
      const one = resolved(schema, value)
      if (!one) return value
      return one.kind === 'record' && schema.kind === 'variant'
        ? mappedRecord(one, value as Json, into, going, schema)
        : into(one, value)
    }
  }
}

type Into = (of: Schema, value: unknown) => unknown

const shared = (was: readonly unknown[], next: unknown[]): readonly unknown[] =>
  next.length === was.length && next.every((one, i) => one === was[i]) ? was : next

function mappedList({ of, least }: ListNode, value: readonly unknown[], into: Into): unknown {
  const left = value.map((one) => into(of, one)).filter((one) => one !== gone)
  return left.length < least && value.length >= least ? gone : shared(value, left)
}

function mappedRecord(
  { members }: RecordNode,
  value: Json,
  into: Into,
  going: Going,
  { otherwise, whole }: LetGo,
): unknown {
  let next = value
  const before = going.count
  for (const key of Object.keys(members)) {
    const was = value[key]
    const one = was === undefined ? undefined : into(members[key]!, was)
    if (one === was) continue
    if (whole && going.count > before) return otherwise ?? gone
    if (one !== gone) next = { ...next, [key]: one }
    else if (members[key]!.kind === 'optional') {
      const { [key]: _, ...rest } = next
      next = rest
    } else return otherwise ?? gone
  }
  return next
}
