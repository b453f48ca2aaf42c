import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { type AirItem, phaseOf, stageOf, valuesOfItem } from '@hoja/core/air'
import { saidIn, stateOf } from '@hoja/core/data'
import { Ellipsis } from 'lucide-react'
import { useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { toast } from 'sonner'
import { Button, classes, Empty, StateWord, TextInput } from '../ui/controls.tsx'
import { Menu, type MenuEntry, MenuHere } from '../ui/Menu.tsx'
import { AddDialog } from './AddDialog.tsx'
import { useNow } from './AirPicture.tsx'
import { lineOf, standing, useAir, useDesk } from './airDesk.ts'
import { clockWords, freshId } from './words.ts'

/** The titles that wait, the one that is next, what is up and what is done, in their order. */
export function RunningList({ production }: { production: number | null }) {
  const desk = useDesk()
  const list = useAir((view) => view.channel.list)
  const channel = useAir((view) => view.channel)
  const [adding, setAdding] = useState(false)
  const [find, setFind] = useState('')
  const finder = useRef<HTMLInputElement>(null)
  useHotkeys('f', () => finder.current?.focus(), { preventDefault: true })
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }))
  const words = (item: AirItem) => {
    const scene = desk.sceneOf(item.version)
    const now = { now: desk.client.now(), offset: desk.client.offset }
    return scene
      ? lineOf(saidIn(scene.template, valuesOfItem(channel, item, scene, now)))
      : lineOf(Object.values(item.cells).filter((text) => text.trim() !== ''))
  }
  useAir((view) => view.scenes)
  const wanted = find.trim().toLowerCase()
  const shown = wanted ? list.filter((item) => words(item).toLowerCase().includes(wanted)) : list
  const cue = (item: AirItem | undefined) => {
    if (item) void desk.ask({ kind: 'cue', item: item.id })
  }
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return
    const [from, to] = [active.id, over.id].map((id) => list.findIndex((one) => one.id === id)) as [number, number]
    const before = list[from < to ? to + 1 : to]?.id
    void desk.ask({ kind: 'move', items: [String(active.id)], ...(before ? { before } : {}) })
  }
  const settings = (): (MenuEntry | string | null)[] => [
    'The next title comes',
    ...(['by hand', 'by itself'] as const).map((runs) => ({
      label: runs === 'by hand' ? 'by hand' : 'by itself, when one was held for its time',
      checked: channel.runs === runs,
      onSelect: () => void desk.ask({ kind: 'set', runs }),
    })),
    null,
    {
      label: 'From the last to the first',
      checked: channel.loops,
      onSelect: () => void desk.ask({ kind: 'set', loops: !channel.loops }),
    },
    null,
    { label: 'Begin again: nothing is done', onSelect: () => void desk.ask({ kind: 'again' }) },
  ]
  return (
    <aside aria-label="Running list" className="flex w-[300px] shrink-0 flex-col border-r border-rule bg-paper">
      <header className="flex items-center gap-1 py-2 pr-2 pl-3.5">
        <h2 className="flex-1 font-semibold">Running list, {list.length}</h2>
        <Menu label="How the list runs" align="end" entries={settings}>
          <Ellipsis size={14} aria-hidden="true" />
        </Menu>
        <Button small variant="quiet" onClick={() => setAdding(true)}>
          + titles
        </Button>
      </header>
      <div className="px-2.5 pb-2">
        <TextInput
          ref={finder}
          type="search"
          aria-label="Find a title"
          placeholder="Type to find; Enter makes it next (F)"
          value={find}
          onChange={(event) => setFind(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') {
              cue(shown[0])
              setFind('')
              finder.current?.blur()
            }
            if (event.key === 'Escape') {
              setFind('')
              finder.current?.blur()
            }
          }}
        />
      </div>
      {list.length === 0 ? (
        <Empty title="Nothing waits yet">
          Put titles on the list: rows of a sheet, or a single one.
          <Button variant="primary" onClick={() => setAdding(true)}>
            Add titles
          </Button>
        </Empty>
      ) : (
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
          <SortableContext items={shown.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
            <ul className="min-h-0 flex-1 overflow-auto border-t border-rule">
              {shown.map((item) => (
                <Row key={item.id} item={item} words={words(item)} onCue={() => cue(item)} />
              ))}
              {shown.length === 0 && <li className="px-3.5 py-3 text-soft">No title says that.</li>}
            </ul>
          </SortableContext>
        </DndContext>
      )}
      <p className="border-t border-rule px-3.5 py-2 text-xs text-soft">
        {channel.runs === 'by itself'
          ? 'The next one comes by itself when one was held for its time.'
          : 'A press makes a title the next one. Changing a title that waits changes nothing that is up.'}
      </p>
      {adding && <AddDialog production={production} onClose={() => setAdding(false)} />}
    </aside>
  )
}

