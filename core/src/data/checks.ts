import { cached } from '../cache/index.ts'
import { boxOf } from '../layout/index.ts'
import { readingSpeed, type Timing } from '../motion/index.ts'
import { charactersOf, type Layout, missingPictures, type Scene, styleOf } from '../scene/index.ts'
import {
  type AxisName,
  drivenBy,
  type Field,
  type Part,
  type PartId,
  paintedBy,
  shapesOf,
  type Template,
  type Values,
} from '../template/index.ts'
import type { Block } from '../text/index.ts'
import { secondsOf } from '../time/index.ts'
import { asDrawnOf, checkAsDrawn, overlapsAsDrawn } from './asDrawn.ts'
import { leastContrast, textContrast } from './contrast.ts'
import { fillingProblems, valuesOf } from './convert.ts'
import { entryFindings, ofSeveral, type TextsOf, turnFindings } from './entryChecks.ts'
import type { Finding } from './finding.ts'
import { checkLanguage } from './languageSeen.ts'
import { lockedData } from './locked.ts'
import type { Looking, Looks } from './looks.ts'
import type { Problem } from './problem.ts'
import { framesOfRow, rowTimes } from './rowTimes.ts'
import { pastAcross, pastDrawn, pastSafe, seenPast } from './safe.ts'
import { leastSize } from './seenChecks.ts'
import type { Match } from './source.ts'
import { checkSpeed } from './speedCheck.ts'
import type { Row } from './table.ts'
import { weighed } from './weighed.ts'

/** Use of a fit step from which a person should look, and at which it has reached its bound. */
const lookAt = 0.9
const spent = 0.999

export interface CheckedRow {
  values: Values
  findings: Finding[]
  layout: Layout
  /** Whether its picture was looked at. */
  isLooked: boolean
}

/**
 * Checks one row of a sheet: its texts, then the title they make.
 * @param n the row, from 1
 * @param frames of this title; absent: the row's own, or as designed
 * @param looking who looks at it; absent: nobody does
 */
export function checkRow(
  scene: Scene,
  match: Match,
  row: Row,
  n: number,
  frames?: number,
  looking?: Looking,
): CheckedRow {
  const { template } = scene
  const { values, problems } = valuesOf(template, match, row)
  const layout = scene.layoutInPassing(values)
  const findings = [...problems, ...lockedData(template, match, row)].map((p: Problem): Finding => ({ row: n, ...p }))
  const { rate } = template.frame
  const { problem } = rowTimes(match, row, rate)
  if (problem) findings.push({ row: n, level: 'stop', code: 'time', message: problem })
  const asked = frames ?? framesOfRow(match, row, rate)
  const least = scene.shortest(layout)
  const isShort = asked !== undefined && asked < least
  if (isShort)
    findings.push({
      row: n,
      level: 'stop',
      code: 'short',
      message: `${asked} ${asked === 1 ? 'frame is' : 'frames are'} too few: ${template.spans.in + template.spans.out < least ? 'In, Out and texts in turn' : 'In and Out'} need ${least}; give it ${least - asked} more.`,
    })
  const shaped = shapedFindings(scene, layout, isShort ? undefined : asked, n, looking)
  findings.push(...shaped.findings)
  return { values, layout, findings: weighed(template, findings), isLooked: shaped.isLooked }
}

/**
 * Looks at the title of a row: what its picture shows, in every shape of the frame.
 * @param n the row, from 1
 */
export function lookAtRow(scene: Scene, match: Match, row: Row, n: number, looks: Looks): Finding[] {
  const layout = scene.layoutInPassing(valuesOf(scene.template, match, row).values)
  const asked = framesOfRow(match, row, scene.template.frame.rate)
  const frames = asked !== undefined && asked >= scene.shortest(layout) ? asked : undefined
  const looked = inShapes(
    scene,
    layout,
    (own, made) => pictureFindings(own, made, timingOfTitle(own, made, frames), n, looks) ?? [],
  )
  return weighed(scene.template, looked)
}

/**
 * What is wrong with a title, its values and what they draw, as the template's designer weighs it.
 * @param looking who looks at it; absent: nobody does
 */
