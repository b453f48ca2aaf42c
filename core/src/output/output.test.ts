import fc from 'fast-check'
import Papa from 'papaparse'
import { edit, newShape } from '../template/index.ts'
import { speaker } from '../testing/speaker.ts'
import {
  checkSettings,
  clipsOf,
  durationOf,
  flatLayers,
  formatIds,
  judgeLevels,
  levelsWarning,
  manifestCsv,
  manifestJson,
  nameFrom,
  namer,
  outputFormats,
  parseRows,
  patternFor,
  picturedBy,
  rgbOfBt709,
  runsOf,
  settingsByShape,
  settingsSchema,
  shareOutside,
  templateFor,
  timeLeft,
  withHandles,
} from './index.ts'

test('an order in several shapes is one of each, and its files say in which shape they are', () => {
  const two = edit(speaker, { kind: 'shapes', shapes: [newShape(speaker, { width: 1080, height: 1920 })] })
  const order = { format: 'png' as const, shapes: ['first', '9x16'], keep: { root: 'week', folder: 'titles' } }
  const [wide, upright] = settingsByShape(order, two)
  expect([wide!.shape, upright!.shape]).toEqual(['first', '9x16'])
  expect(upright).not.toHaveProperty('shapes')
  expect(upright!.keep!.folder).toBe('titles/9x16')
  const nameOf = (settings: typeof wide) => namer(two, settings!, { sheet: 's' })(3, { name: 'Io' })
  expect([wide, upright].map(nameOf)).toEqual(['003_Io_16x9', '003_Io_9x16'])
  expect(nameOf(settingsByShape({ ...order, pattern: '{name}' }, two)[1])).toBe('Io_9x16')
  expect(nameOf(settingsByShape({ ...order, pattern: '{shape}/{name}' }, two)[1])).toBe('9x16_Io')
  expect(settingsByShape({ format: 'png' }, two)).toEqual([{ format: 'png' }])
  expect(settingsByShape({ format: 'png', shapes: ['16:9'] }, two)).toEqual([{ format: 'png', shape: 'first' }])
  const pattern = '{row:000}_{name}_{shape}'
  expect(settingsByShape({ format: 'png', shapes: ['9:16'] }, two)).toEqual([{ format: 'png', shape: '9x16', pattern }])
  expect(() => settingsByShape({ ...order, size: { width: 640, height: 360 } }, two)).toThrow('one shape at a time')
  expect(() => settingsByShape({ format: 'png', shapes: ['4:5'] }, two)).toThrow('There is no shape "4:5"')
  // A size is that of the shape that is asked for.
  const half = templateFor({ shape: '9x16', size: { width: 540, height: 960 } }, two)
  expect([half.frame.width, half.shapes]).toEqual([540, undefined])
  expect(picturedBy({ format: 'png', shape: 'first' })).toEqual(picturedBy({ format: 'png' }))
  expect(picturedBy({ format: 'png', shape: '9x16' })).toHaveProperty('shape', '9x16')
})

test('rows are named as people write them', () => {
  expect(parseRows('1-3, 7,2', 9)).toEqual([1, 2, 3, 7])
  expect(() => parseRows('4-12', 9)).toThrow('Row 12 does not exist; the sheet has rows 1 to 9')
  expect(() => parseRows('1,5-2', 9)).toThrow('"5-2" runs backwards; write it as 2-5')
  expect(() => parseRows('first', 9)).toThrow('names no rows')
})

test('file names follow their pattern and never collide, in capitals or out of them', () => {
  const taken = new Set<string>()
  expect(nameFrom('{row:000}_{name}', 7, { name: 'Io Marrec' }, taken)).toBe('007_Io_Marrec')
  expect([
    nameFrom('{name}', 1, { name: 'Tam' }, taken),
    nameFrom('{name}', 2, { name: 'TAM' }, taken),
    nameFrom('{name}', 3, { name: '' }, taken),
    nameFrom('{mark}', 4, { mark: { picture: 'mill.png' } }, taken),
  ]).toEqual(['Tam', 'TAM_2', 'untitled', 'mill.png'])
  expect(patternFor(speaker)).toBe('{row:000}_{name}')
  fc.assert(
    fc.property(
      fc.array(fc.string({ maxLength: 3 }), { maxLength: 30 }),
      fc.constantFrom('{name}', '{row}_{name}', 'title', '{row:00}', '{name:00}{'),
      (names, pattern) => {
        const all = new Set<string>()
        const made = names.map((name, i) => nameFrom(pattern, i + 1, { name }, all))
        expect(new Set(made.map((name) => name.toLowerCase())).size).toBe(made.length)
      },
    ),
  )
})

