import { useDroppable } from '@dnd-kit/core'
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { refuseFieldValue } from '@hoja/core/data'
import type { Advice } from '@hoja/core/handoff'
import { wholeKinds } from '@hoja/core/layout'
import {
  type Comment,
  type Field,
  type FormSection,
  formOf,
  freeId,
  inSection,
  languageFieldOf,
  newChoice,
  newLanguage,
  stepField,
  type Template,
  type Values,
} from '@hoja/core/template'
import { characterCount } from '@hoja/core/text'
import { GripVertical } from 'lucide-react'
import { useDraft } from '../session/draft.ts'
import { Button, classes, Empty, Heading } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { FieldInput } from '../ui/FieldInput.tsx'
import { Menu } from '../ui/Menu.tsx'

interface Props {
  template: Template
  values: Values
  onValues: (values: Values) => void
  chosen: string | undefined
  advice: Advice[]
  onChoose: (id: string) => void
}

/** The form as the editor will see it: it fills the frame while it is tried, and is put in order here. */
export function EditorForm(props: Props) {
  const { template, values, onValues } = props
  const { change } = useDraft.getState()
  const sections = formOf(template)
  const addSection = () => {
    const id = freeId(
      template.sections.map((section) => section.id),
      's',
    )
    change({ kind: 'sections', sections: [...template.sections, { id, name: 'New section' }] }, 'adding a section')
  }
  const addComment = () => {
    const id = freeId(
      template.comments.map((comment) => comment.id),
      'c',
    )
    const before = template.fields.some((field) => field.id === props.chosen) ? { before: props.chosen! } : {}
    change(
      { kind: 'comments', comments: [...template.comments, { id, text: 'A word to the editor.', ...before }] },
      'adding a comment',
    )
  }
  const addChoice = () => {
    const field = newChoice(template)
    const section = template.fields.find((one) => one.id === props.chosen)?.section
    if (change({ kind: 'field', field: inSection(field, section) }, 'adding a choice')) props.onChoose(field.id)
  }
  const addLanguage = () => {
    const field = newLanguage(template)
    if (change({ kind: 'field', field }, 'adding a language')) props.onChoose(field.id)
  }
  const { length } = template.fields
  return (
    <aside className="flex min-h-0 flex-col overflow-auto bg-paper pb-4" aria-label="The editor's form">
      <Heading aside={counted(length, 'field')}>The editor's form</Heading>
      <textarea
        aria-label="What this template is for"
        placeholder="What this template is for, and where it stands"
        rows={2}
        className="mx-3.5 mb-1 shrink-0 resize-none bg-transparent text-soft outline-none focus-visible:bg-white"
        value={template.note}
        onChange={(event) => change({ kind: 'info', note: event.target.value }, 'what it is for', 'note')}
      />
      {length === 0 && (
        <Empty title="Nothing is exposed yet">
          Drag the texts here from the left first: they are what changes from title to title.
        </Empty>
      )}
      {sections.map((section) => (
        <Section key={section.id ?? 'none'} section={section} sections={sections} {...props} />
      ))}
      <div className="flex flex-wrap gap-1.5 px-3.5 pt-2">
        <Button small onClick={addSection}>
          + Section
        </Button>
        <Button small onClick={addChoice} title="A field of a few options, each of which sets several properties">
          + Choice
        </Button>
        {!languageFieldOf(template) && (
          <Button small onClick={addLanguage} title="A column that says the language of each row's words">
            + Language
          </Button>
        )}
        <Menu
          label="A field about the whole title"
          className="!h-6 rounded-[3px] border border-rule bg-white !px-2 !text-xs"
          entries={() =>
            Object.values(wholeKinds).map(({ words, field }) => ({
              label: words,
              onSelect: () => {
                const made = field(template)
                if (change({ kind: 'field', field: made }, `the field ${made.name}`)) props.onChoose(made.id)
              },
            }))
          }
        >
          + Whole title
        </Menu>
        <Button small onClick={addComment} title="A line for the editor, before the chosen field">
          + Comment
        </Button>
        {Object.keys(values).length > 0 && (
          <Button small variant="quiet" onClick={() => onValues({})}>
            Back to the defaults
          </Button>
        )}
      </div>
    </aside>
  )
}

