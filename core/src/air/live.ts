import type { Cells } from '../data/index.ts'
import type { AirItem, ValueBinding } from './description.ts'
import type { Channel, LiveValue, Up } from './state.ts'

/** Under what a value is kept that is asked of a source. */
export const valueKey = ({ sheet, path }: Pick<ValueBinding, 'sheet' | 'path'>): string => `${sheet} ${path}`

/** What a field says by its source: undefined where that says nothing yet, or is not there and the last word is held. */
function saidBy({ dead }: ValueBinding, value: LiveValue | undefined, last: string | undefined): string | undefined {
  if (!value) return last
  if (!value.dead) return value.text ?? last
  return dead.shows === 'nothing' ? '' : dead.shows === 'text' ? dead.text : (last ?? value.text)
}

/** Texts with what their sources say put in. @param hand fields that were set by hand */
export function withLive(
  { values }: Pick<Channel, 'values'>,
  cells: Cells,
  live: AirItem['live'],
  hand: readonly string[] = [],
): Cells {
  let next = cells
  for (const [field, binding] of Object.entries(live)) {
    if (binding.kind !== 'value' || hand.includes(field)) continue
    const said = saidBy(binding, values[valueKey(binding)], cells[field])
    if (said !== undefined && said !== next[field]) next = { ...next, [field]: said }
  }
  return next
}

/** What a title that is up says by the last change. */
export const cellsNow = ({ cells, changes }: Pick<Up, 'cells' | 'changes'>): Cells => changes.at(-1)?.cells ?? cells

/** Every value that a channel asks of sources, once. */
export function askedValues({ list, air, rehearsal }: Channel): ValueBinding[] {
  const found = new Map<string, ValueBinding>()
  const ups = [air, rehearsal].flatMap((stage) => Object.values(stage?.layers ?? {}).flat())
  for (const { live } of [...list, ...ups])
    for (const binding of Object.values(live)) {
      if (binding.kind !== 'value') continue
      const known = found.get(valueKey(binding))
      // The slowest and the most patient of those who ask for the same.
      found.set(valueKey(binding), {
        ...binding,
        most: Math.min(binding.most, known?.most ?? Number.POSITIVE_INFINITY),
        dead: known && known.dead.after > binding.dead.after ? known.dead : binding.dead,
      })
    }
  return [...found.values()]
}

/** A number that differs when what a title of the list is or says by itself does (FNV-1a, 32 bits). */
export function seenAs({ version, layer, hold, cells, live }: AirItem): number {
  let hash = 0x811c9dc5
  for (const unit of JSON.stringify([version, layer, hold ?? null, cells, live]))
    hash = Math.imul(hash ^ unit.codePointAt(0)!, 0x01000193)
  return hash >>> 0
}
