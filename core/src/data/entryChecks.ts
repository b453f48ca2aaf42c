import { framesOfRun, passing, readingSpeed, type Timing } from '../motion/index.ts'
import { charactersOf, type EntryStrip, type Layout, type Scene } from '../scene/index.ts'
import type { AxisName } from '../template/index.ts'
import { secondsOf } from '../time/index.ts'
import type { Finding } from './finding.ts'

/** A title with lists that are gone through, as its checks look at it. */
interface Gone {
  scene: Scene
  layout: Layout
  timing: Timing
  row: number
}

/** How many times an entry of a roll could be read while it crosses its window, and seconds that it takes at least: common practice. */
const rollReads = 2
const rollSeconds = 3

const wordsOf = ({ code, part, message }: Finding) => JSON.stringify([code, part, message])

/**
 * What is found about each of several states of a title, told once where it is so in all of them, and else with the state in
 * which it is.
 */
export function ofSeveral(
  states: readonly { name: string; findings: readonly Finding[]; shape?: string }[],
): Finding[] {
  const counts = new Map<string, number>()
  for (const { findings } of states)
    for (const words of new Set(findings.map(wordsOf))) counts.set(words, (counts.get(words) ?? 0) + 1)
  const isEverywhere = (finding: Finding) => counts.get(wordsOf(finding)) === states.length
  return [
    ...states[0]!.findings.filter(isEverywhere),
    ...states.flatMap(({ name, findings, shape }) =>
      findings
        .filter((finding) => !isEverywhere(finding))
        .map((finding) => ({ ...finding, ...(shape ? { shape } : {}), message: `${name}: ${finding.message}` })),
    ),
  ]
}

const turnName = (n: number, count: number) => `Text ${n + 1} of ${count}`

/** What is found about each of the texts that come in turn, told as of several states. */
export function turnFindings(scene: Scene, layout: Layout, of: (layout: Layout) => Finding[]): Finding[] {
  const { turns } = scene.entries(layout)
  if (turns === 1) return of(layout)
  return ofSeveral(
    Array.from({ length: turns }, (_, turn) => ({
      name: turnName(turn, turns),
      findings: of(turn === 0 ? layout : scene.entry(layout, { turn, item: -1 })),
    })),
  )
}

/** What is wrong with the texts of an entry that runs: parts by index, and the axis across which it does. */
export type TextsOf = (layout: Layout, strip: { holds: readonly number[]; across: AxisName }) => Finding[]

/**
 * What is wrong with the texts of a title that come in turn, with the entries of its rolls and crawls, and with their time.
 * @param of what is wrong with one state of it
 * @param texts what is wrong with the texts of an entry that runs
 */
export function entryFindings(
  { scene, layout, timing, row }: Gone,
  of: (layout: Layout) => Finding[],
  texts: TextsOf,
): Finding[] {
  const entries = scene.entries(layout)
  const findings = turnFindings(scene, layout, of)
  timing.turns?.forEach((turn, i) => {
    const needs = entries.reads[i]!
    const stands = turn.to - turn.from
    if (needs > stands)
      findings.push({
        row,
        level: 'look',
        code: 'reading',
        message: `${turnName(i, entries.turns)} takes about ${seconds(scene, needs)} s to read and stands for ${seconds(scene, stands)} s; make the title longer, or shorten the text.`,
      })
  })
  for (const strip of entries.strips.values()) {
    findings.push(...stripTexts(scene, layout, strip, texts))
    findings.push(...stripTime({ scene, layout, timing, row }, strip))
  }
  return findings
}

const seconds = (scene: Scene, frames: number) => secondsOf(frames, scene.template.frame.rate).toFixed(1)

/** What is wrong with the texts of a strip's entries: of many alike the first is told, and how many more there are. */
function stripTexts(scene: Scene, layout: Layout, { entries, of }: EntryStrip, texts: TextsOf): Finding[] {
  const strip = { holds: of.holds, across: of.way === 'crawl' ? ('y' as const) : ('x' as const) }
  const alike = new Map<string, { first: Finding; item: number; more: number }>()
  for (const { item } of entries)
    for (const finding of texts(scene.entry(layout, { turn: 0, item }), strip)) {
      const key = `${finding.code} ${finding.part}`
      const known = alike.get(key)
      if (known) known.more++
      else alike.set(key, { first: finding, item, more: 0 })
    }
  return [...alike.values()].map(({ first, item, more }) => ({
    ...first,
    message: `Entry ${item + 1}${more > 0 ? ` (and ${more} more)` : ''}: ${first.message}`,
  }))
}

function stripTime({ scene, layout, timing, row }: Gone, strip: EntryStrip): Finding[] {
  const { of, entries } = strip
  const { name, id } = of.part
  const { rate } = scene.template.frame
  if (of.way === 'pages' || entries.length === 0) return []
  const findings: Finding[] = []
  const add = (level: Finding['level'], code: string, message: string) =>
    findings.push({ row, part: id, level, code, message })
  const takes = framesOfRun(strip, strip.pace, rate)
  if (takes !== undefined && takes > timing.hold)
    add(
      'stop',
      'run',
      `${name} takes ${seconds(scene, takes)} s at its speed and has ${seconds(scene, timing.hold)} s, so its end is not seen; give the title ${takes - timing.hold} frames more, or let it end on time.`,
    )
  const step = strip.step(timing.hold)
  const speed = (step * rate.num) / rate.den
  if (of.way === 'crawl') {
    const { passes, most } = passing(strip, step, rate)
    if (passes > most)
      add(
        'look',
        'pace',
        `${name} passes at ${passes.toFixed(0)} characters a second, and ${most.toFixed(0)} are read with ease; slow it to ${Math.floor((speed * most) / passes)} px/s.`,
      )
    return findings
  }
  const slowest = entries.map(({ size, item }) => {
    const read = charactersOf(scene.entry(layout, { turn: 0, item }), of.holds) / readingSpeed
    return { item, most: (strip.window + size) / Math.max(rollSeconds, rollReads * read) }
  })
  const worst = slowest.reduce((one, other) => (other.most < one.most ? other : one))
  if (speed > worst.most)
    add(
      'look',
      'pace',
      `${name} rolls at ${speed.toFixed(0)} px/s, too fast for entry ${worst.item + 1} to be read; slow it to ${Math.floor(worst.most)} px/s.`,
    )
  return findings
}
