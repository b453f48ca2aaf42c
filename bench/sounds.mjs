import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseBuffer } from 'music-metadata'
import { readSoundHeader } from '../core/dist/formats/index.js'
import { sideBySide } from './kit.mjs'

const kinds = {
  'a.wav': [],
  'a.mp3': ['-c:a', 'libmp3lame'],
  'a.ogg': ['-c:a', 'libvorbis'],
  'b.ogg': ['-c:a', 'libopus'],
}

/** The length of a minute of sound by our reader and by a kept library, and what either says of half of the file. */
export async function benchSounds() {
  const folder = mkdtempSync(join(tmpdir(), 'hoja-bench-'))
  const figures = []
  const ratios = []
  try {
    for (const [name, coding] of Object.entries(kinds)) {
      const file = join(folder, name)
      spawnSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=440:d=60', ...coding, file])
      const bytes = new Uint8Array(readFileSync(file))
      const half = bytes.slice(0, bytes.length / 2)
      const theirs = async (b) =>
        (await parseBuffer(b, undefined, { duration: true, skipCovers: true })).format.duration
      const cut = () => {
        try {
          return `${readSoundHeader(half, name).seconds.toFixed(1)} s`
        } catch {
          return 'refused'
        }
      }
      const seconds = [readSoundHeader(bytes, name).seconds, await theirs(bytes)]
      figures.push(
        `${name}: ${seconds.map((s) => s.toFixed(3)).join(' and ')} s; half of it is ${cut()}, music-metadata takes it for ${(await theirs(half)).toFixed(1)} s`,
      )
      const works = {
        ours: () => {
          for (let i = 0; i < 20; i++) readSoundHeader(bytes, name)
        },
        theirs: async () => {
          for (let i = 0; i < 20; i++) await theirs(bytes)
        },
      }
      const times = await sideBySide(works, 21, 5)
      const ratio = (by) => times.ours[by] / times.theirs[by]
      ratios.push({ claim: `of its time: ${name}`, want: 0.5, median: ratio('median'), least: ratio('least') })
    }
  } finally {
    rmSync(folder, { recursive: true })
  }
  return { name: 'sounds: their lengths, by ours and by music-metadata (= 1)', figures, ratios }
}
