import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { strToU8, zipSync } from 'fflate'
import { wrongWith } from './folder.mjs'
import { feedOf, odsOf, odsRow, xlsxOf, xlsxRow } from './hostile.mjs'
import { killed } from './kills.mjs'
import { directoryOf, mutations } from './mutations.mjs'
import { random } from './random.mjs'
import { memoryOf, probe, root, startServer } from './server.mjs'

// `npm run attack`: everything that ever stopped Hoja, hostile versions of every kind of file, and kills at any moment,
// against a real server in its own process. `--short` is what every change has to pass; `--seed N` makes a run again.

const { argv } = process
const isShort = argv.includes('--short')
const option = (name) => (argv.includes(name) ? argv[argv.indexOf(name) + 1] : undefined)
const seed = Number(option('--seed') ?? Math.floor(Math.random() * 1e6))
const perFormat = Number(option('--each') ?? (isShort ? 40 : 200))
const kills = Number(option('--kills') ?? (isShort ? 8 : 200))
/** ms within which a plain read must be answered, and MB that are held in the end. */
const [patience, mostOwn, mostAll] = [1000, 500, 3000]

const results = { good: 0, bad: 0 }
function check(name, isGood, more = '') {
  results[isGood ? 'good' : 'bad']++
  if (!isGood) console.log(`  BAD: ${name}${more ? `: ${String(more).slice(0, 300)}` : ''}`)
}

const demo = (path) => new Uint8Array(readFileSync(`${root}demo/${path}`))
const data = mkdtempSync(join(tmpdir(), 'hoja-attack-'))
console.log(`seed ${seed}, ${perFormat} of each format, ${kills} kills`)

let server = await startServer(data)
const version = async (template) => String((await server.ask(`/templates/${template}`)).body.versions[0].id)
const speaker = await version('speaker')
const rows = (name, file, more = {}) => server.upload('/sheets/import', name, file, { version: speaker, ...more })

/** An answer is good when it is there, and what it refuses is one sentence. */
function checkAnswer(name, { status, body }) {
  const message = body?.detail
  const isSentence = typeof message === 'string' && !message.includes('\n') && message.length < 700
  check(name, status < 300 || (status >= 400 && status < 500 && isSentence), `${status} ${JSON.stringify(body)}`)
}

