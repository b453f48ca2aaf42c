import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { join } from 'node:path'
import type { Template } from '@hoja/core/template'
import { execa } from 'execa'
import { strToU8 } from 'fflate'
import { builtCli, type Client, demo, startServer, temporaryFolder, until } from '../testing/running.ts'

let hoja: Client
const work = temporaryFolder()
beforeAll(async () => {
  hoja = await startServer()
})
afterAll(async () => {
  await hoja.end()
  rmSync(work, { recursive: true, force: true })
})

const refusal = (answer: { status: number; body: never }) => [answer.status, (answer.body as { detail: string }).detail]
interface Draft {
  revision: number
  template: Template
  versions: { id: number; number: number }[]
}
const draftOf = async (id: string) => (await hoja.get(`/templates/${id}`)).body as Draft

describe('what the machine is the reason of is told as that', () => {
  const sheet = async () => {
    const { versions } = await draftOf('speaker')
    const table = [['name'], ...Array.from({ length: 2000 }, (_, i) => [`Io ${i} ${'x'.repeat(200)}`])]
    return hoja.send('POST', '/sheets', { version: versions[0]!.id, name: 's', table })
  }

  test('a full disk is 507, and what was there is there', async () => {
    const { db } = hoja.running.store
    const before = (await hoja.get('/sheets')).body
    // SQLite's own bound on a database is told as a full disk is (SQLITE_FULL).
    const most = db.pragma('max_page_count', { simple: true })
    db.pragma(`max_page_count = ${db.pragma('page_count', { simple: true })}`)
    expect(refusal(await sheet())).toEqual([507, 'The disk is full; make room, and try again.'])
    db.pragma(`max_page_count = ${most}`)
    expect((await hoja.get('/sheets')).body).toEqual(before)
    expect((await sheet()).status).toBe(201)
  })

  test('a disk that fills up while rows arrive costs that sheet alone', async () => {
    const { db } = hoja.running.store
    const before = (await hoja.get('/sheets')).body
    const { versions } = await draftOf('speaker')
    const most = db.pragma('max_page_count', { simple: true })
    db.pragma(`max_page_count = ${(db.pragma('page_count', { simple: true }) as number) + 40}`)
    const rows = strToU8(`name,role\n${Array.from({ length: 20_000 }, (_, i) => `Io ${i},Pilot`).join('\n')}\n`)
    const bring = () => hoja.upload('/sheets/import', 'long.csv', rows, { version: String(versions[0]!.id) })
    expect(refusal(await bring())).toEqual([507, 'The disk is full; make room, and try again.'])
    db.pragma(`max_page_count = ${most}`)
    expect((await hoja.get('/sheets')).body).toEqual(before)
    expect((await bring()).body).toMatchObject({ count: 20_000 })
  })

  test('a database that may only be read is 503', async () => {
    const { db } = hoja.running.store
    db.pragma('query_only = ON')
    expect(refusal(await sheet())).toEqual([
      503,
      'Files may not be written to the data folder; allow it, and try again.',
    ])
    db.pragma('query_only = OFF')
    expect((await sheet()).status).toBe(201)
  })

  test('only a defect is called one, by a number that is in the log', async () => {
    const { moves } = hoja.running.store
    const { list } = moves
    moves.list = () => {
      throw new Error('broken on purpose')
    }
    const [status, message] = refusal(await hoja.get('/moves'))
    moves.list = list
    expect([status, message]).toEqual([
      500,
      expect.stringMatching(/^Something went wrong in Hoja itself; .+ its number, [0-9a-f]{8}\.$/),
    ])
  })
})

