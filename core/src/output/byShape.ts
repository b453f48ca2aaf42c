import { demand } from '../refusal/index.ts'
import { firstShape, shapeNamed, shapeWord, type Template } from '../template/index.ts'
import { patternFor, shapedPattern } from './names.ts'
import type { OutputSettings } from './settings.ts'

/**
 * The settings of an order by the shapes that it asks for: those of one output each. Its files say in which shape they are
 * where there are several, and where it is another than the first and nobody named them.
 * @throws Refusal for a shape that is not there, or a size that would be that of several shapes
 */
export function settingsByShape({ shapes = [], ...settings }: OutputSettings, template: Template): OutputSettings[] {
  const chosen = [
    ...new Map(shapes.map((word) => shapeNamed(template, word)).map((shape) => [shape.id, shape])).values(),
  ]
  if (chosen.length === 0) return [settings]
  const [one] = chosen
  if (chosen.length === 1) {
    const isNamed = one!.id === firstShape || settings.pattern !== undefined
    return [{ ...settings, shape: one!.id, ...(isNamed ? {} : { pattern: shapedPattern(patternFor(template)) }) }]
  }
  demand(
    !settings.size,
    'output.size',
    'A size of its own can be given to one shape at a time; leave the size out, or choose one shape.',
  )
  const { keep, pattern = patternFor(template) } = settings
  return chosen.map((shape) => ({
    ...settings,
    shape: shape.id,
    pattern: shapedPattern(pattern),
    ...(keep ? { keep: { ...keep, folder: `${keep.folder}/${shapeWord(shape)}` } } : {}),
  }))
}
