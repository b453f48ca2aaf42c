import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import { guessTimes, rowsOf } from '../data/index.ts'
import { openDataFile } from '../formats/index.ts'
import { shownMoment } from '../motion/index.ts'
import { programmeDocument } from '../session/index.ts'
import { field } from '../testing/parts.ts'
import { demoScene, templateOf } from '../testing/speaker.ts'
import { commonRates, frameOfTimecode } from '../time/index.ts'
import {
  checkAlong,
  clipsByTrack,
  copied,
  cutsOf,
  type Design,
  designFrom,
  emptyProgramme,
  endOf,
  guessOrigin,
  leastOf,
  linked,
  linkedTo,
  markerCsv,
  moved,
  type Programme,
  programmeEdls,
  programmeJsonSchema,
  programmeOtio,
  programmeSrt,
  programmeVtt,
  readProgramme,
  seenAt,
  slipped,
  sourceFrame,
  spansOfClip,
  split,
  swapOf,
  swapped,
  textList,
  timecodeIn,
  titlesOf,
  trimmed,
  trimRoom,
  unlinked,
  withCells,
  withDurations,
  withFootage,
  withList,
  withMarker,
  withMedium,
  withMovieCuts,
  without,
  withReplaced,
  withTitles,
} from './index.ts'

const ntsc = { num: 30, den: 1 }
const design: Design = { template: 'speaker', name: 'Speaker', number: 1, in: 15, out: 15, frames: 150 }
/** A demo template with its scene. */
async function demoTemplate(name: string) {
  const scene = await demoScene(name)
  return { scene, template: scene.template }
}
const bare = emptyProgramme('Thursday', { width: 1920, height: 1080, rate: ntsc }, { at: 0, drop: false })

function placed(titles: readonly [at: number, frames: number, name: string, role?: string][], from: Programme = bare) {
  return withTitles(
    from,
    titles.map(([at, frames, name, role = '']) => ({ at, frames, design: '1', words: { cells: { name, role } } })),
    { track: 't1', designs: { 1: design } },
  )
}
const one = placed([[300, 150, 'Maren Oduya-Castellví']])
const [maren] = one.ids as [string]

/** A programme with a shot of ten minutes under it. */
function shot(programme: Programme = bare) {
  const { programme: next, id } = withMedium(programme, { kind: 'shot', name: 'Shot', frames: 18_000, scene: 0 })
  return withFootage(next, id, 0, 'f1')
}

test('the published JSON Schema is the one of the code', () => {
  const published = readFileSync(new URL('../../../docs/programme.schema.json', import.meta.url), 'utf8')
  expect(JSON.parse(published)).toEqual(JSON.parse(JSON.stringify(programmeJsonSchema())))
})

