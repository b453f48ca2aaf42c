import type { Change, SpanName, Spans, Template } from '@hoja/core/template'

/** Where a frame of the title as designed lies. */
export function spanAt(spans: Spans, frame: number): { span: SpanName; at: number } {
  if (frame < spans.in) return { span: 'in', at: frame }
  if (frame < spans.in + spans.hold.frames) return { span: 'hold', at: frame - spans.in }
  return { span: 'out', at: frame - spans.in - spans.hold.frames }
}

/** New spans; a poster that showed the settled pose still does. */
export function clippedSpans(template: Template, spans: Spans): Change {
  const { poster } = template
  const moved: Change[] =
    poster.frame === template.spans.in ? [{ kind: 'poster', poster: { ...poster, frame: spans.in } }] : []
  return { kind: 'several', changes: [{ kind: 'spans', spans }, ...moved] }
}
