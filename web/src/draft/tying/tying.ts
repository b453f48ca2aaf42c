import { Refusal } from '@hoja/core/refusal'
import { Scene } from '@hoja/core/scene'
import { type Change, edit, type PartId } from '@hoja/core/template'
import { fieldsAsDrawn, type Option, type Proposal, tieAsDrawn } from '@hoja/core/tying'
import { useMemo } from 'react'
import { useDraft } from '../../session/draft.ts'
import { chosenParts, type Tying, useDesk } from '../desk.ts'

/** A proposal as it stands in the list. */
export interface Line {
  proposal: Proposal
  /** The reading that is taken. */
  option: Option
  at: number
  on: boolean
}

const read = new WeakMap<Scene, Map<string, Proposal[]>>()

/** All that a drawing says about some parts; worked out once for each of its states. */
export function readDrawing(scene: Scene, ids?: readonly PartId[]): Proposal[] {
  const known = read.get(scene) ?? new Map<string, Proposal[]>()
  read.set(scene, known)
  const key = ids?.join() ?? ''
  const found = known.get(key)
  if (found) return found
  const { rest } = scene.layout({})
  const proposals = [...tieAsDrawn(scene.template, rest, ids), ...fieldsAsDrawn(scene.template, rest, ids)]
  known.set(key, proposals)
  return proposals
}

/** What was read, with what the person made of it. */
export function linesOf(proposals: readonly Proposal[], { off, choice }: Tying): Line[] {
  return proposals.map((proposal) => {
    const at = Math.min(choice[proposal.id] ?? 0, proposal.options.length - 1)
    return { proposal, at, option: proposal.options[at]!, on: !off.includes(proposal.id) }
  })
}

export const changeOf = (lines: readonly Line[]): Change => ({
  kind: 'several',
  changes: lines.filter(({ on }) => on).map(({ option }) => option.change),
})

/** The drawing as it would be tied; a sentence where it can't be. */
export function useTied(scene: Scene, lines: readonly Line[] | undefined): Scene | string | undefined {
  return useMemo(() => {
    if (!lines) return undefined
    try {
      return new Scene(edit(scene.template, changeOf(lines)), scene.assets)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      return error.message
    }
  }, [scene, lines])
}

/** What is proposed for the drawing now; undefined while nobody asks. */
export function useTying(scene: Scene): { tying: Tying; lines: Line[] } | undefined {
  const tying = useDesk((desk) => desk.tying)
  const proposals = useMemo(() => (tying ? readDrawing(scene, tying.ids) : []), [scene, tying])
  return useMemo(() => tying && { tying, lines: linesOf(proposals, tying) }, [proposals, tying])
}

/** Begins to read: several chosen parts, or all of them; one alone stands chosen whenever it was drawn just now. */
export function beginTying(): void {
  const desk = useDesk.getState()
  const chosen = chosenParts(desk)
  readAbout(chosen.length > 1 ? chosen : undefined)
}

export function readAbout(ids: readonly PartId[] | undefined): void {
  const desk = useDesk.getState()
  desk.set({
    tying: { ids, off: [], choice: {}, pointed: undefined },
    offer: undefined,
    writing: undefined,
    only: undefined,
    filling: { name: 'as drawn', values: {} },
  })
}

/** Takes what is ticked, as one step. */
export function takeTying(lines: readonly Line[]): void {
  const taken = lines.filter(({ on }) => on)
  if (taken.length > 0 && !useDraft.getState().change(changeOf(taken), 'tying as drawn')) return
  useDesk.getState().set({ tying: undefined })
}

/** After a part was drawn or moved: whether what stands near says something about it. */
export function offerFor(scene: Scene, id: PartId): Proposal | undefined {
  return readDrawing(scene, [id]).find(
    ({ part, options }) => part === id && options.some(({ targets }) => targets.length > 0),
  )
}
