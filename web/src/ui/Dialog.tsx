import { Dialog as Radix } from 'radix-ui'
import type { ReactNode } from 'react'

export function Dialog({
  open,
  onOpenChange,
  title,
  children,
  footer,
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  title: string
  children: ReactNode
  footer?: ReactNode
}) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Radix.Content
          className="fixed top-1/2 left-1/2 z-50 flex max-h-[86vh] w-[560px] max-w-[92vw] -translate-x-1/2 -translate-y-1/2 flex-col rounded-[3px] border border-rule bg-paper"
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