describe('trimming', () => {
  // Common practice: with In and Out of half a second at 30 frames a second, five seconds trimmed to three lose Hold only.
  test('of a title only Hold gives', () => {
    const three = trimmed(one.programme, maren, 'end', 300 + 90)
    expect(spansOfClip(one.programme, one.programme.clips[maren] as never)).toMatchObject({
      in: 15,
      hold: 120,
      out: 15,
    })
    expect(spansOfClip(three, three.clips[maren] as never)).toMatchObject({ in: 15, hold: 60, out: 15, total: 90 })
    const later = trimmed(one.programme, maren, 'start', 360)
    expect(later.clips[maren]).toMatchObject({ at: 360, frames: 90 })
  })

  test('it stops where In and Out begin, and says why', () => {
    const room = trimRoom(one.programme, maren, 'end')
    expect(room).toMatchObject({ least: 330, why: { least: 'In and Out stay whole: 30 frames are the least.' } })
    expect(trimmed(one.programme, maren, 'end', 330).clips[maren]).toMatchObject({ frames: 30 })
    expect(() => trimmed(one.programme, maren, 'end', 329)).toThrow('In and Out stay whole')
    expect(() =>
      readProgramme({ ...one.programme, clips: { [maren]: { ...one.programme.clips[maren], frames: 29 } } }),
    ).toThrow('its In of 15 and its Out of 15 stay whole, so it needs 30')
  })

  test('it stops at the neighbour, the programme and the end of the footage', () => {
    const { programme, ids } = placed([
      [300, 150, 'Maren'],
      [500, 90, 'Io'],
    ])
    expect(trimRoom(programme, ids[0]!, 'end')).toMatchObject({
      most: 500,
      why: { most: '"Io" is there from 00:00:16:20 to 00:00:19:20.' },
    })
    expect(trimRoom(programme, ids[1]!, 'start')).toMatchObject({ least: 450 })
    expect(trimRoom(programme, ids[0]!, 'start')).toMatchObject({
      least: 0,
      why: { least: 'The programme begins here.' },
    })
    const { programme: footed, id } = shot()
    expect(trimRoom(footed, id, 'end')).toMatchObject({ most: 18_000, why: { most: 'The footage ends here.' } })
    const later = trimmed(footed, id, 'start', 100)
    expect(later.clips[id]).toMatchObject({ at: 100, from: 100, frames: 17_900 })
  })

  test('with ripple what is behind goes along: of footage on all tracks', () => {
    const { programme, ids } = placed([
      [300, 150, 'Maren'],
      [500, 90, 'Io'],
    ])
    const shorter = trimmed(programme, ids[0]!, 'end', 400, true)
    expect(shorter.clips[ids[1]!]).toMatchObject({ at: 450 })
    const { programme: footed, id } = shot(withMarker(programme, 17_990, 'ends').programme)
    const cut = split(footed, [id], 200)
    const rippled = trimmed(cut.programme, id, 'end', 150, true)
    expect([ids[0]!, cut.ids[0]!].map((one) => rippled.clips[one]!.at)).toEqual([250, 150])
    expect(Object.values(rippled.markers)).toEqual([{ at: 17_940, name: 'ends' }])
    const gone = without(cut.programme, [id], true)
    expect(gone.clips[cut.ids[0]!]).toMatchObject({ at: 0 })
  })

  test('slip and split', () => {
    const { programme, id } = shot()
    const part = trimmed(programme, id, 'end', 300)
    expect(slipped(part, id, 90).clips[id]).toMatchObject({ at: 0, from: 90, frames: 300 })
    expect(slipped(part, id, 90_000).clips[id]).toMatchObject({ from: 17_700 })
    expect(() => slipped(one.programme, maren, 5)).toThrow('A title has nothing to slip')
    const halves = split(one.programme, [maren], 360)
    expect(titlesOf(halves.programme).map(({ clip }) => [clip.at, clip.frames])).toEqual([
      [300, 60],
      [360, 90],
    ])
    expect(() => split(one.programme, [maren], 320)).toThrow('each half needs 30 frames')
  })
})

// The settled picture is still seen once: with nothing held, the first frame behind In is settled.
test('at In + Out exactly a title is seen settled once', async () => {
  for (const name of ['speaker', 'talk', 'place', 'species', 'statement', 'score']) {
    const { scene, template } = await demoTemplate(name)
    const layout = scene.layout({})
    const least = scene.shortest(layout)
    const timing = scene.timing(layout, Math.max(1, least))
    const whole = scene.timing(layout)
    const settled = scene.posed(layout, whole, scene.settled(layout, whole)).key
    const keys = Array.from({ length: timing.total }, (_, frame) => scene.posed(layout, timing, frame).key)
    expect([name, keys.includes(settled)]).toEqual([name, true])
    expect(shownMoment(template.spans, timing, timing.in)).toMatchObject({ at: 0 })
  }
})

