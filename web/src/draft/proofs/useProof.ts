import type { Finding } from '@hoja/core/data'
import type { Box } from '@hoja/core/geometry'
import type { Values } from '@hoja/core/template'
import { createContext, useContext, useEffect, useId, useRef, useState } from 'react'
import type { ProofPainter } from '../../preview/ProofPainter.ts'
import { useDraft } from '../../session/draft.ts'

export const PainterContext = createContext<ProofPainter | undefined>(undefined)

/** What a proof shows and what the checks say of it, or why that is not known. */
export type SeenProof =
  | { findings: Finding[]; isLooked: boolean; crop: Box; frame: { width: number; height: number } }
  | { broken: string }

/**
 * Draws a filling into a canvas whenever the drawing changes. What is given back changes only with what is said of it or
 * with what of the frame it shows: most steps of a drag change the picture alone.
 * @param width px of the page, as height
 */
export function useProof(values: Values, frame: number | undefined, width: number, height: number) {
  const painter = useContext(PainterContext)
  const canvas = useRef<HTMLCanvasElement>(null)
  const key = useId()
  const [seen, setSeen] = useState<SeenProof>()
  const ratio = typeof devicePixelRatio === 'number' ? devicePixelRatio : 1
  const [w, h] = [Math.max(1, Math.round(width * ratio)), Math.max(1, Math.round(height * ratio))]
  useEffect(() => {
    let said = ''
    return painter?.keep({ key, values, frame, width: w, height: h }, (heard) => {
      if ('broken' in heard) {
        said = ''
        return setSeen(heard)
      }
      if ('looked' in heard) {
        const { looked: findings } = heard
        return setSeen((before) => (before && 'crop' in before ? { ...before, findings, isLooked: true } : before))
      }
      const { picture, findings, crop } = heard
      const own = canvas.current
      if (own) {
        if (own.width !== picture.width || own.height !== picture.height)
          Object.assign(own, { width: picture.width, height: picture.height })
        own.getContext('2d', { willReadFrequently: true })?.putImageData(picture, 0, 0)
      }
      const { width, height } = useDraft.getState().template!.frame
      const says = JSON.stringify([findings, crop, width, height])
      // While a drag goes on, what was seen before stands as long as the boxes say the same; a look follows at once.
      if (says !== said) setSeen({ findings, isLooked: false, crop, frame: { width, height } })
      else
        setSeen((before) => (before && 'crop' in before && before.isLooked ? { ...before, isLooked: false } : before))
      said = says
    })
  }, [painter, key, values, frame, w, h])
  return [canvas, seen] as const
}
