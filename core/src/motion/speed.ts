import { cached, LastFew } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import type { Frame, Keyframe, Motion, ShiftTrack, SpanName, Spans, Track, Tracks } from '../template/index.ts'
import { inSpan, shiftOf } from './shift.ts'

/** What a way is measured in: the box that a part rests in, its frame, and how long its spans are. */
export interface WayContext {
  frame: Frame
  spans: Spans
}

/** Channels whose keys lead over a way in px, so that a speed can say when they are. */
export const waysOf = ['shiftX', 'shiftY', 'grow', 'reveal'] as const
type WayChannel = (typeof waysOf)[number]
export const hasWay = (channel: string): channel is WayChannel => (waysOf as readonly string[]).includes(channel)

/** px between two values of a channel in a span, for a part that rests in a box. */
function wayBetween(
  tracks: Tracks,
  channel: WayChannel,
  span: SpanName,
  box: Box,
  frame: Frame,
): (from: number, to: number) => number {
  switch (channel) {
    case 'shiftX':
    case 'shiftY': {
      const track = tracks[channel] as ShiftTrack
      const { unit } = inSpan(track, span)
      const px = (value: number) =>
        channel === 'shiftX'
          ? shiftOf(unit, value, box.x, box.width, frame.width)
          : shiftOf(unit, value, box.y, box.height, frame.height)
      return (from, to) => Math.abs(px(to) - px(from))
    }
    case 'grow': {
      const { axis } = inSpan(tracks.grow!, span)
      return (from, to) => Math.abs(to - from) * (axis === 'x' ? box.width : box.height)
    }
    case 'reveal': {
      const { from: side } = inSpan(tracks.reveal!, span)
      const size = side === 'left' || side === 'right' ? box.width : box.height
      return (from, to) => Math.abs(to - from) * size
    }
  }
}

const lengthOf = (spans: Spans, span: SpanName) => (span === 'hold' ? spans.hold.frames : spans[span])

/** Frames that a way takes at a speed: the nearest, and one at least. @param way px @param speed px a second */
export function framesOfWay(way: number, speed: number, { num, den }: Frame['rate']): number {
  return Math.max(1, Math.round((way / speed) * (num / den)))
}

/** A channel's keys at the times that their speeds give them; those that have none stay, and hold those before them. */
function timedKeys(tracks: Tracks, channel: WayChannel, box: Box, { frame, spans }: WayContext): Keyframe[] {
  const { keys } = tracks[channel] as Track
  const timed: Keyframe[] = []
  for (const [i, key] of keys.entries()) {
    const before = timed[i - 1]
    if (key.speed === undefined || !before) {
      timed.push(key)
      continue
    }
    const way = wayBetween(tracks, channel, key.span, box, frame)(before.value, key.value)
    const begin = before.span === key.span ? before.at : 0
    const next = keys.slice(i + 1).find((other) => other.span === key.span && other.speed === undefined)
    const most = Math.min(next?.at ?? Number.POSITIVE_INFINITY, lengthOf(spans, key.span))
    timed.push({ ...key, at: Math.min(most, begin + framesOfWay(way, key.speed, frame.rate)) })
  }
  return timed
}

const speeding = new WeakMap<Tracks, WayChannel[]>()
const timedBefore = new WeakMap<Tracks, LastFew<string, Tracks>>()
/** Fillings of which a part's times are kept. */
const keep = 32

/** A part's channels with their keys where the part's own way puts them; themselves where no key goes by a speed. */
export function timedTracks(tracks: Tracks, box: Box, context: WayContext): Tracks {
  const channels = cached(speeding, tracks, () =>
    waysOf.filter((channel) => tracks[channel]?.keys.some((key) => key.speed !== undefined)),
  )
  if (channels.length === 0) return tracks
  const { frame, spans } = context
  const { num, den } = frame.rate
  const key = [box.x, box.y, box.width, box.height, frame.width, frame.height, num, den, spans.in, spans.out].join()
  const known = cached(timedBefore, tracks, () => new LastFew<string, Tracks>(keep))
  return cached(known, key, () => ({
    ...tracks,
    ...Object.fromEntries(
      channels.map((channel) => [channel, { ...tracks[channel], keys: timedKeys(tracks, channel, box, context) }]),
    ),
  }))
}

/** The most px a second that keys carry a part, from one to the next, and the channel that does. */
export function fastestOf(
  motion: Motion,
  box: Box,
  context: WayContext,
): { speed: number; channel: WayChannel } | undefined {
  const tracks = timedTracks(motion.tracks, box, context)
  const { num, den } = context.frame.rate
  let most: { speed: number; channel: WayChannel } | undefined
  for (const channel of waysOf) {
    const keys = tracks[channel]?.keys ?? []
    for (const [i, key] of keys.entries()) {
      const before = keys[i - 1]
      if (before?.span !== key.span) continue
      const way = wayBetween(tracks, channel, key.span, box, context.frame)(before.value, key.value)
      const speed = (way * (num / den)) / Math.max(1, key.at - before.at)
      if (speed > (most?.speed ?? 0)) most = { speed, channel }
    }
  }
  return most
}
