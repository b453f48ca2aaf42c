import { cached, LastFew } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import { goneParts, type Measure, type Rest, solve, wholeVariant } from '../layout/index.ts'
import {
  animatedBounds,
  distanceOf,
  eased,
  openTiming,
  type PoseContext,
  pose,
  restFrame,
  shortestDuration,
  shownMoment,
  spanStart,
  type Timing,
  timingOf,
  turnAt,
  turnRound,
  turnsIn,
} from '../motion/index.ts'
import type { DrawList, Item } from '../paint/index.ts'
import { demand } from '../refusal/index.ts'
import type { Field, NamedShape, Part, PictureValue, Run, ShapeId, Template, Values } from '../template/index.ts'
import { shapeOf, type TieOrder, tieOrder, travelEase, variantOf } from '../template/index.ts'
import {
  type AxisValues,
  type Block,
  drawnText,
  lowerCase,
  type Shape,
  type StyledRun,
  setText,
  upperCase,
} from '../text/index.ts'
import { secondsOf } from '../time/index.ts'
import { isWayStyle, wayAlong } from './along.ts'
import type { Assets } from './assets.ts'
import { Drawings } from './drawings.ts'
import { Entries, type EntryStrip } from './entries.ts'
import type { Layout, Room } from './layout.ts'
import { Posed, type PosedOf } from './posed.ts'
import {
  type Content,
  type EntryChoice,
  fieldValue,
  firstEntries,
  type PartStyle,
  resolve,
  styleOf,
} from './resolve.ts'
import { LastShaped, setOnce, shapedOnce } from './setTexts.ts'

/** What is kept beside a filling, so that it is not made anew for every frame. */
interface Kept {
  drawings: Drawings
  /** The same filling with other entries of its lists. */
  others: LastFew<string, Layout>
  entries?: Entries
  /** The frame asked for last, and the moment it shows: a hold asks for the same one over and over. */
  last?: { moment: string; posed: Posed }
}

/** Texts as they are set while a drawing is solved. */
interface Setting {
  blocks: (Block | undefined)[]
  rooms: Room[]
  heights: (number | undefined)[]
}

/** How many fillings a scene keeps laid out, and of each how many other entries of its lists. */
const keep = 24
const keepEntries = 128

/**
 * The one entry to the pipeline: resolve -> shape -> solve -> pose -> compose. The interface previews with it, the checks
 * reason with it, the server renders with it.
 */
export class Scene {
  private readonly layouts = new LastFew<string, Layout>(keep)
  private readonly kept = new WeakMap<Layout, Kept>()
  private inOthers: readonly { shape: NamedShape; scene: Scene }[] | undefined

  constructor(
    readonly template: Template,
    readonly assets: Assets,
    private readonly lastShaped = new LastShaped(),
  ) {}

  /** The same title in the template's other shapes of frame. */
  get others(): readonly { shape: NamedShape; scene: Scene }[] {
    this.inOthers ??= (this.template.shapes ?? []).map((shape) => ({ shape, scene: this.as(shape.id) }))
    return this.inOthers
  }

  /** The title in one of the template's shapes of frame. @throws Refusal when there is no such shape */
  inShape(id: ShapeId): Scene {
    return this.others.find(({ shape }) => shape.id === id)?.scene ?? (this.template.shapes ? this.as(id) : this)
  }

  private as(id: ShapeId): Scene {
    return new Scene(shapeOf(this.template, id), this.assets, this.lastShaped)
  }

  /** Resolves, shapes and solves a filling; cached. */
  layout(values: Values): Layout {
    return cached(this.layouts, JSON.stringify(values), () => this.work(values, firstEntries, true))
  }

  /** A filling with other entries of the lists that it goes through. */
  entry(layout: Layout, chosen: EntryChoice): Layout {
    if (chosen.turn === layout.chosen.turn && chosen.item === layout.chosen.item) return layout
    const { others } = this.keptFor(layout)
    return cached(others, `${chosen.turn},${chosen.item}`, () => this.work(layout.values, chosen, false))
  }

  /** How a filling goes through the lists in its texts. */
  entries(layout: Layout): Entries {
    const kept = this.keptFor(layout)
    kept.entries ??= new Entries(
      {
        entry: (turn, item) => this.entry(layout, { turn, item }),
        drawn: (own, parts) => this.still(own).itemsOf(parts),
      },
      layout,
    )
    return kept.entries
  }

