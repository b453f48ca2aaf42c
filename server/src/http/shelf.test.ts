import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { sha256, unzipPackage } from '@hoja/core/formats'
import { type Field, newPart, type Template } from '@hoja/core/template'
import { execa } from 'execa'
import { strToU8, zipSync } from 'fflate'
import { PNG } from 'pngjs'
import { compress } from 'wawoff2'
import { demoTemplates } from '../demo.ts'
import { type Client, demoFile, startServer, temporaryFolder, until } from '../testing/running.ts'

let hoja: Client
const work = temporaryFolder()
beforeAll(async () => {
  hoja = await startServer()
})
afterAll(async () => {
  await hoja.end()
  rmSync(work, { recursive: true, force: true })
})

interface Summary {
  id: string
  name: string
  revision: number
  tags: string[]
  folder: string
  archived: string | null
  instead: string[]
  fields: { key: string; note: string }[]
}
const list = async () => (await hoja.get('/templates')).body as Summary[]
const bytesAt = async (path: string) =>
  new Uint8Array(await (await fetch(`${hoja.running.address}/api${path}`)).arrayBuffer())
const refusal = (answer: { status: number; body: unknown }) => [
  answer.status,
  (answer.body as { detail: string }).detail,
]

let packed: Uint8Array | undefined

/** The demo package with its files changed. */
async function spoilt(change: (files: Record<string, Uint8Array>, template: Template) => void | Promise<void>) {
  packed ??= await bytesAt('/templates/speaker/package')
  const files = unzipPackage(packed, 'speaker.hoja')
  const template = JSON.parse(new TextDecoder().decode(files['template.json'])) as Template
  await change(files, template)
  files['template.json'] = strToU8(JSON.stringify(template))
  return zipSync(files, { level: 0 })
}

const nameField: Field = {
  id: 'name',
  key: 'name',
  name: 'Name',
  note: '',
  type: 'text',
  targets: [],
  default: '',
  required: false,
  onAir: false,
}

/** What a program outside says; it runs beside the server, not in its way. */
const told = async (program: string, ...args: string[]) => (await execa(program, args)).stdout
/** The bytes that ffmpeg writes out. */
const rawOf = async (...args: string[]) => Buffer.from((await execa('ffmpeg', args, { encoding: 'buffer' })).stdout)

test('a template is renamed, tagged, filed, put away and brought back; its draft says so', async () => {
  const made = (await hoja.send('POST', '/templates/speaker/duplicate')).body as Summary
  const change = { name: 'Speaker, harbour', tags: ['harbour', 'evening'], folder: 'Estuary Week' }
  const after = (await hoja.send('PATCH', `/templates/${made.id}`, change)).body as Summary
  expect(after).toMatchObject({ ...change, revision: made.revision + 1, archived: null })
  const away = (await hoja.send('PATCH', `/templates/${made.id}`, { archived: true })).body as Summary
  expect(away.archived).toMatch(/^20\d\d-/)
  expect(away.revision).toBe(after.revision)
  expect((await list()).find((t) => t.id === made.id)).toMatchObject({ tags: change.tags, folder: 'Estuary Week' })
  expect((await hoja.send('PATCH', `/templates/${made.id}`, { archived: false })).body).toMatchObject({
    archived: null,
  })
  const { template } = (await hoja.get(`/templates/${made.id}`)).body as { template: Template }
  expect(template).toMatchObject({ name: change.name, tags: change.tags })
  // A copy stands in the folder of what it is a copy of.
  const copy = (await hoja.send('POST', `/templates/${made.id}/duplicate`)).body as Summary
  expect(copy).toMatchObject({ name: 'Speaker, harbour copy', folder: 'Estuary Week' })
  expect(refusal(await hoja.send('PATCH', `/templates/${made.id}`, { name: ' ' }))[0]).toBe(400)
  for (const { id } of [made, copy]) await hoja.send('DELETE', `/templates/${id}`)
})

