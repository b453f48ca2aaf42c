import type { Rest } from '../layout/index.ts'
import { alike, behindContent } from '../layout/index.ts'
import {
  type Axis,
  type AxisName,
  type Change,
  type Edge,
  isTurned,
  type Part,
  type PartId,
  type Template,
  type Tie,
} from '../template/index.ts'
import {
  across,
  areaOf,
  axisNames,
  Dependencies,
  type Drawn,
  drawingOf,
  edgeOf,
  lengthOf,
  overlap,
  partsOf,
} from './drawing.ts'
import type { Option, Proposal } from './proposal.ts'
import {
  aroundOf,
  besideOf,
  contentOf,
  fillsOf,
  holdsWords,
  insideOf,
  linesOf,
  type Reading,
  regionsOf,
} from './readings.ts'
import { roomAsDrawn, roomsProposal } from './room.ts'
import { nameWords, sentenceOf } from './sentences.ts'

/** Doubt by which another reading may be behind the likeliest and is still worth a choice. */
const closeBehind = 1.6
const mostOptions = 3

type Ties = Partial<Record<AxisName, Reading>>

/**
 * Reads from a drawing what its parts were meant to hold to: who stands around whom, beside, in line, on which line of the
 * frame. Parts and axes that are tied already stay as they are; nothing moves by what is proposed.
 * @param ids only what is said of these parts; absent: of all
 */
export function tieAsDrawn(template: Template, rest: Rest, ids?: readonly PartId[]): Proposal[] {
  return new Reader(template, rest, ids).run()
}

class Reader {
  private readonly all: Drawn[]
  private readonly asked: (part: Part) => boolean
  private readonly dependencies: Dependencies
  /** Which axes of which parts are decided: others may hold to them. */
  private readonly decided: Record<AxisName, Set<PartId>> = { x: new Set(), y: new Set() }
  private readonly on: ReadonlyMap<PartId, Drawn>
  private readonly content: ReadonlyMap<PartId, readonly Drawn[]>
  private readonly proposals: Proposal[] = []
  /** The edge by which a part holds along x, as it was read. */
  private readonly heldAcross = new Map<PartId, Edge>()

  constructor(
    private readonly template: Template,
    private readonly rest: Rest,
    ids: readonly PartId[] | undefined,
  ) {
    this.all = drawingOf(rest).filter(({ part }) => part.kind !== 'group')
    this.asked = (part) => !part.locked && (ids === undefined || ids.includes(part.id))
    this.dependencies = new Dependencies(rest.order, rest.order.parts)
    const { on, content } = contentOf(this.all)
    this.on = on
    this.content = content
    for (const { part } of this.all)
      for (const axis of axisNames) if (!this.isOpen(part, axis)) this.decided[axis].add(part.id)
  }

  run(): Proposal[] {
    const plates = this.all.filter((one) => one.isSurface && holdsWords(one, this.content))
    const isPlate = new Set(plates)
    const bars = this.all.filter((one) => !isPlate.has(one) && plates.some((plate) => goesWith(one, plate)))
    const isBar = new Set(bars)
    const solids = this.all.filter((one) => !one.isText && !isPlate.has(one) && !isBar.has(one))
    // What stands by itself comes first, what follows it after it: nobody holds to what is not yet decided.
    for (const one of solids.sort((a, b) => areaOf(b) - areaOf(a))) this.read(one)
    for (const group of this.rest.order.parts) if (group.kind === 'group') this.readGroup(group)
    for (const one of stacked(
      this.template,
      this.all.filter((one) => one.isText),
    ))
      this.read(one)
    for (const one of plates.sort((a, b) => areaOf(a) - areaOf(b))) this.read(one, isBar)
    for (const one of bars.sort((a, b) => areaOf(b) - areaOf(a))) this.read(one)
    const rooms = this.all.flatMap((one) => {
      const held = this.heldAcross.get(one.part.id) ?? one.part.x.ties[0]?.edge ?? 'start'
      return (this.asked(one.part) && roomAsDrawn(this.template, this.all, one, this.on.get(one.part.id), held)) || []
    })
    if (rooms.length > 0) this.proposals.push(roomsProposal(rooms))
    for (const one of [...this.all].reverse()) this.readOrder(one)
    return this.proposals
  }

  /** What was drawn around words after them goes behind them. */
  private readOrder({ part, isSurface }: Drawn): void {
    if (!isSurface || !this.asked(part)) return
    const found = behindContent(this.template, this.rest, [part.id])
    const behind = found?.behind.get(part.id)
    if (!found || !behind) return
    const names = nameWords(behind.map((id) => this.rest.order.parts[this.rest.order.index.get(id)!]!.name))
    this.proposals.push({
      id: `order ${part.id}`,
      about: 'order',
      part: part.id,
      options: [{ sentence: `${part.name} goes behind ${names}`, change: found.change, targets: behind }],
    })
  }

