import type { Cells } from '../data/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import type { AirItem, Asked, LayerId } from './description.ts'
import { cellsNow, valueKey, withLive } from './live.ts'
import { type MeasuredRun, type RunItem, runItems, startRun, withFirst, withList, withPause } from './run.ts'
import {
  type AirDesign,
  type Channel,
  designOfUp,
  emptyStage,
  type LiveValue,
  phaseOf,
  type Stage,
  stageOf,
  type Up,
  upOn,
} from './state.ts'

/** What a channel carries out: what was asked, with all that had to be found out for it. */
export type Command =
  | Exclude<Asked, { kind: 'take' | 'update' | 'first' | 'add' | 'release' }>
  | { kind: 'take'; item: string; run?: MeasuredRun | undefined }
  | {
      kind: 'update' | 'release'
      layer?: LayerId | undefined
      cells: Cells
      field?: string
      run?: MeasuredRun | undefined
    }
  | { kind: 'first'; layer?: LayerId | undefined; item: Omit<RunItem, 'id'> }
  | (Extract<Asked, { kind: 'add' }> & { designs: Record<number, AirDesign> })
  /** What a source says; `runs`: of titles that are up, by the command that took them. */
  | { kind: 'value'; sheet: number; path: string; value: LiveValue; runs?: Record<number, MeasuredRun> }

/** A command with its number and the frame of the channel at which it was carried out. */
export interface Numbered {
  n: number
  frame: number
  command: Command
}

const none = (what: string) => new Refusal('air.none', what, 404)
const refused = (what: string) => new Refusal('air.state', what, 409)

export function itemOf({ list }: Pick<Channel, 'list'>, id: string): AirItem {
  const item = list.find((one) => one.id === id)
  if (!item) throw none('That title is not on the running list any more.')
  return item
}

/** The layer that is meant: the one that is named, or the only one on which something is up. */
export function layerMeant(channel: Channel, layer: LayerId | undefined, frame: number): LayerId {
  if (layer !== undefined) {
    if (!channel.layers.some(({ id }) => id === layer)) throw none(`This channel has no layer "${layer}".`)
    return layer
  }
  const up = channel.layers.filter(({ id }) => upOn(channel, stageOf(channel), id, frame))
  if (up.length > 1)
    throw new Refusal(
      'air.layer',
      `Titles are up on ${up.map(({ name }) => name).join(' and ')}; say which is meant.`,
      409,
    )
  return (up[0] ?? channel.layers[0]!).id
}

/** The title that is up on a layer. @throws Refusal when none is */
export function demandUp(channel: Channel, layer: LayerId, frame: number): Up {
  const up = upOn(channel, stageOf(channel), layer, frame)
  if (!up) throw refused(`Nothing is up on ${channel.layers.find(({ id }) => id === layer)!.name}.`)
  return up
}

/** @throws Refusal, naming the fields that are locked while a title is up */
export function demandLive(design: AirDesign, fields: readonly string[]): void {
  const locked = fields.filter((key) => !design.onAir.includes(key))
  if (locked.length > 0)
    throw new Refusal(
      'air.locked',
      `${locked.map((key) => `"${key}"`).join(' and ')} ${locked.length === 1 ? 'is' : 'are'} locked while "${design.name}" is up; take it out, change it, and take it again.`,
      409,
    )
}

/** What comes after a title on the list; none behind the last, unless it loops. */
function after(channel: Channel, item: string): string | undefined {
  const at = channel.list.findIndex(({ id }) => id === item)
  return (channel.list[at + 1] ?? (channel.loops ? channel.list[0] : undefined))?.id
}

/** The first frame of Out of a title that is told to leave: In is never cut short. */
const leavesAt = (up: Up, design: AirDesign, frame: number): number =>
  Math.min(up.out ?? Number.POSITIVE_INFINITY, Math.max(frame, up.began + design.in))

function outOfHold(channel: Channel, { began }: Pick<Up, 'began'>, design: AirDesign, hold: number | undefined) {
  if (hold === undefined) return undefined
  return began + design.in + Math.round((hold * channel.rate.num) / channel.rate.den)
}

/** Twenty a second for as long as it takes until nothing of the first is left: see `changed`. */
const mostChanges = 512

/** A title with another text from a frame on. What is long over is put together. */
function changed(up: Up, design: AirDesign, change: Up['changes'][number], run: MeasuredRun | undefined): Up {
  const all = [...up.changes, change]
  // What came before a quiet time is over. At most so many are under way at once: what is left of the oldest can't be seen.
  const quiet = all.findLastIndex((one, i) => i > 0 && one.frame - all[i - 1]!.frame > design.update + design.in)
  const from = Math.max(0, quiet, all.length - mostChanges)
  const first = from > 0 ? all[from - 1]!.cells : up.cells
  const next = run && up.run ? withList(up.run, runItems(run.items), change.frame) : up.run
  return { ...up, cells: first, changes: all.slice(from), run: next }
}