describe('movies', () => {
  // Texts that ffmpeg would follow to other files of this machine, whatever they are called.
  const playlists = {
    hls: (file: string) => `#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\n${file}\n#EXT-X-ENDLIST\n`,
    dash: (file: string) =>
      `<MPD type="static"><Period><AdaptationSet><Representation><BaseURL>${file}</BaseURL></Representation></AdaptationSet></Period></MPD>`,
    concat: (file: string) => `ffconcat version 1.0\nfile ${file}\n`,
  }

  test.each(Object.entries(playlists))(
    'a %s text that is called a movie is none, wherever it is brought',
    async (_, text) => {
      const secret = join(work, 'secret.mp4')
      execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=size=64x48:duration=0.4', secret])
      const bytes = strToU8(text(secret))
      for (const path of ['/assets', '/footage'])
        expect(refusal(await hoja.upload(path, 'm.mp4', bytes))).toEqual([
          415,
          '"m.mp4" is not a movie that can be read; save it as MOV, MP4 or WebM.',
        ])
      writeFileSync(join(work, 'm.mp4'), bytes)
      const data = join(work, 'rows.csv')
      writeFileSync(data, 'name\nIo\n')
      const args = ['render', join(demo, 'templates/speaker'), data, '--out', join(work, 'out'), '--format', 'mp4']
      const { exitCode, stderr } = await execa(process.execPath, [builtCli, ...args, '--under', join(work, 'm.mp4')], {
        reject: false,
      })
      expect([exitCode, stderr]).toEqual([2, expect.stringContaining('"m.mp4" is not a movie that can be read')])
    },
  )

  test('a movie that is one comes in by what its bytes say, whatever it is called', async () => {
    const file = join(work, 'bars.mkv')
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=size=64x48:duration=0.4', file])
    expect((await hoja.upload('/assets', 'bars.mov', new Uint8Array(readFileSync(file)))).status).toBe(201)
  })
})

test('a pipe or a folder in a root is no file, and nobody waits for it', async () => {
  const followed = join(hoja.data, 'followed')
  execFileSync('mkfifo', [join(followed, 'pipe.csv')])
  const { versions } = await draftOf('speaker')
  const link = { kind: 'file', root: 'followed', path: 'pipe.csv', options: {} }
  const answer = await hoja.send('POST', '/links', { version: versions[0]!.id, name: 'x', link })
  expect(refusal(answer)).toEqual([422, '"pipe.csv" is no file; choose one.'])
  const files = (await hoja.get('/links/files')).body as { path: string }[]
  expect(files.map(({ path }) => path)).not.toContain('pipe.csv')
  rmSync(join(followed, 'pipe.csv'))
})

test('a state is published once, and only the one that is meant', async () => {
  const made = (await hoja.send('POST', '/templates/talk/duplicate')).body as { id: string }
  const publish = (body: object) => hoja.send('POST', `/templates/${made.id}/versions`, body)
  const { revision, template } = await draftOf(made.id)
  const numbers = []
  for (let n = 0; n < 5; n++) numbers.push(((await publish({ revision })).body as { number: number }).number)
  expect(numbers).toEqual([1, 1, 1, 1, 1])
  await hoja.send('PUT', `/templates/${made.id}`, { revision, template: { ...template, note: 'another' } })
  expect((await publish({ revision })).status).toBe(409)
  expect((await publish({ revision: revision + 1 })).body).toMatchObject({ number: 2 })
})

test('a draft is saved though the page that sent it was closed right behind it', async () => {
  const { id } = (await hoja.send('POST', '/templates/talk/duplicate')).body as { id: string }
  const { revision, template } = await draftOf(id)
  const { hostname, port } = new URL(hoja.running.address)
  const asked = request({
    hostname,
    port,
    method: 'PUT',
    path: `/api/templates/${id}`,
    headers: { 'Content-Type': 'application/json' },
  })
  asked.on('error', () => {})
  await new Promise<void>((sent) =>
    asked.end(JSON.stringify({ revision, template: { ...template, note: 'last words' } }), sent),
  )
  await new Promise((done) => setImmediate(done))
  asked.destroy()
  await until(
    () => draftOf(id),
    (draft) => draft.template.note === 'last words',
    15,
  )
})

