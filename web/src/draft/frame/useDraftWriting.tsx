import type { Scene } from '@hoja/core/scene'
import {
  allParts,
  fieldWritten,
  findPart,
  isWritable,
  type PartId,
  runsOf,
  type Template,
  withWords,
  wordsOf,
} from '@hoja/core/template'
import { useEffect } from 'react'
import type { Player } from '../../preview/usePlayer.ts'
import type { Writing } from '../../preview/writing/WritingLayer.tsx'
import { useDraft } from '../../session/draft.ts'
import { useDesk } from '../desk.ts'
import { WordsBar } from './WordsBar.tsx'

/** What is written in one text, and what made it, belong to one another for undo. */
const gestureOf = (part: PartId, step: string) => `writing.${part}.${step}`
/** With the first words the part itself is undone. */
export const firstGesture = (part: PartId) => gestureOf(part, '0')

/** Texts in reading order of the parts list, which a caret can stand in. */
const writable = (template: Template) => allParts(template.parts).filter(isWritable).reverse()

/**
 * Puts a caret into a text, as it is drawn and with all that has arrived. Where none can stand, in a text that runs or
 * follows a path, its words are shown in the style panel.
 */
export function beginWriting(part: PartId): void {
  const { template } = useDraft.getState()
  const own = template && findPart(template, part)
  if (own?.kind !== 'text') return
  const { set } = useDesk.getState()
  if (!isWritable(own)) {
    set({ selected: part, tool: 'choose', tab: 'style' })
    // The panel is there with the next drawing of the page.
    requestAnimationFrame(() => document.querySelector<HTMLElement>('[data-words]')?.focus())
    return
  }
  set({
    selected: part,
    writing: part,
    tool: 'choose',
    filling: { name: 'as drawn', values: {} },
  })
}

/** What the caret on the frame writes into, if there is one. */
export function useDraftWriting(template: Template, scene: Scene, player: Player): Writing | undefined {
  const id = useDesk((desk) => desk.writing)
  const filling = useDesk((desk) => desk.filling)
  const part = id === undefined ? undefined : findPart(template, id)
  const { set } = useDesk.getState()
  // A text is written where it has arrived, and while it stands still.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each text
  useEffect(() => {
    if (id === undefined) return
    player.setSpeed(0)
    player.go(template.spans.in)
    return () => leave(id)
  }, [id])
  if (part?.kind !== 'text') return undefined
  const field = fieldWritten(template, part)
  const { change, undo, redo } = useDraft.getState()
  return {
    scene,
    values: filling.values,
    frame: player.frame,
    part: part.id,
    own: field ? 'field' : 'text',
    label: field ? `The words of ${part.name}, which ${field.name} gives` : `The words of ${part.name}`,
    onWords: ({ from, to, words }, step) => {
      const now = useDraft.getState().template!
      const own = findPart(now, part.id)
      if (!own) return
      const what = `writing in ${own.name}`
      const given = fieldWritten(now, own)
      if (given) {
        const was = String(given.default)
        const next = was.slice(0, from) + words + was.slice(to)
        change({ kind: 'field', field: { ...given, default: next } }, what, gestureOf(part.id, step))
        return
      }
      const value = withWords(runsOf(own), from, to, words)
      change({ kind: 'style', part: part.id, key: 'content', value }, what, gestureOf(part.id, step))
    },
    onUndo: undo,
    onRedo: redo,
    onLeave: () => set({ writing: undefined }),
    onNext: (by) => {
      const texts = writable(template)
      const at = texts.findIndex((text) => text.id === part.id)
      beginWriting(texts[(at + by + texts.length) % texts.length]!.id)
    },
    ...(field ? {} : { bar: (chosen) => <WordsBar template={template} part={part} chosen={chosen} /> }),
  }
}

/** A text in which nothing was written is none. */
function leave(id: PartId): void {
  const { template, change, undo, past } = useDraft.getState()
  if (!template) return
  const part = findPart(template, id)
  if (part?.kind !== 'text') return
  if (fieldWritten(template, part) || wordsOf(runsOf(part)) !== '') {
    const { selected, set } = useDesk.getState()
    if (selected === id) set({ offer: id })
    return
  }
  if (past.at(-1) === `adding ${part.name}`) undo()
  else change({ kind: 'removePart', part: id }, `removing ${part.name}, which says nothing`)
}
