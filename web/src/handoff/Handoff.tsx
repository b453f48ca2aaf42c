import { DndContext, type DragEndEvent, PointerSensor, pointerWithin, useSensor, useSensors } from '@dnd-kit/core'
import { Looks } from '@hoja/core/data'
import { type Advice, adviceOn } from '@hoja/core/handoff'
import type { Scene } from '@hoja/core/scene'
import { driveToo, expose, inSection, placeField, type Template, type Values } from '@hoja/core/template'
import { Tabs } from 'radix-ui'
import { useDeferredValue, useEffect, useMemo, useState } from 'react'
import { useParams } from 'react-router'
import { useShallow } from 'zustand/react/shallow'
import { resources } from '../preview/rasterBackend.ts'
import { useScene } from '../preview/useScene.ts'
import { DraftBar } from '../session/DraftBar.tsx'
import { useDraft } from '../session/draft.ts'
import { classes, Empty } from '../ui/controls.tsx'
import { Header } from '../ui/Header.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { AdviceList } from './AdviceList.tsx'
import { CheckLevels } from './CheckLevels.tsx'
import { EditorForm } from './EditorForm.tsx'
import { Exposable, parsePropertyId } from './Exposable.tsx'
import { FieldEditor } from './FieldEditor.tsx'
import { FrameTry } from './FrameTry.tsx'
import { Versions } from './Versions.tsx'

/** Choose what an editor may change, name and explain it, and publish: the parts left, the frame, the editor's form right. */
export default function Handoff() {
  const { id } = useParams()
  const { template, trouble, open } = useDraft(
    useShallow(({ template, trouble, open }) => ({ template, trouble, open })),
  )
  const { scene, error } = useScene(template)
  useEffect(() => void open(id!), [id, open])
  if (trouble && template?.id !== id) return <Trouble error={trouble} what="template" onAgain={() => void open(id!)} />
  if (error) return <Trouble error={error} what="template" onAgain={() => location.reload()} />
  if (!template || template.id !== id || !scene) return <p className="p-6 text-soft">Opening …</p>
  return <Table template={template} scene={scene} />
}

/** What is dropped where: a property on the form becomes a field there, a field goes to another place. */
function useDrop(onChosen: (id: string) => void): (event: DragEndEvent) => void {
  return ({ active, over }) => {
    const { template, attempt } = useDraft.getState()
    if (!over || !template) return
    const target = String(over.id)
    const where = target.startsWith('section:')
      ? { section: target.slice(8) || undefined }
      : { before: target.replace('field:', '') }
    const property = parsePropertyId(String(active.id))
    if (property) {
      let made: string | undefined
      // Both are one step of undo.
      const gesture = `${active.id} ${performance.now()}`
      const exposed = attempt(
        (now) => {
          const { field, change } = expose(now, property.part, property.key)
          made = field.id
          return change
        },
        'exposing a property',
        gesture,
      )
      if (!exposed || !made) return
      attempt((now) => placeField(now, made!, where), 'exposing a property', gesture)
      onChosen(made)
    } else {
      const id = String(active.id).replace('field:', '')
      if (!('before' in where) || where.before !== id)
        attempt((now) => placeField(now, id, where), 'the order of fields')
    }
  }
}

/** Looks at what is drawn, for the advice on it. */
const looks = new Looks(resources)