test('a package comes back byte for byte after export, import and export, unknown keys with it', async () => {
  const strange = await spoilt((_, template) => {
    Object.assign(template, { 'x-made-by': { tool: 'a script', n: 3 } })
    Object.assign(template.parts[0]!, { 'x-remark': 'keep me' })
  })
  const first = (await hoja.upload('/templates/import', 'strange.hoja', strange)).body as Summary
  const out = await bytesAt(`/templates/${first.id}/package`)
  const again = (await hoja.upload('/templates/import', 'again.hoja', out)).body as Summary
  expect(again.id).not.toBe(first.id)
  expect(Buffer.compare(await bytesAt(`/templates/${again.id}/package`), out)).toBe(0)
  // An unzip tool and a text editor are enough to read it.
  writeFileSync(join(work, 'strange.hoja'), out)
  const names = await told('unzip', '-Z1', join(work, 'strange.hoja'))
  expect(await told('unzip', '-tq', join(work, 'strange.hoja'))).toContain('No errors detected')
  expect(names.split('\n')).toEqual(expect.arrayContaining(['template.json', 'README.txt', 'poster.png']))
  const document = await told('unzip', '-p', join(work, 'strange.hoja'), 'template.json')
  expect(JSON.parse(document)).toMatchObject({ 'x-made-by': { n: 3 }, id: 'speaker' })
  expect(document).toContain('"x-remark": "keep me"')
  for (const { id } of [first, again]) await hoja.send('DELETE', `/templates/${id}`)
})

test('the whole shelf goes out as one zip of packages, without what was put away', async () => {
  await hoja.send('PATCH', '/templates/tide', { archived: true })
  writeFileSync(join(work, 'all.zip'), await bytesAt('/templates/export'))
  const names = (await told('unzip', '-Z1', join(work, 'all.zip'))).split('\n')
  const own = demoTemplates.filter((one) => one !== 'tide')
  expect(names.sort()).toEqual(own.flatMap((one) => [`${one}/${one}-version-1.hoja`, `${one}/${one}.hoja`]).sort())
  await told('unzip', '-q', '-o', '-j', join(work, 'all.zip'), 'talk/talk.hoja', '-d', work)
  const back = await hoja.upload(
    '/templates/import',
    'talk.hoja',
    new Uint8Array(readFileSync(join(work, 'talk.hoja'))),
  )
  expect(back.status).toBe(201)
  await hoja.send('DELETE', `/templates/${(back.body as Summary).id}`)
  await hoja.send('PATCH', '/templates/tide', { archived: false })
})

describe('a package that lacks a font', () => {
  const lacking = () =>
    spoilt((files, template) => {
      const font = template.fonts.find((one) => one.id === 'medium')!
      Reflect.deleteProperty(files, font.file)
    })

  test('asks once for what takes its place, shows what that looks like, and remembers the answer', async () => {
    const bytes = await lacking()
    const before = (await list()).length
    const asked = await hoja.upload('/templates/import', 'lacking.hoja', bytes)
    expect(refusal(asked)).toEqual([422, '"lacking.hoja" lacks Barlow Condensed Medium; choose what takes its place.'])
    expect((asked.body as { missing: object[] }).missing).toMatchObject([
      { id: 'medium', family: 'Barlow Condensed', style: 'Medium' },
    ])
    const { sha256: other } = (await hoja.send('POST', '/fonts', { id: 'ibm-plex-serif/500Medium' })).body as {
      sha256: string
    }
    const fields = { instead: JSON.stringify({ medium: other }) }

    const preview = (await hoja.upload('/templates/import/preview', 'lacking.hoja', bytes, fields)).body as {
      words: string[]
      came: string
      poster: string
      proofs: { name: string; picture: string; findings: { message: string }[] }[]
    }
    expect(preview.words).toEqual(['IBM Plex Serif Medium stands for Barlow Condensed Medium'])
    expect(preview.came).toMatch(/^data:image\/png;base64,/)
    expect(preview.poster).not.toBe(preview.came)
    expect(preview.proofs.map((proof) => proof.name)).toContain('longest')
    for (const { picture } of preview.proofs) expect(picture).toMatch(/^data:image\/png;base64,iVBOR/)
    // Looking keeps nothing.
    expect(await list()).toHaveLength(before)
    expect((await hoja.upload('/templates/import', 'lacking.hoja', bytes)).status).toBe(422)

    const taken = await hoja.upload('/templates/import', 'lacking.hoja', bytes, fields)
    expect(taken.status).toBe(201)
    const { template } = (await hoja.get(`/templates/${(taken.body as Summary).id}`)).body as { template: Template }
    expect(template.fonts.find((font) => font.id === 'medium')).toMatchObject({
      family: 'IBM Plex Serif',
      sha256: other,
    })

    // The next package that lacks it is not asked about again.
    const next = (await hoja.upload('/templates/import', 'lacking.hoja', bytes)).body as Summary
    expect(next.instead).toEqual(['IBM Plex Serif Medium stands for Barlow Condensed Medium'])
    for (const { id } of [taken.body as Summary, next]) await hoja.send('DELETE', `/templates/${id}`)
  })

  test('takes no font that is not there, and nothing that is none', async () => {
    const bytes = await lacking()
    const missing = await hoja.upload('/templates/import', 'l.hoja', bytes, {
      instead: JSON.stringify({ medium: '0'.repeat(64) }),
    })
    expect(refusal(missing)).toEqual([404, 'There is no such font, picture or sound.'])
    const odd = await hoja.upload('/templates/import', 'l.hoja', bytes, { instead: '[oh' })
    expect(refusal(odd)).toEqual([422, 'The choice of fonts could not be read; choose them again.'])
  })
})

