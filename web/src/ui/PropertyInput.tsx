import type { NumberNode } from '@hoja/core/schema'
import { fontOf, type Property, readNumber, type Template, valueSchema } from '@hoja/core/template'
import { ColourInput } from './ColourInput.tsx'
import { Checkbox, Select, TextInput } from './controls.tsx'
import { LanguageInput } from './LanguageInput.tsx'
import { NumberInput } from './NumberInput.tsx'

/** Numbers as people type them: `1.2; 3,4; −5`. Undefined when one of them is none. */
export function readNumbers(text: string): number[] | undefined {
  const pieces = text
    .split(/[;\s|]+/)
    .filter(Boolean)
    .map(readNumber)
  return pieces.some((n) => !Number.isFinite(n)) ? undefined : pieces
}

/** A list of numbers in one line; kept when it is left, put back when it can't be read. */
export function NumbersInput({
  value,
  onValue,
  ...named
}: {
  id?: string | undefined
  'aria-label'?: string | undefined
  value: number[]
  onValue: (value: number[]) => void
}) {
  const shown = value.join('; ')
  return (
    <TextInput
      key={shown}
      {...named}
      defaultValue={shown}
      placeholder="1.2; 3.4; …"
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      onBlur={(event) => {
        const numbers = readNumbers(event.target.value)
        if (!numbers) event.target.value = shown
        else if (numbers.join('; ') !== shown) onValue(numbers)
      }}
    />
  )
}

/** The control of a property whose value is one plain thing; undefined for those that need an editor of their own. */
export function PropertyInput({
  id,
  label,
  template,
  property,
  value,
  onValue,
}: {
  id?: string
  label?: string
  template: Template
  property: Property
  value: unknown
  /** `drag`: one of many steps of one gesture. */
  onValue: (value: unknown, drag?: boolean) => void
}) {
  const named = { id, 'aria-label': label }
  switch (property.type) {
    case 'number': {
      const percent = property.unit === 'share'
      return (
        <span className="flex items-center gap-1.5">
          <NumberInput
            {...named}
            value={value as number}
            bounds={valueSchema(property) as NumberNode}
            percent={percent}
            onValue={(v) => onValue(v, true)}
          />
          <span className="w-14 text-xs text-soft">{percent ? '%' : property.unit}</span>
        </span>
      )
    }
    case 'switch':
      return <Checkbox {...named} className="mt-1.5" checked={value as boolean} onValue={onValue} />
    case 'choice':
      return (
        <Select
          {...named}
          value={value as string}
          options={property.options!.map((o) => [o, o])}
          onChange={(event) => onValue(event.target.value)}
        />
      )
    case 'font': {
      const own = fontOf(template, undefined)
      return (
        <Select
          {...named}
          value={value as string}
          options={[
            ['', own ? `${own.family} ${own.style}, as no other is chosen` : 'none yet'],
            ...template.fonts.map((f): [string, string] => [f.id, `${f.family} ${f.style}`]),
          ]}
          onChange={(event) => onValue(event.target.value)}
        />
      )
    }
    case 'picture':
      return (
        <Select
          {...named}
          value={value as string}
          options={[['', 'none'], ...template.media.map((m): [string, string] => [m.name, m.name])]}
          onChange={(event) => onValue(event.target.value)}
        />
      )
    case 'colour':
      return (
        <ColourInput
          {...(id === undefined ? {} : { id })}
          {...(label === undefined ? {} : { label })}
          template={template}
          value={value as string}
          onValue={(v) => onValue(v, true)}
        />
      )
    case 'language':
      return <LanguageInput {...named} value={value as string} empty="the title's" onValue={onValue} />
    case 'numbers':
      return <NumbersInput {...named} value={value as number[]} onValue={onValue} />
    default:
      return undefined
  }
}
