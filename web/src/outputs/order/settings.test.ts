import { readFileSync } from 'node:fs'
import type { Version } from '@hoja/core/api'
import { parseRows } from '@hoja/core/output'
import type { Template } from '@hoja/core/template'
import type { SheetDetail } from '../../api.ts'
import { changed, exampleNames, orderedFrom, wrongWith } from './settings.ts'

const content = JSON.parse(readFileSync('demo/templates/speaker/template.json', 'utf8')) as Template
const version = { number: 3, content } as Version & { content: Template }
const sheet = {
  name: 'Guests',
  match: { name: 'name', role: 'role' },
  rows: [{ cells: { name: 'Io Marrec' } }, { cells: { name: 'Tam / Sá' } }, { cells: { name: 'Wen' } }, { cells: {} }],
} as unknown as SheetDetail

test('a setting that is taken away is gone, not undefined, so that equal settings are equal', () => {
  const before = { format: 'mov', timecode: '10:00:00:00' } as const
  expect(Object.keys(changed(before, { timecode: undefined, alpha: 'premultiplied' }))).toEqual(['format', 'alpha'])
  expect(before.timecode).toBe('10:00:00:00')
})

test('what the format does not take is kept on the screen and left out of the order', () => {
  const all = {
    alpha: 'premultiplied',
    backdrop: { kind: 'colour', colour: '#102030' },
    timecode: '10:00:00:00',
    silent: true,
    handles: { before: 5, after: 5 },
    frames: 90,
  } as const
  const keys = (format: 'mov' | 'mp4' | 'still' | 'webm') =>
    Object.keys(orderedFrom({ format, ...all }, undefined)).sort()
  expect(keys('mov')).toEqual(['alpha', 'format', 'frames', 'handles', 'silent', 'timecode'])
  expect(keys('mp4')).toEqual(['backdrop', 'format', 'frames', 'handles', 'silent', 'timecode'])
  expect(keys('webm')).not.toContain('alpha')
  expect(keys('still')).toEqual(['format', 'frames'])
  expect(orderedFrom({ format: 'mov' }, [1, 4])).toEqual({ format: 'mov', rows: [1, 4] })
})

test('the first files are named as they will be', () => {
  const names = (settings: Parameters<typeof exampleNames>[3], rows = [1, 2, 3, 4]) =>
    exampleNames(sheet, rows, version, settings)
  expect(names({ format: 'mov' })).toEqual(['001_Io_Marrec.mov', '002_Tam_Sá.mov', '003_Wen.mov'])
  expect(names({ format: 'png', folders: 'sheet', pattern: '{version}_{name}' }, [2])).toEqual(['Guests/3_Tam_Sá/'])
  expect(names({ format: 'pair', pattern: '{size}' }, [1, 2])).toEqual(['1920x1080_fill.mov', '1920x1080_2_fill.mov'])
})

test('what is wrong is told in the words of the rule; a defect is no sentence for a person', () => {
  expect(wrongWith(() => parseRows('1-3', 4))).toBeUndefined()
  expect(wrongWith(() => parseRows('9', 4))).toBe('Row 9 does not exist; the sheet has rows 1 to 4.')
  expect(() =>
    wrongWith(() => {
      throw new TypeError('x is not a function')
    }),
  ).toThrow(TypeError)
})
