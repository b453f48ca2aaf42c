import type { ReadyFormat } from '@hoja/core/api'
import type { FormatId } from '@hoja/core/output'
import { RadioGroup } from 'radix-ui'
import { classes } from '../ui/controls.tsx'

/** Every format by what it is wanted for, with its note. */
export function FormatList({
  formats,
  value,
  onValue,
}: {
  formats: ReadyFormat[]
  value: FormatId
  onValue: (format: FormatId) => void
}) {
  const uses = [...new Set(formats.map(({ use }) => use))]
  return (
    <RadioGroup.Root aria-label="Format" value={value} onValueChange={(next) => onValue(next as FormatId)}>
      {uses.map((use) => (
        <div key={use}>
          <p className="px-3.5 pt-2.5 pb-1 text-xs font-medium text-soft">{use}</p>
          {formats
            .filter((format) => format.use === use)
            .map((one) => (
              <RadioGroup.Item
                key={one.format}
                value={one.format}
                disabled={!one.ready}
                className={classes(
                  'block w-full border-l-2 px-3.5 py-1 text-left disabled:text-soft',
                  one.format === value ? 'border-leaf bg-leaf-pale' : 'border-transparent hover:bg-chalk',
                )}
              >
                <span className="flex items-baseline justify-between gap-2">
                  <span className={one.format === value ? 'font-semibold' : ''}>{one.name}</span>
                  <span className="text-xs text-soft">{alphaWords[one.alpha]}</span>
                </span>
                {one.format === value && <span className="block pb-0.5 text-xs text-soft">{one.note}</span>}
                {!one.ready && <span className="block text-xs">Needs ffmpeg, which is not installed here.</span>}
              </RadioGroup.Item>
            ))}
        </div>
      ))}
    </RadioGroup.Root>
  )
}

const alphaWords: Record<ReadyFormat['alpha'], string> = {
  straight: 'alpha',
  either: 'alpha',
  premultiplied: 'alpha',
  'on or off': 'clear or not',
  none: 'no alpha',
}
