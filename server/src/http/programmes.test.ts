import {
  designFrom,
  moved,
  type Programme,
  type ProgrammeChange,
  readProgramme,
  titlesOf,
  trimmed,
  withCells,
  withMarker,
  withTitles,
} from '@hoja/core/programme'
import { programmeDocument } from '@hoja/core/session'
import type { Template } from '@hoja/core/template'
import { type Client, startServer, until } from '../testing/running.ts'

let hoja: Client
let version: { id: number; number: number; template: string; content: Template }
beforeAll(async () => {
  hoja = await startServer()
  const { versions } = (await hoja.get('/templates/speaker')).body as { versions: { id: number }[] }
  version = (await hoja.get(`/versions/${versions[0]!.id}`)).body as typeof version
})
afterAll(() => hoja.end())

interface Detail {
  id: number
  revision: number
  programme: Programme
}
const refusal = ({ status, body }: { status: number; body: unknown }) => [status, (body as { detail: string }).detail]
const about = { width: 640, height: 360, rate: '25', start: '10:00:00:00' }

async function made(name: string): Promise<Detail> {
  const { body } = await hoja.send('POST', '/programmes', { name, ...about })
  return (await hoja.get(`/programmes/${(body as Detail).id}`)).body as Detail
}
/** Makes a change as a page does: it goes over as the places that it changed. */
async function changed(detail: Detail, change: ProgrammeChange): Promise<Detail> {
  const { state, done } = programmeDocument.apply(detail.programme, { change })
  const patches = 'patches' in done ? done.patches : []
  const { body, status } = await hoja.send('PATCH', `/programmes/${detail.id}`, { revision: detail.revision, patches })
  expect([status, body]).toMatchObject([200, { revision: detail.revision + 1 }])
  return { ...detail, revision: detail.revision + 1, programme: state }
}
const withSpeakers = (names: readonly string[]) => (programme: Programme) => {
  const key = String(version.id)
  const template = version.content
  const designs = { [key]: designFrom(programme, version, template) }
  const titles = names.map((name, i) => ({
    at: 100 + i * 100,
    frames: 75,
    design: key,
    words: { cells: { name, role: 'Pilot' } },
  }))
  return withTitles(programme, titles, { track: 't1', designs }).programme
}

test('a programme is kept as it is edited, on its revision', async () => {
  let detail = await made('Thursday')
  expect(detail).toMatchObject({
    revision: 1,
    programme: { start: { at: 900_000, drop: false }, picture: { width: 640 } },
  })
  const before = detail
  detail = await changed(detail, withSpeakers(['Io Marrec', 'Bo']))
  detail = await changed(detail, (p) => trimmed(p, titlesOf(p)[0]!.id, 'end', 160))
  const stored = ((await hoja.get(`/programmes/${detail.id}`)).body as Detail).programme
  expect(stored).toEqual(JSON.parse(JSON.stringify(detail.programme)))
  expect(readProgramme(stored)).toBe(stored)
  expect((await hoja.get('/programmes')).body).toContainEqual(
    expect.objectContaining({ id: detail.id, name: 'Thursday', titles: 2, frames: 275, revision: 3 }),
  )
  // A production that goes leaves its programmes.
  const { id: show } = (await hoja.send('POST', '/productions', { name: 'Show' })).body as { id: number }
  const of = (await hoja.send('POST', '/programmes', { name: 'Of it', ...about, production: show })).body as Detail
  expect(of).toMatchObject({ production: show, titles: 0, frames: 0 })
  await hoja.send('DELETE', `/productions/${show}`)
  expect((await hoja.get(`/programmes/${of.id}`)).body).toMatchObject({ production: null })
  const late = await hoja.send('PATCH', `/programmes/${detail.id}`, { revision: before.revision, patches: [] })
  expect(refusal(late)).toEqual([409, '"Thursday" was saved elsewhere meanwhile; choose which one to keep.'])
})

test('what can not be is refused in a sentence, and nothing has changed', async () => {
  const detail = await changed(await made('Friday'), withSpeakers(['Io Marrec', 'Bo']))
  const [first] = titlesOf(detail.programme)
  const put = (path: (string | number)[], value: unknown) =>
    hoja.send('PATCH', `/programmes/${detail.id}`, { revision: detail.revision, patches: [{ op: 'put', path, value }] })
  const design = detail.programme.designs[version.id]!
  const least = design.in + design.out
  for (const [path, value, words] of [
    [['clips', first!.id, 'frames'], least - 1, `stay whole, so it needs ${least}`],
    [['clips', first!.id, 'at'], 180, '"Io Marrec" is there from 10:00:07:05'],
    [['clips', first!.id, 'track'], 'f1', '"Footage" takes no titles'],
    [['clips', first!.id, 'words'], 'w99', 'are not there'],
    [['clips', first!.id, 'shape'], 'round', 'has no shape "round"'],
    [['clips', first!.id, 'colour'], 1, 'The programme is not right'],
    [['designs', String(version.id), 'in'], 0, 'is not what its version 1 says'],
    [['designs', '77777'], { ...design }, 'There is no version 77777'],
    [['cuts', 4, 'x'], 1, 'of a place that the programme does not have'],
    [['tracks', 9], {}, 'of a place that the programme does not have'],
    [['schema'], 9, 'written by a newer Hoja'],
  ] as const)
    expect([path.join('.'), refusal(await put([...path], value))[1]]).toEqual([
      path.join('.'),
      expect.stringContaining(words),
    ])
  const no = await hoja.send('PATCH', `/programmes/${detail.id}`, {
    revision: detail.revision,
    patches: [{ op: 'drop' }],
  })
  expect(refusal(no)).toEqual([400, 'The request is not right: a patch has an op, put or remove, and a path.'])
  expect((await hoja.get(`/programmes/${detail.id}`)).body).toMatchObject({ revision: detail.revision })
  expect(refusal(await hoja.send('POST', '/programmes', { name: 'X', ...about, start: '10:00:00;00' }))[1]).toContain(
    'drop-frame',
  )
  expect(refusal(await hoja.send('POST', '/programmes', { name: 'X', ...about, production: 4242 }))[0]).toBe(404)
})