function Section({ section, sections, ...props }: Props & { section: FormSection; sections: FormSection[] }) {
  const { template } = props
  const { change } = useDraft.getState()
  const { setNodeRef, isOver } = useDroppable({ id: `section:${section.id ?? ''}` })
  const fields = section.lines.flatMap((line) => (line.kind === 'field' ? [`field:${line.field.id}`] : []))
  const put = (next: Template['sections'], what: string, drag?: string) =>
    change({ kind: 'sections', sections: next }, what, drag)
  const remove = () =>
    change(
      {
        kind: 'several',
        changes: [
          ...template.fields
            .filter((field) => field.section === section.id)
            .map((field) => ({ kind: 'field' as const, field: inSection(field, undefined) })),
          { kind: 'sections', sections: template.sections.filter((one) => one.id !== section.id) },
        ],
      },
      `removing the section ${section.name}`,
    )
  const move = (by: number) => {
    const at = template.sections.findIndex((one) => one.id === section.id)
    const next = [...template.sections]
    const [own] = next.splice(at, 1)
    next.splice(at + by, 0, own!)
    put(next, 'the order of sections')
  }
  const at = template.sections.findIndex((one) => one.id === section.id)
  if (section.id === undefined && section.lines.length === 0 && sections.length > 1) return null
  return (
    <section
      ref={setNodeRef}
      className={classes('px-3.5 pb-1', isOver && 'bg-leaf-pale')}
      aria-label={section.name || 'Fields before any section'}
    >
      {section.id !== undefined && (
        <div className="group mt-2 mb-1 flex items-center gap-1 border-b border-rule">
          <input
            aria-label="Name of the section"
            className="min-w-0 flex-1 bg-transparent py-0.5 font-semibold outline-none focus-visible:bg-white"
            value={section.name}
            onChange={(event) =>
              put(
                template.sections.map((one) => (one.id === section.id ? { ...one, name: event.target.value } : one)),
                'naming a section',
                `section ${section.id}`,
              )
            }
          />
          <span className="flex opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
            <Button
              small
              variant="quiet"
              disabled={at === 0}
              aria-label={`${section.name} earlier`}
              onClick={() => move(-1)}
            >
              ↑
            </Button>
            <Button
              small
              variant="quiet"
              disabled={at === template.sections.length - 1}
              aria-label={`${section.name} later`}
              onClick={() => move(1)}
            >
              ↓
            </Button>
            <Button small variant="quiet" aria-label={`Remove the section ${section.name}`} onClick={remove}>
              ✕
            </Button>
          </span>
        </div>
      )}
      <SortableContext items={fields} strategy={verticalListSortingStrategy}>
        {section.lines.map((line) =>
          line.kind === 'comment' ? (
            <CommentLine key={line.comment.id} template={template} comment={line.comment} />
          ) : (
            <FieldLine key={line.field.id} field={line.field} {...props} />
          ),
        )}
      </SortableContext>
      {section.lines.length === 0 && section.id !== undefined && (
        <p className="py-1.5 text-xs text-soft">Empty: drag fields here.</p>
      )}
    </section>
  )
}

function CommentLine({ template, comment }: { template: Template; comment: Comment }) {
  const { change } = useDraft.getState()
  const put = (comments: Comment[], what: string, drag?: string) => change({ kind: 'comments', comments }, what, drag)
  return (
    <div className="group flex items-start gap-1 py-1">
      <textarea
        aria-label="Comment"
        rows={Math.max(1, Math.ceil(comment.text.length / 52))}
        className="min-w-0 flex-1 resize-none bg-transparent text-soft italic outline-none focus-visible:bg-white"
        value={comment.text}
        onChange={(event) =>
          put(
            template.comments.map((one) => (one.id === comment.id ? { ...one, text: event.target.value } : one)),
            'a comment',
            `comment ${comment.id}`,
          )
        }
      />
      <Button
        small
        variant="quiet"
        className="opacity-0 group-focus-within:opacity-100 group-hover:opacity-100"
        aria-label="Remove the comment"
        onClick={() =>
          put(
            template.comments.filter((one) => one.id !== comment.id),
            'removing a comment',
          )
        }
      >
        ✕
      </Button>
    </div>
  )
}

function FieldLine({ field, template, values, onValues, chosen, advice, onChoose }: Props & { field: Field }) {
  const { attempt } = useDraft.getState()
  const { setNodeRef, setActivatorNodeRef, listeners, transform, transition, isDragging } = useSortable({
    id: `field:${field.id}`,
  })
  const value = values[field.key] ?? field.default
  const refusal = refuseFieldValue(template, field, value)
  const advised = advice.some((one) => one.field === field.id)
  const move = (by: -1 | 1) => {
    const step = stepField(template, field.id, by)
    if (step) attempt(() => step, 'the order of fields')
  }
  return (
    <fieldset
      ref={setNodeRef}
      aria-label={field.name}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={classes(
        'group -mx-2 rounded-[3px] px-2 py-1.5',
        chosen === field.id && 'bg-leaf-pale',
        isDragging && 'opacity-60',
      )}
      onFocus={() => onChoose(field.id)}
      onKeyDown={(event) => {
        if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
        event.preventDefault()
        move(event.key === 'ArrowUp' ? -1 : 1)
      }}
    >
      <div className="flex items-center justify-between gap-1 pb-0.5">
        <span
          ref={setActivatorNodeRef}
          {...listeners}
          className="-ml-1.5 cursor-grab text-rule group-hover:text-soft"
          aria-hidden="true"
        >
          <GripVertical size={12} />
        </span>
        <button
          type="button"
          className="min-w-0 flex-1 truncate text-left font-medium hover:underline"
          onClick={() => onChoose(field.id)}
        >
          {field.name || <span className="text-look">without a name</span>}
          {field.required && <span className="font-normal text-soft"> required</span>}
        </button>
        {advised && (
          <span
            className="text-look"
            role="img"
            aria-label="There is advice on this field"
            title="There is advice on this field"
          >
            ○
          </span>
        )}
        {field.type === 'text' && field.limit !== undefined && (
          <span className={classes('text-xs', refusal ? 'text-stop' : 'text-soft')}>
            {characterCount(String(value))} of {field.limit}
          </span>
        )}
        <span className="flex opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
          <Button small variant="quiet" aria-label={`${field.name} earlier`} onClick={() => move(-1)}>
            ↑
          </Button>
          <Button small variant="quiet" aria-label={`${field.name} later`} onClick={() => move(1)}>
            ↓
          </Button>
        </span>
      </div>
      <FieldInput
        label={field.name}
        template={template}
        field={field}
        value={value}
        mayBeNow
        onValue={(next) => onValues({ ...values, [field.key]: next })}
      />
      {field.note && <p className="mt-0.5 text-xs text-soft">{field.note}</p>}
      {refusal && <p className="mt-0.5 text-xs text-stop">It {refusal.message}.</p>}
    </fieldset>
  )
}
