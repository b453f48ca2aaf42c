import type { KeyframeClip, KeyframeRef, Turn } from '@hoja/core/motion'
import type { AxisName, Clipping, Edge, PartId, PartKind, Values } from '@hoja/core/template'
import { create } from 'zustand'
import { persist } from 'zustand/middleware'

/** Waiting for a click on the frame: what an edge is tied to, or the parts a recipe is about. */
export type Pick =
  | { for: 'edge'; part: PartId; axis: AxisName; edge: Edge }
  | { for: 'parts'; part: PartId; several: boolean; chosen: PartId[]; done: (parts: PartId[]) => void }

/** What a press on the frame does: choose and move, edit the points of a path, or draw a part of a kind. */
export type Tool = 'choose' | 'points' | 'line' | Exclude<PartKind, 'group' | 'picture'>

export const backgrounds = ['footage', 'grey', 'checks', 'white', 'black', 'still'] as const
export type Background = (typeof backgrounds)[number]

export const tabs = ['edges', 'style', 'motion', 'moves', 'easing', 'matte'] as const
export type Tab = (typeof tabs)[number]

/** Panels that fold to a strip. */
export const foldable = ['parts', 'time', 'proofs'] as const
export type Foldable = (typeof foldable)[number]

/** Which parts have lanes in the time view. */
export const laneFilters = ['all', 'keyed', 'chosen', 'unfinished'] as const
export type LaneFilter = (typeof laneFilters)[number]

/** What may be drawn over the frame. */
export interface Shown {
  safe: boolean
  crop43: boolean
  crop916: boolean
  measures: boolean
  numbers: boolean
  rulers: boolean
  /** The way that motion takes the chosen part. */
  way: boolean
  onion: boolean
}

/** What was read from a drawing, while a person looks through it. */
export interface Tying {
  /** Whom it is about; absent: all. */
  ids: readonly PartId[] | undefined
  /** What is not taken, by the proposals' ids. */
  off: readonly string[]
  /** Which of several readings is taken, where it is not the likeliest. */
  choice: Readonly<Record<string, number>>
  /** The proposal that is pointed at. */
  pointed: string | undefined
}

/** What is chosen on the drawing desk; none of it belongs to the template. */
export interface Desk {
  selected: PartId | undefined
  /** Parts chosen besides it, in the order they were. */
  also: PartId[]
  /** Keys chosen in the time view. */
  keys: KeyframeRef[]
  copiedKeys: KeyframeClip[]
  /** What was copied, while a person chooses lines of its style. */
  pasting: Clipping | undefined
  /** Whether it is tried how the title changes while it is up. */
  updating: boolean
  /** Only these parts are drawn; empty: all. */
  solo: PartId[]
  /** The filling in the frame. */
  filling: { name: string; values: Values }
  /** Frames of Hold that the lists of the filling take; undefined: as designed. */
  hold: number | undefined
  /** Where in Hold its texts stand that come in turn. */
  turns: readonly Turn[] | undefined
  pick: Pick | undefined
  tool: Tool
  /** What was read from the drawing, while it is looked through. */
  tying: Tying | undefined
  /** The part that was drawn or moved just now, and may hold to something near. */
  offer: PartId | undefined
  /** What a part that was drawn just now went behind, in words. */
  behind: { part: PartId; names: string } | undefined
  /** The parts under the pointer when it asked for a menu, the uppermost first. */
  here: readonly PartId[]
  /** The text in which a caret stands on the frame. */
  writing: PartId | undefined
  tab: Tab
  background: Background
  /** A picture of the person's own behind the frame. */
  still: string | undefined
  show: Shown
  lanes: LaneFilter
  /** How many times as wide as its view time is drawn. */
  nearer: number
  /** How far somebody is who is shown around; undefined: nobody is. */
  tour: number | undefined
  /** Panels that are folded away. */
  folded: Foldable[]
  /** Whether a part's panels and time stand beside the frame, not below it; for frames of each shape. */
  beside: { wide: boolean; upright: boolean }
  /** The frame by itself, or with time alone; undefined: everything. */
  only: 'frame' | 'time' | undefined
  /** Screen px per frame px; undefined: as fits. */
  zoom: number | undefined
  /** Where the frame's middle is moved from the middle of its view, screen px. */
  pan: { x: number; y: number }
  set(change: Partial<Omit<Desk, 'set' | 'fold'>>): void
  fold(panel: Foldable, away: boolean): void
}

/** How the desk stands when a template is opened. */
export const untouched = {
  selected: undefined,
  also: [],
  keys: [],
  pasting: undefined,
  updating: false,
  solo: [],
  filling: { name: 'as drawn', values: {} },
  hold: undefined,
  turns: undefined,
  pick: undefined,
  tool: 'choose',
  tying: undefined,
  offer: undefined,
  behind: undefined,
  here: [],
  writing: undefined,
  tab: 'edges',
} satisfies Partial<Desk>

export const useDesk = create<Desk>()(
  persist(
    (set) => ({
      ...untouched,
      copiedKeys: [],
      background: 'footage',
      still: undefined,
      show: {
        safe: true,
        crop43: false,
        crop916: false,
        measures: true,
        numbers: true,
        rulers: false,
        way: true,
        onion: false,
      },
      lanes: 'all',
      nearer: 1,
      tour: undefined,
      folded: [],
      beside: { wide: false, upright: true },
      only: undefined,
      zoom: undefined,
      pan: { x: 0, y: 0 },
      // Choosing a part lets go of the others, and of keys of parts that are not chosen any more.
      set: (change) =>
        set((old) => {
          if (!('selected' in change)) return change
          const also = change.also ?? []
          const chosen = [change.selected, ...also]
          // The caret leaves a text with which something else is chosen.
          const isSame = change.selected === old.selected
          const kept = isSame ? {} : { writing: undefined, offer: undefined, behind: undefined }
          return { also, ...kept, keys: change.keys ?? old.keys.filter((key) => chosen.includes(key.part)), ...change }
        }),
      fold: (panel, away) =>
        set(({ folded }) => ({ folded: [...folded.filter((one) => one !== panel), ...(away ? [panel] : [])] })),
    }),
    // How the desk is arranged is a person's own, and kept by the browser.
    { name: 'hoja.desk', partialize: ({ folded, beside }) => ({ folded, beside }) },
  ),
)

/** Time at its nearest is so many times as wide as its view. */
const nearest = 16
export const nearerBy = (nearer: number, factor: number): number => Math.min(nearest, Math.max(1, nearer * factor))

/** The chosen parts, the first chosen first. */
export const chosenParts = (desk: { selected: PartId | undefined; also: PartId[] }): PartId[] =>
  desk.selected ? [desk.selected, ...desk.also] : []

/** Choosing with Shift adds a part or lets it go. */
export function chooseAlso(desk: Desk, id: PartId): void {
  const chosen = chosenParts(desk)
  const next = chosen.includes(id) ? chosen.filter((other) => other !== id) : [...chosen, id]
  desk.set({ selected: next[0], also: next.slice(1) })
}
