import { type Pattern, pattern } from './pattern.ts'

/** What is looked for in cells. */
export interface Search {
  find: string
  /** A pattern instead of plain words. */
  pattern: boolean
  case: boolean
  /** The whole cell, or any piece of it. */
  whole: boolean
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** A search as a pattern; undefined for an empty one, or what is no pattern. Texts are compared in NFC. */
export function expressionOf({ find, pattern: isPattern, case: isCased, whole }: Search): Pattern | undefined {
  if (find === '') return undefined
  const source = isPattern ? find : escaped(find.normalize('NFC'))
  try {
    return pattern(whole ? `^(?:${source})$` : source, { ignoreCase: !isCased })
  } catch {
    return undefined
  }
}

/** A text with everything found replaced; of plain words, `put` stands as it is. */
export function replaced(text: string, expression: Pattern, put: string, isPattern: boolean): string {
  return expression.replaceAll(text.normalize('NFC'), isPattern ? put : put.replaceAll('$', '$$$$'))
}

/** Whether a text holds what is looked for. */
export const isFound = (text: string, expression: Pattern): boolean => expression.matches(text.normalize('NFC'))
