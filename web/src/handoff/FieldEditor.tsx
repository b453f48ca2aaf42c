import { fieldTypeNames } from '@hoja/core/data'
import type { Advice } from '@hoja/core/handoff'
import {
  asKind,
  drivenBy,
  type Field,
  findPart,
  freeKey,
  inSection,
  kindsFor,
  languageFieldOf,
  letGo,
  numberedParts,
  standsInText,
  type Template,
} from '@hoja/core/template'
import { useDraft } from '../session/draft.ts'
import { Button, Line, Select, TextInput, Tick } from '../ui/controls.tsx'
import { FieldInput } from '../ui/FieldInput.tsx'
import { LanguageInput } from '../ui/LanguageInput.tsx'
import { AdviceLine } from './AdviceList.tsx'
import { ChoiceEditor, labelOf } from './ChoiceEditor.tsx'
import { DefaultLimits, LimitsEditor } from './LimitsEditor.tsx'

/** Everything about one field: what it drives, what it is called, what it allows. */
export function FieldEditor({
  template,
  field,
  advice,
  onJoin,
  onGone,
}: {
  template: Template
  field: Field
  advice: Advice[]
  onJoin: () => void
  onGone: () => void
}) {
  const { change } = useDraft.getState()
  const put = (more: Partial<Field>, drag?: string) =>
    change({ kind: 'field', field: { ...field, ...more } }, `the field ${field.name}`, drag && `${drag} ${field.id}`)
  /** Sets what may be absent; undefined takes it out. */
  const set = <K extends keyof Field>(key: K, value: Field[K] | undefined, drag?: string) => {
    const { [key]: _, ...rest } = field
    const next = (value === undefined ? rest : { ...rest, [key]: value }) as Field
    change({ kind: 'field', field: next }, `the field ${field.name}`, drag && `${drag} ${field.id}`)
  }
  const likeName = freeKey({ fields: template.fields.filter((one) => one.id !== field.id) }, field.name)
  return (
    <div className="px-3.5 pt-1 pb-4">
      {advice.length > 0 && (
        <ul className="-mx-3.5 mb-1 border-b border-rule">
          {advice.map((one) => (
            <AdviceLine key={one.message} template={template} advice={one} />
          ))}
        </ul>
      )}
      <Drives template={template} field={field} onJoin={onJoin} />
      <div className="grid grid-cols-[repeat(auto-fit,minmax(250px,1fr))] gap-x-6">
        <Line label="Name">
          {(id) => (
            <TextInput id={id} value={field.name} onChange={(event) => put({ name: event.target.value }, 'name')} />
          )}
        </Line>
        <Line label="Key" note="The column in a sheet.">
          {(id) => (
            <span className="flex gap-1.5">
              <TextInput
                key={field.key}
                id={id}
                defaultValue={field.key}
                onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
                onBlur={(event) => {
                  const key = event.target.value.trim()
                  if (key === field.key) return
                  if (!/^[a-z][a-z0-9_-]{0,63}$/.test(key) || !put({ key })) event.target.value = field.key
                }}
              />
              {likeName !== field.key && field.name.trim() !== '' && (
                <Button className="!px-2" title={`Call the column ${likeName}`} onClick={() => put({ key: likeName })}>
                  As named
                </Button>
              )}
            </span>
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
              onChange={(event) =>
                change(
                  { kind: 'field', field: inSection(field, event.target.value || undefined) },
                  `the field ${field.name}`,
                )
              }
            />
          )}
        </Line>
        <Line label="Default">
          {(id) => (
            <FieldInput
              id={id}
              label={`Default of ${field.name}`}
              template={template}
              field={field}
              value={field.default}
              onValue={(value) => put({ default: value }, 'default')}
            />
          )}
        </Line>
        {(field.type === 'text' || field.type === 'texts') && (
          <Line label="Placeholder">
            {(id) => (
              <TextInput
                id={id}
                value={field.placeholder ?? ''}
                placeholder="Seen while it is empty"
                onChange={(event) => set('placeholder', event.target.value || undefined, 'placeholder')}
              />
            )}
          </Line>
        )}
        <LimitsEditor template={template} field={field} onSet={set} />
        <DefaultLimits template={template} field={field} onSet={set} />
        {readsByLanguage(field) && (
          <Line label="Language">
            {(id) => (
              <LanguageInput
                id={id}
                value={field.language ?? ''}
                empty="the title's"
                onValue={(tag) => set('language', tag || undefined)}
              />
            )}
          </Line>
        )}
        <Tick label="Required" checked={field.required} onChange={(required) => put({ required })} />
        <Tick
          label="On air"
          note="May change while it is on air."
          checked={field.onAir}
          onChange={(onAir) => put({ onAir })}
        />
      </div>
      {field.type === 'choice' && !field.whole && <ChoiceEditor template={template} field={field} onPut={put} />}
      <Button
        small
        variant="danger"
        className="mt-3"
        title="The parts keep what they show now"
        onClick={() => {
          if (change({ kind: 'removeField', field: field.id }, `locking ${field.name}`)) onGone()
        }}
      >
        Lock it again
      </Button>
    </div>
  )
}