describe('copies and words', () => {
  test('a copy has words of its own; a linked one shares them until it is unlinked', () => {
    const own = copied(one.programme, [maren], { frames: 300 })
    const changed = withCells(own.programme, own.ids[0]!, { name: 'Io Marrec' })
    expect(titlesOf(changed).map(({ clip }) => changed.words[clip.words]!.cells.name)).toEqual([
      'Maren Oduya-Castellví',
      'Io Marrec',
    ])
    expect(linkedTo(own.programme, maren)).toEqual([])
    const both = copied(one.programme, [maren], { frames: 300, linked: true })
    expect(linkedTo(both.programme, maren)).toEqual(both.ids)
    const said = withCells(both.programme, both.ids[0]!, { name: 'Io Marrec' })
    expect(titlesOf(said).map(({ clip }) => said.words[clip.words]!.cells.name)).toEqual(['Io Marrec', 'Io Marrec'])
    const apart = withCells(unlinked(said, [maren]), maren, { name: 'Bo' })
    expect(titlesOf(apart).map(({ clip }) => apart.words[clip.words]!.cells.name)).toEqual(['Bo', 'Io Marrec'])
    expect(linkedTo(linked(apart, maren, both.ids[0]!), maren)).toEqual(both.ids)
    // What nobody says any more is not kept.
    expect(Object.keys(linked(apart, maren, both.ids[0]!).words)).toHaveLength(1)
  })

  test('what lies in the way is told, and nothing has changed', () => {
    expect(() => copied(one.programme, [maren], { frames: 100 })).toThrow(
      'There is no room: "Maren Oduya-Castellví" is there from 00:00:10:00 to 00:00:15:00.',
    )
    expect(() => moved(one.programme, [maren], 0, 1)).toThrow('There is no track for it that way')
    expect(moved(one.programme, [maren], -5000).clips[maren]).toMatchObject({ at: 0 })
  })

  test('titles that would lie over others go to the track above', () => {
    const { programme, ids } = placed([
      [300, 150, 'A'],
      [310, 150, 'B'],
      [320, 150, 'C'],
      [450, 150, 'D'],
    ])
    expect(programme.tracks.map(({ name }) => name)).toEqual(['Titles 3', 'Titles 2', 'Titles 1', 'Footage'])
    expect(ids.map((id) => programme.tracks.findIndex((track) => track.id === programme.clips[id]!.track))).toEqual([
      2, 1, 0, 2,
    ])
    expect(seenAt(programme, 330).map(({ id }) => id)).toEqual([ids[0], ids[1], ids[2]])
  })
})

test('edits of any kind keep what has to hold, and each is taken back', () => {
  const titles = fc.array(
    fc.tuple(fc.nat(5000), fc.integer({ min: 1, max: 300 }), fc.constantFrom('Io', 'Bo', 'Maren')),
    { minLength: 1, maxLength: 12 },
  )
  const act = fc.record({
    kind: fc.constantFrom('move', 'copy', 'link', 'trim', 'ripple', 'split', 'remove', 'unlink', 'cells', 'length'),
    which: fc.nat(20),
    by: fc.integer({ min: -400, max: 400 }),
  })
  let done = 0
  fc.assert(
    fc.property(titles, fc.array(act, { maxLength: 12 }), (of, acts) => {
      let programme = shot(placed(of.map(([at, frames, name]) => [at, frames, name])).programme).programme
      for (const { kind, which, by } of acts) {
        const all = titlesOf(programme)
        if (all.length === 0) break
        const { id, clip } = all[which % all.length]!
        const change = (from: Programme): Programme => {
          switch (kind) {
            case 'move':
              return moved(from, [id], by)
            case 'copy':
              return copied(from, [id], { frames: by }).programme
            case 'link':
              return copied(from, [id], { frames: by, linked: true }).programme
            case 'trim':
              return trimmed(from, id, by % 2 ? 'start' : 'end', (by % 2 ? clip.at : endOf(clip)) + by)
            case 'ripple':
              return trimmed(from, id, by % 2 ? 'start' : 'end', (by % 2 ? clip.at : endOf(clip)) + by, true)
            case 'split':
              return split(from, [id], clip.at + Math.abs(by)).programme
            case 'remove':
              return without(from, [id], by > 0)
            case 'unlink':
              return unlinked(from, [id])
            case 'cells':
              return withCells(from, id, { name: `N${by}` })
            default:
              return withDurations(from, [id], Math.max(1, by)).programme
          }
        }
        let made: ReturnType<typeof programmeDocument.apply>
        try {
          made = programmeDocument.apply(programme, { change })
        } catch (error) {
          expect((error as Error).name).toBe('Refusal')
          continue
        }
        done++
        expect(readProgramme(made.state)).toBe(made.state)
        for (const { clip } of titlesOf(made.state)) expect(clip.frames).toBeGreaterThanOrEqual(leastOf(design))
        expect(programmeDocument.apply(made.state, made.inverse).state).toEqual(programme)
        expect(programmeDocument.apply(programme, made.done).state).toEqual(made.state)
        programme = made.state
      }
    }),
    { numRuns: 200 },
  )
  expect(done).toBeGreaterThan(300)
})