test('what settings ask for that cannot be is told in a sentence', () => {
  const refused = (settings: object) => {
    try {
      checkSettings({ format: 'mov', ...settings } as never, speaker)
      return ''
    } catch (error) {
      return (error as Error).message
    }
  }
  expect(refused({})).toBe('')
  expect(refused({ timecode: '10:00:00:00', alpha: 'premultiplied', frames: 60 })).toBe('')
  expect(refused({ frames: 3 })).toContain('In and Out need')
  expect(refused({ format: 'png', alpha: 'premultiplied' })).toContain('has straight alpha only')
  expect(refused({ format: 'mp4', alpha: 'premultiplied' })).toContain('has no alpha that could be premultiplied')
  expect(refused({ format: 'mp4', size: { width: 1921, height: 1080 } })).toContain('make both even')
  expect(refused({ backdrop: { kind: 'colour', colour: '#000000' } })).toContain('nothing under it')
  expect(refused({ format: 'gif', backdrop: { kind: 'footage', sha256: 'a'.repeat(64) } })).toContain(
    "can't lie under a GIF",
  )
  expect(refused({ timecode: '10:00' })).toContain('timecode')
  expect(refused({ pattern: '{row}_{nmae}' })).toContain('"{nmae}" in the file names stands for nothing')
})

test('settings from outside are read, and nothing else', async () => {
  const read = (value: unknown) => settingsSchema.validate(value, { stripUnknown: true })
  expect(await read({ format: 'mov' })).toEqual({ format: 'mov' })
  const all = {
    format: 'mp4',
    size: { width: 1080, height: 1920 },
    rate: { num: 30000, den: 1001 },
    handles: { before: 5, after: 0 },
    backdrop: { kind: 'colour', colour: '#203040' },
  }
  expect(await read({ ...all, more: 1 })).toEqual(all)
  for (const wrong of [
    {},
    { format: 'avi' },
    { format: 'mp4', backdrop: { kind: 'colour' } },
    { format: 'mp4', backdrop: { kind: 'still', colour: '#000000' } },
    { format: 'mp4', backdrop: { kind: 'colour', colour: 'red' } },
    { format: 'mov', size: { width: 9 } },
  ])
    await expect(read(wrong)).rejects.toThrow()
})

test('only what a format takes names its files', () => {
  for (const format of formatIds) {
    const facts = outputFormats[format]
    const kept = picturedBy({
      format,
      alpha: 'premultiplied',
      timecode: '01:00:00:00',
      silent: true,
      handles: { before: 2, after: 2 },
      backdrop: { kind: 'colour', colour: '#ffffff' },
      pattern: 'x',
      rows: [1],
    })
    expect('alpha' in kept).toBe(facts.alpha === 'either')
    expect('timecode' in kept).toBe(facts.timecode)
    expect('silent' in kept).toBe(facts.sound)
    expect('handles' in kept).toBe(!facts.still)
    expect('backdrop' in kept).toBe(facts.backdrop !== 'never')
    expect(kept).not.toHaveProperty('pattern')
  }
})

test('a row keeps its own length in seconds at another rate; the order counts in its own frames', () => {
  expect(durationOf({ rate: { num: 50, den: 1 } }, speaker, {}, { cells: {}, frames: 100 })).toBe(200)
  expect(durationOf({ rate: { num: 50, den: 1 }, frames: 80 }, speaker, {}, { cells: {} })).toBe(80)
  expect(durationOf({}, speaker, {}, { cells: {} })).toBeUndefined()
  const tall = templateFor({ size: { width: 1080, height: 1920 } }, speaker)
  expect(tall.frame).toMatchObject({ width: 1080, height: 1920 })
  expect(templateFor({}, speaker)).toBe(speaker)
})

