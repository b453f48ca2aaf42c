import { type Rate, timecodeOf } from '../time/index.ts'

/** An event of an edit: frames of day, and what is told beside it. */
export interface EditEvent {
  /** The clip's name, which follows as a comment. */
  clip: string
  /** Of the source: its first frame. */
  from: number
  /** Of the edit. */
  at: number
  frames: number
}

/** Something named at a frame of day. */
export interface Locator {
  at: number
  name: string
}

/** Events that a list of three digits holds. */
const mostEvents = 999

const oneLine = (text: string) => text.replace(/[\r\n]+/g, ' ')

/**
 * Edit decision lists by CMX 3600, one for every lane and every 999 events. Columns: event, reel (`AX`: a file without a
 * reel), track, cut, and the source's and the edit's in and out; the name of the clip follows as a comment, and locators
 * with the event that they lie in, or the last one before.
 */
export function editLists(
  { name, rate, drop }: { name: string; rate: Rate; drop: boolean },
  lanes: readonly (readonly EditEvent[])[],
  locators: readonly Locator[] = [],
): string[] {
  const lists = lanes.flatMap((lane) =>
    Array.from({ length: Math.ceil(lane.length / mostEvents) }, (_, i) =>
      lane.slice(i * mostEvents, (i + 1) * mostEvents),
    ),
  )
  const code = (frame: number) => timecodeOf(frame, rate, drop)
  return lists.map((events, n) => {
    const left = n === 0 ? [...locators].sort((a, b) => a.at - b.at) : []
    const lines = events.flatMap(({ clip, from, at, frames }, i) => {
      const codes = [from, from + frames, at, at + frames].map(code)
      const isLast = i === events.length - 1
      const own: Locator[] = []
      while (left[0] && (isLast || left[0].at < events[i + 1]!.at)) own.push(left.shift()!)
      return [
        `${String(i + 1).padStart(3, '0')}  AX       V     C        ${codes.join(' ')}`,
        `* FROM CLIP NAME: ${oneLine(clip)}`,
        ...own.map((one) => `* LOC: ${code(one.at)} GREEN   ${oneLine(one.name)}`),
        '',
      ]
    })
    const head = [`TITLE: ${oneLine(name).slice(0, 70)}`, `FCM: ${drop ? '' : 'NON-'}DROP FRAME`, '']
    return `${[...head, ...lines].join('\r\n')}\r\n`
  })
}
