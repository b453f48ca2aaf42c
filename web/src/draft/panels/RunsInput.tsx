import {
  described,
  type Field,
  fontOf,
  freeId,
  type Part,
  type Run,
  saidBy,
  standsInText,
  type Template,
} from '@hoja/core/template'
import { useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { FontChoice } from '../../session/fonts/FontChoice.tsx'
import { ColourInput } from '../../ui/ColourInput.tsx'
import { Button, Checkbox, classes, Line, Select } from '../../ui/controls.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { AxesLines } from './AxesLines.tsx'
import { FeaturesInput } from './FeaturesInput.tsx'

/** A column name from words: lower case, without accents, unique among the fields. */
export function keyFrom(words: string, fields: readonly Field[]): string {
  const bare =
    words
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^[^a-z]+|_+$/g, '')
      .slice(0, 40) || 'text'
  const taken = new Set(fields.map((field) => field.key))
  if (!taken.has(bare)) return bare
  for (let n = 2; ; n++) if (!taken.has(`${bare}${n}`)) return `${bare}${n}`
}

/** The stretches of a text, each with words of its own or a field's, and with its own style where it differs. */
export function RunsInput({
  id,
  template,
  part,
  value,
  onValue,
}: {
  id: string
  template: Template
  part: Part
  value: Run[]
  onValue: (value: Run[], drag?: boolean) => void
}) {
  const { change } = useDraft.getState()
  const [open, setOpen] = useState<number>()
  const put = (i: number, run: Run) =>
    onValue(
      value.map((r, n) => (n === i ? run : r)),
      true,
    )
  const texts = template.fields.filter(standsInText)
  /** The words become a field's default: what stands there until an editor fills it. */
  const expose = (i: number, run: Run) => {
    const { text, ...style } = run
    const fieldId = freeId(
      template.fields.map((field) => field.id),
      'field',
    )
    const name = value.length > 1 ? `${part.name} ${i + 1}` : part.name
    const field: Field = {
      id: fieldId,
      key: keyFrom(name, template.fields),
      name,
      note: '',
      type: 'text',
      targets: [],
      default: text ?? '',
      required: false,
      onAir: true,
    }
    const content = value.map((r, n) => (n === i ? { ...style, field: fieldId } : r))
    change(
      {
        kind: 'several',
        changes: [
          { kind: 'field', field },
          { kind: 'style', part: part.id, key: 'content', value: content },
        ],
      },
      `exposing ${name}`,
    )
  }
  return (
    <div className="flex flex-col gap-1">
      {value.map((run, i) => (
        <div key={i} className="flex flex-wrap items-center gap-1">
          <span className={classes('flex gap-1', !run.field && 'w-full')}>
            <Select
              id={i === 0 ? id : undefined}
              aria-label="Whose words"
              className="!w-28 shrink-0"
              value={run.field ?? ''}
              options={[['', 'own words'], ...texts.map((f): [string, string] => [f.id, `field ${f.name}`])]}
              onChange={(event) => {
                const { field: _, ...rest } = run
                put(i, event.target.value ? { ...rest, field: event.target.value } : { ...rest, text: run.text ?? '' })
              }}
            />
            {!run.field && (
              <textarea
                aria-label="Own words"
                data-words=""
                rows={Math.min(3, (run.text ?? '').split('\n').length)}
                className="w-full resize-none rounded-[3px] border border-rule bg-white px-2 py-[3px] text-sm outline-none focus:border-leaf focus-visible:outline-2 focus-visible:outline-leaf"
                value={run.text ?? ''}
                onChange={(event) => put(i, { ...run, text: event.target.value })}
              />
            )}
          </span>
          <span className="flex gap-1">
            {!run.field && (
              <Button
                small
                onClick={() => expose(i, run)}
                title="Editors fill it; these words stand there until they do"
              >
                Make it a field
              </Button>
            )}
            <Button small aria-expanded={open === i} onClick={() => setOpen(open === i ? undefined : i)}>
              Own style
            </Button>
            {value.length > 1 && (
              <Button small aria-label="Remove this stretch" onClick={() => onValue(value.filter((_, n) => n !== i))}>
                ✕
              </Button>
            )}
            {i === value.length - 1 && (
              <Button small variant="quiet" onClick={() => onValue([...value, { text: ' ' }])}>
                + stretch
              </Button>
            )}
          </span>
          {open === i && <RunStyle template={template} part={part} run={run} onRun={(next) => put(i, next)} />}
        </div>
      ))}
    </div>
  )
}

/** What one stretch has of its own; empty means as the whole text. */
function RunStyle({
  template,
  part,
  run,
  onRun,
}: {
  template: Template
  part: Part
  run: Run
  onRun: (run: Run) => void
}) {
  const own = <K extends keyof Run>(key: K, value: Run[K] | undefined) => {
    const { [key]: _, ...rest } = run
    onRun(value === undefined ? rest : { ...rest, [key]: value })
  }
  const number = (key: 'size' | 'tracking', label: string, id: string, first: number) => (
    <span className="flex items-center gap-1">
      <Checkbox
        aria-label={`${label} of its own`}
        checked={run[key] !== undefined}
        onValue={(checked) => own(key, checked ? first : undefined)}
      />
      {run[key] !== undefined ? (
        <NumberInput
          id={id}
          bounds={key === 'size' ? described.fontSize : described.runTracking}
          value={run[key]}
          onValue={(value) => own(key, value)}
        />
      ) : (
        <span className="text-soft">as the text</span>
      )}
    </span>
  )
  const style = part.kind === 'text' ? part.style : {}
  return (
    <div className="border-l-2 border-rule pl-2">
      <Line narrow label="Font">
        {(id) => (
          <span className="flex items-center gap-1">
            <Checkbox
              aria-label="Font of its own"
              checked={run.font !== undefined}
              onValue={(checked) => own('font', checked ? fontOf(template, style.font)?.id : undefined)}
            />
            {run.font === undefined ? (
              <span className="text-soft">as the text</span>
            ) : (
              <FontChoice
                id={id}
                label="Font of the stretch"
                template={template}
                font={run.font}
                text={saidBy(template, [run])}
                onFont={(font, first) => {
                  if (!first || useDraft.getState().change(first, 'a font for a stretch')) own('font', font)
                }}
              />
            )}
          </span>
        )}
      </Line>
      <Line narrow label="Size, px">
        {(id) => number('size', 'Size', id, style.size ?? 48)}
      </Line>
      <Line narrow label="Tracking">
        {(id) => number('tracking', 'Tracking', id, style.tracking ?? 0)}
      </Line>
      <Line narrow label="Colour">
        {(id) => (
          <span className="flex items-center gap-1">
            <Checkbox
              aria-label="Colour of its own"
              checked={run.colour !== undefined}
              onValue={(checked) => own('colour', checked ? (style.colour ?? '#ffffff') : undefined)}
            />
            {run.colour !== undefined ? (
              <ColourInput
                id={id}
                label="Colour of the stretch"
                template={template}
                value={run.colour}
                onValue={(colour) => own('colour', colour)}
              />
            ) : (
              <span className="text-soft">as the text</span>
            )}
          </span>
        )}
      </Line>
      <AxesLines part={part} run={run} narrow onValue={(key, value) => own(key as keyof Run, value as never)} />
      <Line narrow label="Features">
        {(id) => (
          <FeaturesInput
            id={id}
            part={part}
            font={run.font}
            value={run.features ?? style.features ?? []}
            onValue={(features) => own('features', features)}
          />
        )}
      </Line>
    </div>
  )
}