describe('from lists', () => {
  const lines = (text: string) => new TextEncoder().encode(text)
  const read = async (name: string, text: string) => {
    const { template } = await demoTemplate('speaker')
    const { table } = openDataFile(lines(text), name, {}, template)
    const match = {
      ...guessTimes(table.columns, table.rows, ntsc, 30),
      name: table.columns.includes('Text') ? 'Text' : table.columns[2]!,
    }
    return { template, rows: rowsOf(table), match }
  }

  test('one title for every cue; a cue too short for In and Out is lengthened and told', async () => {
    const way = await read(
      'a.srt',
      '1\n00:00:10,000 --> 00:00:15,000\nMaren\n\n2\n00:00:20,000 --> 00:00:20,500\nIo\n\n3\n00:00:12,000 --> 00:00:14,000\nBo\n',
    )
    const made = withList(bare, way.rows, { ...way, key: '1', design, track: 't1', origin: 0 })
    expect(
      titlesOf(made.programme).map(({ clip }) => [clip.at, clip.frames, made.programme.words[clip.words]!.cells.name]),
    ).toEqual([
      [300, 150, 'Maren'],
      [360, 60, 'Bo'],
      [600, 30, 'Io'],
    ])
    expect([made.lengthened, made.aside, made.left]).toEqual([[made.ids[2]], [made.ids[1]], []])
    expect(readProgramme(made.programme)).toBe(made.programme)
  })

  test('times of an edit count from its timecode, and what has none is told', async () => {
    const programme = emptyProgramme('E', bare.picture, { at: frameOfTimecode('10:00:00:00', ntsc), drop: false })
    const way = await read('a.csv', 'In,Out,Name\n10:00:05:00,10:00:08:00,Maren\n10:00:20:00,10:00:23:00,Bo\n,,Io\n')
    const origin = guessOrigin(programme, way.match, way.rows)
    expect(origin).toBe(programme.start.at)
    const made = withList(programme, way.rows, { ...way, key: '1', design, track: 't1', origin, sheet: 7 })
    expect(titlesOf(made.programme).map(({ clip }) => [clip.at, clip.frames])).toEqual([
      [150, 90],
      [600, 90],
    ])
    expect(made.left).toEqual([{ row: 3, why: 'It does not say when it starts.' }])
    expect(made.programme.words[titlesOf(made.programme)[0]!.clip.words]!.row).toEqual({ sheet: 7, n: 1 })
    expect(guessOrigin(bare, way.match, way.rows)).toBe(0)
  })
})

