import { deflateSync } from 'node:zlib'
import fc from 'fast-check'
import * as fontkit from 'fontkit'
import { PNG } from 'pngjs'
import { fontFiles } from '../testing/speaker.ts'
import { embeddingOf, Font, fontFacts } from '../text/index.ts'
import { ApngWriter, apngFrames, crc32, readMovie, readSoundHeader, unpackWoff, woffKind } from './index.ts'

const rate = { num: 30000, den: 1001 }

function apng(frames: Uint8ClampedArray[], width: number, height: number, deflate?: (raw: Uint8Array) => Uint8Array) {
  const writer = new ApngWriter({ width, height, rate }, deflate)
  for (const frame of frames) writer.add(frame)
  return writer.bytes()
}

describe('movies as animated PNG', () => {
  test('every frame comes back as it was, asked for in any order', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 5 }),
        fc.infiniteStream(fc.integer({ min: 0, max: 255 })),
        (width, height, count, stream) => {
          const take = () => Uint8ClampedArray.from({ length: width * height * 4 }, () => stream.next().value as number)
          const frames = Array.from({ length: count }, take)
          const movie = readMovie(apng(frames, width, height), 'id', 'm', rate)
          expect([movie.width, movie.height, movie.frames]).toEqual([width, height, count])
          for (const n of [count - 1, 0, count >> 1])
            expect(movie.frame(n)).toMatchObject({ id: `id#${n}`, rgba: frames[n] })
        },
      ),
      { numRuns: 40 },
    )
  })

  // PNG specification (3rd edition): a decoder that knows no animation shows the default image; pngjs is such a one.
  test('another decoder reads the first frame', () => {
    const frame = Uint8ClampedArray.from({ length: 7 * 5 * 4 }, (_, i) => (i * 37) % 256)
    const bytes = apng([frame, frame], 7, 5, (raw) => deflateSync(raw))
    const read = PNG.sync.read(Buffer.from(bytes))
    expect([read.width, read.height]).toEqual([7, 5])
    expect(new Uint8ClampedArray(read.data)).toEqual(frame)
  })

  test('frames stand for 1001/30000 s, and are numbered in one sequence with their data (11.3.6)', () => {
    const frame = new Uint8ClampedArray(4)
    const bytes = apng([frame, frame, frame], 1, 1)
    const view = new DataView(bytes.buffer)
    const sequence: number[] = []
    for (let at = 8; at < bytes.length; at += 12 + view.getUint32(at)) {
      const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8))
      if (type === 'fcTL' || type === 'fdAT') sequence.push(view.getUint32(at + 8))
      if (type === 'fcTL') expect([view.getUint16(at + 28), view.getUint16(at + 30)]).toEqual([1001, 30000])
      expect(crc32(bytes.subarray(at + 4, at + 8 + view.getUint32(at)))).toBe(
        view.getUint32(at + 8 + view.getUint32(at)),
      )
    }
    expect(sequence).toEqual([0, 1, 2, 3, 4])
  })

  test('anything else is refused in a sentence', () => {
    const frame = new Uint8ClampedArray(16)
    const bytes = apng([frame, frame], 2, 2)
    expect(() => apngFrames(bytes.subarray(0, 90), 'a.png')).toThrow(/breaks off|holds 1 frames of 2/)
    const spoilt = bytes.slice()
    spoilt[60]! ^= 255
    expect(() => apngFrames(spoilt, 'a.png')).toThrow('it is damaged')
    expect(() => apngFrames(new Uint8Array(50), 'a.png')).toThrow('it is not an animated PNG')
    const still = PNG.sync.write(new PNG({ width: 2, height: 2 }))
    expect(() => apngFrames(new Uint8Array(still), 'a.png')).toThrow('holds 1 frames of -1')
  })
})

/** A WAV of so many samples: RIFF, 16 bit, one channel. */
function wav(samples: number, rate = 8000): Uint8Array {
  const bytes = new Uint8Array(44 + samples * 2)
  const view = new DataView(bytes.buffer)
  const put = (at: number, text: string) =>
    bytes.set(
      [...text].map((c) => c.charCodeAt(0)),
      at,
    )
  put(0, 'RIFF')
  view.setUint32(4, bytes.length - 8, true)
  put(8, 'WAVEfmt ')
  view.setUint32(16, 16, true)
  view.setUint16(20, 1, true)
  view.setUint16(22, 1, true)
  view.setUint32(24, rate, true)
  view.setUint32(28, rate * 2, true)
  view.setUint16(32, 2, true)
  view.setUint16(34, 16, true)
  put(36, 'data')
  view.setUint32(40, samples * 2, true)
  return bytes
}

describe('sounds', () => {
  test('a WAV lasts as long as its samples', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9000 }), fc.constantFrom(8000, 48000), (samples, own) => {
        expect(readSoundHeader(wav(samples, own), 'a.wav')).toEqual({ kind: 'wav', seconds: samples / own })
      }),
    )
  })

  test('what is no sound, breaks off, is empty or too long is refused in a sentence', () => {
    expect(() => readSoundHeader(new TextEncoder().encode('<html>no sound at all</html>'.repeat(5)), 'a.mp3')).toThrow(
      '"a.mp3" is not a WAV, MP3 or Ogg sound',
    )
    expect(() => readSoundHeader(wav(500).subarray(0, 300), 'a.wav')).toThrow('breaks off before its end')
    expect(() => readSoundHeader(wav(0), 'a.wav')).toThrow('a sound without a length')
    expect(() => readSoundHeader(wav(8000, 10), 'a.wav')).toThrow('lasts 800 s; cut it to at most 600 s')
  })
})

