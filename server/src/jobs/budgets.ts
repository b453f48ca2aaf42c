import { availableParallelism } from 'node:os'
import type { Task } from './tasks.ts'

const mb = 1024 * 1024

/** Processes that share their work: so that no kind of it stands in the way of another. */
export const lanes = {
  /** Files and texts that somebody brought. */
  read: { of: 'reading files and drafts', size: 3, memory: 1536 * mb },
  /** Pictures and movies that somebody brought, one at a time: each may take a gigabyte while it is decoded. */
  decode: { of: 'decoding pictures and movies', size: 1, memory: 2048 * mb },
  /** What is drawn and checked of what lies in the store. */
  /** Many pictures, one after another: a single one does not wait for all of them. */
  zips: { of: 'zips of pictures', size: 1, memory: 2048 * mb },
  proxies: { of: 'proxies of movies', size: 1, memory: 2048 * mb },
  frames: { of: 'frames of movies', size: 2, memory: 2048 * mb },
  backups: { of: 'backups', size: 1, memory: 1024 * mb },
  /** Nobody on air waits for a sheet of ten thousand rows. */
  air: { of: 'titles for the air', size: 2, memory: 1024 * mb },
  draw: {
    of: 'drawing and checking',
    size: Math.max(2, availableParallelism()),
    memory: 2048 * mb,
  },
} as const

export type Lane = keyof typeof lanes

/** Pieces of work that may wait in a lane. */
export const mostWaiting = 500

interface Budget {
  lane: Lane
  /** Seconds in all. */
  seconds: number
  /** What it is about when it had to be ended, as the first words of a sentence. */
  about: string
}

/** What each kind of work may take. */
export const budgets: Record<Task['kind'], Budget> = {
  readTable: { lane: 'read', seconds: 60, about: 'The file' },
  readRows: { lane: 'read', seconds: 60, about: 'The file' },
  readParts: { lane: 'read', seconds: 60, about: 'The file' },
  previewBook: { lane: 'read', seconds: 60, about: 'The file' },
  previewData: { lane: 'read', seconds: 60, about: 'The file' },
  takePackage: { lane: 'read', seconds: 60, about: 'The package' },
  previewPackage: { lane: 'read', seconds: 120, about: 'The package' },
  readDraft: { lane: 'read', seconds: 60, about: 'The template' },
  takeFont: { lane: 'read', seconds: 30, about: 'The font' },
  takeSound: { lane: 'read', seconds: 30, about: 'The sound' },
  fontFacts: { lane: 'read', seconds: 30, about: 'The font' },
  takePicture: { lane: 'decode', seconds: 60, about: 'The picture' },
  takePictures: { lane: 'zips', seconds: 600, about: 'The zip' },
  takeMovie: { lane: 'decode', seconds: 180, about: 'The movie' },
  takeFootage: { lane: 'decode', seconds: 180, about: 'The movie' },
  takeSequence: { lane: 'zips', seconds: 600, about: 'The zip' },
  makeProxy: { lane: 'proxies', seconds: 4 * 3600, about: 'The movie' },
  footageFrame: { lane: 'frames', seconds: 90, about: 'The movie' },
  programmeFrame: { lane: 'frames', seconds: 90, about: 'The picture' },
  checkProgramme: { lane: 'draw', seconds: 300, about: 'The programme' },
  readyTitles: { lane: 'air', seconds: 60, about: 'The title' },
  readValues: { lane: 'air', seconds: 5, about: 'The value' },
  check: { lane: 'draw', seconds: 300, about: 'The sheet' },
  rowPictures: { lane: 'draw', seconds: 120, about: 'The sheet' },
  contactSheets: { lane: 'draw', seconds: 600, about: 'The contact sheet' },
  signOffPdf: { lane: 'draw', seconds: 120, about: 'The sign-off sheet' },
  still: { lane: 'draw', seconds: 60, about: 'The picture' },
  loop: { lane: 'draw', seconds: 60, about: 'The preview' },
  near: { lane: 'draw', seconds: 60, about: 'The preview' },
  flatPictures: { lane: 'draw', seconds: 120, about: 'The picture' },
  flatDescription: { lane: 'draw', seconds: 120, about: 'The description' },
  backUp: { lane: 'backups', seconds: 4 * 3600, about: 'The backup' },
  zipPackage: { lane: 'draw', seconds: 120, about: 'The package' },
}

/** The table of budgets in Markdown. */
export function budgetsTable(): string {
  const lines = (Object.keys(lanes) as Lane[]).map((name) => {
    const own = Object.values(budgets).filter(({ lane }) => lane === name)
    const seconds = own.map((one) => one.seconds)
    const { memory } = lanes[name]
    const size = name === 'draw' ? 'as many as the machine has cores' : lanes[name].size
    return `| ${lanes[name].of} | ${size} | ${memory / mb} MB | ${Math.min(...seconds)} to ${Math.max(...seconds)} s |`
  })
  return ['| Work | Processes | Memory of each | Time, by what it is |', '| --- | --- | --- | --- |', ...lines].join(
    '\n',
  )
}
