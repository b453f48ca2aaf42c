import { cached } from '../cache/index.ts'
import { readingFrames, spanStart, type Timing } from '../motion/index.ts'
import { common, type DrawList, type Item, lengthFactor, type Matrix, type PaintResources } from '../paint/index.ts'
import { charactersOf, type Layout, type Lessening, type Posed, type Scene, styleOf } from '../scene/index.ts'
import {
  blurOf,
  boundsOfPart,
  canMeet,
  measureSeen,
  ofWeakest,
  overlapsOf,
  type SeenPart,
  type Wanted,
  wayTo,
  without,
} from '../seen/index.ts'
import { drivenBy, findPart, type Part, type PartId, type Template } from '../template/index.ts'
import { leastContrast } from './contrast.ts'
import type { Finding } from './finding.ts'

/** A title as it is looked at: some texts of it, in its time. */
export interface LookedAt {
  scene: Scene
  /** As it was asked for, and with the texts that stand in this turn. */
  layout: Layout
  own: Layout
  timing: Timing
  row: number
  /** What lies under it at moments of its Hold that are evenly apart, px of its frame; absent: nobody knows. */
  grounds?: readonly (readonly Item[])[]
}

/** Share of its ink below which a text or picture is not seen, and share of its weakest letters below which it is partly so. */
const notSeen = 0.02
const partly = 0.5
/** Share of a picture's ink that is enough: it may be cut to a shape, and stand behind something. */
const enoughOfPicture = 0.15
/** Contrast below which two colours are one to the eye; a hair above none. */
const same = 1.15
/** Blur (standard deviation) as a share of the letters' size from which they are no longer sharp, and unreadable. */
const soft = 0.06
const dissolved = 0.15
/** Degrees that a text may be turned from reading: a line up or down a side is read. */
const upright = 95
/** The least size of a text, px at 1080 lines, that is read with ease at home: common practice. */
export const leastSize = 18
/** Surface px per px of the smallest text: as many as its letters need to be told from what is around them. */
const pixelsPerSize = 24
/** Moments of a Hold that moves at which a title is looked at. */
const moments = 8

/** What a look at a title came to. */
export interface LookedTitle {
  findings: Finding[]
  /** Parts (by index) that are seen so well that they are seen in a title that differs in little, too. */
  clear: number[]
}

/**
 * What is found by looking at a settled title: of each text and picture whether, and how well, it is seen.
 * @param wanted those that are looked at; absent: all
 */
export function lookAtTitle(at: LookedAt, resources: PaintResources, wanted = wantedParts(at)): LookedTitle {
  const { own, row } = at
  if (wanted.length === 0) return { findings: [], clear: [] }
  const looks = looksOf(at)
  const scale = scaleFor(own)
  const seen = looks.map((look) => {
    const { posed, ground } = look
    const drawn = posed.drawList()
    const ask = wanted.map((one) => askedOf(own, one, posed))
    return { ...look, drawn, parts: measureSeen(drawn, posed.bare.drawList(), ask, resources, scale, ground) }
  })
  const clear: number[] = []
  const findings = wanted.flatMap((one) => {
    const look = lookOf(at, one, seen)
    const told = partFindings({ ...look, layout: own, resources, scale, ...one })
    if (told.length === 0 && isSeenClearly(look.parts.get(one.part.id)!, own, one)) clear.push(one.index)
    return told.map((finding) => ({ row, part: one.part.id, ...finding }))
  })
  return { findings, clear }
}

function askedOf({ blocks }: Layout, { part, index, runs }: WantedPart, posed: Posed): Wanted {
  const letters = blocks[index] && !runs ? posed.letterBoxes(part.id) : undefined
  return { id: part.id, ...(letters ? { letters } : {}), ...(runs ? { runs } : {}) }
}

/** How much better than it must a part is seen for one that is nearly as it to be seen: letters and what is around them differ. */
const clearly = { shows: 0.9, contrast: 1.3, enough: 3 }

function isSeenClearly(seen: SeenPart, layout: Layout, { part, index, runs }: WantedPart): boolean {
  if (seen.ink === 0 || runs) return false
  const shows = ofWeakest(seen, 'shows')
  if (!layout.blocks[index]) return shows >= clearly.enough * (part.kind === 'picture' ? enoughOfPicture : notSeen)
  return shows >= clearly.shows && ofWeakest(seen, 'contrast') >= clearly.contrast * leastOf(layout, index)
}

