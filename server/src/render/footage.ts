import { judgeLevels, shareOutside, type VideoLevels } from '@hoja/core/output'
import { demand } from '@hoja/core/refusal'
import type { Rate } from '@hoja/core/time'
import { execa } from 'execa'
import { demandFfmpeg } from './ffmpeg.ts'
import { movieInput, streamOf } from './movieIn.ts'
import { soundOf } from './proxy.ts'

/** What is told of footage that can lie under titles. */
export interface Footage {
  width: number
  height: number
  rate: Rate
  seconds: number
  /** At its rate. */
  frames: number
  sound: boolean
  levels: VideoLevels
}

/** How many pictures a movie has, told by going through its packets. */
async function framesIn(file: string, name: string): Promise<number> {
  const args = ['-v', 'error', '-select_streams', 'v:0', '-count_packets', '-show_entries', 'stream=nb_read_packets']
  const { stdout } = await execa('ffprobe', [...args, '-of', 'csv=p=0', ...movieInput(file, name)], { reject: false })
  return Math.max(1, Number.parseInt(stdout, 10) || 1)
}

/** Pictures that the levels are judged by, and their size: smaller ones, which evens out what is no wider than a pixel. */
const lookedAt = 50
const small = { width: 480, height: 270 }

/**
 * Looks at a movie: its size and length, and its levels by EBU R 103.
 * @throws Refusal for what is no movie
 */
export async function probeFootage(file: string, name: string): Promise<Footage> {
  demandFfmpeg()
  const { width, height, rate, seconds } = await streamOf(file, name)
  const every = Math.max(1 / 25, seconds / lookedAt)
  // Samples as they are: to turn them into another matrix would cut off what lies outside.
  const filter = `fps=${1 / every},scale=${small.width}:${small.height}:flags=area,format=yuv444p`
  const args = [
    '-v',
    'error',
    ...movieInput(file, name),
    '-an',
    '-map',
    '0:v:0',
    '-vf',
    filter,
    '-f',
    'rawvideo',
    'pipe:1',
  ]
  const result = await execa('ffmpeg', args, { encoding: 'buffer', reject: false, stdin: 'ignore', maxBuffer: 1 << 28 })
  const pixels = small.width * small.height
  const count = Math.floor((result.stdout?.length ?? 0) / (3 * pixels))
  demand(
    count > 0 && !result.failed,
    'movie.broken',
    `"${name}" is a damaged movie; save it again as MOV, MP4 or WebM.`,
  )
  const shares = Array.from({ length: count }, (_, i) => {
    const plane = (n: number) => result.stdout.subarray((3 * i + n) * pixels, (3 * i + n + 1) * pixels)
    return shareOutside(plane(0), plane(1), plane(2))
  })
  const [frames, sound] = await Promise.all([framesIn(file, name), soundOf(file, name)])
  return { width, height, rate, seconds, frames, sound, levels: judgeLevels(shares) }
}
