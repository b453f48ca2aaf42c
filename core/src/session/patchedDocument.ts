import { type Patch, patched, patchesBetween } from './patches.ts'
import type { DocumentKind } from './session.ts'

/** What somebody does to a document, or, as it stands in the history, the places that it changed. */
export type PatchedEdit<Change> = { change: Change } | { patches: Patch[] }

/**
 * A document that is changed by functions and remembers the places that they changed. What others saved meanwhile is a
 * matter of choosing: two states are not mixed.
 * @param change makes a change, and refuses what cannot be
 */
export const patchedDocument = <State, Change>(
  change: (state: State, change: Change) => State,
): DocumentKind<State, PatchedEdit<Change>> => ({
  apply(before, own) {
    const state = 'change' in own ? change(before, own.change) : patched(before, own.patches)
    return {
      state,
      done: 'change' in own ? { patches: patchesBetween(before, state) } : own,
      inverse: { patches: patchesBetween(state, before) },
    }
  },
  over: () => undefined,
  between: (from, to) => {
    const patches = patchesBetween(from, to)
    return patches.length > 0 ? [{ patches }] : []
  },
  portion: (edits) => ({ part: edits, left: [] }),
  same: (one, other) => one === other || patchesBetween(one, other).length === 0,
})
