import {
  type FitStep,
  fullLook,
  type Gradient,
  type Part,
  type Property,
  propertiesOf,
  type Run,
  type Shadow,
  type Template,
} from '@hoja/core/template'
import { useDraft } from '../session/draft.ts'
import { Button, Line, NumberInput, Select, TextInput } from '../ui/controls.tsx'
import { ColourInput } from './ColourInput.tsx'

/** The look of a part: one control for every entry of the property registry. */
export function LookPanel({ template, part }: { template: Template; part: Part }) {
  const { change } = useDraft()
  const look = fullLook(part.kind, part.look as never) as Record<string, unknown>
  return (
    <div className="px-3.5 py-2">
      {propertiesOf(part.kind).map(([key, property]) => (
        <Line key={key} label={property.label}>
          {(id) => (
            <Control
              id={id}
              template={template}
              property={property}
              value={look[key]}
              onValue={(value, drag) =>
                change(
                  { kind: 'look', part: part.id, key, value },
                  `${property.label.toLowerCase()} of ${part.name}`,
                  drag ? `${part.id}.${key}` : undefined,
                )
              }
            />
          )}
        </Line>
      ))}
    </div>
  )
}

interface ControlProps {
  id: string
  template: Template
  property: Property
  value: unknown
  onValue: (value: unknown, drag?: boolean) => void
}

function Control({ id, template, property, value, onValue }: ControlProps) {
  switch (property.type) {
    case 'number': {
      const share = property.unit === 'share'
      return (
        <span className="flex items-center gap-1.5">
          <NumberInput
            id={id}
            value={(value as number) * (share ? 100 : 1)}
            step={1}
            min={(property.min ?? -1e5) * (share ? 100 : 1)}
            max={(property.max ?? 1e5) * (share ? 100 : 1)}
            onValue={(v) => onValue(share ? v / 100 : v, true)}
          />
          <span className="w-14 text-xs text-soft">{share ? '%' : property.unit}</span>
        </span>
      )
    }
    case 'switch':
      return (
        <input
          id={id}
          type="checkbox"
          className="mt-1.5 size-4 accent-leaf"
          checked={value as boolean}
          onChange={(event) => onValue(event.target.checked)}
        />
      )
    case 'choice':
      return (
        <Select
          id={id}
          value={value as string}
          options={property.options!.map((o) => [o, o])}
          onChange={(event) => onValue(event.target.value)}
        />
      )
    case 'font':
      return (
        <Select
          id={id}
          value={value as string}
          options={[
            ['', 'the first one'],
            ...template.fonts.map((f): [string, string] => [f.id, `${f.family} ${f.style}`]),
          ]}
          onChange={(event) => onValue(event.target.value)}
        />
      )
    case 'picture':
      return (
        <Select
          id={id}
          value={value as string}
          options={[['', 'none'], ...template.media.map((m): [string, string] => [m.name, m.name])]}
          onChange={(event) => onValue(event.target.value)}
        />
      )
    case 'colour':
      return <ColourInput id={id} template={template} value={value as string} onValue={(v) => onValue(v, true)} />
    case 'fill':
      return <FillInput id={id} template={template} value={value as string | Gradient | null} onValue={onValue} />
    case 'shadow':
      return <ShadowInput id={id} template={template} value={value as Shadow | null} onValue={onValue} />
    case 'runs':
      return <RunsInput id={id} template={template} value={value as Run[]} onValue={onValue} />
    case 'fit':
      return <FitInput id={id} value={value as FitStep[]} onValue={onValue} />
  }
}

function FillInput({
  id,
  template,
  value,
  onValue,
}: {
  id: string
  template: Template
  value: string | Gradient | null
  onValue: ControlProps['onValue']
}) {
  const kind = value === null ? 'none' : typeof value === 'string' ? 'flat' : value.kind
  const first = typeof value === 'string' ? value : (value?.stops[0]?.colour ?? '#12343b')
  const gradient = (k: 'linear' | 'radial'): Gradient => ({
    kind: k,
    angle: 90,
    stops: [
      { at: 0, colour: first },
      { at: 1, colour: '#0b2329' },
    ],
  })
  return (
    <div className="flex flex-col gap-1">
      <Select
        id={id}
        value={kind}
        options={[
          ['none', 'none'],
          ['flat', 'flat'],
          ['linear', 'linear gradient'],
          ['radial', 'radial gradient'],
        ]}
        onChange={(event) => {
          const next = event.target.value
          onValue(
            next === 'none'
              ? null
              : next === 'flat'
                ? first
                : typeof value === 'object' && value
                  ? { ...value, kind: next }
                  : gradient(next as 'linear'),
          )
        }}
      />
      {typeof value === 'string' && (
        <ColourInput template={template} label="Fill colour" value={value} onValue={(v) => onValue(v, true)} />
      )}
      {value && typeof value === 'object' && (
        <>
          {value.kind === 'linear' && (
            <NumberInput
              aria-label="Angle, degrees"
              value={value.angle}
              onValue={(angle) => onValue({ ...value, angle }, true)}
            />
          )}
          {value.stops.map((stop, i) => (
            <ColourInput
              key={i}
              label={`Colour at ${Math.round(stop.at * 100)} %`}
              template={template}
              value={stop.colour}
              onValue={(colour) =>
                onValue({ ...value, stops: value.stops.map((s, n) => (n === i ? { ...s, colour } : s)) }, true)
              }
            />
          ))}
        </>
      )}
    </div>
  )
}

