import type { ShapeId } from '../template/index.ts'

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
  /** In which of the template's shapes of frame alone, by its id; absent: in all. */
  shape?: ShapeId
}

/** The state of a row in one word. */
export function stateOf(findings: readonly Pick<Finding, 'level'>[]): 'stop' | 'look' | 'fine' {
  return findings.some((f) => f.level === 'stop') ? 'stop' : findings.length > 0 ? 'look' : 'fine'
}

/** Of findings those that a title in a shape of the frame has. */
export const inThatShape = <T extends Pick<Finding, 'shape'>>(findings: readonly T[], shape: ShapeId): T[] =>
  findings.filter((finding) => finding.shape === undefined || finding.shape === shape)
