import { createHash } from 'node:crypto'
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import Papa from 'papaparse'
import { PNG } from 'pngjs'
import { type Client, startServer, until } from '../testing/running.ts'

interface Output {
  id: number
  state: string
  version: number
  number: number
  priority: number
  settings: { format: string; parts?: string }
  counts: Record<string, number>
  progress: { before: number; left: number | null }
  titles: {
    row: number
    name: string
    file: string
    state: string
    reason: string | null
    result: string
    found: number
  }[]
  used: { hoja: string; ffmpeg?: string }
  log: { text: string }[]
}

let hoja: Client
let version: number
beforeAll(async () => {
  hoja = await startServer()
  const { versions } = (await hoja.get('/templates/speaker')).body as { versions: { id: number }[] }
  version = versions[0]!.id
})
afterAll(() => hoja.end())

const newSheet = async (...names: string[]): Promise<number> => {
  const table = [['name', 'role'], ...names.map((name) => [name, 'Tide reader'])]
  return ((await hoja.send('POST', '/sheets', { version, name: 'Crew', table })).body as { id: number }).id
}
const order = async (sheet: number, settings: object = {}) =>
  (await hoja.send('POST', '/outputs', { sheet, format: 'svg', ...settings })) as { status: number; body: Output }
const refused = (answer: { status: number; body: unknown }) =>
  `${answer.status} ${(answer.body as { detail?: string }).detail}`
const output = async (id: number) => (await hoja.get(`/outputs/${id}`)).body as Output
const ended = (id: number) =>
  until(
    () => output(id),
    ({ state }) => state !== 'running',
  )
const act = async (id: number, what: string, method = 'POST', body?: object) =>
  (await hoja.send(method, `/outputs/${id}/${what}`, body)) as { status: number; body: Output }

/** How many rows of others are before an output's own, as its events tell, until there is enough of it. */
async function told(id: number, enough: (before: number[]) => boolean): Promise<number[]> {
  const stop = new AbortController()
  const { body } = await fetch(`${hoja.running.address}/api/outputs/${id}/events`, { signal: stop.signal })
  const before: number[] = []
  let text = ''
  for await (const piece of body!.pipeThrough(new TextDecoderStream())) {
    text += piece
    const events = text.split('\n\n')
    text = events.pop()!
    for (const event of events)
      if (event.startsWith('data: ')) before.push((JSON.parse(event.slice(6)) as Output).progress.before)
    if (enough(before)) break
  }
  stop.abort()
  return before
}

test('what cannot be rendered is refused in a sentence, and nothing is ordered', async () => {
  const sheet = await newSheet('Io Marrec', 'Tam Sá')
  const before = ((await hoja.get('/outputs')).body as unknown[]).length
  const said = async (settings: object) => refused(await order(sheet, settings))
  expect(await said({ format: 'avi' })).toMatch(/^400 /)
  expect(await said({ rows: [2, 7] })).toBe('422 Row 7 does not exist; the sheet has 2.')
  expect(await said({ rows: [] })).toContain('switched off')
  expect(await said({ format: 'mp4', size: { width: 1921, height: 1080 } })).toContain('make both even')
  expect(await said({ format: 'gif', alpha: 'premultiplied' })).toContain('premultiplied')
  expect(await said({ format: 'mov', timecode: '10:00' })).toContain('write it as HH:MM:SS:FF')
  expect(await said({ format: 'mov', frames: 3 })).toContain('In and Out need')
  expect(await said({ pattern: '{nme}' })).toContain('"{nme}" in the file names stands for nothing')
  const gone = { kind: 'still', sha256: 'a'.repeat(64), name: 'harbour.png' }
  expect(await said({ format: 'mp4', backdrop: gone })).toContain('"harbour.png" is not stored here')
  expect(refused(await order(999))).toMatch(/^404 /)
  expect(((await hoja.get('/outputs')).body as unknown[]).length).toBe(before)
})

test('only changed rows are rendered again; when none is, that is said', async () => {
  const sheet = await newSheet('Io Marrec', 'Tam Sá', 'Wen Lio')
  const first = await ended((await order(sheet)).body.id)
  expect(first.counts).toMatchObject({ done: 3, waiting: 0, failed: 0 })
  expect(refused(await order(sheet, { changedOnly: true }))).toContain('No row has changed since the last output')
  const { revision } = (await hoja.get(`/sheets/${sheet}`)).body as { revision: number }
  const changes = [{ at: 2, remove: 1, rows: [{ cells: { name: 'Tamsin Sá', role: 'Tide reader' } }] }]
  await hoja.send('PATCH', `/sheets/${sheet}/rows`, { revision, changes })
  const second = await ended((await order(sheet, { changedOnly: true })).body.id)
  expect(second.titles.map(({ row, file, found }) => [row, file, found])).toEqual([[2, '002_Tamsin_Sá.svg', 0]])
  // In another format nothing is there yet.
  expect((await ended((await order(sheet, { changedOnly: true, format: 'still' })).body.id)).counts.done).toBe(3)
})