describe('bad packages: one sentence, nothing half-imported', () => {
  test.each<[string, RegExp, Parameters<typeof spoilt>[0]]>([
    [
      'a field whose part is gone',
      /drives the part "nobody", which is not there/,
      (_, t) => void Object.assign(t.fields[2]!.targets[0]!, { part: 'nobody' }),
    ],
    [
      'two fields with one key',
      /Two fields have the key "name"/,
      (_, t) => void Object.assign(t.fields[1]!, { key: 'name' }),
    ],
    [
      'a picture replaced by a page',
      /is not the file the template was saved with/,
      (files, t) => void Object.assign(files, { [t.media[0]!.file]: strToU8('<!doctype html><p>no picture') }),
    ],
    [
      'a picture replaced by a page, its hash with it',
      /is not a PNG, JPEG or WebP picture/,
      async (files, t) => {
        const page = strToU8('<!doctype html><p>no picture')
        Object.assign(files, { [t.media[0]!.file]: page })
        Object.assign(t.media[0]!, { sha256: await sha256(page) })
      },
    ],
    [
      'a font with a broken table',
      /is a font without characters or outlines|is not a TrueType/,
      async (files, t) => {
        const font = files[t.fonts[0]!.file]!.slice()
        // Tag of every table record but the first few made unknown: no character map is found.
        for (let record = 12; record < 12 + font[5]! * 16; record += 16) font[record] = 0x7a
        Object.assign(files, { [t.fonts[0]!.file]: font })
        Object.assign(t.fonts[0]!, { sha256: await sha256(font) })
      },
    ],
    [
      'a sound that is no sound',
      /is not a WAV, MP3 or Ogg sound/,
      async (files, t) => {
        const noise = strToU8('hush '.repeat(100))
        Object.assign(files, { 'sounds/hush.mp3': noise })
        t.sounds.push({
          id: 's',
          name: 'hush.mp3',
          file: 'sounds/hush.mp3',
          sha256: await sha256(noise),
          seconds: 1,
          span: 'in',
          at: 0,
          level: 0,
        })
      },
    ],
    [
      'a movie that is a still',
      /is not a movie as Hoja keeps them|holds \d+ frames/,
      (_, t) => void Object.assign(t.media[0]!, { movie: { frames: 20, rate: { num: 25, den: 1 } } }),
    ],
  ])('%s', async (_, sentence, change) => {
    const before = (await list()).length
    const [status, message] = refusal(await hoja.upload('/templates/import', 'bad.hoja', await spoilt(change)))
    expect([415, 422]).toContain(status)
    expect(message).toMatch(sentence)
    expect(String(message).split(/[.;] /).length).toBeLessThanOrEqual(3)
    expect(await list()).toHaveLength(before)
  })

  test('a zip that says it unpacks to 2 GB is not unpacked', async () => {
    const zip = zipSync({ 'template.json': strToU8('{}'), 'media/large.png': new Uint8Array(1000) })
    const view = new DataView(zip.buffer, zip.byteOffset)
    for (let at = 0; at + 4 < zip.length; at++)
      if (view.getUint32(at, true) === 0x02014b50 && view.getUint32(at + 24, true) === 1000)
        view.setUint32(at + 24, 0x7fffffff, true)
    const answer = await hoja.upload('/templates/import', 'huge.hoja', zip)
    expect(refusal(answer)).toEqual([422, '"huge.hoja" unpacks to more than 256 MB or 500 files; it was not opened.'])
  })
})

