import { colourOf } from '@hoja/core/scene'
import type { Template } from '@hoja/core/template'
import { Select } from './controls.tsx'

/** A colour of the palette, or one of its own with its opacity. */
export function ColourInput({
  id,
  template,
  value,
  label,
  onValue,
}: {
  id?: string
  template: Template
  value: string
  label?: string
  onValue: (value: string) => void
}) {
  const shown = colourOf(template, value)
  const opacity = shown.length === 9 ? Number.parseInt(shown.slice(7), 16) / 255 : 1
  return (
    <span className="flex items-center gap-1.5">
      <label
        className="relative size-7 shrink-0 rounded-[3px] border border-rule focus-within:outline-2 focus-within:outline-leaf"
        style={{ background: shown }}
      >
        <input
          type="color"
          aria-label={label ?? 'A colour of its own'}
          className="absolute inset-0 size-full cursor-pointer opacity-0"
          value={shown.slice(0, 7)}
          onChange={(event) => onValue(event.target.value + (shown.length === 9 ? shown.slice(7) : ''))}
        />
      </label>
      <Select
        id={id}
        aria-label={label && `${label}, from the palette`}
        value={value.startsWith('palette:') ? value : 'own'}
        options={[
          ...template.palette.map((p): [string, string] => [`palette:${p.id}`, p.name]),
          ['own', `its own, ${shown.slice(0, 7)}${opacity < 1 ? `, ${Math.round(opacity * 100)} %` : ''}`],
        ]}
        onChange={(event) => onValue(event.target.value === 'own' ? shown : event.target.value)}
      />
    </span>
  )
}
