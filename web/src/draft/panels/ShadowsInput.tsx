import { described, type Shadow, type Template } from '@hoja/core/template'
import { ColourInput } from '../../ui/ColourInput.tsx'
import { Button } from '../../ui/controls.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'

const shadow: Shadow = { x: 0, y: 6, blur: 18, colour: '#00000066' }
const glow: Shadow = { x: 0, y: 0, blur: 24, colour: '#ffffffcc' }

/** Any number of shadows and glows, the uppermost first. */
export function ShadowsInput({
  id,
  template,
  value,
  onValue,
}: {
  id: string
  template: Template
  value: Shadow[]
  onValue: (value: Shadow[], drag?: boolean) => void
}) {
  const renew = (i: number, more: Partial<Shadow>) =>
    onValue(
      value.map((one, n) => (n === i ? { ...one, ...more } : one)),
      true,
    )
  return (
    <div id={id} className="flex flex-col gap-1.5">
      {value.map((one, i) => (
        <div key={i} className="flex flex-col gap-1">
          <div className="flex gap-1">
            {(['x', 'y', 'blur'] as const).map((key) => (
              <NumberInput
                key={key}
                aria-label={`Shadow ${i + 1} ${key}, px`}
                title={`${key}, px`}
                value={one[key]}
                bounds={key === 'blur' ? described.shadowBlur : described.gap}
                onValue={(v) => renew(i, { [key]: v })}
              />
            ))}
            <Button
              small
              className="!h-7"
              aria-label={`Remove shadow ${i + 1}`}
              onClick={() => onValue(value.filter((_, n) => n !== i))}
            >
              ✕
            </Button>
          </div>
          <ColourInput
            label={`Shadow ${i + 1} colour`}
            template={template}
            value={one.colour}
            onValue={(colour) => renew(i, { colour })}
          />
        </div>
      ))}
      <span className="flex gap-1">
        <Button small variant="quiet" disabled={value.length > 7} onClick={() => onValue([shadow, ...value])}>
          + shadow
        </Button>
        <Button small variant="quiet" disabled={value.length > 7} onClick={() => onValue([glow, ...value])}>
          + glow
        </Button>
      </span>
    </div>
  )
}