describe('fonts', () => {
  const barlow = demoFile('templates/speaker/fonts/BarlowCondensed_600SemiBold.ttf')

  test('a WOFF 2.0 font is taken in as the font that it wraps, and says what it is', async () => {
    const woff2 = await compress(barlow)
    const added = await hoja.upload('/assets', 'barlow.woff2', new Uint8Array(woff2))
    expect(added).toMatchObject({ status: 201, body: { kind: 'font', name: 'barlow.ttf', family: 'Barlow Condensed' } })
    const { sha256: hash } = added.body as { sha256: string }
    const facts = (await hoja.get(`/assets/${hash}/facts`)).body as Record<string, unknown>
    expect(facts).toMatchObject({
      family: 'Barlow Condensed',
      weight: 600,
      characters: 525,
      embedding: { allows: 'installable' },
      scripts: [{ name: 'Latin' }],
    })
    const fonts = (await hoja.get('/fonts')).body as { id: string; file?: string }[]
    expect(fonts.find((font) => font.id === hash)).toMatchObject({ file: 'barlow.ttf' })
  })

  test('a WOFF that is none, or a damaged one, is refused in a sentence', async () => {
    const odd = await hoja.upload('/assets', 'odd.woff2', strToU8('no font '.repeat(20)))
    expect(refusal(odd)).toEqual([415, '"odd.woff2" is not a WOFF font; choose another file.'])
    const woff2 = new Uint8Array(await compress(barlow)).slice(0, 4000)
    expect(refusal(await hoja.upload('/assets', 'half.woff2', woff2))[1]).toBe(
      '"half.woff2" is a damaged WOFF font; save it again.',
    )
  })

  test('only fonts have facts', async () => {
    const picture = await hoja.upload('/assets', 'eel.png', demoFile('templates/speaker/media/eel.png'))
    const { sha256: hash } = picture.body as { sha256: string }
    expect(refusal(await hoja.get(`/assets/${hash}/facts`))).toEqual([404, '"eel.png" is not a font.'])
  })
})

/** Makes a file with ffmpeg; its bytes. */
async function made(file: string, ...args: string[]): Promise<Uint8Array> {
  await told('ffmpeg', '-v', 'error', '-y', ...args, join(work, file))
  return new Uint8Array(readFileSync(join(work, file)))
}
const tone = (seconds: number) => ['-f', 'lavfi', '-i', `sine=frequency=440:duration=${seconds}`]

