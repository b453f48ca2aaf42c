import { RadioGroup } from 'radix-ui'
import { classes } from './controls.tsx'

/** One of a few, side by side. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onValue,
}: {
  label: string
  value: T
  options: readonly (readonly [T, string])[]
  onValue: (value: T) => void
}) {
  return (
    <RadioGroup.Root
      aria-label={label}
      value={value}
      onValueChange={(next) => onValue(next as T)}
      className="flex gap-1"
      orientation="horizontal"
    >
      {options.map(([one, words]) => (
        <RadioGroup.Item
          key={one}
          value={one}
          className={classes(
            'h-6 rounded-[3px] border px-2 text-xs font-medium whitespace-nowrap',
            value === one ? 'border-leaf bg-leaf-pale' : 'border-rule bg-white',
          )}
        >
          {words}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  )
}
