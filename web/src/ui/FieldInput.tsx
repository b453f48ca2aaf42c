import {
  described,
  type Field,
  type FieldValue,
  type PictureValue,
  type ShiftValue,
  type StyleValue,
  type Template,
} from '@hoja/core/template'
import { RadioGroup } from 'radix-ui'
import { type ReactNode, useId } from 'react'
import { Choice } from './Choice.tsx'
import { Button, Checkbox, classes, Select, TextInput } from './controls.tsx'
import { LanguageInput } from './LanguageInput.tsx'
import { closer, NumberInput } from './NumberInput.tsx'
import { NumbersInput } from './PropertyInput.tsx'

interface Props {
  id?: string
  label?: string
  template: Template
  field: Field
  value: FieldValue
  /** Moments: it may be *now*, the moment of rendering. */
  mayBeNow?: boolean
  onValue: (value: FieldValue) => void
}

/** A date, perhaps with a time; or *now*. */
function MomentField({ id, label, field, value, mayBeNow, onValue }: Props) {
  const isNow = value === 'now'
  return (
    <span className="flex items-center gap-1.5">
      {isNow ? (
        <span className="flex-1 text-soft">the moment of rendering</span>
      ) : (
        <TextInput
          id={id}
          aria-label={label}
          type={String(field.default).length > 10 ? 'datetime-local' : 'date'}
          value={String(value)}
          onChange={(event) => event.target.value && onValue(event.target.value)}
        />
      )}
      {mayBeNow && (
        <Button
          small
          aria-pressed={isNow}
          aria-label={`${label ?? field.name}: now`}
          title={isNow ? 'Give it a date instead' : 'The moment at which the title is rendered'}
          onClick={() => onValue(isNow ? field.default : 'now')}
        >
          {isNow ? 'A date' : 'Now'}
        </Button>
      )}
    </span>
  )
}

const area =
  'w-full rounded-[3px] border border-rule bg-white px-2 py-1 text-sm focus:border-leaf outline-none focus-visible:outline-2 focus-visible:outline-leaf'

/** The control of a field, as everyone who fills a template sees it. */
export function FieldInput(props: Props) {
  const { id, label, field, value, onValue } = props
  const named = { id, 'aria-label': label }
  switch (field.type) {
    case 'text':
      return field.lines !== 1 ? (
        <textarea
          {...named}
          className={`${area} max-h-40 resize-none field-sizing-content`}
          rows={Math.min(8, Math.max(field.lines ?? 1, String(value).split('\n').length))}
          placeholder={field.placeholder}
          value={String(value)}
          onChange={(event) => onValue(event.target.value)}
        />
      ) : (
        <TextInput
          {...named}
          placeholder={field.placeholder}
          value={String(value)}
          onChange={(event) => onValue(event.target.value)}
        />
      )
    case 'texts':
      return (
        <textarea
          {...named}
          className={area}
          rows={Math.min(8, Math.max(3, Array.isArray(value) ? value.length : 1))}
          placeholder={field.placeholder ?? 'One a line'}
          value={(Array.isArray(value) ? value : [String(value)]).join('\n')}
          onChange={(event) => onValue(event.target.value.split('\n'))}
        />
      )
    case 'number':
      return (
        <span className="flex items-center gap-1.5">
          <NumberInput
            {...named}
            value={Number(value)}
            onValue={onValue}
            bounds={closer({ ...described.value, step: 1 / 10 ** (field.format?.decimals ?? 0) }, [
              field.min,
              field.max,
            ])}
          />
          {field.format?.after && <span className="text-xs whitespace-nowrap text-soft">{field.format.after}</span>}
        </span>
      )
    case 'numbers':
      return <NumbersInput {...named} value={Array.isArray(value) ? (value as number[]) : []} onValue={onValue} />
    case 'moment':
      return <MomentField {...props} />
    case 'switch':
      return <Checkbox {...named} className="mt-1.5" checked={value === true} onValue={onValue} />
    case 'colour':
      return <ColourField {...props} />
    case 'picture':
      return <PictureField {...props} />
    case 'choice': {
      if (field.whole)
        return <PlaceField label={label ?? field.name} value={String(value)} field={field} onValue={onValue} />
      const options = (field.options ?? []).map((option): [string, string] => [option.value, option.name])
      return options.length <= 3 ? (
        <Choice label={label ?? field.name} value={String(value)} options={options} onValue={onValue} />
      ) : (
        <Select {...named} value={String(value)} options={options} onChange={(event) => onValue(event.target.value)} />
      )
    }
    case 'language':
      return <LanguageInput {...named} value={String(value)} onValue={onValue} />
    case 'style':
      return <StyleField {...props} />
    case 'shift': {
      const at = value as ShiftValue
      const { reach } = field
      return (
        <span className="grid grid-cols-2 gap-2">
          {(['x', 'y'] as const).map((axis) => (
            <Small key={axis} label={axis === 'x' ? 'across' : 'down'}>
              {(own) => (
                <NumberInput
                  id={own}
                  value={at[axis]}
                  onValue={(n) => onValue({ ...at, [axis]: n })}
                  bounds={closer(described.shift, reach?.[axis] ?? [undefined, undefined])}
                />
              )}
            </Small>
          ))}
        </span>
      )
    }
  }
}

function Small({ label, children }: { label: string; children: (id: string) => ReactNode }) {
  const id = useId()
  return (
    <span className="flex items-center gap-1.5">
      <label htmlFor={id} className="text-xs whitespace-nowrap text-soft">
        {label}
      </label>
      {children(id)}
    </span>
  )
}