export function checkLayout(scene: Scene, layout: Layout, timing: Timing, row = 1, looking?: Looking): Finding[] {
  const own = fillingProblems(scene.template, layout.values).map((problem): Finding => ({ row, ...problem }))
  // What lasts as long as its lists take lasts otherwise in another shape.
  const asked = timing.total === scene.timing(layout).total ? undefined : timing.total
  const found = [...own, ...shapedFindings(scene, layout, asked, row, looking).findings]
  // Once, to whoever draws it: of the drawing itself, not of what fills it.
  if (Object.keys(layout.values).length === 0) found.push(...overlapsAsDrawn(scene, layout, row))
  return weighed(scene.template, found)
}

/** What is wrong with a title in every shape of its template, as it stands and, where somebody looks, as it is seen. */
function shapedFindings(
  scene: Scene,
  layout: Layout,
  frames: number | undefined,
  row: number,
  looking: Looking | undefined,
): Pick<CheckedRow, 'findings' | 'isLooked'> {
  let isLooked = looking !== undefined
  const findings = inShapes(scene, layout, (own, made) => {
    const timing = timingOfTitle(own, made, frames)
    const found = layoutFindings(own, made, timing, row)
    const looked = looking && pictureFindings(own, made, timing, row, looking)
    if (looked) return [...found, ...looked]
    isLooked = false
    return found
  })
  return { findings, isLooked }
}

/** What is found of a title in every shape of its template; what is so in some alone says in which. */
function inShapes(scene: Scene, layout: Layout, of: (scene: Scene, layout: Layout) => Finding[]): Finding[] {
  const first = of(scene, layout)
  if (scene.others.length === 0) return first
  const everywhere = [
    { shape: shapesOf(scene.template)[0]!, findings: first },
    ...scene.others.map(({ shape, scene: other }) => ({
      shape,
      findings: of(other, other.layoutInPassing(layout.values)),
    })),
  ]
  return ofSeveral(everywhere.map(({ shape, findings }) => ({ name: `In ${shape.name}`, findings, shape: shape.id })))
}

/** The time of a title that is to have so many frames, where it can. */
function timingOfTitle(scene: Scene, layout: Layout, frames: number | undefined): Timing {
  return scene.timing(layout, frames === undefined || frames >= scene.shortest(layout) ? frames : undefined)
}

/** What is wrong with a title in one shape: as it stands, and with what it goes through in turn or runs by. */
function layoutFindings(scene: Scene, layout: Layout, timing: Timing, row: number): Finding[] {
  const texts: TextsOf = (own, strip) => textFindings(scene, own, strip, row)
  const findings = entryFindings({ scene, layout, timing, row }, (own) => standingFindings(scene, own, row), texts)
  checkReading(layout, timing, scene, row, findings)
  findings.push(...checkSpeed(scene, layout, row), ...checkSaying(scene, layout, row))
  return findings
}

/** A title of which every text that is filled is empty, and every picture that is given is none. */
function checkSaying(scene: Scene, layout: Layout, row: number): Finding[] {
  const { order, gone } = layout.rest
  const filled = fieldsOfParts(layout.template)
  const says = order.parts.map((part, i) =>
    (part.kind === 'text' || part.kind === 'picture') && filled.has(part.id) ? !gone[i] : undefined,
  )
  const entries = scene.entries(layout)
  const runs = [...entries.strips.values()].some(({ characters }) => characters > 0)
  if (runs || !says.includes(false) || says.includes(true) || entries.reads.some((frames) => frames > 0)) return []
  const isRequired = layout.template.fields.some(
    (field) => field.required && ['text', 'texts', 'picture'].includes(field.type),
  )
  return [
    {
      row,
      level: isRequired ? 'stop' : 'look',
      code: 'nothing',
      message: 'Nothing is said: every text is empty, and no picture is given; fill one, or leave the row out.',
    },
  ]
}

