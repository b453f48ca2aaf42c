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
  /** The part that lies over the one that is told, and hides it. */
  over?: string
  /** In which of the template's shapes of frame alone, by its id; absent: in all. */
  shape?: ShapeId
}

/** The state of a row in one word. */
export function stateOf(findings: readonly Pick<Finding, 'level'>[]): 'stop' | 'look' | 'fine' {
  return findings.some((f) => f.level === 'stop') ? 'stop' : findings.length > 0 ? 'look' : 'fine'
}

/** What is found about a row, and whether its picture was looked at, too. */
export interface RowFound {
  readonly findings: readonly Finding[]
  readonly isLooked: boolean
}

/** The state of a row in one word; fine is said after a look at its picture, `checked` until then. */
export function stateOfRow({ findings, isLooked }: RowFound): 'stop' | 'look' | 'fine' | 'checked' {
  const state = stateOf(findings)
  return state === 'fine' && !isLooked ? 'checked' : state
}

/** Of findings the one to be told where there is room for one: the first of the worst. */
export const worstOf = <T extends Pick<Finding, 'level'>>(findings: readonly T[]): T | undefined =>
  findings.find(({ level }) => level === 'stop') ?? findings[0]

/** Of findings those that a title in a shape of the frame has. */
export const inThatShape = <T extends Pick<Finding, 'shape'>>(findings: readonly T[], shape: ShapeId): T[] =>
  findings.filter((finding) => finding.shape === undefined || finding.shape === shape)
