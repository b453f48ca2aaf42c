import { demoScene } from '../testing/speaker.ts'
import { cellsByKey, matchByKey, saidIn, valuesOf } from './index.ts'

test('what a title says is what is seen of it: numbers and moments as they are written, lists a line each', async () => {
  const [tide, slate, notices] = await Promise.all(['tide', 'slate', 'notices'].map(demoScene))
  expect(saidIn(tide!.template, { station: 'Vado', height: 2.8 }).slice(0, 2)).toEqual(['Vado', '2.80 m'])
  expect(saidIn(slate!.template, { date: '2026-11-26T18:30' })).toContain('Thursday 26 November 2026')
  expect(saidIn(notices!.template, { notice: ['One', 'Two'] })[0]).toBe('One\nTwo')
})

test('a row becomes texts by the keys of fields, and these the same values again', async () => {
  const { template } = await demoScene('speaker')
  const match = { name: { columns: ['first', 'last'] }, role: 'job' }
  const row = { cells: { first: 'Io', last: 'Marrec', job: 'Pilot' } }
  const cells = cellsByKey(template, match, row)
  expect(cells).toEqual({ name: 'Io Marrec', role: 'Pilot' })
  expect(valuesOf(template, matchByKey(template), { cells }).values).toEqual(valuesOf(template, match, row).values)
})
