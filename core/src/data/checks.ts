import { boxOf, regionOf } from '../layout/index.ts'
import { type Timing, timingOf } from '../motion/index.ts'
import type { Scene, Settled } from '../scene/index.ts'
import { drivenBy, type Fill, type Part, type Values } from '../template/index.ts'
import { type Block, characterCount } from '../text/index.ts'
import { secondsOf } from '../time/index.ts'
import { type Problem, valuesOf } from './convert.ts'
import type { Match } from './match.ts'
import type { Cells } from './table.ts'

/** Something Hoja found about a row. `stop` must not go out; at `look` a person should look. */
export interface Finding {
  /** From 1. */
  row: number
  field?: string
  part?: string
  level: 'stop' | 'look'
  code: string
  message: string
  fix?: string
}

/** Use of a fit step from which a person should look. */
const lookAt = 0.9
/** Characters a second that a viewer reads with ease: the BBC Subtitle Guidelines' 160 to 180 words a minute, taken at 170 words of 6 characters with their space. */
const readingSpeed = (170 * 6) / 60

export interface CheckedRow {
  values: Values
  findings: Finding[]
  settled: Settled
}

/** Checks one row of a sheet: its cells, then the title they make. `row` counts from 1; `duration` in frames. */
export function checkRow(scene: Scene, match: Match, cells: Cells, row: number, duration?: number): CheckedRow {
  const { values, problems } = valuesOf(scene.template, match, cells)
  const settled = scene.settle(values)
  const timing = timingOf(scene.template, duration)
  return {
    values,
    settled,
    findings: [...problems.map((p: Problem): Finding => ({ row, ...p })), ...checkSettled(scene, settled, timing, row)],
  }
}

/** What is wrong with a title as it rests. */
export function checkSettled(scene: Scene, settled: Settled, timing: Timing, row = 1): Finding[] {
  const findings: Finding[] = []
  const { template } = scene
  const fieldOf = (part: Part) =>
    template.fields.find((field) => drivenBy(template, field).some((d) => d.part === part.id))?.key
  settled.rest.order.parts.forEach((part, i) => {
    const add = (level: Finding['level'], code: string, message: string) => {
      const field = fieldOf(part)
      findings.push({ row, ...(field ? { field } : {}), part: part.id, level, code, message })
    }
    const look = settled.content.looks[i]!
    if (
      part.kind === 'picture' &&
      look.visible !== false &&
      look.picture &&
      !scene.assets.picture(look.picture as string)
    )
      add(
        'stop',
        'picture',
        `The picture "${look.picture}" is not among the template's or the sheet's; add it or name another.`,
      )
    if (settled.rest.gone[i]) return
    const { fill } = look as { fill?: Fill }
    if (fill && typeof fill === 'object' && fill.kind === 'picture' && !scene.assets.picture(fill.picture))
      add(
        'stop',
        'picture',
        `${part.name} is filled with "${fill.picture}", which the template does not carry; choose another picture.`,
      )
    const block = settled.blocks[i]
    if (block) checkText(part, block, add)
    const way = settled.drawings.wayOf(part, settled.rest)
    if (way && block && block.fit.width > way.path.length + 0.5)
      add(
        'stop',
        'along',
        `${part.name} runs ${Math.ceil(block.fit.width - way.path.length)} px past the end of its path; shorten it or draw the path longer.`,
      )
    if (!way) checkSafe(scene, settled, i, add)
  })
  for (const note of settled.rest.notes)
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
  checkReading(settled, timing, scene, row, findings)
  return findings
}

const percent = (share: number) => `${Math.round(share * 100)} %`

function checkText(
  part: Part,
  block: Block,
  add: (level: Finding['level'], code: string, message: string) => void,
): void {
  if (block.missing.length > 0)
    add(
      'stop',
      'missing',
      `${part.name} has ${block.missing.length === 1 ? 'a character' : 'characters'} that no font of the template has: ${block.missing.join(', ')}; change it or add a font.`,
    )
  if (block.fit.overflow > 0)
    add(
      'stop',
      'overflow',
      `${part.name} runs ${Math.ceil(block.fit.overflow)} px past its room after every fit step; shorten it.`,
    )
  if (block.fit.cut > 0) add('look', 'cut', `${part.name} is cut by ${block.fit.cut} characters.`)
  for (const use of block.fit.steps) {
    if (use.step === 'cut' || use.used < lookAt || block.fit.overflow > 0) continue
    const how =
      use.step === 'wrap'
        ? `takes all ${use.to} lines`
        : use.step === 'tighten'
          ? `is tightened by ${Math.round(use.from - use.to)} of ${Math.round(use.from - use.bound)}`
          : use.step === 'condense'
            ? `is condensed to ${percent(use.to)}, the limit is ${percent(use.bound)}`
            : `shrinks to ${percent(use.to)}, the limit is ${percent(use.bound)}`
    add('look', `fit.${use.step}`, `${part.name} ${how}.`)
  }
}

function checkSafe(
  scene: Scene,
  settled: Settled,
  i: number,
  add: (level: Finding['level'], code: string, message: string) => void,
): void {
  const part = settled.rest.order.parts[i]!
  if (part.kind === 'group' || settled.content.looks[i]!.matteOnly) return
  const box = boxOf(settled.rest, i)
  const region = part.kind === 'text' ? 'title' : 'action'
  const [left, width] = regionOf(scene.template.frame, region, 'x')
  const [top, height] = regionOf(scene.template.frame, region, 'y')
  const past = Math.max(left - box.x, box.x + box.width - left - width, top - box.y, box.y + box.height - top - height)
  // A plate may run out of the frame by design; a text may not.
  if (past > 0.5)
    add(
      part.kind === 'text' ? 'stop' : 'look',
      `safe.${region}`,
      `${part.name} stands ${Math.ceil(past)} px outside ${region}-safe.`,
    )
}

function checkReading(settled: Settled, timing: Timing, scene: Scene, row: number, findings: Finding[]): void {
  const characters = settled.blocks.reduce(
    (sum, block, i) => sum + (block && !settled.rest.gone[i] ? characterCount(block.text) : 0),
    0,
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

/** The state of a row in one word. */
export function stateOf(findings: readonly Pick<Finding, 'level'>[]): 'stop' | 'look' | 'fine' {
  return findings.some((f) => f.level === 'stop') ? 'stop' : findings.length > 0 ? 'look' : 'fine'
}
