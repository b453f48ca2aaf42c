import { boxOf } from '@hoja/core/layout'
import { Scene } from '@hoja/core/scene'
import { type Change, contentAxis, edit, fixedAxis, type Part, type Template } from '@hoja/core/template'
import { freshPart } from './frame/drawn.ts'

/** A part of a beginning: places are px in a frame of 1920 x 1080; a text stands with an edge or its middle at `x`. */
type Sketched =
  | { box: [x: number, y: number, width: number, height: number]; ink?: 'second' }
  | { words: string; size: number; x: number; y: number; stands: 'start' | 'middle' | 'end'; ink?: 'first' }

/** Drawings to begin with: nothing in them is tied, so that *Tie as drawn* shows what it is for. */
export const beginnings: { name: string; note: string; parts: Sketched[] }[] = [
  {
    name: 'A name and a role',
    note: 'on a plate, lower left',
    parts: [
      { box: [96, 812, 430, 168] },
      { words: 'Maren Oduya', size: 76, x: 140, y: 826, stands: 'start' },
      { words: 'Harbour pilot', size: 44, x: 140, y: 912, stands: 'start' },
    ],
  },
  {
    name: 'A place',
    note: 'upper right, growing to the left',
    parts: [
      { box: [1816, 64, 8, 128], ink: 'second' },
      { words: 'Puerto Brisal', size: 72, x: 1792, y: 62, stands: 'end' },
      { words: 'River mouth', size: 40, x: 1792, y: 142, stands: 'end' },
    ],
  },
  {
    name: 'A full-frame title',
    note: 'in the middle, over a rule',
    parts: [
      { words: 'Estuary Week', size: 168, x: 960, y: 410, stands: 'middle' },
      { box: [760, 624, 400, 8], ink: 'second' },
      { words: 'Thursday', size: 56, x: 960, y: 652, stands: 'middle' },
    ],
  },
  {
    name: 'A strip',
    note: 'across the foot of the frame',
    parts: [{ box: [0, 936, 1920, 84] }, { words: 'Low water at 14:20', size: 52, x: 96, y: 947, stands: 'start' }],
  },
]

/** The change that draws a beginning into an empty template, in its own font, colours and size of frame. */
export function drawBeginning(scene: Scene, sketched: readonly Sketched[]): Change {
  const { template } = scene
  const k = Math.min(template.frame.width / 1920, template.frame.height / 1080)
  const [dx, dy] = [template.frame.width / 1920, template.frame.height / 1080]
  const add = (parts: readonly Part[]): Change => ({
    kind: 'several',
    changes: parts.map((part) => ({ kind: 'addPart', part })),
  })
  const parts: Part[] = []
  const after = (): Template => edit(template, add(parts))
  for (const one of sketched) {
    const now = after()
    if ('box' in one) {
      const [x, y, width, height] = one.box
      const box = freshPart(now, 'box')
      const second = one.ink && template.palette[1]
      parts.push({
        ...box,
        x: fixedAxis(Math.round(x * dx), Math.round(width * (width === 1920 ? dx : k))),
        y: fixedAxis(Math.round(y * dy), Math.round(height * k)),
        style: { ...box.style, ...(second ? { fill: `palette:${second.id}` } : {}) },
      } as Part)
    } else {
      const text = freshPart(now, 'text')
      parts.push({
        ...text,
        x: contentAxis(Math.round(one.x * dx)),
        y: contentAxis(Math.round(one.y * dy)),
        style: { ...text.style, content: [{ text: one.words }], size: Math.round(one.size * k), align: one.stands },
      } as Part)
    }
  }
  // A text that stands with its middle or its end somewhere is as wide as its words are.
  const drawn = after()
  const { rest } = new Scene(drawn, scene.assets).layout({})
  const stood = parts.map((part, i): Part => {
    const one = sketched[i]!
    if ('box' in one || one.stands === 'start') return part
    const { width } = boxOf(rest, rest.order.index.get(part.id)!)
    return { ...part, x: contentAxis(part.x.place - width * (one.stands === 'end' ? 1 : 0.5)) } as Part
  })
  return add(stood)
}
