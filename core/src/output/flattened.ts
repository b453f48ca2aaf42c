import { safeName } from '../formats/index.ts'
import { dependsOn } from '../layout/index.ts'
import { demand } from '../refusal/index.ts'
import { type Field, findPart, type Part, type PartId, reachedBy, type Template } from '../template/index.ts'
import { outputFormats } from './formats.ts'
import type { OutputSettings } from './settings.ts'

/** Locked parts that become one clip. */
export interface FlatClip {
  kind: 'clip'
  name: string
  parts: PartId[]
  /** Names of the editable parts that its shape follows: it is drawn as for the poster's filling. */
  follows: string[]
}

/** A part that an editor changes: whoever takes the clips draws it. */
export interface FlatEditable {
  kind: 'editable'
  name: string
  part: PartId
  /** Keys of the fields that reach it. */
  fields: string[]
}

export type FlatLayer = FlatClip | FlatEditable

/**
 * A template taken apart for systems that draw their own text: what is locked as clips, what is editable as places. The
 * lowest layer first; a group is taken apart where something in it is editable, and stays whole where nothing is.
 * @param merged neighbours in the layer order become one clip; else every locked part is one by itself
 */
export function flatLayers(template: Template, merged: boolean): FlatLayer[] {
  const reaching = new Map<PartId, Field[]>()
  for (const field of template.fields)
    for (const { part } of reachedBy(template, field)) {
      const known = reaching.get(part) ?? []
      if (!known.includes(field)) reaching.set(part, [...known, field])
    }
  const holdsEditable = (part: Part): boolean => reaching.has(part.id) || (part.parts ?? []).some(holdsEditable)
  const layers: FlatLayer[] = []
  const visit = (part: Part): void => {
    if ((part.style as { matteOnly?: boolean }).matteOnly) return
    if (part.kind === 'group' && holdsEditable(part)) {
      for (const inner of part.parts!) visit(inner)
      return
    }
    const fields = reaching.get(part.id)
    if (fields) {
      layers.push({ kind: 'editable', name: part.name, part: part.id, fields: fields.map(({ key }) => key) })
      return
    }
    const last = layers.at(-1)
    const follows = followed(template, part, reaching)
    if (merged && last?.kind === 'clip') {
      last.parts.push(part.id)
      last.name = `${last.name}, ${part.name}`
      last.follows = [...new Set([...last.follows, ...follows])]
    } else layers.push({ kind: 'clip', name: part.name, parts: [part.id], follows })
  }
  template.parts.forEach(visit)
  return layers
}

/** Longest name of a clip that is made of many parts, characters. */
const longestName = 48

/**
 * The clips that an order for parts by themselves gives, the lowest first; their file names begin with their place.
 * @throws Refusal for a format without alpha, and where no part is locked
 */
export function clipsOf(
  template: Template,
  { format, parts }: Pick<OutputSettings, 'format' | 'parts'>,
): { file: string; parts: PartId[] }[] {
  const { alpha, name } = outputFormats[format]
  demand(
    alpha !== 'none',
    'output.parts',
    `${name} has no alpha, so nothing could lie under a part; choose another format.`,
  )
  const clips = flatLayers(template, parts !== 'apart').filter((layer) => layer.kind === 'clip')
  demand(clips.length > 0, 'output.parts', 'Every part of this template is editable; there is nothing to flatten.')
  return clips.map((clip, i) => ({
    file: `${String(i + 1).padStart(2, '0')}_${safeName(clip.name).slice(0, longestName)}`,
    parts: clip.parts,
  }))
}

/** Names of the editable parts that a part's shape follows, by however many others. */
function followed(template: Template, part: Part, reaching: ReadonlyMap<PartId, unknown>): string[] {
  const seen = new Set<PartId>()
  const names = new Set<string>()
  const visit = (id: PartId): void => {
    const one = findPart(template, id)
    if (!one || seen.has(id)) return
    seen.add(id)
    if (reaching.has(id)) names.add(one.name)
    const matte = one.matte ? [one.matte.part] : []
    for (const next of [...dependsOn(one), ...matte, ...(one.parts ?? []).map((inner) => inner.id)]) visit(next)
  }
  visit(part.id)
  return [...names]
}
