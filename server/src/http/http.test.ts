import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { join } from 'node:path'
import { utils, write } from '@e965/xlsx'
import { allParts, clipStyle, savedStyle, type Template } from '@hoja/core/template'
import { unzipSync } from 'fflate'
import { PNG } from 'pngjs'
import { hashOf } from '../store/files.ts'
import { type Client, demoFile, seededFolder, startServer, until } from '../testing/running.ts'

let hoja: Client
beforeAll(async () => {
  hoja = await startServer()
})
afterAll(() => hoja.end())

interface Stored {
  revision: number
  template: Template
  versions: { id: number; number: number }[]
  ahead: boolean
}
const speaker = async () => (await hoja.get('/templates/speaker')).body as Stored
const refusal = (answer: { status: number; body: unknown }) => [
  answer.status,
  (answer.body as { detail: string }).detail,
]

test('the demo data is there at first start, and a data folder that has some is left alone', async () => {
  const templates = (await hoja.get('/templates')).body as { id: string; version: number }[]
  expect(templates.map((t) => [t.id, t.version]).sort()).toEqual(
    [
      'agenda',
      'credits',
      'notices',
      'place',
      'score',
      'slate',
      'speaker',
      'speaker-rtl',
      'species',
      'statement',
      'talk',
      'tide',
    ].map((id) => [id, 1]),
  )
  const sheets = (await hoja.get('/sheets')).body as { name: string; count: number; match: object; template: string }[]
  expect(sheets.sort((a, b) => (a.name < b.name ? -1 : 1))).toMatchObject([
    { name: 'agenda.csv', count: 1, match: { heading: 'Heading', time: 'Time', event: 'Event' } },
    { name: 'credits.csv', count: 1, match: { heading: 'Heading', role: 'Role', name: 'Name' } },
    { name: 'notices.csv', count: 1, match: { notice: 'Notice' }, link: { kind: 'file', options: { together: true } } },
    { name: 'slate.csv', count: 3, match: { programme: 'Programme', ':length': 'Duration' } },
    { name: 'speakers.csv', count: 40, match: { name: 'name', role: 'role', mark: 'mark' }, link: null },
    { name: 'species.ods', count: 5, match: { latin_name: 'Latin name', picture: 'Picture' } },
    {
      name: 'tide.json',
      count: 4,
      match: { curve: { columns: ['curve'], marks: '.' }, boats: 'boats' },
      link: { kind: 'file' },
    },
  ])
})

test('fonts that ship can be added to any template; what does not ship is refused', async () => {
  const fonts = (await hoja.get('/fonts')).body as { id: string; family: string; style: string }[]
  expect(fonts.length).toBeGreaterThan(50)
  expect(fonts).toContainEqual({ id: 'ibm-plex-serif/400Regular_Italic', family: 'IBM Plex Serif', style: 'Italic' })
  const added = await hoja.send('POST', '/fonts', { id: 'barlow/600SemiBold' })
  expect(added.status).toBe(201)
  const asset = added.body as { sha256: string; kind: string; family: string }
  expect(asset).toMatchObject({ kind: 'font', family: 'Barlow' })
  expect((await fetch(`${hoja.running.address}/api/assets/${asset.sha256}`)).status).toBe(200)
  const file = await fetch(`${hoja.running.address}/api/fonts/file?id=barlow/600SemiBold`)
  expect([file.status, file.headers.get('content-type')]).toEqual([200, 'font/ttf'])
  expect(hashOf(new Uint8Array(await file.arrayBuffer()))).toBe(asset.sha256)
  expect((await hoja.get('/fonts/file?id=../../etc')).status).toBe(404)
  const alien = await hoja.send('POST', '/fonts', { id: '../../etc' })
  expect(refusal(alien)).toEqual([422, expect.stringContaining('No font "../../etc" ships with Hoja')])
})