/** The palette as swatches, and any colour where the hand-off lets it be. */
function ColourField({ id, label, template, field, value, onValue }: Props) {
  const own = !String(value).startsWith('palette:')
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      <RadioGroup.Root
        id={id}
        aria-label={label ?? field.name}
        value={String(value)}
        onValueChange={onValue}
        className="flex flex-wrap gap-1.5"
        orientation="horizontal"
      >
        {template.palette.map((entry) => (
          <RadioGroup.Item
            key={entry.id}
            value={`palette:${entry.id}`}
            aria-label={entry.name}
            title={entry.name}
            className="size-7 rounded-[3px] border border-rule data-[state=checked]:border-leaf data-[state=checked]:outline-2 data-[state=checked]:outline-offset-1 data-[state=checked]:outline-leaf"
            style={{ background: entry.colour }}
          />
        ))}
      </RadioGroup.Root>
      {field.free && (
        <input
          type="color"
          aria-label={`Another colour for ${label ?? field.name}`}
          title="Another colour"
          className={classes('h-7 w-10 border bg-white', own ? 'border-leaf' : 'border-rule')}
          value={own ? String(value).slice(0, 7) : '#808080'}
          onChange={(event) => onValue(event.target.value)}
        />
      )}
    </span>
  )
}

function PictureField({ id, label, template, field, value, onValue }: Props) {
  const given: PictureValue = typeof value === 'string' ? { picture: value } : (value as PictureValue)
  const put = (more: Partial<PictureValue>) => {
    const next = { ...given, ...more }
    onValue(Object.keys(next).length === 1 ? next.picture : next)
  }
  const names = template.media.map((media) => media.name)
  const known = given.picture === '' || names.includes(given.picture)
  const { scaling, focus, zoom } = field.picture ?? {}
  const slider = (words: string, key: 'focusX' | 'focusY' | 'zoom', min: number, max: number, rest: number) => (
    <Small label={words}>
      {(own) => (
        <input
          id={own}
          type="range"
          className="w-full accent-leaf"
          min={min}
          max={max}
          step={0.01}
          value={given[key] ?? rest}
          onChange={(event) => put({ [key]: Number(event.target.value) })}
        />
      )}
    </Small>
  )
  return (
    <span className="flex flex-col gap-1">
      <Select
        id={id}
        aria-label={label}
        value={given.picture}
        options={[
          ['', 'none'],
          ...(known ? [] : [[given.picture, `${given.picture} (not here)`] as [string, string]]),
          ...names.map((name): [string, string] => [name, name]),
        ]}
        onChange={(event) => put({ picture: event.target.value })}
      />
      {scaling && (
        <Choice
          label={`Scaling of ${label ?? field.name}`}
          value={given.scaling ?? 'cover'}
          options={[
            ['cover', 'fills its place'],
            ['contain', 'whole'],
          ]}
          onValue={(how) => put({ scaling: how })}
        />
      )}
      {focus && (
        <span className="grid grid-cols-2 gap-2">
          {slider('across', 'focusX', 0, 1, 0.5)}
          {slider('down', 'focusY', 0, 1, 0.5)}
        </span>
      )}
      {zoom && slider('zoom', 'zoom', zoom[0], zoom[1], 1)}
    </span>
  )
}

function StyleField({ id, label, template, field, value, onValue }: Props) {
  const given = value as StyleValue
  const designed = (field.default as StyleValue).font
  const fonts = [...new Set([...(designed ? [designed] : []), ...(field.fonts ?? [])])]
  const nameOf = (font: string) => {
    const file = template.fonts.find((one) => one.id === font)
    return file ? `${file.family} ${file.style}` : font
  }
  return (
    <span className="flex items-center gap-2">
      {fonts.length > 1 && (
        <Select
          aria-label={`Font of ${label ?? field.name}`}
          value={given.font ?? designed ?? ''}
          options={fonts.map((font) => [font, nameOf(font)])}
          onChange={(event) => onValue({ ...given, font: event.target.value })}
        />
      )}
      <NumberInput
        id={id}
        aria-label={label && `Size of ${label}, px`}
        className="!w-20"
        value={given.size ?? 0}
        onValue={(size) => onValue({ ...given, size })}
        bounds={closer(described.fontSize, field.sizes ?? [undefined, undefined])}
      />
      <span className="text-xs text-soft">px</span>
    </span>
  )
}

/** The nine places of the frame as nine places, and as it was drawn. */
function PlaceField({
  label,
  value,
  field,
  onValue,
}: {
  label: string
  value: string
  field: Field
  onValue: (value: FieldValue) => void
}) {
  const [drawn, ...places] = field.options ?? []
  const item = (option: { value: string; name: string }, className: string, children: ReactNode) => (
    <RadioGroup.Item
      key={option.value}
      value={option.value}
      aria-label={option.name}
      title={option.name}
      className={classes(
        'flex items-center justify-center border',
        value === option.value ? 'border-leaf bg-leaf-pale' : 'border-rule bg-white',
        className,
      )}
    >
      {children}
    </RadioGroup.Item>
  )
  return (
    <RadioGroup.Root aria-label={label} value={value} onValueChange={onValue} className="flex items-end gap-2">
      <div className="grid grid-cols-3 gap-px">
        {places.map((place) =>
          item(
            place,
            'h-6 w-9',
            <span className={classes('h-1.5 w-3', value === place.value ? 'bg-leaf' : 'bg-rule')} />,
          ),
        )}
      </div>
      {drawn && item(drawn, 'h-6 rounded-[3px] px-2 text-xs font-medium', drawn.name)}
    </RadioGroup.Root>
  )
}
