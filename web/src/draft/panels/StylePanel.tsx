import type { NumberNode } from '@hoja/core/schema'
import {
  allParts,
  type Change,
  described,
  type FitStep,
  fontOf,
  fullStyle,
  isInEffect,
  type Outline,
  type Part,
  type Property,
  partKinds,
  propertiesOf,
  propertyOf,
  runsOf,
  saidBy,
  type Template,
  valueSchema,
} from '@hoja/core/template'
import { useDraft } from '../../session/draft.ts'
import { FontChoice } from '../../session/fonts/FontChoice.tsx'
import { Button, Checkbox, Line, Select, TextInput } from '../../ui/controls.tsx'
import { counted } from '../../ui/counted.ts'
import { FillInput } from '../../ui/FillInput.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { PropertyInput } from '../../ui/PropertyInput.tsx'
import { useDesk } from '../desk.ts'
import { AsPath } from './AsPath.tsx'
import { AxesLines, axisKeys } from './AxesLines.tsx'
import { FeaturesInput } from './FeaturesInput.tsx'
import { RunsInput } from './RunsInput.tsx'
import { ShadowsInput } from './ShadowsInput.tsx'
import { StylesMenu } from './StylesMenu.tsx'

/** What every kind of part has stands last: it is set least often. */
const common = new Set(
  propertiesOf('group').flatMap(([key]) => (partKinds.every((kind) => propertyOf(kind, key)) ? [key] : [])),
)
/** What of a text is changed most. */
const foremost = new Set(['content', 'font', 'size', 'align', 'colour', 'fit'])
const corners = ['radiusTopLeft', 'radiusTopRight', 'radiusBottomLeft', 'radiusBottomRight']

/** The style of a part: one control for every entry of the property registry. */
export function StylePanel({ template, part }: { template: Template; part: Part }) {
  const { change } = useDraft.getState()
  const style = fullStyle(part.kind, part.style as never) as Record<string, unknown>
  const all = propertiesOf(part.kind).filter(([key]) => isInEffect(part, key))
  const sorted = [...all.filter(([key]) => !common.has(key)), ...all.filter(([key]) => common.has(key))]
  const put = (key: string, label: string, value: unknown, drag?: boolean) =>
    change(
      { kind: 'style', part: part.id, key, value },
      `${label.toLowerCase()} of ${part.name}`,
      drag ? `${part.id}.${key}` : undefined,
    )
  const lineOf = (key: string, narrow = false) => {
    const property = propertyOf(part.kind, key)!
    return (
      <Line key={key} label={property.label} narrow={narrow}>
        {(id) => (
          <Control
            id={id}
            template={template}
            part={part}
            property={property}
            value={style[key]}
            onValue={(value, drag) => put(key, property.label, value, drag)}
          />
        )}
      </Line>
    )
  }
  return (
    <div className="px-3.5 py-1.5">
      {part.kind === 'text' && (
        // What is changed most stands where it is seen without scrolling.
        <div className="pb-1">
          {lineOf('content', true)}
          {lineOf('font', true)}
          <div className="grid grid-cols-2 gap-3">
            {lineOf('size', true)}
            {lineOf('align', true)}
          </div>
          {lineOf('colour', true)}
          {lineOf('fit', true)}
        </div>
      )}
      <div className="pb-1">
        <StylesMenu template={template} part={part} />
      </div>
      {sorted.map(([key]) =>
        part.kind === 'text' && foremost.has(key) ? null : key === corners[0] ? (
          <Corners key={key} part={part} style={style} />
        ) : corners.includes(key) ? null : key === axisKeys[0] ? (
          <AxesLines key={key} part={part} onValue={(axis, value, label) => put(axis, label, value, true)} />
        ) : axisKeys.includes(key) ? null : (
          lineOf(key)
        ),
      )}
      <Line label="May stay unseen">
        {(id) => (
          <TextInput
            key={`${part.id} ${part.unseen}`}
            id={id}
            defaultValue={part.unseen ?? ''}
            placeholder="no; or why it may"
            title="Why it, and what it holds, may stay unseen: then no check tells of that"
            maxLength={300}
            onBlur={(event) => {
              const why = event.target.value.trim() || undefined
              if (why !== part.unseen)
                change({ kind: 'unseen', part: part.id, why }, `that ${part.name} may stay unseen`)
            }}
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          />
        )}
      </Line>
      <AsPath part={part} />
    </div>
  )
}