/** What is found by looking at a title in one shape, and at each of the texts that come in turn; undefined: nobody did. */
function pictureFindings(
  scene: Scene,
  layout: Layout,
  timing: Timing,
  row: number,
  looking: Looking,
): Finding[] | undefined {
  let isLooked = true
  const found = turnFindings(scene, layout, (own) => {
    const looked = looking.at({ scene, layout, own, timing, row })
    isLooked &&= looked !== undefined
    return looked ?? []
  })
  if (!isLooked) return undefined
  const fieldOf = fieldsOfParts(scene.template)
  return found.map((finding) => {
    const field = finding.part === undefined ? undefined : fieldOf.get(finding.part)
    return field === undefined ? finding : { ...finding, field }
  })
}

const reaching = new WeakMap<Template, ReadonlyMap<PartId, string>>()

/** By part the key of the first field that reaches it. */
const fieldsOfParts = (template: Template): ReadonlyMap<PartId, string> =>
  cached(
    reaching,
    template,
    () =>
      new Map(
        [...template.fields]
          .reverse()
          .flatMap((field) => drivenBy(template, field).map(({ part }) => [part, field.key])),
      ),
  )

/** Tells findings about the parts of a template, each with the field that reaches it. */
function telling({ template }: Scene, row: number, findings: Finding[]): (part: Part) => Add {
  const fieldOf = fieldsOfParts(template)
  return (part) => (level, code, message) => {
    const field = fieldOf.get(part.id)
    findings.push({ row, ...(field ? { field } : {}), part: part.id, level, code, message })
  }
}

/**
 * What is wrong with some texts of an entry that runs, by part index: themselves, and, across the way that they run,
 * where they stand.
 */
function textFindings(
  scene: Scene,
  layout: Layout,
  { holds, across }: { holds: readonly number[]; across: AxisName },
  row: number,
): Finding[] {
  const findings: Finding[] = []
  const about = telling(scene, row, findings)
  for (const i of holds) {
    const [part, block] = [layout.rest.order.parts[i]!, layout.blocks[i]]
    if (!block || layout.rest.gone[i]) continue
    const past = pastAcross(layout, i, across)
    if (past > 0.5) about(part)('stop', 'safe.title', `${part.name} stands ${Math.ceil(past)} px outside title-safe.`)
    checkText(scene, part, block, scene.drawings(layout).wayOf(part, layout.rest) !== undefined, about(part))
  }
  return findings
}

/** What is wrong with a filling as it stands. */
function standingFindings(scene: Scene, layout: Layout, row: number): Finding[] {
  const findings: Finding[] = []
  const about = telling(scene, row, findings)
  const running = scene.entries(layout).inStrips
  layout.rest.order.parts.forEach((part, i) => {
    const add = about(part)
    const style = layout.content.styles[i]!
    if (
      style.kind === 'picture' &&
      style.visible !== false &&
      style.picture !== '' &&
      !scene.assets.picture(style.picture)
    )
      add(
        'stop',
        'picture',
        `The picture "${style.picture}" is not among the template's or the sheet's; add it or name another.`,
      )
    if (layout.rest.gone[i]) return
    const fill = 'fill' in style ? style.fill : null
    if (fill && typeof fill === 'object' && fill.kind === 'picture' && !scene.assets.picture(fill.picture))
      add(
        'stop',
        'picture',
        `${part.name} is filled with "${fill.picture}", which the template does not carry; choose another picture.`,
      )
    if (part.kind === 'picture') checkPicture(scene, layout, i, add)
    const block = layout.blocks[i]
    const way = scene.drawings(layout).wayOf(part, layout.rest)
    if (block) {
      checkText(scene, part, block, way !== undefined, add)
      checkLegible(scene, layout, i, block, add)
      checkLanguage(layout, i, part, add)
    }
    if (!way && !running.has(i)) checkSafe(scene, layout, i, add)
  })
  for (const { field, picture } of missingPictures(scene.template, scene.assets, layout.values))
    if (field.fallback !== undefined && scene.assets.picture(field.fallback))
      findings.push({
        row,
        field: field.key,
        level: 'look',
        code: 'picture.fallback',
        message: `The picture "${picture}" is not among the template's or the sheet's; "${field.fallback}" stands in its place.`,
      })
  for (const note of layout.rest.notes)
    findings.push({
      row,
      part: note.part,
      level: 'look',
      code: `layout.${note.kind}`,
      message:
        note.kind === 'min-over-max'
          ? `The least size is above the most on ${note.axis}; the least holds.`
          : `The two ties on ${note.axis} cross; the part has no size.`,
    })
  findings.push(...checkAsDrawn(scene, layout, row))
  return findings
}

