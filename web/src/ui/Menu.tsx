import { Check } from 'lucide-react'
import { ContextMenu, DropdownMenu } from 'radix-ui'
import { type ReactElement, type ReactNode, useState } from 'react'
import { classes } from './controls.tsx'

export interface MenuEntry {
  label: string
  onSelect: () => void
  /** Shows a tick; the menu stays open so that several can be set. */
  checked?: boolean
  disabled?: boolean
  keys?: string
}

/** A button with a list of actions; `null` draws a rule between them, a text a heading. */
export function Menu({
  label,
  children,
  entries,
  align = 'start',
  className,
}: {
  /** Name for a screen reader, when the button's own words don't say it. */
  label?: string
  children: ReactNode
  /** Asked for when the menu opens. */
  entries: () => readonly (MenuEntry | string | null)[]
  align?: 'start' | 'end'
  className?: string
}) {
  const [open, setOpen] = useState(false)
  return (
    <DropdownMenu.Root modal={false} open={open} onOpenChange={setOpen}>
      <DropdownMenu.Trigger
        aria-label={label}
        title={label}
        className={classes(
          'flex h-6 items-center gap-1 rounded-[3px] px-1.5 text-xs font-medium hover:bg-chalk data-[state=open]:bg-leaf-pale',
          className,
        )}
      >
        {children}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align={align} className={listClasses}>
          <Entries of={DropdownMenu} entries={open ? entries() : []} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

const listClasses = 'z-[60] max-h-[70vh] min-w-40 overflow-auto border border-rule bg-white py-1'

/** The same list where the pointer is: on the right button, the menu key and a long press. */
export function MenuHere({
  entries,
  children,
}: {
  /** Asked for when the menu opens; an empty list opens none. */
  entries: () => readonly (MenuEntry | string | null)[]
  children: ReactElement
}) {
  const [list, setList] = useState<readonly (MenuEntry | string | null)[]>([])
  return (
    <ContextMenu.Root modal={false} onOpenChange={(open) => setList(open ? entries() : [])}>
      {/* Of menus within one another the innermost is meant. */}
      <ContextMenu.Trigger asChild onContextMenu={(event) => event.stopPropagation()}>
        {children}
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        {list.length > 0 && (
          <ContextMenu.Content className={listClasses}>
            <Entries of={ContextMenu} entries={list} />
          </ContextMenu.Content>
        )}
      </ContextMenu.Portal>
    </ContextMenu.Root>
  )
}

/** The same list at a place of the window (CSS px), for what opens it by itself. */
export function MenuAt({
  x,
  y,
  entries,
  onClose,
}: {
  x: number
  y: number
  entries: readonly (MenuEntry | string | null)[]
  onClose: () => void
}) {
  return (
    <DropdownMenu.Root modal={false} open onOpenChange={onClose}>
      <DropdownMenu.Trigger asChild>
        <span className="fixed size-0" style={{ left: x, top: y }} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className={listClasses}>
          <Entries of={DropdownMenu} entries={entries} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

function Entries({
  entries,
  of: Of,
}: {
  entries: readonly (MenuEntry | string | null)[]
  of:
    | Pick<typeof DropdownMenu, 'Separator' | 'Label' | 'Item'>
    | Pick<typeof ContextMenu, 'Separator' | 'Label' | 'Item'>
}) {
  return (
    <>
      {entries.map((entry, i) =>
        entry === null ? (
          <Of.Separator key={i} className="my-1 border-t border-rule" />
        ) : typeof entry === 'string' ? (
          <Of.Label key={entry} className="px-3 pt-1 text-xs text-soft">
            {entry}
          </Of.Label>
        ) : (
          <Of.Item
            key={entry.label}
            disabled={entry.disabled ?? false}
            role={entry.checked === undefined ? 'menuitem' : 'menuitemcheckbox'}
            aria-checked={entry.checked}
            onSelect={(event) => {
              if (entry.checked !== undefined) event.preventDefault()
              entry.onSelect()
            }}
            className="flex items-center gap-2 px-3 py-1 whitespace-nowrap outline-none data-[disabled]:text-soft data-[disabled]:opacity-60 data-[highlighted]:bg-leaf-pale"
          >
            {entry.checked !== undefined && (
              <span className="w-3.5">{entry.checked && <Check size={13} aria-hidden="true" />}</span>
            )}
            <span className="flex-1">{entry.label}</span>
            {entry.keys && <span className="pl-4 text-xs text-soft">{entry.keys}</span>}
          </Of.Item>
        ),
      )}
    </>
  )
}