/** The least contrast that is asked of a text. */
const leastOf = ({ blocks, content, template }: Layout, index: number): number =>
  leastContrast(blocks[index]!.size * content.styles[index]!.scale, template.frame.height)

/** A picture of a Hold. */
interface Pictured {
  posed: Posed
  /** Of the frames of Hold that look like this. */
  share: number
  /** What lies under it, where that is known. */
  ground: readonly Item[] | undefined
}

interface Look extends Pictured {
  drawn: DrawList
  parts: ReadonlyMap<string, SeenPart>
}

/** The pictures of a Hold that differ, and for how much of it each stands. */
function looksOf(at: LookedAt): Pictured[] {
  const { scene, layout, own, timing, grounds } = at
  const { start, frames } = stretchOf(at)
  const isStill = scene.template.spans.hold.gives === 'freeze' || frames === 1
  const settled = timing.turns?.[own.chosen.turn] ? start : scene.settled(layout, timing)
  const count = grounds ? grounds.length : isStill ? 1 : Math.min(moments, frames)
  const found = new Map<string, Pictured>()
  for (let n = 0; n < count; n++) {
    const frame = start + Math.floor(((n + 0.5) * frames) / count)
    const posed = scene.posed(layout, timing, isStill ? Math.min(settled, timing.total - 1) : frame)
    const under = grounds && groundAt(frame, timing, grounds.length)
    const key = `${under} ${posed.key}`
    const known = found.get(key)
    if (known) known.share += 1 / count
    else found.set(key, { posed, share: 1 / count, ground: under === undefined ? undefined : grounds![under] })
  }
  return [...found.values()]
}

/** Which of some pictures, evenly apart in Hold, lies under a frame: texts in turn have those of their own turn. */
const groundAt = (frame: number, timing: Timing, count: number): number =>
  Math.min(count - 1, Math.floor(((frame - spanStart(timing, 'hold')) * count) / Math.max(1, timing.hold)))

/** The frames of a title in which the texts that are looked at stand. */
function stretchOf({ own, timing }: LookedAt): { start: number; frames: number } {
  const turn = timing.turns?.[own.chosen.turn]
  return {
    start: spanStart(timing, 'hold') + (turn?.from ?? 0),
    frames: Math.max(1, turn ? turn.to - turn.from : timing.hold),
  }
}

/** A part that is looked at. */
export interface WantedPart {
  part: Part
  index: number
  /** It rolls or crawls, or stands on pages. */
  runs?: true
}

const driven = new WeakMap<Template, ReadonlySet<PartId>>()

/** Curves and surfaces that a field draws, by what it says. */
const drivenParts = (template: Template): ReadonlySet<PartId> =>
  cached(
    driven,
    template,
    () =>
      new Set(
        template.fields
          .flatMap((field) => (field.type === 'numbers' ? drivenBy(template, field) : []))
          .map(({ part }) => part),
      ),
  )

/** Whether a part may stay unseen, or what holds it may. */
function isMeant({ rest }: Layout, index: number): boolean {
  for (let i = index; i >= 0; i = rest.order.parent[i]!) if (rest.order.parts[i]!.unseen) return true
  return false
}

/** Texts and pictures that are there, and what a field draws. */
export function wantedParts({ scene, own }: LookedAt): WantedPart[] {
  const { order, gone } = own.rest
  const strips = scene.entries(own).inStrips
  const drawn = drivenParts(own.template)
  return order.parts.flatMap((part, index) => {
    if (gone[index] || own.content.styles[index]!.matteOnly || isMeant(own, index)) return []
    const isWanted = part.kind === 'text' || part.kind === 'picture' || drawn.has(part.id)
    return isWanted ? [{ part, index, ...(strips.has(index) ? { runs: true as const } : {}) }] : []
  })
}

/** Pixels looked at per px of the frame. */
function scaleFor({ blocks, rest, content }: Layout): number {
  const sizes = blocks.flatMap((block, i) => (block && !rest.gone[i] ? [block.size * content.styles[i]!.scale] : []))
  return Math.min(1, Math.max(0.25, pixelsPerSize / Math.max(1, Math.min(96, ...sizes))))
}