test('a new template carries fonts, so that a text can be written at once, and nothing else', async () => {
  const made = (await hoja.send('POST', '/templates', { name: 'Boat times' })).body as { id: string }
  const { template } = (await hoja.get(`/templates/${made.id}`)).body as Stored
  expect(template.parts).toEqual([])
  expect(template.fonts.map((font) => font.id)).toEqual(['semibold', 'medium', 'arabic', 'japanese', 'emoji'])
  await hoja.send('DELETE', `/templates/${made.id}`)
})

test("a designer's styles are kept for every template with all they use, and removed", async () => {
  const speaker = ((await hoja.get('/templates/speaker')).body as Stored).template
  const name = allParts(speaker.parts).find((part) => part.id === 'name')!
  const clipping = clipStyle(speaker, savedStyle(name, 'Speaker'))
  const kept = await hoja.send('POST', '/styles', { name: 'Speaker', clipping })
  expect(kept.status).toBe(201)
  expect((await hoja.get('/styles')).body).toEqual([
    { id: (kept.body as { id: string }).id, name: 'Speaker', clipping },
  ])
  expect(refusal(await hoja.send('POST', '/styles', { name: 'Speaker', clipping }))).toEqual([
    422,
    'A style called "Speaker" is in the library already; choose another name.',
  ])
  const broken = { ...clipping, parts: [{ ...clipping.parts[0], style: { size: 'large' } }] }
  expect((await hoja.send('POST', '/styles', { name: 'Broken', clipping: broken })).status).toBe(422)
  expect((await hoja.send('DELETE', `/styles/${(kept.body as { id: string }).id}`)).status).toBe(204)
  expect((await hoja.get('/styles')).body).toEqual([])
})

test("a designer's moves are kept for every template, by names of their own, and removed", async () => {
  const move = {
    name: 'From the reeds',
    note: '',
    kinds: ['text'],
    frames: 12,
    arrival: { tracks: { fade: { keys: [{ span: 'in', at: 0, value: 0, ease: 'linear' }] } } },
  }
  const kept = await hoja.send('POST', '/moves', move)
  expect(kept.status).toBe(201)
  expect((await hoja.get('/moves')).body).toEqual([{ ...move, id: (kept.body as { id: string }).id }])
  expect(refusal(await hoja.send('POST', '/moves', move))).toEqual([
    422,
    expect.stringContaining('is in the library already'),
  ])
  for (const [broken, why] of [
    [{ ...move, name: '' }, 'needs a name'],
    [{ ...move, name: 'B', kinds: ['blob'] }, 'what kinds of part'],
    [{ ...move, name: 'B', frames: 0 }, 'how many frames'],
    [{ ...move, name: 'B', arrival: { tracks: { fade: { keys: [{ at: 'x' }] } } } }, 'keys that are not right'],
  ] as const)
    expect(refusal(await hoja.send('POST', '/moves', broken))).toEqual([422, expect.stringContaining(why)])
  const { id } = kept.body as { id: string }
  expect((await hoja.send('DELETE', `/moves/${id}`)).status).toBe(204)
  expect((await hoja.send('DELETE', `/moves/${id}`)).status).toBe(404)
})

test('a stale save is a 409 with both sides; nothing is overwritten', async () => {
  const { revision, template } = await speaker()
  const mine = { ...template, note: 'mine' }
  expect((await hoja.send('PUT', '/templates/speaker', { revision, template: mine })).status).toBe(200)
  const stale = await hoja.send('PUT', '/templates/speaker', { revision, template: { ...template, note: 'theirs' } })
  expect(stale.status).toBe(409)
  expect(stale.body).toMatchObject({
    code: 'draft.stale',
    current: { revision: revision + 1, template: { note: 'mine' } },
  })
  expect((await speaker()).template.note).toBe('mine')
})

