import type { Finding } from '@hoja/core/data'
import type { ReactNode } from 'react'
import { StateWord } from './controls.tsx'

/** What was found, in its sentence, with the fix as one press where there is one. */
export function FindingLine({
  finding: { level, message, field, fix },
  onFix,
  children,
}: {
  finding: Pick<Finding, 'level' | 'message' | 'field' | 'fix'>
  onFix: (field: string, text: string) => void
  children?: ReactNode
}) {
  return (
    <p className="py-0.5">
      <StateWord state={level} /> {message}{' '}
      {fix !== undefined && field !== undefined && (
        <button type="button" className="font-semibold text-leaf hover:underline" onClick={() => onFix(field, fix)}>
          Tidy it
        </button>
      )}
      {children}
    </p>
  )
}
