import fc from 'fast-check'
import {
  commonRates,
  frameOfTimecode,
  framesOf,
  lengthText,
  nominalRate,
  parseLength,
  parseRate,
  type Rate,
  rateText,
  secondsOf,
  timecodeOf,
  timeSpellings,
} from './index.ts'

const ntsc: Rate = { num: 30000, den: 1001 }
const double: Rate = { num: 60000, den: 1001 }
const pal: Rate = { num: 25, den: 1 }

/**
 * How many frames lie before the number of a second's first frame, counted one minute after another as SMPTE ST 12-1 tells
 * it: 00 and 01 (00 to 03 at 59.94) are left out at the start of each minute but the tenth.
 */
function framesBefore(minute: number, second: number, nominal: number, dropped: number): number {
  let frames = 0
  for (let m = 0; m < minute; m++) frames += 60 * nominal - (m % 10 > 0 ? dropped : 0)
  // The frame that bears `:00` in a minute that drops numbers is not there; the next one is dropped numbers further.
  return frames + second * nominal - (minute % 10 > 0 ? dropped : 0)
}

// Frames of an hour: SMPTE ST 12-1, drop-frame compensated counting.
test.each([
  [ntsc, 2, 107_892],
  [double, 4, 215_784],
  [pal, 0, 90_000],
  [{ num: 24000, den: 1001 }, 0, 86_400],
  [{ num: 25, den: 2 }, 0, 46_800],
])('numbers counted by hand at %j are the same all day, and begin again', (rate, dropped, hour) => {
  const nominal = nominalRate(rate)
  const two = (n: number) => String(n).padStart(2, '0')
  const isDrop = dropped > 0
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 24 * 60 - 1 }),
      fc.oneof(fc.constantFrom(0, 1, 59), fc.integer({ min: 0, max: 59 })),
      fc.integer({ min: 0, max: nominal - 1 }),
      (minute, second, number) => {
        const text = `${two(Math.floor(minute / 60))}:${two(minute % 60)}:${two(second)}${isDrop ? ';' : ':'}${two(number)}`
        const isLeftOut = second === 0 && minute % 10 > 0 && number < dropped
        if (isLeftOut) return expect(() => frameOfTimecode(text, rate)).toThrow('leaves out')
        const frame = framesBefore(minute, second, nominal, dropped) + number
        expect(timecodeOf(frame, rate, isDrop)).toBe(text)
        expect(frameOfTimecode(text, rate)).toBe(frame)
      },
    ),
    { numRuns: 600 },
  )
  expect(framesBefore(60, 0, nominal, dropped)).toBe(hour)
  const [first, last] = [0, 24 * hour - 1].map((frame) => timecodeOf(frame, rate, isDrop))
  expect([timecodeOf(24 * hour, rate, isDrop), timecodeOf(-1, rate, isDrop)]).toEqual([first, last])
})

test('a timecode reads back as its frame', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 24 * 215_784 - 1 }), fc.constantFrom(...[ntsc, double]), (frame, rate) => {
      const own = frame % (rate === ntsc ? 24 * 107_892 : 24 * 215_784)
      expect(frameOfTimecode(timecodeOf(own, rate, true), rate)).toBe(own)
    }),
  )
})

test('numbers that drop-frame leaves out are refused', () => {
  expect(() => frameOfTimecode('00:01:00;00', ntsc)).toThrow('leaves out')
  expect(() => frameOfTimecode('00:01:00;03', double)).toThrow('leaves out')
  expect(frameOfTimecode('00:10:00;00', ntsc)).toBe(17_982)
  expect(() => timecodeOf(0, pal, true)).toThrow('29.97 and 59.94 only')
  expect(() => frameOfTimecode('10:00:00;00', pal)).toThrow(
    'drop-frame timecode, which belongs to 29.97 and 59.94 frames a second, not to 25; write it as 10:00:00:00',
  )
  expect(() => frameOfTimecode('1:2', pal)).toThrow('not a timecode')
  expect(() => frameOfTimecode('00:00:00:25', pal)).toThrow('does not exist')
  expect(() => frameOfTimecode('24:00:00:00', pal)).toThrow('does not exist')
})

// Common practice: half a second at 30 fps is 15 frames.
test('rates are fractions', () => {
  expect(framesOf(0.5, { num: 30, den: 1 })).toBe(15)
  expect(secondsOf(30_000, ntsc)).toBe(1001)
  expect(parseRate('29.97')).toEqual(ntsc)
  expect(parseRate('30000/1001')).toEqual(ntsc)
  expect(rateText(ntsc)).toBe('30000/1001')
  expect(() => parseRate('fast')).toThrow('not a frame rate')
})

test('a time reads back as the same frames, however it is spelled, at every rate of the trade', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...commonRates.map(({ rate }) => rate)),
      fc.integer({ min: 0, max: 200_000 }),
      fc.constantFrom(...timeSpellings),
      (rate, frames, spelling) => {
        const text = lengthText(frames, rate, spelling)
        expect(parseLength(text, rate)).toBe(frames)
      },
    ),
  )
  expect(lengthText(40, { num: 25, den: 1 }, 'seconds')).toBe('1.6 s')
  expect(lengthText(35, { num: 25, den: 1 }, 'timecode')).toBe('00:00:01:10')
})
