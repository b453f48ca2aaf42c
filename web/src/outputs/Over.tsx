import type { ReactNode } from 'react'
import { Backdrop } from '../preview/Backdrop.tsx'

/** The look of what is shown over the backdrop: as large as the column allows, in its own shape. */
export const seen = 'relative block max-h-80 max-w-full'

/** A picture or movie that was made, over the backdrop where it is clear. */
export function Over({ clear, children }: { clear: boolean; children: ReactNode }) {
  return (
    <div className="relative mx-auto w-fit overflow-hidden border border-rule bg-[#7a7a77]">
      {clear && <Backdrop />}
      {children}
    </div>
  )
}
