import { type Packet, type PictureTrack, RunLengthFrames, unchangedRunLength } from '@hoja/core/formats'
import { bt709, rgb709, tagged, toYuv } from './colours.ts'
import type { Movie } from './movie.ts'
import { type AlphaMode, inAlphaMode } from './pixels.ts'

/** What ffmpeg's encoder is told. */
export interface Encoding {
  filter: string
  args: string[]
  /** Bits a channel of what it is handed; more than 8 where what is mixed has more. */
  bits: 8 | 16
  /** Whether what it is handed is drawn in more than 8 bits, too. */
  deep?: boolean
}

/** A picture codec that codes every frame by itself. */
export interface Coding {
  /** What says that nothing has changed since the frame before, where the codec has such a thing. */
  unchanged?: Packet
  /** What ffmpeg's encoder is told; or how Hoja codes a picture itself. */
  by: Encoding | ((movie: Movie, mode: AlphaMode) => (picture: number) => Uint8Array)
  /** Codec and private data: absent, as the encoder says. */
  track: Pick<PictureTrack, 'colour'> & Partial<Pick<PictureTrack, 'codec' | 'private'>>
}

/**
 * BITMAPINFOHEADER, as Matroska keeps codecs that are known by four characters. Its bits a pixel become the depth of
 * QuickTime's sample description: 32 where there is alpha, 24 where there is none.
 */
function fourcc(name: string, depth: 24 | 32 = 32): Uint8Array {
  const header = new Uint8Array(40)
  const view = new DataView(header.buffer)
  view.setUint32(0, 40, true)
  view.setUint16(12, 1, true)
  view.setUint16(14, depth, true)
  header.set(new TextEncoder().encode(name), 16)
  return header
}
const known = (name: string, depth?: 24 | 32) => ({ codec: 'V_MS/VFW/FOURCC', private: fourcc(name, depth) })

/** Tells an encoder that it is handed two fields, and which comes first. */
export const fieldsOf = ({ fields }: Movie): { filter: string; args: string[] } =>
  fields
    ? { filter: `,setfield=${fields === 'top' ? 'tff' : 'bff'}`, args: ['-flags', '+ildct'] }
    : { filter: '', args: [] }

/**
 * A fixed step of quantisation: the encoder's own search for one takes five times as long and ends at the finest for
 * titles. 2 is 74 dB on `speaker`.
 */
const prores = (pixels: string, name: 'ap4h' | 'apch', depth: 24 | 32, bits: 8 | 16): Coding => ({
  by: {
    filter: toYuv(pixels),
    args: [
      ...['-c:v', 'prores_ks', '-profile:v', name === 'ap4h' ? '4444' : 'hq', '-qscale:v', '2'],
      ...['-vendor', 'apl0', ...tagged],
    ],
    bits,
  },
  track: { ...known(name, depth), colour: bt709 },
})

/** VC-3 (SMPTE ST 2019-1) for frames of any size. */
const dnxhr = (pixels: string, profile: string): Coding => ({
  by: { filter: toYuv(pixels), args: ['-c:v', 'dnxhd', '-profile:v', profile, ...tagged], bits: 16 },
  track: { ...known('AVdh', 24), colour: bt709 },
})

/** RGBA as planes, every byte as it is: ffmpeg's own way there rounds alpha to a level beside it. */
const toPlanes = 'format=rgba,extractplanes=r+g+b+a[r][g][b][a];[g][b][r][a]mergeplanes=0x00102030:gbrap'

/** How each picture codec is told to code. */
export const codings = {
  prores: prores('yuva444p10le', 'ap4h', 32, 8),
  opaque: prores('yuv444p10le', 'ap4h', 24, 8),
  prores422: prores('yuv422p10le', 'apch', 24, 16),
  dnxhr: dnxhr('yuv422p10le', 'dnxhr_hqx'),
  dnxhr444: dnxhr('yuv444p10le', 'dnxhr_444'),
  cineform: {
    by: { filter: 'format=gbrap12le', args: ['-c:v', 'cfhd', '-quality', 'film3+'], bits: 16 },
    track: { ...known('CFHD'), colour: { ...rgb709, matrix: 1 } },
  },
  utvideo: {
    by: { filter: toPlanes, args: ['-c:v', 'utvideo', '-pred', 'median'], bits: 8 },
    track: { colour: rgb709 },
  },
  rle: {
    by: ({ width, height, region, draw }, mode) => {
      const frames = new RunLengthFrames(width, height, region)
      return (picture) => frames.encode(inAlphaMode(draw(picture), mode, region.width)).slice()
    },
    unchanged: { bytes: unchangedRunLength, key: false },
    track: { ...known('rle '), colour: { ...rgb709, matrix: 1 } },
  },
  ffv1: {
    by: { filter: 'format=bgra', args: ['-c:v', 'ffv1', '-level', '3', '-g', '1', '-slicecrc', '1'], bits: 8 },
    track: { colour: rgb709 },
  },
  png: {
    by: ({ png }) => png,
    track: { ...known('MPNG'), colour: { ...rgb709, matrix: 1 } },
  },
} satisfies Record<string, Coding>
