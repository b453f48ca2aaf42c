import type { Bounds } from '@hoja/core/schema'
import { type InputHTMLAttributes, useEffect, useState } from 'react'
import { classes, inputClasses } from './controls.tsx'
import { scrubs } from './scrubbing.ts'
import { typedNumber } from './typedNumber.ts'

/** A number's bounds as a hand meets them; `whole`: without decimals. */
type Limits = Bounds & { whole?: boolean }

/** Bounds that something else, as a field of the hand-off, draws closer. */
export const closer = (bounds: Limits, [least, most]: readonly [number | undefined, number | undefined]): Limits => ({
  ...bounds,
  least: least ?? bounds.least,
  most: most ?? bounds.most,
})

const short = (value: number) => Number(value.toFixed(3))

/**
 * A number typed, as a sum of such if one likes (`+10`, `*2`, `1/3`), as a share (`50%`), or stepped with the arrow keys (Shift: ten steps,
 * Alt: a tenth of one). It is given with Enter, Tab or by leaving, brought within its bounds; Escape puts back what stood
 * there. What is no number is put back too.
 */
export function NumberInput({
  value,
  onValue,
  bounds,
  percent = false,
  className,
  ...rest
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange' | 'min' | 'max' | 'step'> & {
  value: number
  onValue: (value: number) => void
  /** Those of the description, in its own unit. */
  bounds: Limits
  /** Shown and typed as per cent. */
  percent?: boolean
}) {
  const times = percent ? 100 : 1
  const shown = String(short(value * times))
  const [text, setText] = useState(shown)
  useEffect(() => setText(shown), [shown])
  const typed = () => typedNumber(text, value * times, percent)
  const commit = (given: number) => {
    if (!Number.isFinite(given)) return setText(shown)
    const near = bounds.whole ? Math.round(given / times) : given / times
    const inside = Math.min(bounds.most, Math.max(bounds.least, near))
    const next = String(short(inside * times))
    setText(next)
    if (next !== shown) onValue(inside)
  }
  const { id } = rest
  useEffect(() =>
    id === undefined ? undefined : scrubs(id, { value: value * times, step: bounds.step * times, put: commit }),
  )
  return (
    <input
      {...rest}
      inputMode="decimal"
      value={text}
      className={classes(inputClasses, 'text-right', className)}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => commit(typed())}
      onKeyDown={(event) => {
        if (event.key === 'Enter') commit(typed())
        if (event.key === 'Escape') setText(shown)
        if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
          event.preventDefault()
          const by =
            (event.key === 'ArrowUp' ? 1 : -1) * bounds.step * times * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1)
          commit(Number(((typed() || 0) + by).toFixed(6)))
        }
      }}
    />
  )
}