  /** Whether an axis holds to nothing yet, and is not carried by a group either. */
  private isOpen(part: Part, axis: AxisName): boolean {
    if (part[axis].ties.length > 0 || part[axis].size.kind === 'share') return false
    return !this.carrierOf(part, axis)
  }

  /** The group that carries a part along an axis: it holds to something there. */
  private carrierOf(part: Part, axis: AxisName, at = this.rest.order.index.get(part.id)!): Part | undefined {
    const { order } = this.rest
    for (let i = order.parent[at]!; i >= 0; i = order.parent[i]!) {
      const group = order.parts[i]!
      if (group[axis].ties.length > 0 || this.carried.get(group.id)?.has(axis)) return group
    }
    return undefined
  }
  private readonly carried = new Map<PartId, Set<AxisName>>()

  /** Words that were drawn in the middle of what stands beside them: their group keeps them there, however many lines. */
  private readGroup(group: Part): void {
    if (!this.asked(group) || group.y.ties.length > 0 || group.y.size.kind !== 'content') return
    const { order } = this.rest
    const own = this.all.filter((one) => order.parent[one.index] === order.index.get(group.id))
    const texts = own.filter((one) => one.isText)
    if (texts.length < 2 || texts.length < own.length || own.some((one) => !this.isOpen(one.part, 'y'))) return
    const y = { start: Math.min(...own.map((one) => one.y.start)), end: Math.max(...own.map((one) => one.y.end)) }
    const x = { start: Math.min(...own.map((one) => one.x.start)), end: Math.max(...own.map((one) => one.x.end)) }
    const shift = { x: 0, y: this.rest.shift[1][order.index.get(group.id)!]! }
    const all: Drawn = { ...own[0]!, part: group, x, y, shift, isText: true }
    const found = linesOf(
      all,
      'y',
      this.others(all, 'y').filter((one) => !one.isText && overlap(one.x, x) <= 0),
    )
      .filter(({ ties: [one] }) => one!.edge === 'middle' && this.dependencies.allows(group, 'y', partsOf(one!.to)))
      .sort((a, b) => a.doubt - b.doubt)[0]
    if (!found) return
    this.carried.set(group.id, new Set(['y']))
    this.dependencies.carry(group.id, 'y')
    this.propose(all, { y: found }, [])
    for (const one of own) this.decided.y.delete(one.part.id)
  }

  /** Who a part may hold to along an axis. */
  private others(one: Drawn, axis: AxisName, without: ReadonlySet<Drawn> = new Set()): Drawn[] {
    const carrier = this.carrierOf(one.part, axis)
    return this.all.filter(
      (other) =>
        other !== one &&
        !without.has(other) &&
        this.decided[axis].has(other.part.id) &&
        // Within a group that is carried, places are those in the group.
        this.carrierOf(other.part, axis, other.index) === carrier,
    )
  }

  /** Decides where a part holds to, along each axis that is open. @param bars what follows a surface and does not make it */
  private read(one: Drawn, bars: ReadonlySet<Drawn> = new Set()): void {
    const { part } = one
    if (!this.asked(part)) {
      for (const axis of axisNames) this.decided[axis].add(part.id)
      return
    }
    const best: Ties = {}
    const more: Ties[] = []
    for (const axis of axisNames) {
      const carrier = this.carrierOf(part, axis)
      const isFree = part[axis].ties.length === 0 && part[axis].size.kind !== 'share'
      if (isFree) {
        const [first, ...behind] = this.readings(one, axis, bars, carrier !== undefined)
        if (first) {
          best[axis] = first
          if (axis === 'x') this.heldAcross.set(part.id, first.ties[0]!.edge)
          this.dependencies.tie(
            part,
            axis,
            first.ties.flatMap(({ to }) => partsOf(to)),
          )
          for (const other of behind.slice(0, mostOptions - 1))
            if (other.doubt <= first.doubt + closeBehind) more.push({ [axis]: other })
        }
      }
      this.decided[axis].add(part.id)
    }
    this.propose(one, best, more)
  }

