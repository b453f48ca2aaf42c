import { boxOf } from '@hoja/core/layout'
import { Scene } from '@hoja/core/scene'
import {
  type Clipping,
  clipStyle,
  edit,
  type Part,
  pasteStyle,
  readyStyles,
  type SavedStyle,
  savedStyle,
  styleLines,
  type Template,
} from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { ChevronDown } from 'lucide-react'
import { Popover } from 'radix-ui'
import { useContext, useMemo, useState } from 'react'
import { toast } from 'sonner'
import { api } from '../../api.ts'
import { FrameCanvas } from '../../preview/FrameCanvas.tsx'
import { useDraft } from '../../session/draft.ts'
import { Button, TextInput } from '../../ui/controls.tsx'
import { useWrite } from '../../ui/useWrite.ts'
import { chosenParts, useDesk } from '../desk.ts'
import { SceneContext } from '../sceneNow.ts'

const tile = { width: 122, height: 52 }

/** A style that is offered, with all it uses. */
interface Offered {
  name: string
  clipping: Clipping
  onRemove?: () => void
}

/**
 * The library of styles, each shown on the chosen part itself: the template's own, which travel with it, the shelf's, and
 * ready ones. A press gives the style to all chosen parts.
 */
export function StylesMenu({ template, part }: { template: Template; part: Part }) {
  const [open, setOpen] = useState(false)
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="flex h-7 items-center gap-1 rounded-[3px] border border-rule bg-white px-2 text-xs font-medium hover:border-leaf">
        Styles <ChevronDown size={12} aria-hidden="true" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="right"
          align="end"
          collisionPadding={8}
          sideOffset={4}
          aria-label="Styles"
          className="z-30 max-h-[460px] w-[420px] overflow-auto border border-rule bg-paper p-3 shadow-lg"
        >
          {open && <Library template={template} part={part} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function Library({ template, part }: { template: Template; part: Part }) {
  const { attempt, change } = useDraft.getState()
  const [name, setName] = useState('')
  const shelf = useQuery({ queryKey: ['styles'], queryFn: () => api.styles() })
  const removing = useWrite(api.removeStyle, { changes: [['styles']] })
  const own = template.styles ?? []
  const saving = useWrite(
    async (saved: SavedStyle) => {
      const kept = await api.saveStyle({ name: saved.name, clipping: clipStyle(template, saved) })
      return { kept, saved }
    },
    {
      changes: [['styles']],
      onDone: ({ saved }) => {
        const styles = [...(useDraft.getState().template!.styles ?? []), saved]
        change({ kind: 'styles', styles }, `keeping the style ${saved.name}`)
        toast.success(`"${saved.name}" is in the library, and travels with the template.`)
        setName('')
      },
    },
  )
  const save = () => saving.mutate(savedStyle(part, name.trim()))
  const mine = own.map(
    (saved): Offered => ({
      name: saved.name,
      clipping: clipStyle(template, saved),
      onRemove: () =>
        change({ kind: 'styles', styles: own.filter((one) => one !== saved) }, `letting go of the style ${saved.name}`),
    }),
  )
  const names = new Set(own.map((one) => one.name))
  const kept = (shelf.data ?? [])
    .filter((one) => !names.has(one.name))
    .map((one): Offered => ({ ...one, onRemove: () => removing.mutate({ id: one.id }) }))
  const ready = readyStyles.map((one): Offered => ({ name: one.name, clipping: clipStyle(template, one) }))
  const group = (heading: string, list: readonly Offered[]) => {
    const fitting = list.filter(({ clipping }) => fits(clipping, part))
    if (fitting.length === 0) return null
    return (
      <section aria-label={heading} className="mb-3">
        <h3 className="mb-1 text-xs font-medium text-soft">{heading}</h3>
        <div className="grid grid-cols-3 gap-2">
          {fitting.map((one) => (
            <Tile
              key={one.name}
              offered={one}
              part={part}
              onPut={() => attempt((now) => pasteStyle(now, one.clipping, chosenParts(useDesk.getState())), one.name)}
            />
          ))}
        </div>
      </section>
    )
  }
  return (
    <>
      {group('Of this template', mine)}
      {group('On the shelf', kept)}
      {group('Ready', ready)}
      <div className="flex gap-1 border-t border-rule pt-2">
        <TextInput
          aria-label="Name of the new style"
          placeholder={`Name for the style of ${part.name}`}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && name.trim() && save()}
        />
        <Button small className="!h-7" disabled={name.trim() === ''} onClick={save}>
          Save as a style
        </Button>
      </div>
    </>
  )
}

/** Whether a part has what a style sets. */
function fits({ parts: [styled] }: Clipping, part: Part): boolean {
  const own = new Set(styleLines(part.kind).map(([key]) => key))
  return styled!.kind === part.kind || Object.keys(styled!.style).every((key) => own.has(key))
}

/** The part as it would be with a style, with what lies around it. */
function Tile({ offered, part, onPut }: { offered: Offered; part: Part; onPut: () => void }) {
  const scene = useContext(SceneContext)!
  const filling = useDesk((desk) => desk.filling.values)
  const { styled, crop } = useMemo(() => {
    // A font that comes with it is not drawn before it is taken: the picture shows all but that.
    const change = pasteStyle(scene.template, { ...offered.clipping, fonts: [] }, [part.id], drawable(offered.clipping))
    const styled = new Scene(edit(scene.template, change), scene.assets)
    const { rest } = styled.layout(filling)
    const box = boxOf(rest, rest.order.index.get(part.id)!)
    const width = Math.max(box.width + 60, ((box.height + 60) * tile.width) / tile.height)
    const height = (width * tile.height) / tile.width
    return {
      styled,
      crop: { x: box.x + box.width / 2 - width / 2, y: box.y + box.height / 2 - height / 2, width, height },
    }
  }, [scene, offered.clipping, part.id, filling])
  return (
    <div>
      <button type="button" className="block w-full text-left" onClick={onPut}>
        <span
          className="relative block overflow-hidden bg-grey outline-1 outline-rule hover:outline-2 hover:outline-leaf"
          style={tile}
        >
          <FrameCanvas
            scene={styled}
            values={filling}
            width={tile.width}
            crop={crop}
            within
            label={`${part.name} with the style ${offered.name}`}
          />
        </span>
        <span className="block truncate text-xs">{offered.name}</span>
      </button>
      {offered.onRemove && (
        <button
          type="button"
          className="text-xs text-soft hover:text-stop"
          aria-label={`Remove the style ${offered.name}`}
          onClick={offered.onRemove}
        >
          remove
        </button>
      )}
    </div>
  )
}

/** The lines that need no file which the template does not carry. */
const drawable = ({ parts: [styled] }: Clipping): string[] =>
  styleLines(styled!.kind).flatMap(([key]) => (key === 'font' ? [] : [key]))
