import type { PartKind, properties } from './properties.ts'
import type { Axis, Motion, Part, Template } from './types.ts'

export function fixedAxis(place: number, size: number): Axis {
  return { ties: [], place, size: { kind: 'fixed', value: size } }
}

export function contentAxis(place: number): Axis {
  return { ties: [], place, size: { kind: 'content' } }
}

export function stillMotion(): Motion {
  return { anchor: { x: 0.5, y: 0.5 }, tracks: {}, out: 'mirror' }
}

/** A new part of a kind in the upper left of the frame, ready to be tied. */
export function newPart(kind: PartKind, id: string, name: string): Part {
  const own = kind === 'text' || kind === 'group'
  const part = {
    id,
    name,
    kind,
    x: own ? contentAxis(200) : fixedAxis(200, 320),
    y: own ? contentAxis(200) : fixedAxis(200, 120),
    style: kind === 'text' ? { content: [{ text: name }] } : kind === 'curve' ? { fill: null, strokeWidth: 6 } : {},
    motion: stillMotion(),
    ...(kind === 'group' ? { parts: [] } : {}),
  }
  return part as Part
}

/** An empty template: SMPTE ST 2046-1 safe areas, half a second of In and Out at 25 fps, four seconds of Hold. */
export function newTemplate(id: string, name: string): Template {
  return {
    schema: 5,
    id,
    name,
    note: '',
    language: 'en',
    tags: [],
    frame: { width: 1920, height: 1080, rate: { num: 25, den: 1 }, safe: { action: 0.035, title: 0.05 } },
    spans: { in: 12, out: 12, hold: { frames: 101, gives: 'freeze' } },
    palette: [
      { id: 'night', name: 'Night tide', colour: '#12343b' },
      { id: 'shell', name: 'Shell', colour: '#f4ead5' },
    ],
    parts: [],
    guides: [],
    sections: [],
    fields: [],
    comments: [],
    proofs: [],
    poster: { frame: 12, values: {} },
    fonts: [],
    fallbacks: [],
    media: [],
    sounds: [],
  }
}

/** The next free short id with a prefix: `text3`. */
export function freeId(taken: Iterable<string>, prefix: string): string {
  const used = new Set(taken)
  for (let n = 1; ; n++) if (!used.has(`${prefix}${n}`)) return `${prefix}${n}`
}

/** Kinds by the word people use for them. */
export const kindNames: Record<keyof typeof properties, string> = {
  text: 'text',
  box: 'box',
  ellipse: 'ellipse',
  path: 'path',
  curve: 'curve',
  picture: 'picture',
  group: 'group',
}
