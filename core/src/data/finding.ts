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

/** The state of a row in one word. */
export function stateOf(findings: readonly Pick<Finding, 'level'>[]): 'stop' | 'look' | 'fine' {
  return findings.some((f) => f.level === 'stop') ? 'stop' : findings.length > 0 ? 'look' : 'fine'
}
