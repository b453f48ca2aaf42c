import { execFileSync } from 'node:child_process'
import { readdirSync, rmSync } from 'node:fs'
import { type OutputSettings, templateFor } from '@hoja/core/output'
import { Scene } from '@hoja/core/scene'
import type { Template } from '@hoja/core/template'
import { openPackage } from '../packageFolder.ts'
import { probed } from '../testing/decoded.ts'
import { demo, temporaryFolder } from '../testing/running.ts'
import { loadAssets } from './assets.ts'
import { titleFiles } from './deliver.ts'
import type { Finished } from './finished.ts'
import { Raster } from './raster.ts'
import { renderTitle } from './title.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const opened = await openPackage(`${demo}/templates/speaker`)
const small = templateFor({ size: { width: 480, height: 270 } }, opened.template)
const assets = await loadAssets(opened.template, (entry) => opened.files[entry.file]!)
const raster = new Raster()

/** Renders a row of the demo, of a template whose Hold gives as told. */
async function rendered(
  settings: OutputSettings,
  hold: Partial<Template['spans']['hold']> = {},
): Promise<{ finished: Finished; files: string[] }> {
  const { spans } = small
  const template = { ...small, spans: { ...spans, hold: { ...spans.hold, ...hold } } }
  const scene = new Scene(template, assets)
  const result = await renderTitle(
    {
      scene,
      drawn: scene,
      designed: template,
      document: JSON.stringify(hold),
      match: {},
      row: { cells: {}, own: { name: 'Io Marrec', role: 'Keeper' } },
      n: 1,
      settings,
      pictures: [],
      root: folder,
      storedFile: (sha256) => sha256,
    },
    raster,
  )
  if (result.state !== 'done') throw new Error('held')
  return { finished: result.finished, files: [...titleFiles(folder, result.finished, 'io')].map(({ from }) => from) }
}

const sums = (file: string) =>
  execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'framemd5', '-'], { encoding: 'utf8' })
    .split('\n')
    .flatMap((line) => (line.startsWith('0,') ? [line.split(',').pop()!.trim()] : []))

const frames = 90
const handles = { before: 4, after: 6 }
// FFV1 keeps every byte, so frames of the same sum are the same frames.
test.each([
  ['freeze', {}],
  ['loop', { frames: 30, loop: { from: 5, to: 25 } }],
  ['stretch', {}],
] as const)(
  'of a Hold that gives by %s: In, Hold and Out behind one another are the whole title',
  async (gives, more) => {
    const settings: OutputSettings = { format: 'mkv', frames, handles }
    const [whole] = (await rendered(settings, { gives, ...more })).files
    const { finished, files } = await rendered({ ...settings, pieces: true }, { gives, ...more })
    expect(finished.files.map(({ piece, suffix }) => [piece, suffix])).toEqual([
      ['in', '_in.mkv'],
      ['hold', '_hold.mkv'],
      ['out', '_out.mkv'],
    ])
    const [arriving, hold, leaving] = files.map(sums) as [string[], string[], string[]]
    const want = sums(whole!)
    const rest = want.length - arriving.length - leaving.length
    // As often as it goes: a hold of any other length goes on in the same way.
    const held = Array.from({ length: rest }, (_, i) => hold[i % hold.length]!)
    expect([...arriving, ...held, ...leaving]).toEqual(want)
    expect(want).toHaveLength(frames + 10)
    for (const [i, file] of files.entries())
      expect(Number(probed(file).streams[0]!.nb_read_frames)).toBe(finished.files[i]!.frames)
  },
)

test('sequences come in pieces, too, and timecode goes on from one to the next', async () => {
  const { finished } = await rendered({ format: 'tga', frames: 40, pieces: true })
  expect(finished.files.map(({ suffix, frames: own, sequence }) => [suffix, own, sequence!.frames.length])).toEqual([
    ['_in', 15, 15],
    ['_hold', 1, 1],
    ['_out', 15, 15],
  ])
  const names = [...titleFiles(folder, finished, 'io')].map(({ path }) => path)
  expect([names[0], names[15], names[16]]).toEqual([
    'io_in/io_in_0000.tga',
    'io_hold/io_hold_0000.tga',
    'io_out/io_out_0000.tga',
  ])
  const { files } = await rendered({ format: 'mov-rle', frames: 40, pieces: true, timecode: '10:00:00:00' })
  const told = files.map((file) => probed(file).streams.find(({ tags }) => tags?.timecode)?.tags?.timecode)
  expect(told).toEqual(['10:00:00:00', '10:00:00:15', '10:00:01:00'])
  expect(readdirSync(folder).length).toBeGreaterThan(0)
})

test('a still shows the frame that is asked for, the poster, or the settled one', async () => {
  const sum = async (at?: OutputSettings['at']) =>
    sums((await rendered({ format: 'still', ...(at === undefined ? {} : { at }) })).files[0]!)[0]
  const [layout, poster, early] = [await sum(), await sum('poster'), await sum(4)]
  const [sequence] = (await rendered({ format: 'mkv' })).files
  // The same pixels, told by another decoder's order of channels.
  expect(new Set([layout, early]).size).toBe(2)
  expect(poster).toBeDefined()
  expect(probed(sequence!).streams[0]!.nb_read_frames).toBe('125')
  const tiff = await rendered({ format: 'still-tiff', alpha: 'premultiplied' })
  expect(probed(tiff.files[0]!).streams[0]).toMatchObject({ codec_name: 'tiff', pix_fmt: 'rgba' })
  const webp = await rendered({ format: 'still-webp' })
  expect(probed(webp.files[0]!).streams[0]).toMatchObject({ codec_name: 'webp', width: 480 })
})
