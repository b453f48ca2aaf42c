import { Ajv2020 } from 'ajv/dist/2020.js'
import { formatPage, pageTables, templateFromPage } from '../testing/formatPage.ts'
import { formatReference, partKinds, propertiesOf, readTemplate, refuseValue, templateJsonSchema } from './index.ts'

type Json = Record<string, unknown>

test('the page says what the code says (npm run docs writes it)', () => {
  expect(formatPage).toContain(formatReference())
})

test('a template is written from the examples of the page alone', () => {
  const document = templateFromPage()
  // Hashes are what `hoja pack` fills in.
  const hashed = { ...document }
  for (const list of ['fonts', 'media'])
    hashed[list] = (document[list] as Json[]).map((entry) => ({ ...entry, sha256: 'a'.repeat(64) }))
  const template = readTemplate(hashed)
  expect(template.parts.map(({ kind }) => kind).sort()).toEqual([...partKinds].sort())
  expect(new Ajv2020({ strict: false }).compile(templateJsonSchema())(hashed)).toBe(true)
})

test('every key of every object and every property is on the page, in words that say more than a unit', () => {
  const schema = templateJsonSchema() as {
    properties: Json
    $defs: Record<string, { properties?: Json; allOf?: unknown }>
  }
  const objects: [string, Json][] = [
    ['The document', schema.properties],
    ['Part', schema.$defs.part!.properties!],
    ['Axis', schema.$defs.axis!.properties!],
    ['Tie', schema.$defs.tie!.properties!],
    ['Motion', schema.$defs.motion!.properties!],
    ['Channels', (schema.$defs.motion!.properties!.tracks as { properties: Json }).properties],
    ['Segments', (schema.$defs.motion!.properties!.segments as { properties: Json }).properties],
    ['Key', schema.$defs.key!.properties!],
    ['Field', schema.$defs.field!.properties!],
  ]
  for (const [title, properties] of objects) {
    expect([title, Object.keys(pageTables[title]!).sort()]).toEqual([title, Object.keys(properties).sort()])
    for (const [key, own] of Object.entries(properties))
      expect([title, key, (own as Json).description]).toEqual([title, key, pageTables[title]![key]!.means])
  }
  for (const kind of partKinds)
    for (const [key] of propertiesOf(kind)) {
      const row = pageTables.Style![key]!
      expect(row.kinds === 'all' || row.kinds.includes(kind)).toBe(true)
      expect([key, refuseValue(kind, key, row.example)]).toEqual([key, undefined])
    }
  for (const [type, { example }] of Object.entries(pageTables.Values!)) {
    const [kind, key] = partKinds
      .flatMap((one) => propertiesOf(one).map(([name, property]) => [one, name, property.type] as const))
      .find(([, , own]) => own === type)!
    expect([type, refuseValue(kind, key, example)]).toEqual([type, undefined])
  }
  for (const rows of Object.values(pageTables))
    for (const [key, { means }] of Object.entries(rows)) expect([key, means.length > 15]).toEqual([key, true])
})