test('a draft that is broken is refused and changes nothing', async () => {
  const before = await speaker()
  const broken = await hoja.send('PUT', '/templates/speaker', {
    revision: before.revision,
    template: { ...before.template, frame: { ...before.template.frame, width: -4 } },
  })
  expect(refusal(broken)).toEqual([422, expect.stringMatching(/^template\.json is not right: frame\.width .+\.$/)])
  const alien = { ...before.template, media: [{ ...before.template.media[0]!, sha256: 'a'.repeat(64) }] }
  expect(
    refusal(await hoja.send('PUT', '/templates/speaker', { revision: before.revision, template: alien }))[1],
  ).toContain('was never uploaded')
  expect(await speaker()).toEqual(before)
})

test('a published version never changes (invariant 5)', async () => {
  const version = (await hoja.send('POST', '/templates/speaker/versions', { note: 'first' })).body as {
    id: number
    number: number
  }
  const before = (await hoja.get(`/versions/${version.id}`)).body
  const { revision, template } = await speaker()
  await hoja.send('PUT', '/templates/speaker', { revision, template: { ...template, name: 'Other' } })
  expect((await hoja.get(`/versions/${version.id}`)).body).toEqual(before)
  expect(() => hoja.running.store.db.prepare('UPDATE versions SET note = ? WHERE id = ?').run('x', version.id)).toThrow(
    'never changes',
  )
  expect((await speaker()).ahead).toBe(true)
})

test('a package goes out and comes in again as it was', async () => {
  const response = await fetch(`${hoja.running.address}/api/templates/speaker/package`)
  const bytes = new Uint8Array(await response.arrayBuffer())
  expect(Object.keys(unzipSync(bytes)).sort()).toEqual(
    expect.arrayContaining(['README.txt', 'poster.png', 'template.json']),
  )
  const back = await hoja.upload('/templates/import', 'speaker.hoja', bytes)
  expect(back.status).toBe(201)
  expect(back.body).toMatchObject({ id: 'speaker-2', version: 0 })
  expect((await hoja.send('DELETE', '/templates/speaker-2')).status).toBe(204)
})

test('wrong files get one sentence and leave nothing behind', async () => {
  const { versions } = await speaker()
  const version = String(versions[0]!.id)
  const count = () => {
    const files = (folder: string): number =>
      readdirSync(folder, { withFileTypes: true }).reduce(
        (n, e) => n + (e.isDirectory() ? files(join(folder, e.name)) : 1),
        0,
      )
    const rows = ['templates', 'assets', 'sheets', 'rows', 'versions'].map(
      (t) => (hoja.running.store.db.prepare(`SELECT COUNT(*) AS n FROM ${t}`).get() as { n: number }).n,
    )
    return [files(join(hoja.data, 'files')), ...rows]
  }
  const before = count()
  const sheet = (name: string, text: string | Uint8Array) =>
    hoja.upload('/sheets/import', name, typeof text === 'string' ? new TextEncoder().encode(text) : text, { version })
  const answers = [
    await sheet('empty.csv', ''),
    await sheet('header.csv', 'name,role\n'),
    await sheet('twice.csv', 'name,name\nIo,Io\n'),
    await sheet('picture.csv', demoFile('templates/speaker/media/mill.png')),
    await sheet('notes.pdf', 'x'),
    await hoja.upload('/templates/import', 'a.hoja', new TextEncoder().encode('hello')),
    await hoja.upload('/templates/import', 'a.hoja', demoFile('templates/speaker/media/mill.png')),
    await hoja.upload('/assets', 'a.ttf', new TextEncoder().encode('no font')),
    await hoja.upload('/assets', 'a.png', new TextEncoder().encode('<html></html>')),
    await hoja.upload('/assets', 'a.png', demoFile('templates/speaker/media/mill.png').slice(0, 300)),
    await hoja.send('POST', '/outputs', { sheet: 1, format: 'png', rows: [41] }),
    await hoja.send('POST', '/outputs', { sheet: 1, format: 'png', frames: 3 }),
    await hoja.send('POST', '/outputs', { sheet: 1, format: 'avi' }),
    await hoja.get('/sheets/999'),
    await hoja.get('/versions/abc'),
    await hoja.get('/nothing'),
    await hoja.get('/outputs/7'),
  ]
  for (const answer of answers) {
    expect(answer.status).toBeGreaterThanOrEqual(400)
    expect(answer.status).toBeLessThan(500)
    expect(refusal(answer)[1]).toMatch(/^[^\n]{10,300}[.?:]/)
  }
  expect(count()).toEqual(before)
})

