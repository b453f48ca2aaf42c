import type { Scene } from '@hoja/core/scene'
import type { FontAxis } from '@hoja/core/text'
import { createContext, useContext } from 'react'
import { useDesk } from './desk.ts'

/** The drawing as it stands, for panels that ask it something. */
export const SceneContext = createContext<Scene | undefined>(undefined)

/** The same, for those who ask it something when they are pressed, and need not be drawn anew with it. */
export const SceneRef = createContext<{ readonly current: Scene | undefined }>({ current: undefined })

const none: ReadonlySet<string> = new Set()
const noAxes: readonly FontAxis[] = []

/** A font that the template carries, the first one when nothing is said. */
const useFont = (id: string) => {
  const scene = useContext(SceneContext)
  return scene?.assets.fonts.get(id || (scene.template.fonts[0]?.id ?? ''))
}

/** The axes of a font that the template carries; none where it is not a variable one. */
export const useAxes = (font: string): readonly FontAxis[] => useFont(font)?.axes ?? noAxes

/** The OpenType features of a font that the template carries. */
export function useFeatures(font: string): ReadonlySet<string> {
  return useFont(font)?.features ?? none
}

/** Asks for a part's size before its own scale, px. */
export function useOwnSize(id: string): () => { width: number; height: number } | undefined {
  const scene = useContext(SceneRef)
  return () => {
    const rest = scene.current?.layout(useDesk.getState().filling.values).rest
    const i = rest?.order.index.get(id)
    return rest && i !== undefined ? { width: rest.own[0][i]!, height: rest.own[1][i]! } : undefined
  }
}
