import { type ShapeDifference, shapeDifferences } from '@hoja/core/handoff'
import {
  allParts,
  commonShapes,
  firstShape,
  type NamedShape,
  newShape,
  ratioWords,
  type Shape,
  type ShapeId,
  shapesOf,
  type Template,
} from '@hoja/core/template'
import { ChevronDown, Undo2 } from 'lucide-react'
import { Popover } from 'radix-ui'
import { useMemo, useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { Button, Heading, Line, TextInput } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/Dialog.tsx'
import { SizeInput } from '../../ui/FrameInputs.tsx'
import { Menu } from '../../ui/Menu.tsx'
import { ShapeChoice } from '../../ui/ShapeChoice.tsx'
import { useDesk } from '../desk.ts'

type Size = Pick<Shape, 'width' | 'height'>

/** Gives the template another shape, and looks at it. */
export function addShape(size: Size): void {
  const { whole, change, setShape } = useDraft.getState()
  const shape = newShape(whole!, size)
  if (change({ kind: 'shapes', shapes: [...(whole!.shapes ?? []), shape] }, `the shape ${shape.name}`))
    setShape(shape.id)
}

/** The shapes of the trade that a template does not have yet. */
export function missingShapes(template: Pick<Template, 'frame' | 'shapes'>): { name: string; size: Size }[] {
  const there = new Set(shapesOf(template).map(ratioWords))
  return commonShapes(template.frame)
    .map((size) => ({ name: ratioWords(size), size }))
    .filter(({ name }) => !there.has(name))
}

/** The shapes of the frame: which one is looked at, what differs in it, and a further one. */
export function Shapes() {
  const shape = useDraft((draft) => draft.shape)
  // As text, so that a step of a drag draws nothing anew here.
  const told = useDraft((draft) => JSON.stringify([shapesOf(draft.whole!), differences(draft.whole!, draft.shape)]))
  const [shapes, count] = JSON.parse(told) as [NamedShape[], number]
  const { setShape } = useDraft.getState()
  const [other, setOther] = useState(false)
  const entries = () => [
    'What holds to the frame follows by itself',
    ...missingShapes(useDraft.getState().whole!).map(({ name, size }) => ({
      label: `${name}, ${size.width} × ${size.height}`,
      onSelect: () => addShape(size),
    })),
    { label: 'another size …', onSelect: () => setOther(true) },
  ]
  return (
    <section aria-label="Shapes of the frame">
      <Heading
        aside={
          <Menu label="Another shape of the frame" align="end" className="!text-leaf" entries={entries}>
            + Shape
          </Menu>
        }
      >
        {shapes.length > 1 ? 'Shapes' : `Shape ${shapes[0]!.name}`}
      </Heading>
      {shapes.length > 1 && (
        <div className="px-3.5">
          <ShapeChoice shapes={shapes} shape={shape} onShape={setShape} />
          {shape !== firstShape && <Differences id={shape} count={count} first={shapes[0]!.name} />}
        </div>
      )}
      {other && <OtherShape onClose={() => setOther(false)} />}
    </section>
  )
}

const differences = ({ shapes }: Template, id: ShapeId) => shapes?.find((one) => one.id === id)?.sets.length ?? 0

function OtherShape({ onClose }: { onClose: () => void }) {
  const [size, setSize] = useState<Size>({ width: 1080, height: 1350 })
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Another shape of the frame"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            variant="primary"
            onClick={() => {
              addShape(size)
              onClose()
            }}
          >
            Add it
          </Button>
        </>
      }
    >
      <Line label="Frame size">{(id) => <SizeInput id={id} value={size} onValue={setSize} />}</Line>
    </Dialog>
  )
}

/** What parts are otherwise in the shape that is looked at, each to be taken back. */
function Differences({ id, count, first }: { id: ShapeId; count: number; first: string }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="mt-1 flex h-6 items-center gap-1 text-xs text-soft hover:text-ink data-[state=open]:text-ink">
        {count === 0 ? `nothing is otherwise than in ${first}` : `${count} otherwise than in ${first}`}
        <ChevronDown size={12} aria-hidden="true" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-[60] flex max-h-[70vh] w-[420px] flex-col border border-rule bg-white"
          aria-label="What differs in this shape"
        >
          <DifferenceList id={id} first={first} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function DifferenceList({ id, first }: { id: ShapeId; first: string }) {
  const whole = useDraft((draft) => draft.whole!)
  const shape = whole.shapes?.find((one) => one.id === id)
  return shape ? <ListOf whole={whole} shape={shape} first={first} /> : null
}

function ListOf({ whole, shape, first }: { whole: Template; shape: Shape; first: string }) {
  const { change, setShape } = useDraft.getState()
  const { set } = useDesk.getState()
  const [name, setName] = useState(shape.name)
  const told = useMemo(() => shapeDifferences(whole, shape), [whole, shape])
  const others = whole.shapes!.filter(({ id }) => id !== shape.id)
  const put = (next: Shape) =>
    change(
      { kind: 'shapes', shapes: whole.shapes!.map((one) => (one.id === shape.id ? next : one)) },
      `the shape ${next.name}`,
    )
  const rename = () => {
    const words = name.trim()
    if (words && words !== shape.name) put({ ...shape, name: words })
    else setName(shape.name)
  }
  const takeBack = ({ setting: { part, property } }: ShapeDifference) =>
    change(
      { kind: 'differ', shape: shape.id, part, property },
      `${allParts(whole.parts).find(({ id }) => id === part)?.name ?? part} as in ${first}`,
    )
  return (
    <>
      <div className="flex items-center gap-2 border-b border-rule px-3 py-2">
        <TextInput
          aria-label="Name of the shape"
          className="w-24"
          value={name}
          maxLength={60}
          onChange={(event) => setName(event.target.value)}
          onBlur={rename}
          onKeyDown={(event) => event.key === 'Enter' && rename()}
        />
        <span className="whitespace-nowrap text-soft">
          {shape.width} × {shape.height}
        </span>
        <Button
          className="ml-auto"
          onClick={() => {
            setShape(firstShape)
            change({ kind: 'shapes', shapes: others }, `removing the shape ${shape.name}`)
          }}
        >
          Remove the shape
        </Button>
      </div>
      {told.length === 0 ? (
        <p className="px-3 py-3 text-soft">
          Nothing is otherwise than in {first}. What you change here – a size, a tie, a movement – stays in {shape.name}
          ; what you add or write is everywhere.
        </p>
      ) : (
        <ul className="min-h-0 flex-1 overflow-auto py-1" aria-label="Otherwise here">
          {told.map((one) => (
            <li
              key={`${one.setting.part} ${one.setting.property}`}
              className="flex items-start gap-2 px-3 py-0.5 hover:bg-leaf-pale"
            >
              <button
                type="button"
                className="min-w-0 flex-1 text-left break-words"
                onClick={() => set({ selected: one.setting.part })}
              >
                {one.sentence}
              </button>
              <button
                type="button"
                aria-label={`Take back: ${one.sentence}`}
                title={`As in ${first} again`}
                className="mt-0.5 flex size-6 shrink-0 items-center justify-center rounded-[3px] hover:bg-white"
                onClick={() => takeBack(one)}
              >
                <Undo2 size={13} aria-hidden="true" />
              </button>
            </li>
          ))}
        </ul>
      )}
      {told.length > 1 && (
        <div className="border-t border-rule px-3 py-2">
          <Button onClick={() => put({ ...shape, sets: [] })}>Take all of it back</Button>
        </div>
      )}
    </>
  )
}
