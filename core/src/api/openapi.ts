import type {
  Schema,
  SchemaDescription,
  SchemaFieldDescription,
  SchemaInnerTypeDescription,
  SchemaObjectDescription,
} from 'yup'
import { templateJsonSchema } from '../template/index.ts'
import { type Method, problemType, type Route } from './route.ts'
import { api } from './routes.ts'

type Json = Record<string, unknown>

/** Bounds of Yup's tests, by their names, as keywords of JSON Schema for each type. */
const bounds: Record<string, Record<string, Record<string, string>>> = {
  string: { min: { min: 'minLength' }, max: { max: 'maxLength' } },
  number: { min: { min: 'minimum' }, max: { max: 'maximum' } },
  array: { min: { min: 'minItems' }, max: { max: 'maxItems' } },
}

/** A Yup schema as JSON Schema 2020-12, as far as that can say it; what is described elsewhere by its name. */
export function schemaOf(described: SchemaFieldDescription): Json {
  if (!('tests' in described)) return {}
  const one = described as SchemaDescription
  const { name, description } = (one.meta ?? {}) as { name?: string; description?: string }
  const more: Json = description ? { description } : {}
  if (name === 'Template') return { $ref: '#/components/schemas/Template' }
  if (name) more.title = name
  const type = one.tests.some((test) => test.name === 'integer') ? 'integer' : one.type
  if (type !== 'mixed' && type !== 'lazy') more.type = one.nullable ? [type, 'null'] : type
  if (one.oneOf.length > 0) more.enum = [...one.oneOf]
  for (const { name: test = '', params = {} } of one.tests)
    for (const [param, keyword] of Object.entries(bounds[one.type]?.[test] ?? {})) more[keyword] = params[param]
  if (one.type === 'array') {
    const { innerType } = described as SchemaInnerTypeDescription
    if (innerType && !Array.isArray(innerType)) more.items = schemaOf(innerType)
  }
  if (one.type === 'object' && 'fields' in described) {
    const { fields } = described as SchemaObjectDescription
    more.properties = Object.fromEntries(Object.entries(fields).map(([key, field]) => [key, schemaOf(field)]))
    const required = Object.entries(fields).flatMap(([key, field]) =>
      'optional' in field && !field.optional ? [key] : [],
    )
    if (required.length > 0) more.required = required
  }
  return more
}

const describe = (schema: Schema) => schemaOf(schema.describe())

function parameters(route: Route): Json[] {
  const of = (where: 'path' | 'query', schema: Schema | undefined) => {
    const { properties = {}, required = [] } = (schema ? describe(schema) : {}) as {
      properties?: Json
      required?: string[]
    }
    return Object.entries(properties).map(([name, own]) => ({
      name,
      in: where,
      required: where === 'path' || required.includes(name),
      schema: own,
    }))
  }
  return [...of('path', route.params), ...of('query', route.query)]
}

function requestBody({ body, file }: Route): Json | undefined {
  if (!body && !file) return undefined
  const schema = body ? describe(body) : { type: 'object' }
  if (!file) return { required: true, content: { 'application/json': { schema } } }
  const { properties = {}, required = [] } = schema as { properties?: Json; required?: string[] }
  const form = {
    type: 'object',
    properties: { ...properties, file: { type: 'string', contentMediaType: 'application/octet-stream' } },
    required: [...required, 'file'],
  }
  return { required: true, content: { 'multipart/form-data': { schema: form } } }
}

function responses({ status, answer, media, errors }: Route): Json {
  const good: Json = { description: answer || media ? 'Done.' : 'Done; there is nothing to say.' }
  if (answer) good.content = { 'application/json': { schema: describe(answer) } }
  else if (media) good.content = { [media]: {} }
  const refused = [...new Set([400, ...errors, 500])].sort()
  return {
    [status]: good,
    ...Object.fromEntries(refused.map((code) => [code, { $ref: '#/components/responses/Problem' }])),
  }
}

/** The server's interface as OpenAPI 3.1; published as `docs/openapi.json`. */
export function openApi(): Json {
  const paths: Record<string, Partial<Record<Method, Json>>> = {}
  for (const [operationId, route] of Object.entries<Route>(api)) {
    const body = requestBody(route)
    const own = {
      operationId,
      summary: route.summary,
      ...(route.params || route.query ? { parameters: parameters(route) } : {}),
      ...(body ? { requestBody: body } : {}),
      responses: responses(route),
    }
    paths[route.path] = { ...paths[route.path], [route.method]: own }
  }
  const { $schema: _, $defs, ...template } = templateJsonSchema()
  const local = (value: unknown): unknown =>
    JSON.parse(JSON.stringify(value).replaceAll('"#/$defs/', '"#/components/schemas/template.'))
  const parts = Object.fromEntries(Object.entries($defs as Json).map(([key, one]) => [`template.${key}`, local(one)]))
  return {
    openapi: '3.1.0',
    info: {
      title: 'Hoja',
      version: '1',
      description: 'Templates, sheets and outputs, as the screens of Hoja use them.',
    },
    paths,
    components: {
      schemas: {
        Template: local(template),
        ...parts,
        Problem: {
          type: 'object',
          description: 'An error (RFC 9457): `detail` is a sentence for a person, `code` a word for programs.',
          properties: {
            type: { const: 'about:blank' },
            title: { type: 'string' },
            status: { type: 'integer' },
            detail: { type: 'string' },
            code: { type: 'string' },
          },
          required: ['type', 'title', 'status', 'detail', 'code'],
        },
      },
      responses: {
        Problem: {
          description: 'It was refused, or did not work.',
          content: { [problemType]: { schema: { $ref: '#/components/schemas/Problem' } } },
        },
      },
    },
  }
}
