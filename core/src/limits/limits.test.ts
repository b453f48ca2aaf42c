import { readFileSync } from 'node:fs'
import { amount, limitsTable, most } from './index.ts'

test('an amount is told as people read it', () => {
  expect(amount(1_048_576, 'rows')).toBe('1,048,576 rows')
  expect(amount(256 * 1024 * 1024, 'bytes')).toBe('256 MB')
  expect(amount(512, 'bytes')).toBe('512 bytes')
  expect(most('pictureSide')).toBe('12,000 px')
})

test('the page of limits says what the code says', () => {
  const page = readFileSync(new URL('../../../docs/limits.md', import.meta.url), 'utf8')
  expect(page).toContain(limitsTable())
})
