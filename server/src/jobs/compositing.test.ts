import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { emptyProgramme, type Medium, titlesOf, withFootage, withMedium, withTitles } from '@hoja/core/programme'
import { allParts, type Template } from '@hoja/core/template'
import { PNG } from 'pngjs'
import { openPackage } from '../packageFolder.ts'
import { demo, temporaryFolder } from '../testing/running.ts'
import { checkProgramme } from './compositing.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const files = join(folder, 'files')

const shaOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')
/** Keeps a file as the server does. */
function kept(bytes: Uint8Array): string {
  const sha256 = shaOf(bytes)
  const path = join(files, sha256.slice(0, 2), sha256)
  mkdirSync(dirname(path), { recursive: true })
  writeFileSync(path, bytes)
  return sha256
}

const size = { width: 64, height: 36 }
const rate = { num: 25, den: 1 }

function movie(colour: string): Medium {
  const path = join(folder, `${colour}.mp4`)
  const source = `color=${colour}:size=64x36:rate=25:duration=8`
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', source, '-c:v', 'libx264', path])
  const bytes = readFileSync(path)
  return { kind: 'movie', name: `${colour}.mp4`, sha256: kept(bytes), frames: 200, ...size, rate, sound: false }
}

function still(level: number): Medium {
  const png = new PNG(size)
  for (let i = 0; i < png.data.length; i += 4) png.data.set([level, level, level, 255], i)
  return { kind: 'still', name: `${level}.png`, sha256: kept(PNG.sync.write(png)), ...size }
}

/** The demo's speaker as white words alone. */
async function bareWords(): Promise<Template> {
  const opened = await openPackage(join(demo, 'templates/speaker'))
  for (const bytes of Object.values(opened.files)) kept(bytes)
  const template = structuredClone(opened.template)
  for (const part of allParts(template.parts)) {
    if (part.kind === 'text') Object.assign(part.style, { colour: '#ffffff', shadows: [] })
    else if (part.kind === 'picture') part.unseen = 'No mark here.'
    else if (part.kind !== 'group') Object.assign(part.style, { opacity: 0 })
  }
  return template
}

test('titles are looked at over the movies and stills that are kept; one that cannot be decoded takes nothing away', async () => {
  const template = await bareWords()
  const damaged: Medium = { ...movie('black'), name: 'damaged.mp4', sha256: kept(Buffer.from('no movie')) } as Medium
  const media = [movie('white'), movie('black'), still(255), still(0), damaged]
  let programme = emptyProgramme('Thursday', { ...template.frame }, { at: 0, drop: false })
  const track = programme.tracks.find(({ kind }) => kind === 'footage')!.id
  for (const [i, medium] of media.entries()) {
    const added = withMedium(programme, medium)
    programme = withFootage(added.programme, added.id, i * 200, track).programme
  }
  const own = { template: 'speaker', name: 'Speaker', number: 1, in: 15, out: 15, frames: 100 }
  const titles = media.map((_, i) => ({
    at: i * 200 + 5,
    frames: 100,
    design: '1',
    words: { cells: { name: 'Io Marrec', role: `Pilot ${i}` } },
  }))
  programme = withTitles(programme, titles, { track: 't1', designs: { 1: own } }).programme
  const findings = await checkProgramme({
    kind: 'checkProgramme',
    programme,
    sources: { 1: { kind: 'draft', document: 'bare', files, template } },
    files,
    known: [],
    now: '2026-05-07T12:00',
  })
  const unseen = titlesOf(programme).map(({ id }) =>
    (findings.get(id) ?? []).filter(({ code }) => code === 'seen').map(({ message }) => message),
  )
  const told = ['Role', 'Name'].map((name) => `${name} and the footage under it are the same colour.`)
  expect(unseen).toEqual([told, [], told, [], []])
})
