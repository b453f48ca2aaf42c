import { execFile, spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { copyFileSync, cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { PNG } from 'pngjs'
import { templateFromPage } from '../../core/src/testing/formatPage.ts'
import { builtCli, demo, temporaryFolder, until } from './testing/running.ts'

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
  expect(await hoja('check', speaker, 'good.csv')).toMatchObject({
    code: 0,
    out: 'No column for mark.\n1 row: 0 stop, 0 look, 1 fine\n',
  })
})

test('what no column fills and what nothing uses is said first; a file that fills nothing is bad input', async () => {
  writeFileSync(join(folder, 'roles.csv'), 'Role,Phone\nPilot,112\n')
  const sample = 'Name is required and nothing was given, so "Maren Oduya-Castellví" would go out'
  const told = await hoja('check', speaker, 'roles.csv')
  expect(told.code).toBe(1)
  expect(told.out.split('\n').slice(0, 3)).toEqual([
    'No column for name, mark.',
    'Nothing uses the column Phone.',
    expect.stringContaining(`row 1  stop  ${sample}`),
  ])
  expect(JSON.parse((await hoja('check', speaker, 'roles.csv', '--json')).out)).toMatchObject({
    unmatched: ['name', 'mark'],
    unused: ['Phone'],
    stop: 1,
  })
  const rendered = await hoja('render', speaker, 'roles.csv', '--out', 'roles', '--json')
  expect([
    rendered.code,
    rendered.out
      .split('\n')
      .slice(0, 2)
      .map((line) => JSON.parse(line)),
  ]).toEqual([1, [{ note: 'No column for name, mark.' }, { note: 'Nothing uses the column Phone.' }]])
  expect(rendered.out).toContain('would go out')
  writeFileSync(join(folder, 'other.csv'), 'Item,Sum\nChairs,40\n')
  for (const call of [['check'], ['render', '--out', 'other']]) {
    const refused = await hoja(call[0]!, speaker, 'other.csv', ...call.slice(1))
    expect(refused).toMatchObject({ code: 2, out: '' })
    expect(refused.err).toBe(
      'hoja: "other.csv" fills nothing of "Speaker": it has Item, Sum, and the fields are name, role, mark.\n',
    )
  }
})

test('shapes of the frame: each checked, measured and rendered, by name', async () => {
  const own = join(folder, 'shaped')
  cpSync(speaker, own, { recursive: true })
  const file = join(own, 'template.json')
  const shape = { id: 'tall', name: '9:16', width: 1080, height: 1920, safe: { action: 0.035, title: 0.05 } }
  const sets = [{ part: 'name', property: 'size', value: 120 }]
  const document = { ...JSON.parse(readFileSync(file, 'utf8')), shapes: [{ ...shape, guides: [], sets, options: [] }] }
  writeFileSync(file, JSON.stringify(document))
  writeFileSync(join(folder, 'one.csv'), 'name,role\nMaximiliana Theodora von Hollenstein,Pilot\n')
  const checked = await hoja('check', own, 'one.csv')
  expect([checked.code, checked.out]).toEqual([1, expect.stringContaining('In 9:16: Name')])
  expect(await hoja('check', own, 'one.csv', '--shape', '16:9')).toMatchObject({ code: 0 })
  expect((await hoja('measure', own, 'one.csv', '--shape', '9x16')).out).toMatch(/Name .* 1 line at \d+/)
  writeFileSync(join(folder, 'io.csv'), 'name,role\nIo,Pilot\n')
  const made = await hoja('render', own, 'io.csv', '--out', 'shapes', '--shape', 'all', '--format', 'still')
  expect(made.code).toBe(0)
  const sizeOf = (name: string) => {
    const { width, height } = PNG.sync.read(readFileSync(join(folder, 'shapes', name)))
    return [width, height]
  }
  expect([sizeOf('001_Io_16x9.png'), sizeOf('001_Io_9x16.png')]).toEqual([
    [1920, 1080],
    [1080, 1920],
  ])
  expect((await hoja('render', own, 'io.csv', '--out', 'no', '--shape', '4:5')).err).toContain('no shape "4:5"')
})