test('a row with a stop is held with its reason, or left out when that was asked for; put right, it is tried alone', async () => {
  const sheet = await newSheet('Io Marrec', '', 'Wen Lio')
  const left = await ended((await order(sheet, { withoutStops: true })).body.id)
  expect(left.titles.map(({ row }) => row)).toEqual([1, 3])
  const { id } = (await order(sheet)).body
  const held = await ended(id)
  expect(held.titles.map(({ state }) => state)).toEqual(['done', 'held', 'done'])
  expect(held.titles[1]!.reason).toContain('Name')
  expect(held.log.some(({ text }) => text.includes('Held by its checks'))).toBe(true)
  const { revision } = (await hoja.get(`/sheets/${sheet}`)).body as { revision: number }
  const changes = [{ at: 2, remove: 1, rows: [{ cells: { name: 'Ana Brú', role: 'Pilot' } }] }]
  await hoja.send('PATCH', `/sheets/${sheet}/rows`, { revision, changes })
  await act(id, 'retry', 'POST', { row: 2 })
  const after = await until(
    () => output(id),
    ({ counts }) => counts.done === 3,
  )
  expect(after.titles.every(({ state }) => state === 'done')).toBe(true)
})

test('an output waits while it is paused, goes before others when it is told to, and ends when it is stopped', async () => {
  const sheet = await newSheet(...Array.from({ length: 12 }, (_, i) => `Reader ${i} of the bar`))
  const long = (await order(sheet, { format: 'png', frames: 60 })).body.id
  await act(long, 'pause')
  await until(
    () => output(long),
    ({ counts }) => counts.running === 0,
  )
  const [one, other] = [(await output(long)).counts, await new Promise((done) => setTimeout(done, 400))]
  expect(other).toBeUndefined()
  expect((await output(long)).counts).toEqual(one)
  expect(one!.waiting).toBeGreaterThan(0)

  // What is ordered meanwhile is rendered; of two that wait, the one of the higher turn comes first.
  const quick = await ended((await order(sheet, { rows: [1, 2] })).body.id)
  expect(quick.counts.done).toBe(2)
  const low = (await order(sheet, { format: 'png', frames: 61 })).body.id
  await act(low, 'priority', 'PUT', { priority: -1 })
  await act(long, 'go-on')
  // The one that is behind is told how many rows there still are before its own.
  expect((await output(low)).progress.before).toBeGreaterThan(0)
  expect((await output(long)).progress.before).toBe(0)
  const heard = told(low, (before) => before.at(-1)! < before[0]!)
  const done = await ended(long)
  const before = await heard
  expect(before).toEqual(before.toSorted((a, b) => b - a))
  expect(before[0]).toBeGreaterThan(before.at(-1)!)
  expect(done.counts.done).toBe(12)
  expect((await output(low)).counts.waiting).toBeGreaterThan(0)
  expect(refused(await act(low, 'priority', 'PUT', { priority: 100 }))).toMatch(/^400 /)

  const stopped = (await act(low, 'stop')).body
  expect(stopped.state).toBe('stopped')
  const { counts } = await output(low)
  expect(counts.waiting! + counts.running!).toBe(0)
  await act(low, 'retry', 'POST', {})
  expect((await ended(low)).counts.done).toBe(12)
})

test('the history tells what was used; again means the newest version, and the rows as they are now', async () => {
  const sheet = await newSheet('Io Marrec')
  const first = await ended((await order(sheet, { format: 'still' })).body.id)
  expect(first.used.hoja).toMatch(/^\d+\.\d+\.\d+/)
  expect(first.used.ffmpeg).toMatch(/^\d/)
  const { revision, template } = (await hoja.get('/templates/speaker')).body as { revision: number; template: object }
  await hoja.send('PUT', '/templates/speaker', { revision, template: { ...template, note: 'Told anew.' } })
  await hoja.send('POST', '/templates/speaker/versions', {})
  const again = (await act(first.id, 'again')).body
  expect([again.number, again.settings.format]).toEqual([first.number + 1, 'still'])
  expect((await ended(again.id)).counts).toMatchObject({ done: 1 })
  expect((await hoja.send('DELETE', `/outputs/${first.id}`)).status).toBe(204)
  expect((await hoja.get(`/outputs/${first.id}`)).status).toBe(404)
})

