import { execFileSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { outputFormats } from '@hoja/core/output'
import { titleMovie, wholeFrame } from '../../testing/movie.ts'
import { type Atom, atomsAt, atomsOf, pictureTrack } from '../../testing/quickTime.ts'
import { temporaryFolder } from '../../testing/running.ts'
import { writeMovie } from './write.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const timecode = '10:00:00;00'
const movie = titleMovie(40)

type QuickTime = 'mov' | 'mov-png' | 'mov-rle' | 'pair' | 'cineform' | 'prores422' | 'dnxhr' | 'dnxhr444'

async function written(format: QuickTime): Promise<string[]> {
  const files = outputFormats[format].endings.map((end) => join(folder, `${format}${end}`))
  await writeMovie(format, movie, files, { timecode })
  return files
}

/** The same frames piped to ffmpeg, which writes the file by itself. */
function direct(name: string, how: readonly string[]): string {
  const file = join(folder, `direct-${name}.mov`)
  const { width, height } = movie
  const raw = Buffer.concat(movie.frames.map((picture) => wholeFrame(movie, picture)))
  const input = ['-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${width}x${height}`, '-r', '30000/1001', '-i', '-']
  const tags = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709']
  const out = ['-movflags', '+write_colr', '-movie_timescale', '30000', '-timecode', timecode, file]
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...input, ...how, ...tags, ...out], { input: raw })
  return file
}
const prores = (pixels: string) => ['-vf', `format=${pixels}`, '-c:v', 'prores_ks', '-profile:v', '4444']

/** Of a description: all but the name of the encoder, of which our file says nothing (bytes 42 to 73). */
const unnamed = (way: string, own: Buffer) =>
  way.endsWith('stsd/') && own.length === 78 ? Buffer.concat([own.subarray(0, 42), own.subarray(74)]) : own

/** Every atom under the movie's own, by its way, as bytes. */
function flat(atoms: readonly Atom[], way = ''): [way: string, bytes: string][] {
  return atoms.flatMap((atom) => [
    [`${way}${atom.type}`, unnamed(way, atom.own).toString('latin1')] as [string, string],
    ...flat(atom.atoms, `${way}${atom.type}/`),
  ])
}

// QuickTime File Format Specification (Apple): "Video Sample Description", "Sound and Timecode Media", "Edit Atoms".
describe('what QuickTime files say of themselves', () => {
  const kinds = [
    ['mov', 'ap4h', 32],
    ['mov-png', 'png ', 32],
    ['mov-rle', 'rle ', 32],
    ['pair', 'ap4h', 24],
    ['cineform', 'CFHD', 32],
    ['prores422', 'apch', 24],
    ['dnxhr', 'AVdh', 24],
    ['dnxhr444', 'AVdh', 24],
  ] as const
  test.each(kinds)('%s: codec, depth, colours, fields, pixels, edit, handler, times', async (format, codec, depth) => {
    for (const file of await written(format))
      expect(pictureTrack(file)).toEqual({
        tracks: ['vide', 'tmcd'],
        codec,
        // Who wrote the file, not who made the codec.
        vendor: 'FFMP',
        size: [movie.width, movie.height],
        // 32 says that there is alpha; 24, that there is none.
        depth,
        // VC-3 has two atoms of its own, which tell its range and its kind.
        extensions: [...(codec === 'AVdh' ? ['ACLR', 'ADHR'] : ['fiel']), 'colr', 'pasp'],
        // BT.709, by ITU-T H.273.
        colr: ['nclc', 1, 1, 1],
        // One field: progressive.
        ...(codec === 'AVdh' ? { fiel: undefined } : { fiel: [1, 0] }),
        pasp: [1, 1],
        // All of it, from its first frame, at its own speed.
        edit: [40 * 1001, 0, 0x10000],
        handler: ['mhlr', 'vide', '\fVideoHandler'],
        clock: 30000,
        times: [[40, 1001]],
      })
  })

  test('the time code counts drop-frame, 30 numbers a second', async () => {
    const [file] = await written('mov')
    const [, track] = atomsAt(atomsOf(file!), 'moov/trak')
    const { data } = atomsAt(track!.atoms, 'mdia/minf/stbl/stsd')[0]!.atoms[0]!
    expect({
      flags: data.readUInt32BE(12),
      scale: data.readUInt32BE(16),
      duration: data.readUInt32BE(20),
      frames: data[24],
    }).toEqual({ flags: 1, scale: 30000, duration: 1001, frames: 30 })
  })

  const others = [
    ['mov', prores('yuva444p10le')],
    ['mov-png', ['-c:v', 'png']],
    ['mov-rle', ['-c:v', 'qtrle']],
    ['pair', prores('yuv444p10le')],
    ['cineform', ['-vf', 'format=gbrap12le', '-c:v', 'cfhd']],
    ['prores422', ['-vf', 'format=yuv422p10le', '-c:v', 'prores_ks', '-profile:v', 'hq']],
    ['dnxhr', ['-vf', 'format=yuv422p10le', '-c:v', 'dnxhd', '-profile:v', 'dnxhr_hqx']],
    ['dnxhr444', ['-vf', 'format=yuv444p10le', '-c:v', 'dnxhd', '-profile:v', 'dnxhr_444']],
  ] as const
  /** Atoms that may differ from those of a file that ffmpeg encodes and writes by itself, and why. */
  const explained: Record<string, string> = {
    mdat: 'the frames: compared as pictures elsewhere',
    'moov/trak/mdia/minf/stbl/stsz': 'how many bytes each frame has',
    'moov/trak/mdia/minf/stbl/stsc': 'which frames lie beside one another in the file',
    'moov/trak/mdia/minf/stbl/stco': 'where they lie',
    'moov/trak/mdia/minf/stbl/stss': 'run-length: that every frame but a held one stands by itself',
    'moov/trak/mdia/minf/stbl/stsd/CFHD': 'ours says that there is alpha: a depth of 32',
    'moov/trak/mdia/minf/stbl/stsd/pasp': 'ours says that pixels are square; a pipe of raw pixels says nothing',
  }
  test.each(others)('%s: atom by atom as ffmpeg writes it, but for what is explained', async (format, how) => {
    const theirs = flat(atomsOf(direct(format, how)))
    for (const file of await written(format)) {
      const ours = flat(atomsOf(file))
      const unlike = (a: typeof ours, b: typeof ours) =>
        a.filter(([way, bytes]) => !b.some((other) => other[0] === way && other[1] === bytes)).map(([way]) => way)
      const found = [...new Set([...unlike(ours, theirs), ...unlike(theirs, ours)])]
      expect(
        found.filter((way) => !(way.replace(/stsd\/(ap4h|apch|png |rle |CFHD|AVdh)\//, 'stsd/') in explained)),
      ).toEqual([])
    }
  })
})