test('check says what render says, at another size, rate and length too', async () => {
  writeFileSync(join(folder, 'long.csv'), `name,role\n${'Maximiliana Theodora von Hollen'},Pilot\nIo,Pilot\n`)
  for (const asked of [
    ['--size', '720x576', '--keep-sizes'],
    ['--rate', '50', '--frames', '60'],
  ]) {
    const checked = await hoja('check', speaker, 'long.csv', '--json', ...asked)
    const { findings } = JSON.parse(checked.out) as { findings: { row: number; level: string; message: string }[] }
    const { out, code } = await hoja(
      'render',
      speaker,
      'long.csv',
      '--out',
      `r${asked.join('')}`,
      '--json',
      '--name',
      '{row}',
      ...asked,
    )
    const held = out
      .split('\n')
      .flatMap((line) => (line.includes('"held"') && line.includes('reason') ? [JSON.parse(line)] : []))
    const stops = (row: number) => findings.filter((f) => f.row === row && f.level === 'stop').map((f) => f.message)
    expect([code, checked.code]).toEqual(held.length > 0 ? [1, 1] : [0, 0])
    expect(held.map(({ row, reason }) => [row, reason])).toEqual(
      [1, 2].flatMap((row) => (stops(row).length > 0 ? [[row, stops(row).join(' ')]] : [])),
    )
  }
  expect(await hoja('check', speaker, 'long.csv', '--frames', '20')).toMatchObject({
    code: 2,
    err: 'hoja: 20 frames are too few: In and Out need 30.\n',
  })
})

test('a name that another part lies over is told by check, and held by render', async () => {
  const covered = join(folder, 'covered')
  cpSync(speaker, covered, { recursive: true })
  const file = join(covered, 'template.json')
  const template = JSON.parse(readFileSync(file, 'utf8'))
  const plate = template.parts.findIndex(({ id }: { id: string }) => id === 'plate')
  template.parts.push(...template.parts.splice(plate, 1))
  writeFileSync(file, JSON.stringify(template))
  writeFileSync(join(folder, 'one.csv'), 'name,role\nIo Marrec,Pilot\n')
  const checked = await hoja('check', covered, 'one.csv', '--json')
  const { findings } = JSON.parse(checked.out) as { findings: { code: string; message: string }[] }
  expect(findings.filter(({ code }) => code === 'seen').map(({ message }) => message)).toContain(
    'Name is not seen: Plate lies over it.',
  )
  const { code, out } = await hoja('render', covered, 'one.csv', '--out', 'coveredout', '--json')
  expect([checked.code, code]).toEqual([1, 1])
  expect(out).toContain('Name is not seen: Plate lies over it.')
})

test('a data file that knows how names are spelled is asked', async () => {
  writeFileSync(join(folder, 'house.csv'), 'who,firm\nMaren Oduya-Castellví,Vado Institute\n')
  writeFileSync(join(folder, 'crew.csv'), 'name,role\nMaren Oduya-Castellvi,Pilot\nIo,Vado Institut\n')
  const { out } = await hoja('check', speaker, 'crew.csv', '--known', 'house.csv', '--json')
  expect(JSON.parse(out).findings).toMatchObject([
    { row: 1, field: 'name', code: 'known', level: 'look', fix: 'Maren Oduya-Castellví' },
    { row: 2, field: 'role', code: 'known', level: 'look', fix: 'Vado Institute' },
  ])
})

test('one JSON document is one title; a path says which list', async () => {
  const tide = join(demo, 'templates/tide')
  writeFileSync(
    join(folder, 'one.json'),
    JSON.stringify({ station: 'Vado', height: 1.5, trend: 'rising', curve: [1, 2] }),
  )
  expect((await hoja('check', tide, 'one.json')).out).toContain('1 row: 0 stop, 0 look, 1 fine')
  const gauge = join(demo, 'data/tide.json')
  expect((await hoja('check', tide, gauge)).out).toMatch(
    /^The document as one row matches nothing of "Tide", so the rows/,
  )
  expect((await hoja('check', tide, gauge, '--path', '$.readings[1]')).out).toContain('1 row: ')
  expect(await hoja('check', tide, gauge, '--path', '$[')).toMatchObject({ code: 2 })
})

