import { execFile } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { PNG } from 'pngjs'
import { builtCli, demo, temporaryFolder } from './testing/running.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** Runs the built command line as a person would; never throws. */
async function hoja(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  try {
    const { stdout, stderr } = await promisify(execFile)('node', [builtCli, ...args], {
      cwd: folder,
      maxBuffer: 1 << 25,
    })
    return { code: 0, out: stdout, err: stderr }
  } catch (error) {
    const { code, stdout, stderr } = error as { code: number; stdout: string; stderr: string }
    return { code, out: stdout, err: stderr }
  }
}
const speaker = join(demo, 'templates/speaker')
const rows = join(demo, 'data/speakers.csv')

test('measure says where every part rests', async () => {
  const { code, out } = await hoja('measure', speaker, rows, '--row', '7', '--json')
  expect(code).toBe(0)
  const { row, parts } = JSON.parse(out)
  expect(row).toBe(7)
  const at = (id: string) => parts.find((p: { id: string }) => p.id === id)
  expect(at('role')).toMatchObject({ name: 'Role', kind: 'text', visible: false })
  expect(at('name')).toMatchObject({
    visible: true,
    text: { lines: 1, size: 78, condense: 1, overflow: 0, missing: [] },
  })
  expect(at('plate').box.x).toBe(at('edge').box.x + at('edge').box.width)
  expect(at('highlight').box.x).toBeCloseTo(at('plate').box.x + at('plate').box.width, 3)
})

test('check tells every finding, and exits 1 when a row must not go out', async () => {
  const { code, out } = await hoja('check', speaker, rows, '--json')
  expect(code).toBe(1)
  const found = JSON.parse(out)
  expect(found).toMatchObject({ rows: 40, stop: 5 })
  expect(found.findings).toContainEqual(
    expect.objectContaining({ row: 10, field: 'name', part: 'name', level: 'stop', code: 'missing' }),
  )
  writeFileSync(join(folder, 'good.csv'), 'name,role\nIo Marrec,Pilot\n')
  expect(await hoja('check', speaker, 'good.csv')).toMatchObject({ code: 0, out: '1 rows: 0 stop, 0 look, 1 fine\n' })
})

test('frame writes PNG and SVG', async () => {
  expect((await hoja('frame', speaker, rows, '--row', '5', '--at', '30', '--out', 'f.png')).code).toBe(0)
  const png = PNG.sync.read(readFileSync(join(folder, 'f.png')))
  expect([png.width, png.height]).toEqual([1920, 1080])
  expect((await hoja('frame', speaker, '--at', '3', '--out', 'f.svg')).code).toBe(0)
  expect(readFileSync(join(folder, 'f.svg'), 'utf8')).toContain('<svg xmlns')
})

test('render makes a folder a title, and exits 1 for the held rows', async () => {
  const { code, out } = await hoja(
    'render',
    speaker,
    rows,
    '--out',
    'made',
    '--rows',
    '8-10',
    '--frames',
    '31',
    '--name',
    '{row:00}-{name}',
    '--json',
  )
  expect(code).toBe(1)
  const lines = out
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line))
  expect(lines.pop()).toMatchObject({ ended: true, done: 2, held: 1 })
  expect(lines.map((l) => `${l.row} ${l.state}`).sort()).toEqual(['10 held', '8 done', '9 done'])
  expect(readdirSync(join(folder, 'made')).sort()).toEqual([
    '08-Jean-Baptiste_Quéré',
    '09-Aoife_Ní_Loingsigh',
    'manifest.csv',
    'manifest.json',
  ])
  const files = readdirSync(join(folder, 'made/08-Jean-Baptiste_Quéré')).sort()
  expect(files).toHaveLength(31)
  expect(files[0]).toBe('08-Jean-Baptiste_Quéré_0000.png')
  const frame = join(folder, 'made/08-Jean-Baptiste_Quéré', files[15]!)
  expect((await hoja('frame', speaker, rows, '--row', '8', '--at', '15', '--out', 'same.png')).code).toBe(0)
  expect(
    Buffer.compare(PNG.sync.read(readFileSync(frame)).data, PNG.sync.read(readFileSync(join(folder, 'same.png'))).data),
  ).toBe(0)
})

test('pack, unpack and starter are each other’s ways back', async () => {
  expect((await hoja('pack', speaker, 'speaker.hoja')).code).toBe(0)
  expect((await hoja('unpack', 'speaker.hoja', 'unpacked')).code).toBe(0)
  expect(JSON.parse(readFileSync(join(folder, 'unpacked/template.json'), 'utf8'))).toEqual(
    JSON.parse(readFileSync(join(speaker, 'template.json'), 'utf8')),
  )
  expect((await hoja('pack', 'unpacked', 'again.hoja')).code).toBe(0)
  expect(readFileSync(join(folder, 'again.hoja')).equals(readFileSync(join(folder, 'speaker.hoja')))).toBe(true)
  for (const kind of ['csv', 'xlsx', 'json']) {
    expect((await hoja('starter', 'speaker.hoja', '--out', `start.${kind}`)).code).toBe(0)
    expect((await hoja('check', 'speaker.hoja', `start.${kind}`)).code).toBe(0)
  }
})

test('a bad call or bad input is one line on stderr and exit 2, and writes nothing', async () => {
  mkdirSync(join(folder, 'bad/fonts'), { recursive: true })
  const bad = JSON.parse(readFileSync(join(speaker, 'template.json'), 'utf8'))
  writeFileSync(join(folder, 'bad/template.json'), JSON.stringify({ ...bad, schema: 5 }))
  writeFileSync(join(folder, 'empty.csv'), '')
  const calls: [string[], string][] = [
    [['measure', 'nowhere.hoja'], 'There is no template at "nowhere.hoja"'],
    [['measure', speaker, 'nowhere.csv'], 'There is no data file'],
    [['measure', speaker, rows, '--row', '41'], 'Row 41 does not exist; the data has rows 1 to 40'],
    [['measure', speaker, rows, '--row', 'x'], 'not a whole number'],
    [['frame', speaker, '--at', '125', '--out', 'x.png'], 'Frame 125 does not exist'],
    [['frame', speaker, '--at', '1', '--out', 'x.bmp'], 'neither a .png nor a .svg'],
    [['render', speaker, rows, '--out', 'none', '--format', 'avi'], '"avi" is no format'],
    [['render', speaker, rows, '--out', 'none', '--frames', '29'], 'In and Out need 30'],
    [['render', speaker, rows, '--out', 'none', '--rows', '39-41'], 'Row 41 does not exist'],
    [['render', speaker, 'empty.csv', '--out', 'none'], '"empty.csv" is empty'],
    [['check', 'bad', rows], 'written by a newer Hoja'],
    [['unpack', rows, 'none'], 'is not a template package'],
    [['starter', speaker, '--out', 'x.pdf'], 'none of .csv, .xlsx and .json'],
    [['render', speaker, rows], "required option '--out <dir>' not specified"],
    [['dance'], "unknown command 'dance'"],
  ]
  for (const [args, message] of calls) {
    const { code, err, out } = await hoja(...args)
    expect([code, out]).toEqual([2, ''])
    expect(err).toMatch(/^hoja: [^\n]+\n$/)
    expect(err).toContain(message)
  }
  expect(existsSync(join(folder, 'none'))).toBe(false)
})
