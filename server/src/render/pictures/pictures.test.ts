import { execFileSync } from 'node:child_process'
import { rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { type FormatId, outputFormats } from '@hoja/core/output'
import fc from 'fast-check'
import { PNG } from 'pngjs'
import { probed, rawFrames } from '../../testing/decoded.ts'
import { temporaryFolder } from '../../testing/running.ts'
import type { Movie } from '../movie/movie.ts'
import { pictureCoder } from './coder.ts'
import { half } from './exr.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A movie of one picture of any pixels in a region of its frame. */
function movieOf(width: number, height: number, region: Movie['region'], deep: Uint16Array): Movie {
  return {
    width,
    height,
    rate: { num: 25, den: 1 },
    region,
    pictures: 1,
    frames: [0],
    draw: () => Uint8ClampedArray.from(deep, (value) => (value + 128) / 257),
    deep: () => deep.slice(),
    png: () => PNG.sync.write(new PNG({ width: 1, height: 1 })),
  }
}

/** The region of 16 bits in its frame. */
function whole({ width, height, region }: Movie, pixels: Uint16Array): Uint16Array {
  const out = new Uint16Array(width * height * 4)
  for (let y = 0; y < region.height; y++)
    out.set(pixels.subarray(y * region.width * 4, (y + 1) * region.width * 4), ((region.y + y) * width + region.x) * 4)
  return out
}

let count = 0
function decoded(format: FormatId, bytes: Uint8Array, pixels: string): Buffer {
  const file = join(folder, `${count++}${outputFormats[format].pictures}`)
  writeFileSync(file, bytes)
  return rawFrames(file, pixels)
}

const region = { x: 8, y: 40, width: 61, height: 35 }
const noise = Uint16Array.from({ length: region.width * region.height * 4 }, (_, i) => ((i + 7) * 2654435761) >>> 16)
// Long runs beside what never repeats, and rows of nothing.
const mixed = noise.map((value, i) => {
  const y = Math.floor(i / 4 / region.width)
  return y % 3 === 0 ? value : y % 3 === 1 ? 40_000 : 0
})
const movies = [movieOf(80, 90, region, noise), movieOf(80, 90, region, mixed)]
const words = (buffer: Buffer) =>
  new Uint16Array(buffer.buffer.slice(buffer.byteOffset, buffer.byteOffset + buffer.length))

// TIFF 6.0, TGA 2.0 and PNG (third edition), each read by ffmpeg's own decoder.
describe('pictures read by another decoder are those of the raster, to the last bit', () => {
  test.each(['png16', 'tiff16'] as const)('%s', (format) => {
    for (const movie of movies) {
      const bytes = pictureCoder(format, movie, undefined)(0)
      expect(words(decoded(format, bytes, 'rgba64le'))).toEqual(whole(movie, movie.deep(0)))
    }
  })

  test.each(['tiff', 'tga'] as const)('%s', (format) => {
    for (const movie of movies) {
      const bytes = pictureCoder(format, movie, undefined)(0)
      const want = whole(movie, Uint16Array.from(movie.draw(0)))
      expect(Uint16Array.from(decoded(format, bytes, 'rgba'))).toEqual(want)
    }
  })

  test('TIFF and TGA say whether alpha is in the colours (TIFF 6.0, 18; TGA 2.0, field 24)', () => {
    for (const [alpha, tiff, tga] of [
      ['straight', 2, 3],
      ['premultiplied', 1, 4],
    ] as const) {
      const bytes = Buffer.from(pictureCoder('tiff', movies[0]!, alpha)(0))
      const entries = Array.from({ length: bytes.readUInt16LE(8) }, (_, i) => 10 + i * 12)
      const tags = entries.map((at) => bytes.readUInt16LE(at))
      // Tags stand in order (TIFF 6.0, section 2).
      expect(tags).toEqual([...tags].sort((a, b) => a - b))
      expect(bytes.readUInt16LE(entries[tags.indexOf(338)]! + 8)).toBe(tiff)
      const other = Buffer.from(pictureCoder('tga', movies[0]!, alpha)(0))
      expect(other[other.length - 27]).toBe(tga)
      expect(other.subarray(-18).toString('latin1')).toBe('TRUEVISION-XFILE.\0')
    }
  })

  test('what is larger than a strip, and a region of any place, comes back', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 90 }),
        fc.nat(),
        fc.nat(),
        fc.integer(),
        (width, height, a, b, seed) => {
          const [x, y] = [a % width, b % height]
          const own = { x, y, width: width - x, height: Math.max(1, Math.floor((height - y) / 2)) }
          const pixels = Uint16Array.from(
            { length: own.width * own.height * 4 },
            (_, i) => Math.imul(i + seed, 2654435761) >>> 16,
          )
          const movie = movieOf(width, height, own, pixels)
          const bytes = pictureCoder('tiff16', movie, undefined)(0)
          expect(words(decoded('tiff16', bytes, 'rgba64le'))).toEqual(whole(movie, pixels))
        },
      ),
      { numRuns: 12 },
    )
  })
})

