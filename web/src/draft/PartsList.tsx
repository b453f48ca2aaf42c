import {
  allParts,
  freeId,
  kindNames,
  newPart,
  numberedParts,
  type PartKind,
  partKinds,
  placeOf,
  type Template,
} from '@hoja/core/template'
import { DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import { toast } from 'sonner'
import { useDraft } from '../session/draft.ts'
import { api } from '../ui/api.ts'
import { classes, Heading } from '../ui/controls.tsx'
import { useDesk } from './desk.ts'

/** The outline of all parts, numbered as on the frame; 1 lies on top. Below it the palette and the fields. */
export function PartsList({ template }: { template: Template }) {
  const { change } = useDraft()
  const { selected, set } = useDesk()
  const [renaming, setRenaming] = useState<string>()
  const rows = numberedParts(template)
  const add = (kind: PartKind) => {
    const id = freeId(
      allParts(template.parts).map((part) => part.id),
      kind,
    )
    const name = `${kindNames[kind][0]!.toUpperCase()}${kindNames[kind].slice(1)} ${id.slice(kind.length)}`
    if (change({ kind: 'addPart', part: newPart(kind, id, name) }, `adding ${name}`)) set({ selected: id })
  }
  const reorder = (id: string, by: number) => {
    const place = placeOf(template.parts, id)!
    const parent = allParts(template.parts).find((part) => part.parts === place.list)
    const index = place.index + by
    if (index < 0 || index >= place.list.length) return
    change({ kind: 'reorder', part: id, index, ...(parent ? { into: parent.id } : {}) }, 'the layer order')
  }
  const carry = async (files: FileList | null) => {
    for (const file of files ?? [])
      try {
        const asset = await api.addAsset(file)
        const short = freeId(
          [...template.fonts, ...template.media].map((entry) => entry.id),
          asset.kind === 'font' ? 'font' : 'picture',
        )
        if (asset.kind === 'font')
          change(
            {
              kind: 'fonts',
              fonts: [
                ...template.fonts,
                {
                  id: short,
                  family: asset.family!,
                  style: asset.style!,
                  file: `fonts/${file.name}`,
                  sha256: asset.sha256,
                },
              ],
              fallbacks: template.fallbacks,
            },
            `adding the font ${asset.family}`,
          )
        else
          change(
            {
              kind: 'media',
              media: [
                ...template.media.filter((m) => m.name !== file.name),
                {
                  id: short,
                  name: file.name,
                  file: `media/${file.name}`,
                  sha256: asset.sha256,
                  width: asset.width!,
                  height: asset.height!,
                },
              ],
            },
            `adding ${file.name}`,
          )
        toast.success(`${file.name} travels with the template now.`)
      } catch (error) {
        toast.error((error as Error).message)
      }
  }

  return (
    <aside className="flex min-h-0 flex-col overflow-auto bg-paper">
      <Heading
        aside={
          <DropdownMenu.Root>
            <DropdownMenu.Trigger className="rounded-[3px] px-1 font-medium text-leaf hover:bg-leaf-pale">
              + Add
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content align="end" className="z-30 min-w-32 border border-rule bg-white py-1">
                {partKinds.map((kind) => (
                  <DropdownMenu.Item
                    key={kind}
                    onSelect={() => add(kind)}
                    className="px-3 py-1 outline-none data-[highlighted]:bg-leaf-pale"
                  >
                    {kindNames[kind]}
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
        }
      >
        Parts
      </Heading>
      {rows.length === 0 && <p className="px-3.5 pb-3 text-soft">Nothing is drawn yet. Add a text to begin with.</p>}
      <ul>
        {rows.map(({ part, number, depth }) => {
          const on = part.id === selected
          return (
            <li
              key={part.id}
              className={classes(
                'group relative flex h-7 items-center border-l-2 pr-2',
                on ? 'border-leaf bg-leaf-pale' : 'border-transparent hover:bg-chalk',
              )}
              style={{ paddingLeft: 10 + depth * 16 }}
            >
              <button
                type="button"
                className="flex min-w-0 flex-1 items-center gap-2 text-left"
                aria-pressed={on}
                onClick={() => set({ selected: part.id })}
                onDoubleClick={() => setRenaming(part.id)}
                onKeyDown={(event) => {
                  if (event.key === 'F2') setRenaming(part.id)
                  if (event.key === 'Delete' && change({ kind: 'removePart', part: part.id }, `removing ${part.name}`))
                    set({ selected: undefined })
                }}
              >
                <span
                  className={classes(
                    'flex size-[18px] shrink-0 items-center justify-center rounded-full border text-[10px]',
                    on ? 'border-leaf bg-leaf text-white' : 'border-soft text-soft',
                  )}
                >
                  {number}
                </span>
                {renaming === part.id ? (
                  <input
                    ref={(element) => element?.focus()}
                    aria-label="Name of the part"
                    className="w-full border border-leaf bg-white px-1"
                    defaultValue={part.name}
                    onBlur={(event) => {
                      setRenaming(undefined)
                      const name = event.target.value.trim()
                      if (name && name !== part.name)
                        change({ kind: 'renamePart', part: part.id, name }, `renaming ${part.name}`)
                    }}
                    onKeyDown={(event) => {
                      event.stopPropagation()
                      if (event.key === 'Enter') event.currentTarget.blur()
                      if (event.key === 'Escape') setRenaming(undefined)
                    }}
                  />
                ) : (
                  <span className={classes('truncate', part.look.visible === false && 'text-soft line-through')}>
                    {part.name}
                  </span>
                )}
              </button>
              <span className="text-xs text-soft group-focus-within:opacity-0 group-hover:opacity-0">{part.kind}</span>
              <span className="pointer-events-none absolute right-1.5 flex gap-0.5 bg-inherit opacity-0 group-focus-within:pointer-events-auto group-focus-within:opacity-100 group-hover:pointer-events-auto group-hover:opacity-100">
                {(
                  [
                    ['↑', 'Further up', () => reorder(part.id, 1)],
                    ['↓', 'Further down', () => reorder(part.id, -1)],
                    [
                      part.look.visible === false ? '○' : '●',
                      part.look.visible === false ? 'Show' : 'Hide',
                      () =>
                        change(
                          {
                            kind: 'look',
                            part: part.id,
                            key: 'visible',
                            value: part.look.visible === false ? undefined : false,
                          },
                          'showing and hiding',
                        ),
                    ],
                    [
                      '✕',
                      'Remove',
                      () =>
                        change({ kind: 'removePart', part: part.id }, `removing ${part.name}`) &&
                        set({ selected: undefined }),
                    ],
                  ] as [string, string, () => void][]
                ).map(([mark, label, act]) => (
                  <button
                    key={label}
                    type="button"
                    aria-label={`${label} ${part.name}`}
                    title={label}
                    onClick={act}
                    className="size-5 rounded-[3px] text-xs text-soft hover:bg-white hover:text-ink"
                  >
                    {mark}
                  </button>
                ))}
              </span>
            </li>
          )
        })}
      </ul>
      <Heading aside={template.palette.length}>Palette</Heading>
      <div className="flex flex-wrap gap-1.5 px-3.5">
        {template.palette.map((entry) => (
          <label
            key={entry.id}
            title={entry.name}
            className="relative size-7 border border-rule focus-within:outline-2 focus-within:outline-leaf"
            style={{ background: entry.colour }}
          >
            <input
              type="color"
              aria-label={`Palette colour ${entry.name}`}
              value={entry.colour.slice(0, 7)}
              className="absolute inset-0 size-full cursor-pointer opacity-0"
              onChange={(event) =>
                change(
                  {
                    kind: 'palette',
                    palette: template.palette.map((p) =>
                      p.id === entry.id ? { ...p, colour: event.target.value } : p,
                    ),
                  },
                  `recolouring ${entry.name}`,
                  `palette ${entry.id}`,
                )
              }
            />
          </label>
        ))}
        <button
          type="button"
          aria-label="Add a palette colour"
          className="size-7 border border-dashed border-soft text-soft hover:text-ink"
          onClick={() => {
            const id = freeId(
              template.palette.map((p) => p.id),
              'colour',
            )
            change(
              {
                kind: 'palette',
                palette: [
                  ...template.palette,
                  { id, name: `Colour ${template.palette.length + 1}`, colour: '#8aa39b' },
                ],
              },
              'adding a palette colour',
            )
          }}
        >
          +
        </button>
      </div>
      <Heading aside={`${template.fields.length} exposed`}>Fields</Heading>
      <p className="px-3.5 text-soft">{template.fields.map((field) => field.name).join(', ') || 'None yet.'}</p>
      <p className="px-3.5 text-soft">everything else is locked</p>
      <Heading
        aside={
          <label className="cursor-pointer rounded-[3px] px-1 font-medium text-leaf focus-within:outline-2 focus-within:outline-leaf hover:bg-leaf-pale">
            + Add
            <input
              type="file"
              multiple
              accept=".ttf,.otf,.png,.jpg,.jpeg,.webp"
              className="sr-only"
              aria-label="Add fonts and pictures"
              onChange={(event) => void carry(event.target.files).then(() => undefined)}
            />
          </label>
        }
      >
        Fonts and pictures
      </Heading>
      <p className="px-3.5 pb-4 text-soft">
        {template.fonts.length} fonts, {template.media.length} pictures
      </p>
    </aside>
  )
}