const percent = (share: number) => `${Math.round(share * 100)} %`

type Add = (level: Finding['level'], code: string, message: string) => void

/** Which characters are missing, and what font would bring them. */
function missingWords({ assets }: Scene, part: Part, { missing }: Block): string {
  const words = `${part.name} has ${missing.length === 1 ? 'a character' : 'characters'} that no font of the template has: ${missing.join(', ')}`
  if (!assets.familyWith) return `${words}; change it or add a font.`
  const families = missing.map((name) => assets.familyWith!(Number.parseInt(name.slice(2), 16)))
  const known = [...new Set(families.filter((family) => family !== undefined))]
  if (known.length === 0) return `${words}; no font that Hoja knows has it, so change it or bring one that does.`
  const some = families.includes(undefined) ? ' some of it' : ''
  return `${words}; ${known.join(' and ')} ${known.length === 1 ? 'has' : 'have'}${some || ' it'}: change it, or have that font added in Draft.`
}

/** @param along whether it runs along a way, which is its room then */
function checkText(scene: Scene, part: Part, block: Block, along: boolean, add: Add): void {
  if (block.missing.length > 0) add('stop', 'missing', missingWords(scene, part, block))
  if (block.fit.overflow > 0)
    add(
      'stop',
      along ? 'along' : 'overflow',
      along
        ? `${part.name} runs ${Math.ceil(block.fit.overflow)} px past the end of its path after every fit step; shorten it or draw the path longer.`
        : `${part.name} runs ${Math.ceil(block.fit.overflow)} px past its room after every fit step; shorten it.`,
    )
  if (block.fit.cut > 0) add('look', 'cut', `${part.name} is cut by ${block.fit.cut} characters.`)
  for (const [i, use] of block.fit.steps.entries()) {
    if (use.step === 'cut' || use.used < lookAt || block.fit.overflow > 0) continue
    // Nothing is left to give: the next letter overflows. Lines are there to be taken.
    const isSpent = i === block.fit.steps.length - 1 && use.used >= spent && use.step !== 'wrap'
    const how =
      use.step === 'wrap'
        ? `takes all ${use.to} lines`
        : use.step === 'tighten'
          ? `is tightened by ${Math.round(use.from - use.to)} of ${Math.round(use.from - use.bound)}`
          : use.step === 'condense'
            ? `is condensed to ${percent(use.to)}, the limit is ${percent(use.bound)}`
            : `shrinks to ${percent(use.to)}, the limit is ${percent(use.bound)}`
    add(isSpent ? 'stop' : 'look', `fit.${use.step}`, `${part.name} ${how}${isSpent ? '; shorten it' : ''}.`)
  }
}

function checkLegible(scene: Scene, layout: Layout, i: number, block: Block, add: Add): void {
  const { template } = scene
  const part = layout.rest.order.parts[i]!
  const size = (block.size * layout.content.styles[i]!.scale * 1080) / template.frame.height
  if (size < leastSize)
    add(
      'look',
      'small',
      `${part.name} is ${size.toFixed(0)} px high at 1080 lines; under ${leastSize} it is hard to read.`,
    )
  // Colours that a row chose itself; those of the design are the designer's business.
  if (!choosesColours(template, layout.values)) return
  const found = textContrast(layout, i)
  const designed = textContrast(scene.layout({}), i)
  const own = found && (found.text !== designed?.text || found.behind !== designed.behind)
  if (!own) return
  const least = leastContrast(size, 1080)
  if (found.ratio < least)
    add(
      'look',
      'contrast',
      `${part.name} stands out ${found.ratio.toFixed(1)}:1 from what lies behind it (${found.text} on ${found.behind}); WCAG asks for ${least}:1.`,
    )
}

const colouring = new WeakMap<Template, Field[]>()
const tellingColours = new Set(['colour', 'fill', 'opacity', 'visible'])

