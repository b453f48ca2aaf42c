import fc from 'fast-check'
import { speaker } from '../testing/speaker.ts'
import { framesOf, parseLength, type Rate, timecodeOf } from '../time/index.ts'
import { type Match, matchColumns, refuseMatch } from './index.ts'
import { framesOfRow, guessTimes, rowTimes } from './rowTimes.ts'

const pal: Rate = { num: 25, den: 1 }
const ntsc: Rate = { num: 30000, den: 1001 }

describe('lengths as people write them', () => {
  const written: [text: string, frames: number][] = [
    ['125', 125],
    ['125 frames', 125],
    ['1 f', 1],
    ['5 s', 125],
    ['5s', 125],
    ['2.5', 63],
    ['2,5 sec', 63],
    ['00:00:05:00', 125],
    ['00:01:00:12', 1512],
    ['1:05', 1625],
    ['0:01:05.2', 1630],
    ['01:00:00', 90_000],
  ]
  test.each(written)('%s is %d frames at 25', (text, frames) => {
    expect(parseLength(text, pal)).toBe(frames)
  })

  test('whole numbers may be seconds; drop-frame timecode counts as ST 12-1 has it', () => {
    expect(parseLength('5', pal, 'seconds')).toBe(125)
    expect(parseLength('5 frames', pal, 'seconds')).toBe(5)
    expect(parseLength('00:10:00;00', ntsc)).toBe(17_982)
  })

  test.each(['', 'five', '12.5 frames', '-5', '1:75', '00:00:00:25', '1:2:3:4:5', '1e3'])(
    '"%s" is none, in one sentence',
    (text) => {
      expect(() => parseLength(text, pal)).toThrow(/^"[^\n]*[.]$/)
    },
  )

  test('every frame comes back from its timecode and from its seconds', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 200_000 }), fc.constantFrom(pal, ntsc), (frames, rate) => {
        expect(parseLength(timecodeOf(frames, rate), rate)).toBe(frames)
        const seconds = ((frames * rate.den) / rate.num).toFixed(4)
        expect(parseLength(`${seconds} s`, rate)).toBe(framesOf(Number(seconds), rate))
        expect(parseLength(`${seconds} s`, rate)).toBe(frames)
      }),
    )
  })
})

describe('what a row says of its time', () => {
  const match: Match = { ':length': 'dur', ':from': 'in', ':to': 'out' }
  const row = (dur: string, from: string, to: string) => ({ cells: { dur, in: from, out: to } })

  test('a length, or a start and an end that is no frame of it any more', () => {
    expect(rowTimes(match, row('4 s', '', ''), pal)).toEqual({ frames: 100 })
    expect(rowTimes(match, row('', '10:00:00:00', '10:00:04:00'), pal)).toEqual({ from: 900_000, frames: 100 })
    expect(rowTimes(match, row('4 s', '10:00:00:00', ''), pal)).toEqual({ from: 900_000, frames: 100 })
    expect(rowTimes(match, row('', '', ''), pal)).toEqual({})
    expect(rowTimes(match, row('', '01:00:00;00', '01:00:01;00'), ntsc)).toEqual({
      from: 107_892,
      frames: 30,
      drop: true,
    })
  })

  test('what can not be is said in a sentence that names it', () => {
    expect(rowTimes(match, row('', '10:00:04:00', '10:00:04:00'), pal).problem).toBe(
      'It ends before it starts; give it a later end.',
    )
    expect(rowTimes(match, row('5 s', '0', '100'), pal).problem).toContain('125 frames is not the 100')
    expect(rowTimes(match, row('soon', '', ''), pal).problem).toMatch(/^Length: "soon" is not a length/)
    expect(rowTimes(match, row('0', '', ''), pal)).toEqual({
      problem: "Length: a title of no frames can't be; give it some.",
    })
  })

  test('a length by hand stands before that of the data, and keeps its time at another rate', () => {
    const own = { ...row('4 s', '', ''), frames: 50 }
    expect(framesOfRow(match, own, pal)).toBe(50)
    expect(framesOfRow(match, own, pal, { num: 50, den: 1 })).toBe(100)
    expect(framesOfRow(match, row('4 s', '', ''), pal, { num: 50, den: 1 })).toBe(200)
  })

  test('times may be matched, other keys that are no field may not', () => {
    expect(refuseMatch(speaker, match)).toBeUndefined()
    expect(refuseMatch(speaker, { ':size': 'dur' })).toMatch('is not a field')
  })
})

describe('columns of times are told by their names and by what they hold', () => {
  test('timecodes in and out, seconds, frames', () => {
    const guess = (columns: string[], ...rows: string[][]) => guessTimes(columns, rows, pal, 50)
    expect(guess(['TC in', 'TC out'], ['10:00:00:00', '10:00:04:00'])).toEqual({ ':from': 'TC in', ':to': 'TC out' })
    expect(guess(['Duration (s)'], ['60'], ['80'])).toEqual({
      ':length': { columns: ['Duration (s)'], counts: 'seconds' },
    })
    expect(guess(['Duration'], ['6'], ['8'])).toEqual({ ':length': { columns: ['Duration'], counts: 'seconds' } })
    expect(guess(['Duration'], ['125'], ['8'])).toEqual({ ':length': 'Duration' })
    // One cell that is no time: the column is about something else.
    expect(guess(['Start'], ['10:00:00:00'], ['Vado quay'])).toEqual({})
    expect(guess(['out'], ['10:00:00:00'])).toEqual({})
    expect(guess(['Start'], [''])).toEqual({})
  })

  test('a column that a field takes is no time', () => {
    const match = matchColumns(speaker, ['name', 'role', 'length'], [['Gwyneth Pugh', 'Pilot', '4 s']])
    expect(match).toMatchObject({ name: 'name', role: 'role', ':length': 'length' })
  })
})
