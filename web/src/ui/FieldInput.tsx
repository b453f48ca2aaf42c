import type { Field, FieldValue } from '@hoja/core/template'
import { NumberInput, Select, TextInput } from './controls.tsx'

/** The control of a field, as everyone who fills a template sees it. */
export function FieldInput({
  id,
  label,
  field,
  media,
  value,
  onValue,
}: {
  id?: string
  label?: string
  field: Field
  media: string[]
  value: FieldValue
  onValue: (value: FieldValue) => void
}) {
  const named = label === undefined ? {} : { 'aria-label': label }
  switch (field.type) {
    case 'text':
      return <TextInput id={id} {...named} value={String(value)} onChange={(event) => onValue(event.target.value)} />
    case 'number':
      return (
        <NumberInput
          id={id}
          {...named}
          value={Number(value)}
          onValue={onValue}
          {...(field.min === undefined ? {} : { min: field.min })}
          {...(field.max === undefined ? {} : { max: field.max })}
        />
      )
    case 'switch':
      return (
        <input
          id={id}
          {...named}
          type="checkbox"
          className="mt-1.5 size-4 accent-leaf"
          checked={value === true}
          onChange={(event) => onValue(event.target.checked)}
        />
      )
    case 'colour':
      return (
        <input
          id={id}
          {...named}
          type="color"
          className="h-7 w-14 border border-rule bg-white"
          value={String(value).slice(0, 7)}
          onChange={(event) => onValue(event.target.value)}
        />
      )
    case 'picture': {
      const known = media.includes(String(value)) || value === ''
      return (
        <Select
          id={id}
          {...named}
          value={String(value)}
          options={[
            ['', 'none'],
            ...(known ? [] : [[String(value), `${value} (not here)`] as [string, string]]),
            ...media.map((name): [string, string] => [name, name]),
          ]}
          onChange={(event) => onValue(event.target.value)}
        />
      )
    }
    case 'choice':
      return (
        <Select
          id={id}
          {...named}
          value={String(value)}
          options={(field.options ?? []).map((o) => [o, o])}
          onChange={(event) => onValue(event.target.value)}
        />
      )
  }
}
