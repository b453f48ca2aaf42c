import { edgeWord, targetWords } from '../layout/index.ts'
import type { AxisName, Part, Target, Template, Tie } from '../template/index.ts'
import type { Reading } from './readings.ts'

type Ties = Partial<Record<AxisName, Reading>>

const px = (value: number) => String(Number(Math.abs(value).toFixed(1)))

/** What was read about a part, as one sentence without its full stop. @param parts all of the template's */
export function sentenceOf(template: Template, parts: Part[], part: Part, { x, y }: Ties): string {
  const names = (to: Target) => listed(targetWords(template, parts, to))
  const [a, b] = [x?.ties, y?.ties]
  if (x && y && x.how === y.how && sameTargets(a![0]!, b![0]!)) {
    const to = names(a![0]!.to)
    if (x.how === 'around') return `${part.name} stands around ${to}${sides(a!, b!)}`
    if (x.how === 'fills') {
      const inset = [...a!, ...b!].some(({ gap }) => Math.abs(gap) > 0.05)
      return inset ? `${part.name} keeps ${px(a![0]!.gap)} inside ${to}` : `${part.name} fills ${to}`
    }
  }
  const phrases = (['x', 'y'] as const).flatMap((axis) => {
    const reading = axis === 'x' ? x : y
    return reading ? [phraseOf(axis, reading, names)] : []
  })
  // What it stands beside or under comes first; which line it keeps follows.
  phrases.sort((one, other) => one.rank - other.rank)
  return `${part.name} ${phrases.map(({ words }, i) => (i > 0 ? words.replace(/^stands /, '') : words)).join(', ')}`
}

const sameTargets = (one: Tie, other: Tie) => JSON.stringify(one.to) === JSON.stringify(other.to)

/** `Name, Role` as people say it. */
const listed = (words: string): string => nameWords(words.split(', '))

/** Names as people say them: Name, Role and Mark. */
export function nameWords(names: readonly string[]): string {
  return names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`
}

/** Room on each side, sides with the same room together. */
function sides(x: readonly Tie[], y: readonly Tie[]): string {
  const all: [string, string][] = [
    [px(x[0]!.gap), 'left'],
    [px(x[1]!.gap), 'right'],
    [px(y[0]!.gap), 'above'],
    [px(y[1]!.gap), 'below'],
  ]
  if (new Set(all.map(([gap]) => gap)).size === 1) return all[0]![0] === '0' ? '' : `, ${all[0]![0]} on every side`
  const grouped = new Map<string, string[]>()
  for (const [gap, side] of all) grouped.set(gap, [...(grouped.get(gap) ?? []), side])
  return [...grouped].map(([gap, own]) => `, ${gap} ${own.join(' and ')}`).join('')
}

interface Phrase {
  words: string
  rank: number
}

function phraseOf(axis: AxisName, { how, ties }: Reading, names: (to: Target) => string): Phrase {
  const [first, second] = ties as [Tie, Tie?]
  const to = names(first.to)
  const size = axis === 'x' ? 'wide' : 'high'
  if (second) {
    const isSame = [first, second].every(({ gap }) => Math.abs(gap) <= 0.05)
    if (how === 'around')
      return {
        words: isSame
          ? `is as ${size} as ${to}`
          : `is as ${size} as ${to} with ${px(first.gap)} ${edgeWord(axis, 'start')} and ${px(second.gap)} ${edgeWord(axis, 'end')}`,
        rank: 1,
      }
    return {
      words: isSame
        ? `is as ${size} as ${to}`
        : `keeps ${px(first.gap)} inside ${to} ${axis === 'x' ? 'across' : 'down'}`,
      rank: 1,
    }
  }
  const edge = first.edge
  const isOn = Math.abs(first.gap) <= 0.05
  switch (how) {
    case 'beside': {
      const behind = edge === 'start'
      const where = axis === 'x' ? (behind ? 'right of' : 'left of') : behind ? 'under' : 'above'
      const side = axis === 'x' ? 'off' : behind ? 'below' : 'above'
      const gap = behind ? first.gap : -first.gap
      return {
        words: `stands ${where} ${to}${isOn ? ', touching' : gap < 0 ? `, ${px(gap)} into it` : `, ${px(gap)} ${side}`}`,
        rank: 0,
      }
    }
    case 'line':
      return { words: `same ${edgeWord(axis, edge)} as ${to}`, rank: 3 }
    case 'region':
    case 'inside': {
      const middle = edge === 'middle'
      const line = `${to}’s ${edgeWord(axis, edge)}`
      if (isOn)
        return {
          words: middle ? `stands in the middle of ${to} ${axis === 'x' ? 'across' : 'down'}` : `stands on ${line}`,
          rank: 2,
        }
      const isInside = edge === 'start' ? first.gap > 0 : first.gap < 0
      return { words: `stands ${px(first.gap)} ${isInside ? 'inside' : 'outside'} ${line}`, rank: 2 }
    }
    default:
      return { words: `stands at ${to}`, rank: 2 }
  }
}