/** Of the pictures of a Hold the one that a part is judged by: as good as it is for as long as it takes to be read. */
function lookOf(at: LookedAt, { part, index }: WantedPart, looks: readonly Look[]): Look {
  if (looks.length === 1) return looks[0]!
  const { own, scene } = at
  const reading = own.blocks[index] ? readingFrames(charactersOf(own, [index]), scene.template.frame.rate) : 1
  // What blinks is away as long as it is there.
  const needs = Math.min(0.45, reading / stretchOf(at).frames)
  const grade = ({ parts }: Look) => {
    const shows = ofWeakest(parts.get(part.id)!, 'shows')
    // What is seen whole is judged by how it stands out.
    return shows < clearly.shows ? shows : 1 + ofWeakest(parts.get(part.id)!, 'contrast')
  }
  const best = [...looks].sort((a, b) => grade(b) - grade(a))
  let share = 0
  for (const look of best) {
    share += look.share
    if (share >= needs - 1e-9) return look
  }
  return best.at(-1)!
}

interface Judged extends Look, WantedPart {
  layout: Layout
  resources: PaintResources
  scale: number
}

type Told = Pick<Finding, 'level' | 'code' | 'message' | 'over'>

/** What is found of one part as it is seen. */
function partFindings(look: Judged): Told[] {
  const { part, layout, index, parts } = look
  const seen = parts.get(part.id)!
  const block = layout.blocks[index]
  const shows = ofWeakest(seen, 'shows')
  if (look.runs) return runFindings(look, seen)
  const enough = block ? partly : part.kind === 'picture' ? enoughOfPicture : notSeen
  if (seen.ink === 0 && part.kind === 'picture' && seen.within > 0)
    return [{ level: 'look', code: 'seen', message: `${part.name} has nothing in it: all of its picture is clear.` }]
  if (shows < enough) {
    const isGone = seen.shows < notSeen
    const why = causeOf(look, seen)
    // It is told that it runs past its room, and by how much.
    if (why.code === 'frame' && block && block.fit.overflow > 0) return []
    if (why.code === 'colours') return [{ level: 'stop', code: 'seen', message: why.words }]
    const over = why.over === undefined ? {} : { over: why.over }
    const message = `${part.name} is ${isGone ? 'not' : 'only partly'} seen: ${why.words}.`
    return [{ level: 'stop', code: 'seen', message, ...over }]
  }
  if (!block) return []
  return [...standsOut(look, seen), ...legible(look)]
}

/** What runs is in sight by and by: what is in sight of it must be seen. */
function runFindings(look: Judged, seen: SeenPart): Told[] {
  const { part, posed } = look
  const faded = posed.lessenings(part.id).find(({ value }) => value < notSeen)
  if (faded)
    return [{ level: 'stop', code: 'seen', message: `${part.name} is not seen: ${lessenedWords(part, faded)}.` }]
  if (seen.ink === 0 || !look.layout.blocks[look.index]) return []
  if (seen.shows >= partly) return standsOut(look, seen)
  const why = causeOf(look, seen)
  return [
    {
      level: 'stop',
      code: 'seen',
      message: why.code === 'colours' ? why.words : `${part.name} is not seen: ${why.words}.`,
    },
  ]
}

/** Share of a contrast that a measure of pixels may fall short of it: edges of letters are part letter, part ground. */
const measured = 0.97

function standsOut({ part, layout, index }: Judged, seen: SeenPart): Told[] {
  const ratio = ofWeakest(seen, 'contrast')
  const least = leastOf(layout, index)
  if (ratio >= least * measured) return []
  const message = `${part.name} stands out ${ratio.toFixed(1)}:1 from what is around it where it does least; WCAG asks for ${least}:1.`
  return [{ level: ratio < same ? 'stop' : 'look', code: 'faint', message }]
}

/** How tall, sharp and upright a text's letters are. */
function legible({ part, layout, index, posed, drawn }: Judged): Told[] {
  const { size } = layout.blocks[index]!
  const map = posed.textMap(part.id)
  if (!map) return []
  const told: Told[] = []
  const { template } = layout
  const own = layout.content.styles[index]!.scale
  const lines = 1080 / template.frame.height
  const [least, rested] = [size * narrowest(map) * lines, size * own * lines]
  // What is small as it rests is told of every filling, looked at or not.
  if (least < leastSize && rested >= leastSize)
    told.push({
      level: 'look',
      code: 'small',
      message: `${part.name} is ${least.toFixed(0)} px high at 1080 lines as it is seen; under ${leastSize} it is hard to read.`,
    })
  const blur = blurOf(drawn.items, part.id)
  const height = size * lengthFactor(map)
  if (blur > height * soft)
    told.push({
      level: blur > height * dissolved ? 'stop' : 'look',
      code: 'sharp',
      message: `${part.name} is blurred by ${blur.toFixed(0)} px while it holds.`,
    })
  if (!styleOf(layout.content, index, 'text').along) {
    const [a, b, c, d] = map
    const angle = (Math.atan2(b, a) * 180) / Math.PI
    if (a * d - b * c < 0)
      told.push({ level: 'stop', code: 'turned', message: `${part.name} is mirrored while it holds.` })
    else if (Math.abs(angle) > upright)
      told.push({
        level: 'look',
        code: 'turned',
        message: `${part.name} is turned by ${Math.round(Math.abs(angle))}° from reading while it holds.`,
      })
  }
  return told
}