test('runs tell every frame back, handles hold the ends', () => {
  fc.assert(
    fc.property(
      fc.array(fc.nat({ max: 3 }), { minLength: 1, maxLength: 40 }),
      fc.nat({ max: 5 }),
      fc.nat({ max: 5 }),
      (frames, before, after) => {
        const held = withHandles(frames, { before, after })
        expect(held).toHaveLength(frames.length + before + after)
        expect(held.slice(before, before + frames.length)).toEqual(frames)
        const runs = runsOf(held)
        expect(runs.flatMap(({ picture, count }) => new Array(count).fill(picture))).toEqual(held)
        expect(runs.every((run, i) => i === 0 || run.picture !== runs[i - 1]!.picture)).toBe(true)
        expect(runs.every(({ from }, i) => from === runs.slice(0, i).reduce((sum, { count }) => sum + count, 0))).toBe(
          true,
        )
      },
    ),
  )
})

test('the time left is right within a quarter after ten rows, whatever they take', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 40, max: 300 }),
      fc.integer({ min: 1, max: 6 }),
      fc.integer({ min: 50, max: 4000 }),
      fc.integer({ min: 1, max: 1000 }),
      fc.integer({ min: 0, max: 20 }),
      (rows, lanes, base, seed, start) => {
        // Rows that take up to a fifth more or less than most, dealt to whoever is free.
        const takes = Array.from({ length: rows }, (_, i) => base * (0.8 + (((i * 7919 + seed) % 41) / 40) * 0.4))
        const free = new Array<number>(lanes).fill(0)
        // Whoever has its first row has to start, for as long as several rows take; its next ones take a little longer.
        const ends = takes.map((drawn, i) => {
          const time = drawn * (i < 3 * lanes ? 1.1 : 1) + (i < lanes ? start * base : 0)
          const lane = free.indexOf(Math.min(...free))
          free[lane]! += time
          return { end: free[lane]!, time }
        })
        const inOrder = [...ends].sort((a, b) => a.end - b.end)
        const now = inOrder[9]!.end
        const took = inOrder.slice(0, 10).map(({ time }) => ({ milliseconds: time }))
        const begun = ends.filter(({ end, time }) => end > now && end - time < now)
        const shares = begun.map(({ end, time }) => 1 - (end - now) / time)
        const left = timeLeft(took, rows - 10 - begun.length, shares, lanes)!
        const real = inOrder.at(-1)!.end - now
        expect(Math.abs(left - real) / real).toBeLessThan(0.25)
      },
    ),
  )
  expect(timeLeft([], 5, [], 2)).toBeUndefined()
})

test('a manifest tells a spreadsheet and a program the same', () => {
  const entry = {
    row: 3,
    title: '=x/003_Io, "M"',
    file: '=x/003_Io, "M".mov',
    frames: 150,
    rate: { num: 30000, den: 1001 },
    version: 2,
    bytes: 10,
    sha256: 'ab',
    key: 'k',
  }
  expect(manifestCsv([entry])).toBe(
    'row,file,frames,rate,seconds,version,bytes,sha256\r\n3,"\'=x/003_Io, ""M"".mov",150,30000/1001,5.005,2,10,ab\r\n',
  )
  expect(JSON.parse(manifestJson([entry], { template: 'speaker' }))).toEqual({
    template: 'speaker',
    files: [{ ...entry, rate: '30000/1001', seconds: 5.005 }],
  })
})

// ITU-R BT.709, items 3 and 6: 75 % bars in 8 bits; EBU R 103 v3.0: RGB -5 to 105 %, luma -1 to 103 %, 1 % of the picture.
test('levels are judged by EBU R 103', () => {
  const [r, g, b] = rgbOfBt709(168, 44, 136)
  expect(r).toBeCloseTo(0.75, 2)
  expect(g).toBeCloseTo(0.75, 2)
  expect(b).toBeCloseTo(0, 2)
  const of = (y: number, cb = 128, cr = 128) =>
    shareOutside(Uint8Array.of(y, 100), Uint8Array.of(cb, 128), Uint8Array.of(cr, 128))
  expect([of(16), of(235), of(14), of(241)]).toEqual([0, 0, 0, 0])
  expect([of(13), of(242), of(120, 240, 128)]).toEqual([0.5, 0.5, 0.5])
  expect(levelsWarning(judgeLevels([0, 0.009, 0.01]))).toBeUndefined()
  expect(levelsWarning(judgeLevels([0, 0.02, 0.3]))).toContain('in 2 of 3 pictures looked at, up to 30 % of one')
})

