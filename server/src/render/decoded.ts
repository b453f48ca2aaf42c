import { extname } from 'node:path'
import { type FormatId, type OutputSettings, outputFormats } from '@hoja/core/output'
import { Refusal } from '@hoja/core/refusal'
import { type Rate, secondsOf } from '@hoja/core/time'
import { execa } from 'execa'
import { demandFfmpeg } from './ffmpeg.ts'

/** ms that a frame may take. */
const patience = 60_000

/** ffmpeg's own decoder of VP9 leaves alpha out. */
const decoders: Record<string, string[]> = { '.webm': ['-c:v', 'libvpx-vp9'] }

/** sRGB of linear light (IEC 61966-2-1), by 16-bit code. */
const coded = 'if(lte(val,205),val*12.92,65535*(1.055*pow(val/65535,1/2.4)-0.055))'

/** OpenEXR's linear, premultiplied light as other formats have colours: straight, sRGB. */
export const fromLinear = `unpremultiply=inplace=1,format=gbrap16le,lutrgb=r='${coded}':g='${coded}':b='${coded}'`

/** Formats whose frames ffmpeg can take out again. */
export const isDecodable = (format: FormatId): boolean => !['apng', 'gif', 'webp', 'still-webp', 'svg'].includes(format)

/** How a movie keeps the colours of clear pixels; none: it has no alpha itself. */
export type KeptAlpha = 'straight' | 'premultiplied' | 'none'

export function keptAlpha(format: FormatId, { alpha = 'straight' }: Pick<OutputSettings, 'alpha'>): KeptAlpha {
  const facts = outputFormats[format]
  if (format === 'pair' || facts.alpha === 'none') return 'none'
  return facts.alpha === 'premultiplied' ? 'premultiplied' : facts.alpha === 'either' ? alpha : 'straight'
}

/**
 * A frame of a movie as it was written, decoded, as PNG of a width (px) with straight alpha.
 * @param frame from 0
 * @throws Refusal when it can't be decoded here
 */
export async function decodedFrame(
  file: string,
  { frame, rate, alpha, width }: { frame: number; rate: Rate; alpha: KeptAlpha; width: number },
): Promise<Buffer> {
  demandFfmpeg()
  // Half a frame early: the first picture at or behind it is the one, however its time was rounded.
  const from = Math.max(0, secondsOf(frame, rate) - secondsOf(1, rate) / 2)
  const size = `scale=${width}:-2:flags=area`
  // Made small with its colours multiplied by alpha: else those of clear pixels would come into the edges.
  const isLinear = file.endsWith('.exr')
  const filter = [
    ...(isLinear ? [fromLinear] : ['scale=in_color_matrix=bt709']),
    ...(alpha === 'none' ? [size] : ['format=gbrap']),
    ...(alpha === 'straight' || isLinear ? ['premultiply=inplace=1'] : []),
    ...(alpha === 'none' ? [] : [size, 'unpremultiply=inplace=1']),
  ].join(',')
  const decoder = decoders[extname(file)] ?? []
  const input = [...decoder, '-ss', from.toFixed(6), '-i', file, '-map', '0:v:0', '-frames:v', '1']
  const args = ['-v', 'error', ...input, '-vf', filter]
  const result = await execa('ffmpeg', [...args, '-f', 'image2pipe', '-c:v', 'png', 'pipe:1'], {
    encoding: 'buffer',
    reject: false,
    stdin: 'ignore',
    timeout: patience,
    killSignal: 'SIGKILL',
  })
  if (result.failed || !result.stdout?.length)
    throw new Refusal('movie.frame', `Frame ${frame} of the movie could not be decoded; fetch its file to look at it.`)
  return Buffer.from(result.stdout)
}