test('the manifest in the zip tells of every file what it holds', async () => {
  const sheet = await newSheet('Io Marrec', '=Tam', '')
  const { id } = (await order(sheet, { format: 'still', folders: 'sheet', pattern: '{name}_{row:00}' })).body
  await ended(id)
  const answer = await fetch(`${hoja.running.address}/api/outputs/${id}/zip`)
  const zip = unzipSync(new Uint8Array(await answer.arrayBuffer()))
  const csv = Papa.parse<Record<string, string>>(new TextDecoder().decode(zip['manifest.csv']), {
    header: true,
    skipEmptyLines: true,
  }).data
  expect(csv.map(({ row, file }) => [row, file])).toEqual([
    ['1', 'Crew/Io_Marrec_01.png'],
    ['2', 'Crew/Tam_02.png'],
  ])
  expect(Object.keys(zip).sort()).toEqual([...csv.map(({ file }) => file), 'manifest.csv', 'manifest.json'].sort())
  for (const { file, bytes, sha256 } of csv) {
    expect(zip[file!]).toHaveLength(Number(bytes))
    expect(createHash('sha256').update(zip[file!]!).digest('hex')).toBe(sha256)
  }
  const empty = (await order(await newSheet(''), { format: 'still' })).body.id
  await ended(empty)
  expect(refused(await hoja.get(`/outputs/${empty}/zip`))).toMatch(/^409 No title of this output/)
})

test('parts by themselves are told before they are rendered, and rendered with a description of the layers', async () => {
  const layers = (await hoja.get(`/flattened/${version}`)).body as { kind: string; name: string; picture: string }[]
  expect(layers.map(({ kind }) => kind)).toContain('clip')
  expect(layers.every(({ picture }) => picture.startsWith('data:image/png;base64,'))).toBe(true)
  const apart = (await hoja.get(`/flattened/${version}?parts=apart`)).body as { kind: string }[]
  const clips = (list: { kind: string }[]) => list.filter(({ kind }) => kind === 'clip').length
  expect(clips(apart)).toBeGreaterThan(clips(layers))
  expect(refused(await hoja.send('POST', '/flattened', { version, format: 'mp4' }))).toContain('has no alpha')
  const { body } = (await hoja.send('POST', '/flattened', { version, format: 'still' })) as { body: Output }
  expect((await ended(body.id)).counts.done).toBe(clips(layers))
  const answer = await fetch(`${hoja.running.address}/api/outputs/${body.id}/zip`)
  const zip = unzipSync(new Uint8Array(await answer.arrayBuffer()))
  const told = JSON.parse(new TextDecoder().decode(zip['Speaker/layers.json'])) as {
    layers: { kind: string; file?: string; box?: object; fields?: { key: string }[] }[]
  }
  expect(told.layers.map(({ kind }) => kind)).toEqual(layers.map(({ kind }) => kind))
  for (const { kind, file, box, fields } of told.layers)
    if (kind === 'clip') expect(zip[`Speaker/${file}`]).toBeDefined()
    else expect([box !== undefined, fields!.length > 0]).toEqual([true, true])
})

test('settings are kept by a name, replaced by the same name, and forgotten', async () => {
  const settings = { format: 'mov', alpha: 'premultiplied', handles: { before: 12, after: 12 } }
  const named = async () => (await hoja.get('/presets')).body as { name: string; settings: object }[]
  await hoja.send('PUT', '/presets', { name: ' Evening news ', settings })
  expect(await named()).toEqual([{ name: 'Evening news', settings }])
  await hoja.send('PUT', '/presets', { name: 'Evening news', settings: { format: 'mkv' } })
  expect(await named()).toEqual([{ name: 'Evening news', settings: { format: 'mkv' } }])
  expect(refused(await hoja.send('PUT', '/presets', { name: '', settings }))).toMatch(/^400 /)
  expect(refused(await hoja.send('PUT', '/presets', { name: 'x', settings: { format: 'psd' } }))).toMatch(/^400 /)
  // Rows are one sheet's: with a preset they would choose rows of every other.
  await hoja.send('PUT', '/presets', { name: 'Evening news', settings: { format: 'mkv', rows: [2, 3] } })
  expect(await named()).toEqual([{ name: 'Evening news', settings: { format: 'mkv' } }])
  await hoja.send('DELETE', `/presets/${encodeURIComponent('Evening news')}`)
  expect(await named()).toEqual([])
})