test('a template is taken apart along what can be edited', () => {
  const merged = flatLayers(speaker, true)
  const apart = flatLayers(speaker, false)
  const editable = new Set(merged.flatMap((layer) => (layer.kind === 'editable' ? [layer.part] : [])))
  const clips = (layers: typeof merged) => layers.flatMap((layer) => (layer.kind === 'clip' ? [layer] : []))
  expect(editable.size).toBeGreaterThan(0)
  expect(clips(apart).every(({ parts }) => parts.length === 1)).toBe(true)
  expect(clips(merged).flatMap(({ parts }) => parts)).toEqual(clips(apart).flatMap(({ parts }) => parts))
  // No two clips are neighbours once they are merged.
  expect(merged.every((layer, i) => layer.kind === 'editable' || merged[i + 1]?.kind !== 'clip')).toBe(true)
  for (const { parts } of clips(apart)) expect(editable.has(parts[0]!)).toBe(false)
  expect(clipsOf(speaker, { format: 'mov' }).map(({ parts }) => parts)).toEqual(clips(merged).map(({ parts }) => parts))
  const files = clipsOf(speaker, { format: 'mov', parts: 'apart' }).map(({ file }) => file)
  expect(files).toEqual([...files].sort())
  expect(files).toHaveLength(clips(apart).length)
  expect(files.every((file) => /^\d\d_\S{1,48}$/.test(file))).toBe(true)
  expect(() => clipsOf(speaker, { format: 'mp4' })).toThrow('MP4, H.264 has no alpha')
})

// What `docs/how-to/outputs.md` says of titles: sRGB in, by BT.709 in 8 bits, never leaves the range of EBU R 103.
test('nothing that is drawn in sRGB is outside of EBU R 103', () => {
  const level = fc.integer({ min: 0, max: 255 })
  fc.assert(
    fc.property(level, level, level, (r, g, b) => {
      const luma = 0.2126 * r + 0.7152 * g + 0.0722 * b
      const y = Math.round(16 + (219 * luma) / 255)
      const cb = Math.round(128 + (224 * (b - luma)) / 1.8556 / 255)
      const cr = Math.round(128 + (224 * (r - luma)) / 1.5748 / 255)
      expect(shareOutside(Uint8Array.of(y), Uint8Array.of(cb), Uint8Array.of(cr))).toBe(0)
      for (const [back, one] of rgbOfBt709(y, cb, cr).map((value, i) => [value * 255, [r, g, b][i]!] as const))
        expect(Math.abs(back - one)).toBeLessThan(2.5)
    }),
    { numRuns: 2000 },
  )
})

test('whatever files are called, a manifest read as CSV gives every line back', () => {
  const entry = fc.record({
    row: fc.integer({ min: 1, max: 1e6 }),
    title: fc.constant('t'),
    file: fc.string({ unit: 'grapheme', maxLength: 30 }),
    frames: fc.integer({ min: 1, max: 1e6 }),
    rate: fc.constantFrom({ num: 25, den: 1 }, { num: 60000, den: 1001 }),
    bytes: fc.nat(),
    sha256: fc.constant('ab'),
    key: fc.constant('k'),
  })
  fc.assert(
    fc.property(fc.array(entry, { maxLength: 6 }), (entries) => {
      const { data } = Papa.parse<Record<string, string>>(manifestCsv(entries), { header: true, skipEmptyLines: true })
      const read = data.map(({ row, file, frames }) => [Number(row), file, Number(frames)])
      // A name that a spreadsheet would take for a formula has an apostrophe before it.
      const told = ({ file }: { file: string }) => (/^[=+\-@\t\r]/.test(file) ? `'${file}` : file)
      expect(read).toEqual(entries.map((one) => [one.row, told(one), one.frames]))
      const json = JSON.parse(manifestJson(entries, {})) as { files: { file: string; seconds: number }[] }
      expect(json.files.map(({ file }) => file)).toEqual(entries.map(({ file }) => file))
    }),
  )
})
