import type { ReactNode } from 'react'
import { Button } from '../ui/controls.tsx'

/** One kind of what a template carries. */
export function Section({ title, note, children }: { title: string; note: ReactNode; children: ReactNode }) {
  return (
    <section aria-label={title} className="mb-7">
      <h2 className="text-lg font-semibold">
        {title} <span className="text-sm font-normal text-soft">{note}</span>
      </h2>
      {children}
    </section>
  )
}

/** Where something is used, in one line; what is used by nothing in the template can go. */
export function Uses({
  uses,
  otherwise = 'used nowhere',
  onRemove,
  name,
}: {
  uses: string[]
  /** Said of what nothing in the template uses. */
  otherwise?: string
  onRemove: () => void
  name: string
}) {
  const words = uses.slice(0, 3).join(', ') + (uses.length > 3 ? ` and ${uses.length - 3} more` : '')
  return (
    <span className="flex items-center justify-between gap-2">
      <span className="text-soft">{uses.length > 0 ? `used by ${words}` : otherwise}</span>
      {uses.length === 0 && (
        <Button small aria-label={`Remove ${name}`} onClick={onRemove}>
          Remove
        </Button>
      )}
    </span>
  )
}
