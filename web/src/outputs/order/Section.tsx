import type { ReactNode } from 'react'

/** A part of an order, with its heading. */
export function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="border-t border-rule py-2.5 first:border-t-0">
      <h2 className="pb-1 text-xs font-medium tracking-wide text-soft">{title}</h2>
      {children}
    </section>
  )
}