/** Moments have their language among their limits. */
const readsByLanguage = (field: Field) => standsInText(field) && field.type !== 'moment'

const colourIn = ({ palette }: Template, named: string) => palette.find(({ id }) => named === `palette:${id}`)

/** The properties that a field drives, each of which can be let go of; and more that it could. */
function Drives({ template, field, onJoin }: { template: Template; field: Field; onJoin: () => void }) {
  const { attempt } = useDraft.getState()
  const numbers = new Map(numberedParts(template).map(({ part, number }) => [part.id, number]))
  const driven = drivenBy(template, field).map(({ part, property }) => {
    const own = findPart(template, part)
    const label = labelOf(own, property)
    return { part, property, words: `${numbers.get(part)} ${own?.name}: ${label}` }
  })
  const kinds = kindsFor(template, field)
  const painted = field.paints ?? []
  if (field.id === languageFieldOf(template)?.id)
    return (
      <div className="flex flex-wrap items-center gap-1.5 pt-1 pb-2">
        <span className="text-soft">The language of all words in the title; each row may say its own.</span>
        <Button small variant="quiet" onClick={onJoin} title="Choose the language of a text on the left">
          + of one text only
        </Button>
      </div>
    )
  return (
    <div className="flex flex-wrap items-center gap-1.5 pt-1 pb-2">
      {kinds.length > 1 ? (
        <span className="flex items-center gap-1.5 text-soft">
          A
          <Select
            aria-label="Kind of field"
            className="!h-6 !w-auto !px-1"
            value={field.type}
            options={kinds.map((kind): [string, string] => [kind, fieldTypeNames[kind]])}
            onChange={(event) =>
              attempt((now) => asKind(now, field.id, event.target.value as Field['type']), `the kind of ${field.name}`)
            }
          />
          that drives
        </span>
      ) : (
        <span className="text-soft">A {fieldTypeNames[field.type]} that drives</span>
      )}
      {field.whole && <span>the whole title</span>}
      {driven.length === 0 && painted.length === 0 && !field.whole && (
        <span className="text-look">nothing: it changes no part.</span>
      )}
      {painted.map((colour) => (
        <span
          key={colour}
          className="flex items-center gap-1.5 rounded-[3px] border border-rule bg-white px-1.5"
          title="Wherever this colour of the palette is used"
        >
          <span className="size-3 border border-rule" style={{ background: colourIn(template, colour)?.colour }} />
          the palette's {colourIn(template, colour)?.name}
        </span>
      ))}
      {driven.map(({ part, property, words }) => (
        <span key={words} className="flex items-center gap-1 rounded-[3px] border border-rule bg-white pl-1.5">
          {words}
          <button
            type="button"
            className="px-1 text-soft hover:text-ink"
            aria-label={`Let go of ${words}`}
            onClick={() =>
              attempt(
                (now) => letGo(now, now.fields.find((f) => f.id === field.id)!, part, property),
                'what a field drives',
              )
            }
          >
            ✕
          </button>
        </span>
      ))}
      {!field.whole && (
        <Button small variant="quiet" onClick={onJoin} title="Choose another property on the left">
          + drives too
        </Button>
      )}
    </div>
  )
}