function Table({ template, scene }: { template: Template; scene: Scene }) {
  const { attempt } = useDraft.getState()
  const versions = useDraft((draft) => draft.versions)
  const [chosen, setChosen] = useState<string>()
  const [values, setValues] = useState<Values>({})
  const [tab, setTab] = useState('field')
  const [joining, setJoining] = useState<string>()
  const field = template.fields.find((f) => f.id === chosen)
  const calm = useDeferredValue(scene)
  const advice = useMemo<Advice[]>(() => adviceOn(calm, looks), [calm])
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }))
  const choose = (id: string | undefined) => {
    setChosen(id)
    if (id) setTab('field')
  }
  const drop = useDrop(choose)
  const onExpose = (part: string, key: string) => {
    if (joining) {
      if (attempt((now) => driveToo(now, joining, part, key), 'what a field drives')) setJoining(undefined)
      return
    }
    let made: string | undefined
    // Beside the chosen field, or else in the last section: a new field is where one looks.
    const section = field ? field.section : template.sections[template.sections.length - 1]?.id
    const done = attempt((now) => {
      const { field: fresh, change } = expose(now, part, key)
      made = fresh.id
      return { kind: 'several', changes: [change, { kind: 'field', field: inSection(fresh, section) }] }
    }, 'exposing a property')
    if (done) choose(made)
  }
  const levelCount = Object.keys(template.levels ?? {}).length
  const joined = template.fields.find((f) => f.id === joining)
  return (
    <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={drop}>
      <div className="flex h-full flex-col">
        <Header
          template={template}
          shortcuts={[
            ['E', 'make the property in focus a field'],
            ['Alt ↑, Alt ↓', 'move the field in focus'],
          ]}
        >
          <DraftBar />
        </Header>
        <div className="grid min-h-0 flex-1 grid-cols-[264px_minmax(0,1fr)_356px]">
          <Exposable
            template={template}
            joining={joined}
            onCancel={() => setJoining(undefined)}
            onExpose={onExpose}
            onField={choose}
          />
          <main className="flex min-h-0 flex-col border-x border-rule">
            <FrameTry
              scene={scene}
              values={values}
              field={field}
              onDefault={({ key }) => setValues(({ [key]: _, ...others }) => others)}
            />
            <Tabs.Root value={tab} onValueChange={setTab} className="flex min-h-0 flex-1 flex-col bg-paper">
              <Tabs.List aria-label="About the hand-off" className="flex shrink-0 gap-1 border-y border-rule px-2.5">
                {(
                  [
                    ['field', field ? `Field: ${field.name || 'without a name'}` : 'Field'],
                    ['advice', advice.length > 0 ? `Advice, ${advice.length}` : 'Advice'],
                    ['checks', levelCount > 0 ? `Checks, ${levelCount}` : 'Checks'],
                    ['versions', versions.length > 0 ? `Versions, ${versions.length}` : 'Versions'],
                  ] as const
                ).map(([name, words]) => (
                  <Tabs.Trigger
                    key={name}
                    value={name}
                    className={classes(
                      'max-w-64 truncate border-b-2 border-transparent px-2.5 py-1.5 text-soft data-[state=active]:border-leaf data-[state=active]:font-semibold data-[state=active]:text-ink',
                      name === 'advice' && advice.length > 0 && '!text-look',
                    )}
                  >
                    {words}
                  </Tabs.Trigger>
                ))}
              </Tabs.List>
              <Tabs.Content value="field" className="min-h-0 flex-1 overflow-auto">
                {field ? (
                  <FieldEditor
                    key={field.id}
                    template={template}
                    field={field}
                    advice={advice.filter((one) => one.field === field.id)}
                    onJoin={() => setJoining(field.id)}
                    onGone={() => choose(undefined)}
                  />
                ) : (
                  <Empty title="Choose a field in the form">
                    Name, limit and explain it here. To make a new one, drag a property from the left into the form, or
                    press Expose.
                  </Empty>
                )}
              </Tabs.Content>
              <Tabs.Content value="advice" className="min-h-0 flex-1 overflow-auto">
                <AdviceList template={template} advice={advice} onField={choose} />
              </Tabs.Content>
              <Tabs.Content value="checks" className="min-h-0 flex-1 overflow-auto">
                <CheckLevels template={template} />
              </Tabs.Content>
              <Tabs.Content value="versions" className="min-h-0 flex-1 overflow-auto">
                <Versions versions={versions} />
              </Tabs.Content>
            </Tabs.Root>
          </main>
          <EditorForm
            template={template}
            values={values}
            onValues={setValues}
            chosen={chosen}
            advice={advice}
            onChoose={choose}
          />
        </div>
      </div>
    </DndContext>
  )
}
