import { settingWords } from '@hoja/core/handoff'
import { edgeWord, mirroredMotion } from '@hoja/core/layout'
import { moves, withMove } from '@hoja/core/motion'
import {
  type Axis,
  allParts,
  type ChoiceOption,
  described,
  type Edge,
  type Field,
  type Fill,
  findPart,
  fullStyle,
  type Motion,
  type Part,
  placeOf,
  propertiesOf,
  propertyOf,
  type Run,
  recolour,
  runsOf,
  type Setting,
  type Target,
  type Template,
  type Tie,
  wordsOf,
} from '@hoja/core/template'
import { type ReactNode, useMemo, useState } from 'react'
import { ColourInput } from '../ui/ColourInput.tsx'
import { Button, Select, TextInput } from '../ui/controls.tsx'
import { FillInput } from '../ui/FillInput.tsx'
import { NumberInput } from '../ui/NumberInput.tsx'
import { PropertyInput } from '../ui/PropertyInput.tsx'

/** Properties that one option may set, by part: all but those that need an editor of their own. */
const plainTypes = new Set(['number', 'switch', 'choice', 'font', 'picture', 'colour', 'fill', 'numbers'])
const partLabels: Record<string, string> = {
  x: 'Place across',
  y: 'Place down',
  motion: 'Movement',
  room: 'Room',
  order: 'Layer, from below',
}

/** What a property of a part, or what else an option sets of it, is called. */
export const labelOf = (part: Part | undefined, property: string) =>
  partLabels[property] ?? (part && propertyOf(part.kind, property)?.label) ?? property