function Row({ item, words, onCue }: { item: AirItem; words: string; onCue: () => void }) {
  const desk = useDesk()
  const channel = useAir((view) => view.channel)
  const found = useAir((view) => view.found[item.id])
  const second = useNow(true)
  const frame = desk.client.frame()
  const state = standing(channel, item, frame)
  const up = (stageOf(channel).layers[item.layer] ?? []).find((one) => one.item === item.id)
  const { setNodeRef, transform, transition, listeners, isDragging } = useSortable({ id: item.id })
  const remove = () => {
    const at = channel.list.findIndex(({ id }) => id === item.id)
    const before = channel.list[at + 1]?.id
    void desk.ask({ kind: 'remove', items: [item.id] }).then((done) => {
      if (done)
        toast('Taken from the list.', {
          action: {
            label: 'Undo',
            onClick: () => void desk.ask({ kind: 'add', items: [item], ...(before ? { before } : {}) }),
          },
        })
    })
  }
  const entries = (): MenuEntry[] => [
    { label: 'Make it next', onSelect: onCue },
    { label: 'Take it now', onSelect: () => void desk.take(item) },
    {
      label: 'Another like it behind it',
      onSelect: () => {
        const at = channel.list.findIndex(({ id }) => id === item.id)
        const before = channel.list[at + 1]?.id
        void desk.ask({ kind: 'add', items: [{ ...item, id: freshId() }], ...(before ? { before } : {}) })
      },
    },
    { label: 'Remove from the list', onSelect: remove },
  ]
  const since = up ? second - (up.began * 1000 * channel.rate.den) / channel.rate.num : 0
  const isUp = state === 'up'
  return (
    <MenuHere entries={entries}>
      <li
        ref={setNodeRef}
        {...listeners}
        style={transform ? { transform: `translateY(${transform.y}px)`, transition } : undefined}
        className={classes(
          'border-b border-rule',
          isUp && 'bg-madder/5 shadow-[inset_3px_0_0_var(--color-madder)]',
          state === 'next' && 'bg-leaf-pale/50 shadow-[inset_3px_0_0_var(--color-leaf)]',
          isDragging && 'relative z-10 bg-white',
        )}
      >
        <button
          type="button"
          aria-current={state === 'next'}
          data-row
          className="flex h-[30px] w-full items-center gap-2 px-3.5 text-left focus-visible:-outline-offset-2"
          onClick={onCue}
        >
          <span
            className={classes(
              'w-8 shrink-0 text-xs',
              isUp ? 'font-semibold text-madder' : state === 'next' ? 'font-semibold text-leaf' : 'text-soft',
            )}
          >
            {state}
          </span>
          <span
            className={classes(
              'min-w-0 flex-1 truncate',
              (isUp || state === 'next') && 'font-medium',
              state === 'done' && 'text-soft',
            )}
            title={`${words}\n${channel.designs[item.version]?.name ?? ''}`}
          >
            {words}
          </span>
          {isUp && up && phaseOf(up, channel.designs[up.version]!, frame) !== 'waiting' ? (
            <span className="text-xs text-madder">{clockWords(Math.max(0, since))}</span>
          ) : (
            <span className="text-xs" title={found?.map(({ message }) => message).join('\n')}>
              {found ? <StateWord state={stateOf(found)} /> : <span className="text-soft">…</span>}
            </span>
          )}
        </button>
      </li>
    </MenuHere>
  )
}
