import { existsSync } from 'node:fs'
import { delimiter, join } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import { execa } from 'execa'
import { diskRefusal } from './disk.ts'

/** Whether ffmpeg can be called. */
export function hasFfmpeg(): boolean {
  return (process.env.PATH ?? '').split(delimiter).some((folder) => existsSync(join(folder, 'ffmpeg')))
}

/** @throws Refusal when movie files can't be written here */
export function demandFfmpeg(): void {
  if (!hasFfmpeg())
    throw new Refusal('ffmpeg.none', 'Movie files need ffmpeg, which is not installed here; install it, or choose PNG.')
}

/** What ffmpeg calls itself, for the history; undefined where there is none. */
export async function ffmpegVersion(): Promise<string | undefined> {
  const result = await execa('ffmpeg', ['-version'], { reject: false })
  return /^ffmpeg version (\S+)/.exec(result.stdout)?.[1]
}

/** Bytes that go over in one go: a hold is a thousand packets, and a call for each costs more than they do. */
const handedOver = 1 << 20

/** ffmpeg at work, fed through a pipe and read from another. */
export class Ffmpeg {
  private readonly child
  private gone = false
  private waiting: Uint8Array[] = []
  private bytes = 0
  readonly ended: Promise<void>

  /**
   * @param args without those that every call has; `pipe:0` is what is fed, `pipe:1` what is read
   * @param onFrame hears, once a second, how many frames have been written; then nothing can be read
   */
  constructor(args: readonly string[], onFrame?: (frames: number) => void) {
    demandFfmpeg()
    const told = onFrame ? ['-progress', 'pipe:1', '-stats_period', '1'] : []
    // An error while the end of a file is written would pass for success without -xerror.
    this.child = execa('ffmpeg', ['-hide_banner', '-loglevel', 'error', '-xerror', '-y', ...told, ...args], {
      stdin: 'pipe',
      buffer: { stdout: false, stderr: true },
      encoding: 'buffer',
      reject: false,
    })
    this.child.stdin.on('error', () => {
      this.gone = true
    })
    this.ended = this.child.then((result) => {
      this.gone = true
      if (!result.failed) return
      const said = Buffer.from(result.stderr ?? '')
        .toString('utf8')
        .trim()
      throw refusal(result.code, said || String(result.shortMessage))
    })
    if (onFrame)
      this.child.stdout.on('data', (said: Buffer) => {
        const frames = [...said.toString('utf8').matchAll(/^frame=\s*(\d+)/gm)].at(-1)?.[1]
        if (frames) onFrame(Number(frames))
      })
    // Heard where it is awaited; nobody may be waiting yet when it fails.
    this.ended.catch(() => {})
  }

  /**
   * Hands on bytes, which must stay as they are, no faster than they are taken. Nothing more is taken once it has ended,
   * which `ended` tells.
   */
  async feed(...pieces: readonly Uint8Array[]): Promise<void> {
    for (const piece of pieces) {
      this.waiting.push(piece)
      this.bytes += piece.length
    }
    if (this.bytes < handedOver || this.handOver() || this.gone) return
    const { stdin } = this.child
    await Promise.race([new Promise((done) => stdin.once('drain', done)), this.ended.catch(() => {})])
  }

  /** There is no more to feed. */
  close(): void {
    this.handOver()
    this.child.stdin.end()
  }

  /** Whether more is taken at once. */
  private handOver(): boolean {
    const pieces = this.waiting
    this.waiting = []
    this.bytes = 0
    if (this.gone) return true
    const { stdin } = this.child
    stdin.cork()
    let isTaken = true
    for (const piece of pieces) isTaken = stdin.write(piece)
    stdin.uncork()
    return isTaken
  }

  get output(): AsyncIterable<Uint8Array> {
    return this.child.stdout
  }

  kill(): void {
    if (!this.gone) this.child.kill('SIGKILL')
  }
}

function refusal(code: string | undefined, said: string): Refusal {
  if (code === 'ENOENT')
    return new Refusal('ffmpeg.none', 'ffmpeg is not there any more; install it again, or choose PNG.')
  const disk = diskRefusal(said)
  return disk ?? new Refusal('ffmpeg.failed', `ffmpeg could not write the movie: ${said.split('\n').pop()}`)
}
