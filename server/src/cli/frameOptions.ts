import type { OutputSettings } from '@hoja/core/output'
import { demand } from '@hoja/core/refusal'
import { parseRate } from '@hoja/core/time'

/** What the command line says of the frame that titles are drawn for, and of their time. */
export interface FrameOptions {
  frames?: number
  size?: string
  keepSizes?: boolean
  rate?: string
}

/** The settings that these options ask for. @throws Refusal */
export function frameSettings({
  frames,
  size,
  keepSizes,
  rate,
}: FrameOptions): Pick<OutputSettings, 'frames' | 'size' | 'keepSizes' | 'rate'> {
  return {
    ...(frames === undefined ? {} : { frames }),
    ...(size ? { size: numbers(size, 'x', 'a frame size; write it as 1920x1080', 'width', 'height') } : {}),
    ...(keepSizes ? { keepSizes } : {}),
    ...(rate ? { rate: parseRate(rate) } : {}),
  }
}

/** Two whole numbers with something between them. @throws Refusal */
export function numbers<A extends string, B extends string>(
  text: string,
  between: string,
  what: string,
  a: A,
  b: B,
): Record<A | B, number> {
  const [first, second, ...rest] = text.split(between)
  const isRight = /^\d{1,5}$/.test(first ?? '') && /^\d{1,5}$/.test(second ?? '') && rest.length === 0
  demand(isRight, 'call', `"${text}" is not ${what}.`)
  return { [a]: Number(first), [b]: Number(second) } as Record<A | B, number>
}
