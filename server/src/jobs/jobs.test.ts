import { readFileSync } from 'node:fs'
import { strToU8, zipSync } from 'fflate'
import { odsOf, odsRow, xlsxOf, xlsxRow } from '../../../core/src/testing/hostile.ts'
import { type Client, demoFile, startServer, until } from '../testing/running.ts'
import { budgetsTable } from './budgets.ts'

const refusal = (answer: { status: number; body: never }) => [answer.status, (answer.body as { detail: string }).detail]

/** A worksheet whose cells are opened and never closed: the library that reads it takes far longer than it is long. */
const slow = () => xlsxOf('A1', `<sheetData><row r="1">${'<c r="A1" t="str"><v>'.repeat(400_000)}</row></sheetData>`)
const good = strToU8('name,role\nIo Marrec,Pilot\n')

async function importer(hoja: Client) {
  const { versions } = (await hoja.get('/templates/speaker')).body as { versions: { id: number }[] }
  const version = String(versions[0]!.id)
  return (name: string, bytes: Uint8Array) => hoja.upload('/sheets/import', name, bytes, { version })
}

describe('with the usual budgets', () => {
  let hoja: Client
  beforeAll(async () => {
    hoja = await startServer()
  })
  afterAll(() => hoja.end())

  test('files that claim to be endless are told so, and stop nobody', async () => {
    const bring = await importer(hoja)
    const rows = `<sheetData>${xlsxRow(1, 'name')}${xlsxRow(2, 'Io')}</sheetData>`
    const answers = await Promise.all([
      bring('large.xlsx', xlsxOf('A1:XFD1048576', rows)),
      bring('far.xlsx', xlsxOf('A1', `<sheetData>${xlsxRow(1, 'name')}${xlsxRow(1048576, 'x', 'XFD')}</sheetData>`)),
      bring('rows.ods', odsOf(odsRow(1e9))),
      bring('rows2.ods', odsOf(odsRow(1e9))),
      bring('deep.json', strToU8('['.repeat(5000))),
    ])
    expect(answers[0]).toMatchObject({ status: 201, body: { count: 1 } })
    expect(answers.slice(1).map(refusal)).toEqual([
      [413, expect.stringMatching(/"far\.xlsx, sheet A" has 1,048,575 rows; Hoja reads up to 500,000 rows/)],
      [413, expect.stringMatching(/"rows\.ods" has 1,000,000,000 rows/)],
      [413, expect.stringMatching(/"rows2\.ods" has 1,000,000,000 rows/)],
      [422, expect.stringMatching(/"deep\.json" nests lists and objects more than 200 levels deep/)],
    ])
    expect((await bring('good.csv', good)).status).toBe(201)
  })

  test('a package two thousand levels deep is refused, and the next one comes in', async () => {
    const document = `{"x-deep":${'['.repeat(2000)}${']'.repeat(2000)}}`
    const deep = zipSync({ 'template.json': strToU8(document) })
    expect(refusal(await hoja.upload('/templates/import', 'deep.hoja', deep))[1]).toContain('more than 200 levels deep')
    expect((await hoja.get('/templates/speaker')).status).toBe(200)
  })

  test('a draft that comes over the network is read elsewhere, and refused in a sentence', async () => {
    const put = async (body: string) => {
      const response = await fetch(`${hoja.running.address}/api/templates/speaker`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body,
      })
      return refusal({ status: response.status, body: (await response.json()) as never })
    }
    expect(await put('{"revision":1,')).toEqual([400, 'The request could not be read: it is no JSON.'])
    expect(await put('{"template":{}}')).toEqual([400, 'The request is not right: revision is a required field.'])
    expect((await put(`{"revision":1,"template":${'['.repeat(9000)}`))[1]).toContain('more than 200 levels deep')
  })

  test('a picture that is not whole is refused, whatever its header says', async () => {
    const png = demoFile('templates/speaker/media/mill.png')
    const bring = (name: string, bytes: Uint8Array) => hoja.upload('/assets', name, bytes)
    expect((await bring('whole.png', png)).status).toBe(201)
    const spoilt = png.slice()
    spoilt[Math.floor(png.length / 2)]! ^= 0x55
    expect(refusal(await bring('spoilt.png', spoilt))).toEqual([
      422,
      '"spoilt.png" is a damaged picture; save it again.',
    ])
    expect(refusal(await bring('cut.png', png.slice(0, -30)))[0]).toBe(422)
  })
})

describe('with little time', () => {
  let hoja: Client
  beforeAll(async () => {
    hoja = await startServer(undefined, { jobs: { read: { seconds: 9, size: 1 } } })
  })
  afterAll(() => hoja.end())

  test('what takes too long is ended in a sentence; its process is replaced and others are served', async () => {
    const bring = await importer(hoja)
    await bring('first.csv', good)
    const before = hoja.running.jobs.pids
    const [late, next] = await Promise.all([bring('slow.xlsx', slow()), bring('good.csv', good)])
    expect(refusal(late)).toEqual([
      422,
      '"slow.xlsx" took longer than 9 s and was given up; make it smaller or simpler.',
    ])
    expect(next.status).toBe(201)
    expect(hoja.running.jobs.pids).not.toEqual(before)
  })

  test('when whoever asked has gone, nobody waits for the answer', async () => {
    const bring = await importer(hoja)
    await bring('first.csv', good)
    const [before] = hoja.running.jobs.pids
    const form = new FormData()
    const { versions } = (await hoja.get('/templates/speaker')).body as { versions: { id: number }[] }
    form.append('version', String(versions[0]!.id))
    form.append('file', new Blob([slow() as Uint8Array<ArrayBuffer>]), 'slow.xlsx')
    const stop = new AbortController()
    const { signal } = stop
    const gone = fetch(`${hoja.running.address}/api/sheets/import`, { method: 'POST', body: form, signal })
    setTimeout(() => stop.abort(), 700)
    await expect(gone).rejects.toThrow('aborted')
    await until(
      async () => hoja.running.jobs.pids,
      (pids) => !pids.includes(before!),
      5,
    )
    expect((await bring('good.csv', good)).status).toBe(201)
  })
})

test('what takes too much memory is ended in a sentence, and the next one is read', async () => {
  const hoja = await startServer(undefined, { jobs: { read: { memory: 180 * 1024 * 1024 } } })
  const bring = await importer(hoja)
  // Less than a package may unpack to, and nothing of it in V8's own heap.
  const large = zipSync(
    { 'template.json': strToU8('{}'), 'media/large.png': new Uint8Array(64 * 1024 * 1024) },
    { level: 1 },
  )
  expect(refusal(await hoja.upload('/templates/import', 'large.hoja', large))).toEqual([
    413,
    '"large.hoja" needs more memory than Hoja gives to one file; make it smaller.',
  ])
  expect((await bring('good.csv', good)).status).toBe(201)
  await hoja.end()
})

test('the page of limits says what the budgets are', () => {
  const page = readFileSync(new URL('../../../docs/limits.md', import.meta.url), 'utf8')
  expect(page).toContain(budgetsTable())
})
