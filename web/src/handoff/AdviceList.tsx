import type { Advice } from '@hoja/core/handoff'
import type { Template } from '@hoja/core/template'
import { useDraft } from '../session/draft.ts'
import { Button, StateWord } from '../ui/controls.tsx'

/** What an editor would trip over, each with its way out. Nothing here keeps anybody from publishing. */
export function AdviceList({
  template,
  advice,
  onField,
}: {
  template: Template
  advice: Advice[]
  onField: (id: string) => void
}) {
  if (advice.length === 0)
    return (
      <p className="px-3.5 py-3">
        <StateWord state="fine">Nothing to say: named, limited, and what is allowed fits.</StateWord>
      </p>
    )
  return (
    <ul aria-label="Advice" className="py-1">
      {advice.map((one) => (
        <AdviceLine
          key={`${one.code} ${one.field} ${one.part} ${one.message}`}
          template={template}
          advice={one}
          onField={onField}
        />
      ))}
    </ul>
  )
}

export function AdviceLine({
  template,
  advice,
  onField,
}: {
  template: Template
  advice: Advice
  onField?: (id: string) => void
}) {
  const { change } = useDraft.getState()
  const field = template.fields.find((one) => one.id === advice.field)
  const { fix } = advice
  return (
    <li className="flex items-start gap-2 border-b border-rule px-3.5 py-1.5 last:border-0">
      <span className="text-look" aria-hidden="true">
        ○
      </span>
      <span className="flex-1">{advice.message}</span>
      {fix && (
        <Button small onClick={() => change(fix.change, fix.words.toLowerCase())}>
          {fix.words}
        </Button>
      )}
      {field && onField && (
        <Button small variant="quiet" onClick={() => onField(field.id)} aria-label={`Open the field ${field.name}`}>
          Open it
        </Button>
      )}
    </li>
  )
}