/** A stage without what has left. */
function tidied(channel: Channel, stage: Stage, frame: number): Stage {
  const layers: Record<LayerId, readonly Up[]> = {}
  const done = new Set(stage.done)
  let isSame = true
  for (const [layer, ups] of Object.entries(stage.layers)) {
    const left = ups.filter((up) => phaseOf(up, designOfUp(channel, up), frame) !== 'gone')
    if (left.length > 0) layers[layer] = left.length === ups.length ? ups : left
    if (left.length !== ups.length) isSame = false
    for (const { item } of ups) done.add(item)
  }
  return isSame ? stage : { ...stage, layers, done: [...done] }
}

function taken(
  channel: Channel,
  stage: Stage,
  { n, frame }: Numbered,
  item: AirItem,
  run: MeasuredRun | undefined,
): Stage {
  const design = channel.designs[item.version]!
  const cells = withLive(channel, item.cells, item.live)
  const next = after(channel, item.id)
  const done = [...new Set([...stage.done, item.id])]
  const here = stage.layers[item.layer] ?? []
  const up = upOn(channel, stage, item.layer, frame)
  const isSame = up?.version === item.version && phaseOf(up, design, frame) !== 'waiting'
  if (up && channel.over === 'goes over' && isSame) {
    const own = { ...up, item: item.id, live: item.live, hold: item.hold, hand: [] }
    const over = changed(own, design, { n, frame, cells }, run)
    const begins = Math.max(frame, up.began + design.in)
    const out = outOfHold(channel, { began: begins - design.in }, design, item.hold)
    return { ...stage, next, done, layers: { ...stage.layers, [item.layer]: [...here.slice(0, -1), { ...over, out }] } }
  }
  const isWaiting = up && phaseOf(up, designOfUp(channel, up), frame) === 'waiting'
  const before = here.flatMap((one): Up[] => {
    // What was only about to come does not come any more.
    if (one === up && isWaiting) return []
    return one === up ? [{ ...one, out: leavesAt(one, designOfUp(channel, one), frame) }] : [one]
  })
  const free = Math.max(frame, ...before.map((one) => (one.out ?? frame) + designOfUp(channel, one).out))
  const began = channel.over === 'out first' ? free : frame
  const own: Up = {
    n,
    item: item.id,
    version: item.version,
    hold: item.hold,
    live: item.live,
    cells,
    changes: [],
    began,
    hand: [],
    out: outOfHold(channel, { began }, design, item.hold),
    ...(run ? { run: startRun(run.way, runItems(run.items), began + design.in) } : {}),
  }
  return { ...stage, next, done, layers: { ...stage.layers, [item.layer]: [...before, own] } }
}

/** A stage in which the title that is up on a layer is another. */
function withUp(stage: Stage, layer: LayerId, next: (up: Up) => Up): Stage {
  const ups = stage.layers[layer]!
  return { ...stage, layers: { ...stage.layers, [layer]: [...ups.slice(0, -1), next(ups.at(-1)!)] } }
}

function onStage(channel: Channel, stage: Stage, numbered: Numbered): Stage {
  const { command, frame, n } = numbered
  switch (command.kind) {
    case 'cue':
      return { ...stage, next: itemOf(channel, command.item).id }
    case 'take':
      return taken(channel, stage, numbered, itemOf(channel, command.item), command.run)
    case 'out': {
      const layer = layerMeant(channel, command.layer, frame)
      const up = demandUp(channel, layer, frame)
      const design = designOfUp(channel, up)
      // What has not begun to come does not come.
      if (phaseOf(up, design, frame) === 'waiting')
        return { ...stage, layers: { ...stage.layers, [layer]: stage.layers[layer]!.slice(0, -1) } }
      return withUp(stage, layer, (one) => ({ ...one, out: leavesAt(one, design, frame) }))
    }
    case 'cut': {
      const layer = layerMeant(channel, command.layer, frame)
      const { [layer]: _, ...layers } = stage.layers
      return { ...stage, layers }
    }
    case 'clear':
      return { ...stage, layers: {}, next: undefined }
    case 'update':
    case 'release': {
      const layer = layerMeant(channel, command.layer, frame)
      const up = demandUp(channel, layer, frame)
      const design = designOfUp(channel, up)
      const keys = Object.keys(command.cells)
      const hand =
        command.kind === 'release'
          ? up.hand.filter((key) => key !== command.field)
          : [...new Set([...up.hand, ...keys.filter((key) => up.live[key]?.kind === 'value')])]
      const cells = withLive(channel, { ...cellsNow(up), ...command.cells }, up.live, hand)
      return withUp(stage, layer, (one) => ({ ...changed(one, design, { n, frame, cells }, command.run), hand }))
    }
    case 'pause':
    case 'first': {
      const layer = layerMeant(channel, command.layer, frame)
      const up = demandUp(channel, layer, frame)
      if (!up.run) throw refused('Nothing runs without end in the title that is up.')
      const run =
        command.kind === 'pause'
          ? withPause(up.run, command.paused, frame)
          : withFirst(up.run, runItems([command.item])[0]!, frame)
      return withUp(stage, layer, (one) => ({ ...one, run }))
    }
    case 'again':
      return { ...stage, done: [], next: channel.list[0]?.id }
    default:
      return stage
  }
}

