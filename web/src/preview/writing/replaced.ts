/** What one step of a text area did to its words: those between `from` and `to` are others now. */
export interface Replaced {
  from: number
  to: number
  words: string
}

/**
 * What was written, from the words before and after. Of the places that it could have been, the one that ends at the
 * caret. @param caret UTF-16 offset behind what was written
 */
export function replacedWords(before: string, after: string, caret: number): Replaced | undefined {
  if (before === after) return undefined
  const behind = after.slice(caret)
  const end = before.endsWith(behind) ? caret : after.length - commonEnd(before, after)
  const to = before.length - (after.length - end)
  let from = 0
  while (from < to && from < end && before[from] === after[from]) from++
  return { from, to, words: after.slice(from, end) }
}

function commonEnd(one: string, other: string): number {
  const most = Math.min(one.length, other.length)
  let n = 0
  while (n < most && one[one.length - 1 - n] === other[other.length - 1 - n]) n++
  return n
}
