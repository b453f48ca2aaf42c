import { Refusal } from '@hoja/core/refusal'
import { commonSizes, described } from '@hoja/core/template'
import { commonRates, lengthText, parseLength, type Rate, rateText } from '@hoja/core/time'
import { type InputHTMLAttributes, useCallback, useEffect, useState } from 'react'
import { classes, Select, TextInput } from './controls.tsx'
import { NumberInput } from './NumberInput.tsx'
import { useTimes } from './times.ts'
import { typedNumber } from './typedNumber.ts'

interface Size {
  width: number
  height: number
}

/** A frame size: one that the trade uses, or any other. */
export function SizeInput({ id, value, onValue }: { id: string; value: Size; onValue: (size: Size) => void }) {
  const known = commonSizes.findIndex(({ width, height }) => width === value.width && height === value.height)
  return (
    <>
      <Select
        id={id}
        value={String(known)}
        options={[
          ...commonSizes.map((size, i): [string, string] => [String(i), size.name]),
          ...(known < 0 ? [['-1', 'another'] as [string, string]] : []),
        ]}
        onChange={(event) => {
          const size = commonSizes[Number(event.target.value)]
          if (size) onValue({ width: size.width, height: size.height })
        }}
      />
      <span className="mt-1 flex items-center gap-1.5">
        <NumberInput
          aria-label="Width, px"
          bounds={described.side}
          value={value.width}
          onValue={(width) => onValue({ ...value, width })}
        />
        ×
        <NumberInput
          aria-label="Height, px"
          bounds={described.side}
          value={value.height}
          onValue={(height) => onValue({ ...value, height })}
        />
        px
      </span>
    </>
  )
}

/** A frame rate of the trade; one that is none of them stays. */
export function RateInput({ id, value, onValue }: { id: string; value: Rate; onValue: (rate: Rate) => void }) {
  const known = commonRates.findIndex(({ rate }) => rate.num === value.num && rate.den === value.den)
  return (
    <Select
      id={id}
      value={String(known)}
      options={[
        ...commonRates.map(({ name }, i): [string, string] => [String(i), name]),
        ...(known < 0 ? [['-1', rateText(value)] as [string, string]] : []),
      ]}
      onChange={(event) => {
        const one = commonRates[Number(event.target.value)]
        if (one) onValue(one.rate)
      }}
    />
  )
}

/**
 * A length in frames, typed as people write one: frames, seconds or a timecode, or a sum of frames (`+10`, `*2`). It is shown
 * as the person prefers. Arrow keys step it (Shift: ten).
 */
export function LengthInput({
  value,
  rate,
  onValue,
  min = 0,
  max = 1_000_000,
  className,
  ...rest
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange' | 'min' | 'max'> & {
  value: number
  rate: Rate
  onValue: (frames: number) => void
  min?: number
  max?: number
}) {
  const spelling = useTimes((times) => times.spelling)
  const [text, setText] = useState(lengthText(value, rate, spelling))
  const [wrong, setWrong] = useState<string>()
  const { num, den } = rate
  const show = useCallback(
    (frames: number) => {
      setText(lengthText(frames, { num, den }, spelling))
      setWrong(undefined)
    },
    [num, den, spelling],
  )
  useEffect(() => show(value), [show, value])
  const put = (frames: number) => {
    const inside = Math.min(max, Math.max(min, frames))
    show(inside)
    if (inside !== value) onValue(inside)
  }
  const commit = () => {
    try {
      // A whole number by itself is what is shown: frames, or seconds.
      const sum = typedNumber(text, value)
      const isSum = Number.isFinite(sum) && /^\s*[+*/]|\d\s*[-+*/×÷]/.test(text)
      put(isSum ? Math.round(sum) : parseLength(text, rate, spelling === 'seconds' ? 'seconds' : 'frames'))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      setWrong(error.message)
    }
  }
  return (
    <span className="block w-full">
      <TextInput
        title="Frames as 125, seconds as 5 s, or a timecode as 00:00:05:00"
        {...rest}
        value={text}
        aria-invalid={wrong !== undefined}
        className={classes('text-right', wrong !== undefined && '!border-stop', className)}
        onChange={(event) => setText(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === 'Enter') commit()
          if (event.key === 'Escape') show(value)
          if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return
          event.preventDefault()
          put(value + (event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1))
        }}
      />
      {wrong && <span className="block pt-0.5 text-xs text-stop">{wrong}</span>}
    </span>
  )
}
