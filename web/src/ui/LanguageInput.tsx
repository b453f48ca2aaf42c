import { isLanguage } from '@hoja/core/template'
import { useId } from 'react'
import { TextInput } from './controls.tsx'

/** Languages that are offered by name; any other tag can be typed. */
const offered = 'en en-GB es pt pt-BR fr ca gl eu it de nl da sv nb fi is pl cs tr el ru uk ar fa he vi ja zh ko'.split(
  ' ',
)

const names = new Intl.DisplayNames(['en'], { type: 'language' })

/** A BCP 47 tag, typed or chosen; what is none is put back when it is left. */
export function LanguageInput({
  value,
  onValue,
  empty = 'none in particular',
  ...named
}: {
  id?: string | undefined
  'aria-label'?: string | undefined
  value: string
  empty?: string
  onValue: (tag: string) => void
}) {
  const list = useId()
  return (
    <span className="flex items-center gap-2">
      <TextInput
        key={value}
        {...named}
        className="!w-24"
        defaultValue={value}
        placeholder="en, pt-BR"
        list={list}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        onBlur={(event) => {
          const tag = event.target.value.trim()
          if (tag === value) return
          if (tag === '' || isLanguage(tag)) onValue(tag)
          else event.target.value = value
        }}
      />
      <span className="text-xs text-soft">{value ? names.of(value.replace(/-u-.*$/i, '')) : empty}</span>
      <datalist id={list}>
        {offered.map((tag) => (
          <option key={tag} value={tag}>
            {names.of(tag)}
          </option>
        ))}
      </datalist>
    </span>
  )
}