/** What every option of a choice sets: a line for each property, a column for each option. */
export function ChoiceEditor({
  template,
  field,
  onPut,
}: {
  template: Template
  field: Field
  onPut: (more: Partial<Field>, drag?: string) => boolean
}) {
  const options = field.options ?? []
  const lines = [
    ...new Map(
      options.flatMap(({ sets }) =>
        sets.map(({ part, property }) => [`${part} ${property}`, { part, property }] as const),
      ),
    ).values(),
  ]
  // A palette of a name is an option; what it says of no colour is as that was drawn.
  const colours = template.palette.filter(({ id }) =>
    options.some((option) => option.colours?.some(({ of }) => of === `palette:${id}`)),
  )
  const put = (next: ChoiceOption[], drag?: string) => onPut({ options: next }, drag)
  const designed = (part: string, property: string): unknown => {
    const own = findPart(template, part)!
    if (property === 'x' || property === 'y' || property === 'motion') return own[property]
    if (property === 'room') return own.room ?? { kind: 'free' }
    if (property === 'order') return placeOf(template.parts, part)!.index
    return (fullStyle(own.kind, own.style as never) as Record<string, unknown>)[property]
  }
  const setValue = (option: ChoiceOption, part: string, property: string, value: unknown, drag?: boolean) => {
    const is = (one: Setting) => one.part === part && one.property === property
    const sets = option.sets.some(is)
      ? option.sets.map((one) => (is(one) ? { ...one, value } : one))
      : [...option.sets, { part, property, value }]
    put(
      options.map((one) => (one.value === option.value ? { ...one, sets } : one)),
      drag ? `${option.value} ${part} ${property}` : undefined,
    )
  }
  const add = (part: string, property: string) =>
    put(options.map((one) => ({ ...one, sets: [...one.sets, { part, property, value: designed(part, property) }] })))
  const addOption = () => {
    let n = options.length + 1
    while (options.some((one) => one.value === `option-${n}`)) n++
    const sets = lines.map(({ part, property }) => ({ part, property, value: designed(part, property) }))
    put([...options, { value: `option-${n}`, name: `Option ${n}`, sets }])
  }
  const rename = (option: ChoiceOption, more: Partial<ChoiceOption>) => {
    const next = options.map((one) => (one.value === option.value ? { ...one, ...more } : one))
    const wasDefault = field.default === option.value && more.value !== undefined
    return onPut({ options: next, ...(wasDefault ? { default: more.value! } : {}) })
  }
  return (
    <div className="mt-2 overflow-x-auto border-t border-rule pt-2">
      <table className="border-separate border-spacing-x-2 border-spacing-y-1 text-left">
        <caption className="pb-1 text-left text-soft">One option sets all that stands under it.</caption>
        <thead>
          <tr>
            <th className="font-normal text-soft">sets</th>
            {options.map((option) => (
              <th key={option.value} className="min-w-32 align-top font-normal">
                <TextInput
                  aria-label={`Name of the option ${option.value}`}
                  value={option.name}
                  onChange={(event) => rename(option, { name: event.target.value })}
                />
                <span className="mt-1 flex gap-1">
                  <TextInput
                    key={option.value}
                    className="!h-6 text-xs"
                    aria-label={`The option ${option.name} in data`}
                    title="As data names it"
                    defaultValue={option.value}
                    onBlur={(event) => {
                      const value = event.target.value.trim()
                      if (value === option.value) return
                      const taken = options.some((one) => one.value === value)
                      if (value === '' || taken || !rename(option, { value })) event.target.value = option.value
                    }}
                  />
                  <Button
                    small
                    variant="quiet"
                    disabled={options.length < 2 || field.default === option.value}
                    title={field.default === option.value ? 'It is the default' : undefined}
                    aria-label={`Remove the option ${option.name}`}
                    onClick={() => put(options.filter((one) => one.value !== option.value))}
                  >
                    ✕
                  </Button>
                </span>
              </th>
            ))}
            <th className="align-top">
              <Button small onClick={addOption}>
                + Option
              </Button>
            </th>
          </tr>
        </thead>
        <tbody>
          {lines.map(({ part, property }) => {
            const own = findPart(template, part)
            const words = `${own?.name}: ${labelOf(own, property)}`
            return (
              <SetLine
                key={`${part} ${property}`}
                words={words}
                options={options}
                remove={`Set ${words} no longer`}
                onRemove={() =>
                  put(
                    options.map((one) => ({
                      ...one,
                      sets: one.sets.filter((set) => set.part !== part || set.property !== property),
                    })),
                  )
                }
              >
                {(option) => (
                  <SettingInput
                    template={template}
                    part={own!}
                    property={property}
                    label={`${words}, ${option.name}`}
                    value={
                      option.sets.find((one) => one.part === part && one.property === property)?.value ??
                      designed(part, property)
                    }
                    onValue={(value, drag) => setValue(option, part, property, value, drag)}
                  />
                )}
              </SetLine>
            )
          })}
          {colours.map(({ id, name, colour }) => (
            <SetLine
              key={id}
              words={`The palette: ${name}`}
              options={options}
              remove={`Recolour ${name} no longer`}
              onRemove={() => {
                const changed = (now: Field, { value, colours }: ChoiceOption) =>
                  colours ? recolour(now, value, id, undefined).field : now
                put(options.reduce(changed, field).options!)
              }}
            >
              {(option) => (
                <ColourInput
                  template={template}
                  label={`${name}, ${option.name}`}
                  value={option.colours?.find(({ of }) => of === `palette:${id}`)?.to ?? colour}
                  onValue={(to) => put(recolour(field, option.value, id, to).field.options!, `${option.value} ${id}`)}
                />
              )}
            </SetLine>
          ))}
        </tbody>
      </table>
      <AddLine template={template} taken={lines} onAdd={add} />
      <OptionWords template={template} options={options} />
    </div>
  )
}

/** What each option changes, before and after, in words. */
function OptionWords({ template, options }: { template: Template; options: readonly ChoiceOption[] }) {
  const told = useMemo(
    () =>
      options.map((option) => ({
        option,
        sentences: option.sets.flatMap((setting) => settingWords(template, setting) || []),
      })),
    [template, options],
  )
  if (told.every(({ sentences }) => sentences.length === 0)) return null
  return (
    <section aria-label="What the options change" className="mt-3 border-t border-rule pt-2">
      {told.map(({ option, sentences }) => (
        <div key={option.value} className="grid grid-cols-[96px_minmax(0,1fr)] gap-x-3 py-0.5">
          <h4 className="truncate font-medium">{option.name}</h4>
          {sentences.length === 0 ? (
            <p className="text-soft">as drawn</p>
          ) : (
            <ul>
              {sentences.map((sentence) => (
                <li key={sentence}>{sentence}</li>
              ))}
            </ul>
          )}
        </div>
      ))}
    </section>
  )
}