/** Every title that is up with what its sources say now. */
function withValues(channel: Channel, stage: Stage, { n, frame, command }: Numbered): Stage {
  const runs = command.kind === 'value' ? command.runs : undefined
  let next = stage
  for (const [layer, ups] of Object.entries(stage.layers)) {
    const changedUps = ups.map((up) => {
      const before = cellsNow(up)
      const cells = withLive(channel, before, up.live, up.hand)
      return cells === before ? up : changed(up, designOfUp(channel, up), { n, frame, cells }, runs?.[up.n])
    })
    if (changedUps.some((up, i) => up !== ups[i])) next = { ...next, layers: { ...next.layers, [layer]: changedUps } }
  }
  return next
}

const placeAmong = <T extends { id: string }>(
  list: readonly T[],
  items: readonly T[],
  before: string | undefined,
): T[] => {
  const at = before === undefined ? -1 : list.findIndex(({ id }) => id === before)
  return at < 0 ? [...list, ...items] : [...list.slice(0, at), ...items, ...list.slice(at)]
}

function onList(channel: Channel, command: Command): Channel {
  switch (command.kind) {
    case 'add': {
      const known = new Set(channel.list.map(({ id }) => id))
      for (const { id, layer } of command.items) {
        demand(!known.has(id), 'air.twice', `Two titles would have the id "${id}"; give each its own.`)
        known.add(id)
        layerMeant(channel, layer, 0)
      }
      const designs = { ...channel.designs, ...command.designs }
      for (const { version, live } of command.items) demandLive(designs[version]!, Object.keys(live))
      const list = placeAmong(channel.list, command.items, command.before)
      demand(list.length <= 2000, 'air.long', 'A running list has 2,000 titles or fewer; remove some first.')
      return { ...channel, list, designs }
    }
    case 'move': {
      const moved = command.items.map((id) => itemOf(channel, id))
      const left = channel.list.filter((one) => !moved.includes(one))
      return { ...channel, list: placeAmong(left, moved, command.before) }
    }
    case 'change': {
      const item = itemOf(channel, command.item)
      const { hold, cells, layer, live } = command
      if (layer !== undefined) layerMeant(channel, layer, 0)
      demandLive(channel.designs[item.version]!, Object.keys(live ?? {}))
      const { hold: _, ...bare } = item
      const held = hold === undefined ? item : hold === 'by hand' ? bare : { ...item, hold }
      const next = {
        ...held,
        ...(cells ? { cells: { ...item.cells, ...cells } } : {}),
        ...(layer === undefined ? {} : { layer }),
        ...(live ? { live } : {}),
      }
      return { ...channel, list: channel.list.map((one) => (one === item ? next : one)) }
    }
    case 'remove':
      return { ...channel, list: channel.list.filter(({ id }) => !command.items.includes(id)) }
    case 'set': {
      const { over, runs, loops } = command
      return { ...channel, over: over ?? channel.over, runs: runs ?? channel.runs, loops: loops ?? channel.loops }
    }
    case 'rehearse': {
      const { rehearsal: _, ...bare } = channel
      // It begins where the list stands, with nothing up.
      return command.on
        ? { ...channel, rehearsal: { ...emptyStage, next: channel.air.next, done: channel.air.done } }
        : bare
    }
    case 'value':
      return { ...channel, values: { ...channel.values, [valueKey(command)]: command.value } }
    default:
      return channel
  }
}

/**
 * A channel after a command. Whoever carries out the same commands in their order has the same channel.
 * @throws Refusal for what can't be done as the channel stands; nothing has changed then
 */
export function carriedOut(before: Channel, numbered: Numbered): Channel {
  const { n, frame, command } = numbered
  const stages = (channel: Channel, next: (stage: Stage) => Stage): Channel => ({
    ...channel,
    air: next(channel.air),
    ...(channel.rehearsal ? { rehearsal: next(channel.rehearsal) } : {}),
  })
  const tidy = stages(before, (stage) => tidied(before, stage, frame))
  const listed = onList(tidy, command)
  const stage = onStage(listed, stageOf(listed), numbered)
  const acted = listed.rehearsal ? { ...listed, rehearsal: stage } : { ...listed, air: stage }
  const valued = command.kind === 'value' ? stages(acted, (one) => withValues(acted, one, numbered)) : acted
  // The next one may have been taken from the list.
  const standing = stages(valued, (one) => {
    if (one.next !== undefined && valued.list.some(({ id }) => id === one.next)) return one
    const { next: gone, ...bare } = one
    if (command.kind === 'add' && one.done.length === 0) return { ...bare, next: valued.list[0]?.id }
    if (gone === undefined || command.kind !== 'remove') return gone === undefined ? one : bare
    const at = before.list.findIndex(({ id }) => id === gone)
    const following = before.list.slice(at).find(({ id }) => valued.list.some((left) => left.id === id))
    return { ...bare, ...(following ? { next: following.id } : {}) }
  })
  return { ...standing, n }
}