/** Everything that ever stopped Hoja, all at once. */
async function named() {
  const two = `<sheetData>${xlsxRow(1, 'name')}${xlsxRow(2, 'Io')}</sheetData>`
  const deep = `{"x-deep":${'['.repeat(2000)}${']'.repeat(2000)}}`
  const template = JSON.parse(new TextDecoder().decode(demo('templates/speaker/template.json')))
  const merges = '<mergeCell ref="A1:XFD1048576"/>'.repeat(500)
  const attacks = [
    ['a worksheet that says A1:XFD1048576', () => rows('a.xlsx', xlsxOf('A1:XFD1048576', two))],
    [
      'a worksheet with a cell at XFD1048576',
      () => rows('b.xlsx', xlsxOf('A1', `<sheetData>${xlsxRow(1, 'name')}${xlsxRow(1048576, 'x', 'XFD')}</sheetData>`)),
    ],
    [
      'a thousand million columns described',
      () => rows('c.xlsx', xlsxOf('A1', `<cols><col min="1" max="1000000000"/></cols>${two}`)),
    ],
    ['cells merged over one another', () => rows('d.xlsx', xlsxOf('A1', `${two}<mergeCells>${merges}</mergeCells>`))],
    [
      'cells that are never closed',
      () =>
        rows(
          'e.xlsx',
          xlsxOf('A1', `<sheetData><row r="1">${'<c r="A1" t="str"><v>'.repeat(60_000)}</row></sheetData>`),
        ),
    ],
    ['an ODS row repeated a thousand million times', () => rows('a.ods', odsOf(odsRow(1e9)))],
    ['the same again', () => rows('b.ods', odsOf(odsRow(1e9)))],
    ['an ODS cell repeated so', () => rows('c.ods', odsOf(odsRow(1, 1e9)))],
    ['60,000 tables that are opened', () => rows('d.ods', odsOf('<table:table '.repeat(60_000)))],
    [
      'a package 2,000 levels deep',
      () => server.upload('/templates/import', 'deep.hoja', zipSync({ 'template.json': strToU8(deep) })),
    ],
    ['JSON 100,000 levels deep', () => rows('deep.json', strToU8('['.repeat(100_000)))],
    [
      'a draft 100,000 levels deep',
      () => server.send('PUT', '/templates/speaker', `{"revision":1,"template":${'['.repeat(100_000)}`),
    ],
    ['a title of 120,000 <', () => rows('a.xml', feedOf('&lt;'.repeat(120_000)))],
    ['a title of 90,000 < as it is', () => rows('b.xml', feedOf(`<![CDATA[${'<'.repeat(90_000)}]]>`))],
    [
      '60,000 columns',
      () => rows('a.csv', strToU8(`${Array.from({ length: 60_000 }, (_, i) => `c${i}`).join(',')}\nx\n`)),
    ],
    [
      '2,000 columns',
      () => rows('b.csv', strToU8(`${Array.from({ length: 2000 }, (_, i) => `c${i}`).join(',')}\nx\n`)),
    ],
    [
      '6,000 rows with keys of their own',
      () => rows('a.json', strToU8(JSON.stringify(Array.from({ length: 6000 }, (_, i) => ({ [`k${i}`]: 1 }))))),
    ],
    [
      'a path with nested quantifiers',
      () =>
        rows('b.json', strToU8(JSON.stringify([{ a: `${'a'.repeat(50_000)}!` }])), {
          options: JSON.stringify({ path: "$[?match(@.a, '(a+)+b')]" }),
        }),
    ],
    [
      'a zip that lies about its sizes',
      () => {
        const zip = Buffer.from(zipSync({ 'template.json': new Uint8Array(50_000_000) }))
        for (const at of directoryOf(zip)) zip.writeUInt32LE(10, at + 24)
        return server.upload('/templates/import', 'lies.hoja', zip)
      },
    ],
    [
      'a zip of 200 MB of nothing',
      () => server.upload('/templates/import', 'large.hoja', zipSync({ 'template.json': new Uint8Array(200_000_000) })),
    ],
    [
      'a playlist called a movie',
      () => server.upload('/assets', 'm.mp4', strToU8('#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n')),
    ],
    [
      'a picture of 30,000 x 30,000',
      () => {
        const png = Buffer.from(demo('templates/speaker/media/mill.png'))
        png.writeUInt32BE(30_000, 16)
        png.writeUInt32BE(30_000, 20)
        return server.upload('/assets', 'wide.png', png)
      },
    ],
    ['a font that is none', () => server.upload('/assets', 'a.ttf', new Uint8Array(5_000_000))],
    [
      'rows called __proto__',
      () =>
        server.send('POST', '/sheets', {
          version: Number(speaker),
          name: 'x',
          table: [
            ['__proto__', 'constructor', 'name'],
            ['a', 'b', 'c'],
          ],
        }),
    ],
    ['a body that is no JSON', () => server.send('POST', '/sheets', '{"version":')],
    ['a template whose id is __proto__', () => server.ask('/templates/__proto__')],
    ['a path that leaves', () => server.ask('/assets/..%2f..%2fhoja.sqlite')],
    [
      'a frame of 16 x 8192, played',
      async () => {
        const { body: made } = await server.send('POST', '/templates/speaker/duplicate')
        const { body: own } = await server.ask(`/templates/${made.id}`)
        const frame = { ...own.template.frame, width: 16, height: 8192 }
        await server.send('PUT', `/templates/${made.id}`, {
          revision: own.revision,
          template: { ...own.template, frame },
        })
        return server.ask(`/templates/${made.id}/loop.png`)
      },
    ],
    [
      '2,000 boxes, saved',
      async () => {
        const { body: made } = await server.send('POST', '/templates/speaker/duplicate')
        const { body: own } = await server.ask(`/templates/${made.id}`)
        const box = template.parts.find(({ kind }) => kind === 'box')
        const free = { x: { ...box.x, ties: [] }, y: { ...box.y, ties: [] } }
        const more = Array.from({ length: 2000 - own.template.parts.length }, (_, i) => ({
          ...box,
          ...free,
          id: `b${i}`,
          name: `B ${i}`,
        }))
        const parts = [...own.template.parts, ...more]
        return server.send('PUT', `/templates/${made.id}`, {
          revision: own.revision,
          template: { ...own.template, parts },
        })
      },
    ],
  ]
  await Promise.all(attacks.map(async ([name, attack]) => checkAnswer(name, await attack())))
  const { body: sheet } = await rows('words.csv', strToU8(`name\n${'a'.repeat(35)}!\n`))
  const replacing = (find) => ({
    name: { columns: ['name'], conversions: [{ kind: 'replace', find, put: 'x', pattern: true }] },
  })
  const match = await server.send('PUT', `/sheets/${sheet.id}/match`, { match: replacing('^(a+)+$') })
  checkAnswer('a pattern that never ends', match)
  checkAnswer('an order with it', await server.send('POST', '/outputs', { sheet: sheet.id, format: 'svg' }))
  const refused = await server.send('PUT', `/sheets/${sheet.id}/match`, { match: replacing('(a)\\1') })
  check(
    'a pattern that can not be linear is refused',
    refused.status === 422 || refused.status === 400,
    JSON.stringify(refused),
  )
}

