import { limits, most } from '../limits/index.ts'
import { Refusal } from '../refusal/index.ts'

const [quote, backslash] = [0x22, 0x5c]
const opening = new Set([0x5b, 0x7b])
const closing = new Set([0x5d, 0x7d])

/**
 * A JSON text as it is, when what it holds is not nested deeper than anybody can follow: neither a stack nor a message between
 * threads takes thousands of levels. It is looked at before it is parsed.
 * @throws Refusal
 */
export function shallowJson(text: string, what: string): string {
  let depth = 0
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i)
    if (code === quote) {
      for (i++; i < text.length && text.charCodeAt(i) !== quote; i++) if (text.charCodeAt(i) === backslash) i++
    } else if (opening.has(code)) {
      if (++depth > limits.jsonDepth.most)
        throw new Refusal(
          'json.deep',
          `${what} nests lists and objects more than ${most('jsonDepth')} deep; make it flatter.`,
        )
    } else if (closing.has(code)) depth--
  }
  return text
}

/**
 * An XML text as it is, when its elements are not nested deeper than anybody can follow; what is no XML is told elsewhere.
 * @throws Refusal
 */
export function shallowXml(text: string, what: string): string {
  let depth = 0
  // A comment or a CDATA section may hold signs that look like elements.
  for (const [sign] of text.matchAll(/<!--[\s\S]*?(?:-->|$)|<!\[CDATA\[[\s\S]*?(?:\]\]>|$)|<[\p{L}_/][^<>]*>/gu)) {
    if (sign[1] === '!' || sign.endsWith('/>')) continue
    depth += sign[1] === '/' ? -1 : 1
    if (depth > limits.xmlDepth.most)
      throw new Refusal('xml.deep', `${what} nests elements more than ${most('xmlDepth')} deep; make it flatter.`)
  }
  return text
}

/**
 * A WebVTT text as it is, when in no cue marks are nested deeper than anybody can follow.
 * @throws Refusal
 */
export function shallowCues(text: string, what: string): string {
  let depth = 0
  // An empty line ends a cue, and all that is open in it.
  for (const [sign, closes] of text.matchAll(/<(\/?)[a-z]|\r?\n\r?\n|\r\r/gi)) {
    if (closes === undefined) depth = 0
    else depth += closes ? -1 : 1
    if (depth > limits.xmlDepth.most)
      throw new Refusal('cues.deep', `${what} nests marks (${sign}) more than ${most('xmlDepth')} deep; take some out.`)
  }
  return text
}