test('a finished row is looked at frame by frame as it was written, whatever it was written to', async () => {
  const sheet = await newSheet('Io Marrec')
  for (const format of ['mov', 'mov-rle', 'png', 'exr', 'tiff16', 'still-tiff', 'svg']) {
    const { id } = (await order(sheet, { format, frames: 40, size: { width: 640, height: 360 } })).body
    const frame = (path: string) => fetch(`${hoja.running.address}/api/outputs/${id}/rows/1/frames/${path}`)
    const done = await ended(id)
    expect(done.counts.done).toBe(1)
    const made = (await hoja.get(`/outputs/${id}/rows/1`)).body as {
      frames: number
      rate: object
      files: { bytes: number }[]
    }
    expect(made).toMatchObject({ frames: ['still-tiff', 'svg'].includes(format) ? 1 : 40, rate: { num: 25, den: 1 } })
    expect(made.files[0]!.bytes).toBeGreaterThan(1000)
    if (format === 'svg') {
      expect((await frame('0')).status).toBe(404)
      continue
    }
    const png = PNG.sync.read(Buffer.from(await (await frame(format === 'still-tiff' ? '0' : '20')).arrayBuffer()))
    expect([png.width, png.height]).toEqual(format === 'png' ? [640, 360] : [680, 382])
    // Clear in the corner, a title at the bottom left.
    expect(png.data[3]).toBe(0)
    expect(png.data.some((value, i) => i % 4 === 3 && value === 255)).toBe(true)
    for (const wrong of ['40', '-1', '1.5', 'middle', '20?file=1']) expect((await frame(wrong)).status).toBe(404)
  }
  expect((await hoja.get('/outputs/1/rows/99')).status).toBe(404)
})

test('a title whose files were taken away is told of, and rendered once more', async () => {
  const sheet = await newSheet('Io Marrec', 'Wen Lio')
  const { id, titles } = await ended((await order(sheet, { format: 'still' })).body.id)
  const { result } = titles[1]!
  rmSync(join(hoja.data, 'finished', result.slice(0, 2), result), { recursive: true })
  for (const path of ['rows/2', 'zip'])
    expect(refused(await hoja.get(`/outputs/${id}/${path}`))).toBe(
      '404 What row 2 was rendered to is not in the data folder any more; render it again.',
    )
  const again = await ended((await act(id, 'again')).body.id)
  expect(again.titles.map(({ found }) => found)).toEqual([1, 0])
})

test('a row that is named twice is rendered once', async () => {
  const sheet = await newSheet('Io Marrec', 'Tam Sá')
  const { titles } = await ended((await order(sheet, { rows: [2, 1, 2] })).body.id)
  expect(titles.map(({ row }) => row)).toEqual([1, 2])
})

test('a row that must not go out beside the others is held too, and again when it is tried', async () => {
  const { template, revision } = (await hoja.get('/templates/speaker')).body as { template: object; revision: number }
  const draft = { ...template, levels: { twice: 'stop', known: 'stop' } }
  await hoja.send('PUT', '/templates/speaker', { revision, template: draft })
  const published = await hoja.send('POST', '/templates/speaker/versions', { note: 'No name twice.' })
  const strict = (published.body as { id: number }).id
  const add = async (name: string, names: string[]) =>
    (
      (await hoja.send('POST', '/sheets', {
        version: strict,
        name,
        table: [['name', 'role'], ...names.map((one) => [one, 'Tide reader'])],
      })) as { body: { id: number } }
    ).body.id
  const known = await add('Known names', ['Maren Oduya-Castellví', 'Io Marrec'])
  expect(await hoja.send('PUT', `/sheets/${known}/known`, { known: true })).toMatchObject({ body: { known: true } })
  expect(((await hoja.get('/sheets/known')).body as { texts: string[] }).texts.sort()).toEqual([
    'Io Marrec',
    'Maren Oduya-Castellví',
    'Tide reader',
  ])
  const sheet = await add('Crew', ['Io Marrec', 'Wen Lio', 'Io Marrec', 'Maren Oduya-Castellvi'])
  const { id } = (await order(sheet)).body
  const held = await ended(id)
  expect(held.titles.map(({ state, reason }) => [state, reason || ''])).toEqual([
    ['done', ''],
    ['done', ''],
    ['held', 'Name is the same as in row 1.'],
    ['held', 'Name is nearly "Maren Oduya-Castellví", as the known names have it; a slip?'],
  ])
  await act(id, 'retry')
  expect((await ended(id)).counts).toMatchObject({ done: 2, held: 2 })
  await hoja.send('PUT', `/sheets/${known}/known`, { known: false })
  expect((await hoja.get('/sheets/known')).body).toEqual({ texts: [] })
  await act(id, 'retry')
  expect((await ended(id)).counts).toMatchObject({ done: 3, held: 1 })
})
