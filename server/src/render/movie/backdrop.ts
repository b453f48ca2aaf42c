import { Refusal } from '@hoja/core/refusal'
import { rateText } from '@hoja/core/time'
import { execa } from 'execa'
import { inputOf } from '../demuxer.ts'
import { type MovieStream, streamOf } from '../movieIn.ts'
import { toYuv } from './colours.ts'
import type { Movie } from './movie.ts'

type Sized = Pick<Movie, 'width' | 'height'>

/** Made to fill a frame, what stands out of it cut off on both sides. */
const covering = ({ width, height }: Sized) => ({
  size: `${width}:${height}:force_original_aspect_ratio=increase`,
  cut: `crop=${width}:${height},setsar=1`,
})

/** A still that fills a frame, as RGBA without alpha. @throws Refusal for what is no picture */
export async function stillPixels(file: string, movie: Sized): Promise<Buffer> {
  const { size, cut } = covering(movie)
  const filter = `scale=${size}:flags=accurate_rnd+full_chroma_int+bicubic,${cut},format=rgba`
  const broken = new Refusal('picture.broken', 'The still under the titles can not be read; choose another.')
  const input = inputOf(file, 'picture')
  if (!input) throw broken
  const args = ['-v', 'error', ...input, '-frames:v', '1', '-vf', filter, '-f', 'rawvideo', 'pipe:1']
  const { stdout } = await execa('ffmpeg', args, {
    encoding: 'buffer',
    reject: false,
    stdin: 'ignore',
    maxBuffer: 1 << 30,
  })
  if (stdout?.length !== movie.width * movie.height * 4) throw broken
  return Buffer.from(stdout)
}

/** Footage in a wider space than BT.709, or with more light than its white. */
const isWide = ({ matrix, transfer, primaries }: MovieStream) =>
  transfer !== 'bt709' || (matrix === 'bt2020' && primaries === 'bt2020')

/**
 * Footage of BT.2020 or BT.2100 as BT.709. Its reference white of 203 cd/m² (ITU-R BT.2408) becomes white; what is
 * brighter is pressed together near it, what is darker stays as it is.
 */
function toBt709({ transfer }: MovieStream): string {
  const from = { pq: 'smpte2084', hlg: 'arib-std-b67', bt709: 'bt2020-10' }[transfer]
  const linear = `zscale=tin=${from}:min=bt2020nc:pin=bt2020:t=linear:npl=203,format=gbrpf32le,zscale=p=bt709`
  const pressed = transfer === 'bt709' ? '' : ',tonemap=mobius:param=0.8:desat=0'
  return `${linear}${pressed},zscale=t=bt709:m=bt709:r=tv`
}

/**
 * Filters that lay a movie, which comes through the first input, over footage, which is the second: `[v]`, in Y'CbCr of the
 * depth of `pixels`, as many frames as the movie has.
 */
export async function overFootage(movie: Movie, file: string, pixels: string): Promise<string[]> {
  const { rate, frames, region, fields } = movie
  const stream = await streamOf(file, 'the footage')
  const { size, cut } = covering(movie)
  const scaled = `scale=${size}:in_color_matrix=${stream.matrix}:out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int+bicubic`
  const as709 = isWide(stream) ? `scale=${size}:flags=bicubic,${toBt709(stream)}` : scaled
  // ffmpeg lays over in 10 bits with colour for two pixels, or in 8 with colour for each.
  const [plain, over, mode] =
    pixels === 'yuv422p10le' ? ['yuv422p10le', 'yuva422p10le', 'yuv422p10'] : ['yuv444p', 'yuva444p', 'yuv444']
  return [
    `[1:v]fps=${rateText(rate)},${as709},${cut},format=${plain},tpad=stop=-1:stop_mode=clone[base]`,
    `[0:v]${toYuv(over)},fps=${rateText(rate)}[t]`,
    `[base][t]overlay=${region.x}:${region.y}:format=${mode},format=${pixels}${fields ? `,setfield=${fields === 'top' ? 'tff' : 'bff'}` : ''},trim=end_frame=${frames.length}[v]`,
  ]
}
