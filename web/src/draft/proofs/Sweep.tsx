import { limitOf, textOfLength } from '@hoja/core/data'
import type { Template } from '@hoja/core/template'
import { memo, useState } from 'react'
import { Select } from '../../ui/controls.tsx'
import { useDesk } from '../desk.ts'

/** A text swept from one character to twice its limit, in the frame, while everything follows. */
export const Sweep = memo(function Sweep({ fields }: { fields: Template['fields'] }) {
  const { filling, set } = useDesk()
  const texts = fields.filter((field) => field.type === 'text')
  const [chosen, setChosen] = useState<string>()
  const [count, setCount] = useState<number>()
  const field = texts.find((f) => f.key === chosen) ?? texts[0]
  if (!field) return null
  const most = 2 * limitOf(field)
  const swept = filling.name.startsWith('length of')
  const put = (length: number) => {
    setCount(length)
    const values = swept ? filling.values : { ...filling.values }
    set({
      filling: { name: `length of ${field.name}`, values: { ...values, [field.key]: textOfLength(field, length) } },
    })
  }
  const now = swept && count ? count : Math.min(most, String(field.default).length || 1)
  return (
    <div className="flex items-center gap-2 px-3.5 pb-2">
      {texts.length > 1 ? (
        <Select
          aria-label="Text whose length is swept"
          className="!h-6 !w-20 !px-1 text-xs"
          value={field.key}
          options={texts.map((f) => [f.key, f.name])}
          onChange={(event) => setChosen(event.target.value)}
        />
      ) : (
        <span className="text-xs text-soft">{field.name}</span>
      )}
      <input
        type="range"
        aria-label={`Length of ${field.name}, characters`}
        className="min-w-0 flex-1 accent-leaf"
        min={1}
        max={most}
        value={now}
        onChange={(event) => put(Number(event.target.value))}
      />
      <span className="w-8 text-right text-xs">{now}</span>
    </div>
  )
})
