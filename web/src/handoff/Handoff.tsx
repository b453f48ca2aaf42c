import type { Scene } from '@hoja/core/scene'
import {
  drivenBy,
  type Field,
  type FieldType,
  freeId,
  fullLook,
  numberedParts,
  type Part,
  type Property,
  type PropertyKey,
  propertiesOf,
  runsOf,
  type Template,
  type Values,
} from '@hoja/core/template'
import { characterCount } from '@hoja/core/text'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { Backdrop } from '../preview/Backdrop.tsx'
import { FrameCanvas } from '../preview/FrameCanvas.tsx'
import { useScene } from '../preview/useScene.ts'
import { DraftBar } from '../session/DraftBar.tsx'
import { useDraft } from '../session/draft.ts'
import { day } from '../ui/api.ts'
import { Button, classes, Empty, Heading, Line, NumberInput, Select, TextInput } from '../ui/controls.tsx'
import { FieldInput } from '../ui/FieldInput.tsx'
import { Header } from '../ui/Header.tsx'
import { useSize } from '../ui/useSize.ts'

/** Choose what an editor may change, name and explain it, and publish: parts left, the frame, the editor's form right. */
export default function Handoff() {
  const { id } = useParams()
  const { template, open, versions } = useDraft()
  const { scene, error } = useScene(template)
  const [chosen, setChosen] = useState<string>()
  const [values, setValues] = useState<Values>({})
  useEffect(() => void open(id!), [id, open])
  if (error) return <Empty title="This template could not be opened">{error.message}</Empty>
  if (!template || template.id !== id || !scene) return <p className="p-6 text-soft">Opening …</p>
  const field = template.fields.find((f) => f.id === chosen)
  return (
    <div className="flex h-full flex-col">
      <Header template={template}>
        <DraftBar />
      </Header>
      <div className="grid min-h-0 flex-1 grid-cols-[300px_minmax(0,1fr)_360px]">
        <Exposable template={template} onExpose={setChosen} />
        <main className="flex min-h-0 flex-col overflow-auto border-x border-rule">
          <FrameBox scene={scene} values={values} />
          <div className="border-t border-rule bg-paper">
            <Heading>{field ? `The field ${field.name}` : 'A field'}</Heading>
            {field ? (
              <FieldEditor key={field.id} template={template} field={field} onGone={() => setChosen(undefined)} />
            ) : (
              <p className="px-3.5 pb-4 text-soft">
                Choose a field in the form on the right to name, limit and explain it, or expose another property on the
                left.
              </p>
            )}
          </div>
          <div className="border-t border-rule bg-paper pb-4">
            <Heading aside={versions.length}>Versions</Heading>
            {versions.length === 0 && (
              <p className="px-3.5 text-soft">Not published yet. Publish a version and it can be filled.</p>
            )}
            <ol className="px-3.5">
              {versions.map((version) => (
                <li key={version.id} className="flex gap-3 py-0.5">
                  <b className="w-20 font-semibold">Version {version.number}</b>
                  <span className="flex-1">{version.note || <span className="text-soft">no note</span>}</span>
                  <span className="text-soft">{day(version.created)}</span>
                </li>
              ))}
            </ol>
          </div>
        </main>
        <EditorForm template={template} values={values} onValues={setValues} chosen={chosen} onChoose={setChosen} />
      </div>
    </div>
  )
}

