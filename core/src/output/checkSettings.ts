import { shortestDuration } from '../motion/index.ts'
import { demand } from '../refusal/index.ts'
import type { Template } from '../template/index.ts'
import { frameOfTimecode } from '../time/index.ts'
import { outputFormats } from './formats.ts'
import { checkPattern } from './names.ts'
import { frameOf, type OutputSettings, templateFor } from './settings.ts'

/**
 * What the settings of an order ask for that can't be done.
 * @throws Refusal for the first such thing
 */
export function checkSettings(settings: OutputSettings, template: Template): void {
  const facts = outputFormats[settings.format]
  const frame = frameOf(settings, template)
  const least = Math.max(1, shortestDuration(templateFor(settings, template).spans))
  demand(
    settings.frames === undefined || settings.frames >= least,
    'duration.short',
    `${settings.frames} frames are too few: In and Out need ${least}.`,
  )
  demand(
    settings.alpha !== 'premultiplied' || facts.alpha === 'either',
    'output.alpha',
    `${facts.name} ${facts.alpha === 'straight' ? 'has straight alpha only' : 'has no alpha that could be premultiplied'}; choose straight, or another format.`,
  )
  demand(
    !facts.even || (frame.width % 2 === 0 && frame.height % 2 === 0),
    'output.even',
    `${facts.name} keeps colour for two pixels by two, so ${frame.width} x ${frame.height} does not fit; make both even.`,
  )
  demand(
    facts.backdrop !== 'never' || !settings.backdrop,
    'output.backdrop',
    `${facts.name} has alpha of its own and nothing under it; leave the backdrop out, or choose MP4.`,
  )
  demand(
    settings.backdrop?.kind !== 'footage' || settings.format === 'mp4',
    'output.backdrop',
    `Footage can lie under MP4 only; choose a colour for ${facts.name}.`,
  )
  if (settings.timecode !== undefined && settings.timecode !== '') frameOfTimecode(settings.timecode, frame.rate)
  if (settings.pattern !== undefined) checkPattern(settings.pattern, template)
}
