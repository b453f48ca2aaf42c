import { wordKeysOf } from '../data/index.ts'
import type { Layout, Scene } from '../scene/index.ts'
import { allParts, updateOf } from '../template/index.ts'
import type { MeasuredRun } from './run.ts'
import type { AirDesign } from './state.ts'

/** The endless run of a filling as it was measured; undefined where it has none. @param scene for the channel's frame */
export function measuredRun(scene: Scene, layout: Layout): MeasuredRun | undefined {
  const [run] = scene.endless(layout)
  if (!run) return undefined
  const { strip } = run
  const way = { window: strip.window, gap: strip.style.entryGap, step: strip.openStep, back: strip.isBack }
  return { way, items: scene.runEntries(layout, run) }
}

/** What a channel has to know of a version. @param scene for the channel's frame */
export function airDesign(scene: Scene, { template: id, number }: { template: string; number: number }): AirDesign {
  const { template } = scene
  const { spans, frame } = template
  const { pace, fade, words } = updateOf(template)
  // The longest way there is goes from one side of the frame to the other.
  const travels =
    pace.kind === 'time'
      ? pace.frames
      : Math.ceil((Math.max(frame.width, frame.height) / pace.speed) * (frame.rate.num / frame.rate.den))
  const moves =
    words === 'moves' || allParts(template.parts).some(({ motion }) => motion.update) ? spans.in + spans.out : 0
  const lists = scene
    .endless(scene.layout({}))
    .flatMap(({ strip }) => template.fields.filter(({ id: one }) => strip.of.lists.has(one)).map(({ key }) => key))
  return {
    template: id,
    name: template.name,
    number,
    in: spans.in,
    out: spans.out,
    update: Math.max(travels, fade.out, fade.after + fade.in, moves),
    onAir: template.fields.filter(({ onAir }) => onAir).map(({ key }) => key),
    lists,
    words: wordKeysOf(template),
  }
}
