import { shortestDuration } from '../motion/index.ts'
import { demand } from '../refusal/index.ts'
import type { Template } from '../template/index.ts'
import { frameOfTimecode, type Rate, rateText } from '../time/index.ts'
import { outputFormats } from './formats.ts'
import { gifThinning } from './frames.ts'
import { checkPattern } from './names.ts'
import { frameOf, type OutputSettings, settingBounds, templateFor } from './settings.ts'

/**
 * What the settings of an order ask for that can't be done.
 * @throws Refusal for the first such thing
 */
export function checkSettings(settings: OutputSettings, template: Template): void {
  const facts = outputFormats[settings.format]
  checkBounds(settings)
  const frame = frameOf(settings, template)
  const least = Math.max(1, shortestDuration(templateFor(settings, template).spans))
  demand(
    settings.frames === undefined || settings.frames >= least,
    'duration.short',
    `${settings.frames} ${settings.frames === 1 ? 'frame is' : 'frames are'} too few: In and Out need ${least}.`,
  )
  demand(
    settings.alpha !== 'premultiplied' || facts.alpha === 'either' || facts.alpha === 'premultiplied',
    'output.alpha',
    `${facts.name} ${facts.alpha === 'straight' ? 'has straight alpha only' : 'has no alpha that could be premultiplied'}; choose straight, or another format.`,
  )
  const isFit =
    facts.halved === 'no' || (frame.width % 2 === 0 && (facts.halved === 'across' || frame.height % 2 === 0))
  demand(
    isFit,
    'output.even',
    `${facts.name} keeps colour for ${facts.halved === 'both' ? 'two pixels by two' : 'two pixels'}, so ${frame.width} x ${frame.height} does not fit; make ${facts.halved === 'both' ? 'both' : 'the width'} even.`,
  )
  const { least: [width, height] = [1, 1], step: [across, down] = [1, 1] } = facts
  const up = (value: number, step: number) => Math.ceil(value / step) * step
  demand(
    frame.width >= width && frame.height >= height,
    'output.size',
    `${facts.name} takes frames from ${width} x ${height} on, not ${frame.width} x ${frame.height}; choose another format.`,
  )
  demand(
    frame.width % across === 0 && frame.height % down === 0,
    'output.size',
    `${facts.name} takes widths in steps of ${across} px and heights in steps of ${down}, not ${frame.width} x ${frame.height}; choose ${up(frame.width, across)} x ${up(frame.height, down)}, or another format.`,
  )
  demand(
    !settings.fields || !facts.fields || frame.height % 2 === 0,
    'output.fields',
    `A frame of two fields has an even height, not ${frame.height}; make it even, or leave the fields out.`,
  )
  demand(
    facts.backdrop !== 'never' || !settings.backdrop,
    'output.backdrop',
    `${facts.name} has alpha of its own and nothing under it; leave the backdrop out, or choose a format without alpha.`,
  )
  demand(
    settings.backdrop?.kind !== 'footage' || facts.backdrop === 'always',
    'output.backdrop',
    `Footage can't lie under a ${facts.name}; choose a colour.`,
  )
  for (const key of Object.keys(settings.change?.cells ?? {}))
    demand(
      template.fields.some((field) => field.key === key),
      'output.change',
      `"${key}" is not a field of "${template.name}"; only its fields can change.`,
    )
  if (settings.timecode !== undefined && settings.timecode !== '') frameOfTimecode(settings.timecode, frame.rate)
  if (settings.pattern !== undefined) checkPattern(settings.pattern, template)
}

/** @throws Refusal for what is counted too low or too high */
function checkBounds({ size, rate, frames, handles }: OutputSettings): void {
  const inside = (value: number, [least, most]: readonly [number, number]) => value >= least && value <= most
  const { side, frames: some, handle, rate: speed } = settingBounds
  demand(
    !size || (inside(size.width, side) && inside(size.height, side)),
    'output.size',
    `A frame of ${size?.width} x ${size?.height} can't be drawn; each side has ${side[0]} to ${side[1]} px.`,
  )
  demand(
    !rate || inside(rate.num / rate.den, speed),
    'output.rate',
    `${rate && rateText(rate)} frames a second can't be; there are ${speed[0]} to ${speed[1]}.`,
  )
  demand(
    frames === undefined || inside(frames, some),
    'output.frames',
    `A title of ${frames} frames can't be; it has ${some[0]} to ${some[1]}.`,
  )
  demand(
    !handles || (inside(handles.before, handle) && inside(handles.after, handle)),
    'output.handles',
    `Handles of ${handles?.before} and ${handles?.after} frames can't be; each has ${handle[0]} to ${handle[1]}.`,
  )
}

/**
 * What an order says in vain, or what its format does to it, in sentences: nothing that was asked for is left out in
 * silence.
 */
export function notesOn(settings: OutputSettings, template: Template): string[] {
  const facts = outputFormats[settings.format]
  const { name, timecode, sound, still } = facts
  const { rate } = frameOf(settings, template)
  const every = gifThinning(rate)
  return [
    ...(settings.timecode && !timecode ? [`${name} carries no timecode, so ${settings.timecode} is left out.`] : []),
    ...(settings.silent && !sound ? [`${name} has no sound anyway.`] : []),
    ...(settings.silent && sound && template.sounds.length === 0 ? ['The template has no sounds to leave out.'] : []),
    ...(settings.frames !== undefined && still ? [`${name} is one frame, so a length changes nothing in it.`] : []),
    ...(settings.handles && still ? [`${name} is one frame, so it has no handles.`] : []),
    ...(settings.fields && !facts.fields
      ? [`${name} can't say that a frame is two fields, so it is drawn whole.`]
      : []),
    ...(settings.pieces && still ? [`${name} is one frame, so it has no pieces.`] : []),
    ...(settings.marks && still ? [`${name} is one frame, so nothing in it is marked.`] : []),
    ...(settings.conform && (settings.pieces || still)
      ? [
          still
            ? `${name} is one frame, so no list puts it in an edit.`
            : 'Pieces are as long as their edit makes them, so no list puts them in place.',
        ]
      : []),
    ...(settings.at !== undefined && !still ? [`${name} has every frame, so none is chosen.`] : []),
    ...(settings.alpha === 'straight' && facts.alpha === 'premultiplied'
      ? [`${name} is premultiplied, as its standard has it.`]
      : []),
    ...(settings.keepSizes && !settings.size ? ['Sizes are kept only at another size of frame; none was given.'] : []),
    ...(settings.format === 'gif' && every > 1
      ? [
          `A GIF can't show ${rateWords(rate)} frames a second; it shows one of ${every}, ${rateWords({ num: rate.num, den: rate.den * every })} a second.`,
        ]
      : []),
  ]
}

const rateWords = ({ num, den }: Rate) => String(Number((num / den).toFixed(2)))
