import { readNumber } from '../template/index.ts'

/** How a column writes numbers: its decimal mark; groups are parted by the other mark, a space or an apostrophe. */
export type Marks = '.' | ','

export interface ReadNumber {
  value: number
  /** What it could be meant as just as well. */
  other?: number
}

const spaces = /(?<=\d)[\s\u00a0\u202f'’](?=\d{3}(\D|$))/g

/**
 * A number as data has it. `1,234` is a thousand in one house and one and a bit in another: without `marks` the comma is
 * the decimal mark, and the other reading is told. What programs write and people don't (`1e3`, `0x10`) is told too.
 * @returns undefined for what is no number
 */
export function numberIn(text: string, marks?: Marks): ReadNumber | undefined {
  const plain = text.trim().replace('−', '-').replace(spaces, '')
  if (/^[+-]?(0x[\da-f]+|\d+(\.\d+)?e[+-]?\d+)$/i.test(plain)) {
    const value = Number(plain)
    const digits = Number(plain.match(/^[+-]?\d+(\.\d+)?/)![0])
    return Number.isFinite(value) ? { value, other: digits } : undefined
  }
  if (!/^[+-]?[\d.,]+$/.test(plain)) return undefined
  if (marks) {
    const value = marked(plain, marks)
    // A sheet that says how it writes numbers may still have one that can't be written so.
    return value === undefined ? undefined : { value }
  }
  const [point, comma] = [marked(plain, '.'), marked(plain, ',')]
  if (point === undefined || comma === undefined || point === comma) {
    const value = point ?? comma
    return value === undefined ? undefined : { value }
  }
  // Both can be meant: one mark, three digits behind it.
  return plain.includes(',') ? { value: comma, other: point } : { value: point, other: comma }
}

/** A number with this decimal mark, its groups of three parted by the other; undefined for one that is not written so. */
function marked(plain: string, mark: Marks): number | undefined {
  const group = mark === '.' ? ',' : '.'
  const [whole = '', part, ...more] = plain.split(mark)
  if (more.length > 0 || part?.includes(group)) return undefined
  if (whole.includes(group) && !new RegExp(`^[+-]?\\d{1,3}(\\${group}\\d{3})+$`).test(whole)) return undefined
  const value = readNumber(whole.replaceAll(group, '') + (part === undefined ? '' : `.${part}`))
  return Number.isNaN(value) ? undefined : value
}

/** The decimal mark that a column shows by those of its numbers that can be read in one way only; undefined: none does. */
export function guessMarks(cells: readonly string[]): Marks | undefined {
  const votes = { '.': 0, ',': 0 }
  for (const cell of cells)
    for (const one of cell.split(/[;|\n]/)) {
      const plain = one.trim().replace('−', '-').replace(spaces, '')
      if (!/[.,]/.test(plain) || !/^[+-]?[\d.,]+$/.test(plain)) continue
      const [point, comma] = [marked(plain, '.'), marked(plain, ',')]
      if (point !== undefined && comma === undefined) votes['.']++
      if (comma !== undefined && point === undefined) votes[',']++
    }
  if (votes['.'] === votes[',']) return undefined
  return votes['.'] > votes[','] ? '.' : ','
}
