import {
  type CollisionDetection,
  closestCenter,
  DndContext,
  type DragEndEvent,
  type DragMoveEvent,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import {
  allParts,
  type Change,
  firstShape,
  kindNames,
  numberedParts,
  type Part,
  partKinds,
  placeOf,
  type ShapeId,
  type Template,
  tieOrder,
} from '@hoja/core/template'
import { Ellipsis, Eye, EyeOff, Focus, Lock, LockOpen } from 'lucide-react'
import { memo, type RefObject, useContext, useRef, useState } from 'react'
import { useShallow } from 'zustand/react/shallow'
import { useDraft } from '../../session/draft.ts'
import { classes, Heading } from '../../ui/controls.tsx'
import { Menu, type MenuEntry, MenuHere } from '../../ui/Menu.tsx'
import { FoldButton } from '../Arrangement.tsx'
import { chooseForMenu, forChosen, useCommandEntries } from '../commandsNow.ts'
import { chooseAlso, useDesk } from '../desk.ts'
import { isOverFrame, tieToAim, useAim } from '../frame/aim.ts'
import { freshPart } from '../frame/drawn.ts'
import { SceneRef } from '../sceneNow.ts'
import { Carries } from './Carries.tsx'
import { Palette } from './Palette.tsx'
import { Shapes } from './Shapes.tsx'

/** The change that moves a part to where another stands in the list. */
export function reorderChange(template: Template, id: string, over: string): Change | undefined {
  const to = placeOf(template.parts, over)
  const from = placeOf(template.parts, id)
  const part = from && from.list[from.index]!
  if (!to || !from || id === over || allParts([part!]).some((inner) => inner.id === over)) return undefined
  const parent = allParts(template.parts).find((other) => other.parts === to.list)
  return { kind: 'reorder', part: id, index: to.index, ...(parent ? { into: parent.id } : {}) }
}

/** The outline of all parts, numbered as on the frame; 1 lies on top. Below it the palette, the fields and what it carries. */
export const PartsList = memo(function PartsList() {
  const { change } = useDraft.getState()
  const { set } = useDesk.getState()
  const outline = useDraft((draft) => outlineOf(draft.template!))
  const fields = useDraft(useShallow((draft) => draft.template!.fields.map((field) => field.name)))
  return (
    <aside className="flex min-h-0 flex-col overflow-auto bg-paper" aria-label="Parts">
      <Shapes />
      <Heading
        aside={
          <div className="flex items-center gap-1.5">
            <Menu
              align="end"
              className="!text-leaf"
              entries={() =>
                partKinds
                  .filter((kind) => kind !== 'group')
                  .map((kind) => ({
                    label: kindNames[kind],
                    onSelect: () => {
                      const part = freshPart(useDraft.getState().template!, kind)
                      if (change({ kind: 'addPart', part }, `adding ${part.name}`)) set({ selected: part.id })
                    },
                  }))
              }
            >
              + Add
            </Menu>
            <FoldButton of="parts" keys="[" />
          </div>
        }
      >
        Parts
      </Heading>
      {outline === '' && (
        <p className="px-3.5 pb-3 text-soft">Nothing is drawn yet. Draw a text on the frame, or add one here.</p>
      )}
      <Rows outline={outline} />
      <Palette />
      <Heading aside={`${fields.length} exposed`}>Fields</Heading>
      <p className="px-3.5 text-soft">
        {fields.length > 0 ? `${fields.join(', ')}; everything else is locked` : 'None yet: everything is locked.'}
      </p>
      <Carries />
    </aside>
  )
})

/** The rows of the list, each as its part's id, number and depth. */
const outlineOf = (template: Template): string =>
  numberedParts(template)
    .map(({ part, number, depth }) => `${part.id} ${number} ${depth}`)
    .join('|')

type Entries = () => (MenuEntry | null)[]

/** The rows; drawn anew when parts come, go or move. What a row says of its part it looks up by itself. */
const Rows = memo(function Rows({ outline }: { outline: string }) {
  const rows = outline === '' ? [] : outline.split('|').map((row) => row.split(' ') as [string, string, string])
  const asked = useRef<Entries>(() => [])
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }))
  const scene = useContext(SceneRef)
  /** Of the pointer in the window: what the list has been scrolled by meanwhile is nothing to the frame. */
  const pointer = useRef({ x: 0, y: 0 })
  // Over the frame a part is not put in order but tied to what it is dropped on; rows make room beside it alone.
  const beside: CollisionDetection = (asked) => {
    pointer.current = asked.pointerCoordinates ?? pointer.current
    const { x, y } = pointer.current
    return isOverFrame(x, y) ? [] : closestCenter(asked)
  }
  const aim = ({ active }: DragMoveEvent) => {
    const { x, y } = pointer.current
    useAim.setState({ aim: isOverFrame(x, y) ? { own: { part: String(active.id) }, x, y } : undefined })
  }
  const drop = ({ active, over }: DragEndEvent) => {
    if (useAim.getState().aim) {
      tieToAim(scene.current)
      return
    }
    const { template, change } = useDraft.getState()
    const reorder = over && template && reorderChange(template, String(active.id), String(over.id))
    if (reorder) change(reorder, 'the layer order')
  }
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={beside}
      autoScroll={{ threshold: { x: 0, y: 0.2 } }}
      onDragMove={aim}
      onDragEnd={drop}
      onDragCancel={() => useAim.setState({ aim: undefined })}
    >
      <SortableContext items={rows.map(([id]) => id)} strategy={verticalListSortingStrategy}>
        {/* One menu for all rows: each of hundreds would hear every key that is pressed. */}
        <MenuHere entries={() => asked.current()}>
          <ul>
            {rows.map(([id, number, depth]) => (
              <Row key={id} id={id} number={Number(number)} depth={Number(depth)} asked={asked} />
            ))}
          </ul>
        </MenuHere>
      </SortableContext>
    </DndContext>
  )
})

