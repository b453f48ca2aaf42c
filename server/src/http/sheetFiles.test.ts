import { execFileSync } from 'node:child_process'
import { readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { readDataFile } from '@hoja/core/formats'
import { zipSync } from 'fflate'
import { type Client, demo, demoFile, startServer, temporaryFolder, until } from '../testing/running.ts'

let hoja: Client
beforeAll(async () => {
  hoja = await startServer()
})
afterAll(() => hoja.end())

const refusal = (answer: { status: number; body: never }) =>
  [answer.status, (answer.body as { detail: string }).detail] as const
const versionOf = async (template: string) =>
  ((await hoja.get(`/templates/${template}`)).body as { versions: { id: number }[] }).versions[0]!.id
const newSheet = async (table: string[][], template = 'speaker') =>
  (await hoja.send('POST', '/sheets', { version: await versionOf(template), name: 'Pilots', table })).body as {
    id: number
    revision: number
  }
const picture = (name: string) => new Uint8Array(readFileSync(join(demo, 'templates/species/media', name)))

test('pictures come with a sheet, one by one or in a zip, and are rendered by their names', async () => {
  const sheet = await newSheet([
    ['name', 'mark'],
    ['Io Marrec', 'pilot.png'],
  ])
  const render = async () => {
    const { id } = (await hoja.send('POST', '/outputs', { sheet: sheet.id, format: 'png', frames: 32 })).body as {
      id: number
    }
    const done = await until(
      async () =>
        (await hoja.get(`/outputs/${id}`)).body as {
          state: string
          titles: { state: string; reason: string; result: string; found: number }[]
        },
      ({ state }) => state === 'done',
    )
    return done.titles[0]!
  }
  expect((await render()).reason).toContain('"pilot.png" is not among')
  const zip = zipSync({
    'pictures/pilot.png': picture('eel.png'),
    'pictures/notes.txt': new Uint8Array([1]),
    '__MACOSX/._pilot.png': new Uint8Array([1]),
    'broken.png': picture('eel.png').subarray(0, 90),
  })
  const added = (await hoja.upload(`/sheets/${sheet.id}/pictures`, 'pictures.zip', zip)).body as {
    added: string[]
    failed: string[]
  }
  expect(added.added).toEqual(['pilot.png'])
  expect(added.failed).toEqual([expect.stringContaining('"broken.png"')])
  const first = await render()
  expect(first).toMatchObject({ state: 'done', found: 0 })
  expect(await render()).toMatchObject({ result: first.result, found: 1 })
  // Another picture of the same name makes another title.
  await hoja.upload(`/sheets/${sheet.id}/pictures`, 'pilot.png', picture('gull.png'))
  expect((await render()).result).not.toBe(first.result)
  const { pictures } = (await hoja.get(`/sheets/${sheet.id}`)).body as { pictures: { name: string; width: number }[] }
  expect(pictures).toMatchObject([{ name: 'pilot.png' }])
  expect((await hoja.send('DELETE', `/sheets/${sheet.id}/pictures/pilot.png`)).body).toEqual({ pictures: [] })
  // A movie of the same row, turned into frames of our own.
  const folder = temporaryFolder()
  const file = join(folder, 'pilot.mov')
  const bars = ['-f', 'lavfi', '-i', 'testsrc2=size=64x48:rate=25:duration=0.4', '-c:v', 'png']
  execFileSync('ffmpeg', ['-v', 'error', ...bars, file])
  const answer = await hoja.upload(`/sheets/${sheet.id}/pictures`, 'pilot.mov', new Uint8Array(readFileSync(file)))
  expect(answer.body).toMatchObject({ added: ['pilot.mov'], failed: [] })
  const { pictures: both } = (await hoja.get(`/sheets/${sheet.id}`)).body as { pictures: { name: string }[] }
  expect(both).toMatchObject([{ name: 'pilot.mov', movie: { frames: 10 } }])
  rmSync(folder, { recursive: true, force: true })
})

test('what is no picture is refused in a sentence and leaves nothing behind', async () => {
  const { id } = await newSheet([['name'], ['Io']])
  const send = (name: string, bytes: Uint8Array) => hoja.upload(`/sheets/${id}/pictures`, name, bytes)
  expect(refusal(await send('a.zip', zipSync({ 'a.txt': new Uint8Array(1) })))[1]).toContain('holds no pictures')
  expect(refusal(await send('a.zip', new Uint8Array([0x50, 0x4b, 3, 4, 9, 9])))[1]).toContain('not a zip')
  expect(refusal(await send('a.png', new Uint8Array(40)))[1]).toContain('a.png')
  expect(refusal(await send('a.mp4', new Uint8Array(40)))[1]).toContain('is not a movie that can be read')
  expect((await hoja.get(`/sheets/${id}`)).body).toMatchObject({ pictures: [] })
})

test('one workbook fills several templates: a sheet each, all of them or none', async () => {
  const book = demoFile('data/estuary-week.xlsx')
  const preview = (await hoja.upload('/sheets/import/parts/preview', 'estuary-week.xlsx', book)).body as {
    sheets: { sheet: string; version: number | null; rows: number }[]
    templates: { version: number; name: string }[]
  }
  const names = new Map(preview.templates.map(({ version, name }) => [version, name]))
  expect(preview.sheets.map(({ sheet, version }) => [sheet, names.get(version!)])).toEqual([
    ['Thursday speakers', 'Speaker'],
    ['Thursday talks', 'Talk'],
    ['Friday speakers', 'Speaker'],
    ['Friday talks', 'Talk'],
    ['Places', 'Place'],
  ])
  const parts = preview.sheets.map(({ sheet, version }) => ({ sheet, version, name: sheet }))
  const bring = (list: object[]) =>
    hoja.upload('/sheets/import/parts', 'estuary-week.xlsx', book, { parts: JSON.stringify(list) })
  const count = async () => ((await hoja.get('/sheets')).body as object[]).length
  const before = await count()
  expect(refusal(await bring([...parts, { ...parts[0], sheet: 'Sunday' }]))[1]).toContain('has no sheet "Sunday"')
  expect(refusal(await bring([]))[0]).toBe(400)
  expect(refusal(await hoja.upload('/sheets/import/parts', 'b.xlsx', book, { parts: '[oh' }))[0]).toBe(400)
  expect(await count()).toBe(before)
  const made = (await bring(parts)).body as { id: number; template: string; count: number; match: object }[]
  expect(made.map(({ template, count: rows }) => [template, rows])).toEqual([
    ['speaker', 5],
    ['talk', 3],
    ['speaker', 4],
    ['talk', 2],
    ['place', 4],
  ])
  expect(made[0]!.match).toMatchObject({ name: 'Name', role: 'Role', mark: 'Mark' })
})

test('a row that stays on a version of its own, with frames of its own, is rendered so; a row switched off is not', async () => {
  const sheet = await newSheet([['name'], ['Io'], ['Tam'], ['Xu']])
  const version = await versionOf('speaker')
  const rows = [
    { cells: { name: 'Io' }, frames: 40 },
    { cells: { name: 'Tam' }, off: true },
    { cells: { name: 'Xu' }, version, frames: 12 },
  ]
  const changed = await hoja.send('PATCH', `/sheets/${sheet.id}/rows`, {
    revision: sheet.revision,
    changes: [{ at: 1, remove: 3, rows }],
  })
  expect(changed.status).toBe(200)
  const { id } = (await hoja.send('POST', '/outputs', { sheet: sheet.id, format: 'png' })).body as { id: number }
  const done = await until(
    async () =>
      (await hoja.get(`/outputs/${id}`)).body as {
        state: string
        titles: { row: number; state: string; reason: string }[]
      },
    ({ state }) => state === 'done',
  )
  expect(done.titles.map(({ row, state }) => [row, state])).toEqual([
    [1, 'done'],
    [3, 'held'],
  ])
  expect(done.titles[1]!.reason).toContain('12 frames are too few: In and Out need 30')
  const shot = await fetch(`${hoja.running.address}/api/outputs/${id}/rows/1/frames/39`)
  expect(shot.headers.get('content-type')).toBe('image/png')
  expect((await fetch(`${hoja.running.address}/api/outputs/${id}/rows/1/frames/40`)).status).toBe(404)
  const other = await versionOf('talk')
  const odd = { cells: { name: 'Io' }, version: other }
  expect(
    refusal(
      await hoja.send('PATCH', `/sheets/${sheet.id}/rows`, {
        revision: 2,
        changes: [{ at: 1, remove: 1, rows: [odd] }],
      }),
    )[1],
  ).toContain('not one of "speaker"')
  const off = [0, 1, 2].map((i) => ({ ...rows[i]!, off: true }))
  await hoja.send('PATCH', `/sheets/${sheet.id}/rows`, { revision: 2, changes: [{ at: 1, remove: 3, rows: off }] })
  expect(refusal(await hoja.send('POST', '/outputs', { sheet: sheet.id, format: 'png' }))[1]).toContain('switched off')
})

test('rows come in pages, and all of them come', async () => {
  const lines = Array.from({ length: 12_345 }, (_, i) => `Speaker ${i}`)
  const csv = new TextEncoder().encode(['name', ...lines].join('\n'))
  const fields = { version: String(await versionOf('speaker')) }
  const { id, count } = (await hoja.upload('/sheets/import', 'long.csv', csv, fields)).body as {
    id: number
    count: number
  }
  expect(count).toBe(12_345)
  const names: string[] = []
  for (let from = 1; from <= count; ) {
    const page = (await hoja.get(`/sheets/${id}/rows?from=${from}`)).body as { rows: { cells: { name: string } }[] }
    expect(page.rows.length).toBeLessThanOrEqual(5000)
    names.push(...page.rows.map(({ cells }) => cells.name))
    from += page.rows.length
  }
  expect(names).toEqual(lines)
  expect(((await hoja.get(`/sheets/${id}/rows?from=99999`)).body as { rows: object[] }).rows).toEqual([])
})

describe('the sign-off sheet', () => {
  const get = (path: string) => fetch(`${hoja.running.address}/api${path}`)
  const speakers = async () =>
    ((await hoja.get('/sheets?template=speaker')).body as { id: number; name: string }[]).find(
      ({ name }) => name === 'speakers.csv',
    )!.id

  test('as a page: a picture, the texts and the checks of every row asked for, and a line for initials', async () => {
    const response = await get(`/sheets/${await speakers()}/signoff.html?rows=2-4,10`)
    const page = await response.text()
    expect(response.headers.get('content-type')).toContain('text/html')
    expect([...page.matchAll(/<tr id="row-(\d+)">/g)].map(([, n]) => n)).toEqual(['2', '3', '4', '10'])
    expect(page.match(/data:image\/png;base64,/g)).toHaveLength(4)
    expect(page.match(/class="initials"><span>/g)).toHaveLength(4)
    const table = readDataFile(demoFile('data/speakers.csv'), 'speakers.csv')
    for (const n of [2, 3, 4, 10]) expect(page).toContain(`<dd>${table.rows[n - 1]![0]}</dd>`)
    expect(page).toContain('U+1319D')
    expect(page).not.toContain('<script')
  })

  test('texts that look like markup stay texts', async () => {
    const { id } = await newSheet([['name'], ['<b>Io</b> & "Tam"']])
    const page = await (await get(`/sheets/${id}/signoff.html`)).text()
    expect(page).toContain('<dd>&lt;b&gt;Io&lt;/b&gt; &amp; &quot;Tam&quot;</dd>')
  })

  test('shows in each picture what its row says of itself, as it will be rendered', async () => {
    const { id } = await newSheet([['programme'], ['Low tide'], ['Low tide']], 'slate')
    const page = await (await get(`/sheets/${id}/signoff.html`)).text()
    const [first, second] = [...page.matchAll(/data:image\/png;base64,([^"]+)/g)].map(([, data]) => data)
    // The words are the same, their numbers are 1 and 2.
    expect(first).toBeDefined()
    expect(second).toBeDefined()
    expect(second === first).toBe(false)
  })

  test('as PDF (ISO 32000): a whole document of A4 pages with its fonts inside', async () => {
    const response = await get(`/sheets/${await speakers()}/signoff.pdf`)
    expect(response.headers.get('content-disposition')).toContain('speakers-sign-off.pdf')
    const bytes = Buffer.from(await response.arrayBuffer())
    const text = bytes.toString('latin1')
    expect(text.startsWith('%PDF-1.')).toBe(true)
    expect(text.trimEnd().endsWith('%%EOF')).toBe(true)
    const pages = text.match(/\/Type \/Page\b/g)!.length
    expect(pages).toBeGreaterThan(3)
    expect(text.match(/\/MediaBox \[0 0 595 842\]/g)).toHaveLength(pages)
    expect(text.match(/\/FontFile2/g)!.length).toBeGreaterThan(2)
  })

  test('what can’t be signed is told', async () => {
    expect((await get('/sheets/999/signoff.html')).status).toBe(404)
    expect((await get(`/sheets/${await speakers()}/signoff.pdf?rows=41`)).status).toBe(422)
    expect((await get(`/sheets/${await speakers()}/signoff.pdf?rows=all`)).status).toBe(422)
  })
})

test('a match that was set before is what a doubt is about, and what comes in', async () => {
  const version = String(await versionOf('speaker'))
  const csv = new TextEncoder().encode('Wer da,Was\nIo Marrec,Pilot\nTam,Diver\n')
  const preview = async () =>
    (await hoja.upload('/sheets/import/preview', 'crew.csv', csv, { version })).body as {
      remembered: boolean
      doubt: string | null
      match: object
    }
  expect(await preview()).toMatchObject({
    remembered: false,
    doubt: expect.stringContaining('None of the columns match'),
  })
  const { id } = (await hoja.upload('/sheets/import', 'crew.csv', csv, { version })).body as { id: number }
  const match = { name: { columns: ['Wer da'], conversions: [{ kind: 'trim' }] }, role: 'Was' }
  expect((await hoja.send('PUT', `/sheets/${id}/match`, { match })).status).toBe(200)
  expect(await preview()).toMatchObject({ remembered: true, doubt: null, match })
})