  /** What crawls in a filling, and goes on without end while it is up; by the index of its part. */
  endless(layout: Layout): { index: number; strip: EntryStrip }[] {
    return [...this.entries(layout).strips].flatMap(([index, strip]) =>
      strip.of.way === 'crawl' ? [{ index, strip }] : [],
    )
  }

  /** What an endless run goes through: what each entry says, by the keys of its fields, and px that it is long. */
  runEntries(layout: Layout, { strip }: { strip: EntryStrip }): { texts: Record<string, string>; size: number }[] {
    const lists = layout.template.fields.filter(({ id }) => strip.of.lists.has(id))
    return strip.entries.map(({ item, size }) => ({
      texts: Object.fromEntries(
        lists.map((field) => [field.key, (layout.content.fields.get(field.id) as string[] | undefined)?.[item] ?? '']),
      ),
      size,
    }))
  }

  /** What is seen of an endless run with items where they are said to be: px that each has come in from the edge. */
  runItems(
    layout: Layout,
    { index, strip }: { index: number; strip: EntryStrip },
    items: readonly { texts: Record<string, string>; along: number; size: number }[],
  ): Item[] {
    const { others } = this.keptFor(layout)
    const drawn = items.flatMap(({ texts, along, size }) => {
      // Each is the same filling with nothing but this one in its lists.
      const lists = Object.entries(texts).map(([key, text]): [string, string[]] => [key, [text]])
      const make = () => this.work({ ...layout.values, ...Object.fromEntries(lists) }, firstEntries, false)
      const own = cached(others, JSON.stringify(texts), make)
      return this.entries(own).strips.get(index)?.entryAlong(along, size) ?? []
    })
    return strip.clipped(drawn)
  }

  /**
   * The same, and nothing of it is kept: for rows that pass by once, thousands of them, where keeping costs more than it
   * ever saves.
   */
  layoutInPassing(values: Values): Layout {
    return this.work(values, firstEntries, false)
  }

  /**
   * A filling's time: so many frames, or as long as its lists take, or as designed.
   * @throws Refusal when `duration` (frames) is shorter than In + Out and what is gone through in turn
   */
  timing(layout: Layout, duration?: number): Timing {
    const { spans } = this.template
    const entries = this.entries(layout)
    const asked = duration ?? spans.in + (entries.hold ?? spans.hold.frames) + spans.out
    const timing = timingOf(this.template, asked)
    if (entries.turns === 1) return timing
    return { ...timing, turns: turnsIn(entries.stands, entries.change.frames, spans.hold.frames, timing.hold) }
  }

  /** The fewest frames that a filling can last. */
  shortest(layout: Layout): number {
    return shortestDuration(this.template.spans) + this.entries(layout).least
  }

  /** What the parts of a filling look like in their own coordinates. */
  drawings(layout: Layout): Drawings {
    return this.keptFor(layout).drawings
  }

  private keptFor(layout: Layout): Kept {
    const { template, content, blocks, rest } = layout
    return cached(this.kept, layout, () => ({
      drawings: new Drawings(template, this.assets, content, blocks, rest.gone),
      others: new LastFew<string, Layout>(keepEntries),
    }))
  }

  /** A title's pose at a frame, counted from 0. @throws Refusal for a frame outside the title. */
  posed(layout: Layout, timing: Timing, frame: number): Posed {
    demand(
      Number.isInteger(frame) && frame >= 0 && frame < timing.total,
      'frame.range',
      `Frame ${frame} does not exist: the title has frames 0 to ${timing.total - 1}.`,
    )
    return this.shown(layout, timing, frame)
  }

