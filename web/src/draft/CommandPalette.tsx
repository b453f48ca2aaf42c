import { Command as Cmdk } from 'cmdk'
import { useEffect, useRef } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { shortcutWords } from '../ui/shortcutWords.ts'
import type { Command } from './commands.ts'

/** Every command by its name: type a few letters, press Enter. */
export function CommandPalette({
  commands,
  open,
  onOpen,
}: {
  commands: readonly Command[]
  open: boolean
  onOpen: (open: boolean) => void
}) {
  useHotkeys('mod+k', () => onOpen(true), { preventDefault: true, enableOnFormTags: true })
  // What is chosen happens when the palette has gone and the focus is back: it may take the focus itself.
  const chosen = useRef<Command | undefined>(undefined)
  useEffect(() => {
    const { current } = chosen
    if (open || !current) return
    chosen.current = undefined
    setTimeout(() => current.run())
  }, [open])
  const groups = [...new Set(commands.map((command) => command.group))]
  return (
    <Cmdk.Dialog
      open={open}
      onOpenChange={onOpen}
      label="Commands"
      className="fixed top-[16vh] left-1/2 z-50 w-[460px] -translate-x-1/2 border border-rule bg-paper"
      overlayClassName="fixed inset-0 z-40 bg-ink/30"
    >
      <Cmdk.Input
        placeholder="What should happen?"
        className="w-full border-b border-rule bg-white px-3 py-2 text-base outline-none"
      />
      <Cmdk.List className="max-h-[46vh] overflow-auto py-1">
        <Cmdk.Empty className="px-3 py-3 text-soft">Nothing is called that.</Cmdk.Empty>
        {groups.map((group) => (
          <Cmdk.Group
            key={group}
            heading={group}
            className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-soft"
          >
            {commands
              .filter((command) => command.group === group)
              .map((command) => (
                <Cmdk.Item
                  key={command.id}
                  value={`${command.name} ${command.id}`}
                  onSelect={() => {
                    chosen.current = command
                    onOpen(false)
                  }}
                  className="flex cursor-pointer justify-between px-3 py-1 data-[selected=true]:bg-leaf-pale"
                >
                  {command.name}
                  {command.keys && <span className="text-xs text-soft">{shortcutWords(command.keys)}</span>}
                </Cmdk.Item>
              ))}
          </Cmdk.Group>
        ))}
      </Cmdk.List>
    </Cmdk.Dialog>
  )
}