/** One line of what options set: a control for each option, and a way to set it no longer. */
function SetLine({
  words,
  options,
  remove,
  onRemove,
  children,
}: {
  words: string
  options: readonly ChoiceOption[]
  /** What the button that removes it says. */
  remove: string
  onRemove: () => void
  children: (option: ChoiceOption) => ReactNode
}) {
  return (
    <tr>
      <th className="pt-1 align-top font-normal whitespace-nowrap">{words}</th>
      {options.map((option) => (
        <td key={option.value} className="align-top">
          {children(option)}
        </td>
      ))}
      <td className="align-top">
        <Button small variant="quiet" aria-label={remove} onClick={onRemove}>
          ✕
        </Button>
      </td>
    </tr>
  )
}

/** Chooses a part and one of its properties for all options to set. */
function AddLine({
  template,
  taken,
  onAdd,
}: {
  template: Template
  taken: { part: string; property: string }[]
  onAdd: (part: string, property: string) => void
}) {
  const parts = allParts(template.parts)
  const [part, setPart] = useState(parts[0]?.id ?? '')
  const own = parts.find((one) => one.id === part) ?? parts[0]
  if (!own) return null
  const free = [
    ...Object.entries(partLabels).filter(([key]) => key !== 'room' || own.kind === 'text'),
    // Words that are written; what fields say is theirs.
    ...(own.kind === 'text' && !runsOf(own).some((run) => run.field) ? [['content', 'Words'] as [string, string]] : []),
    ...propertiesOf(own.kind)
      .filter(([, property]) => plainTypes.has(property.type))
      .map(([key, property]): [string, string] => [key, property.label]),
  ].filter(([key]) => !taken.some((one) => one.part === own.id && one.property === key))
  return (
    <div className="mt-1 flex w-80 gap-1.5">
      <Select
        aria-label="Part that the options set something of"
        value={own.id}
        options={parts.map((one): [string, string] => [one.id, one.name])}
        onChange={(event) => setPart(event.target.value)}
      />
      <Select
        aria-label={`Property of ${own.name} that the options set`}
        value=""
        options={[['', '+ sets …'], ...free]}
        onChange={(event) => event.target.value && onAdd(own.id, event.target.value)}
      />
    </div>
  )
}

function SettingInput({
  template,
  part,
  property,
  label,
  value,
  onValue,
}: {
  template: Template
  part: Part
  property: string
  label: string
  value: unknown
  onValue: (value: unknown, drag?: boolean) => void
}) {
  if (property === 'x' || property === 'y')
    return (
      <PlaceInput
        template={template}
        part={part}
        axis={property}
        label={label}
        value={value as Axis}
        onValue={onValue}
      />
    )
  if (property === 'order') {
    const { list } = placeOf(template.parts, part.id)!
    // As people count: the lowest is the first.
    return (
      <NumberInput
        aria-label={label}
        bounds={{ ...described.order, least: 1, most: list.length }}
        value={(value as number) + 1}
        onValue={(place) => onValue(place - 1)}
      />
    )
  }
  if (property === 'motion' || property === 'room') {
    const own = property === 'motion' ? part.motion : (part.room ?? { kind: 'free' })
    return (
      <WholeInput
        label={label}
        own={own}
        mirrored={property === 'motion' ? mirroredMotion(part.motion) : undefined}
        others={property === 'motion' ? readyMotions(template, part) : []}
        value={value}
        onValue={onValue}
      />
    )
  }
  const known = propertyOf(part.kind, property)!
  if (known.type === 'runs')
    return (
      <TextInput
        aria-label={label}
        value={wordsOf(value as Run[])}
        onChange={(event) => onValue([{ ...(value as Run[])[0], text: event.target.value }], true)}
      />
    )
  if (known.type === 'fill')
    return <FillInput template={template} label={label} value={value as Fill} onValue={onValue} />
  return <PropertyInput template={template} property={known} label={label} value={value} onValue={onValue} />
}

/** The moves that a part can arrive by, each as the movement that it makes. */
const readyMotions = (template: Template, part: Part): [id: string, name: string, motion: Motion][] =>
  moves
    .filter(({ kinds }) => kinds.includes(part.kind))
    .map((move) => [move.id, move.name.toLowerCase(), withMove(part.motion, move, part.kind, template.spans, 'in')])

