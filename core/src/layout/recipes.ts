import {
  type Axis,
  type AxisName,
  type Change,
  type Edge,
  findPart,
  type PartId,
  type Size,
  type Target,
  type Template,
  type Tie,
} from '../template/index.ts'
import type { Rest } from './rest.ts'
import { alike, extentOf, restView } from './target.ts'

/** Room on each side, px; negative takes it away. */
export interface Padding {
  left: number
  right: number
  top: number
  bottom: number
}

export type BesideSide = 'before' | 'after' | 'above' | 'below'

/**
 * What a designer says in one breath, written as ties. Nothing else exists underneath: what a recipe made can be read and
 * edited in the edges table.
 */
export type Recipe =
  /** My edges outside those of the targets, by a padding. */
  | { recipe: 'around'; targets: PartId[]; padding: Padding; axes: AxisName[] }
  /** My edges inside those of the target. */
  | { recipe: 'inside'; target: Target; padding: Padding; axes: AxisName[] }
  /** At a gap from one side of the target, lined up with it across. */
  | { recipe: 'beside'; target: Target; side: BesideSide; gap: number; line: Edge | 'free' }
  /** From the end of one part to the start of another. */
  | { recipe: 'between'; first: Target; second: Target; axis: AxisName; gap: number }
  | { recipe: 'same size'; target: Target; axes: AxisName[] }
  /** factor x the target's size + plus (px). */
  | { recipe: 'share'; target: Target; axis: AxisName; factor: number; plus: number }
  | { recipe: 'centred on'; target: Target; axes: AxisName[] }
  /** Ends where the targets end and reaches past the frame's edge, so that it slides out instead of stretching. */
  | { recipe: 'slide from'; targets: PartId[]; side: 'left' | 'right'; gap: number; frames: number }

export const recipeNames: Record<Recipe['recipe'], string> = {
  around: 'stands around the others, with room on every side',
  inside: 'keeps inside, with room on every side',
  beside: 'stands at a gap beside it',
  between: 'fills what lies between two others',
  'same size': 'is as large as it',
  share: 'is a share of its size',
  'centred on': 'has its middle on the middle of it',
  'slide from': 'slides out from behind the frame edge as far as the others need',
}

/** How a part was drawn beside what a recipe would tie it to; px. */
export interface Distances {
  /** From the target's sides out to the part's: as *around* takes it; *inside* takes the opposite. */
  around: Padding
  /** Where it stands, and how far off. */
  side: BesideSide
  gap: number
  /** The edge that is in line with the target's, across that side. */
  line: Edge | 'free'
}

const tenth = (value: number) => Math.round(value * 10) / 10

/** The distances as drawn: with them a recipe moves nothing. */
export function distancesOf(template: Template, rest: Rest, id: PartId, target: Target): Distances {
  const i = rest.order.index.get(id)!
  const [x, y] = ([0, 1] as const).map((a) => {
    const start = rest.start[a][i]! - rest.shift[a][i]!
    const there = extentOf(target, restView(template, rest, id, a === 0 ? 'x' : 'y'))
    return { start, end: start + rest.size[a][i]!, from: there.start, to: there.start + there.size }
  }) as [Along, Along]
  const gaps: [BesideSide, number][] = [
    ['before', x.from - x.end],
    ['after', x.start - x.to],
    ['above', y.from - y.end],
    ['below', y.start - y.to],
  ]
  const [side, gap] = gaps.reduce((best, one) => (one[1] > best[1] ? one : best))
  const across = side === 'before' || side === 'after' ? y : x
  const middle = (across.start + across.end - across.from - across.to) / 2
  const line = Math.abs(middle) < alike ? 'middle' : Math.abs(across.start - across.from) < alike ? 'start' : undefined
  return {
    around: {
      left: tenth(x.from - x.start),
      right: tenth(x.end - x.to),
      top: tenth(y.from - y.start),
      bottom: tenth(y.end - y.to),
    },
    side,
    gap: tenth(gap),
    line: line ?? (Math.abs(across.end - across.to) < alike ? 'end' : 'free'),
  }
}

