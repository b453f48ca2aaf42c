import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import { type Client, startServer, until } from '../testing/running.ts'

interface Output {
  id: number
  state: string
  counts: Record<string, number>
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

const newSheet = async (...rows: string[][]) => {
  const table = [['name', 'role', 'duration'], ...rows]
  return ((await hoja.send('POST', '/sheets', { version, name: 'Crew', table })).body as { id: number }).id
}
const output = async (id: number) => (await hoja.get(`/outputs/${id}`)).body as Output
const message = (answer: { body: unknown }) => (answer.body as { detail?: string }).detail
const order = (sheet: number, settings: object) =>
  hoja.send('POST', '/outputs', { sheet, format: 'svg', ...settings }) as Promise<{ status: number; body: Output }>

/** Changes rows of a sheet as a person does, on what it holds now. */
async function change(sheet: number, changes: object[]): Promise<void> {
  const { revision } = (await hoja.get(`/sheets/${sheet}`)).body as { revision: number }
  const { status } = await hoja.send('PATCH', `/sheets/${sheet}/rows`, { revision, changes })
  expect(status).toBe(200)
}
const cells = (name: string, role = 'Pilot') => ({ cells: { name, role, duration: '' } })

test('an output keeps a folder as its sheet is: names stay, what changed is renewed, what is gone goes', async () => {
  const sheet = await newSheet(['Io Marrec', 'Keeper', ''], ['Tam Vega', 'Pilot', ''])
  const { body } = await order(sheet, { keep: { root: 'kept', folder: 'crew' }, pattern: '{row:00}_{name}' })
  const folder = join(hoja.data, 'kept/crew')
  const files = () =>
    existsSync(folder)
      ? readdirSync(folder)
          .filter((name) => name.endsWith('.svg'))
          .sort()
      : []
  const manifest = () =>
    (JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')).files as { file: string }[]).map(
      ({ file }) => file,
    )
  const lies = (...names: string[]) =>
    until(
      async () => [files(), existsSync(join(folder, 'manifest.json')) ? manifest() : []],
      ([lying, told]) => JSON.stringify(lying) === JSON.stringify(names) && told!.length === names.length,
    )
  await lies('01_Io_Marrec.svg', '02_Tam_Vega.svg')
  const first = statSync(join(folder, '01_Io_Marrec.svg')).mtimeMs
  const before = readFileSync(join(folder, '02_Tam_Vega.svg'), 'utf8')
  // A file of the user's own is nobody else's business.
  writeFileSync(join(folder, 'notes.txt'), 'mine')

  await change(sheet, [{ at: 2, remove: 1, rows: [cells('Tam Vega', 'Harbour master')] }])
  await until(
    async () => readFileSync(join(folder, '02_Tam_Vega.svg'), 'utf8'),
    (text) => text !== before,
  )
  expect(statSync(join(folder, '01_Io_Marrec.svg')).mtimeMs).toBe(first)

  // A row before the others: they are renamed, not rendered.
  await change(sheet, [{ at: 1, remove: 0, rows: [cells('Ana Ibáñez')] }])
  await lies('01_Ana_Ibáñez.svg', '02_Io_Marrec.svg', '03_Tam_Vega.svg')
  expect(statSync(join(folder, '02_Io_Marrec.svg')).mtimeMs).toBe(first)

  // One that must not go out has no file.
  await change(sheet, [{ at: 2, remove: 1, rows: [cells('')] }])
  await lies('01_Ana_Ibáñez.svg', '03_Tam_Vega.svg')
  expect(readFileSync(join(folder, 'notes.txt'), 'utf8')).toBe('mine')
  const { log, counts } = await output(body.id)
  expect(counts).toMatchObject({ done: 2, held: 1 })
  expect(log.map(({ text }) => text).join('\n')).toContain('no longer asked for removed')

  // Stopped, it follows no more, and the folder is free for another.
  await hoja.send('POST', `/outputs/${body.id}/stop`)
  await change(sheet, [{ at: 1, remove: 1, rows: [] }])
  const again = await order(sheet, { keep: { root: 'kept', folder: 'crew' }, pattern: '{row:00}_{name}' })
  expect(again.status).toBe(201)
  await lies('02_Tam_Vega.svg')
})

test('a folder that is taken, outside, or in no root is refused in a sentence', async () => {
  const sheet = await newSheet(['Io Marrec', 'Keeper', ''])
  const keep = (root: string, folder: string) => order(sheet, { keep: { root, folder } })
  expect((await keep('kept', 'once')).status).toBe(201)
  expect(message(await keep('kept', 'once'))).toMatch(/^"once" is kept current by output \d+; stop that one/)
  expect(message(await keep('kept', '../out'))).toBe('"../out" lies outside of "kept"; name a folder in it.')
  expect(message(await keep('kept', '/etc'))).toContain('lies outside')
  expect(message(await keep('nowhere', 'x'))).toBe('"nowhere" is no folder of this Hoja; choose kept.')
  expect((await hoja.get('/outputs/keep')).body).toEqual([{ name: 'kept', path: join(hoja.data, 'kept') }])
})

test('lists, a contact sheet and marks lie beside the files, in the folder and in the zip', async () => {
  const sheet = await newSheet(['Io Marrec', 'Keeper', '4 s'], ['Tam Vega', 'Pilot', '2 s'])
  mkdirSync(join(hoja.data, 'kept'), { recursive: true })
  const { body } = await order(sheet, {
    format: 'mov-rle',
    size: { width: 480, height: 270 },
    marks: true,
    conform: true,
    contactSheet: true,
    keep: { root: 'kept', folder: 'edit' },
  })
  const folder = join(hoja.data, 'kept/edit')
  await until(async () => existsSync(join(folder, 'conform.edl')), Boolean)
  const names = readdirSync(folder)
    .filter((name) => !name.startsWith('.'))
    .sort()
  expect(names).toEqual([
    '001_Io_Marrec.mov',
    '001_Io_Marrec.otio',
    '002_Tam_Vega.mov',
    '002_Tam_Vega.otio',
    'conform.edl',
    'conform.otio',
    'contact_sheet.png',
    'manifest.csv',
    'manifest.json',
  ])
  const response = await fetch(`${hoja.running.address}/api/outputs/${body.id}/zip`)
  const zip = unzipSync(new Uint8Array(await response.arrayBuffer()))
  expect(Object.keys(zip).sort()).toEqual(names)
  const edl = Buffer.from(zip['conform.edl']!).toString()
  // The second one follows the first, whose row says 4 s.
  expect(edl).toContain('002  AX       V     C        00:00:00:00 00:00:02:00 01:00:04:00 01:00:06:00')
})