test('a picture of 30,000 px is refused before it is decoded', async () => {
  const png = new PNG({ width: 30_000, height: 1 })
  expect(refusal(await hoja.upload('/assets', 'wide.png', PNG.sync.write(png)))).toEqual([
    422,
    expect.stringContaining('30000 x 1 px'),
  ])
})

test('other hosts and other sites get no answer', async () => {
  const { host, port } = new URL(hoja.running.address)
  const ask = (headers: Record<string, string>, path = '/api/templates') =>
    new Promise<number>((done) =>
      request({ host: '127.0.0.1', port, path, headers }, (response) => done(response.statusCode!)).end(),
    )
  expect(await ask({ Host: 'evil.example' })).toBe(400)
  expect(await ask({ Origin: 'https://evil.example' })).toBe(403)
  // RFC 6454: another port is another origin, and so is another name for the same place.
  expect(await ask({ Origin: `http://127.0.0.1:${Number(port) + 1}` })).toBe(403)
  expect(await ask({ Origin: `http://localhost:${port}` })).toBe(403)
  expect(await ask({ Origin: `https://${host}` })).toBe(403)
  expect(await ask({ Origin: 'null' })).toBe(403)
  expect(await ask({ Origin: `http://${host}` })).toBe(200)
  // Fetch Metadata (W3C): reads, too; a link that leads to a page may be followed.
  expect(await ask({ 'Sec-Fetch-Site': 'cross-site' })).toBe(403)
  expect(await ask({ 'Sec-Fetch-Site': 'same-site' })).toBe(403)
  expect(await ask({ 'Sec-Fetch-Site': 'same-origin' })).toBe(200)
  expect(await ask({ 'Sec-Fetch-Site': 'none' })).toBe(200)
  const visit = { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate', 'Sec-Fetch-Dest': 'document' }
  expect(await ask(visit)).toBe(403)
  expect(await ask(visit, '/')).not.toBe(403)
  expect(await ask({ ...visit, 'Sec-Fetch-Dest': 'iframe' }, '/')).toBe(403)
  expect(await ask({})).toBe(200)
  const policy = (await fetch(`${hoja.running.address}/api/templates`)).headers.get('content-security-policy')
  expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval'")
})

test('rows are edited on a revision: cells, rows put in and taken out, locked fields refused', async () => {
  const { versions } = await speaker()
  const made = (
    await hoja.send('POST', '/sheets', {
      version: versions[0]!.id,
      name: 'Typed',
      table: [
        ['Name', 'role'],
        ['Io', 'Pilot'],
        ['Tam', ''],
      ],
    })
  ).body as { id: number; revision: number; match: object }
  expect(made.match).toEqual({ name: 'Name', role: 'role' })
  const change = (revision: number, changes: object[]) =>
    hoja.send('PATCH', `/sheets/${made.id}/rows`, { revision, changes })
  expect(
    (
      await change(1, [
        { at: 2, remove: 1, rows: [{ cells: { Name: 'Tam', role: 'Diver' }, note: 'Ask her', frames: 60 }] },
        { at: 2, remove: 0, rows: [{ cells: { Name: 'Xu' }, own: { mark: 'vado.png' }, off: true }] },
        { at: 1, remove: 1, rows: [] },
      ])
    ).status,
  ).toBe(200)
  const rows = async () => ((await hoja.get(`/sheets/${made.id}/rows`)).body as { rows: object[] }).rows
  const xu = { cells: { Name: 'Xu' }, own: { mark: 'vado.png' }, off: true }
  const kept = [xu, { cells: { Name: 'Tam', role: 'Diver' }, note: 'Ask her', frames: 60 }]
  expect(await rows()).toEqual(kept)
  const x = { cells: { role: 'x' } }
  expect(refusal(await change(1, [{ at: 1, remove: 1, rows: [x] }]))[0]).toBe(409)
  // The second edit cannot be, so the first is not kept either.
  expect(
    refusal(
      await change(2, [
        { at: 1, remove: 1, rows: [x] },
        { at: 9, remove: 1, rows: [x] },
      ]),
    )[1],
  ).toContain('no row 9')
  expect(await rows()).toEqual(kept)
  expect(refusal(await hoja.send('PUT', `/sheets/${made.id}/match`, { match: { plate: 'Name' } }))[1]).toContain(
    '"plate" is not a field',
  )
})

interface Output {
  id: number
  state: string
  counts: Record<string, number>
  titles: { row: number; name: string; state: string; reason: string; found: number; result: string }[]
}
const output = async (id: number) => (await hoja.get(`/outputs/${id}`)).body as Output

test('a sheet renders: every row ends as files or as a reason; again, nothing is rendered twice (invariant 6)', async () => {
  const sheet = ((await hoja.get('/sheets?template=speaker')).body as { id: number; count: number }[]).find(
    (s) => s.count === 40,
  )!
  const order = { sheet: sheet.id, format: 'png', rows: [1, 5, 10, 26, 38], frames: 40 }
  const first = (await hoja.send('POST', '/outputs', order)).body as Output
  const done = await until(
    () => output(first.id),
    (o) => o.state === 'done',
  )
  expect(done.titles.map((u) => u.state)).toEqual(['done', 'done', 'held', 'held', 'held'])
  expect(done.titles[2]!.reason).toContain('U+1319D')
  expect(done.titles.map((u) => u.name)).toEqual([
    '001_Io_Marrec',
    '005_ليلى_الساحلي',
    '010_Tamsin_\u{1319D}_Rowe',
    '026',
    '038_Rosa_Quintanilla',
  ])
  const zip = unzipSync(
    new Uint8Array(await (await fetch(`${hoja.running.address}/api/outputs/${first.id}/zip`)).arrayBuffer()),
  )
  expect(Object.keys(zip)).toHaveLength(82)
  const frame = PNG.sync.read(Buffer.from(zip['001_Io_Marrec/001_Io_Marrec_0020.png']!))
  expect([frame.width, frame.height, frame.alpha]).toEqual([1920, 1080, true])
  expect([...frame.data.subarray(0, 4)]).toEqual([0, 0, 0, 0])
  expect(frame.data[(940 * 1920 + 101) * 4 + 3]).toBe(255)
  const again = (await hoja.send('POST', '/outputs', order)).body as Output
  const found = await until(
    () => output(again.id),
    (o) => o.state === 'done',
  )
  expect(found.titles.filter((u) => u.state === 'done').every((u) => u.found === 1)).toBe(true)
  const one = await fetch(`${hoja.running.address}/api/outputs/${first.id}/rows/1/frames/20`)
  expect(Buffer.from(await one.arrayBuffer()).equals(Buffer.from(zip['001_Io_Marrec/001_Io_Marrec_0020.png']!))).toBe(
    true,
  )
  expect((await hoja.get(`/outputs/${first.id}/rows/1/frames/40`)).status).toBe(404)
})

test('movies have the frames, rate and alpha they should, as ffprobe reads them', async () => {
  const sheet = ((await hoja.get('/sheets?template=speaker')).body as { id: number; count: number }[]).find(
    (s) => s.count === 40,
  )!
  for (const [format, codec, alpha] of [
    ['webm', 'vp9', true],
    ['mov', 'prores', true],
    ['mkv', 'ffv1', true],
    ['mp4', 'h264', false],
  ] as const) {
    const order = { sheet: sheet.id, format, rows: [1], frames: 32, size: { width: 960, height: 540 } }
    const made = (await hoja.send('POST', '/outputs', order)).body as Output
    const done = await until(
      () => output(made.id),
      (o) => o.state !== 'running',
      120,
    )
    expect(done.titles[0]).toMatchObject({ state: 'done' })
    const file = join(hoja.data, `probe.${format}`)
    writeFileSync(
      file,
      Buffer.from(await (await fetch(`${hoja.running.address}/api/outputs/${made.id}/rows/1/files/0`)).arrayBuffer()),
    )
    const probe = JSON.parse(
      execFileSync('ffprobe', ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', file], {
        encoding: 'utf8',
      }),
    ).streams[0]
    expect([probe.codec_name, probe.width, probe.height, probe.r_frame_rate, Number(probe.nb_read_frames)]).toEqual([
      codec,
      960,
      540,
      '25/1',
      32,
    ])
    if (format === 'webm') expect(probe.tags.alpha_mode ?? probe.tags.ALPHA_MODE).toBe('1')
    const decoder = format === 'webm' ? ['-c:v', 'libvpx-vp9'] : []
    const raw = execFileSync(
      'ffmpeg',
      [
        '-v',
        'error',
        ...decoder,
        '-i',
        file,
        '-vf',
        'select=eq(n\\,16)',
        '-frames:v',
        '1',
        '-f',
        'rawvideo',
        '-pix_fmt',
        'rgba',
        '-',
      ],
      { maxBuffer: 1 << 25 },
    )
    const at = (x: number, y: number) => raw[(y * 960 + x) * 4 + 3]!
    if (alpha) {
      expect(at(5, 5)).toBeLessThanOrEqual(2)
      expect(at(50, 470)).toBeGreaterThanOrEqual(253)
    }
    // The mark's ground, #f4ead5, within a few levels of a lossy coder.
    const colour = [...raw.subarray((448 * 960 + 75) * 4, (448 * 960 + 75) * 4 + 3)]
    for (const [i, want] of [0xf4, 0xea, 0xd5].entries())
      expect(Math.abs(colour[i]! - want)).toBeLessThanOrEqual(format === 'mkv' ? 0 : 3)
  }
})

