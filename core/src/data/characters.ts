import type { Field } from '../template/index.ts'
import { unicodeName } from '../text/index.ts'
import type { Problem } from './problem.ts'

/** C0 and C1 control characters (Unicode, general category Cc) but for the line feed; a tab is told of with the spaces. */
const controls = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/g
/** Characters that show nothing by themselves: format characters, marks, spaces, fillers (Unicode, Cf, M, Z and others). */
const invisible = /^[\p{Cf}\p{M}\p{Z}\s\u115f\u1160\u3164\uffa0]+$/u
/** Embeddings, overrides and their ends (UAX #9, 2.1 and 2.2). */
const overrides = /[\u202a-\u202e]/g
const isolates = /[\u2066-\u2069]/g

const names = (found: Iterable<string>) => [...new Set(found)].map((c) => unicodeName(c.codePointAt(0)!)).join(', ')

const problem = (field: Field, level: Problem['level'], message: string, fix?: string): Problem => ({
  field: field.key,
  level,
  code: level === 'stop' ? 'control' : 'unseen',
  message: `${field.name} ${message}`,
  ...(fix === undefined ? {} : { fix }),
})

/** Whether every isolate of a text is ended, and every end ends one (UAX #9, BD9). */
function isPaired(text: string): boolean {
  let open = 0
  for (const [mark] of text.matchAll(isolates)) {
    open += mark === '\u2069' ? -1 : 1
    if (open < 0) return false
  }
  return open === 0
}

/** Characters in a text that nobody can have meant: what steers devices, what can't be seen, what turns writing round. */
export function strangeCharacters(field: Field, text: string): Problem[] {
  if (plain.test(text)) return []
  const problems: Problem[] = []
  const control = [...text.matchAll(controls)]
  if (control.length > 0) {
    const places = control.slice(0, 3).map(({ index }) => [...text.slice(0, index)].length + 1)
    const code = names(control.map(([c]) => c))
    problems.push(
      problem(
        field,
        'stop',
        `holds ${control.length === 1 ? `the control character ${code}` : `control characters (${code})`} at ${places.join(', ')}; take ${control.length === 1 ? 'it' : 'them'} out.`,
        text.replace(controls, ''),
      ),
    )
  }
  if (text.trim() !== '' && invisible.test(text))
    problems.push(
      problem(field, 'look', `is nothing but characters that can't be seen (${names(text)}); type it again.`),
    )
  const turned = [...text.matchAll(overrides)]
  if (turned.length > 0)
    problems.push(
      problem(
        field,
        'look',
        `turns its writing round with ${names(turned.map(([c]) => c))}; take it out if the name isn't meant so.`,
        text.replace(overrides, ''),
      ),
    )
  if (!isPaired(text))
    problems.push(
      problem(
        field,
        'look',
        `has direction isolates that don't pair (${names([...text.matchAll(isolates)].map(([c]) => c))}); take them out.`,
        text.replace(isolates, ''),
      ),
    )
  return problems
}

/** Letters, digits, punctuation, spaces and line feeds of Latin, as most texts are. */
const plain = /^[\n\u0020-\u007e\u00a0-\u00ac\u00ae-\u024f]*$/
