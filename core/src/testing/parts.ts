import {
  type Axis,
  type Edge,
  type Field,
  newPart,
  type Part,
  type PartKind,
  type Size,
  type Target,
  type Tie,
} from '../template/index.ts'

/** Short words for parts in tests. */
export const to = (...parts: string[]): Target => ({ parts })
export const tie = (edge: Edge, target: Target, at: Edge | number, gap = 0, more: Partial<Tie> = {}): Tie => ({
  edge,
  to: target,
  at,
  gap,
  follow: 'settled',
  gone: 'collapse',
  ...more,
})
export const fixed = (value: number): Size => ({ kind: 'fixed', value })
export const content: Size = { kind: 'content' }
export const axis = (ties: Tie[], size: Size = content, more: Partial<Axis> = {}): Axis => ({
  ties,
  size,
  place: 0,
  ...more,
})

export function part(kind: PartKind, id: string, x: Axis, y: Axis, style: object = {}, more: object = {}): Part {
  return { ...newPart(kind, id, id), x, y, style, ...more } as Part
}

/** A text of one run, at a place. */
export function text(id: string, words: string, x: Axis = axis([]), style: object = {}, more: object = {}): Part {
  return part('text', id, x, axis([]), { content: [{ text: words }], font: 'semibold', ...style }, more)
}

export function box(id: string, x: Axis, y: Axis = axis([], fixed(10)), style: object = {}): Part {
  return part('box', id, x, y, style)
}

/** A field of a template, a text of no part's when nothing else is said. */
export const field = (more: Partial<Field> = {}): Field => ({
  id: 'f',
  key: 'f',
  name: 'F',
  note: '',
  type: 'text',
  targets: [],
  default: '',
  required: false,
  onAir: false,
  ...more,
})
