import { execFileSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { designFrom, type Medium, type Programme, withFootage, withMedium, withTitles } from '@hoja/core/programme'
import { programmeDocument } from '@hoja/core/session'
import type { Template } from '@hoja/core/template'
import { zipSync } from 'fflate'
import { PNG } from 'pngjs'
import { type Client, startServer, temporaryFolder, until } from '../testing/running.ts'

let hoja: Client
let folder: string
beforeAll(async () => {
  hoja = await startServer()
  folder = temporaryFolder()
  // Two shots of two seconds, red and blue, with a tone: 64 x 36 at 25.
  const source = ['-f', 'lavfi', '-i', 'color=red:s=64x36:r=25:d=2', '-f', 'lavfi', '-i', 'color=blue:s=64x36:r=25:d=2']
  const tone = ['-f', 'lavfi', '-i', 'sine=f=440:d=4']
  const join2 = ['-filter_complex', '[0][1]concat=n=2:v=1[v]', '-map', '[v]', '-map', '2:a', '-pix_fmt', 'yuv420p']
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    ...source,
    ...tone,
    ...join2,
    '-c:v',
    'libx264',
    '-c:a',
    'aac',
    join(folder, 'two.mp4'),
  ])
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...tone, join(folder, 'tone.wav')])
})
afterAll(() => hoja.end())

const refusal = ({ status, body }: { status: number; body: unknown }) => [status, (body as { detail: string }).detail]
const picture = (red: number): Uint8Array => {
  const png = new PNG({ width: 64, height: 36 })
  for (let i = 0; i < png.data.length; i += 4) png.data.set([red, 128, i & 255, 255], i)
  return PNG.sync.write(png)
}
const bytes = async (path: string, headers: Record<string, string> = {}) => {
  const response = await fetch(`${hoja.running.address}/api${path}`, { headers })
  return { status: response.status, body: Buffer.from(await response.arrayBuffer()) }
}
async function programme(name: string): Promise<{ id: number; programme: Programme }> {
  const about = { name, width: 64, height: 36, rate: '25', start: '01:00:00:00' }
  const { id } = (await hoja.send('POST', '/programmes', about)).body as { id: number }
  return (await hoja.get(`/programmes/${id}`)).body as { id: number; programme: Programme }
}
const add = async (id: number, name: string, data: Uint8Array) =>
  (await hoja.upload(`/programmes/${id}/media`, name, data)).body as Medium & { sha256: string; frames: number }

test('a movie is kept as it came; its proxy has every frame, its sound, and its cuts', async () => {
  const { id } = await programme('Movies')
  const medium = await add(id, 'two.mp4', readFileSync(join(folder, 'two.mp4')))
  expect(medium).toMatchObject({
    kind: 'movie',
    name: 'two.mp4',
    frames: 100,
    width: 64,
    height: 36,
    sound: true,
    rate: { num: 25, den: 1 },
  })
  const ready = await until(
    async () => (await hoja.get(`/footage/${medium.sha256}`)).body as { state: string; cuts: number[]; frames: number },
    ({ state }) => state !== 'making',
  )
  expect(ready).toMatchObject({ state: 'ready', frames: 100, sound: true, cuts: [50] })
  const index = await bytes(`/footage/${medium.sha256}/index`)
  const entries = new Uint32Array(index.body.buffer, index.body.byteOffset, index.body.length / 4)
  expect(entries).toHaveLength(100)
  expect(entries[0]! & 1).toBe(1)
  // IVF: its signature, VP8, and as many bytes as the index tells.
  const ivf = await bytes(`/footage/${medium.sha256}/pictures.ivf`)
  expect(ivf.body.subarray(0, 4).toString() + ivf.body.subarray(8, 12).toString()).toBe('DKIFVP80')
  expect(ivf.body.length).toBe(32 + entries.reduce((sum, entry) => sum + 12 + (entry >> 1), 0))
  const part = await bytes(`/footage/${medium.sha256}/pictures.ivf`, { Range: 'bytes=0-3' })
  expect([part.status, part.body.toString()]).toEqual([206, 'DKIF'])
  expect((await bytes(`/footage/${medium.sha256}/sound.ogg`)).body.subarray(0, 4).toString()).toBe('OggS')
  // Exact frames, on both sides of the cut.
  for (const [frame, channel] of [
    [0, 0],
    [49, 0],
    [50, 2],
    [99, 2],
  ] as const) {
    const { data, width } = PNG.sync.read((await bytes(`/footage/${medium.sha256}/frames/${frame}.png`)).body)
    expect([frame, width, data[channel]! > 240, data[2 - channel]! < 16]).toEqual([frame, 64, true, true])
  }
  expect(refusal(await hoja.get(`/footage/${medium.sha256}/frames/4000.png`))[1]).toContain('could not be decoded')
  expect(refusal(await hoja.get(`/footage/${'0'.repeat(64)}`))[0]).toBe(404)
})

