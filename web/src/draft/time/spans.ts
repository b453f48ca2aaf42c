import { keysOf } from '@hoja/core/motion'
import { allParts, type Change, type SpanName, type Spans, type Template, withinSpans } from '@hoja/core/template'

/** Where a frame of the title as designed lies. */
export function spanAt(spans: Spans, frame: number): { span: SpanName; at: number } {
  if (frame < spans.in) return { span: 'in', at: frame }
  if (frame < spans.in + spans.hold.frames) return { span: 'hold', at: frame - spans.in }
  return { span: 'out', at: frame - spans.in - spans.hold.frames }
}

/** New spans; keys past the end of a shorter one are brought to its end, so that everything still arrives within it. */
export function clippedSpans(template: Template, spans: Spans): Change {
  const length = { in: spans.in, hold: spans.hold.frames, out: spans.out }
  const clipped = allParts(template.parts)
    .filter((part) => keysOf(part).some((key) => key.at > length[key.span]))
    .map((part): Change => ({ kind: 'motion', part: part.id, motion: withinSpans(part.motion, spans) }))
  // A poster that showed the settled pose still does.
  const { poster } = template
  const moved: Change[] =
    poster.frame === template.spans.in ? [{ kind: 'poster', poster: { ...poster, frame: spans.in } }] : []
  return { kind: 'several', changes: [{ kind: 'spans', spans }, ...moved, ...clipped] }
}
