import fc from 'fast-check'
import { guessTimes, rowsOf, rowTimes } from '../data/index.ts'
import { conformEdls, conformOtio } from '../output/index.ts'
import { framesOf, type Rate, timecodeOf } from '../time/index.ts'
import { openDataFile } from './index.ts'

const bytes = (text: string) => new TextEncoder().encode(text)
const open = (text: string, name: string, options = {}) => openDataFile(bytes(text), name, options)
const rate: Rate = { num: 25, den: 1 }

describe('cues', () => {
  const vtt = `WEBVTT - Estuary Week

STYLE
::cue { color: #f4ead5 }

NOTE who speaks is in the voice

intro
00:01.000 --> 00:04.500 align:start
<v.first Maren Oduya>The marsh <i>remembers</i>
everything &amp; more</v>

2
01:00:05.000 --> 01:00:07.040
<c.loud>Plain</c> &lt;text&gt;
`
  // W3C, WebVTT: The Web Video Text Tracks Format, 4 and 6: the header, blocks that are no cues, spans, escapes.
  test('of WebVTT say when, what and who', () => {
    const { table, facts } = open(vtt, 'talk.vtt')
    expect(facts).toEqual({ kind: 'cues', options: {} })
    expect(table).toEqual({
      columns: ['Start', 'End', 'Text', 'Speaker', 'Id'],
      rows: [
        ['0:00:01.000', '0:00:04.500', 'The marsh remembers\neverything & more', 'Maren Oduya', 'intro'],
        ['1:00:05.000', '1:00:07.040', 'Plain <text>', '', ''],
      ],
    })
  })

  test('of SubRip are read as people write them', () => {
    const srt =
      '\ufeff1\r\n00:00:01,000 --> 00:00:04,5\r\n{\\an8}Low tide\r\n<i>at six</i>\r\n\r\n2\r\n0:00:05,000 --> 0:00:06,000 X1:10\r\nBoats run\r\n'
    expect(open(srt, 'talk.srt').table).toEqual({
      columns: ['Start', 'End', 'Text'],
      rows: [
        ['0:00:01.000', '0:00:04.500', 'Low tide\nat six'],
        ['0:00:05.000', '0:00:06.000', 'Boats run'],
      ],
    })
  })

  test('that are not as the standard has them are read as far as they can be, and it is said', () => {
    const { table, facts } = open('WEBVTT\n\n00:01.000 -> 00:02.000\nlost\n\n00:03.000 --> 00:04.000\nthere\n', 'a.vtt')
    expect(table.rows.map((row) => row[2])).toEqual(['there'])
    expect(facts.note).toMatch(/not as WebVTT has it \(line \d+: .*\); what could be read is here\.$/)
    expect(() => open('nothing of the kind', 'a.srt')).toThrow('"a.srt" holds no cue with a time')
  })

  test('of files that were made to be slow or deep are read or refused like others', () => {
    const deep = `WEBVTT\n\n00:01.000 --> 00:02.000\n${'<b>'.repeat(20_000)}deep`
    expect(() => open(deep, 'deep.vtt')).toThrow('"deep.vtt" nests marks (<b) more than')
    const many = `WEBVTT\n\n${'00:01.000 --> 00:02.000\n<b>tide\n\n'.repeat(2000)}`
    expect(open(many, 'many.vtt').table.rows).toHaveLength(2000)
    for (const text of ['\n'.repeat(400_000), '{\\'.repeat(400_000)])
      expect(() => open(text, 'odd.srt')).toThrow('"odd.srt" holds no cue with a time')
  })

  test('any times and words come back from what is written of them', () => {
    const words = fc.array(fc.constantFrom('tide', 'mar & sol', 'a < b', 'Żółć', 'eel'), { minLength: 1, maxLength: 4 })
    const cue = fc.tuple(fc.integer({ min: 0, max: 35_000_000 }), fc.integer({ min: 1, max: 9000 }), words)
    const stamp = (ms: number) => new Date(ms).toISOString().slice(11, 23)
    fc.assert(
      fc.property(fc.array(cue, { minLength: 1, maxLength: 8 }), (cues) => {
        // Of two that start together the longer comes first (HTML, text track cue order; from memory).
        const sorted = cues.sort((a, b) => a[0] - b[0] || b[1] - a[1])
        const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;')
        const file = sorted.map(
          ([at, long, lines]) => `${stamp(at)} --> ${stamp(at + long)}\n${escaped(lines.join('\n'))}\n`,
        )
        const { table } = open(`WEBVTT\n\n${file.join('\n')}`, 'x.vtt')
        expect(table.rows.map((row) => row[2])).toEqual(sorted.map(([, , lines]) => lines.join('\n')))
        const match = guessTimes(table.columns, table.rows, rate, 10)
        expect(match).toEqual({ ':from': 'Start', ':to': 'End' })
        rowsOf(table).forEach((row, i) => {
          const [at, long] = sorted[i]!
          const { from, frames } = rowTimes(match, row, rate)
          expect(from).toBe(framesOf(at / 1000, rate))
          expect(frames ?? 0).toBe(framesOf((at + long) / 1000, rate) - framesOf(at / 1000, rate))
        })
      }),
      { numRuns: 40 },
    )
  })
})

