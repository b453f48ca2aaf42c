import type { AxisName, Edge, Part, PartId, Target, Template, Tie } from '../template/index.ts'
import type { Rest } from './rest.ts'
import { extentOf, restView, shareOf, type TargetView } from './target.ts'

/** One sentence of an explanation and the number it ends in. */
export interface Reason {
  part: PartId
  axis: AxisName
  /** Which line of the edges table it explains. */
  about: Edge | 'size'
  /** px in the frame (edges) or px (sizes). */
  value: number
  sentence: string
}

const edgeWords: Record<AxisName, Record<Edge | 'size', string>> = {
  x: { start: 'left', middle: 'centre', end: 'right', size: 'width' },
  y: { start: 'top', middle: 'middle', end: 'bottom', size: 'height' },
}
export const edgeWord = (axis: AxisName, about: Edge | 'size'): string => edgeWords[axis][about]

const regionWords = { frame: 'the frame', action: 'action-safe', title: 'title-safe', group: 'its group' }
const round = (value: number) => Number(value.toFixed(1))
const signed = (gap: number) => (gap === 0 ? '' : gap > 0 ? ` + ${round(gap)}` : ` − ${round(-gap)}`)

/** Names of what a tie looks at, as the edges table says them. */
export function targetWords(_template: Template, parts: Part[], target: Target): string {
  if ('region' in target) return regionWords[target.region]
  return target.parts.map((id) => parts.find((part) => part.id === id)?.name ?? id).join(', ')
}

/** `right of Name, Role + 36` */
export function tieWords(template: Template, parts: Part[], axis: AxisName, tie: Tie): string {
  const at = typeof tie.at === 'number' ? `${round(tie.at * 100)} % across` : edgeWord(axis, tie.at)
  return `${at} of ${targetWords(template, parts, tie.to)}${signed(tie.gap)}`
}

/**
 * Why an edge (or a size) is where it is: sentences from the edge asked about down to the frame or a measured content.
 * Each part and line is explained once, however often it is met.
 */
export function explain(template: Template, rest: Rest, id: PartId, axis: AxisName, about: Edge | 'size'): Reason[] {
  const { parts, index } = rest.order
  const a = axis === 'x' ? 0 : 1
  const reasons: Reason[] = []
  const seen = new Set<string>()
  const number = (i: number, line: Edge | 'size') =>
    line === 'size' ? rest.size[a][i]! : rest.start[a][i]! + rest.size[a][i]! * shareOf(line)

  const visit = (i: number, line: Edge | 'size'): void => {
    const part = parts[i]!
    const key = `${part.id}.${line}`
    if (seen.has(key)) return
    seen.add(key)
    const spec = part[axis]
    const shift = line === 'size' ? 0 : rest.shift[a][i]!
    const shifted = shift === 0 ? '' : `, shifted by ${round(shift)} px`
    const say = (sentence: string) =>
      reasons.push({
        part: part.id,
        axis,
        about: line,
        value: round(number(i, line)),
        sentence: `${edgeWord(axis, line)} of ${part.name} ${round(number(i, line))} ${sentence}${shifted}`,
      })
    const own = spec.ties.find((tie) => tie.edge === line)
    const view = restView(template, rest, part.id, axis)
    if (own) {
      say(`= ${tieWords(template, parts, axis, own)}${goneWords(own, view)}`)
      follow(own.to, own.at, view)
    } else if (line === 'size' && spec.ties.length < 2) {
      say(sizeWords(part, i))
      if (spec.size.kind === 'share') follow(spec.size.of, 'size', view)
    } else if (spec.ties.length === 2) {
      say(`follows from ${spec.ties.map((tie) => edgeWord(axis, tie.edge)).join(' and ')}`)
      for (const tie of spec.ties) visit(i, tie.edge)
    } else if (spec.ties.length === 1) {
      const edge = spec.ties[0]!.edge
      say(
        `= ${edgeWord(axis, edge)} ${round(number(i, edge))} and ${edgeWord(axis, 'size')} ${round(rest.size[a][i]!)}`,
      )
      visit(i, edge)
      visit(i, 'size')
    } else if (line === 'start') say('stands there by hand')
    else {
      say(
        `= ${edgeWord(axis, 'start')} ${round(number(i, 'start'))} and ${edgeWord(axis, 'size')} ${round(rest.size[a][i]!)}`,
      )
      visit(i, 'start')
      visit(i, 'size')
    }
  }
  const goneWords = (tie: Tie, view: TargetView) => (extentOf(tie.to, view).gone ? ` (gone: ${tie.gone})` : '')
  const sizeWords = (part: Part, i: number): string => {
    const size = part[axis].size
    const times = (part.style.scale ?? 1) === 1 ? '' : ` at ${round((part.style.scale ?? 1) * 100)} %`
    const limits = `${part[axis].min === undefined ? '' : `, at least ${part[axis].min}`}${part[axis].max === undefined ? '' : `, at most ${part[axis].max}`}`
    if (size.kind === 'fixed') return `is fixed${times}${limits}`
    if (size.kind === 'share')
      return `= ${round(size.factor * 100)} % of ${targetWords(template, parts, size.of)}${signed(size.plus)}${limits}`
    return `is measured: ${round(rest.own[a][i]!)}${times}${limits}`
  }
  const follow = (target: Target, at: Edge | number | 'size', view: TargetView): void => {
    const { start, size } = extentOf(target, view)
    if ('region' in target) {
      const value = at === 'size' ? size : start + size * shareOf(at)
      reasons.push({
        part: '',
        axis,
        about: typeof at === 'number' ? 'middle' : at,
        value: round(value),
        sentence: `${regionWords[target.region]} gives ${round(value)}`,
      })
      return
    }
    const present = target.parts.map((p) => index.get(p)!).filter((j) => !rest.gone[j])
    const list = present.length > 0 ? present : target.parts.map((p) => index.get(p)!)
    if (at === 'size' || typeof at === 'number' || at === 'middle') {
      for (const j of list) visit(j, at === 'size' ? 'size' : 'middle')
      return
    }
    // In a union only the outermost part decides.
    const best = list.reduce((m, j) =>
      (at === 'start' ? number(j, at) < number(m, at) : number(j, at) > number(m, at)) ? j : m,
    )
    visit(best, at)
  }
  const i = index.get(id)
  if (i !== undefined) visit(i, about)
  return reasons
}
