import { Dialog as Radix } from 'radix-ui'
import type { ReactNode } from 'react'
import { classes } from './controls.tsx'

export function Dialog({
  open,
  onOpenChange,
  title,
  children,
  footer,
  wide,
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  title: string
  children: ReactNode
  footer?: ReactNode
  /** For pictures side by side. */
  wide?: boolean
}) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Radix.Content
          className={classes(
            'fixed top-1/2 left-1/2 z-50 flex max-h-[90vh] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 flex-col rounded-[3px] border border-rule bg-paper',
            wide ? 'w-[980px]' : 'w-[560px]',
          )}
          aria-describedby={undefined}
        >
          <Radix.Title className="border-b border-rule px-4 py-2.5 text-base font-semibold">{title}</Radix.Title>
          <div className="overflow-auto px-4 py-3">{children}</div>
          {footer && <div className="flex justify-end gap-2 border-t border-rule px-4 py-2.5">{footer}</div>}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
