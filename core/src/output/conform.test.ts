import fc from 'fast-check'
import { frameOfTimecode } from '../time/index.ts'
import { type Conform, type ConformClip, conformEdls, conformOtio, spansOtio } from './conform.ts'
import { framesIn, piecesOf, type Stretches } from './pieces.ts'

const stretches = (hold: number, handles = 0): Stretches => ({ before: handles, in: 15, hold, out: 15, after: handles })
const clip = (name: string, hold: number, from?: number, handles = 0): ConformClip => ({
  name,
  file: `${name}.mov`,
  frames: 30 + hold + 2 * handles,
  stretches: stretches(hold, handles),
  ...(from === undefined ? {} : { from }),
})
const pal = { num: 25, den: 1 }
const edit = (clips: ConformClip[], more: Partial<Conform> = {}): Conform => ({
  name: 'Estuary Week',
  rate: pal,
  start: 0,
  drop: false,
  clips,
  ...more,
})

// CMX 3600: three digits, the reel in eight columns, the track in six, the cut, and four timecodes.
const event = /^(\d{3}) {2}(AX {6}) (V {4}) (C {7}) (\S{11}) (\S{11}) (\S{11}) (\S{11})$/

describe('edit decision lists', () => {
  test('end to end where rows have no times, from one hour on', () => {
    const [list, ...others] = conformEdls(edit([clip('a', 70), clip('b', 45)]))
    expect(others).toEqual([])
    expect(list).toEqual({
      name: 'conform.edl',
      text: [
        'TITLE: Estuary Week',
        'FCM: NON-DROP FRAME',
        '',
        '001  AX       V     C        00:00:00:00 00:00:04:00 01:00:00:00 01:00:04:00',
        '* FROM CLIP NAME: a.mov',
        '',
        '002  AX       V     C        00:00:00:00 00:00:03:00 01:00:04:00 01:00:07:00',
        '* FROM CLIP NAME: b.mov',
        '',
        '',
      ].join('\r\n'),
    })
  })

  test('at their timecodes where they have them, without their handles; what overlaps has a list of its own', () => {
    const lists = conformEdls(
      edit([clip('late', 70, 200, 25), clip('early', 70, 0), clip('over', 70, 250)], { start: 90_000 }),
    )
    expect(lists.map(({ name }) => name)).toEqual(['conform.edl', 'conform_2.edl'])
    expect(lists[0]!.text).toMatch(/001 {2}AX.+ 01:00:00:00 01:00:04:00 00:00:00:00 00:00:04:00/)
    expect(lists[0]!.text).toMatch(/002 {2}AX.+ 01:00:01:00 01:00:05:00 00:00:08:00 00:00:12:00/)
    expect(lists[1]!.text).toContain('* FROM CLIP NAME: over.mov')
  })

  test('drop-frame is said and counted', () => {
    const rate = { num: 30000, den: 1001 }
    const [list] = conformEdls(edit([clip('a', 1770)], { rate, drop: true, start: 107_892 }))
    expect(list!.text).toContain('FCM: DROP FRAME')
    // SMPTE ST 12-1: the first minute has 1800 frames, the second begins with number 02.
    expect(list!.text).toContain('01:00:00;00 01:01:00;02 01:00:00;00 01:01:00;02')
  })

  test('a list holds 999 events; every event has its columns, and each clip its own length, in any list', () => {
    expect(conformEdls(edit(Array.from({ length: 1200 }, (_, i) => clip(`c${i}`, 1)))).map(({ name }) => name)).toEqual(
      ['conform.edl', 'conform_2.edl'],
    )
    const some = fc.record({
      hold: fc.nat(200),
      from: fc.option(fc.nat(90_000), { nil: undefined }),
      handles: fc.nat(30),
    })
    fc.assert(
      fc.property(fc.array(some, { minLength: 1, maxLength: 30 }), (rows) => {
        const clips = rows.map(({ hold, from, handles }, i) => clip(`c${i}`, hold, from, handles))
        const lists = conformEdls(edit(clips))
        const seen = new Set<string>()
        for (const { text } of lists) {
          let end = -1
          const lines = text.split('\r\n')
          for (const [i, line] of lines.entries()) {
            const read = event.exec(line)
            if (!read) continue
            const [from, to, at, until] = read.slice(5).map((code) => frameOfTimecode(code!, pal)) as [
              number,
              number,
              number,
              number,
            ]
            const name = lines[i + 1]!.replace('* FROM CLIP NAME: ', '')
            seen.add(name)
            const own = clips.find(({ file }) => file === name)!
            expect([to - from, until - at, from]).toEqual([framesIn(own.stretches), to - from, own.stretches.before])
            if (own.from !== undefined) expect(at).toBe(own.from)
            // In a list no title lies over another.
            expect(at).toBeGreaterThanOrEqual(end)
            end = until
          }
        }
        expect(seen.size).toBe(clips.length)
      }),
      { numRuns: 100 },
    )
  })
})