/** Wraps a font as WOFF 1.0 does, its tables packed. */
function woffOf(sfnt: Uint8Array): Uint8Array {
  const view = new DataView(sfnt.buffer, sfnt.byteOffset, sfnt.byteLength)
  const count = view.getUint16(4)
  const head = Buffer.alloc(44 + count * 20)
  const bodies: Buffer[] = []
  let at = head.length
  let total = 12 + count * 16
  for (let i = 0; i < count; i++) {
    const record = 12 + i * 16
    const [offset, length] = [view.getUint32(record + 8), view.getUint32(record + 12)]
    const raw = sfnt.subarray(offset, offset + length)
    const packed = deflateSync(raw)
    const body = packed.length < length ? packed : Buffer.from(raw)
    head.writeUInt32BE(view.getUint32(record), 44 + i * 20)
    head.writeUInt32BE(at, 48 + i * 20)
    head.writeUInt32BE(body.length, 52 + i * 20)
    head.writeUInt32BE(length, 56 + i * 20)
    head.writeUInt32BE(view.getUint32(record + 4), 60 + i * 20)
    const padded = Buffer.concat([body, Buffer.alloc((4 - (body.length % 4)) % 4)])
    bodies.push(padded)
    at += padded.length
    total += (length + 3) & ~3
  }
  head.write('wOFF', 0, 'latin1')
  head.writeUInt32BE(view.getUint32(0), 4)
  head.writeUInt32BE(at, 8)
  head.writeUInt16BE(count, 12)
  head.writeUInt32BE(total, 16)
  return new Uint8Array(Buffer.concat([head, ...bodies]))
}

describe('fonts', () => {
  test('a WOFF is unpacked to a font that fontkit reads as it reads the original', () => {
    for (const { bytes, file } of fontFiles) {
      const woff = woffOf(bytes)
      expect([woffKind(woff), woffKind(bytes)]).toEqual([1, undefined])
      const back = unpackWoff(woff, file)
      const [ours, theirs] = [fontkit.create(Buffer.from(back)), fontkit.create(Buffer.from(woff))].map((font) => {
        if ('fonts' in font) throw new Error('a collection')
        const path = (text: string) =>
          font
            .layout(text)
            .glyphs.map((glyph: { path: { toSVG(): string } }) => glyph.path.toSVG())
            .join()
        return { name: font.postscriptName, characters: font.characterSet.length, path: path('Hoja 26') }
      })
      expect(ours).toEqual(theirs)
      expect(() => new Font(back, file)).not.toThrow()
    }
  })

  test('a damaged WOFF is refused in a sentence, wherever it is damaged', () => {
    const woff = woffOf(fontFiles[0]!.bytes)
    expect(() => unpackWoff(woff.subarray(0, 40), 'a.woff')).toThrow('"a.woff" is a damaged WOFF font')
    expect(() => unpackWoff(woff.subarray(0, woff.length / 2), 'a.woff')).toThrow('is a damaged WOFF font')
    const large = woff.slice()
    new DataView(large.buffer).setUint32(16, 0x7fffffff)
    expect(() => unpackWoff(large, 'a.woff')).toThrow('unpacks to more than 64 MB')
  })

  test('coverage, names and numbers are those that fontkit reads', () => {
    for (const { bytes, file } of fontFiles) {
      const facts = fontFacts(bytes)
      const other = fontkit.create(Buffer.from(bytes))
      if ('fonts' in other) throw new Error('a collection')
      // U+FFFF ends every cmap of format 4 and is no character.
      const characters: number[] = other.characterSet.filter((codePoint: number) => codePoint !== 0xffff)
      expect(facts.characters).toBe(characters.length)
      const font = new Font(bytes, file)
      expect(characters.every((codePoint) => font.covers(codePoint))).toBe(true)
      expect(facts.glyphs).toBe(other.numGlyphs)
      expect([facts.weight, facts.width]).toEqual([other['OS/2'].usWeightClass, other['OS/2'].usWidthClass])
      expect(facts.family).toContain(other.familyName.split(' ')[0])
    }
    const byFile = (word: string) => fontFacts(fontFiles.find(({ file }) => file.includes(word))!.bytes)
    expect(byFile('Arabic').scripts[0]!.name).toBe('Arabic')
    expect(byFile('Condensed_600').scripts[0]!.name).toBe('Latin')
    expect(byFile('Condensed_600').embedding.allows).toBe('installable')
    expect(byFile('Condensed_600').licence).toContain('Open Font License')
  })

  // OpenType specification 1.9.1, OS/2 table, fsType: values of bits 0 to 3, bit 8 and bit 9.
  test.each([
    [0x0000, 'installable', false, false],
    [0x0002, 'restricted', false, false],
    [0x0004, 'preview', false, false],
    [0x0008, 'editable', false, false],
    // Several bits, before OS/2 version 3: the least restrictive holds.
    [0x000c, 'editable', false, false],
    [0x0006, 'preview', false, false],
    [0x0104, 'preview', true, false],
    [0x0200, 'installable', false, true],
  ] as const)('fsType %i is %s', (bits, allows, noSubsetting, bitmapOnly) => {
    expect(embeddingOf(bits)).toEqual({ bits, allows, noSubsetting, bitmapOnly })
  })
})
