import { checkKinds, type Template } from '../template/index.ts'
import type { Finding } from './finding.ts'

/** The check that a finding is of: `fit.shrink` is of `fit`. */
const kindOf = (code: string) => (Object.hasOwn(checkKinds, code) ? code : code.slice(0, code.indexOf('.')))

/** Findings as the template's designer weighs them. */
export function weighed(template: Template, findings: readonly Finding[]): Finding[] {
  const { levels } = template
  if (!levels) return [...findings]
  return findings.flatMap((finding) => {
    const level = levels[kindOf(finding.code)] ?? finding.level
    return level === 'off' ? [] : [{ ...finding, level }]
  })
}
