import fc from 'fast-check'
import createTimecode from 'smpte-timecode'
import {
  frameOfTimecode,
  framesInHours,
  framesOf,
  parseRate,
  type Rate,
  rateText,
  secondsOf,
  timecodeOf,
} from './index.ts'

const ntsc: Rate = { num: 30000, den: 1001 }
const double: Rate = { num: 60000, den: 1001 }
const pal: Rate = { num: 25, den: 1 }

// SMPTE ST 12-1, drop-frame compensated counting: numbers 00 and 01 (00 to 03 at 59.94) are dropped each minute but the tenth.
test('an hour of drop-frame has the frames that ST 12-1 gives', () => {
  expect(framesInHours(1, ntsc, true)).toBe(107_892)
  expect(framesInHours(1, double, true)).toBe(215_784)
  expect(timecodeOf(107_892, ntsc, true)).toBe('01:00:00;00')
  expect(timecodeOf(1800, ntsc, true)).toBe('00:01:00;02')
  expect(timecodeOf(17_982, ntsc, true)).toBe('00:10:00;00')
})

test('every frame agrees with the smpte-timecode library, drop-frame and not', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 24 * 107_892 - 1 }), (frame) => {
      expect(timecodeOf(frame, ntsc, true)).toBe(createTimecode(frame, 29.97, true).toString())
      expect(timecodeOf(frame, pal)).toBe(createTimecode(frame % (24 * 90_000), 25, false).toString())
    }),
  )
})

test('a timecode reads back as its frame', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 24 * 215_784 - 1 }), fc.constantFrom(...[ntsc, double]), (frame, rate) => {
      const own = frame % framesInHours(24, rate, true)
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
