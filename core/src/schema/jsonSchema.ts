import { inheritedNames, type Members, type RecordNode, type Schema, type VariantNode } from './nodes.ts'

type Json = Record<string, unknown>

/**
 * A description as JSON Schema 2020-12, what has a name under `$defs`.
 * @throws never; a description is finite
 */
export function jsonSchemaOf(schema: Schema): Json {
  const $defs: Json = {}
  const root = written(schema, $defs)
  return { ...root, $defs }
}

function written(schema: Schema, $defs: Json): Json {
  switch (schema.kind) {
    case 'named':
      if (!(schema.name in $defs)) {
        // Held open, so that what holds itself ends.
        $defs[schema.name] = {}
        $defs[schema.name] = written(schema.of(), $defs)
      }
      return { $ref: `#/$defs/${schema.name}` }
    case 'optional':
      return written(schema.of, $defs)
    case 'any':
      return {}
    case 'number':
      return { type: schema.whole ? 'integer' : 'number', minimum: schema.least, maximum: schema.most }
    case 'text':
      return {
        type: 'string',
        ...(schema.least > 0 ? { minLength: schema.least } : {}),
        maxLength: schema.most,
        ...(schema.pattern === undefined ? {} : { pattern: schema.pattern }),
      }
    case 'switch':
      return { type: 'boolean' }
    case 'oneOf':
      return schema.values.length === 1 ? { const: schema.values[0] } : { enum: [...schema.values] }
    case 'list':
      return {
        type: 'array',
        items: written(schema.of, $defs),
        ...(schema.least > 0 ? { minItems: schema.least } : {}),
        maxItems: schema.most,
        ...(schema.distinct === undefined ? {} : { allOf: atMostOnce(schema.of, schema.distinct) }),
      }
    case 'tuple':
      return {
        type: 'array',
        prefixItems: schema.of.map((one) => written(one, $defs)),
        minItems: schema.of.length,
        maxItems: schema.of.length,
      }
    case 'map':
      return {
        type: 'object',
        additionalProperties: written(schema.of, $defs),
        propertyNames: { not: { enum: [...inheritedNames] } },
      }
    case 'record':
      return writtenRecord(schema, $defs)
    case 'variant':
      return writtenVariant(schema, $defs)
    case 'either':
      return { anyOf: schema.of.map((one) => written(one, $defs)) }
  }
}

/** No two entries with the same word in a member: at most one entry for each of its words. */
function atMostOnce(of: Schema, member: string): Json[] {
  const record = of.kind === 'named' ? of.of() : of
  const words = record.kind === 'record' ? record.members[member] : undefined
  if (words?.kind !== 'oneOf') throw new Error(`"${member}" is not one of a few words`)
  return words.values.map((word) => ({
    contains: { properties: { [member]: { const: word } }, required: [member] },
    minContains: 0,
    maxContains: 1,
  }))
}

const requiredOf = (members: Members) => Object.keys(members).filter((key) => members[key]!.kind !== 'optional')

const closed = { patternProperties: { '^x-': true }, additionalProperties: false }

function properties(members: Members, about: RecordNode['about'], $defs: Json): Json {
  return Object.fromEntries(
    Object.entries(members).map(([key, member]) => [key, { ...written(member, $defs), ...about[key] }]),
  )
}

function writtenRecord({ members, about }: RecordNode, $defs: Json): Json {
  return { type: 'object', properties: properties(members, about, $defs), required: requiredOf(members), ...closed }
}

/** Members that all its records share stand once; those of one alone in an `if` on the word that tells them apart. */
function writtenVariant({ tag, records }: VariantNode, $defs: Json): Json {
  const all = [...records.values()]
  const first = all[0]!
  const keys = [...new Set(all.flatMap(({ members }) => Object.keys(members)))]
  const isShared = (key: string) =>
    key !== tag && all.every(({ members }) => Object.hasOwn(members, key) && members[key] === first.members[key])
  const shared = Object.fromEntries(keys.filter(isShared).map((key) => [key, first.members[key]!]))
  const own = keys.filter((key) => key !== tag && !isShared(key))
  return {
    type: 'object',
    properties: {
      [tag]: { enum: [...records.keys()], ...first.about[tag] },
      ...properties(shared, first.about, $defs),
      ...Object.fromEntries(own.map((key) => [key, { ...first.about[key] }])),
    },
    required: [tag, ...requiredOf(shared)],
    ...closed,
    ...(own.length === 0 ? {} : { allOf: [...records].map(([word, one]) => branch(tag, word, one, own, $defs)) }),
  }
}

function branch(tag: string, word: string, { members }: RecordNode, own: string[], $defs: Json): Json {
  const here = Object.fromEntries(own.filter((key) => members[key]).map((key) => [key, members[key]!]))
  return {
    if: { properties: { [tag]: { const: word } }, required: [tag] },
    // biome-ignore lint/suspicious/noThenProperty: `then` is JSON Schema's own keyword
    then: {
      properties: Object.fromEntries(own.map((key) => [key, here[key] ? written(here[key], $defs) : false])),
      required: requiredOf(here),
    },
  }
}