  /**
   * The same for any moment of it: an open title's frames need not be whole.
   * @param runs what its endless runs show, where they go by items of their own
   */
  shown(layout: Layout, timing: Timing, frame: number, runs?: PosedOf['runs']): Posed {
    const kept = this.keptFor(layout)
    const entries = this.entries(layout)
    const { spans } = layout.template
    const moment = shownMoment(spans, timing, frame)
    // What runs by the clock, a crawl or a movie, is another one at every frame, a frozen Hold's too.
    const isRunning = kept.drawings.runs || entries.runs
    const seconds = isRunning ? secondsOf(frame, layout.template.frame.rate) : 0
    const at = frame - spanStart(timing, 'hold')
    const turns = timing.turns ?? [{ from: 0, to: 0 }]
    const { turn, changing } = timing.open ? turnRound(turns, entries.change.frames, at) : turnAt(turns, at)
    const hold = timing.open ? Number.POSITIVE_INFINITY : timing.hold
    const name = `${moment.span} ${moment.at} ${hold} ${seconds} ${turn} ${changing}`
    if (kept.last?.moment !== name || runs) {
      const context: PoseContext = { frame: layout.template.frame, spans, hold, moment }
      const clock = { frame: at, hold: timing.open ? spans.hold.frames : timing.hold, turn }
      const how: Shown = { entries, clock, seconds, runs, contextOf: () => context }
      const posed =
        changing === undefined
          ? this.standing(this.entry(layout, { turn, item: -1 }), how)
          : this.changing(layout, changing, how)
      kept.last = { moment: name, posed }
    }
    return kept.last.posed
  }

  /**
   * The time of a filling that is up until it is told to leave.
   * @param out the frame at which Out begins; absent: nobody has said so yet
   */
  open(layout: Layout, out?: number): Timing {
    const { spans } = layout.template
    const entries = this.entries(layout)
    const timing = openTiming(spans, out)
    if (entries.turns === 1) return timing
    const designed = Math.max(spans.hold.frames, entries.least)
    return { ...timing, turns: turnsIn(entries.stands, entries.change.frames, designed) }
  }

  /** A filling as the template draws it at rest while something in it travels: what a changing title is made of. */
  carried(layout: Layout, shown: Shown & Pick<PosedOf, 'dim'>, rest: Rest, drawings: Drawings): Posed {
    return new Posed({ ...layout, ...shown, drawings, rest })
  }

  private standing(layout: Layout, shown: Shown): Posed {
    const { rest, drawings } = this.restAt(layout, shown.contextOf)
    return new Posed({ ...layout, drawings, rest, ...shown })
  }

  /** A filling at rest, as what holds it draws it. */
  private still(layout: Layout): Posed {
    const { frame, spans } = layout.template
    const moment = { span: 'hold' as const, at: 0 }
    const context: PoseContext = { frame, spans, hold: spans.hold.frames, moment }
    const { drawings, rest } = { drawings: this.drawings(layout), rest: layout.rest }
    return new Posed({ ...layout, drawings, rest, seconds: 0, contextOf: () => context })
  }

  /** One text leaves and the next comes, by their own movement; what stands round them goes from where it was to where it will be. */
  private changing(layout: Layout, changing: number, shown: Shown): Posed {
    const { entries, clock, contextOf } = shown
    const { turning, turningRoots, change } = entries!
    const next = (clock!.turn + 1) % entries!.turns
    const [before, after] = [clock!.turn, next].map((turn) => this.entry(layout, { turn, item: -1 })) as [
      Layout,
      Layout,
    ]
    const [leaving, coming] = [change.leaves[1] - change.leaves[0], change.comes[1] - change.comes[0]]
    const start = change.frames - coming
    const context = contextOf(0)
    const going: PoseContext = { ...context, moment: { span: 'out', at: change.leaves[0] + changing } }
    const arriving: PoseContext = { ...context, moment: { span: 'in', at: change.comes[0] + changing - start } }
    const goes = (i: number) => (turning.has(i) ? going : context)
    const comes = (i: number) => (turning.has(i) ? arriving : context)
    const [one, other] = [this.restAt(before, goes), this.restAt(after, comes)]
    const share = eased(travelEase, changing / change.frames)
    const half = change.frames / 2
    const isThere = leaving > 0 ? changing <= leaving : changing < half
    const hasCome = coming > 0 ? changing >= start : changing >= half
    const left = new Posed({
      ...before,
      ...shown,
      drawings: one.drawings,
      rest: between(one.rest, other.rest, (i) => (turning.has(i) ? 0 : share)),
      contextOf: goes,
    })
    const newcomer = new Posed({
      ...after,
      ...shown,
      clock: { ...clock!, turn: next },
      drawings: other.drawings,
      rest: between(other.rest, one.rest, (i) => (turning.has(i) ? 0 : 1 - share)),
      contextOf: comes,
    })
    const drawn = [...(isThere ? [left] : []), ...(hasCome ? [newcomer] : [])]
    return (changing < half ? left : newcomer).inChange(new Map([...turningRoots].map((root) => [root, drawn])))
  }