/** The radius of each corner; a change goes to all four unless they are let go of one another. */
function Corners({ part, style }: { part: Part; style: Record<string, unknown> }) {
  const { change } = useDraft.getState()
  const alike = corners.every((key) => style[key] === style[corners[0]!])
  const properties = Object.fromEntries(propertiesOf(part.kind))
  const put = (keys: string[], value: number) =>
    change(
      { kind: 'several', changes: keys.map((key) => ({ kind: 'style', part: part.id, key, value })) },
      `the corners of ${part.name}`,
      `${part.id}.corners`,
    )
  return (
    <Line label="Corners, px">
      {(id) => (
        <div className="grid grid-cols-4 gap-1">
          {corners.map((key, i) => (
            <NumberInput
              key={key}
              id={i === 0 ? id : undefined}
              aria-label={properties[key]!.label}
              title={properties[key]!.label}
              bounds={valueSchema(properties[key]!) as NumberNode}
              value={style[key] as number}
              onValue={(value) => put([key], value)}
            />
          ))}
          {!alike && (
            <Button small className="col-span-4" onClick={() => put(corners, style[corners[0]!] as number)}>
              All like the first
            </Button>
          )}
        </div>
      )}
    </Line>
  )
}

interface ControlProps {
  id: string
  template: Template
  part: Part
  property: Property
  value: unknown
  onValue: (value: unknown, drag?: boolean) => void
}

function Control({ id, template, part, property, value, onValue }: ControlProps) {
  switch (property.type) {
    case 'fill':
      return <FillInput id={id} template={template} value={value as never} onValue={onValue} />
    case 'shadows':
      return <ShadowsInput id={id} template={template} value={value as never} onValue={onValue} />
    case 'runs':
      return <RunsInput id={id} template={template} part={part} value={value as never} onValue={onValue} />
    case 'features':
      return <FeaturesInput id={id} part={part} value={value as string[]} onValue={onValue} />
    case 'outlines':
      return (
        <span id={id} className="flex items-center gap-2">
          <Button
            small
            variant={useDesk.getState().tool === 'points' ? 'primary' : 'plain'}
            onClick={() => useDesk.getState().set({ tool: 'points' })}
          >
            Edit on the frame
          </Button>
          <span className="text-xs text-soft">
            {counted(
              (value as Outline[]).reduce((sum, outline) => sum + outline.points.length, 0),
              'point',
            )}
          </span>
          <OpenOrClosed value={value as Outline[]} onValue={onValue} />
        </span>
      )
    case 'part':
      return (
        <Select
          id={id}
          value={value as string}
          options={[
            ['', 'nothing, it stands in its box'],
            ...allParts(template.parts)
              .filter((other) => other.kind === 'path' || other.kind === 'ellipse' || other.kind === 'box')
              .map((other): [string, string] => [other.id, other.name]),
          ]}
          onChange={(event) => onValue(event.target.value || undefined)}
        />
      )
    case 'font':
      return (
        <FontChoice
          id={id}
          beside
          label={`Font of ${part.name}`}
          template={template}
          font={fontOf(template, value as string)?.id ?? ''}
          text={saidBy(template, runsOf(part))}
          onFont={(font, first) => {
            const own: Change = { kind: 'style', part: part.id, key: 'font', value: font }
            useDraft
              .getState()
              .change(first ? { kind: 'several', changes: [first, own] } : own, `the font of ${part.name}`)
          }}
        />
      )
    case 'fit':
      return <FitInput id={id} value={value as FitStep[]} onValue={onValue} />
    default:
      return <PropertyInput id={id} template={template} property={property} value={value} onValue={onValue} />
  }
}

/** Whether the lines of a path end where they began. */
function OpenOrClosed({ value, onValue }: { value: Outline[]; onValue: ControlProps['onValue'] }) {
  const closed = value.every((outline) => outline.closed)
  return (
    <label className="flex items-center gap-1 text-xs">
      <Checkbox checked={closed} onValue={() => onValue(value.map((outline) => ({ ...outline, closed: !closed })))} />
      closed
    </label>
  )
}

