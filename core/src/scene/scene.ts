import { cached, LastFew } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import { goneParts, type Measure, type Rest, solve, wholeVariant } from '../layout/index.ts'
import {
  animatedBounds,
  type PoseContext,
  pose,
  restFrame,
  shownMoment,
  type Timing,
  timingOf,
} from '../motion/index.ts'
import type { DrawList } from '../paint/index.ts'
import { demand } from '../refusal/index.ts'
import type { Field, NamedShape, Part, PictureValue, Run, ShapeId, Template, Values } from '../template/index.ts'
import { shapeOf, type TieOrder, tieOrder, variantOf } from '../template/index.ts'
import {
  type AxisValues,
  type Block,
  drawnText,
  lowerCase,
  type Shape,
  type StyledRun,
  setText,
  shapeText,
  upperCase,
} from '../text/index.ts'
import { secondsOf } from '../time/index.ts'
import type { Assets } from './assets.ts'
import { Drawings } from './drawings.ts'
import { Posed } from './posed.ts'
import { type Content, fieldValue, type PartStyle, resolve, styleOf } from './resolve.ts'
import { setOnce, shapedOnce } from './setTexts.ts'

/** A filling measured and at rest: everything about a title that does not depend on time. Nothing in it changes. */
export interface Layout {
  readonly values: Values
  /** The template as the filling's choices make it. */
  readonly template: Template
  readonly content: Content
  readonly rest: Rest
  /** Set texts, by part index. */
  readonly blocks: readonly (Block | undefined)[]
  /** Shaped texts, and the room (px; undefined: free, null: never asked) that each was set in; by part index. */
  readonly shapes: readonly (Shape | undefined)[]
  readonly rooms: readonly Room[]
  /** px of the boxes that texts fill, and at most how many times their own size they are; by part index. */
  readonly heights: readonly (number | undefined)[]
  readonly most: ReadonlyMap<number, number>
}

/** px; undefined: free; null: nobody asked. */
type Room = number | undefined | null

/** What is kept beside a filling, so that it is not made anew for every frame. */
interface Kept {
  drawings: Drawings
  /** The frame asked for last, and the moment it shows: a hold asks for the same one over and over. */
  last?: { moment: string; posed: Posed }
}

/** Texts as they are set while a drawing is solved. */
interface Setting {
  blocks: (Block | undefined)[]
  rooms: Room[]
  heights: (number | undefined)[]
}

/** How many fillings a scene keeps laid out. */
const keep = 24

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
    return new Scene(shapeOf(this.template, id), this.assets)
  }

  /** Resolves, shapes and solves a filling; cached. */
  layout(values: Values): Layout {
    return cached(this.layouts, JSON.stringify(values), () => this.work(values, true))
  }

  /**
   * The same, and nothing of it is kept: for rows that pass by once, thousands of them, where keeping costs more than it
   * ever saves.
   */
  layoutInPassing(values: Values): Layout {
    return this.work(values, false)
  }

  /** @throws Refusal when `duration` (frames) is shorter than In + Out. */
  timing(duration?: number): Timing {
    return timingOf(this.template, duration)
  }

  /** What the parts of a filling look like in their own coordinates. */
  drawings(layout: Layout): Drawings {
    return this.keptFor(layout).drawings
  }

  private keptFor(layout: Layout): Kept {
    const { template, content, blocks, rest } = layout
    return cached(this.kept, layout, () => ({
      drawings: new Drawings(template, this.assets, content, blocks, rest.gone),
    }))
  }

  /** A title's pose at a frame, counted from 0. @throws Refusal for a frame outside the title. */
  posed(layout: Layout, timing: Timing, frame: number): Posed {
    demand(
      Number.isInteger(frame) && frame >= 0 && frame < timing.total,
      'frame.range',
      `Frame ${frame} does not exist: the title has frames 0 to ${timing.total - 1}.`,
    )
    const { template, content } = layout
    const kept = this.keptFor(layout)
    const { spans } = template
    const moment = shownMoment(spans, timing, frame)
    // What runs by the clock, a crawl or a movie, is another one at every frame, a frozen Hold's too.
    const seconds = kept.drawings.runs ? secondsOf(frame, template.frame.rate) : 0
    const name = `${moment.span} ${moment.at} ${timing.hold} ${seconds}`
    if (kept.last?.moment !== name) {
      const context: PoseContext = { frame: template.frame, spans, hold: timing.hold, moment }
      const { rest, drawings } = this.restAt(layout, context)
      kept.last = { moment: name, posed: new Posed(template, content, drawings, rest, context, seconds) }
    }
    return kept.last.posed
  }

  /** What a title shows at a frame, counted from 0. @throws Refusal for a frame outside the title. */
  frame(layout: Layout, timing: Timing, frame: number): DrawList {
    return this.posed(layout, timing, frame).drawList()
  }

  /** What a title shows when every part has arrived. */
  restFrame(layout: Layout, timing: Timing = this.timing()): DrawList {
    return this.frame(layout, timing, restFrame(timing))
  }

  /** The rest, solved anew at this frame when some tie follows the movement, and the texts as they are set in it. */
  private restAt(layout: Layout, context: PoseContext): { rest: Rest; drawings: Drawings } {
    const { template, content, rest } = layout
    const drawings = this.drawings(layout)
    if (!followsMovement(template)) return { rest, drawings }
    const { parts } = rest.order
    const { blocks, rooms, heights, shapes } = layout
    const setting: Setting = { blocks: [...blocks], rooms: [...rooms], heights: [...heights] }
    // What moves is where the texts stand now, not where they stood when all had arrived.
    const moving = (index: number, box: Box) => {
      const segments = drawings.withBlocks(setting.blocks).segmentBoxes(index, box)
      return animatedBounds(parts[index]!.motion, box, pose(parts[index]!.motion, box, context, segments), segments)
    }
    const measure = this.measure({ content, shapes, setting, keeps: true, most: layout.most })
    const now = solve({ template, gone: rest.gone, measure, styles: content.styles, moving })
    return { rest: now, drawings: drawings.withBlocks(setting.blocks) }
  }

  private work(values: Values, keeps: boolean): Layout {
    const drawn = variantOf(this.template, values)
    const template = wholeVariant(drawn, values, (of, given) => this.solved(of, given, keeps).rest)
    return this.solved(template, values, keeps)
  }

  private solved(template: Template, values: Values, keeps: boolean): Layout {
    const content = resolve(template, this.withFallbacks(values))
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
    return { values, template, content, shapes, ...(most.size > 0 ? settled(most) : alone) }
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
        features: run.features ?? style.features,
      }
    })
    // What no field reaches is the same in every filling.
    const shaped = keeps || !content.reached.has(index) ? shapedOnce : shapeText
    return shaped(
      runs.length > 0
        ? runs
        : [{ text: '', font: fontOf(undefined), size: style.size, tracking: style.tracking, colour: style.colour }],
      fallbacks,
      style.direction === 'left to right' ? 'ltr' : style.direction === 'right to left' ? 'rtl' : undefined,
    )
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
      picture: (index: number) =>
        this.assets.picture(styleOf(content, index, 'picture').picture) ?? { width: 0, height: 0 },
    }
  }
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
