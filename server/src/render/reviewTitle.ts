import { randomUUID } from 'node:crypto'
import { rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { localMoment } from '@hoja/core/data'
import type { OutputSettings } from '@hoja/core/output'
import { lengthOf } from '@hoja/core/programme'
import { hashOf, hashOfFiles, makeFolder } from '../store/files.ts'
import { aboutFile, type Finished, finishedFolder, readFinished } from './finished.ts'
import type { Raster } from './raster.ts'
import { readReview, writeReview } from './review.ts'
import { type Source, storedFile } from './scenes.ts'
import { engine, movedIntoPlace, type TitleResult } from './title.ts'

/** What a renderer is told of a review. */
interface ReviewTask {
  source: Source
  settings: OutputSettings
  /** Where finished titles lie. */
  root: string
}

/** Renders a programme as a movie to be looked at; one that is there already, of the same programme, is found again. */
export async function renderReview(
  { source, settings, root }: ReviewTask,
  raster: Raster,
  onFrame: (done: number, of: number) => void,
): Promise<TitleResult> {
  const { document, timecode } = settings.review!
  const now = settings.now ?? localMoment(new Date())
  const key = hashOf(JSON.stringify({ engine, review: document, timecode, now: settings.now ?? null }))
  const known = readFinished(root, key)
  if (known) return { state: 'done', finished: known, found: true, values: {} }
  const own = readReview(storedFile(source, document))
  const folder = finishedFolder(root, key)
  const work = `${folder}.${randomUUID()}.part`
  const scratch = join(work, 'scratch')
  makeFolder(scratch)
  try {
    const file = join(work, 'title.mp4')
    const stored = (sha256: string) => storedFile(source, sha256)
    await writeReview(
      { ...own, storedFile: stored, files: source.files, timecode, now, work: scratch, onFrame },
      file,
      raster,
    )
    const frames = lengthOf(own.programme)
    const { rate } = own.programme.picture
    const about = {
      file: 'title.mp4',
      suffix: '.mp4',
      bytes: statSync(file).size,
      sha256: await hashOfFiles(file),
      frames,
    }
    const finished: Finished = { key, format: 'mp4', files: [about], frames, pictures: frames, rate }
    writeFileSync(join(work, aboutFile), JSON.stringify(finished), { flush: true })
    rmSync(scratch, { recursive: true })
    movedIntoPlace(work, folder)
    return { state: 'done', finished, found: false, values: {} }
  } finally {
    rmSync(work, { recursive: true, force: true })
  }
}