test('a zip of pictures is a sequence of them to the byte; a still and a sound are what they are', async () => {
  const { id, programme: empty } = await programme('Sequences')
  const files = Object.fromEntries([3, 10, 1, 2].map((n) => [`shot.${n}.png`, picture(n * 20)]))
  const medium = await add(id, 'shot.zip', zipSync(files))
  expect(medium).toMatchObject({ kind: 'movie', frames: 4, width: 64, sound: false })
  const { programme: next, id: key } = withMedium(empty, medium)
  const placed = withFootage(next, key, 2, 'f1')
  const { done } = programmeDocument.apply(empty, { change: () => placed.programme })
  await hoja.send('PATCH', `/programmes/${id}`, { revision: 1, patches: 'patches' in done ? done.patches : [] })
  // In the order of their numbers, and black before them.
  const reds: number[] = []
  for (let frame = 1; frame < 6; frame++) {
    const { data } = PNG.sync.read((await bytes(`/programmes/${id}/frames/${frame}.png`)).body)
    reds.push(data[0]!)
    if (frame > 1) expect([...data.subarray(0, 8)]).toEqual([reds.at(-1), 128, 0, 255, reds.at(-1), 128, 4, 255])
  }
  expect(reds).toEqual([0, 20, 40, 60, 200])
  expect(await add(id, 'still.png', picture(5))).toMatchObject({ kind: 'still', width: 64, height: 36 })
  expect(await add(id, 'tone.wav', readFileSync(join(folder, 'tone.wav')))).toMatchObject({
    kind: 'sound',
    frames: 100,
  })
  for (const [name, data, words] of [
    ['no.mp4', picture(1), 'not a movie that can be read'],
    ['no.zip', new Uint8Array(9), 'not a zip'],
    ['mixed.zip', zipSync({ 'a.png': picture(1), 'b.jpg': picture(2) }), 'pictures of several kinds'],
    ['none.zip', zipSync({ 'a.txt': new Uint8Array(3) }), 'holds no pictures'],
  ] as const)
    expect([name, refusal(await hoja.upload(`/programmes/${id}/media`, name, data))[1]]).toEqual([
      name,
      expect.stringContaining(words),
    ])
})

test('a review movie has every frame, the sound, and its timecode', async () => {
  const { id, programme: empty } = await programme('Review')
  const { versions } = (await hoja.get('/templates/speaker')).body as { versions: { id: number }[] }
  const version = (await hoja.get(`/versions/${versions[0]!.id}`)).body as {
    id: number
    number: number
    template: string
    content: Template
  }
  const medium = await add(id, 'two.mp4', readFileSync(join(folder, 'two.mp4')))
  expect(refusal(await hoja.send('POST', `/programmes/${id}/review`, {}))[1]).toContain('no title in the programme yet')
  const { programme: next, id: key } = withMedium(empty, medium)
  const footed = withFootage(next, key, 0, 'f1').programme
  const design = designFrom(footed, version, version.content)
  const title = {
    at: 10,
    frames: 60,
    design: String(version.id),
    words: { cells: { name: 'Io Marrec', role: 'Pilot' } },
  }
  const titled = withTitles(footed, [title], { track: 't1', designs: { [version.id]: design } }).programme
  const shot = withMedium(titled, { kind: 'shot', name: 'River mouth', frames: 20, scene: 0 })
  const whole = withFootage(shot.programme, shot.id, 110, 'f1').programme
  const { done } = programmeDocument.apply(empty, { change: () => whole })
  await hoja.send('PATCH', `/programmes/${id}`, { revision: 1, patches: 'patches' in done ? done.patches : [] })
  const rendered = async () => {
    const { id: output } = (await hoja.send('POST', `/programmes/${id}/review`, {})).body as { id: number }
    return until(
      async () =>
        (await hoja.get(`/outputs/${output}`)).body as {
          id: number
          state: string
          titles: { state: string; reason: string; found: number; file: string }[]
        },
      ({ state }) => state === 'done',
    )
  }
  const first = await rendered()
  expect(first.titles).toMatchObject([{ state: 'done', reason: '', file: 'Review_review.mp4' }])
  const zip = await bytes(`/outputs/${first.id}/rows/1/files/0`)
  const file = join(folder, 'review.mp4')
  writeFileSync(file, zip.body)
  const probed = JSON.parse(
    execFileSync('ffprobe', [
      '-v',
      'error',
      '-count_frames',
      '-show_entries',
      'stream=codec_name,nb_read_frames,width:stream_tags=timecode',
      '-of',
      'json',
      file,
    ]).toString(),
  ) as { streams: { codec_name?: string; nb_read_frames?: string; width?: number; tags?: { timecode?: string } }[] }
  expect(probed.streams.find(({ codec_name }) => codec_name === 'h264')).toMatchObject({
    nb_read_frames: '130',
    width: 64,
    tags: { timecode: '01:00:00:00' },
  })
  expect(probed.streams.some(({ codec_name }) => codec_name === 'aac')).toBe(true)
  const pixel = (frame: number) => {
    const at = ['-ss', String((frame - 0.5) / 25)]
    return [
      ...execFileSync('ffmpeg', [
        '-v',
        'error',
        ...at,
        '-i',
        file,
        '-frames:v',
        '1',
        '-vf',
        'crop=2:2:2:2',
        '-f',
        'rawvideo',
        '-pix_fmt',
        'rgb24',
        'pipe:1',
      ]).subarray(0, 3),
    ]
  }
  // Red, blue, nothing, and the drawn shot's sky: frame for frame.
  const [red, blue, black, sky] = [pixel(49), pixel(51), pixel(105), pixel(120)]
  expect([red[0]! > 200, red[2]! < 60, blue[2]! > 200, blue[0]! < 60, Math.max(...black) < 30, sky[0]! > 120]).toEqual(
    Array(6).fill(true),
  )
})