/** Share of a text's ink that may lie over other ink of its own. */
const mayMeet = 0.015

/** The texts of a title whose letters or lines may lie over one another as they are set. */
const closeTexts = (at: LookedAt): WantedPart[] =>
  wantedParts(at).filter(({ part, index, runs }) => {
    const block = at.own.blocks[index]
    return block !== undefined && !runs && (part.motion.tracks.track !== undefined || canMeet(block))
  })

/** Whether some text has to be looked at by itself, whatever the rest of the title is like. */
export const hasCloseTexts = (at: LookedAt): boolean => closeTexts(at).length > 0

/** Whether the letters and lines of texts stand apart. */
export function apartFindings(at: LookedAt, resources: PaintResources): Finding[] {
  const close = closeTexts(at)
  if (close.length === 0) return []
  const { posed } = looksOf(at)[0]!
  return close.flatMap(({ part, index }) => {
    const { letters, lines } = overlapsOf(at.own.blocks[index]!, posed.trackingOf(part.id), resources)
    const told: Finding[] = []
    const tell = (what: string, share: number) => {
      if (share <= mayMeet) return
      const message = `The ${what} of ${part.name} lie over one another, by ${Math.max(1, Math.round(share * 100))} % of their ink.`
      told.push({ row: at.row, part: part.id, level: 'look', code: 'letters', message })
    }
    tell('letters', letters)
    tell('lines', lines)
    return told
  })
}

/** The least factor by which a map grows lengths, in the direction in which that is so. */
function narrowest([a, b, c, d]: Matrix): number {
  const [sum, area] = [a * a + b * b + c * c + d * d, Math.abs(a * d - b * c)]
  return Math.sqrt(Math.max(0, (sum - Math.sqrt(Math.max(0, sum * sum - 4 * area * area))) / 2))
}

interface Cause {
  code: 'own' | 'frame' | 'matte' | 'covered' | 'colours' | 'unknown'
  words: string
  /** What lies over it. */
  over?: PartId
}

/** From which share something of a part's own is what keeps it from being seen. */
const lessened = 0.6

/** Why a part is not seen, or only partly. */
function causeOf(look: Judged, seen: SeenPart): Cause {
  const { posed, part } = look
  const lessening = posed.lessenings(part.id).sort((a, b) => a.value - b.value)[0]
  if (lessening && lessening.value < lessened) return { code: 'own', words: lessenedWords(part, lessening) }
  if (seen.within < 0.98 && beyond(seen)) return { code: 'frame', words: 'it stands out of the frame while it holds' }
  return cutBy(look) ?? coveredBy(look) ?? shrunkTo(look) ?? ofOneColour(look, seen)
}

/** A part of which what it rides leaves nothing. */
function shrunkTo({ part, posed }: Judged): Cause | undefined {
  const place = posed.placeOf(part.id)
  if (!place || lengthFactor(place.matrix) > 0.01) return undefined
  return { code: 'own', words: 'what carries it is made as small as nothing while it holds' }
}

const beyond = (seen: SeenPart) => seen.within < 0.5 || ofWeakest(seen, 'shows') === 0

const away: Record<Lessening['by'], (share: string) => string> = {
  opacity: (share) => `${share} opaque`,
  fade: (share) => (share === '0 %' ? 'faded out while it holds' : `faded to ${share} while it holds`),
  reveal: (share) => `uncovered by ${share} alone while it holds`,
  grow: (share) => `grown to ${share} alone while it holds`,
  trim: (share) => `drawn on to ${share} alone while it holds`,
  scale: (share) => `made as small as ${share} while it holds`,
  letters: (share) => `letter by letter faded to ${share} while it holds`,
}