  /** What an axis of a part may have been drawn to hold to, the likeliest first. */
  private readings(one: Drawn, axis: AxisName, bars: ReadonlySet<Drawn>, isCarried: boolean): Reading[] {
    const others = this.others(one, axis, bars)
    const surface = this.on.get(one.part.id)
    const held = (this.content.get(one.part.id) ?? []).filter((inner) => !bars.has(inner))
    const around = one.isSurface && holdsWords(one, this.content) ? aroundOf(this.template, one, axis, held) : undefined
    const apart = others.filter((other) => other !== surface && !held.includes(other))
    const onIt = surface && others.includes(surface) ? insideOf(one, axis, surface) : []
    const found = [
      ...(around ? [around] : []),
      ...(one.isText
        ? []
        : fillsOf(
            one,
            axis,
            others.filter((other) => !held.includes(other) && other.isSurface),
          )),
      ...(isCarried ? [] : regionsOf(this.template, one, axis)),
      ...besideOf(one, axis, apart),
      ...linesOf(one, axis, apart),
      ...onIt,
    ]
    const sorted = found
      .filter(({ ties }) => !(ties.length > 1 && isTurned(one.part)))
      .sort((a, b) => a.doubt - b.doubt || Math.abs(a.ties[0]!.gap) - Math.abs(b.ties[0]!.gap))
    const seen = new Set<string>()
    const kept: Reading[] = []
    for (const reading of sorted) {
      if (kept.length === mostOptions) break
      const { how, ties } = reading
      // Of what says nearly the same, the likeliest is enough.
      const key = `${how} ${ties[0]!.edge}`
      const targets = ties.flatMap(({ to }) => partsOf(to))
      if (seen.has(key) || !this.dependencies.allows(one.part, axis, targets)) continue
      seen.add(key)
      kept.push(reading)
    }
    return kept
  }

  private propose({ part, shift }: Drawn, best: Ties, more: Ties[]): void {
    if (!best.x && !best.y) return
    const optionOf = (ties: Ties): Option => ({
      sentence: sentenceOf(this.template, this.rest.order.parts, part, ties),
      change: {
        kind: 'several',
        changes: axisNames.flatMap((axis): Change[] => {
          const own = ties[axis]
          return own ? [{ kind: 'axis', part: part.id, axis, value: tied(part[axis], own.ties, shift[axis]) }] : []
        }),
      },
      targets: [...new Set(axisNames.flatMap((axis) => ties[axis]?.ties.flatMap(({ to }) => partsOf(to)) ?? []))],
    })
    const options = [best, ...more.map((other) => ({ ...best, ...other }))].map(optionOf)
    const isNew = (option: Option, i: number) => options.findIndex(({ sentence }) => sentence === option.sentence) === i
    this.proposals.push({
      id: `ties ${part.id}`,
      about: 'ties',
      part: part.id,
      options: options.filter(isNew).slice(0, mostOptions),
    })
  }
}

/** @param shift px that come on top of what the ties say */
function tied(axis: Axis, ties: Tie[], shift: number): Axis {
  const { min: _, max: __, ...bare } = axis
  return { ...(ties.length > 1 ? bare : axis), ties: ties.map((tie) => ({ ...tie, gap: tie.gap - shift })) }
}

/** Whether a part was drawn to go with a surface: as wide or as high as it, at its side or on it. */
function goesWith(one: Drawn, plate: Drawn): boolean {
  if (one === plate || one.isText) return false
  return axisNames.some((axis) => {
    const isAlong =
      Math.abs(one[axis].start - plate[axis].start) <= alike && Math.abs(one[axis].end - plate[axis].end) <= alike
    const apart = -overlap(one[across(axis)], plate[across(axis)])
    return isAlong && apart <= lengthOf(plate[across(axis)]) / 2
  })
}

/**
 * Texts in the order in which they hold to one another: from above; lines that stand on the lower half and may become
 * several from below, so that they grow away from the frame's edge.
 */
function stacked(template: Template, texts: readonly Drawn[]): Drawn[] {
  const stacks: Drawn[][] = []
  for (const text of [...texts].sort((a, b) => a.y.start - b.y.start)) {
    const stack = stacks.find((one) =>
      one.some(
        (other) =>
          overlap(other.x, text.x) > 0 && -overlap(other.y, text.y) <= Math.min(lengthOf(other.y), lengthOf(text.y)),
      ),
    )
    if (stack) stack.push(text)
    else stacks.push([text])
  }
  return stacks.flatMap((stack) => {
    const low = edgeOf({ start: stack[0]!.y.start, end: stack.at(-1)!.y.end }, 'middle') > template.frame.height / 2
    const wraps = stack.some(
      ({ part }) => part.kind === 'text' && part.style.fit?.some((step) => step.step === 'wrap' && step.to > 1),
    )
    return low && wraps ? stack.reverse() : stack
  })
}
