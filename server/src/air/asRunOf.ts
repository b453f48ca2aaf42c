import { type AsRun, type Channel, cellsNow, type LayerId, momentOf, type Numbered, type Up } from '@hoja/core/air'
import type { LoggedAir } from '../store/channels.ts'

/** A text as a line of the log has it: of a list its first ones. */
function plainText(cell: string): string {
  const list = cell.startsWith('[') ? readJson(cell) : undefined
  return (Array.isArray(list) ? list.join(' / ') : cell).replace(/\s*\n\s*/g, ' / ').trim()
}

function readJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}

const wordsOf = (channel: Channel, up: Up): string =>
  channel.designs[up.version]!.words.map((key) => plainText(cellsNow(up)[key] ?? ''))
    .filter((text) => text !== '')
    .join(' · ')
    .slice(0, 300)

/** @param at frame of the channel */
function lineOf(channel: Channel, layer: LayerId, what: AsRun['what'], up: Up, at: number, by: AsRun['by']): LoggedAir {
  const design = channel.designs[up.version]!
  return {
    n: up.n,
    item: up.item,
    at: new Date(momentOf(channel, at)).toISOString(),
    layer: channel.layers.find(({ id }) => id === layer)?.name ?? layer,
    what,
    words: wordsOf(channel, up),
    template: design.name,
    version: design.number,
    by,
  }
}

/** Titles that were held for their time, and have left by a frame. */
export const leftBy = (channel: Channel, frame: number): LoggedAir[] =>
  Object.entries(channel.air.layers).flatMap(([layer, ups]) =>
    ups.flatMap((up) =>
      up.out !== undefined && up.out <= frame ? [lineOf(channel, layer, 'out', up, up.out, 'time')] : [],
    ),
  )

/** What a command put on air, or took off it, as the log has it: the two states of the channel say it. */
export function asRunOf(before: Channel, after: Channel, { frame, command }: Numbered): LoggedAir[] {
  const lines: LoggedAir[] = []
  const by = command.kind === 'value' ? 'source' : 'hand'
  const say = (layer: LayerId, what: AsRun['what'], up: Up, at: number) =>
    lines.push(lineOf(after, layer, what, up, at, by))
  for (const { id } of after.layers) {
    const [were, are] = [before.air.layers[id] ?? [], after.air.layers[id] ?? []]
    for (const up of were) {
      const now = are.find((one) => one.n === up.n)
      const hadLeft = up.out !== undefined && up.out <= frame
      if (!now && !hadLeft) say(id, 'cut', up, frame)
      else if (now && now.item !== up.item) say(id, 'out', up, frame)
      else if (now?.out !== undefined && now.out !== up.out) say(id, 'out', now, now.out)
    }
    for (const up of are) {
      const was = were.find((one) => one.n === up.n)
      if (!was) say(id, 'up', up, up.began)
      else if (was.item !== up.item) say(id, 'up', up, frame)
      else if (JSON.stringify(cellsNow(was)) !== JSON.stringify(cellsNow(up))) say(id, 'changed', up, frame)
    }
  }
  return lines
}
