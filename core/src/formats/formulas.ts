/**
 * A cell that spreadsheets take for a formula when they open a text file: by its first sign, as OWASP's CSV Injection page
 * lists them (the wide ones of East Asian keyboards included), unless it is a plain number.
 */
const begins = /^'*[=+\-@\t\r＝＋－＠]/
const isNumber = /^[+-]?\d+([.,]\d+)*%?$/

export const isFormulaLike = (cell: string): boolean => begins.test(cell) && !isNumber.test(cell)

/** A cell that no spreadsheet runs: with an apostrophe before what it would run. */
export const guarded = (cell: string): string => (isFormulaLike(cell) ? `'${cell}` : cell)

/** A cell as it was before it was guarded. */
export const unguarded = (cell: string): string => (/^'+[=+\-@\t\r＝＋－＠]/.test(cell) ? cell.slice(1) : cell)
