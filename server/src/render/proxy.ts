import { closeSync, openSync, readFileSync, readSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { cached, LastFew } from '@hoja/core/cache'
import { Refusal } from '@hoja/core/refusal'
import { type Rate, rateText, secondsOf } from '@hoja/core/time'
import { execa } from 'execa'
import { demandFfmpeg, Ffmpeg } from './ffmpeg.ts'
import { type MovieStream, movieInput, streamOf } from './movieIn.ts'

/** What is known of a proxy once it is made. */
export interface ProxyFacts {
  width: number
  height: number
  rate: Rate
  frames: number
  sound: boolean
  /** Frames at which another shot begins, as ffmpeg's scene detection sees it. */
  cuts: number[]
}

/** The width of proxies, px: what a monitor beside a timeline shows. */
export const proxyWidth = 960
/** Frames from one that stands by itself to the next: few, so that any frame is near one. */
const apart = 12
/** How much of a picture changes at a cut, percent: what `scdet` suggests is 8 to 14 (ffmpeg-filters, scdet). */
const sceneThreshold = 10

/** The files of a proxy: its pictures, where each frame lies in them, its sound, and what is known of it. */
export const proxyFiles = (base: string) => ({
  pictures: `${base}.ivf`,
  index: `${base}.index`,
  sound: `${base}.ogg`,
  facts: `${base}.json`,
})

/**
 * Makes a movie small and quick to look through: VP8 in IVF, of which a browser decodes any frame, its sound beside it, and
 * finds its cuts on the way. What is there with its facts is whole.
 * @param base of its files @param onFrame hears how many frames are done, of how many
 * @throws Refusal for what can't be decoded
 */
export async function makeProxy(
  file: string,
  name: string,
  base: string,
  onFrame: (done: number, of: number) => void,
): Promise<ProxyFacts> {
  demandFfmpeg()
  const stream = await streamOf(file, name)
  const { rate, seconds, matrix } = stream
  const width = Math.min(proxyWidth, 2 * Math.round(stream.width / 2))
  const height = Math.max(2, 2 * Math.round((stream.height * width) / stream.width / 2))
  const paths = proxyFiles(base)
  const cutsFile = `${base}.cuts`
  const filter = [
    `fps=${rateText(rate)}`,
    // VP8 has the matrix of BT.601 (RFC 6386, section 9.2).
    `scale=${width}:${height}:flags=bilinear:in_color_matrix=${matrix}:out_color_matrix=bt601:out_range=tv`,
    'format=yuv420p',
    `scdet=threshold=${sceneThreshold}`,
    `metadata=mode=print:key=lavfi.scd.time:file='${cutsFile.replaceAll("'", '')}'`,
  ].join(',')
  const coder = ['-c:v', 'libvpx', '-deadline', 'realtime', '-cpu-used', '8', '-b:v', '4M', '-lag-in-frames', '0']
  const pictures = [
    '-map',
    '0:v:0',
    '-an',
    '-vf',
    filter,
    ...coder,
    '-g',
    String(apart),
    '-f',
    'ivf',
    `${paths.pictures}.part`,
  ]
  const input = movieInput(file, name)
  const sound = [
    '-map',
    '0:a:0',
    '-vn',
    '-ac',
    '2',
    '-c:a',
    'libopus',
    '-b:a',
    '128k',
    '-f',
    'ogg',
    `${paths.sound}.part`,
  ]
  const of = Math.max(1, Math.round((seconds * rate.num) / rate.den))
  const hasSound = await soundOf(file, name)
  const ffmpeg = new Ffmpeg([...input, ...pictures, ...(hasSound ? sound : [])], (done) =>
    onFrame(Math.min(done, of), of),
  )
  ffmpeg.close()
  await ffmpeg.ended
  const index = indexOf(`${paths.pictures}.part`)
  if (index.length === 0)
    throw new Refusal('movie.broken', `"${name}" is a damaged movie; save it again as MOV, MP4 or WebM.`)
  writeFileSync(paths.index, Buffer.from(index.buffer, index.byteOffset, index.byteLength))
  renameSync(`${paths.pictures}.part`, paths.pictures)
  if (hasSound) renameSync(`${paths.sound}.part`, paths.sound)
  const facts = { width, height, rate, frames: index.length, sound: hasSound, cuts: cutsIn(cutsFile) }
  rmSync(cutsFile, { force: true })
  writeFileSync(`${paths.facts}.part`, JSON.stringify(facts))
  renameSync(`${paths.facts}.part`, paths.facts)
  return facts
}

/** Frames that `metadata=print` tells of. */
function cutsIn(file: string): number[] {
  try {
    return [...readFileSync(file, 'utf8').matchAll(/^frame:(\d+)/gm)]
      .map(([, frame]) => Number(frame))
      .filter((n) => n > 0)
  } catch {
    return []
  }
}

/** Whether a movie has a sound. */
export async function soundOf(file: string, name: string): Promise<boolean> {
  const args = ['-v', 'error', '-select_streams', 'a:0', '-show_entries', 'stream=codec_type', '-of', 'csv=p=0']
  const { stdout } = await execa('ffprobe', [...args, ...movieInput(file, name)], { reject: false })
  return stdout.includes('audio')
}

/** Bytes of IVF before its first frame, and before each. */
const [fileHead, frameHead] = [32, 12]

/**
 * Where the frames of an IVF file lie: of each its length in bytes, doubled, and one more where it stands by itself. VP8's
 * first bit tells (RFC 6386, section 9.1).
 */
function indexOf(path: string): Uint32Array {
  const { size } = statSync(path)
  const file = openSync(path, 'r')
  const frames: number[] = []
  try {
    const head = Buffer.alloc(frameHead + 1)
    for (let at = fileHead; at + frameHead < size; ) {
      readSync(file, head, 0, head.length, at)
      const length = head.readUInt32LE(0)
      if (length === 0 || at + frameHead + length > size) break
      frames.push(2 * length + ((head[frameHead]! & 1) === 0 ? 1 : 0))
      at += frameHead + length
    }
  } finally {
    closeSync(file)
  }
  return Uint32Array.from(frames)
}

/** What is known of the movies whose frames were asked for last: to look again takes as long as to decode one. */
const streams = new LastFew<string, Promise<MovieStream>>(50)

/** ms that a frame may take. */
const patience = 60_000

/**
 * One frame of a movie, of its own size, as raw RGB with alpha that is full: what the composite is made of, in preview and in
 * render.
 * @param frame from 0, at the movie's rate
 * @throws Refusal when it can't be decoded
 */
export async function movieFrame(
  file: string,
  name: string,
  frame: number,
): Promise<{ width: number; height: number; rgba: Uint8ClampedArray }> {
  demandFfmpeg()
  const { width, height, rate, matrix } = await cached(streams, file, () => streamOf(file, name))
  // Half a frame early: the first picture at or behind it is the one, however its time was rounded.
  const from = Math.max(0, secondsOf(frame, rate) - secondsOf(1, rate) / 2)
  const filter = `scale=in_color_matrix=${matrix}:flags=accurate_rnd+full_chroma_int,format=rgba`
  const input = ['-v', 'error', ...(from > 0 ? ['-ss', from.toFixed(6)] : []), ...movieInput(file, name)]
  const args = [...input, '-map', '0:v:0', '-frames:v', '1', '-vf', filter, '-f', 'rawvideo', 'pipe:1']
  const result = await execa('ffmpeg', args, {
    encoding: 'buffer',
    reject: false,
    stdin: 'ignore',
    timeout: patience,
    killSignal: 'SIGKILL',
    maxBuffer: 4 * width * height + 1024,
  })
  if (result.failed || result.stdout?.length !== 4 * width * height)
    throw new Refusal(
      'movie.frame',
      `Frame ${frame} of "${name}" could not be decoded; save it again as MOV, MP4 or WebM.`,
    )
  // A copy: what was read lies in memory that may still grow, which no canvas takes.
  return { width, height, rgba: Uint8ClampedArray.from(result.stdout) }
}