function ShadowInput({
  id,
  template,
  value,
  onValue,
}: {
  id: string
  template: Template
  value: Shadow | null
  onValue: ControlProps['onValue']
}) {
  return (
    <div className="flex flex-col gap-1">
      <input
        id={id}
        type="checkbox"
        className="mt-1.5 size-4 accent-leaf"
        checked={value !== null}
        onChange={(event) => onValue(event.target.checked ? { x: 0, y: 6, blur: 18, colour: '#00000066' } : null)}
      />
      {value && (
        <>
          <div className="grid grid-cols-3 gap-1">
            {(['x', 'y', 'blur'] as const).map((key) => (
              <NumberInput
                key={key}
                aria-label={`Shadow ${key}, px`}
                title={`${key}, px`}
                value={value[key]}
                min={key === 'blur' ? 0 : -1000}
                onValue={(v) => onValue({ ...value, [key]: v }, true)}
              />
            ))}
          </div>
          <ColourInput
            label="Shadow colour"
            template={template}
            value={value.colour}
            onValue={(colour) => onValue({ ...value, colour }, true)}
          />
        </>
      )}
    </div>
  )
}

/** The runs of a text: words of its own, or a field's. */
function RunsInput({
  id,
  template,
  value,
  onValue,
}: {
  id: string
  template: Template
  value: Run[]
  onValue: ControlProps['onValue']
}) {
  const put = (i: number, run: Run) =>
    onValue(
      value.map((r, n) => (n === i ? run : r)),
      true,
    )
  const texts = template.fields.filter((field) => field.type === 'text')
  return (
    <div className="flex flex-col gap-1">
      {value.map((run, i) => (
        <span key={i} className="flex gap-1">
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
            <TextInput
              aria-label="Own words"
              value={run.text ?? ''}
              onChange={(event) => put(i, { ...run, text: event.target.value })}
            />
          )}
          {value.length > 1 && (
            <Button
              small
              className="!h-7"
              aria-label="Remove this stretch"
              onClick={() => onValue(value.filter((_, n) => n !== i))}
            >
              ✕
            </Button>
          )}
        </span>
      ))}
      <Button small look="quiet" className="self-start" onClick={() => onValue([...value, { text: ' ' }])}>
        + stretch
      </Button>
    </div>
  )
}

const stepWords: Record<FitStep['step'], [string, string]> = {
  wrap: ['wrap to', 'lines'],
  tighten: ['tighten to', 'em/1000'],
  condense: ['condense to', '%'],
  shrink: ['shrink to', '%'],
  cut: ['cut with …', ''],
}
const firstBound: Record<FitStep['step'], number> = { wrap: 2, tighten: -20, condense: 0.9, shrink: 0.8, cut: 0 }

/** The fit steps in their order. */
function FitInput({ id, value, onValue }: { id: string; value: FitStep[]; onValue: ControlProps['onValue'] }) {
  const left = (Object.keys(stepWords) as FitStep['step'][]).filter((step) => !value.some((s) => s.step === step))
  const move = (i: number) => onValue(value.map((s, n) => (n === i - 1 ? value[i] : n === i ? value[i - 1] : s)))
  return (
    <div className="flex flex-col gap-1">
      {value.map((step, i) => {
        const percent = step.step === 'condense' || step.step === 'shrink'
        return (
          <span key={step.step} className="flex items-center gap-1">
            <span className="w-24 shrink-0">
              {i + 1}. {stepWords[step.step][0]}
            </span>
            {step.step !== 'cut' && (
              <NumberInput
                aria-label={stepWords[step.step][0]}
                className="!w-16"
                value={step.to * (percent ? 100 : 1)}
                onValue={(v) => onValue(value.map((s) => (s === step ? { ...step, to: percent ? v / 100 : v } : s)))}
              />
            )}
            <span className="flex-1 text-xs text-soft">{stepWords[step.step][1]}</span>
            {i > 0 && (
              <Button small aria-label="Earlier" onClick={() => move(i)}>
                ↑
              </Button>
            )}
            <Button small aria-label="Remove this step" onClick={() => onValue(value.filter((s) => s !== step))}>
              ✕
            </Button>
          </span>
        )
      })}
      {left.length > 0 && (
        <Select
          id={id}
          value=""
          options={[
            ['', '+ step'],
            ...left.map((step): [string, string] => [step, stepWords[step][0].replace(' to', '')]),
          ]}
          onChange={(event) => {
            const step = event.target.value as FitStep['step']
            if (step) onValue([...value, (step === 'cut' ? { step } : { step, to: firstBound[step] }) as FitStep])
          }}
        />
      )}
    </div>
  )
}