// OpenTimelineIO's JSON (Academy Software Foundation): schema names with versions, times of a value and a rate.
describe('OpenTimelineIO', () => {
  interface Otio {
    OTIO_SCHEMA: string
    children?: Otio[]
    tracks?: Otio
    source_range?: { start_time: { value: number; rate: number }; duration: { value: number; rate: number } } | null
    media_references?: { DEFAULT_MEDIA: { target_url: string; available_range: NonNullable<Otio['source_range']> } }
    markers?: { name: string; marked_range: NonNullable<Otio['source_range']> }[]
    name?: string
  }

  test('gaps and clips follow one another on each track, files hold what is taken of them, spans are marked', () => {
    const read = JSON.parse(conformOtio(edit([clip('a b', 70, 100, 10), clip('b', 45, 300)]))) as Otio
    expect([read.OTIO_SCHEMA, read.tracks!.OTIO_SCHEMA]).toEqual(['Timeline.1', 'Stack.1'])
    const [track, ...others] = read.tracks!.children!
    expect(others).toEqual([])
    expect(track!.children!.map(({ OTIO_SCHEMA }) => OTIO_SCHEMA)).toEqual(['Clip.2', 'Gap.1', 'Clip.2'])
    let at = 100
    const starts: number[] = []
    for (const item of track!.children!) {
      starts.push(at)
      at += item.source_range!.duration.value
    }
    expect(starts).toEqual([100, 200, 300])
    const [first] = track!.children!
    const media = first!.media_references!.DEFAULT_MEDIA
    expect(media.target_url).toBe('a%20b.mov')
    expect(media.available_range.duration.value).toBe(120)
    expect(first!.source_range).toMatchObject({ start_time: { value: 10, rate: 25 }, duration: { value: 100 } })
    expect(
      first!.markers!.map(({ name, marked_range }) => [
        name,
        marked_range.start_time.value,
        marked_range.duration.value,
      ]),
    ).toEqual([
      ['In', 10, 15],
      ['Hold', 25, 70],
      ['Out', 95, 15],
    ])
  })

  test('the sidecar has three clips of one file, end to end', () => {
    const read = JSON.parse(spansOtio(clip('a', 70, undefined, 5), { num: 30000, den: 1001 }, 1000)) as Otio
    const clips = read.tracks!.children![0]!.children!
    expect(
      clips.map(({ name, source_range }) => [name, source_range!.start_time.value, source_range!.duration.value]),
    ).toEqual([
      ['In', 1005, 15],
      ['Hold', 1020, 70],
      ['Out', 1090, 15],
    ])
    expect(clips[0]!.source_range!.start_time.rate).toBeCloseTo(29.97, 2)
  })
})

describe('pieces', () => {
  const spans = (gives: 'freeze' | 'loop' | 'stretch', loop?: { from: number; to: number }) => ({
    in: 15,
    hold: { frames: 50, gives, ...(loop ? { loop } : {}) },
    out: 15,
  })

  test('of a still Hold one frame, of a loop one turn, of a stretch all', () => {
    const of = (...given: Parameters<typeof spans>) =>
      piecesOf(spans(...given), stretches(120, 5)).map(({ from, count }) => [from, count])
    expect(of('freeze')).toEqual([
      [0, 20],
      [20, 1],
      [140, 20],
    ])
    expect(of('loop', { from: 10, to: 40 })).toEqual([
      [0, 30],
      [30, 30],
      [140, 20],
    ])
    expect(of('stretch')).toEqual([
      [0, 20],
      [20, 120],
      [140, 20],
    ])
    // Too short for a turn: all there is.
    expect(piecesOf(spans('loop', { from: 10, to: 40 }), stretches(20)).map(({ count }) => count)).toEqual([15, 20, 15])
    expect(piecesOf(spans('freeze'), stretches(0)).map(({ piece }) => piece)).toEqual(['in', 'out'])
  })
})
