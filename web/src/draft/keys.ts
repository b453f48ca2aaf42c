import { sortedKeys } from '@hoja/core/motion'
import type { Key, Part, Tracks } from '@hoja/core/template'

/** The times at which a part has keys, over all channels. */
export function keyTimes(part: Part): { span: Key['span']; at: number }[] {
  const all = [...Object.values(part.motion.tracks), ...Object.values(part.motion.units?.tracks ?? {})].flatMap(
    (track) => (track?.keys ?? []) as Key[],
  )
  return sortedKeys(all.filter((key, i) => all.findIndex((k) => k.span === key.span && k.at === key.at) === i))
}

/** A part's motion with the keys of one moment moved to another. */
export function moveKeys(part: Part, from: { span: Key['span']; at: number }, to: number): Part['motion'] {
  const shift = <T extends object>(tracks: T): T =>
    Object.fromEntries(
      Object.entries(tracks).map(([channel, track]) => [
        channel,
        {
          ...track,
          keys: sortedKeys(
            (track.keys as Key[]).map((key) =>
              key.span === from.span && key.at === from.at ? { ...key, at: to } : key,
            ),
          ),
        },
      ]),
    ) as T
  const { motion } = part
  return {
    ...motion,
    tracks: shift(motion.tracks as Tracks),
    ...(motion.units ? { units: { ...motion.units, tracks: shift(motion.units.tracks) } } : {}),
  }
}
