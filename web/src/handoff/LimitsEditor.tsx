import { standsOf, standsWords } from '@hoja/core/data'
import type { Bounds } from '@hoja/core/schema'
import {
  defaultIsSample,
  described,
  type Field,
  languages,
  type NumberFormat,
  noPictureWord,
  plainNumber,
  readNumber,
  refusePattern,
  type Template,
  writeMoment,
  writeNumber,
} from '@hoja/core/template'
import { Checkbox, Line, Select, TextInput, Tick } from '../ui/controls.tsx'
import { closer, NumberInput } from '../ui/NumberInput.tsx'

type Set = <K extends keyof Field>(key: K, value: Field[K] | undefined, drag?: string) => void

interface Props {
  template: Template
  field: Field
  onSet: Set
}

/** What a field allows, by its kind. */
export function LimitsEditor(props: Props) {
  const { field, onSet } = props
  switch (field.type) {
    case 'text':
      return (
        <>
          <Count label="Characters" value={field.limit} onValue={(n) => onSet('limit', n)} />
          <Count label="Lines" value={field.lines} onValue={(n) => onSet('lines', n)} />
          <Allowed {...props} />
        </>
      )
    case 'texts':
      return (
        <>
          <Count label="Entries" value={field.count} onValue={(n) => onSet('count', n)} />
          <Count label="Characters each" value={field.limit} onValue={(n) => onSet('limit', n)} />
          <Line label="Between two">
            {(id) => (
              <TextInput
                id={id}
                value={field.between ?? '  ·  '}
                onChange={(event) => onSet('between', event.target.value, 'between')}
              />
            )}
          </Line>
          <Allowed {...props} />
        </>
      )
    case 'number':
      return (
        <>
          <LeastAndMost {...props} />
          <Format {...props} />
        </>
      )
    case 'numbers':
      return (
        <>
          <Count label="Entries" value={field.count} onValue={(n) => onSet('count', n)} />
          <LeastAndMost {...props} />
        </>
      )
    case 'moment':
      return <Moment {...props} />
    case 'colour':
      return (
        <Tick
          label="Any colour"
          note="Otherwise those of the palette."
          checked={field.free === true}
          onChange={(free) => onSet('free', free || undefined)}
        />
      )
    case 'picture':
      return <PictureLimits {...props} />
    case 'style':
      return <StyleLimits {...props} />
    case 'shift':
      return (
        <>
          {(['x', 'y'] as const).map((axis) => (
            <Range
              key={axis}
              label={axis === 'x' ? 'Across, px' : 'Down, px'}
              value={field.reach?.[axis] ?? [0, 0]}
              bounds={described.shift}
              onValue={(range) => onSet('reach', { x: [0, 0], y: [0, 0], ...field.reach, [axis]: range })}
            />
          ))}
        </>
      )
    case 'switch':
    case 'choice':
    case 'language':
      return null
  }
}

/** What becomes of a title in which nothing is given for the field: the default stands, and a sample is told of. */
export function DefaultLimits({ field, onSet, template }: Props) {
  return (
    <>
      <Tick
        label="May go out"
        note={
          defaultIsSample(template, field)
            ? 'The default is only a sample: a row that gives nothing is a look, or a stop where it is required.'
            : 'The default stands wherever a row gives nothing.'
        }
        checked={!defaultIsSample(template, field)}
        onChange={(may) => onSet('sample', !may)}
      />
      {field.type === 'picture' && <NoPicture field={field} onSet={onSet} template={template} />}
      {standsOf(field.type).length > 0 && (
        <Line label="Left empty" note="What stands where a row gives nothing; the default shows what it looks like.">
          {(id) => (
            <Select
              id={id}
              value={field.stands ?? ''}
              options={[
                ['', 'the default'],
                ...standsOf(field.type).map((one): [string, string] => [one, standsWords[one]]),
              ]}
              onChange={(event) => onSet('stands', (event.target.value || undefined) as Field['stands'])}
            />
          )}
        </Line>
      )}
    </>
  )
}