/** A part of the open draft, by its id. */
function partOf(template: Template | undefined, id: string): Part | undefined {
  const order = template && tieOrder(template)
  const i = order?.index.get(id)
  return i === undefined ? undefined : order!.parts[i]
}

const Row = memo(function Row({
  id,
  ...row
}: {
  id: string
  number: number
  depth: number
  asked: RefObject<Entries>
}) {
  const part = useDraft(
    useShallow((draft) => {
      const own = partOf(draft.template, id)
      const differs = draft.shape !== firstShape && differsIn(draft.whole!, draft.shape, id)
      return (
        own && { id, name: own.name, kind: own.kind, locked: own.locked, hidden: own.style.visible === false, differs }
      )
    }),
  )
  return part ? <PartRow part={part} {...row} /> : null
})

/** What the list says of a part. */
type Listed = Pick<Part, 'id' | 'name' | 'kind' | 'locked'> & {
  hidden: boolean
  /** Otherwise than in the first shape of the frame. */
  differs: boolean
}

const differsIn = (whole: Template, shape: ShapeId, part: string): boolean =>
  whole.shapes?.find(({ id }) => id === shape)?.sets.some((setting) => setting.part === part) ?? false

function PartRow({
  part,
  number,
  depth,
  asked,
}: {
  part: Listed
  number: number
  depth: number
  /** The entries of the row on which the list's menu is opened. */
  asked: RefObject<Entries>
}) {
  const { change } = useDraft.getState()
  const on = useDesk((desk) => desk.selected === part.id || desk.also.includes(part.id))
  const soloed = useDesk((desk) => desk.solo.includes(part.id))
  const [renaming, setRenaming] = useState(false)
  // What is seen under the pointer or with the focus alone is there from then on.
  const [met, setMet] = useState(false)
  const { listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: part.id })
  const { hidden } = part
  const choose = (event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    const desk = useDesk.getState()
    if (event.shiftKey || event.ctrlKey || event.metaKey) chooseAlso(desk, part.id)
    else desk.set({ selected: part.id })
  }
  const remove = () => {
    if (change({ kind: 'removePart', part: part.id }, `removing ${part.name}`))
      useDesk.getState().set({ selected: undefined })
  }
  const commands = useCommandEntries()
  const entries = () => {
    chooseForMenu(part.id)
    return [
      { label: 'Rename', keys: 'F2', onSelect: () => setTimeout(() => setRenaming(true), 50) },
      null,
      ...commands(forChosen()),
    ]
  }
  const icon = (label: string, active: boolean, On: typeof Eye, Off: typeof Eye, act: () => void) => (
    <button
      type="button"
      aria-label={`${label} ${part.name}`}
      title={label}
      aria-pressed={active}
      onClick={act}
      className={classes(
        'size-6 items-center justify-center rounded-[3px] hover:bg-white',
        active ? 'flex text-madder' : 'hidden text-soft group-focus-within:flex group-hover:flex',
      )}
    >
      {active ? <On size={13} aria-hidden="true" /> : <Off size={13} aria-hidden="true" />}
    </button>
  )
  return (
    <li
      ref={setNodeRef}
      onContextMenu={() => {
        asked.current = entries
      }}
      onPointerEnter={() => setMet(true)}
      onFocus={() => setMet(true)}
      className={classes(
        'group relative flex h-7 items-center border-l-2 pr-1.5',
        on ? 'border-leaf bg-leaf-pale' : 'border-transparent hover:bg-chalk',
        isDragging && 'z-10 bg-white opacity-90',
      )}
      style={{
        paddingLeft: 10 + depth * 16,
        transform: transform ? `translate3d(0, ${transform.y}px, 0)` : undefined,
        transition,
      }}
    >
      <button
        type="button"
        {...listeners}
        className="flex min-w-0 flex-1 touch-none items-center gap-2 text-left"
        aria-pressed={on}
        onClick={choose}
        onDoubleClick={() => setRenaming(true)}
        onKeyDown={(event) => {
          if (event.key === 'F2') setRenaming(true)
          if (event.key === 'Delete') remove()
          if (event.key === 'Enter') choose(event)
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
        {renaming ? (
          <input
            ref={(element) => element?.focus()}
            aria-label="Name of the part"
            className="w-full border border-leaf bg-white px-1"
            defaultValue={part.name}
            onPointerDown={(event) => event.stopPropagation()}
            onBlur={(event) => {
              setRenaming(false)
              const name = event.target.value.trim()
              if (name && name !== part.name)
                change({ kind: 'renamePart', part: part.id, name }, `renaming ${part.name}`)
            }}
            onKeyDown={(event) => {
              event.stopPropagation()
              if (event.key === 'Enter') event.currentTarget.blur()
              if (event.key === 'Escape') setRenaming(false)
            }}
          />
        ) : (
          <span className={classes('truncate', hidden && 'text-soft line-through')}>{part.name}</span>
        )}
        {part.differs && (
          <span
            title="Otherwise than in the first shape of the frame"
            className="size-1.5 shrink-0 rounded-full bg-look"
          >
            <span className="sr-only">otherwise in this shape</span>
          </span>
        )}
      </button>
      <span className="text-xs text-soft group-focus-within:hidden group-hover:hidden group-has-aria-expanded:hidden">
        {part.kind}
      </span>
      {icon(hidden ? 'Show' : 'Hide', hidden, EyeOff, Eye, () =>
        change(
          { kind: 'style', part: part.id, key: 'visible', value: hidden ? undefined : false },
          'showing and hiding',
        ),
      )}
      {icon(soloed ? 'End solo of' : 'Solo', soloed, Focus, Focus, () => {
        const { solo, set } = useDesk.getState()
        set({ solo: soloed ? solo.filter((id) => id !== part.id) : [...solo, part.id] })
      })}
      {icon(part.locked ? 'Unlock' : 'Lock', !!part.locked, Lock, LockOpen, () =>
        change({ kind: 'lock', part: part.id, locked: !part.locked }, part.locked ? 'unlocking' : 'locking'),
      )}
      {/* It stays while its menu is open: the menu hangs on it. */}
      <span className="hidden group-focus-within:block group-hover:block has-aria-expanded:block">
        {met && (
          <Menu label={`More for ${part.name}`} className="!size-6 !justify-center !px-0" entries={entries}>
            <Ellipsis size={13} aria-hidden="true" />
          </Menu>
        )}
      </span>
    </li>
  )
}