function lessenedWords(part: Part, { part: other, by, value }: Lessening): string {
  const share = `${Math.round(Math.max(0, value) * 100)} %`
  return `${other === part ? 'it' : `${other.name}, which holds it,`} is ${away[by](share)}`
}

/** How much of a part would be seen, were the picture another one. */
function showsIn(look: Judged, items: Item[]): number {
  const { part, posed, layout, drawn, resources, scale, ground } = look
  const ask = [askedOf(layout, look, posed)]
  const seen = measureSeen({ ...drawn, items }, posed.bare.drawList(), ask, resources, scale, ground)
  return ofWeakest(seen.get(part.id)!, 'shows')
}

/** More of a part that has to be seen without something for that to be what hides it. */
const regained = 0.3

function cutBy(look: Judged): Cause | undefined {
  const { posed, part, layout, drawn, parts } = look
  const shows = ofWeakest(parts.get(part.id)!, 'shows')
  const cutting = (wayTo(posed.bare.drawList().items, part.id) ?? []).flatMap(({ of }) => {
    const own = of === undefined ? undefined : findPart(layout.template, of)
    return own?.matte ? [own] : []
  })
  for (const own of cutting) {
    const free = showsIn(look, withoutMatte(drawn.items, own.id, posed))
    if (free - shows < regained) continue
    const matte = findPart(layout.template, own.matte!.part)?.name ?? 'that cuts it'
    return { code: 'matte', words: `the matte ${matte} cuts ${shows < notSeen ? 'all' : 'much'} of it away` }
  }
  return undefined
}

/** Items in which a part is not cut by another one; one of which its matte left nothing is there again. */
function withoutMatte(items: readonly Item[], part: PartId, posed: Posed): Item[] {
  let found = false
  const free = (all: readonly Item[]): Item[] =>
    all.map((item): Item => {
      if (item.kind !== 'layer') return item
      if (item.of !== part) return { ...item, items: free(item.items) }
      found = true
      const { matte: _, ...layer } = item
      return layer
    })
  const freed = free(items)
  return found ? freed : [...freed, ...posed.bare.drawList(new Set([part])).items]
}

function coveredBy(look: Judged): Cause | undefined {
  const { part, posed, layout, drawn, parts } = look
  const shows = ofWeakest(parts.get(part.id)!, 'shows')
  const ink = boundsOfPart(posed.bare.drawList().items, part.id)
  if (!ink) return undefined
  const above = layout.rest.order.parts
    .slice(layout.rest.order.index.get(part.id)! + 1)
    .filter((other) => other.kind !== 'group' && meets(boundsOfPart(drawn.items, other.id), ink))
  let most: { part: Part; gain: number } | undefined
  for (const other of above) {
    const gain = showsIn(look, without(drawn.items, new Set([other.id]))) - shows
    if (gain > (most?.gain ?? regained)) most = { part: other, gain }
  }
  if (most) return { code: 'covered', words: `${most.part.name} lies over it`, over: most.part.id }
  const free = showsIn(look, without(drawn.items, new Set(above.map(({ id }) => id))))
  if (above.length < 2 || free - shows < regained) return undefined
  return { code: 'covered', words: `${above.map(({ name }) => name).join(' and ')} lie over it`, over: above[0]!.id }
}

const meets = (a: { x: number; y: number; width: number; height: number } | undefined, b: typeof a) => {
  const both = a && b && common(a, b)
  return both !== undefined && both.width > 0 && both.height > 0
}

/** What lies behind a part that has its colour. */
function ofOneColour({ part, posed, layout, drawn, ground }: Judged, seen: SeenPart): Cause {
  const ink = boundsOfPart(posed.bare.drawList().items, part.id)
  const behind = layout.rest.order.parts
    .slice(0, layout.rest.order.index.get(part.id)!)
    .filter((other) => other.kind !== 'group' && meets(boundsOfPart(drawn.items, other.id), ink))
    .at(-1)
  if (!boundsOfPart(drawn.items, part.id)) return { code: 'unknown', words: 'nothing of it is drawn' }
  const under = behind?.name ?? (ground ? 'the footage under it' : undefined)
  return under
    ? {
        code: 'colours',
        words: `${part.name} and ${under} are ${seen.shows < notSeen ? '' : 'nearly '}the same colour.`,
      }
    : { code: 'unknown', words: 'nothing of it changes the picture' }
}