/** Every property that can be a field, by part; a click exposes it. */
function Exposable({ template, onExpose }: { template: Template; onExpose: (id: string) => void }) {
  const { change } = useDraft()
  const driven = (part: Part, key: string) =>
    template.fields.find((f) => drivenBy(template, f).some((d) => d.part === part.id && d.property === key))
  const expose = (part: Part, key: string, property: Property) => {
    const id = freeId(
      template.fields.map((f) => f.id),
      'f',
    )
    const look = fullLook(part.kind, part.look as never) as Record<string, unknown>
    const base = key === 'content' || key === 'picture' ? part.name : `${part.name} ${property.label}`
    const stem =
      base
        .normalize('NFKD')
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^[^a-z]+|-+$/g, '') || 'field'
    let fieldKey = stem
    for (let n = 2; template.fields.some((f) => f.key === fieldKey); n++) fieldKey = `${stem}-${n}`
    const text = runsOf(part)
      .map((run) => run.text ?? '')
      .join('')
    const value = look[key]
    const field: Field = {
      id,
      key: fieldKey,
      name: base,
      note: '',
      type: property.field as FieldType,
      targets: key === 'content' ? [] : [{ part: part.id, property: key as PropertyKey }],
      default:
        key === 'content'
          ? text
          : typeof value === 'object' || value === undefined
            ? '#12343b'
            : (value as string | number | boolean),
      required: false,
      onAir: property.onAir,
      ...(property.options ? { options: [...property.options] } : {}),
      ...(property.type === 'number'
        ? {
            ...(property.min === undefined ? {} : { min: property.min }),
            ...(property.max === undefined ? {} : { max: property.max }),
          }
        : {}),
    }
    const standing =
      key === 'content'
        ? [
            {
              kind: 'look' as const,
              part: part.id,
              key: 'content',
              value: [{ ...runsOf(part)[0], text: undefined, field: id }],
            },
          ]
        : []
    if (change({ kind: 'several', changes: [{ kind: 'field', field }, ...standing] }, `exposing ${base}`)) onExpose(id)
  }
  return (
    <aside className="min-h-0 overflow-auto bg-paper pb-4">
      <Heading>What can be exposed</Heading>
      <p className="px-3.5 pb-1 text-soft">Few fields, well named. What is not exposed stays locked.</p>
      {numberedParts(template).map(({ part, number }) => {
        const offered = propertiesOf(part.kind).filter(([, property]) => property.field)
        return (
          <details
            key={part.id}
            open={part.kind === 'text' || part.kind === 'picture'}
            className="border-t border-rule"
          >
            <summary className="cursor-pointer px-3.5 py-1.5 font-medium">
              {number} {part.name} <span className="font-normal text-soft">{part.kind}</span>
            </summary>
            <ul className="pb-1.5">
              {offered.map(([key, property]) => {
                const field = driven(part, key)
                return (
                  <li key={key} className="flex items-center justify-between py-0.5 pr-3.5 pl-7">
                    <span>{property.label}</span>
                    {field ? (
                      <button
                        type="button"
                        className="max-w-32 truncate text-leaf hover:underline"
                        onClick={() => onExpose(field.id)}
                      >
                        field {field.name}
                      </button>
                    ) : (
                      <Button
                        small
                        onClick={() => expose(part, key, property)}
                        aria-label={`Expose ${property.label} of ${part.name}`}
                      >
                        Expose
                      </Button>
                    )}
                  </li>
                )
              })}
            </ul>
          </details>
        )
      })}
    </aside>
  )
}

function FrameBox({ scene, values }: { scene: Scene; values: Values }) {
  const [ref, size] = useSize<HTMLDivElement>()
  const { width, height } = scene.template.frame
  const shown = Math.max(100, Math.min(size.width - 32, 760))
  return (
    <div ref={ref} className="flex shrink-0 justify-center bg-grey py-4">
      <div className="relative" style={{ width: shown, height: (shown * height) / width }}>
        <Backdrop />
        {size.width > 0 && (
          <FrameCanvas
            scene={scene}
            values={values}
            frame={scene.template.spans.in}
            width={shown}
            label="The title with the form's values"
          />
        )}
      </div>
    </div>
  )
}

function FieldEditor({ template, field, onGone }: { template: Template; field: Field; onGone: () => void }) {
  const { change } = useDraft()
  const put = (more: Partial<Field>, drag?: string) =>
    change({ kind: 'field', field: { ...field, ...more } }, `the field ${field.name}`, drag && `${drag} ${field.id}`)
  const drives = drivenBy(template, field).map(({ part, property }) => {
    const row = numberedParts(template).find((r) => r.part.id === part)
    return row
      ? `${row.number} ${row.part.name}: ${propertiesOf(row.part.kind).find(([key]) => key === property)?.[1].label ?? property}`
      : ''
  })
  return (
    <div className="px-3.5 pb-3">
      <p className="pb-1 text-soft">
        {drives.length > 0 ? `Drives ${drives.join('; ')}.` : 'Drives nothing: it changes no part.'}
      </p>
      <div className="grid grid-cols-2 gap-x-6">
        <Line label="Name">
          {(id) => (
            <TextInput id={id} value={field.name} onChange={(event) => put({ name: event.target.value }, 'name')} />
          )}
        </Line>
        <Line label="Key" note="The column in a sheet.">
          {(id) => (
            <TextInput
              key={field.key}
              id={id}
              defaultValue={field.key}
              onBlur={(event) => {
                const key = event.target.value.trim()
                if (key === field.key) return
                if (!/^[a-z][a-z0-9_-]{0,63}$/.test(key) || !put({ key })) event.target.value = field.key
              }}
            />
          )}
        </Line>
        <Line label="Note">
          {(id) => (
            <TextInput
              id={id}
              value={field.note}
              placeholder="How it should read"
              onChange={(event) => put({ note: event.target.value }, 'note')}
            />
          )}
        </Line>
        <Line label="Section">
          {(id) => (
            <Select
              id={id}
              value={field.section ?? ''}
              options={[['', 'none'], ...template.sections.map((s): [string, string] => [s.id, s.name])]}
              onChange={(event) => {
                const { section: _, ...rest } = field
                change(
                  { kind: 'field', field: event.target.value ? { ...rest, section: event.target.value } : rest },
                  `the field ${field.name}`,
                )
              }}
            />
          )}
        </Line>
        <Line label="Default">
          {(id) => (
            <FieldInput
              id={id}
              field={field}
              media={template.media.map((m) => m.name)}
              value={field.default}
              onValue={(value) => put({ default: value }, 'default')}
            />
          )}
        </Line>
        {field.type === 'text' && (
          <Line label="Characters" note="At most; 0 for no limit.">
            {(id) => (
              <NumberInput
                id={id}
                min={0}
                value={field.limit ?? 0}
                onValue={(limit) => {
                  const { limit: _, ...rest } = field
                  change(
                    { kind: 'field', field: limit > 0 ? { ...rest, limit: Math.round(limit) } : rest },
                    `the limit of ${field.name}`,
                  )
                }}
              />
            )}
          </Line>
        )}
        <Line label="Required">
          {(id) => (
            <input
              id={id}
              type="checkbox"
              className="mt-1.5 size-4 accent-leaf"
              checked={field.required}
              onChange={(event) => put({ required: event.target.checked })}
            />
          )}
        </Line>
        <Line label="On air">
          {(id) => (
            <input
              id={id}
              type="checkbox"
              className="mt-1.5 size-4 accent-leaf"
              checked={field.onAir}
              onChange={(event) => put({ onAir: event.target.checked })}
            />
          )}
        </Line>
      </div>
      <Button
        small
        look="danger"
        className="mt-2"
        onClick={() => {
          if (change({ kind: 'removeField', field: field.id }, `locking ${field.name}`)) onGone()
        }}
      >
        Lock it again
      </Button>
    </div>
  )
}

