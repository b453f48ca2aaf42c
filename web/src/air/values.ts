import { type AirItem, type Channel, cellsNow, momentOf, type Up, valuesOfItem } from '@hoja/core/air'
import type { Scene } from '@hoja/core/scene'
import type { Values } from '@hoja/core/template'
import type { AirDesk } from './airDesk.ts'

/** What a title that is up says, and what it would after the next one was taken over it. */
export function airValues(
  desk: AirDesk,
  channel: Channel,
  scene: Scene,
  up: Up,
  next: AirItem,
): { before: Values; after: Values } {
  const at = { now: desk.client.now(), offset: desk.client.offset }
  return {
    before: valuesOfUp(desk, channel, scene, up),
    after: valuesOfItem(channel, next, scene, at),
  }
}

/** What a title that is up says now. */
export const valuesOfUp = (desk: AirDesk, channel: Channel, scene: Scene, up: Up): Values =>
  valuesOfItem(channel, { cells: cellsNow(up), live: onlyClocks(up.live) }, scene, {
    now: desk.client.now(),
    offset: desk.client.offset,
    taken: momentOf(channel, up.began),
  })

/** What sources said is in its texts already. */
const onlyClocks = (live: AirItem['live']): AirItem['live'] =>
  Object.fromEntries(Object.entries(live).filter(([, binding]) => binding.kind === 'clock'))
