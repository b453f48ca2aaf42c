/** What is looked for in cells. */
export interface Search {
  find: string
  /** A pattern of ECMAScript instead of plain words. */
  pattern: boolean
  case: boolean
  /** The whole cell, or any piece of it. */
  whole: boolean
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** A search as an expression; undefined for an empty one, or a pattern that is none. Texts are compared in NFC. */
export function expressionOf({ find, pattern, case: isCased, whole }: Search): RegExp | undefined {
  if (find === '') return undefined
  const source = pattern ? find : escaped(find.normalize('NFC'))
  try {
    return new RegExp(whole ? `^(?:${source})$` : source, isCased ? 'gu' : 'giu')
  } catch {
    return undefined
  }
}

/** A text with everything found replaced; of plain words, `put` stands as it is. */
export function replaced(text: string, expression: RegExp, put: string, isPattern: boolean): string {
  const normal = text.normalize('NFC')
  return isPattern ? normal.replace(expression, put) : normal.replace(expression, () => put)
}

/** Whether a text holds what is looked for. */
export function isFound(text: string, expression: RegExp): boolean {
  expression.lastIndex = 0
  return expression.test(text.normalize('NFC'))
}
