import { references } from '@hoja/core/schema'
import {
  addPalette,
  type Change,
  type Derived,
  described,
  document,
  exposeColour,
  type Field,
  fieldPainting,
  freeId,
  type PaletteColour,
  paletteChoice,
  recolour,
  type Template,
  variantOf,
} from '@hoja/core/template'
import { Popover } from 'radix-ui'
import { useMemo, useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { Choice } from '../../ui/Choice.tsx'
import { Button, Checkbox, Heading, Line, Select, TextInput } from '../../ui/controls.tsx'
import { NameDialog } from '../../ui/NameDialog.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { useDesk } from '../desk.ts'

/** How often a palette colour is named: in the drawing, by fields, by other colours. */
export const usesOf = (template: Template, id: string): number =>
  references(document, template).filter((one) => one.to === 'colour' && one.id === id).length

/** The palette that is looked at: the choice of palettes, and which of its options stands in the frame. */
interface Looked {
  field: Field
  value: string
  /** It is one of a name, whose colours are its own; else the one that was drawn with. */
  named: boolean
}

/** The named colours: a change here recolours everything that uses them; and palettes of a name, each with colours of its own. */
export function Palette() {
  const palette = useDraft((draft) => draft.template!.palette)
  const fields = useDraft((draft) => draft.template!.fields)
  const values = useDesk((desk) => desk.filling.values)
  const { change, attempt } = useDraft.getState()
  const [naming, setNaming] = useState(false)
  const choice = paletteChoice({ fields })
  const looked = choice && lookedAt(choice, values)
  const shown = useMemo(
    () => (choice ? variantOf({ ...useDraft.getState().template!, palette, fields }, values).palette : palette),
    [choice, palette, fields, values],
  )
  const put = (next: Template['palette'], what: string, drag?: string) =>
    change({ kind: 'palette', palette: next }, what, drag)
  const renew = (id: string, more: Partial<PaletteColour>, what: string, drag?: string) => {
    // In a palette of a name a colour is that palette's own.
    if (more.colour !== undefined && looked?.named)
      return change(recolour(looked.field, looked.value, id, more.colour), what, drag)
    return put(
      palette.map((entry) => (entry.id === id ? without({ ...entry, ...more }) : entry)),
      what,
      drag,
    )
  }
  const remove = (entry: PaletteColour) =>
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
      <Heading
        aside={
          <Button small variant="quiet" disabled={palette.length === 0} onClick={() => setNaming(true)}>
            + Palette
          </Button>
        }
      >
        Palette
      </Heading>
      {looked && (
        <div className="flex flex-wrap px-3.5 pb-2">
          <Choice
            label="The palette in the frame"
            value={looked.value}
            options={looked.field.options!.map(({ value, name }) => [value, name] as const)}
            onValue={(value) => lookAt(looked.field, value)}
          />
        </div>
      )}
      <div className="flex flex-wrap gap-1.5 px-3.5">
        {palette.map((entry, i) => (
          <Swatch
            key={entry.id}
            entry={entry}
            colour={shown[i]?.colour ?? entry.colour}
            looked={looked?.named ? looked : undefined}
            onRenew={renew}
            onRemove={remove}
          />
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
      {naming && (
        <NameDialog
          title="A palette of its own"
          action="Add it"
          name={choice ? '' : 'Evening'}
          note="It begins in the colours that are drawn. Editors choose among palettes; recolour it here."
          onName={(name) => {
            setNaming(false)
            let made: string | undefined
            const add = (now: Template): Change => {
              const { change, value } = addPalette(now, name)
              made = value
              return change
            }
            if (attempt(add, `the palette ${name}`) && made) lookAt(paletteChoice(useDraft.getState().template!)!, made)
          }}
          onClose={() => setNaming(false)}
        />
      )}
    </>
  )
}

const without = ({ from, ...entry }: PaletteColour): PaletteColour => (from ? { ...entry, from } : entry)

function lookedAt(field: Field, values: Template['poster']['values']): Looked {
  const value = String(values[field.key] ?? field.default)
  return { field, value, named: field.options!.some((option) => option.value === value && option.colours) }
}

/** Puts a palette into the frame, with whatever else stands in it. */
function lookAt(field: Field, value: string): void {
  const { filling, set } = useDesk.getState()
  const { [field.key]: _, ...others } = filling.values
  const values = value === field.default ? others : { ...others, [field.key]: value }
  const name = field.options!.find((option) => option.value === value)!.name
  set({ filling: { name: Object.keys(values).length === 0 ? 'as drawn' : name, values } })
}

function Swatch({
  entry,
  colour,
  looked,
  onRenew,
  onRemove,
}: {
  entry: PaletteColour
  /** As it is in the palette that is looked at. */
  colour: string
  /** The palette of a name that is looked at. */
  looked: Looked | undefined
  onRenew: (id: string, more: Partial<PaletteColour>, what: string, drag?: string) => void
  onRemove: (entry: PaletteColour) => void
}) {
  const [open, setOpen] = useState(false)
  const own = looked?.field.options?.find(({ value }) => value === looked.value)
  const isOwn = own?.colours?.some(({ of }) => of === `palette:${entry.id}`)
  const recoloured = (value: string, drag?: string) =>
    onRenew(entry.id, { colour: value }, `recolouring ${entry.name}`, drag)
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        aria-label={`Palette colour ${entry.name}`}
        title={entry.name}
        className="size-7 border border-rule"
        style={{ background: colour }}
      />
      <Popover.Portal>
        <Popover.Content
          side="right"
          sideOffset={6}
          className="z-30 w-72 border border-rule bg-paper p-3"
          aria-label={`Palette colour ${entry.name}`}
        >
          <Line narrow label="Name">
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
          {!looked && (
            <Follows
              entry={entry}
              onFrom={(from) => onRenew(entry.id, { from } as never, `what ${entry.name} follows`)}
            />
          )}
          {(looked || !entry.from) && (
            <Line narrow label="Colour">
              {(id) => (
                <span className="flex items-center gap-2">
                  <input
                    id={id}
                    type="color"
                    className="h-7 w-10 shrink-0 border border-rule bg-white"
                    value={colour.slice(0, 7)}
                    onChange={(event) => recoloured(event.target.value, `palette ${entry.id}`)}
                  />
                  <TextInput
                    aria-label="Colour as #rrggbb"
                    key={colour}
                    defaultValue={colour}
                    onBlur={(event) => {
                      const value = event.target.value.trim()
                      if (value !== colour) recoloured(value)
                    }}
                    onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
                  />
                </span>
              )}
            </Line>
          )}
          {looked ? (
            <p className="flex items-center justify-between pt-2 text-xs text-soft">
              {isOwn ? `in ${own!.name} alone` : 'as it was drawn'}
              <Button
                small
                disabled={!isOwn}
                onClick={() =>
                  useDraft
                    .getState()
                    .change(recolour(looked.field, looked.value, entry.id, undefined), `${entry.name} as it was drawn`)
                }
              >
                As drawn
              </Button>
            </p>
          ) : (
            open && <Uses entry={entry} onRemove={() => onRemove(entry)} />
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

const ways: [Derived['as'] | '', string][] = [
  ['', 'none: its own'],
  ['lighter', 'lighter than'],
  ['darker', 'darker than'],
  ['readable', 'readable on'],
]

/** What a colour is worked out from, so that it follows when that is recoloured. */
function Follows({ entry, onFrom }: { entry: PaletteColour; onFrom: (from: Derived | undefined) => void }) {
  const palette = useDraft((draft) => draft.template!.palette)
  const others = palette.filter(({ id }) => id !== entry.id)
  const named = others.map(({ id, name }): [string, string] => [`palette:${id}`, name])
  const [first] = named
  const { from } = entry
  if (!first) return null
  const pick = (label: string, value: string, to: (colour: string) => Derived) => (
    <Line narrow label={label}>
      {(id) => <Select id={id} value={value} options={named} onChange={(event) => onFrom(to(event.target.value))} />}
    </Line>
  )
  return (
    <>
      <Line narrow label="Follows">
        {(id) => (
          <Select
            id={id}
            value={from?.as ?? ''}
            options={ways}
            onChange={(event) => {
              const as = event.target.value as Derived['as'] | ''
              const of = from ? (from.as === 'readable' ? from.on : from.of) : first[0]
              if (as === '') onFrom(undefined)
              else if (as === 'readable') {
                const [one = first[0], other = one] = named.map(([colour]) => colour).filter((colour) => colour !== of)
                onFrom({ as, on: of, one, other })
              } else onFrom({ as, of, by: 0.3 })
            }}
          />
        )}
      </Line>
      {from && from.as !== 'readable' && pick('Of', from.of, (of) => ({ ...from, of }))}
      {from && from.as !== 'readable' && (
        <Line narrow label="By, %">
          {(id) => (
            <NumberInput
              id={id}
              percent
              bounds={described.derivedBy}
              value={from.by}
              onValue={(by) => onFrom({ ...from, by })}
            />
          )}
        </Line>
      )}
      {from?.as === 'readable' && pick('On', from.on, (on) => ({ ...from, on }))}
      {from?.as === 'readable' && pick('One', from.one, (one) => ({ ...from, one }))}
      {from?.as === 'readable' && pick('Or other', from.other, (other) => ({ ...from, other }))}
    </>
  )
}

/** How often a colour is used, and whether editors choose it: looked up while its card is open. */
function Uses({ entry, onRemove }: { entry: PaletteColour; onRemove: () => void }) {
  const uses = useDraft((draft) => (draft.template ? usesOf(draft.template, entry.id) : 0))
  const field = useDraft((draft) => draft.template && fieldPainting(draft.template, entry.id))
  const { attempt, change } = useDraft.getState()
  return (
    <>
      {!entry.from && (
        <label className="flex items-center gap-2 pt-2">
          <Checkbox
            checked={!!field}
            onValue={() =>
              field
                ? change({ kind: 'removeField', field: field.id }, `locking ${entry.name}`)
                : attempt((now) => exposeColour(now, entry.id), `the field ${entry.name}`)
            }
          />
          Editors choose it
        </label>
      )}
      <div className="mt-2 flex items-center justify-between text-xs text-soft">
        {uses === 0 ? 'used nowhere' : `used ${uses === 1 ? 'once' : `${uses} times`}`}
        <Button
          small
          disabled={uses > 0}
          title={uses > 0 ? 'Give what uses it another colour first' : undefined}
          onClick={onRemove}
        >
          Remove
        </Button>
      </div>
    </>
  )
}