describe('to other programs', () => {
  const full = () => {
    const { programme } = shot(
      placed([
        [300, 150, 'Maren <Oduya> & co', 'Ecologist\n\nVado'],
        [320, 90, 'Io Marrec', 'Keeper --> ferry'],
        [3000, 90, 'Bo'],
      ]).programme,
    )
    return withMarker(programme, 600, 'Second\nreel').programme
  }
  const fields = [field({ id: 'name', key: 'name', default: '' }), field({ id: 'role', key: 'role', default: '' })]
  const keys = () => templateOf([], { fields })

  test('SubRip and WebVTT are read again cue by cue', () => {
    for (const [name, text] of [
      ['a.srt', programmeSrt(full(), keys)],
      ['a.vtt', programmeVtt(full(), keys)],
    ] as const) {
      const { table } = openDataFile(new TextEncoder().encode(text), name, {})
      expect(table.rows.map((row) => row.slice(0, 2))).toEqual([
        ['0:00:10.000', '0:00:15.000'],
        ['0:00:10.667', '0:00:13.667'],
        ['0:01:40.000', '0:01:43.000'],
      ])
      const words = table.rows.map((row) => row[2])
      // An arrow is a mark of both formats: WebVTT has an escape for it.
      expect(words.slice(1)).toEqual([
        name === 'a.vtt' ? 'Io Marrec\nKeeper --> ferry' : 'Io Marrec\nKeeper → ferry',
        'Bo',
      ])
      if (name === 'a.vtt') expect(words[0]).toBe('Maren <Oduya> & co\nEcologist\nVado')
    }
  })

  test('tables and lists of words', () => {
    expect(markerCsv(full(), keys)).toContain('00:00:20:00,600,"Second\nreel",marker,')
    expect(textList(full(), keys)).toContain('00:01:40:00  00:01:43:00  Bo')
  })

  // CMX 3600: event, reel, track, cut, source in and out, edit in and out; locators as comments.
  test('an edit decision list for every track, drop-frame where it is', () => {
    const drop = {
      ...full(),
      picture: { ...bare.picture, rate: { num: 30_000, den: 1001 } },
      start: { at: 107_892, drop: true },
    }
    const [first, second, ...more] = programmeEdls(readProgramme(drop), new Map())
    expect(more).toEqual([])
    expect(first).toMatch(
      /^TITLE: Thursday\r\nFCM: DROP FRAME\r\n\r\n001 {2}AX {7}V {5}C {8}00:00:00;00 00:00:05;00 01:00:10;00 01:00:15;00\r\n\* FROM CLIP NAME: Maren/,
    )
    expect(first).toContain('* LOC: 01:00:20;00 GREEN   Second reel')
    expect(second).toContain('Io Marrec')
  })

  test('OpenTimelineIO of any programme is read again clip by clip', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...commonRates),
        fc.array(fc.tuple(fc.nat(40_000), fc.integer({ min: 30, max: 400 })), { minLength: 1, maxLength: 20 }),
        ({ rate }, titles) => {
          const empty = emptyProgramme('P', { ...bare.picture, rate }, { at: 1000, drop: false })
          const { programme } = placed(
            titles.map(([at, frames], i) => [at, frames, `T${i}`]),
            empty,
          )
          const files = new Map(
            titlesOf(programme)
              .slice(0, 3)
              .map(({ id, clip }) => [
                id,
                { file: `a b/${id}.mov`, before: 5, frames: clip.frames + 10, start: 90_000 },
              ]),
          )
          const bytes = new TextEncoder().encode(programmeOtio(programme, files))
          const { table } = openDataFile(bytes, 'a.otio', {})
          const seconds = (text: string) => text.split(':').reduce((sum, part) => sum * 60 + Number(part), 0)
          const read = table.rows.map(([start, end, clip]) => [
            Math.round((seconds(start!) * rate.num) / rate.den),
            Math.round((seconds(end!) * rate.num) / rate.den),
            clip,
          ])
          const own = titlesOf(programme).map(({ clip }) => [
            1000 + clip.at,
            1000 + endOf(clip),
            programme.words[clip.words]!.cells.name,
          ])
          const sort = (list: unknown[][]) => list.map((one) => JSON.stringify(one)).sort()
          expect(sort(read)).toEqual(sort(own))
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('checks along time', () => {
  const along = { regionOf: () => ({ x: 0, y: 0, width: 10, height: 10 }), textsOf: () => ['name', 'role'] }
  const codes = (programme: Programme) =>
    checkAlong(programme, along).map(({ clip, code, message }) => [
      programme.words[(programme.clips[clip] as never as { words: string }).words]!.cells.name,
      code,
      message,
    ])

  test('two in one place, over a cut, too close, too long, outside', () => {
    const rules = { longest: 200, apart: 50, end: 17_000 }
    const { programme } = shot({
      ...placed([
        [100, 60, 'A'],
        [140, 60, 'B'],
        [230, 240, 'C'],
        [16_900, 150, 'D'],
        [19_000, 90, 'E'],
      ]).programme,
      rules,
      cuts: [260, 300],
    })
    expect(codes(programme)).toEqual([
      ['B', 'place', 'It lies over "A" for 20 frames; one of them has to wait.'],
      ['A', 'place', '"B" lies over it for 20 frames; one of them has to wait.'],
      ['C', 'overCut', 'It stands over 2 cuts, the first at 00:00:08:20.'],
      ['C', 'long', 'It stands for 8.0 s; 6.7 s is the most that this programme wants.'],
      ['C', 'apart', 'It comes 30 frames after "B"; 50 are wanted.'],
      ['D', 'outside', 'It runs past the end of the programme at 00:09:26:20.'],
      ['E', 'outside', 'It runs past the end of the programme at 00:09:26:20.'],
    ])
    const late = placed(
      [
        [17_950, 90, 'F'],
        [19_000, 90, 'G'],
      ],
      shot().programme,
    ).programme
    expect(codes(late)).toEqual([
      ['F', 'overCut', 'It stands over a cut at 00:10:00:00.'],
      ['F', 'outside', 'Part of it has no footage under it; move it, or add footage.'],
      ['G', 'outside', 'There is no footage under it; move it, or add footage.'],
    ])
    const off = {
      ...programme,
      tracks: programme.tracks.map((track) => (track.kind === 'title' ? { ...track, off: true } : track)),
    }
    expect(codes(off)).toEqual([])
    // What stands elsewhere in the picture is not in one place.
    const apart = checkAlong(programme, {
      ...along,
      regionOf: (id) => ({ x: Number(id.slice(1)) * 20, y: 0, width: 10, height: 10 }),
    })
    expect(apart.filter(({ code }) => code === 'place')).toEqual([])
  })

  test('words that differ for one person, and names by a slip', () => {
    const { programme } = placed([
      [100, 60, 'Maren Oduya', 'Ecologist'],
      [300, 60, 'maren  oduya', 'Biologist'],
      [500, 60, 'Maren Oduyo', 'Ecologist'],
      [700, 60, 'Maren Oduya', 'Ecologist'],
    ])
    expect(codes(programme).map(([name, code, message]) => [name, code, message])).toEqual([
      ['maren  oduya', 'person', '"maren  oduya" is "Biologist" here and "Ecologist" at 00:00:03:10.'],
      ['Maren Oduyo', 'person', '"Maren Oduyo" is nearly "Maren Oduya", who comes before; a slip?'],
    ])
  })

  test('cuts are where clips of footage meet, where a movie has its own, and where a list says so', () => {
    const movie = {
      kind: 'movie' as const,
      name: 'a.mov',
      sha256: 'a'.repeat(64),
      frames: 400,
      width: 64,
      height: 36,
      rate: ntsc,
      sound: false,
      cuts: [90, 200],
    }
    const { programme, id } = withMedium({ ...bare, cuts: [1000] }, movie)
    const { programme: placedOnce, id: clip } = withFootage(programme, id, 50, 'f1')
    expect(cutsOf(placedOnce)).toEqual([50, 140, 250, 450, 1000])
    expect(cutsOf(trimmed(placedOnce, clip, 'start', 150))).toEqual([150, 250, 450, 1000])
    // Found at another rate than the programme's.
    const fast = { ...placedOnce, media: { [id]: { ...movie, rate: { num: 60, den: 1 } } } }
    expect(cutsOf(withMovieCuts(fast, id, [100, 101, 0, 5000]))).toEqual([50, 100, 101, 450, 1000])
    expect(() => withMovieCuts(shot().programme, 'm1', [4])).toThrow('Only a movie has cuts')
  })
})

test('many titles at once: lengths as far as there is room, words replaced, another template with its losses', async () => {
  const { programme, ids } = placed([
    [100, 60, 'Ferry 1', 'old'],
    [200, 60, 'Ferry 2', 'old'],
  ])
  const lengths = withDurations(programme, ids, 150)
  expect([lengths.done, lengths.left]).toEqual([
    [ids[1]],
    [{ id: ids[0], why: '"Ferry 2" is there from 00:00:06:20 to 00:00:08:20.' }],
  ])
  expect(withDurations(programme, ids, 20).left).toHaveLength(2)
  const search = { find: 'old', pattern: false, case: false, whole: false }
  expect(withReplaced(programme, ids, search, 'new')).toMatchObject({ changed: 2 })
  const [speaker, talk] = await Promise.all(['speaker', 'talk'].map((name) => demoTemplate(name)))
  const swap = swapOf(speaker!.template, talk!.template)
  const other = designFrom(programme, { template: 'talk', number: 1 }, talk!.template)
  const made = swapped(programme, ids, {
    key: '2',
    design: { ...other, in: 10, out: 10 },
    swap: () => swap,
    shapes: new Set(),
  })
  expect(readProgramme(made.programme)).toBe(made.programme)
  expect(Object.keys(made.programme.designs)).toEqual(['2'])
  const told = Object.values(made.programme.words).map(({ cells }) => Object.keys(cells))
  for (const keys of told)
    for (const key of keys) expect(talk!.template.fields.map((field) => field.key)).toContain(key)
  // One that stays behind keeps what it says, though it shares it with one that goes.
  const both = copied(programme, [ids[0]!], { frames: 1000, linked: true })
  const longer = trimmed(both.programme, both.ids[0]!, 'end', 1100 + 150)
  const mixed = swapped(longer, [ids[0]!, ...both.ids], {
    key: '2',
    design: { ...other, in: 50, out: 50 },
    swap: () => swap,
    shapes: new Set(),
  })
  expect([mixed.done, mixed.left.map(({ id }) => id)]).toEqual([both.ids, [ids[0]]])
  const kept = mixed.programme.clips[ids[0]!] as { words: string }
  expect(mixed.programme.words[kept.words]!.cells).toEqual({ name: 'Ferry 1', role: 'old' })
  const short = swapped(programme, ids, {
    key: '2',
    design: { ...other, in: 50, out: 50 },
    swap: () => swap,
    shapes: new Set(),
  })
  expect([short.done, short.left.length]).toEqual([[], 2])
})

test('a frame of another rate is the one that is under way', () => {
  expect(Array.from({ length: 6 }, (_, i) => sourceFrame(i, { num: 25, den: 1 }, { num: 50, den: 1 }))).toEqual([
    0, 0, 1, 1, 2, 2,
  ])
  fc.assert(
    fc.property(fc.nat(10_000_000), fc.constantFrom(...commonRates), (frame, { rate }) => {
      expect(sourceFrame(frame, rate, rate)).toBe(frame)
    }),
  )
  expect(timecodeIn({ ...bare, start: { at: 90_000, drop: false } }, 45)).toBe('00:50:01:15')
  expect(clipsByTrack(one.programme).get('t1')).toHaveLength(1)
})
