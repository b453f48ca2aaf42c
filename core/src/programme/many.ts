import type { Match } from '../data/index.ts'
import { moveMatch } from '../handoff/index.ts'
import { expressionOf, replaced, type Search } from '../pattern/index.ts'
import type { Field, Template } from '../template/index.ts'
import { leastOf } from './clips.ts'
import type { ClipId, Design, Programme } from './description.ts'
import { freshIn, titleOf, trimmed, trimRoom } from './edits.ts'
import { firstWords, tooShort } from './reading.ts'

/** What was done to many titles, and those that stay as they were, each with the reason in a sentence. */
export interface Done {
  programme: Programme
  done: ClipId[]
  left: { id: ClipId; why: string }[]
}

/** Gives titles a length, as far as each can have it. */
export function withDurations(programme: Programme, ids: readonly ClipId[], frames: number): Done {
  const result: Done = { programme, done: [], left: [] }
  for (const id of ids) {
    const clip = titleOf(result.programme, id)
    const design = programme.designs[clip.design]!
    const { most, why } = trimRoom(result.programme, id, 'end')
    if (frames < leastOf(design)) result.left.push({ id, why: tooShort(design, frames) })
    else if (clip.at + frames > most) result.left.push({ id, why: why.most })
    else {
      result.programme = trimmed(result.programme, id, 'end', clip.at + frames)
      result.done.push(id)
    }
  }
  return result
}

/** A field that every word of some titles goes by in another template, and those that find none. */
export interface Swap {
  /** By the key of a field of the one that is left: the key in the one that comes; it goes by what is called alike. */
  to: Record<string, string>
  /** Fields whose words nothing takes. */
  lost: Field[]
  /** Fields that are new, and stand at their default. */
  fresh: Field[]
}

/** How the words of one template go to another, or to another version of the same one. */
export function swapOf(before: Template, after: Template): Swap {
  const all: Match = Object.fromEntries(before.fields.map(({ key }) => [key, key]))
  const { match, lost } = moveMatch(before, after, all)
  const to: Record<string, string> = Object.fromEntries(Object.entries(match).map(([key, from]) => [String(from), key]))
  const isFree = (field: Field) => !Object.values(to).includes(field.key)
  // Another template calls the same thing by the same name, or has its text in the same place.
  const rest = lost.filter((field) => {
    const alike =
      after.fields.find((one) => isFree(one) && one.type === field.type && plainName(one) === plainName(field)) ??
      (before.id === after.id ? undefined : after.fields.find((one) => isFree(one) && one.type === field.type))
    if (alike) to[field.key] = alike.key
    return !alike
  })
  return { to, lost: rest, fresh: after.fields.filter(isFree) }
}

const plainName = ({ name }: Field) => name.normalize('NFC').trim().toLowerCase()

/**
 * Puts titles on another version or template. Words that share the same go along once; what nothing takes is let go, which
 * `swapOf` tells before.
 */
export function swapped(
  programme: Programme,
  ids: readonly ClipId[],
  {
    key,
    design,
    swap,
    shapes,
  }: { key: string; design: Design; swap: (from: string) => Swap; shapes: ReadonlySet<string> },
): Done {
  const clips = { ...programme.clips }
  const words = { ...programme.words }
  const designs = { ...programme.designs, [key]: design }
  const result: Done = { programme, done: [], left: [] }
  // What stays behind, because it is too short, keeps what it says like any other that shares it.
  const own = new Set(ids.filter((id) => titleOf(programme, id).frames >= leastOf(design)))
  const moved = new Map<string, string>()
  for (const id of ids) {
    const clip = titleOf(programme, id)
    if (!own.has(id)) {
      result.left.push({ id, why: `"${firstWords(programme, clip)}": ${tooShort(design, clip.frames)}` })
      continue
    }
    let said = moved.get(clip.words)
    if (said === undefined) {
      const { cells, row } = programme.words[clip.words]!
      const { to } = swap(clip.design)
      const kept = Object.entries(cells).flatMap(([field, text]) =>
        to[field] === undefined ? [] : [[to[field], text]],
      )
      // Others that share them and stay behind keep what they say.
      const isShared = Object.entries(programme.clips).some(
        ([other, one]) => one.kind === 'title' && one.words === clip.words && !own.has(other),
      )
      said = isShared ? freshIn(words, 'w') : clip.words
      words[said] = { cells: Object.fromEntries(kept) as Record<string, string>, ...(row ? { row } : {}) }
      moved.set(clip.words, said)
    }
    const { shape, ...rest } = clip
    clips[id] = { ...rest, design: key, words: said, ...(shape !== undefined && shapes.has(shape) ? { shape } : {}) }
    result.done.push(id)
  }
  const used = new Set(Object.values(clips).flatMap((clip) => (clip.kind === 'title' ? [clip.design] : [])))
  const kept = Object.fromEntries(Object.entries(designs).filter(([id]) => used.has(id)))
  return { ...result, programme: { ...programme, clips, words, designs: kept } }
}

/** Replaces in all words of some titles. @returns how many texts changed */
export function withReplaced(
  programme: Programme,
  ids: readonly ClipId[],
  search: Search,
  put: string,
): { programme: Programme; changed: number } {
  const expression = expressionOf(search)
  if (!expression) return { programme, changed: 0 }
  const words = { ...programme.words }
  let changed = 0
  for (const said of new Set(ids.map((id) => titleOf(programme, id).words))) {
    const { cells, ...rest } = words[said]!
    const next = Object.fromEntries(
      Object.entries(cells).map(([key, text]) => {
        const now = replaced(text, expression, put, search.pattern)
        if (now !== text.normalize('NFC')) changed++
        return [key, now]
      }),
    )
    words[said] = { cells: next, ...rest }
  }
  return changed === 0 ? { programme, changed } : { programme: { ...programme, words }, changed }
}

/** Sets a field of all of some titles: a palette, a switch. */
export function withField(programme: Programme, ids: readonly ClipId[], key: string, text: string): Programme {
  const words = { ...programme.words }
  for (const said of new Set(ids.map((id) => titleOf(programme, id).words)))
    words[said] = { ...words[said]!, cells: { ...words[said]!.cells, [key]: text } }
  return { ...programme, words }
}
