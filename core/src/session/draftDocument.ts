import { type Change, edit, type Template } from '../template/index.ts'
import { type Patch, patched, patchesBetween } from './patches.ts'
import type { DocumentKind } from './session.ts'

/** What a designer does, or, as it stands in the history, the places that it changed. */
export type DraftEdit = { change: Change } | { patches: Patch[] }

/** A template as it is edited. What others saved meanwhile is a matter of choosing: two drawings are not mixed. */
export const draftDocument: DocumentKind<Template, DraftEdit> = {
  apply(template, own) {
    const state = 'change' in own ? edit(template, own.change) : patched(template, own.patches)
    return {
      state,
      done: 'change' in own ? { patches: patchesBetween(template, state) } : own,
      inverse: { patches: patchesBetween(state, template) },
    }
  },
  over: () => undefined,
  between: (from, to) => {
    const patches = patchesBetween(from, to)
    return patches.length > 0 ? [{ patches }] : []
  },
  portion: (edits) => ({ part: edits, left: [] }),
  same: (one, other) => one === other || patchesBetween(one, other).length === 0,
}