test('progress is told by events, each the whole state; a stop is a stop, and what was stopped can go on', async () => {
  const sheet = ((await hoja.get('/sheets?template=speaker')).body as { id: number; count: number }[]).find(
    (s) => s.count === 40,
  )!
  const made = (
    await hoja.send('POST', '/outputs', {
      sheet: sheet.id,
      format: 'png',
      frames: 61,
      rows: Array.from({ length: 40 }, (_, i) => i + 1),
    })
  ).body as Output
  const response = await fetch(`${hoja.running.address}/api/outputs/${made.id}/events`)
  const reader = response.body!.getReader()
  const { value } = await reader.read()
  let text = new TextDecoder().decode(value)
  while (!text.includes('data: ')) text += new TextDecoder().decode((await reader.read()).value)
  await reader.cancel()
  expect(text).toContain('retry: 1000')
  await hoja.send('POST', `/outputs/${made.id}/stop`)
  const stopped = await output(made.id)
  expect(stopped.state).toBe('stopped')
  expect(stopped.counts.waiting! + stopped.counts.running!).toBe(0)
  expect(stopped.counts.stopped).toBeGreaterThan(0)
  await hoja.send('POST', `/outputs/${made.id}/retry`)
  const done = await until(
    () => output(made.id),
    (o) => o.state === 'done',
  )
  expect(done.counts).toMatchObject({ done: 35, held: 5, stopped: 0, failed: 0 })
})

