import type { OutputSettings } from '@hoja/core/output'
import { demand } from '@hoja/core/refusal'
import { shapesOf, type Template } from '@hoja/core/template'
import { parseLength, parseRate, type Rate } from '@hoja/core/time'

/** What the command line says of the frame that titles are drawn for, and of their time. */
export interface FrameOptions {
  /** Names of shapes with commas between them, or `all`. */
  shape?: string
  /** As people write a length. */
  frames?: string
  size?: string
  keepSizes?: boolean
  rate?: string
}

/**
 * The settings that these options ask for.
 * @param designed the template's rate, at which a length is counted where no other is given
 * @throws Refusal
 */
export function frameSettings(
  { frames, size, keepSizes, rate }: FrameOptions,
  designed: Rate,
): Pick<OutputSettings, 'frames' | 'size' | 'keepSizes' | 'rate'> {
  const own = rate ? parseRate(rate) : designed
  return {
    ...(frames === undefined ? {} : { frames: parseLength(frames, own) }),
    ...(size ? { size: numbers(size, 'x', 'a frame size; write it as 1920x1080', 'width', 'height') } : {}),
    ...(keepSizes ? { keepSizes } : {}),
    ...(rate ? { rate: own } : {}),
  }
}

/** The shapes that are asked for, by their names or ids; none: the first. */
export function shapesFrom(words: string | undefined, template: Pick<Template, 'frame' | 'shapes'>): string[] {
  if (words === 'all') return shapesOf(template).map(({ id }) => id)
  return words === undefined ? [] : words.split(',').map((word) => word.trim())
}

/** Two lengths with a plus between them, in frames. @throws Refusal */
export function handlesFrom(text: string, rate: Rate): { before: number; after: number } {
  const pieces = text.split('+')
  demand(pieces.length === 2, 'call', `"${text}" is not handles; write what is before and behind as 25+25 or 1 s+1 s.`)
  const [before, after] = pieces.map((piece) => parseLength(piece, rate)) as [number, number]
  return { before, after }
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
