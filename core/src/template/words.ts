import type { Field, Part, Template, TextPart } from './types.ts'
import type { Run } from './values.ts'
import { runsOf } from './walk.ts'

/** Stands for a field among words that are written: U+FFFC, OBJECT REPLACEMENT CHARACTER. */
export const fieldToken = '\ufffc'

/** What a stretch has of its own, besides its words. */
export type RunStyle = Omit<Run, 'text' | 'field'>

const lengthOf = (run: Run) => (run.field ? 1 : (run.text ?? '').length)
const isEmpty = (run: Run) => lengthOf(run) === 0
const styleOnly = ({ text: _, field: __, ...style }: Run): RunStyle => style
const isAlike = (one: Run, other: Run) => JSON.stringify(sorted(one)) === JSON.stringify(sorted(other))
const sorted = (run: Run) => Object.entries(styleOnly(run)).sort(([a], [b]) => (a < b ? -1 : 1))

/** A text's content as it is written: its words, and a token for each field among them. */
export function wordsOf(content: readonly Run[]): string {
  return content.map((run) => (run.field ? fieldToken : (run.text ?? ''))).join('')
}

/** What a text says where every field in it stands at its default. */
export function saidBy({ fields }: Pick<Template, 'fields'>, content: readonly Run[]): string {
  return content
    .map((run) => {
      const given = run.field ? fields.find((field) => field.id === run.field)?.default : run.text
      return typeof given === 'string' || typeof given === 'number' ? String(given) : ''
    })
    .join('')
}

/** Where each stretch begins (UTF-16), and where the last one ends. */
function startsOf(content: readonly Run[]): number[] {
  const starts = [0]
  for (const run of content) starts.push(starts.at(-1)! + lengthOf(run))
  return starts
}

/** Content cut at an offset: stretches before it and behind it. */
function cutAt(content: readonly Run[], offset: number): [Run[], Run[]] {
  const starts = startsOf(content)
  const before: Run[] = []
  const behind: Run[] = []
  content.forEach((run, i) => {
    const [start, end] = [starts[i]!, starts[i + 1]!]
    if (end <= offset) before.push(run)
    else if (start >= offset) behind.push(run)
    else {
      before.push({ ...run, text: run.text!.slice(0, offset - start) })
      behind.push({ ...run, text: run.text!.slice(offset - start) })
    }
  })
  return [before, behind]
}

/** Words of the same style that follow one another are one stretch; stretches of nothing go. A text keeps one. */
function tidied(content: readonly Run[]): Run[] {
  const kept: Run[] = []
  for (const run of content) {
    const last = kept.at(-1)
    if (isEmpty(run)) continue
    if (last && !last.field && !run.field && isAlike(last, run))
      kept[kept.length - 1] = { ...last, text: `${last.text}${run.text}` }
    else kept.push(run)
  }
  const [first] = content
  return kept.length > 0 ? kept : [{ ...(first ? styleOnly(first) : {}), text: '' }]
}

/**
 * Content with other words in place of some. What is written takes the style of the words before it, or, at the
 * beginning, of those behind; fields that lie between go.
 * @param from UTF-16 offsets in `wordsOf`
 */
export function withWords(content: readonly Run[], from: number, to: number, words: string): Run[] {
  const [before, rest] = cutAt(content, from)
  const [gone, behind] = cutAt(rest, to - from)
  const isFull = (run: Run) => !isEmpty(run)
  const like = gone.find(isFull) ?? before.findLast(isFull) ?? behind.find(isFull) ?? content[0] ?? {}
  const text = words.replaceAll(fieldToken, '')
  return tidied([...before, { ...styleOnly(like), text }, ...behind])
}

/** Content with a field among its words, in the style of those before it. */
export function withField(content: readonly Run[], at: number, field: string): Run[] {
  const [before, behind] = cutAt(content, at)
  const like = before.findLast((run) => !isEmpty(run)) ?? content[0] ?? {}
  return tidied([...before, { ...styleOnly(like), field }, ...behind])
}

/** Content of which some words have another style: a key that is undefined is as the whole text again. */
export function styledWords(
  content: readonly Run[],
  from: number,
  to: number,
  style: { [K in keyof RunStyle]: RunStyle[K] | undefined },
): Run[] {
  const [before, rest] = cutAt(content, from)
  const [chosen, behind] = cutAt(rest, to - from)
  const styled = chosen.map((run) => {
    const next = { ...run, ...style }
    return Object.fromEntries(Object.entries(next).filter(([, value]) => value !== undefined)) as Run
  })
  return tidied([...before, ...styled, ...behind])
}

/** What all of some words have of their own; a key that differs among them is left out. */
export function commonStyle(content: readonly Run[], from: number, to: number): RunStyle {
  const [before, rest] = cutAt(content, from)
  const [chosen] = cutAt(rest, to - from)
  const runs = chosen.filter((run) => !isEmpty(run))
  const of = runs.length > 0 ? runs : [before.findLast((run) => !isEmpty(run)) ?? content[0] ?? {}]
  const [first, ...others] = of
  const alike = Object.entries(styleOnly(first!)).filter(([key, value]) =>
    others.every((run) => JSON.stringify(run[key as keyof Run]) === JSON.stringify(value)),
  )
  return Object.fromEntries(alike)
}

/** Whether a caret can stand in a part on the frame: in a text that stands in its box, and neither runs nor follows a path. */
export const isWritable = (part: Part): part is TextPart =>
  part.kind === 'text' && !part.locked && !part.style.along && !part.style.crawl

/** The field whose words are all that a text says, so that writing in the text is writing its default. */
export function fieldWritten(template: Template, part: Part): Field | undefined {
  const runs = runsOf(part)
  const [run] = runs
  const field = runs.length === 1 && run?.field ? template.fields.find(({ id }) => id === run.field) : undefined
  return field?.type === 'text' ? field : undefined
}

/** The font that a text is written in: the one it names, else that of texts that name none. */
export function fontOf({ fonts, fallbacks }: Pick<Template, 'fonts' | 'fallbacks'>, id: string | undefined) {
  const find = (one: string | undefined) => fonts.find((font) => font.id === one)
  return find(id) ?? find(fallbacks[0]) ?? fonts[0]
}
