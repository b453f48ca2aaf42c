import { readFileSync } from 'node:fs'
import { openDataFile } from '../formats/index.ts'
import { resources } from '../testing/raster.ts'
import { demoNames, demoScene } from '../testing/speaker.ts'
import { checkLayout, generatedProofs, Looks, lookAtRow, matchColumns, rowsOf } from './index.ts'

const looks = new Looks(resources)
const data = new URL('../../../demo/data/', import.meta.url)

/** The demo's data files, and the template that each is for. */
const sheets: [template: string, file: string][] = [
  ['speaker', 'speakers.csv'],
  ['agenda', 'agenda.csv'],
  ['credits', 'credits.csv'],
  ['notices', 'notices.csv'],
  ['slate', 'slate.csv'],
  ['species', 'species.ods'],
  ['tide', 'tide.json'],
]

test.each(sheets)('%s: no row of %s is said to be unseen', async (name, file) => {
  const scene = await demoScene(name)
  const { table } = openDataFile(readFileSync(new URL(file, data)), file, {}, scene.template)
  const match = matchColumns(scene.template, table.columns, table.rows, table.marks)
  const found = rowsOf(table).flatMap((row, i) => lookAtRow(scene, match, row, i + 1, looks))
  expect(found.map(({ row, message }) => `${row}: ${message}`)).toEqual([])
})

/** Kinds of finding that come of a look at the picture. */
const looked = ['seen', 'faint', 'sharp', 'turned', 'letters', 'double', 'ground', 'language']

test.each(demoNames)('%s: of no proof something is said that its designer would call wrong', async (name) => {
  const scene = await demoScene(name)
  const { template } = scene
  const proofs = [{ name: 'as drawn', values: {} }, ...template.proofs, ...generatedProofs(template)]
  const found = proofs.flatMap(({ name: proof, values }) => {
    const layout = scene.layout(values)
    return checkLayout(scene, layout, scene.timing(layout), 1, looks)
      .filter(({ code }) => looked.includes(code))
      .map(({ message }) => `${proof}: ${message}`)
  })
  expect(found).toEqual([])
})
