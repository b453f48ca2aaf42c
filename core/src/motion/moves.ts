import type { Ease, Motion, PartKind, Tracks } from '../template/index.ts'

/** A ready-made arrival that can be put on a part and then edited. Out mirrors it. */
export interface Move {
  id: string
  name: string
  /** Kinds of part it makes sense for. */
  kinds: PartKind[]
  /** Keys over `frames` frames of In, from its start. */
  make(frames: number): Pick<Motion, 'tracks' | 'units'>
}

const moor: Ease = { bezier: [0.16, 1, 0.3, 1] }
const swell: Ease = { bezier: [0.34, 1.4, 0.64, 1] }
const from = (value: number, rest: number, frames: number, ease: Ease = moor) => ({
  keys: [
    { span: 'in' as const, at: 0, value, ease },
    { span: 'in' as const, at: frames, value: rest, ease: 'linear' as const },
  ],
})
const all: PartKind[] = ['text', 'box', 'ellipse', 'picture', 'group']
const tracks = (t: Tracks): Pick<Motion, 'tracks' | 'units'> => ({ tracks: t })

export const moves: Move[] = [
  { id: 'still', name: 'Stand still', kinds: all, make: () => tracks({}) },
  { id: 'surface', name: 'Surface', kinds: all, make: (n) => tracks({ fade: from(0, 1, n, 'linear') }) },
  {
    id: 'rise',
    name: 'Rise with fade',
    kinds: all,
    make: (n) => tracks({ shiftY: { unit: 'px', ...from(24, 0, n) }, fade: from(0, 1, Math.ceil(n * 0.6), 'linear') }),
  },
  {
    id: 'uncover',
    name: 'Uncover from the left',
    kinds: all,
    make: (n) => tracks({ reveal: { from: 'left', soft: 0, slant: 0, ...from(0, 1, n) } }),
  },
  {
    id: 'slant',
    name: 'Uncover on a slant',
    kinds: all,
    make: (n) => tracks({ reveal: { from: 'left', soft: 0, slant: 18, ...from(0, 1, n) } }),
  },
  {
    id: 'unroll',
    name: 'Unroll',
    kinds: ['box', 'ellipse', 'picture'],
    make: (n) => tracks({ grow: { axis: 'x', from: 'start', ...from(0, 1, n) } }),
  },
  {
    id: 'stand-up',
    name: 'Stand up',
    kinds: ['box', 'ellipse', 'picture'],
    make: (n) => tracks({ grow: { axis: 'y', from: 'end', ...from(0, 1, n) } }),
  },
  {
    id: 'ashore',
    name: 'Come ashore',
    kinds: all,
    make: (n) => tracks({ shiftX: { unit: 'off', ...from(-1, 0, n) } }),
  },
  { id: 'bob', name: 'Bob up', kinds: all, make: (n) => tracks({ scale: from(0, 1, n, swell) }) },
  {
    id: 'letters',
    name: 'Letter by letter',
    kinds: ['text'],
    make: (n) => ({
      tracks: {},
      units: {
        by: 'character',
        order: 'forward',
        seed: 1,
        overlap: 0.7,
        tracks: { fade: from(0, 1, n, 'linear'), shiftY: { unit: 'px', ...from(18, 0, n) } },
      },
    }),
  },
  {
    id: 'words',
    name: 'Word by word',
    kinds: ['text'],
    make: (n) => ({
      tracks: {},
      units: {
        by: 'word',
        order: 'forward',
        seed: 1,
        overlap: 0.5,
        tracks: { fade: from(0, 1, n, 'linear'), shiftY: { unit: 'px', ...from(18, 0, n) } },
      },
    }),
  },
]