  /** What a title shows at a frame, counted from 0. @throws Refusal for a frame outside the title. */
  frame(layout: Layout, timing: Timing, frame: number): DrawList {
    return this.posed(layout, timing, frame).drawList()
  }

  /**
   * The frame at which a title is seen as it is: every part has arrived, and what rolls or crawls has filled its window, or
   * stands in the middle of it.
   */
  settled(layout: Layout, timing: Timing = this.timing(layout)): number {
    const runs = [...this.entries(layout).strips.values()].filter(({ of }) => of.way !== 'pages')
    const filled = runs.map((strip) => {
      const way = Math.min(strip.window, distanceOf(strip) / 2)
      return Math.ceil(way / Math.max(1e-6, strip.step(timing.hold)))
    })
    return restFrame(timing) + Math.min(Math.max(0, timing.hold - 1), Math.max(0, ...filled))
  }

  /** The same; of texts in turn the frame at which the one with most to read stands. */
  fullest(layout: Layout, timing: Timing = this.timing(layout)): number {
    if (!timing.turns) return this.settled(layout, timing)
    const { reads } = this.entries(layout)
    return spanStart(timing, 'hold') + timing.turns[reads.indexOf(Math.max(...reads))]!.from
  }

  /** The frame of the poster; one that shows the first frame of Hold shows the title as it is seen. */
  get posterFrame(): number {
    const { poster, spans } = this.template
    const layout = this.layout(poster.values)
    const timing = this.timing(layout)
    return poster.frame === spans.in ? this.settled(layout, timing) : Math.min(poster.frame, timing.total - 1)
  }

  /** What a title shows when it is seen as it is. */
  restFrame(layout: Layout, timing: Timing = this.timing(layout)): DrawList {
    return this.frame(layout, timing, this.settled(layout, timing))
  }

  /** The rest, solved anew at this frame when some tie follows the movement, and the texts as they are set in it. */
  restAt(layout: Layout, contextOf: Shown['contextOf']): { rest: Rest; drawings: Drawings } {
    const { template, content, rest } = layout
    const drawings = this.drawings(layout)
    if (!followsMovement(template)) return { rest, drawings }
    const { parts } = rest.order
    const { blocks, rooms, heights, shapes } = layout
    const setting: Setting = { blocks: [...blocks], rooms: [...rooms], heights: [...heights] }
    // What moves is where the texts stand now, not where they stood when all had arrived.
    const moving = (index: number, box: Box) => {
      const segments = drawings.withBlocks(setting.blocks).segmentBoxes(index, box)
      const posed = pose(parts[index]!.motion, box, contextOf(index), segments)
      return animatedBounds(parts[index]!.motion, box, posed, segments)
    }
    const measure = this.measure({ content, shapes, setting, keeps: true, most: layout.most })
    const now = solve({ template, gone: rest.gone, measure, styles: content.styles, moving })
    return { rest: now, drawings: drawings.withBlocks(setting.blocks) }
  }

  private work(values: Values, chosen: EntryChoice, keeps: boolean): Layout {
    const drawn = variantOf(this.template, values)
    const template = wholeVariant(drawn, values, (of, given) => this.solved(of, given, chosen, keeps).rest)
    return this.solved(template, values, chosen, keeps)
  }

  private solved(template: Template, values: Values, chosen: EntryChoice, keeps: boolean): Layout {
    const content = resolve(template, this.withFallbacks(values), chosen)
    const { parts } = tieOrder(template)
    const shapes: (Shape | undefined)[] = parts.map((part, i) =>
      part.kind === 'text' ? this.shape(content, i, keeps) : undefined,
    )
    const isHidden = (part: Part, i: number) =>
      content.styles[i]!.visible === false ||
      (part.kind === 'text' && shapes[i]!.shaped.text.trim() === '') ||
      (part.kind === 'picture' && !this.assets.picture(styleOf(content, i, 'picture').picture))
    const order = tieOrder(template)
    const gone = goneParts(order, isHidden)
    const settled = (most: ReadonlyMap<number, number>) => {
      const setting: Setting = {
        blocks: new Array(parts.length),
        rooms: new Array(parts.length).fill(null),
        heights: new Array(parts.length),
      }
      const measure = this.measure({ content, shapes, setting, keeps, most })
      return { most, rest: solve({ template, gone, measure, styles: content.styles }), ...setting }
    }
    const alone = settled(noBounds)
    const most = oneSizes(order, content, alone.blocks, gone)
    return { values, chosen, template, content, shapes, ...(most.size > 0 ? settled(most) : alone) }
  }

