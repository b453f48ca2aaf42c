import { freeId, type Template } from '@hoja/core/template'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { Button, Heading, Line, TextInput } from '../../ui/controls.tsx'

/** How often a palette colour is named in the drawing. */
export function usesOf(template: Template, id: string): number {
  return JSON.stringify(template.parts).split(`"palette:${id}"`).length - 1
}

/** The named colours: a change here recolours everything that uses them. */
export function Palette() {
  const palette = useDraft((draft) => draft.template!.palette)
  const { change } = useDraft.getState()
  const put = (next: Template['palette'], what: string, drag?: string) =>
    change({ kind: 'palette', palette: next }, what, drag)
  const renew = (id: string, more: Partial<Template['palette'][number]>, what: string, drag?: string) =>
    put(
      palette.map((entry) => (entry.id === id ? { ...entry, ...more } : entry)),
      what,
      drag,
    )
  const remove = (entry: Entry) =>
    put(
      palette.filter((other) => other.id !== entry.id),
      `removing ${entry.name}`,
    )
  const add = () => {
    const id = freeId(
      palette.map((entry) => entry.id),
      'colour',
    )
    put([...palette, { id, name: `Colour ${palette.length + 1}`, colour: '#8aa39b' }], 'adding a palette colour')
  }
  return (
    <>
      <Heading aside={palette.length}>Palette</Heading>
      <div className="flex flex-wrap gap-1.5 px-3.5">
        {palette.map((entry) => (
          <Swatch key={entry.id} entry={entry} onRenew={renew} onRemove={remove} />
        ))}
        <button
          type="button"
          aria-label="Add a palette colour"
          className="size-7 border border-dashed border-soft text-soft hover:text-ink"
          onClick={add}
        >
          +
        </button>
      </div>
    </>
  )
}

type Entry = Template['palette'][number]

function Swatch({
  entry,
  onRenew,
  onRemove,
}: {
  entry: Entry
  onRenew: (id: string, more: Partial<Entry>, what: string, drag?: string) => void
  onRemove: (entry: Entry) => void
}) {
  const [open, setOpen] = useState(false)
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        aria-label={`Palette colour ${entry.name}`}
        title={entry.name}
        className="size-7 border border-rule"
        style={{ background: entry.colour }}
      />
      <Popover.Portal>
        <Popover.Content
          side="right"
          sideOffset={6}
          className="z-30 w-64 border border-rule bg-paper p-3"
          aria-label={`Palette colour ${entry.name}`}
        >
          <Line label="Name">
            {(id) => (
              <TextInput
                id={id}
                value={entry.name}
                onChange={(event) =>
                  onRenew(entry.id, { name: event.target.value }, 'naming a colour', `palette name ${entry.id}`)
                }
              />
            )}
          </Line>
          <Line label="Colour">
            {(id) => (
              <span className="flex items-center gap-2">
                <input
                  id={id}
                  type="color"
                  className="h-7 w-10 border border-rule bg-white"
                  value={entry.colour.slice(0, 7)}
                  onChange={(event) =>
                    onRenew(
                      entry.id,
                      { colour: event.target.value },
                      `recolouring ${entry.name}`,
                      `palette ${entry.id}`,
                    )
                  }
                />
                <TextInput
                  aria-label="Colour as #rrggbb"
                  key={entry.colour}
                  defaultValue={entry.colour}
                  onBlur={(event) => {
                    const colour = event.target.value.trim()
                    if (colour !== entry.colour) onRenew(entry.id, { colour }, `recolouring ${entry.name}`)
                  }}
                  onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
                />
              </span>
            )}
          </Line>
          {open && <Uses id={entry.id} onRemove={() => onRemove(entry)} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** How often a colour is used: looked up while its card is open. */
function Uses({ id, onRemove }: { id: string; onRemove: () => void }) {
  const uses = useDraft((draft) => (draft.template ? usesOf(draft.template, id) : 0))
  return (
    <div className="mt-2 flex items-center justify-between text-xs text-soft">
      {uses === 0 ? 'used nowhere' : `used ${uses === 1 ? 'once' : `${uses} times`}`}
      <Button
        small
        disabled={uses > 0}
        title={uses > 0 ? 'Give the parts that use it another colour first' : undefined}
        onClick={onRemove}
      >
        Remove
      </Button>
    </div>
  )
}
