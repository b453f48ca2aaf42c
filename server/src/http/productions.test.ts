import { type Client, demoFile, startServer } from '../testing/running.ts'

let hoja: Client
beforeAll(async () => {
  hoja = await startServer()
})
afterAll(() => hoja.end())

interface Production {
  id: number
  name: string
  templates: string[]
}
const refusal = ({ status, body }: { status: number; body: unknown }) => [status, (body as { detail: string }).detail]
const newest = async (template: string) =>
  ((await hoja.get(`/templates/${template}`)).body as { versions: { id: number }[] }).versions[0]!.id

test('a production has a name of its own and templates that are there; what is removed leaves its sheets', async () => {
  const made = await hoja.send('POST', '/productions', { name: ' Day one ' })
  expect(made).toMatchObject({ status: 201, body: { name: 'Day one', templates: [] } })
  const { id } = made.body as Production
  expect(refusal(await hoja.send('POST', '/productions', { name: 'Day one' }))).toEqual([
    422,
    'A production called "Day one" is there already; choose another name.',
  ])
  const changed = await hoja.send('PUT', `/productions/${id}`, { templates: ['speaker', 'place'] })
  expect(changed.body).toMatchObject({ name: 'Day one', templates: ['place', 'speaker'] })
  expect(refusal(await hoja.send('PUT', `/productions/${id}`, { templates: ['nobody'] }))).toEqual([
    422,
    'There is no template "nobody".',
  ])
  // What was refused changed nothing; the same name again is no other one.
  expect((await hoja.send('PUT', `/productions/${id}`, { name: 'Day one' })).body).toMatchObject({
    templates: ['place', 'speaker'],
  })

  const sheet = await hoja.send('POST', '/sheets', {
    version: await newest('speaker'),
    name: 'Names',
    table: [
      ['name', 'role'],
      ['Io Marrec', 'Pilot'],
      ['', 'Skipper'],
    ],
    production: id,
  })
  expect(sheet).toMatchObject({ status: 201, body: { production: id } })
  const own = (sheet.body as { id: number; revision: number }).id
  expect((await hoja.get('/sheets')).body).toContainEqual(expect.objectContaining({ id: own, production: id }))
  expect((await hoja.send('DELETE', `/productions/${id}`)).status).toBe(204)
  expect((await hoja.get(`/sheets/${own}`)).body).toMatchObject({ production: null })
  expect((await hoja.get(`/productions/${id}`)).status).toBe(404)
  // The number of what went is never given again.
  const next = (await hoja.send('POST', '/productions', { name: 'Day one' })).body as Production
  expect(next.id).toBeGreaterThan(id)
  expect((await hoja.send('PUT', `/sheets/${own}/production`, { production: id })).status).toBe(404)
  expect((await hoja.send('PUT', `/sheets/${own}/production`, { production: next.id })).body).toMatchObject({
    production: next.id,
  })
})

test("a sheet's state is what its rows' checks say now, of the rows that go out", async () => {
  const made = await hoja.send('POST', '/sheets', {
    version: await newest('speaker'),
    name: 'Checked',
    table: [
      ['name', 'role'],
      ['Io Marrec', 'Pilot'],
      ['', 'Skipper'],
    ],
  })
  const { id, revision } = made.body as { id: number; revision: number }
  const state = async () => (await hoja.get(`/sheets/${id}/state`)).body
  expect(await state()).toEqual({ revision, stop: 1, look: 0, fine: 1 })
  const mended = { at: 2, remove: 1, rows: [{ cells: { name: 'Ana Sorell', role: 'Skipper' } }] }
  await hoja.send('PATCH', `/sheets/${id}/rows`, { revision, changes: [mended] })
  expect(await state()).toEqual({ revision: revision + 1, stop: 0, look: 0, fine: 2 })
  const off = { at: 2, remove: 1, rows: [{ cells: { name: '', role: '' }, off: true }] }
  await hoja.send('PATCH', `/sheets/${id}/rows`, { revision: revision + 1, changes: [off] })
  expect(await state()).toEqual({ revision: revision + 2, stop: 0, look: 0, fine: 1 })
  expect((await hoja.get('/sheets/99999/state')).status).toBe(404)
})

test('a picture that comes to a sheet later is known to its state at once', async () => {
  const made = await hoja.send('POST', '/sheets', {
    version: await newest('speaker'),
    name: 'Marked',
    table: [
      ['name', 'role', 'mark'],
      ['Io Marrec', 'Pilot', 'buoy.png'],
    ],
  })
  const { id } = made.body as { id: number }
  const state = async () => (await hoja.get(`/sheets/${id}/state`)).body
  expect(await state()).toMatchObject({ stop: 1, fine: 0 })
  await hoja.upload(`/sheets/${id}/pictures`, 'buoy.png', demoFile('templates/speaker/media/gull.png'))
  expect(await state()).toMatchObject({ stop: 0, fine: 1 })
})

test('a file that is brought into a production becomes a sheet for each template it is for', async () => {
  const { id } = (await hoja.send('POST', '/productions', { name: 'Day two' })).body as Production
  const bytes = demoFile('data/speakers.csv')
  const bring = (path: string, fields: Record<string, string> = {}) =>
    hoja.upload(`/sheets/import/parts${path}`, 'speakers.csv', bytes, fields)
  const seen = (await bring('/preview')).body as {
    sheets: { rows: number; version: number }[]
  }
  // Rows without worksheets are one part, and look like the template whose fields they name.
  expect(seen.sheets).toMatchObject([{ rows: 40, version: await newest('speaker') }])
  const versions = [await newest('speaker'), await newest('species')]
  const parts = JSON.stringify(versions.map((version) => ({ version, name: 'speakers.csv' })))
  const added = await bring('', { parts, production: String(id) })
  expect(added).toMatchObject({
    status: 201,
    body: [
      { template: 'speaker', production: id, count: 40 },
      { template: 'species', production: id, count: 40 },
    ],
  })
  // Into a production that is gone nothing comes, not half of it.
  const before = ((await hoja.get('/sheets')).body as unknown[]).length
  expect((await bring('', { parts, production: '9999' })).status).toBe(404)
  expect((await hoja.get('/sheets')).body).toHaveLength(before)
})

test('the room on the disk is told in bytes', async () => {
  const { free, total } = (await hoja.get('/outputs/room')).body as { free: number; total: number }
  expect(free).toBeGreaterThan(0)
  expect(total).toBeGreaterThan(free)
})