interface Along {
  start: number
  end: number
  from: number
  to: number
}

const tie = (edge: Edge, to: Target, at: Edge | number, gap: number): Tie => ({
  edge,
  to,
  at,
  gap,
  follow: 'settled',
  gone: 'collapse',
})

/** The change that carries out a recipe on a part. */
export function followRecipe(template: Template, id: PartId, recipe: Recipe): Change {
  const part = findPart(template, id)!
  const changes: Change[] = []
  const put = (axis: AxisName, more: Partial<Axis>) => {
    const { min: _, max: __, ...bare } = part[axis]
    changes.push({ kind: 'axis', part: id, axis, value: { ...(more.ties?.length === 2 ? bare : part[axis]), ...more } })
  }
  const sides = (padding: Padding, axis: AxisName): [number, number] =>
    axis === 'x' ? [padding.left, padding.right] : [padding.top, padding.bottom]
  switch (recipe.recipe) {
    case 'around':
    case 'inside': {
      const to: Target = recipe.recipe === 'around' ? { parts: recipe.targets } : recipe.target
      const sign = recipe.recipe === 'around' ? -1 : 1
      for (const axis of recipe.axes) {
        const [start, end] = sides(recipe.padding, axis)
        put(axis, { ties: [tie('start', to, 'start', sign * start), tie('end', to, 'end', -sign * end)] })
      }
      break
    }
    case 'beside': {
      const axis: AxisName = recipe.side === 'before' || recipe.side === 'after' ? 'x' : 'y'
      const isFirst = recipe.side === 'before' || recipe.side === 'above'
      put(axis, {
        ties: [
          isFirst ? tie('end', recipe.target, 'start', -recipe.gap) : tie('start', recipe.target, 'end', recipe.gap),
        ],
      })
      if (recipe.line !== 'free')
        put(axis === 'x' ? 'y' : 'x', { ties: [tie(recipe.line, recipe.target, recipe.line, 0)] })
      break
    }
    case 'between':
      put(recipe.axis, {
        ties: [tie('start', recipe.first, 'end', recipe.gap), tie('end', recipe.second, 'start', -recipe.gap)],
      })
      break
    case 'same size':
      for (const axis of recipe.axes) put(axis, sized(part[axis], { of: recipe.target, factor: 1, plus: 0 }))
      break
    case 'share':
      put(recipe.axis, sized(part[recipe.axis], { of: recipe.target, factor: recipe.factor, plus: recipe.plus }))
      break
    case 'centred on':
      for (const axis of recipe.axes) put(axis, { ties: [tie('middle', recipe.target, 'middle', 0)] })
      break
    case 'slide from': {
      const to: Target = { parts: recipe.targets }
      const fromLeft = recipe.side === 'left'
      put('x', {
        ties: [fromLeft ? tie('end', to, 'end', recipe.gap) : tie('start', to, 'start', -recipe.gap)],
        size: { kind: 'share', of: { region: 'frame' }, factor: 1, plus: 0 },
      })
      const keys = [
        {
          span: 'in' as const,
          at: 0,
          value: fromLeft ? -1 : 1,
          ease: { bezier: [0.16, 1, 0.3, 1] as [number, number, number, number] },
        },
        { span: 'in' as const, at: recipe.frames, value: 0, ease: 'linear' as const },
      ]
      changes.push({
        kind: 'motion',
        part: id,
        motion: { ...part.motion, tracks: { ...part.motion.tracks, shiftX: { unit: 'off', keys } } },
      })
    }
  }
  return { kind: 'several', changes }
}

/** A size instead of a second tie. */
function sized(axis: Axis, share: Omit<Extract<Size, { kind: 'share' }>, 'kind'>): Partial<Axis> {
  return { ties: axis.ties.slice(0, 1), size: { kind: 'share', ...share } }
}
