import { commonSizes } from '@hoja/core/template'
import { commonRates, type Rate, rateText } from '@hoja/core/time'
import { NumberInput, Select } from './controls.tsx'

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
          min={16}
          max={8192}
          value={value.width}
          onValue={(width) => onValue({ ...value, width: Math.round(width) })}
        />
        ×
        <NumberInput
          aria-label="Height, px"
          min={16}
          max={8192}
          value={value.height}
          onValue={(height) => onValue({ ...value, height: Math.round(height) })}
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