test('it goes out as lists, and its titles are rendered each to its length', async () => {
  let detail = await changed(await made('Saturday'), withSpeakers(['Io Marrec', 'Bo', 'Maren']))
  expect(refusal(await hoja.get(`/programmes/${detail.id}/as.doc`))).toEqual([
    404,
    'A programme does not go out as doc.',
  ])
  detail = await changed(detail, (p) => withMarker(p, 50, 'Titles begin').programme)
  const [io, bo] = titlesOf(detail.programme)
  detail = await changed(detail, (p) => trimmed(p, io!.id, 'end', 150))
  const text = async (kind: string) =>
    (await fetch(`${hoja.running.address}/api/programmes/${detail.id}/as.${kind}`)).text()
  expect(await text('srt')).toContain('1\n00:00:04,000 --> 00:00:06,000\nIo Marrec\nPilot\n')
  expect(await text('vtt')).toMatch(/^WEBVTT\n\n00:00:04.000 --> /)
  expect(await text('csv')).toContain('10:00:02:00,50,Titles begin,marker,')
  expect(await text('txt')).toContain('10:00:04:00  10:00:06:00  Io Marrec · Pilot')
  expect(await text('edl')).toContain('001  AX       V     C        00:00:00:00 00:00:02:00 10:00:04:00 10:00:06:00')
  expect(await text('otio')).toContain('MissingReference')
  expect(await text('pdf')).toMatch(/^%PDF-/)

  const settings = { format: 'png', handles: { before: 5, after: 5 } }
  const ordered = await hoja.send('POST', `/programmes/${detail.id}/outputs`, { settings, clips: [io!.id, bo!.id] })
  expect(ordered).toMatchObject({
    status: 201,
    body: [{ sheet: null, programme: detail.id, sheetName: 'Saturday', production: null }],
  })
  const [output] = ordered.body as { id: number }[]
  const { titles } = await until(
    async () =>
      (await hoja.get(`/outputs/${output!.id}`)).body as { state: string; titles: { state: string; name: string }[] },
    ({ state }) => state === 'done',
  )
  expect(titles.map(({ state, name }) => [state, name])).toEqual([
    ['done', '001_Io_Marrec'],
    ['done', '002_Bo'],
  ])
  const otio = JSON.parse(await text('otio')) as {
    tracks: {
      children: {
        name: string
        children: {
          OTIO_SCHEMA: string
          name: string
          media_references?: { DEFAULT_MEDIA: object }
          source_range: { start_time: { value: number }; duration: { value: number } }
        }[]
      }[]
    }
  }
  const clips = otio.tracks.children
    .find(({ name }) => name === 'Titles 1')!
    .children.filter((one) => one.OTIO_SCHEMA === 'Clip.2')
  expect(
    clips.map((clip) => [
      clip.name,
      clip.source_range.start_time.value,
      clip.source_range.duration.value,
      clip.media_references!.DEFAULT_MEDIA,
    ]),
  ).toMatchObject([
    [
      'Io Marrec',
      5,
      50,
      { target_url: expect.stringContaining('001_Io_Marrec'), available_range: { duration: { value: 60 } } },
    ],
    ['Bo', 5, 75, { target_url: expect.stringContaining('002_Bo') }],
    ['Maren', 0, 75, { OTIO_SCHEMA: 'MissingReference.1' }],
  ])
  // What is changed is not the file's any more; what is moved still is.
  detail = await changed(detail, (p) => withCells(moved(p, [io!.id], -20), bo!.id, { name: 'Bo Lind' }))
  const again = await text('edl')
  expect(again).toContain('001_Io_Marrec')
  expect(again).not.toContain('002_Bo')
  // The same again is of the programme as it is now.
  const repeated = await hoja.send('POST', `/outputs/${output!.id}/again`, {})
  expect(repeated).toMatchObject({
    status: 201,
    body: { programme: detail.id, counts: { waiting: expect.any(Number) } },
  })

  expect((await hoja.send('DELETE', `/programmes/${detail.id}`)).status).toBe(204)
  expect((await hoja.get(`/outputs/${output!.id}`)).status).toBe(404)
  expect(refusal(await hoja.get(`/programmes/${detail.id}`))).toEqual([
    404,
    `There is no programme ${detail.id} any more.`,
  ])
})