test('a match of a sheet that was changed meanwhile is not taken', async () => {
  const { versions } = await draftOf('speaker')
  const table = [
    ['name', 'role'],
    ['Io', 'Pilot'],
  ]
  const sheet = (await hoja.send('POST', '/sheets', { version: versions[0]!.id, name: 's', table })).body as {
    id: number
    revision: number
  }
  const changes = [{ at: 1, remove: 1, rows: [{ cells: { name: 'Tam', role: 'Diver' } }] }]
  await hoja.send('PATCH', `/sheets/${sheet.id}/rows`, { revision: sheet.revision, changes })
  const match = { name: 'role' }
  const set = (revision: number) => hoja.send('PUT', `/sheets/${sheet.id}/match`, { revision, match })
  expect((await set(sheet.revision)).status).toBe(409)
  expect(await set(sheet.revision + 1)).toMatchObject({ status: 200, body: { match } })
})

test('a sheet saved as CSV runs nothing in a spreadsheet, unless it is asked for as it is', async () => {
  const { versions } = await draftOf('speaker')
  const table = [['name'], ['=1+1'], ['-5']]
  const sheet = (await hoja.send('POST', '/sheets', { version: versions[0]!.id, name: 's', table })).body as {
    id: number
  }
  const csv = async (query: string) =>
    (await fetch(`${hoja.running.address}/api/sheets/${sheet.id}/csv${query}`)).text()
  expect(await csv('')).toContain("'=1+1\r\n-5")
  expect(await csv('?formulas=as-is')).toContain('name\r\n=1+1\r\n-5')
})

test('the page is asked for anew each time, what its name tells the bytes of is kept, compressed', async () => {
  const page = await fetch(`${hoja.running.address}/t/speaker/draft`)
  expect(page.headers.get('cache-control')).toBe('no-cache')
  const [script] = (await page.text()).match(/\/assets\/[\w-]+\.js/)!
  const asset = await fetch(`${hoja.running.address}${script}`, { headers: { 'Accept-Encoding': 'br' } })
  expect(
    Object.fromEntries(['cache-control', 'content-encoding'].map((name) => [name, asset.headers.get(name)])),
  ).toEqual({
    'cache-control': 'public, max-age=31536000, immutable',
    'content-encoding': 'br',
  })
  expect((await fetch(`${hoja.running.address}/assets/none-12345678.js`)).status).toBe(404)
  const build = (await fetch(`${hoja.running.address}/api/build`)).headers.get('x-hoja-build')
  expect(build).toMatch(/^[0-9a-f]{12}$/)
})

test('what comes in and is refused leaves nothing behind', async () => {
  await hoja.upload('/assets', 'a.png', strToU8('no picture'))
  await hoja.upload('/templates/import', 'a.hoja', strToU8('no package'))
  await hoja.upload('/footage', 'a.mov', strToU8('no movie'))
  expect(readdirSync(join(hoja.data, 'incoming'))).toEqual([])
})

test('what an output was rendered to goes with it', async () => {
  const { versions } = await draftOf('speaker')
  const table = [
    ['name', 'role'],
    ['Io Marrec', 'Pilot'],
  ]
  const sheet = (await hoja.send('POST', '/sheets', { version: versions[0]!.id, name: 's', table })).body as {
    id: number
  }
  const order = { sheet: sheet.id, format: 'svg' }
  const rendered = async () => {
    const { id } = (await hoja.send('POST', '/outputs', order)).body as { id: number }
    const done = await until(
      () => hoja.get(`/outputs/${id}`),
      ({ body }) => (body as { state: string }).state === 'done',
    )
    return { id, key: (done.body as { titles: { result: string }[] }).titles[0]!.result }
  }
  const [first, second] = [await rendered(), await rendered()]
  expect(second.key).toBe(first.key)
  const folder = join(hoja.data, 'finished', first.key.slice(0, 2), first.key)
  await hoja.send('DELETE', `/outputs/${first.id}`)
  await hoja.running.store.tidy.round()
  // The other one refers to it still.
  expect(existsSync(folder)).toBe(true)
  await hoja.send('DELETE', `/outputs/${second.id}`)
  await until(
    async () => existsSync(folder),
    (isThere) => !isThere,
    10,
  )
})