  /** What is drawn of a filling: where a picture is not there, the one that its field has for that. */
  private withFallbacks(values: Values): Values {
    const instead = missingPictures(this.template, this.assets, values).flatMap(({ field, lies }) =>
      field.fallback === undefined
        ? []
        : [[field.key, lies ? { ...lies, picture: field.fallback } : field.fallback] as const],
    )
    return instead.length === 0 ? values : { ...values, ...Object.fromEntries(instead) }
  }

  private shape(content: Content, index: number, keeps: boolean): Shape {
    const style = styleOf(content, index, 'text')
    const known = this.assets.fonts
    const fallbacks = this.template.fallbacks.flatMap((id) => known.get(id) ?? [])
    const fontOf = (id: string | undefined) => {
      const font = (id && known.get(id)) || known.get(style.font) || fallbacks[0] || [...known.values()][0]
      demand(font, 'font.none', `"${this.template.name}" carries no font; add one before writing text.`)
      return font
    }
    // Digits that change stand on places of one width.
    const { tracks, segments } = tieOrder(this.template).parts[index]!.motion
    const tabular = tracks.count !== undefined || segments?.tracks.settle?.from === 'digits'
    const figures = (features: readonly string[]) => (tabular ? [...new Set([...features, 'tnum'])] : features)
    const runs = style.content.map((run): StyledRun => {
      const language = run.language ?? (style.language || content.language)
      const written = drawnText(run.text ?? '')
      const text = style.hyphenate ? (this.assets.hyphenate?.(written, language) ?? written) : written
      const file = fontOf(run.font)
      const size = run.size ?? style.size
      const font = file.axes.length > 0 ? file.at(axesOf(style, run, size)) : file
      return {
        text:
          style.case === 'upper'
            ? upperCase(text, language, (codePoint) => font.covers(codePoint))
            : style.case === 'lower'
              ? lowerCase(text, language)
              : text,
        font,
        language,
        size,
        tracking: run.tracking ?? style.tracking,
        colour: run.colour ?? style.colour,
        features: figures(run.features ?? style.features),
      }
    })
    // What no field reaches is the same in every filling.
    const all =
      runs.length > 0
        ? runs
        : [{ text: '', font: fontOf(undefined), size: style.size, tracking: style.tracking, colour: style.colour }]
    const direction =
      style.direction === 'left to right' ? 'ltr' : style.direction === 'right to left' ? 'rtl' : undefined
    return keeps || !content.reached.has(index)
      ? shapedOnce(all, fallbacks, direction)
      : this.lastShaped.shape(index, all, fallbacks, direction)
  }

  /** Sets texts when layout asks, remembering the last room of each. */
  private measure({ content, shapes, setting: { blocks, rooms, heights }, keeps, most }: Measured): Measure {
    return {
      text: (index: number, given: number | undefined, height: number | undefined) => {
        const style = styleOf(content, index, 'text')
        // A crawl runs through its room and never has to fit in it.
        const room = style.crawl === 0 ? given : undefined
        if (rooms[index] !== room || heights[index] !== height || !blocks[index]) {
          const bound = most.get(index)
          const setting = keeps || !content.reached.has(index) ? setOnce : setText
          blocks[index] = setting(shapes[index]!, {
            leading: style.leading,
            align: style.align as 'justified',
            fit: style.fit,
            breaks: style.breaks as 'balanced',
            ...(room === undefined ? {} : { room }),
            ...(height === undefined ? {} : { height }),
            ...(bound === undefined ? {} : { most: bound }),
          })
          rooms[index] = room
          heights[index] = height
        }
        const shown = blocks[index]!.boxes[style.shows as 'line']
        return { width: shown.width, height: shown.height }
      },
      along: (index: number, way: number, width: number, height: number) => {
        const style = content.styles[way]!
        return isWayStyle(style) ? wayAlong(style, width, height, styleOf(content, index, 'text')).room : undefined
      },
      picture: (index: number) =>
        this.assets.picture(styleOf(content, index, 'picture').picture) ?? { width: 0, height: 0 },
    }
  }
}