const stepWords: Record<FitStep['step'], [string, string]> = {
  fill: ['fill', '% of its room'],
  wrap: ['wrap to', 'lines'],
  tighten: ['tighten to', 'em/1000'],
  condense: ['condense to', '%'],
  shrink: ['shrink to', '%'],
  cut: ['cut with …', ''],
}
const firstStep: { [S in FitStep['step']]: Extract<FitStep, { step: S }> } = {
  fill: { step: 'fill', share: 1, least: 0.5, most: 3 },
  wrap: { step: 'wrap', to: 2 },
  tighten: { step: 'tighten', to: -20 },
  condense: { step: 'condense', to: 0.9 },
  shrink: { step: 'shrink', to: 0.8 },
  cut: { step: 'cut' },
}

type FillStep = Extract<FitStep, { step: 'fill' }>
const fillParts: [
  key: 'share' | 'least' | 'most',
  bounds: 'fillShare' | 'fillLeast' | 'fillMost',
  words: string,
  title: string,
][] = [
  ['share', 'fillShare', '% of its room', 'The share of its room that it takes, %'],
  ['least', 'fillLeast', 'at', 'At least so many per cent of its size'],
  ['most', 'fillMost', 'to', 'At most so many per cent of its size'],
]

/** Which share of its room a text takes, and how small and large it may become for that. */
function FillBounds({ step, onStep }: { step: FillStep; onStep: (step: FillStep) => void }) {
  return (
    <span className="flex min-w-0 flex-1 flex-wrap items-center gap-1 text-xs whitespace-nowrap text-soft">
      <Select
        aria-label="What of its room it fills"
        title="By height where both of its heights are held or its height is given; with wrap, in as many lines as make it largest"
        className="!w-28"
        value={step.by ?? 'width'}
        options={[
          ['width', 'across'],
          ['height', 'in height'],
          ['both', 'both ways'],
        ]}
        onChange={({ target: { value } }) => {
          const { by: _, ...rest } = step
          onStep(value === 'width' ? rest : { ...rest, by: value as 'both' })
        }}
      />
      {fillParts.map(([key, bounds, words, title]) => (
        <span key={key} className="flex items-center gap-1">
          {key !== 'share' && words}
          <NumberInput
            aria-label={title}
            title={title}
            className="!w-12"
            bounds={described.fitBounds[bounds]}
            percent
            value={step[key]}
            onValue={(value) => onStep({ ...step, [key]: value })}
          />
          {key === 'share' && words}
          {key === 'most' && '%'}
        </span>
      ))}
    </span>
  )
}

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
            <span className="w-24 shrink-0 whitespace-nowrap">
              {i + 1}. {stepWords[step.step][0]}
            </span>
            {step.step === 'fill' && (
              <FillBounds step={step} onStep={(next) => onValue(value.map((s) => (s === step ? next : s)))} />
            )}
            {step.step !== 'cut' && step.step !== 'fill' && (
              <NumberInput
                aria-label={stepWords[step.step][0]}
                className="!h-6 !w-14"
                bounds={described.fitBounds[step.step]}
                percent={percent}
                value={step.to}
                onValue={(to) => onValue(value.map((s) => (s === step ? { ...step, to } : s)))}
              />
            )}
            {step.step !== 'fill' && <span className="flex-1 text-xs text-soft">{stepWords[step.step][1]}</span>}
            {i > 0 && value[i - 1]!.step !== 'fill' && (
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
          className="!h-6 !w-24 text-xs"
          value=""
          options={[
            ['', '+ step'],
            ...left.map((step): [string, string] => [step, stepWords[step][0].replace(' to', '')]),
          ]}
          onChange={(event) => {
            const step = event.target.value as FitStep['step']
            // What fills its room comes first: the others say what is done when that was not enough.
            if (step) onValue(step === 'fill' ? [firstStep.fill, ...value] : [...value, firstStep[step]])
          }}
        />
      )}
    </div>
  )
}