function NoPicture({ field, onSet, template }: Props) {
  return (
    <>
      <Line label="Not there" note="What stands where a row names a picture that nobody has.">
        {(id) => (
          <Select
            id={id}
            value={field.fallback ?? ''}
            options={[['', 'stops the row'], ...template.media.map(({ name }): [string, string] => [name, name])]}
            onChange={(event) => onSet('fallback', event.target.value || undefined)}
          />
        )}
      </Line>
      <Line label="Empty means">
        {(id) => (
          <Select
            id={id}
            value={field.empty ?? 'default'}
            options={[
              ['default', 'the default'],
              ['none', 'no picture'],
            ]}
            onChange={(event) => onSet('empty', event.target.value === 'none' ? 'none' : undefined)}
          />
        )}
      </Line>
      <Line label="Word for none" note="In data it means no picture.">
        {(id) => (
          <TextInput
            id={id}
            value={field.none ?? ''}
            placeholder={noPictureWord(field)}
            onChange={(event) => onSet('none', event.target.value || undefined, 'none')}
          />
        )}
      </Line>
    </>
  )
}

/** A number of things; 0 is no limit. */
function Count({
  label,
  value,
  onValue,
}: {
  label: string
  value: number | undefined
  onValue: (n: number | undefined) => void
}) {
  return (
    <Line label={label} note="At most; 0 for no limit.">
      {(id) => (
        <NumberInput
          id={id}
          bounds={closer(described.count, [0, undefined])}
          value={value ?? 0}
          onValue={(n) => onValue(n >= 1 ? n : undefined)}
        />
      )}
    </Line>
  )
}

function Allowed({ field, onSet }: Props) {
  return (
    <Line label="Allowed" note="Characters and ranges; empty for all.">
      {(id) => (
        <TextInput
          id={id}
          value={field.allowed ?? ''}
          placeholder="A-Z0-9:. "
          onChange={(event) => onSet('allowed', event.target.value || undefined, 'allowed')}
        />
      )}
    </Line>
  )
}

function Range({
  label,
  value,
  bounds,
  onValue,
}: {
  label: string
  value: [number, number]
  bounds: Bounds
  onValue: (value: [number, number]) => void
}) {
  const [from, to] = value
  return (
    <Line label={label}>
      {(id) => (
        <span className="flex items-center gap-1.5">
          <NumberInput
            id={id}
            value={from}
            bounds={closer(bounds, [undefined, to])}
            onValue={(n) => onValue([n, to])}
          />
          <span className="text-soft">to</span>
          <NumberInput
            aria-label={`${label}, at most`}
            value={to}
            bounds={closer(bounds, [from, undefined])}
            onValue={(n) => onValue([from, n])}
          />
        </span>
      )}
    </Line>
  )
}

/** Bounds that may be open: an empty box is no bound. */
function LeastAndMost({ field, onSet }: Props) {
  const box = (key: 'min' | 'max', id?: string) => (
    <TextInput
      key={`${key} ${field[key]}`}
      id={id}
      aria-label={key === 'max' ? 'At most' : undefined}
      className="text-right"
      inputMode="decimal"
      placeholder="open"
      defaultValue={field[key] ?? ''}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      onBlur={(event) => {
        const text = event.target.value.trim()
        const value = text === '' ? undefined : readNumber(text)
        if (value !== undefined && !Number.isFinite(value)) event.target.value = String(field[key] ?? '')
        else if (value !== field[key]) onSet(key, value)
      }}
    />
  )
  return (
    <Line label="From, to">
      {(id) => (
        <span className="flex items-center gap-1.5">
          {box('min', id)}
          <span className="text-soft">to</span>
          {box('max')}
        </span>
      )}
    </Line>
  )
}