test('a server that starts again goes on where it was, and removes what was half-written', async () => {
  const data = await seededFolder()
  const first = await startServer(data)
  const made = (await first.send('POST', '/outputs', { sheet: 1, format: 'png', frames: 45 })).body as Output
  await until(
    async () => ((await first.get(`/outputs/${made.id}`)).body as Output).counts,
    (c) => c.done! >= 2,
  )
  await first.running.close()
  const half = join(data, 'finished', 'ab', 'abc.part')
  execFileSync('mkdir', ['-p', half])
  const second = await startServer(data)
  expect(existsSync(half)).toBe(false)
  const done = await until(
    async () => (await second.get(`/outputs/${made.id}`)).body as Output,
    (o) => o.state === 'done',
  )
  expect(done.counts).toMatchObject({ done: 35, held: 5 })
  await second.end()
})

test('a file of rows is looked at before it comes in: its sheets, its row of names, what fills what; nothing is kept', async () => {
  const { versions } = await speaker()
  const version = String(versions[0]!.id)
  const before = ((await hoja.get('/sheets')).body as unknown[]).length
  const book = utils.book_new()
  const rows = [['Estuary Week'], ['name', 'role'], ['Io Marrec', 'Rope'], ['Tam', '']]
  utils.book_append_sheet(book, utils.aoa_to_sheet([['Notes']]), 'Notes')
  utils.book_append_sheet(book, utils.aoa_to_sheet(rows), 'Speakers')
  const bytes = new Uint8Array(write(book, { type: 'array', bookType: 'xlsx' }) as ArrayBuffer)
  const preview = (options: object, name = 'week.xlsx', file = bytes) =>
    hoja.upload('/sheets/import/preview', name, file, { version, options: JSON.stringify(options) })
  expect(await preview({ sheet: 'Speakers' })).toMatchObject({
    status: 200,
    body: {
      kind: 'workbook',
      sheets: [{ name: 'Notes' }, { name: 'Speakers' }],
      options: { sheet: 'Speakers', header: 2 },
      columns: ['name', 'role'],
      rows: [
        ['Io Marrec', 'Rope'],
        ['Tam', ''],
      ],
      count: 2,
      match: { name: 'name', role: 'role' },
      doubt: null,
    },
  })
  // What a person matched otherwise is how the next sheet with these columns comes in, and no other.
  const asked = new TextEncoder().encode('Who,Job,Speech name\nIo Marrec,Pilot,Io\n')
  const guess = (await preview({}, 'asked.csv', asked)).body as { match: object; remembered: boolean }
  expect(guess).toMatchObject({ match: { name: 'Speech name', role: 'Job' }, remembered: false })
  const first = (await hoja.upload('/sheets/import', 'asked.csv', asked, { version })).body as { id: number }
  const match = { name: 'Who', role: 'Job' }
  expect((await hoja.send('PUT', `/sheets/${first.id}/match`, { match })).status).toBe(200)
  expect((await preview({}, 'again.csv', asked)).body).toMatchObject({ match, remembered: true, doubt: null })
  const next = (await hoja.upload('/sheets/import', 'again.csv', asked, { version })).body as { id: number }
  expect(next).toMatchObject({ match })
  const other = new TextEncoder().encode('Who,Job\nIo Marrec,Pilot\n')
  expect((await preview({}, 'other.csv', other)).body).toMatchObject({ match, remembered: false })
  for (const sheet of [first, next]) await hoja.send('DELETE', `/sheets/${sheet.id}`)
  const tides = new TextEncoder().encode('station;height\nNorth;3,2\n')
  expect((await preview({}, 'tides.csv', tides)).body).toMatchObject({
    options: { separator: ';', header: 1 },
    doubt: expect.stringContaining('is this the right sheet?'),
  })
  expect(refusal(await preview({ sheet: 'Nobody' }))[1]).toContain('has no sheet "Nobody"')
  expect(refusal(await preview({ header: 'first' }))).toEqual([
    400,
    expect.stringContaining('How to read the file is not right'),
  ])
  expect(refusal(await preview({ strange: 1 }))[0]).toBe(400)
  expect(((await hoja.get('/sheets')).body as unknown[]).length).toBe(before)

  const taken = await hoja.upload('/sheets/import', 'week.xlsx', bytes, {
    version,
    options: JSON.stringify({ sheet: 'Speakers', header: 2 }),
    name: 'Thursday',
  })
  expect(taken).toMatchObject({ status: 201, body: { name: 'Thursday', columns: ['name', 'role'] } })
  await hoja.send('DELETE', `/sheets/${(taken.body as { id: number }).id}`)
})
