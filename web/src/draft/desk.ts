import type { AxisName, Edge, PartId, Values } from '@hoja/core/template'
import { create } from 'zustand'

/** Waiting for a click on the frame that says what an edge is tied to. */
export interface Pick {
  part: PartId
  axis: AxisName
  edge: Edge
}

/** What is chosen on the drawing desk; none of it belongs to the template. */
interface Desk {
  selected: PartId | undefined
  /** Parts chosen besides it in the time view, in the order they were. */
  also: PartId[]
  /** The filling in the frame. */
  filling: { name: string; values: Values }
  pick: Pick | undefined
  footage: boolean
  safe: boolean
  measures: boolean
  set(change: Partial<Omit<Desk, 'set'>>): void
}

export const useDesk = create<Desk>((set) => ({
  selected: undefined,
  also: [],
  filling: { name: 'as drawn', values: {} },
  pick: undefined,
  footage: true,
  safe: true,
  measures: true,
  // Choosing one part lets go of the others.
  set: (change) => set('selected' in change ? { also: [], ...change } : change),
}))