/** A movement or a room that an option gives: as drawn, its mirror, one that is ready, or one of its own. */
function WholeInput({
  label,
  own,
  mirrored,
  others,
  value,
  onValue,
}: {
  label: string
  own: unknown
  mirrored: unknown
  others: readonly [id: string, name: string, value: unknown][]
  value: unknown
  onValue: (value: unknown) => void
}) {
  const is = (other: unknown) => JSON.stringify(value) === JSON.stringify(other)
  const ready = others.find(([, , other]) => is(other))
  const now = is(own) ? 'drawn' : mirrored !== undefined && is(mirrored) ? 'mirrored' : (ready?.[0] ?? 'own')
  return (
    <Select
      aria-label={label}
      value={now}
      options={[
        ['drawn', 'as drawn'],
        ...(mirrored === undefined ? [] : [['mirrored', 'mirrored across'] as [string, string]]),
        ...(now === 'own' ? [['own', 'of its own'] as [string, string]] : []),
        ...others.map(([id, name]): [string, string] => [id, name]),
      ]}
      onChange={({ target }) => {
        const chosen = others.find(([id]) => id === target.value)
        if (target.value !== 'own') onValue(chosen ? chosen[2] : target.value === 'mirrored' ? mirrored : own)
      }}
    />
  )
}

const regions: [string, string][] = [
  ['region:title', 'title-safe'],
  ['region:action', 'action-safe'],
  ['region:frame', 'the frame'],
]

/** Where an option puts a part along one axis: as drawn, or one of its edges at an edge of something else. */
function PlaceInput({
  template,
  part,
  axis,
  label,
  value,
  onValue,
}: {
  template: Template
  part: Part
  axis: 'x' | 'y'
  label: string
  value: Axis
  onValue: (value: unknown) => void
}) {
  const drawn = JSON.stringify(value) === JSON.stringify(part[axis])
  const tie = value.ties[0]
  const put = (more: Partial<Tie>) => {
    const base: Tie = tie ?? {
      edge: 'start',
      to: { region: 'title' },
      at: 'start',
      gap: 0,
      follow: 'settled',
      gone: 'collapse',
    }
    onValue({ ...value, ties: [{ ...base, ...more }] } satisfies Axis)
  }
  const edges = (['start', 'middle', 'end'] as const).map((edge): [Edge, string] => [edge, edgeWord(axis, edge)])
  const targetId = (to: Target) => ('region' in to ? `region:${to.region}` : `part:${to.parts[0]}`)
  const readTarget = (id: string): Target =>
    id.startsWith('region:') ? { region: id.slice(7) as 'title' } : { parts: [id.slice(5)] }
  if (!tie || value.ties.length > 1 || (drawn && value.ties.length !== 1))
    return (
      <span className="flex items-center gap-1.5">
        <span className="text-soft">{drawn ? 'as drawn' : value.ties.length > 1 ? 'two ties' : 'by hand'}</span>
        <Button small aria-label={`${label}: tie it`} onClick={() => put({})}>
          Tie it
        </Button>
      </span>
    )
  return (
    <span className="grid grid-cols-[auto_1fr] items-center gap-1 text-xs">
      <Select
        aria-label={`${label}: edge`}
        className="!h-6 !w-20 !px-1 text-xs"
        value={tie.edge}
        options={edges}
        onChange={(event) => put({ edge: event.target.value as Edge })}
      />
      <span className="flex items-center gap-1">
        =
        <Select
          aria-label={`${label}: edge of the target`}
          className="!h-6 !w-20 !px-1 text-xs"
          value={typeof tie.at === 'number' ? 'middle' : tie.at}
          options={edges}
          onChange={(event) => put({ at: event.target.value as Edge })}
        />
      </span>
      <span className="text-soft">of</span>
      <Select
        aria-label={`${label}: target`}
        className="!h-6 !px-1 text-xs"
        value={targetId(tie.to)}
        options={[
          ...regions,
          ...allParts(template.parts)
            .filter((one) => one.id !== part.id)
            .map((one): [string, string] => [`part:${one.id}`, one.name]),
        ]}
        onChange={(event) => put({ to: readTarget(event.target.value) })}
      />
      <span className="text-soft">gap</span>
      <span className="flex gap-1">
        <NumberInput
          aria-label={`${label}: gap, px`}
          className="!h-6"
          bounds={described.gap}
          value={tie.gap}
          onValue={(gap) => put({ gap })}
        />
        {!drawn && (
          <Button small variant="quiet" aria-label={`${label}: as drawn`} onClick={() => onValue(part[axis])}>
            as drawn
          </Button>
        )}
      </span>
    </span>
  )
}