test('a package is packed without its hashes, and not with wrong ones', async () => {
  await hoja('unpack', (await hoja('pack', speaker, 'whole.hoja')) && 'whole.hoja', 'bare')
  const path = join(folder, 'bare/template.json')
  const document = JSON.parse(readFileSync(path, 'utf8'))
  for (const entry of [...document.fonts, ...document.media]) entry.sha256 = ''
  writeFileSync(path, JSON.stringify(document))
  expect(await hoja('pack', 'bare', 'again.hoja')).toMatchObject({ code: 0 })
  const [again, whole] = ['again.hoja', 'whole.hoja'].map((file) => readFileSync(join(folder, file)))
  expect(again!.equals(whole!)).toBe(true)
  document.media[0].sha256 = '0'.repeat(64)
  writeFileSync(path, JSON.stringify(document))
  expect((await hoja('pack', 'bare', 'wrong.hoja')).err).toContain('is not the file the template was saved with')
})

test('a template that is written by hand from the page of the format is packed, checked and drawn', async () => {
  const by = join(folder, 'by-hand')
  for (const part of ['fonts', 'media']) mkdirSync(join(by, part), { recursive: true })
  const document = templateFromPage() as { fonts: { file: string }[]; media: { file: string }[] }
  for (const { file } of [...document.fonts, ...document.media]) copyFileSync(join(speaker, file), join(by, file))
  writeFileSync(join(by, 'template.json'), JSON.stringify(document))
  expect(await hoja('pack', 'by-hand', 'by-hand.hoja')).toEqual({ code: 0, out: '', err: '' })
  writeFileSync(join(folder, 'by-hand.csv'), 'name\nMarisol\n')
  const { out } = await hoja('check', 'by-hand.hoja', 'by-hand.csv', '--json')
  expect(JSON.parse(out)).toMatchObject({ rows: 1, unmatched: [] })
  expect(await hoja('frame', 'by-hand.hoja', 'by-hand.csv', '--at', '30', '--out', 'by-hand.png')).toMatchObject({
    code: 0,
  })
  const { data } = PNG.sync.read(readFileSync(join(folder, 'by-hand.png')))
  expect(data.some((byte, i) => i % 4 === 3 && byte > 0)).toBe(true)
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

test('a second run renders what is missing or has changed, and says so of the rest', async () => {
  writeFileSync(join(folder, 'names.csv'), 'name,role\nIo Marrec,Keeper\nTam Vega,Pilot\nAna Ibáñez,Diver\n')
  const call = ['render', speaker, 'names.csv', '--out', 'clips', '--format', 'mov-png', '--size', '480x270']
  const states = (out: string) =>
    out
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line))
      .flatMap(({ row, state }) => (row ? [`${row} ${state}`] : []))
      .sort()
  expect(states((await hoja(...call)).out)).toEqual(['1 done', '2 done', '3 done'])
  const manifest = () => JSON.parse(readFileSync(join(folder, 'clips/manifest.json'), 'utf8')).files
  expect(manifest()).toHaveLength(3)
  for (const { file, sha256, bytes } of manifest()) {
    const made = readFileSync(join(folder, 'clips', file))
    expect([made.length, createHash('sha256').update(made).digest('hex')]).toEqual([bytes, sha256])
  }
  rmSync(join(folder, 'clips/002_Tam_Vega.mov'))
  writeFileSync(join(folder, 'names.csv'), 'name,role\nIo Marrec,Keeper\nTam Vega,Pilot\nAna Ibáñez,Mate\n')
  expect(states((await hoja(...call)).out)).toEqual(['1 unchanged', '2 done', '3 done'])
  expect(readdirSync(join(folder, 'clips')).filter((name) => name.startsWith('.'))).toEqual([])
})