function Format({ field, onSet }: Props) {
  const format = field.format ?? plainNumber
  const put = (more: Partial<NumberFormat>) => onSet('format', { ...format, ...more }, 'format')
  return (
    <>
      <Line label="Decimals" note={`Reads ${writeNumber(Number(field.default), format)}`}>
        {(id) => (
          <NumberInput
            id={id}
            bounds={described.decimals}
            value={format.decimals}
            onValue={(n) => put({ decimals: n })}
          />
        )}
      </Line>
      <Line label="Mark, groups">
        {(id) => (
          <span className="flex gap-1.5">
            <Select
              id={id}
              value={format.mark}
              options={[
                ['.', '1.5'],
                [',', '1,5'],
              ]}
              onChange={(event) => put({ mark: event.target.value as '.' })}
            />
            <Select
              aria-label="Between thousands"
              value={format.group}
              options={[
                ['', '1000'],
                [' ', '1 000'],
                [',', '1,000'],
                ['.', '1.000'],
                ['’', '1’000'],
              ]}
              onChange={(event) => put({ group: event.target.value as '' })}
            />
          </span>
        )}
      </Line>
      <Line label="Before, unit">
        {(id) => (
          <span className="flex gap-1.5">
            <TextInput
              id={id}
              value={format.before}
              placeholder="€ "
              onChange={(event) => put({ before: event.target.value })}
            />
            <TextInput
              aria-label="Unit behind the number, with its space"
              value={format.after}
              placeholder=" m"
              onChange={(event) => put({ after: event.target.value })}
            />
          </span>
        )}
      </Line>
      <Tick label="Plus sign" checked={format.plus} onChange={(plus) => put({ plus })} />
    </>
  )
}

function Moment({ field, onSet }: Props) {
  const pattern = field.pattern ?? 'd MMMM yyyy'
  return (
    <>
      <Line label="Reads" note={`As in ${writeMoment(String(field.default), pattern, field.language)}`}>
        {(id) => (
          <TextInput
            key={pattern}
            id={id}
            defaultValue={pattern}
            title="A date pattern of Unicode LDML: EEEE weekday, d day, MMMM month, yyyy year, HH:mm time, 'words' as they are"
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
            onBlur={(event) => {
              if (refusePattern(event.target.value)) event.target.value = pattern
              else if (event.target.value !== pattern) onSet('pattern', event.target.value)
            }}
          />
        )}
      </Line>
      <Line label="Language">
        {(id) => (
          <Select
            id={id}
            value={field.language ?? 'en'}
            options={Object.entries(languages).map(([tag, { name }]): [string, string] => [tag, name])}
            onChange={(event) => onSet('language', event.target.value)}
          />
        )}
      </Line>
    </>
  )
}

function PictureLimits({ field, onSet }: Props) {
  const may = field.picture ?? {}
  const put = (more: Field['picture']) => onSet('picture', { ...may, ...more }, 'picture')
  return (
    <>
      <Tick
        label="Scaling"
        note="May be whole or fill its place."
        checked={may.scaling === true}
        onChange={(scaling) => put({ scaling })}
      />
      <Tick
        label="Focus"
        note="May be moved in its place."
        checked={may.focus === true}
        onChange={(focus) => put({ focus })}
      />
      <Tick
        label="Zoom"
        checked={may.zoom !== undefined}
        onChange={(on) => {
          const { zoom: _, ...rest } = may
          onSet('picture', on ? { ...rest, zoom: [1, 2] } : rest)
        }}
      />
      {may.zoom && (
        <Range label="Zoom, times" value={may.zoom} bounds={described.zoom} onValue={(zoom) => put({ zoom })} />
      )}
    </>
  )
}

function StyleLimits({ template, field, onSet }: Props) {
  const fonts = field.fonts ?? []
  return (
    <>
      <Range
        label="Size, px"
        value={field.sizes ?? [10, 100]}
        bounds={described.fontSize}
        onValue={(sizes) => onSet('sizes', sizes)}
      />
      <Line label="Fonts">
        {(id) => (
          <span id={id} role="group" aria-label="Fonts that may be chosen" className="flex flex-col gap-0.5 pt-1">
            {template.fonts.map((font) => (
              <label key={font.id} className="flex items-center gap-1.5">
                <Checkbox
                  checked={fonts.includes(font.id)}
                  onValue={(checked) =>
                    onSet('fonts', checked ? [...fonts, font.id] : fonts.filter((one) => one !== font.id))
                  }
                />
                {font.family} {font.style}
              </label>
            ))}
          </span>
        )}
      </Line>
    </>
  )
}