/** Hostile versions of good files. */
async function mutated() {
  const speakerFolder = `${root}demo/templates/speaker`
  const files = (folder, before = '') =>
    readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
      entry.isDirectory()
        ? files(join(folder, entry.name), `${before}${entry.name}/`)
        : [[`${before}${entry.name}`, new Uint8Array(readFileSync(join(folder, entry.name)))]],
    )
  const parts = Object.fromEntries(files(speakerFolder))
  const pack = zipSync(parts, { level: 1 })
  const document = parts['template.json']
  const { body: pictured } = await rows('p.csv', strToU8('name\nIo\n'))
  const feed = new TextEncoder().encode(await (await fetch(`${server.base}/stand-ins/notices.rss`)).text())
  const bring = {
    zip: [
      [pack, (bytes) => server.upload('/templates/import', 'a.hoja', bytes)],
      [demo('data/species.ods'), (bytes) => rows('a.ods', bytes)],
      [
        xlsxOf('A1:B3', `<sheetData>${xlsxRow(1, 'name')}${xlsxRow(2, 'Io')}${xlsxRow(3, 'Tam')}</sheetData>`),
        (bytes) => rows('a.xlsx', bytes),
      ],
    ],
    xml: [
      [feed, (bytes) => rows('a.xml', bytes)],
      [
        strToU8(`<worksheet><sheetData>${xlsxRow(1, 'name')}${xlsxRow(2, 'Io')}</sheetData></worksheet>`),
        (bytes) => rows('a.xlsx', xlsxOf('A1', new TextDecoder().decode(bytes).replace(/<\/?worksheet>/g, ''))),
      ],
    ],
    png: [
      [demo('templates/speaker/media/mill.png'), (bytes) => server.upload('/assets', 'a.png', bytes)],
      [
        demo('templates/speaker/media/gull.png'),
        (bytes) => server.upload(`/sheets/${pictured.id}/pictures`, 'b.png', bytes),
      ],
    ],
    ttf: [
      [
        demo('templates/speaker/fonts/BarlowCondensed_600SemiBold.ttf'),
        (bytes) => server.upload('/assets', 'a.ttf', bytes),
      ],
    ],
    json: [
      [
        document,
        (bytes) =>
          server.upload('/templates/import', 'a.hoja', zipSync({ ...parts, 'template.json': bytes }, { level: 1 })),
      ],
      [
        strToU8(
          JSON.stringify({
            rows: [
              { name: 'Io', role: 'Pilot' },
              { name: 'Tam', role: { a: [1, 2] } },
            ],
          }),
        ),
        (bytes) => rows('a.json', bytes),
      ],
    ],
    csv: [[demo('data/speakers.csv'), (bytes) => rows('a.csv', bytes)]],
  }
  const taken = {}
  for (const [format, kinds] of Object.entries(bring)) {
    const own = random(seed + format.length * 1000 + format.charCodeAt(0))
    taken[format] = 0
    // Some at once, as from several people.
    const queue = Array.from({ length: perFormat }, (_, i) => i)
    const worker = async () => {
      for (let n = queue.shift(); n !== undefined; n = queue.shift()) {
        const [good, send] = own.pick(kinds)
        const bytes = mutations[format](good, own)
        const answer = await send(bytes)
        if (answer.status < 300) taken[format]++
        checkAnswer(`${format} ${n}`, answer)
      }
    }
    await Promise.all([worker(), worker(), worker()])
  }
  return taken
}

const watched = probe(server)
const before = memoryOf(server.child.pid)
await named()
const afterNamed = await watched()
check(
  'a plain read waits at most 1 s longer than one of a server that does nothing while everything named is tried',
  afterNamed.held < patience && afterNamed.lost === 0,
  JSON.stringify(afterNamed),
)
const again = probe(server)
const taken = await mutated()
const afterMutated = await again()
check(
  '… and while mutated files come in',
  afterMutated.held < patience && afterMutated.lost === 0,
  JSON.stringify(afterMutated),
)
const after = memoryOf(server.child.pid)
check(
  `the server holds at most ${mostOwn} MB, all of its processes ${mostAll} MB`,
  after.own < mostOwn && after.all < mostAll,
  JSON.stringify(after),
)
check('nothing was a defect of ours', server.log() === '', server.log().slice(0, 1500))
await server.end()
server = await startServer(data)
await new Promise((done) => setTimeout(done, 3000))
await server.end()
const wrong = wrongWith(data)
check('the folder is sound, without half files and strays', wrong.length === 0, wrong.join('; '))
rmSync(data, { recursive: true, force: true })
console.log(
  `  slowest plain read ${afterNamed.slowest.toFixed(0)} and ${afterMutated.slowest.toFixed(0)} ms, ${afterNamed.held.toFixed(0)} and ${afterMutated.held.toFixed(0)} longer than of a server that does nothing (p99 ${afterNamed.p99.toFixed(0)} and ${afterMutated.p99.toFixed(0)}); ${before.own.toFixed(0)} MB before, ${after.own.toFixed(0)} MB after (${after.all.toFixed(0)} with all processes)`,
)
console.log(
  `  taken in, of ${perFormat} each: ${Object.entries(taken)
    .map(([format, n]) => `${format} ${n}`)
    .join(', ')}`,
)

if (kills > 0) {
  const lost = await killed(kills, random(seed), (name, isGood, more) => check(name, isGood, more))
  console.log(`  ${kills} kills, ${lost.acknowledged} things acknowledged before them`)
}

console.log(`${results.good} passed, ${results.bad} failed`)
const report = option('--report')
if (report) writeFileSync(report, JSON.stringify(results))
process.exit(results.bad > 0 ? 1 : 0)
