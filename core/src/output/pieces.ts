import type { Timing } from '../motion/index.ts'
import type { Spans } from '../template/index.ts'
import { outputFormats } from './formats.ts'
import type { OutputSettings } from './settings.ts'

/** Files that a title comes apart into, so that an edit can hold it as long as it likes. */
export const pieceNames = ['in', 'hold', 'out'] as const
export type PieceName = (typeof pieceNames)[number]

/** Frames of a file, one stretch after another; the handles are the outer ones. */
export interface Stretches {
  before: number
  in: number
  hold: number
  out: number
  after: number
}

/** The stretches of a whole title's file. */
export function stretchesOf(timing: Timing, handles: OutputSettings['handles']): Stretches {
  const { in: arriving, hold, out } = timing
  return { before: handles?.before ?? 0, in: arriving, hold, out, after: handles?.after ?? 0 }
}

/** Frames of a title without its handles. */
export const framesIn = ({ in: arriving, hold, out }: Stretches): number => arriving + hold + out

/** In, Hold and Out by their names, as far as they have frames; the first frame of the file is 0. */
export function spansOf({
  before,
  in: arriving,
  hold,
  out,
}: Stretches): { name: string; from: number; count: number }[] {
  return [
    { name: 'In', from: before, count: arriving },
    { name: 'Hold', from: before + arriving, count: hold },
    { name: 'Out', from: before + arriving + hold, count: out },
  ].filter(({ count }) => count > 0)
}

/** A file of a title, as its order has it: which frames of the whole it holds, and what stands behind its name. */
export interface TitleFile {
  piece?: PieceName
  /** Of the title with its handles, from 0. */
  from: number
  count: number
}

/**
 * Which frames each piece holds. Of a Hold that stands still one frame, to be held; of one that loops a single turn, its
 * lead-in being part of In; of one that is stretched all of it. In, Hold as often as one likes, and Out, one behind the
 * other, are the title's own frames.
 */
export function piecesOf(spans: Spans, stretches: Stretches): TitleFile[] {
  const { before, in: arriving, hold, out, after } = stretches
  const { gives, frames, loop } = spans.hold
  const { from, to } = loop ?? { from: 0, to: frames }
  const isLoop = gives === 'loop' && hold >= to && to > from
  const lead = isLoop ? from : 0
  const count = gives === 'freeze' ? Math.min(1, hold) : isLoop ? to - from : hold
  const arrived = before + arriving + lead
  const all: TitleFile[] = [
    { piece: 'in', from: 0, count: arrived },
    { piece: 'hold', from: arrived, count },
    { piece: 'out', from: before + arriving + hold, count: out + after },
  ]
  return all.filter((piece) => piece.count > 0)
}

/** What stands behind a title's name in the names of its files, in order: of a sequence, in that of its folder. */
export function suffixesOf(
  { format, pieces }: Pick<OutputSettings, 'format' | 'pieces'>,
  names: readonly (PieceName | undefined)[],
): string[] {
  const { endings, still } = outputFormats[format]
  if (!pieces || still) return [...endings]
  return names.flatMap((piece) => endings.map((ending) => `_${piece}${ending}`))
}