describe('OpenEXR', () => {
  // Debian's openexr tools, whose library is the standard's own.
  test('its header is read by exrheader: channels, primaries, windows', () => {
    const file = join(folder, 'header.exr')
    writeFileSync(file, pictureCoder('exr', movies[0]!, undefined)(0))
    const told = execFileSync('exrheader', [file], { encoding: 'utf8' })
    for (const words of [
      'A, 16-bit floating-point, sampling 1 1',
      'red   (0.64 0.33)',
      'white (0.3127 0.329)',
      'compression (type compression): zip, multi-scanline blocks',
      'dataWindow (type box2i): (8 40) - (68 74)',
      'displayWindow (type box2i): (0 0) - (79 89)',
    ])
      expect(told).toContain(words)
    expect(probed(file).streams[0]).toMatchObject({ width: 80, height: 90, pix_fmt: 'gbrapf32le' })
  })

  // IEC 61966-2-1: linear light of an sRGB value; OpenEXR: colours are multiplied by alpha.
  test('its pixels are linear light times alpha, as halves', () => {
    const movie = movies[0]!
    const read = decoded('exr', pictureCoder('exr', movie, undefined)(0), 'gbrapf32le')
    const floats = new Float32Array(read.buffer.slice(read.byteOffset, read.byteOffset + read.length))
    const plane = movie.width * movie.height
    const want = whole(movie, movie.deep(0))
    const light = (value: number) => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4)
    // Planes G, B, R, A.
    const places = [2, 0, 1, 3]
    for (let i = 0; i < plane; i++) {
      const alpha = want[4 * i + 3]! / 65535
      for (let c = 0; c < 4; c++) {
        const expected = c === 3 ? alpha : light(want[4 * i + c]! / 65535) * alpha
        const got = floats[places[c]! * plane + i]!
        // Half of the step of a half float.
        if (Math.abs(got - expected) > Math.max(2 ** -25, expected * 2 ** -11))
          throw new Error(`pixel ${i}, channel ${c}: ${got} instead of ${expected}`)
      }
    }
  })

  test('halves are the nearest there are (IEEE 754)', () => {
    const numberOf = (code: number) => {
      const [exponent, fraction] = [code >> 10, code & 1023]
      return exponent === 0 ? fraction * 2 ** -24 : (1 + fraction / 1024) * 2 ** (exponent - 15)
    }
    fc.assert(
      fc.property(fc.float({ min: 0, max: 2000, noNaN: true }), (value) => {
        const code = half(value)
        const off = Math.abs(numberOf(code) - value)
        for (const other of [code - 1, code + 1])
          if (other >= 0) expect(off).toBeLessThanOrEqual(Math.abs(numberOf(other) - value))
      }),
      { numRuns: 2000 },
    )
    expect([0, 1, 0.5, 65504, 2 ** -24].map(half)).toEqual([0, 0x3c00, 0x3800, 0x7bff, 1])
  })
})