/** Whether a filling itself changes what a text stands out by. */
function choosesColours(template: Template, values: Values): boolean {
  const fields = cached(colouring, template, () =>
    template.fields.filter(
      (field) =>
        field.type !== 'text' &&
        (paintedBy(template, field).size > 0 ||
          drivenBy(template, field).some(({ property }) => tellingColours.has(property))),
    ),
  )
  return fields.some(({ key, default: designed }) => values[key] !== undefined && values[key] !== designed)
}

/** How far a picture may be drawn larger than it is. */
const mostEnlarged = 2

function checkPicture(scene: Scene, layout: Layout, i: number, add: Add): void {
  const style = styleOf(layout.content, i, 'picture')
  const picture = scene.assets.picture(style.picture)
  if (!picture) return
  const box = boxOf(layout.rest, i)
  const ratios = [box.width / picture.width, box.height / picture.height]
  const grown = (style.scaling === 'contain' ? Math.min(...ratios) : Math.max(...ratios)) * style.zoom
  if (grown > mostEnlarged)
    add(
      'look',
      'picture.small',
      `${style.picture} is ${picture.width} x ${picture.height} px and drawn ${grown.toFixed(1)} times as large; use a larger one.`,
    )
}

/** How far movement carries each part as designed: a row is told of what it adds. */
const designedPast = new WeakMap<Scene, Map<string, Designed>>()

interface Designed {
  /** At most, whatever is hidden on the way. */
  most: number
  /** By what is seen of it; worked out where a row may be told. */
  seen?: number
}

function checkSafe(scene: Scene, layout: Layout, i: number, add: Add): void {
  const part = layout.rest.order.parts[i]!
  if (part.kind === 'group' || layout.content.styles[i]!.matteOnly) return
  const { rest, moving } = pastSafe(layout, i)
  // What is drawn beyond a safe area is meant so; a text never is.
  const level = part.kind === 'text' ? 'stop' : 'look'
  const by = part.kind === 'text' ? rest.by : pastDrawn(layout, asDrawnOf(scene, layout.values), i, rest.region)
  if (by > 0.5)
    add(level, `safe.${rest.region}`, `${part.name} stands ${Math.ceil(by)} px outside ${rest.region}-safe.`)
  if (!moving || moving.by <= Math.max(0.5, rest.by)) return
  const { region } = moving
  const known = cached(designedPast, scene, () => new Map<string, Designed>())
  let designed = known.get(part.id)
  if (!designed) {
    const own = scene.layout({})
    const at = own.rest.order.index.get(part.id)
    const isThere = at !== undefined && !own.rest.gone[at]
    designed = { most: (isThere ? pastSafe(own, at).moving?.by : undefined) ?? 0 }
    known.set(part.id, designed)
  }
  const more = 0.5
  if (moving.by <= Math.max(0.5, designed.most) + more) return
  // It may, by its movement; whether it is seen there takes every frame of it.
  designed.seen ??= seenPast(scene, scene.layout({}), part, region, moving.frame!).by
  const seen = seenPast(scene, layout, part, region, moving.frame!)
  if (seen.by > Math.max(0.5, rest.by, designed.seen) + more)
    add(
      'look',
      `safe.${region}`,
      `${part.name} comes ${Math.ceil(seen.by)} px outside ${region}-safe at frame ${seen.frame}, further than as designed.`,
    )
}

/** Whether what stands all the while can be read; what comes in turn or runs has its own time. */
function checkReading(layout: Layout, timing: Timing, scene: Scene, row: number, findings: Finding[]): void {
  const { read } = scene.entries(layout)
  const characters = charactersOf(
    layout,
    layout.blocks.flatMap((block, i) => (block && !read.has(i) ? [i] : [])),
  )
  const seconds = secondsOf(timing.total - Math.floor((timing.in + timing.out) / 2), scene.template.frame.rate)
  const needed = characters / readingSpeed
  if (needed > seconds) {
    const rate = scene.template.frame.rate
    const more = Math.ceil(((needed - seconds) * rate.num) / rate.den)
    findings.push({
      row,
      level: 'look',
      code: 'reading',
      message: `${characters} characters take about ${needed.toFixed(1)} s to read and stand for ${seconds.toFixed(1)} s; hold ${more} frames longer.`,
    })
  }
}