describe('sounds', () => {
  // ffmpeg's own reading of the same files is the reference for their length.
  test.each([
    ['tone.wav', [], 0.001],
    ['tone.mp3', ['-c:a', 'libmp3lame', '-b:a', '96k'], 0.06],
    ['vbr.mp3', ['-c:a', 'libmp3lame', '-q:a', '4', '-ar', '22050'], 0.08],
    ['tone.ogg', ['-c:a', 'libvorbis'], 0.01],
    ['tone.opus', ['-c:a', 'libopus'], 0.01],
  ])('%s is as long as ffprobe says', async (file, args, near) => {
    const bytes = await made(file, ...tone(1.7), ...args)
    const probed = Number(
      await told('ffprobe', '-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', join(work, file)),
    )
    const added = await hoja.upload('/assets', file, bytes)
    expect(added).toMatchObject({ status: 201, body: { kind: 'sound' } })
    const { seconds, sha256: hash } = added.body as { seconds: number; sha256: string }
    expect(Math.abs(seconds - probed)).toBeLessThan(near)
    const response = await fetch(`${hoja.running.address}/api/assets/${hash}`)
    expect(response.headers.get('content-type')).toMatch(/^audio\//)
  })

  test('a sound begins with its span in every movie, whatever the duration, and lasts as long as the picture', async () => {
    const wav = await made('chime.wav', ...tone(0.4))
    const sound = (await hoja.upload('/assets', 'chime.wav', wav)).body as { sha256: string; seconds: number }
    // A small frame: what is heard does not hang on what is seen.
    const { id } = (await hoja.send('POST', '/templates', { name: 'Chime' })).body as Summary
    const stored = (await hoja.get(`/templates/${id}`)).body as { revision: number; template: Template }
    const template: Template = {
      ...stored.template,
      frame: { ...stored.template.frame, width: 160, height: 90 },
      parts: [newPart('box', 'bar', 'Bar')],
      fields: [nameField],
      sounds: [
        {
          id: 'chime',
          name: 'chime.wav',
          file: 'sounds/chime.wav',
          sha256: sound.sha256,
          seconds: sound.seconds,
          span: 'out',
          at: 2,
          level: -6,
        },
      ],
    }
    expect((await hoja.send('PUT', `/templates/${id}`, { revision: stored.revision, template })).status).toBe(200)
    const version = (await hoja.send('POST', `/templates/${id}/versions`, {})).body as { id: number }
    const table = [['name'], ['Maren']]
    const sheet = (await hoja.send('POST', '/sheets', { version: version.id, name: 's', table })).body as { id: number }
    const { spans } = template
    const frames = spans.in + spans.out + 20
    for (const format of ['mov', 'mkv', 'webm', 'mp4']) {
      const output = (await hoja.send('POST', '/outputs', { sheet: sheet.id, format, frames })).body as { id: number }
      await until(
        () => hoja.get(`/outputs/${output.id}`),
        ({ body }) => (body as { state: string }).state === 'done',
      )
      writeFileSync(join(work, `title.${format}`), await bytesAt(`/outputs/${output.id}/rows/1/files/0`))
      const { streams } = JSON.parse(
        await told('ffprobe', '-v', 'error', '-show_streams', '-of', 'json', join(work, `title.${format}`)),
      ) as { streams: { codec_type: string; codec_name: string }[] }
      expect(streams.map((stream) => stream.codec_type).sort()).toEqual(['audio', 'video'])
      const pcm = await rawOf(
        '-v',
        'error',
        '-i',
        join(work, `title.${format}`),
        '-map',
        '0:a',
        '-ac',
        '1',
        '-ar',
        '48000',
        '-f',
        's16le',
        '-',
      )
      const samples = new Int16Array(pcm.buffer, pcm.byteOffset, pcm.length >> 1)
      // The lossy ones ring a little before a sound begins, and pad the end.
      const first = samples.findIndex((sample) => Math.abs(sample) > 300)
      expect(Math.abs(first / 48000 - (spans.in + 20 + 2) / 25)).toBeLessThan(0.03)
      expect(Math.abs(samples.length / 48000 - frames / 25)).toBeLessThan(0.06)
    }
    await hoja.send('DELETE', `/templates/${id}`)
  })

  test('a sound that is none is refused', async () => {
    expect(refusal(await hoja.upload('/assets', 'a.ogg', strToU8('OggS? '.repeat(30))))[1]).toContain(
      'is an Ogg file without Vorbis or Opus sound',
    )
  })
})

describe('movies', () => {
  const bars = ['-f', 'lavfi', '-i', 'testsrc2=size=64x48:rate=30000/1001:duration=0.5']
  // Lossless in, so that ffmpeg's own decoding of the file gives the very bytes to compare with.
  test('a movie is decoded once to the frames that ffmpeg gives, with its rate and its alpha', async () => {
    const bytes = await made(
      'bars.mov',
      ...bars,
      '-vf',
      'format=rgba,geq=r=r(X\\,Y):g=g(X\\,Y):b=b(X\\,Y):a=4*X',
      '-c:v',
      'png',
    )
    const added = await hoja.upload('/assets', 'bars.mov', bytes)
    expect(added).toMatchObject({
      status: 201,
      body: {
        kind: 'picture',
        name: 'bars.mov',
        width: 64,
        height: 48,
        movie: { frames: 15, rate: { num: 30000, den: 1001 } },
      },
    })
    const { sha256: hash } = added.body as { sha256: string }
    writeFileSync(join(work, 'bars.apng'), await bytesAt(`/assets/${hash}`))
    // ffmpeg reads what we wrote as it reads the movie: every frame the same.
    const md5 = async (file: string) =>
      (await told('ffmpeg', '-v', 'error', '-i', join(work, file), '-pix_fmt', 'rgba', '-f', 'framemd5', '-'))
        .split('\n')
        .filter((line) => !line.startsWith('#') && line)
        .map((line) => line.split(',').pop()!.trim())
    const frames = await md5('bars.apng')
    expect(frames).toEqual(await md5('bars.mov'))
    expect(frames).toHaveLength(15)
  })

  test('the alpha of a VP9 movie comes in with it', async () => {
    const bytes = await made(
      'veil.webm',
      ...bars,
      '-vf',
      'format=yuva420p,geq=lum=200:a=0',
      '-c:v',
      'libvpx-vp9',
      '-auto-alt-ref',
      '0',
    )
    const { sha256: hash } = (await hoja.upload('/assets', 'veil.webm', bytes)).body as { sha256: string }
    writeFileSync(join(work, 'veil.apng'), await bytesAt(`/assets/${hash}`))
    const raw = await rawOf(
      '-v',
      'error',
      '-i',
      join(work, 'veil.apng'),
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgba',
      '-',
    )
    expect(raw.filter((_, i) => i % 4 === 3).every((alpha) => alpha < 3)).toBe(true)
  })

  test('what is no movie, or too long a one, is refused in a sentence', async () => {
    const odd = await hoja.upload('/assets', 'a.mov', strToU8('moov '.repeat(100)))
    expect(refusal(odd)).toEqual([415, '"a.mov" is not a movie that can be read; save it as MOV, MP4 or WebM.'])
    const long = await made('long.mp4', '-f', 'lavfi', '-i', 'color=size=16x16:rate=50:duration=16')
    expect(refusal(await hoja.upload('/assets', 'long.mp4', long))[1]).toMatch(
      /too much for a title: cut it to 750 frames/,
    )
  })
})

test('starter files hold every field, its note and its default; another kind is refused', async () => {
  const { versions } = (await hoja.get('/templates/speaker')).body as { versions: { id: number }[] }
  const version = versions[0]!.id
  const csv = new TextDecoder().decode(await bytesAt(`/versions/${version}/starter.csv`))
  expect(csv).toContain('# name: Name (required), at most 40 characters.')
  const json = JSON.parse(new TextDecoder().decode(await bytesAt(`/versions/${version}/starter.json`))) as {
    rows: object[]
  }
  expect(Object.keys(json.rows[0]!)).toEqual(['name', 'role', 'mark'])
  expect((await bytesAt(`/versions/${version}/starter.xlsx`)).slice(0, 2)).toEqual(strToU8('PK'))
  expect(refusal(await hoja.get(`/versions/${version}/starter.pdf`))[0]).toBe(404)
})

test('a template plays on the shelf from beginning to end, the hold cut short', async () => {
  writeFileSync(join(work, 'loop.apng'), await bytesAt('/templates/speaker/loop.png'))
  const { streams } = JSON.parse(
    await told('ffprobe', '-v', 'error', '-show_streams', '-of', 'json', join(work, 'loop.apng')),
  ) as { streams: { codec_name: string; width: number; height: number }[] }
  expect(streams[0]).toMatchObject({ codec_name: 'apng', width: 480, height: 270 })
  // Asked for again, it is the same, and comes from the folder.
  expect(await bytesAt('/templates/speaker/loop.png')).toEqual(new Uint8Array(readFileSync(join(work, 'loop.apng'))))
  // Near, both show what the settled title touches, with air around it, in the shape of a card.
  const near = (await hoja.get('/templates/speaker/near')).body as { x: number; width: number; height: number }
  expect(near.width / near.height).toBeCloseTo(16 / 9, 3)
  expect(near.width).toBeLessThan(1920 / 1.8)
  const poster = PNG.sync.read(Buffer.from(await bytesAt('/templates/speaker/poster.png?near=true')))
  expect([poster.width, poster.height]).toEqual([640, 360])
  // The edge of the title stands 96 px from the left of the frame.
  const left = [...Array(640).keys()].find((x) => poster.data[(300 * 640 + x) * 4 + 3]! > 200)!
  expect(near.x + (left * near.width) / 640).toBeCloseTo(96, -1)
})

describe('a sheet and the versions of its template', () => {
  test('stays on its version until it is moved, outputs with it; what it may not move to is refused', async () => {
    const { id } = (await hoja.send('POST', '/templates/speaker/duplicate')).body as Summary
    const publish = async () =>
      (await hoja.send('POST', `/templates/${id}/versions`, {})).body as { id: number; number: number }
    const first = await publish()
    const table = [['Full name'], ['Maren']]
    const sheet = (await hoja.send('POST', '/sheets', { version: first.id, name: 's', table })).body as {
      id: number
      revision: number
    }
    const output = (await hoja.send('POST', '/outputs', { sheet: sheet.id, format: 'png', frames: 40 })).body as {
      id: number
    }
    const stored = (await hoja.get(`/templates/${id}`)).body as { revision: number; template: Template }
    const fields = stored.template.fields.map((field) => (field.key === 'name' ? { ...field, key: 'who' } : field))
    await hoja.send('PUT', `/templates/${id}`, { revision: stored.revision, template: { ...stored.template, fields } })
    const second = await publish()
    expect((await hoja.get(`/sheets/${sheet.id}`)).body).toMatchObject({ version: first.id, number: 1 })

    const move = (body: object) => hoja.send('PUT', `/sheets/${sheet.id}/version`, body)
    const other = ((await hoja.get('/templates/talk')).body as { versions: { id: number }[] }).versions[0]!
    const base = { revision: sheet.revision, match: { who: 'Full name' } }
    expect(refusal(await move({ ...base, version: other.id }))[1]).toContain(`it can't move to "talk"`)
    expect(refusal(await move({ ...base, version: second.id, match: { name: 'Full name' } }))[1]).toContain(
      '"name" is not a field',
    )
    expect(refusal(await move({ ...base, version: second.id, match: { who: 'Nobody' } }))[1]).toContain(
      'has no column "Nobody"',
    )
    expect(refusal(await move({ ...base, version: second.id, revision: 99 }))[0]).toBe(409)
    expect(await move({ ...base, version: second.id })).toMatchObject({ status: 200, body: { version: second.id } })
    expect((await hoja.get(`/sheets/${sheet.id}`)).body).toMatchObject({ number: 2, match: { who: 'Full name' } })
    // What was ordered before stays on what it was ordered for.
    expect((await hoja.get(`/outputs/${output.id}`)).body).toMatchObject({ number: 1, match: { name: 'Full name' } })
    await hoja.send('DELETE', `/templates/${id}`)
  })

  test('a match that was set comes back on a later version too, which may ask for more', async () => {
    const { id } = (await hoja.send('POST', '/templates/speaker/duplicate')).body as Summary
    const publish = async () => (await hoja.send('POST', `/templates/${id}/versions`, {})).body as { id: number }
    const add = async (version: number) =>
      (
        await hoja.send('POST', '/sheets', {
          version,
          name: 's',
          table: [
            ['Who', 'role', 'Quay'],
            ['Io', 'Pilot', 'North'],
          ],
        })
      ).body as { id: number; match: object }
    const first = await add((await publish()).id)
    expect(first.match).toEqual({ name: 'Who', role: 'role' })
    // A person leaves the role at its default.
    await hoja.send('PUT', `/sheets/${first.id}/match`, { match: { name: 'Who' } })
    const stored = (await hoja.get(`/templates/${id}`)).body as { revision: number; template: Template }
    const fields = [...stored.template.fields, { ...nameField, id: 'quay', key: 'quay', name: 'Quay' }]
    await hoja.send('PUT', `/templates/${id}`, { revision: stored.revision, template: { ...stored.template, fields } })
    expect((await add((await publish()).id)).match).toEqual({ name: 'Who', quay: 'Quay' })
    await hoja.send('DELETE', `/templates/${id}`)
  })
})