/** How a filling is shown at a frame, besides where its parts rest. */
export type Shown = Pick<PosedOf, 'contextOf' | 'seconds' | 'entries' | 'clock' | 'runs'>

/** Where parts are on the way from one rest to another; what is gone in one is where the other has it. */
export function between(one: Rest, other: Rest, share: (index: number) => number): Rest {
  const mixed = (from: Float64Array, to: Float64Array) =>
    from.map((value, i) => {
      if (other.gone[i]) return value
      return one.gone[i] ? to[i]! : value + (to[i]! - value) * share(i)
    })
  const both = (of: 'start' | 'size' | 'own' | 'shift'): [Float64Array, Float64Array] => [
    mixed(one[of][0], other[of][0]),
    mixed(one[of][1], other[of][1]),
  ]
  return { ...one, start: both('start'), size: both('size'), own: both('own'), shift: both('shift') }
}

/** What texts are measured by. */
interface Measured {
  content: Content
  shapes: Layout['shapes']
  setting: Setting
  keeps: boolean
  most: ReadonlyMap<number, number>
}

/** The fields that name a picture which is not there, with what they say and how it lies. */
export function missingPictures(
  { fields }: Pick<Template, 'fields'>,
  assets: Assets,
  values: Values,
): { field: Field; picture: string; lies?: PictureValue }[] {
  return fields.flatMap((field) => {
    if (field.type !== 'picture') return []
    const value = fieldValue(field, values) as string | PictureValue
    const picture = typeof value === 'string' ? value : value.picture
    if (picture === '' || assets.picture(picture)) return []
    return [{ field, picture, ...(typeof value === 'string' ? {} : { lies: value }) }]
  })
}

const noBounds: ReadonlyMap<number, number> = new Map()

/**
 * At most how many times their own size texts may be that stand in a group of one size: as much as the one of them that had
 * to become smallest.
 */
function oneSizes(
  { parts, parent }: TieOrder,
  content: Content,
  blocks: readonly (Block | undefined)[],
  gone: Uint8Array,
): ReadonlyMap<number, number> {
  const isOne = (index: number) => parts[index]!.kind === 'group' && styleOf(content, index, 'group').oneSize
  const groups = parts.map((_, index) => {
    let found = -1
    for (let up = parent[index]!; up >= 0; up = parent[up]!) if (isOne(up)) found = up
    return found
  })
  if (groups.every((group) => group < 0)) return noBounds
  const least = new Map<number, number>()
  blocks.forEach((block, i) => {
    const group = groups[i]!
    if (block && group >= 0 && !gone[i]) least.set(group, Math.min(least.get(group) ?? block.shrink, block.shrink))
  })
  const isOff = (block: Block | undefined, i: number) =>
    block !== undefined && block.shrink > (least.get(groups[i]!) ?? block.shrink)
  if (!blocks.some(isOff)) return noBounds
  return new Map(
    blocks.flatMap((block, i) => (block && least.has(groups[i]!) ? [[i, least.get(groups[i]!)!] as const] : [])),
  )
}

/** Where a run of a text stands on the axes of a variable font: as it says, or the text does. @param size px */
function axesOf(style: PartStyle<'text'>, run: Partial<Run>, size: number): AxisValues {
  const named = [...style.axes, ...(run.axes ?? [])].map(({ tag, value }) => [tag, value] as const)
  const weight = run.weight ?? style.weight
  const stretch = run.stretch ?? style.stretch
  return {
    // As CSS Fonts 4 has it (`font-optical-sizing: auto`): a pixel is a unit of optical size.
    opsz: style.opticalSize || size,
    ...(weight ? { wght: weight } : {}),
    ...(stretch ? { wdth: stretch } : {}),
    ...Object.fromEntries(named),
  }
}

const following = new WeakMap<Part[], boolean>()

function followsMovement(template: Template): boolean {
  return cached(following, template.parts, () =>
    tieOrder(template).parts.some((part) => [...part.x.ties, ...part.y.ties].some((tie) => tie.follow === 'moving')),
  )
}
