import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { extname, join } from 'node:path'
import { demand } from '@hoja/core/refusal'
import { type Rate, rateText } from '@hoja/core/time'
import { execa } from 'execa'
import { temporaryFolder } from '../temporary.ts'
import { demandFfmpeg } from './ffmpeg.ts'

/**
 * Pictures in the order of their names as a movie that holds each as it is.
 * @param to where it is written @returns that
 * @throws Refusal for pictures of several kinds, or of a kind that no movie holds
 */
export async function writeSequenceMovie(
  pictures: ReadonlyMap<string, Uint8Array>,
  name: string,
  rate: Rate,
  to: string,
): Promise<string> {
  demandFfmpeg()
  const names = [...pictures.keys()].sort((a, b) => a.localeCompare(b, 'en', { numeric: true }))
  demand(names.length > 0, 'zip.empty', `"${name}" holds no pictures; a sequence is a zip of png or jpg files.`)
  const endings = new Set(names.map((own) => extname(own).toLowerCase().replace('jpeg', 'jpg')))
  const [ending] = endings
  demand(
    endings.size === 1 && (ending === '.png' || ending === '.jpg'),
    'sequence.kind',
    `"${name}" holds pictures of several kinds, or of one that makes no sequence; use png alone, or jpg alone.`,
  )
  const folder = temporaryFolder()
  try {
    mkdirSync(folder, { recursive: true })
    names.forEach((own, i) => {
      writeFileSync(join(folder, `${String(i).padStart(7, '0')}${ending}`), pictures.get(own)!)
    })
    const input = ['-framerate', rateText(rate), '-f', 'image2', '-i', join(folder, `%07d${ending}`)]
    const args = ['-v', 'error', '-y', ...input, '-c:v', 'copy', '-f', 'matroska', to]
    const result = await execa('ffmpeg', args, { reject: false })
    demand(!result.failed, 'sequence.broken', `"${name}" holds a damaged picture; save the sequence again.`)
    return to
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