/** The form as the editor will see it; it fills the frame while it is tried. */
function EditorForm({
  template,
  values,
  onValues,
  chosen,
  onChoose,
}: {
  template: Template
  values: Values
  onValues: (values: Values) => void
  chosen: string | undefined
  onChoose: (id: string) => void
}) {
  const { change } = useDraft()
  const move = (field: Field, by: number) => {
    const ids = template.fields.map((f) => f.id)
    const at = ids.indexOf(field.id)
    if (at + by < 0 || at + by >= ids.length) return
    ids.splice(at, 1)
    ids.splice(at + by, 0, field.id)
    change({ kind: 'orderFields', ids }, 'the order of fields')
  }
  const used = new Set(template.fields.map((f) => f.section))
  const sections = [{ id: undefined, name: '' }, ...template.sections].filter((section) => used.has(section.id))
  return (
    <aside className="min-h-0 overflow-auto bg-paper pb-4">
      <Heading aside={`${template.fields.length} fields`}>The editor's form</Heading>
      {template.fields.length === 0 && (
        <Empty title="Nothing is exposed yet">
          Expose the texts on the left first: they are what changes from title to title.
        </Empty>
      )}
      {sections.map((section) => (
        <section key={section.id ?? 'none'} className="px-3.5">
          {section.name && <h3 className="mt-2 mb-1 border-b border-rule pb-0.5 font-semibold">{section.name}</h3>}
          {template.fields
            .filter((field) => field.section === section.id)
            .map((field) => {
              const value = values[field.key] ?? field.default
              return (
                <fieldset
                  key={field.id}
                  aria-label={field.name}
                  className={classes('-mx-2 rounded-[3px] px-2 py-1.5', chosen === field.id && 'bg-leaf-pale')}
                  onFocus={() => onChoose(field.id)}
                >
                  <div className="flex items-center justify-between">
                    <button type="button" className="font-medium hover:underline" onClick={() => onChoose(field.id)}>
                      {field.name || <span className="text-look">without a name</span>}
                      {field.required && <span className="text-soft"> required</span>}
                    </button>
                    <span className="flex gap-0.5">
                      {field.type === 'text' && field.limit && (
                        <span className="pr-1 text-xs text-soft">
                          {characterCount(String(value))} of {field.limit}
                        </span>
                      )}
                      <Button small aria-label={`${field.name} earlier`} onClick={() => move(field, -1)}>
                        ↑
                      </Button>
                      <Button small aria-label={`${field.name} later`} onClick={() => move(field, 1)}>
                        ↓
                      </Button>
                    </span>
                  </div>
                  <FieldInput
                    label={field.name}
                    field={field}
                    media={template.media.map((m) => m.name)}
                    value={value}
                    onValue={(next) => onValues({ ...values, [field.key]: next })}
                  />
                  {field.note && <p className="mt-0.5 text-xs text-soft">{field.note}</p>}
                </fieldset>
              )
            })}
        </section>
      ))}
      {Object.keys(values).length > 0 && (
        <Button small className="mx-3.5 mt-2" onClick={() => onValues({})}>
          Back to the defaults
        </Button>
      )}
    </aside>
  )
}