test('now can be stated, and then titles that say it are the same again', async () => {
  const slate = join(demo, 'templates/slate')
  const call = (now: string) =>
    ['render', slate, join(demo, 'data/slate.csv'), '--out', 'slates', '--format', 'still', '--now', now] as const
  const states = ({ out }: { out: string }) => out.match(/"state":"(\w+)"/g)
  const [done, unchanged] = ['done', 'unchanged'].map((state) => new Array(3).fill(`"state":"${state}"`))
  expect(states(await hoja(...call('2026-11-28T09:05')))).toEqual(done)
  expect(states(await hoja(...call('2026-11-28 09:05')))).toEqual(unchanged)
  expect(states(await hoja(...call('2026-11-28T09:06')))).toEqual(done)
  expect(await hoja(...call('tomorrow'))).toMatchObject({ code: 2, err: expect.stringContaining('is no moment') })
  const of = async (now: string, ...row: string[]) => {
    await hoja('frame', slate, join(demo, 'data/slate.csv'), '--at', '40', '--out', 'now.svg', '--now', now, ...row)
    return readFileSync(join(folder, 'now.svg'), 'utf8')
  }
  const first = await of('2026-11-28T09:05')
  expect(await of('2026-11-28T09:05')).toBe(first)
  expect(await of('2026-11-28T10:05')).not.toBe(first)
  expect(await of('2026-11-28T09:05', '--row', '2')).not.toBe(first)
})

test('rows of a template that goes through lists are one title, or one each when that is asked for', async () => {
  const credits = join(demo, 'templates/credits')
  const data = join(demo, 'data/credits.csv')
  expect((await hoja('check', credits, data)).out).toBe('1 row: 0 stop, 0 look, 1 fine\n')
  expect((await hoja('check', credits, data, '--apart')).out).toMatch(/^\d\d rows: |\n\d\d rows: /)
  expect((await hoja('check', speaker, rows, '--together')).out).toMatch(/40 rows: /)
})

test('a pair of which one file is lost is rendered again', async () => {
  writeFileSync(join(folder, 'one.csv'), 'name,role\nIo Marrec,Keeper\n')
  const call = ['render', speaker, 'one.csv', '--out', 'pair', '--format', 'pair', '--size', '480x270']
  for (const state of ['done', 'unchanged', 'done']) {
    expect((await hoja(...call)).out).toContain(`"state":"${state}"`)
    if (state === 'unchanged') rmSync(join(folder, 'pair/001_Io_Marrec_key.mov'))
  }
})

test('flatten writes locked parts as clips, and where the editable ones lie', async () => {
  expect((await hoja('flatten', speaker, '--out', 'layers', '--format', 'still')).code).toBe(0)
  const { frame, layers } = JSON.parse(readFileSync(join(folder, 'layers/layers.json'), 'utf8'))
  expect(frame).toEqual({ width: 1920, height: 1080, rate: '25' })
  const clips = layers.filter(({ kind }: { kind: string }) => kind === 'clip')
  expect(clips.length).toBeGreaterThan(0)
  for (const { file } of clips) expect(existsSync(join(folder, 'layers', file))).toBe(true)
  expect((await hoja('flatten', speaker, '--out', 'layers', '--format', 'still')).out).toContain('"state":"unchanged"')
  const name = layers.find((layer: { name: string }) => layer.name === 'Name')
  expect(name).toMatchObject({ kind: 'editable', part: 'text', fields: [{ key: 'name', type: 'text' }] })
  expect(name.text.font.family).toBeTruthy()
  // It has arrived when Hold begins: nothing moves it from where it rests.
  const { box, places } = name
  const layout = places.filter(({ frame: from }: { frame: number }) => from <= 15).pop()
  expect(layout).toMatchObject({ matrix: [1, 0, 0, 1, 0, 0], opacity: 1 })
  expect(box.x).toBeGreaterThan(0)
})