describe('edit decision lists by CMX 3600', () => {
  const list = `TITLE: ESTUARY WEEK
FCM: DROP FRAME

001  HARBOUR  V     C        01:00:00:00 01:00:04:00 10:00:00:00 10:00:04:00
* FROM CLIP NAME: Quay at dawn
* LOC: 10:00:01:15 RED     Maren Oduya
* SHOT ON THE NORTH BANK
002  AX       V     D    024 00:00:00:00 00:00:02:00 10:00:04:00 10:00:06:00
* FROM CLIP NAME: Lamps.mov
`
  test('give their events and their locators, with timecode that drops numbers where the list says so', () => {
    const { table, facts } = open(list, 'week.edl')
    expect(facts.sheets).toMatchObject([
      { name: 'Events', rows: 2 },
      { name: 'Locators', rows: 1 },
    ])
    expect(table).toEqual({
      columns: ['Start', 'End', 'Clip', 'Reel', 'Track', 'Event', 'Comment'],
      rows: [
        ['10:00:00;00', '10:00:04;00', 'Quay at dawn', 'HARBOUR', 'V', '001', 'SHOT ON THE NORTH BANK'],
        ['10:00:04;00', '10:00:06;00', 'Lamps.mov', 'AX', 'V', '002', ''],
      ],
    })
    expect(open(list, 'week.edl', { sheet: 'Locators' }).table).toEqual({
      columns: ['Start', 'Text', 'Colour', 'Clip'],
      rows: [['10:00:01;15', 'Maren Oduya', 'red', 'Quay at dawn']],
    })
    expect(() => open(list, 'week.edl', { sheet: 'Clips' })).toThrow('has no Clips; it has Events and Locators')
    expect(() => open('no list', 'week.edl')).toThrow('holds no event as CMX 3600 has them')
    // A line made to be slow.
    expect(() => open(`001 x${' '.repeat(400_000)}y`, 'week.edl')).toThrow('holds no event as CMX 3600 has them')
    expect(() => open(list.replace('* SHOT', `${'* a\n'.repeat(400_000)}* SHOT`), 'week.edl')).toThrow(
      '"Comment" holds',
    )
  })
})

/** Files of an order in their places, as Hoja itself writes them. */
const ordered = (starts: readonly number[], own: Rate, drop: boolean) => ({
  name: 'Week',
  rate: own,
  start: 0,
  drop,
  clips: starts.map((from, i) => ({
    name: `Title ${i}`,
    file: `titles/${i} ñ.mov`,
    frames: 60,
    stretches: { before: 5, in: 10, hold: 30, out: 10, after: 5 },
    from,
  })),
})

