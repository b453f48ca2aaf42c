import { Refusal } from '@hoja/core/refusal'
import { diskRefusal } from '../render/disk.ts'
import { boundMemory } from './memoryBound.ts'
import type { Of, Results, Said, Task } from './tasks.ts'

// What a kind of work takes is read when it is asked for: a lane does one of these, and starts so much sooner.
const reading = () => import('./reading.ts')
const drawing = () => import('./drawing.ts')
const intake = async (files: string) => new (await import('./intake.ts')).Intake(files)

type Work = { [K in Task['kind']]: (task: Of<K>) => Promise<Results[K]> }

const work: Work = {
  readTable: async (task) => (await reading()).readTable(task, (rows) => tell({ kind: 'piece', rows })),
  readRows: async (task) => (await reading()).readRows(task),
  readParts: async (task) => (await reading()).readParts(task),
  previewBook: async (task) => (await reading()).previewBook(task),
  previewData: async (task) => (await reading()).previewData(task),
  readDraft: async (task) => (await reading()).readDraft(task),
  takePackage: async ({ file, files, instead }) => (await intake(files)).package(file, instead),
  takeFont: async ({ file, files }) => (await intake(files)).font(file),
  takeSound: async ({ file, files }) => (await intake(files)).sound(file),
  takePicture: async ({ file, files }) => (await intake(files)).picture(file),
  takePictures: async ({ file, files }) => (await intake(files)).pictures(file),
  takeMovie: async ({ file, files }) => (await intake(files)).movie(file),
  takeFootage: async ({ file, files }) => (await intake(files)).footage(file),
  fontFacts: async ({ files, sha256 }) => (await intake(files)).fontFacts(sha256),
  previewPackage: async (task) => (await drawing()).previewPackage(task),
  check: async (task) => (await drawing()).check(task),
  rowPictures: async (task) => (await drawing()).rowPictures(task),
  contactSheets: async (task) => (await drawing()).contactSheets(task),
  signOffPdf: async ({ sheet }) => (await import('../signoff/pdf.ts')).signOffPdf(sheet),
  still: async (task) => (await drawing()).still(task),
  loop: async (task) => (await drawing()).loop(task),
  near: async (task) => (await drawing()).near(task),
  flatPictures: async (task) => (await drawing()).flatPictures(task),
  flatDescription: async (task) => (await drawing()).flatDescription(task),
  zipPackage: async (task) => (await import('./packing.ts')).zipPackage(task),
  takeSequence: async ({ file, files, rate }) => (await intake(files)).sequence(file, rate),
  async makeProxy({ file, base }) {
    const { makeProxy } = await import('../render/proxy.ts')
    await makeProxy(file.path, file.name, base, (done, of) => {
      say({ kind: 'piece', rows: [JSON.stringify({ done, of })] })
    })
    return null
  },
  footageFrame: async (task) => (await import('./compositing.ts')).footageFrame(task),
  programmeFrame: async (task) => (await import('./compositing.ts')).programmeFrame(task),
  checkProgramme: async (task) => (await import('./compositing.ts')).checkProgramme(task),
  readyTitles: async (task) => (await import('./airing.ts')).readyTitles(task),
  readValues: async (task) => (await import('./airing.ts')).readValues(task),
  async backUp({ data, to }) {
    const { backUp } = await import('../backup/backup.ts')
    let told = 0
    await backUp(data, to, (done, of) => {
      if (Date.now() - told < 100) return
      told = Date.now()
      say({ kind: 'piece', rows: [JSON.stringify({ done, of })] })
    })
    return null
  },
}

let next: (() => void) | undefined

function say(said: Said): void {
  process.send?.(said)
}

/** Says something, and waits until it was taken. */
function tell(said: Said): Promise<void> {
  return new Promise((done) => {
    next = done
    say(said)
  })
}

/** A process that has become large is replaced: what native code has taken it does not always give back. */
const tiredBytes = 400 * 1024 * 1024

/** Gives back what the work took of memory that is freed by hand, where it took any. */
const release = async () => (await import('../render/memory.ts')).releaseAll()

process.on('message', async (message: Task | 'next') => {
  if (message === 'next') {
    next?.()
    return
  }
  try {
    const value = await (work[message.kind] as (task: Task) => Promise<unknown>)(message)
    await release()
    say({ kind: 'result', value, tired: process.memoryUsage.rss() > tiredBytes })
  } catch (error) {
    const refusal = error instanceof Refusal ? error : diskRefusal(error)
    try {
      await release()
      say(
        refusal
          ? { kind: 'refusal', code: refusal.code, message: refusal.message, status: refusal.status, tired: false }
          : { kind: 'defect', message: (error as Error).stack ?? String(error) },
      )
    } catch {
      process.exit(1)
    }
  }
})
// Whoever gave the work is gone, and nobody waits for it.
process.on('disconnect', () => process.exit())
boundMemory(Number(process.argv[2]))
say({ kind: 'ready' })