test('watching renders rows as the data changes, keeps on when it is broken, and ends in peace', async () => {
  const data = join(folder, 'watched.csv')
  writeFileSync(data, 'name,role\nIo Marrec,Keeper\nTam Vega,Pilot\n')
  const call = ['render', speaker, data, '--out', 'watched', '--format', 'still', '--size', '480x270', '--watch']
  const child = spawn(process.execPath, [builtCli, ...call], { cwd: folder })
  let out = ''
  child.stdout.on('data', (piece) => {
    out += piece
  })
  const seen = (words: string, times = 1) => until(async () => out.split(words).length - 1 >= times, Boolean)
  // Written while the first run still goes on: it is rendered as soon as that is done.
  await seen('"state":"done"')
  writeFileSync(data, 'name,role\nIo Marrec,Keeper\nTam Vega,Cook\n')
  await seen('Watching watched.csv')
  await seen('"ended":true', 2)
  writeFileSync(data, '')
  await seen('is empty')
  writeFileSync(data, 'name,role\nIo Marrec,Keeper\nTam Vega,Mate\n')
  await seen('"ended":true', 3)
  expect(out).toContain('{"row":1,"name":"001_Io_Marrec","state":"unchanged"')
  expect(out.match(/"row":2,"name":"002_Tam_Vega","state":"done"/g)).toHaveLength(3)
  const ended = new Promise((done) => child.once('exit', done))
  child.kill('SIGINT')
  expect(await ended).toBe(0)
  expect(readdirSync(join(folder, 'watched')).sort()).toEqual([
    '001_Io_Marrec.png',
    '002_Tam_Vega.png',
    'manifest.csv',
    'manifest.json',
  ])
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

test('what is asked for in vain is said, and the rest is done', async () => {
  writeFileSync(join(folder, 'vain.csv'), 'name,role,duration\nIo Marrec,Keeper,4 s\nTam Vega,Pilot,1 s\n')
  const call = ['render', speaker, 'vain.csv', '--out', 'vain', '--format', 'still', '--size', '480x270']
  const { code, out } = await hoja(...call, '--timecode', '10:00:00:00', '--sheet', 'Sheet 2', '--rate', '23.98')
  expect(out).toContain('PNG still carries no timecode, so 10:00:00:00 is left out.')
  expect(out).toContain('\\"vain.csv\\" has no worksheets, so --sheet Sheet 2 changes nothing.')
  // Common practice: a title can be cut to any length at or above its In and Out, and to none below.
  expect(out).toContain('24 frames are too few: In and Out need 28; give it 4 more.')
  expect(code).toBe(1)
  expect(readdirSync(join(folder, 'vain')).sort()).toEqual(['001_Io_Marrec.png', 'manifest.csv', 'manifest.json'])
})

test('rows that say the same are each rendered to a file of their own', async () => {
  writeFileSync(join(folder, 'same.csv'), `name,role\n${'Io Marrec,Keeper\n'.repeat(6)}`)
  const call = ['render', speaker, 'same.csv', '--out', 'same', '--format', 'png', '--size', '480x270', '--name', 't']
  expect((await hoja(...call, '--workers', '2')).code).toBe(0)
  expect(readdirSync(join(folder, 'same')).filter((name) => name.startsWith('t'))).toHaveLength(6)
})

test('the length of a title comes from its row', async () => {
  writeFileSync(
    join(folder, 'cues.csv'),
    'name,role,TC in,TC out\nIo Marrec,Keeper,10:00:01:00,10:00:05:00\nTam Vega,Pilot,10:00:07:00,10:00:17:00\n',
  )
  const call = ['render', speaker, 'cues.csv', '--out', 'cues', '--format', 'mov-rle', '--size', '480x270']
  expect((await hoja(...call, '--frames', '3s')).code).toBe(0)
  const { files } = JSON.parse(readFileSync(join(folder, 'cues/manifest.json'), 'utf8'))
  expect(files.map(({ frames }: { frames: number }) => frames)).toEqual([100, 250])
})

test('a bad call or bad input is one line on stderr and exit 2, and writes nothing', async () => {
  mkdirSync(join(folder, 'bad/fonts'), { recursive: true })
  const bad = JSON.parse(readFileSync(join(speaker, 'template.json'), 'utf8'))
  writeFileSync(join(folder, 'bad/template.json'), JSON.stringify({ ...bad, schema: 6 }))
  writeFileSync(join(folder, 'empty.csv'), '')
  writeFileSync(join(folder, 'not.mp4'), 'name,role\n')
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
    [['render', speaker, rows, '--out', 'none', '--size', 'big'], '"big" is not a frame size'],
    [['render', speaker, rows, '--out', 'none', '--handles', '5'], '"5" is not handles'],
    [['render', speaker, rows, '--out', 'none', '--alpha', 'loud'], 'neither straight nor premultiplied'],
    [['render', speaker, rows, '--out', 'none', '--name', '{nmae}'], '"{nmae}" in the file names'],
    [['render', speaker, rows, '--out', 'none', '--format', 'mp4', '--under', 'none.png'], 'is neither a colour'],
    [['render', speaker, rows, '--out', 'none', '--size', '99999x99999'], 'each side has 16 to 8192 px'],
    [['render', speaker, rows, '--out', 'none', '--frames', '99999999'], 'it has 1 to 1000000'],
    [['render', speaker, rows, '--out', 'none', '--frames', 'ages'], '"ages" is not a length'],
    [['render', speaker, rows, '--out', 'none', '--rate', '1000'], 'there are 1 to 240'],
    [['render', speaker, rows, '--out', 'none', '--handles', '25+99999'], 'each has 0 to 10000'],
    [['render', speaker, rows, '--out', 'none', '--workers', '0'], "0 workers can't render"],
    [['render', speaker, rows, '--out', 'none', '--format', 'mp4', '--under', rows], 'is not a PNG, JPEG or WebP'],
    [['render', speaker, rows, '--out', 'none', '--format', 'mp4', '--under', 'not.mp4'], 'is not a movie'],
    [['flatten', speaker, '--out', 'none', '--format', 'mp4'], 'MP4, H.264 has no alpha'],
    [['render', speaker, 'empty.csv', '--out', 'none'], '"empty.csv" is empty'],
    [['check', 'bad', rows], 'written by a newer Hoja'],
    [['unpack', rows, 'none'], 'is not a template package'],
    [['starter', speaker, '--out', 'x.pdf'], 'none of .csv, .xlsx and .json'],
    [['render', speaker, rows], "required option '--out <dir>' not specified"],
    [['dance'], "unknown command 'dance'"],
  ]
  // Three at a time: most of a call is its start.
  const lanes = [0, 1, 2].map(async (lane) => {
    for (const [args, message] of calls.filter((_, i) => i % 3 === lane)) {
      const { code, err, out } = await hoja(...args)
      expect([args, code, out]).toEqual([args, 2, ''])
      expect(err).toMatch(/^hoja: [^\n]+\n$/)
      expect(err).toContain(message)
    }
  })
  await Promise.all(lanes)
  expect(existsSync(join(folder, 'none'))).toBe(false)
})

test('titles change into another row’s words while they are up', async () => {
  writeFileSync(join(folder, 'change.csv'), 'name,role\nIo Marrec,Pilot\nMaren Oduya,Diver\n')
  const call = ['render', speaker, 'change.csv', '--out', 'changing', '--rows', '1', '--format', 'png'] as const
  expect((await hoja(...call, '--into', '2', '--into-at', '50')).code).toBe(0)
  const title = join(folder, 'changing', readdirSync(join(folder, 'changing')).find((name) => name.startsWith('001'))!)
  const files = readdirSync(title).sort()
  const picture = (frame: number) => readFileSync(join(title, files[frame]!))
  expect(picture(20).equals(picture(49))).toBe(true)
  expect(picture(49).equals(picture(56))).toBe(false)
  expect(picture(70).equals(picture(100))).toBe(true)
  expect(picture(70).equals(picture(49))).toBe(false)
  expect(await hoja(...call, '--into', '9', '--into-at', '50')).toMatchObject({
    code: 2,
    err: expect.stringContaining('There is no row 9 to change into'),
  })
  expect(await hoja(...call, '--into', '2')).toMatchObject({ code: 2, err: expect.stringContaining('--into-at') })
})
