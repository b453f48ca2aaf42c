import { strToU8 } from 'fflate'
import { feedOf, odsOf, odsRow, xlsxOf, xlsxRow } from '../attack/hostile.mjs'
import { readDataFile } from '../core/dist/formats/index.js'
import { pattern } from '../core/dist/pattern/index.js'
import { sideBySide } from './kit.mjs'

const list = (n, one) => Array.from({ length: n }, (_, i) => one(i))
const quiet = (work) => {
  try {
    work()
  } catch (error) {
    // What is refused is refused in linear time, too.
    if (error.name !== 'Refusal') throw error
  }
}
const read = (bytes, name, options) => () => quiet(() => readDataFile(bytes, name, options))

/** By name: work on an input of `n` times a size, the largest as large as Hoja reads it. */
const readers = {
  'a title of <': (n) => read(feedOf('&lt;'.repeat(12_000 * n)), 'a.xml'),
  'a title of < as they are': (n) => read(feedOf(`<![CDATA[${'<'.repeat(12_000 * n)}]]>`), 'a.xml'),
  'items of a feed': (n) =>
    read(
      strToU8(
        `<rss version="2.0"><channel>${list(1500 * n, (i) => `<item><title>t ${i}</title></item>`).join('')}</channel></rss>`,
      ),
      'a.xml',
    ),
  'columns of a text file': (n) =>
    read(strToU8(`${list(250 * n, (i) => `c${i}`).join(',')}\n${list(250 * n, () => 'x').join(',')}\n`), 'a.csv'),
  'rows of a text file': (n) =>
    read(strToU8(`name,role\n${'Io Marrec,"Pilot, harbour"\n'.repeat(12_000 * n)}`), 'a.csv'),
  'notes above a text file': (n) => read(strToU8(`${'# note\n'.repeat(30_000 * n)}name\nIo\n`), 'a.csv'),
  'rows with keys of their own': (n) =>
    read(strToU8(JSON.stringify(list(240 * n, (i) => ({ [`k${i}`]: 1 })))), 'a.json'),
  'rows of JSON': (n) =>
    read(strToU8(JSON.stringify(list(6000 * n, (i) => ({ name: `Io ${i}`, more: { role: 'x' } })))), 'a.json'),
  'a path with nested quantifiers': (n) =>
    read(strToU8(JSON.stringify([{ a: `${'a'.repeat(12_000 * n)}!` }])), 'a.json', {
      path: "$[?match(@.a, '(a+)+b')]",
    }),
  'tables that are opened': (n) => read(odsOf('<table:table '.repeat(15_000 * n)), 'a.ods'),
  'rows of a spreadsheet': (n) => read(odsOf(odsRow(1).repeat(1500 * n)), 'a.ods'),
  'rows of a workbook': (n) =>
    read(xlsxOf('A1', `<sheetData>${list(2500 * n, (i) => xlsxRow(i + 1, `Io ${i}`)).join('')}</sheetData>`), 'a.xlsx'),
  'a pattern that could go round': (n) => {
    // Longer than a cell: short texts are searched in another way, which is quicker still.
    const text = `${'a'.repeat(60_000 * n)}!`
    return () => pattern('^(a+)+$').matches(text)
  },
}

/** Every reader's time as its input is doubled three times; each step wants less than 2.5 times the time. */
export async function benchReaders() {
  const figures = []
  const ratios = []
  for (const [name, work] of Object.entries(readers)) {
    const sizes = [1, 2, 4, 8]
    const works = Object.fromEntries(sizes.map((n) => [n, work(n)]))
    const times = await sideBySide(works, 15, 3)
    const steps = [2, 4, 8].map((n) => times[n].median / times[n / 2].median)
    figures.push(`${name}: ${sizes.map((n) => `${times[n].median.toFixed(1)} ms`).join(', ')}`)
    const least = Math.max(...[2, 4, 8].map((n) => times[n].least / times[n / 2].least))
    ratios.push({ claim: `times as long for twice as much: ${name}`, want: 2.5, median: Math.max(...steps), least })
  }
  return { name: 'readers, as their input is doubled three times', figures, ratios }
}