test('what is written as OTIO and EDL is read again, clip by clip, at every rate of the trade', () => {
  const rates: Rate[] = [
    { num: 24000, den: 1001 },
    { num: 25, den: 1 },
    { num: 30000, den: 1001 },
    { num: 60000, den: 1001 },
  ]
  const starts = fc.uniqueArray(fc.integer({ min: 1000, max: 80_000 }), { minLength: 1, maxLength: 8 })
  fc.assert(
    fc.property(starts, fc.constantFrom(...rates), (froms, own) => {
      const drop = own.den === 1001 && own.num !== 24000
      // Apart from one another, so that all lie in one lane.
      const sorted = [...froms].sort((a, b) => a - b).map((from, i) => from + 100 * i)
      const order = ordered(sorted, own, drop)
      const times = (text: string, name: string) => {
        const { table } = open(text, name)
        const match = guessTimes(table.columns, table.rows, own, 10)
        return rowsOf(table).map((row) => {
          const { from, frames } = rowTimes(match, row, own)
          return [from, frames]
        })
      }
      const wanted = sorted.map((from) => [from, 50])
      expect(times(conformOtio(order), 'week.otio')).toEqual(wanted)
      const edls = conformEdls(order)
      expect(times(edls[0]!.text, 'week.edl')).toEqual(wanted)
      expect(open(edls[0]!.text, 'week.edl').table.rows[0]![0]).toBe(timecodeOf(sorted[0]!, own, drop))
      // Its spans stand as markers in the clips.
      const markers = open(conformOtio(order), 'week.otio', { sheet: 'Markers' }).table
      expect(markers.rows.length).toBe(3 * sorted.length)
    }),
    { numRuns: 30 },
  )
})

test('stacks inside tracks are gone through, and what is cut off by them is not there', () => {
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: 25, value })
  const range = (start: number, duration: number) => ({
    OTIO_SCHEMA: 'TimeRange.1',
    start_time: time(start),
    duration: time(duration),
  })
  const clip = (name: string, start: number, duration: number, markers: object[] = []) => ({
    OTIO_SCHEMA: 'Clip.2',
    name,
    source_range: range(start, duration),
    markers,
  })
  const track = (name: string, children: object[]) => ({ OTIO_SCHEMA: 'Track.1', name, children })
  const nested = {
    OTIO_SCHEMA: 'Stack.1',
    name: 'Inset',
    // A second of it from its second second on.
    source_range: range(25, 50),
    children: [track('Inner', [clip('early', 0, 20), clip('Marsh', 100, 40), clip('Eels', 0, 100)])],
  }
  const marker = { OTIO_SCHEMA: 'Marker.2', name: 'Maren', comment: 'first', color: 'RED', marked_range: range(110, 0) }
  const timeline = {
    OTIO_SCHEMA: 'Timeline.1',
    name: 'Week',
    global_start_time: time(250),
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      children: [
        track('V1', [
          clip('Quay', 100, 50, [marker]),
          { OTIO_SCHEMA: 'Transition.1', in_offset: time(5), out_offset: time(5) },
          nested,
        ]),
      ],
    },
  }
  const text = JSON.stringify(timeline)
  expect(open(text, 'a.otio').table.rows).toEqual([
    ['0:00:10.000', '0:00:12.000', 'Quay', 'V1'],
    ['0:00:12.000', '0:00:13.400', 'Marsh', 'Inner'],
    ['0:00:13.400', '0:00:14.000', 'Eels', 'Inner'],
  ])
  expect(open(text, 'a.otio', { sheet: 'Markers' }).table.rows).toEqual([
    ['0:00:10.400', 'Maren', 'first', 'red', 'Quay', 'V1'],
  ])
  expect(() => open('{"OTIO_SCHEMA":"Clip.2"}', 'a.otio')).toThrow('"a.otio" is no OpenTimelineIO timeline')
})
