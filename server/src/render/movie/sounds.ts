import { Refusal } from '@hoja/core/refusal'
import { execa } from 'execa'
import { inputOf } from '../demuxer.ts'

/** A sound beside the picture. */
export interface Played {
  file: string
  /** Seconds into the movie at which it begins. */
  at: number
  /** dB */
  level: number
}

/**
 * How loudspeakers' channels become two, by the W3C Web Audio API (1.1, "Channel Up-Mixing and Down-Mixing", speakers):
 * what a browser plays is what is rendered. ffmpeg's own mix would take 3 dB off a single channel.
 */
const mixes: Record<number, string> = {
  1: 'c0=c0|c1=c0',
  2: 'c0=c0|c1=c1',
  4: 'c0=0.5*c0+0.5*c2|c1=0.5*c1+0.5*c3',
  // Left, right, centre, low effects, and the two behind.
  6: 'c0=c0+0.70710678*c2+0.70710678*c4|c1=c1+0.70710678*c2+0.70710678*c5',
}

const channels = new Map<string, Promise<number>>()

/** Channels of a sound's first stream; a stored file never changes. @throws Refusal for what is no sound */
function channelsOf(file: string): Promise<number> {
  let found = channels.get(file)
  if (!found) {
    if (channels.size > 100) channels.clear()
    found = probed(file)
    found.catch(() => channels.delete(file))
    channels.set(file, found)
  }
  return found
}

async function probed(file: string): Promise<number> {
  const args = [
    '-v',
    'error',
    '-select_streams',
    'a:0',
    '-show_entries',
    'stream=channels',
    '-of',
    'csv=p=0',
    ...soundInput(file),
  ]
  const { stdout } = await execa('ffprobe', args, { reject: false })
  const count = Number.parseInt(stdout, 10)
  if (!(count > 0)) throw broken()
  return count
}

const broken = () => new Refusal('sound.broken', 'A sound of the template can not be read; put another in its place.')

function soundInput(file: string): string[] {
  const input = inputOf(file, 'sound')
  if (!input) throw broken()
  return input
}

/**
 * The sounds as ffmpeg's inputs, and the filters that make one of them, as long as the picture lasts.
 * @param from the number of the first one's input
 */
export async function sounding(
  sounds: readonly Played[],
  seconds: number,
  from: number,
): Promise<{ inputs: string[]; graph: string[] }> {
  const inputs = sounds.flatMap(({ file }) => soundInput(file))
  const each = await Promise.all(
    sounds.map(async ({ file, at, level }, i) => {
      // Of more channels than these, a browser plays the first two.
      const mix = mixes[await channelsOf(file)] ?? mixes[2]
      return `[${i + from}:a:0]pan=stereo|${mix},aresample=48000,volume=${level}dB,adelay=${Math.round(at * 48000)}S:all=1[s${i}]`
    }),
  )
  const mix = `${sounds.map((_, i) => `[s${i}]`).join('')}amix=inputs=${sounds.length}:normalize=0,apad,atrim=end=${seconds}[sound]`
  return { inputs, graph: sounds.length > 0 ? [...each, mix] : [] }
}
