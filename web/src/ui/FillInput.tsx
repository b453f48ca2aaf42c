import { described, type Fill, type Gradient, type Template } from '@hoja/core/template'
import { ColourInput } from './ColourInput.tsx'
import { Button, Select } from './controls.tsx'
import { NumberInput } from './NumberInput.tsx'

/** None, one colour, a gradient with its stops, or a picture. */
export function FillInput({
  id,
  label,
  template,
  value,
  onValue,
}: {
  id?: string
  /** Its name, where no label stands beside it. */
  label?: string
  template: Template
  value: Fill
  onValue: (value: Fill, drag?: boolean) => void
}) {
  const kind = value === null ? 'none' : typeof value === 'string' ? 'flat' : value.kind
  const gradient = value && typeof value === 'object' && value.kind !== 'picture' ? value : undefined
  const first = typeof value === 'string' ? value : (gradient?.stops[0]?.colour ?? '#12343b')
  const setKind = (next: string) => {
    if (next === 'none') onValue(null)
    else if (next === 'flat') onValue(first)
    else if (next === 'picture') onValue({ kind: 'picture', picture: template.media[0]?.name ?? '', scaling: 'cover' })
    else if (gradient) onValue({ ...gradient, kind: next as Gradient['kind'] })
    else
      onValue({
        kind: next as Gradient['kind'],
        angle: 90,
        stops: [
          { at: 0, colour: first },
          { at: 1, colour: '#0b2329' },
        ],
      })
  }
  return (
    <div className="flex flex-col gap-1">
      <Select
        {...(id === undefined ? {} : { id })}
        {...(label === undefined ? {} : { 'aria-label': label })}
        value={kind}
        options={[
          ['none', 'none'],
          ['flat', 'flat'],
          ['linear', 'linear gradient'],
          ['radial', 'radial gradient'],
          ['picture', 'a picture'],
        ]}
        onChange={(event) => setKind(event.target.value)}
      />
      {typeof value === 'string' && (
        <ColourInput
          template={template}
          label={label ? `${label}, colour` : 'Fill colour'}
          value={value}
          onValue={(v) => onValue(v, true)}
        />
      )}
      {value && typeof value === 'object' && value.kind === 'picture' && (
        <span className="flex gap-1">
          <Select
            aria-label="Picture in the fill"
            value={value.picture}
            options={[['', 'none'], ...template.media.map((m): [string, string] => [m.name, m.name])]}
            onChange={(event) => onValue({ ...value, picture: event.target.value })}
          />
          <Select
            aria-label="Scaling of the picture"
            className="!w-24"
            value={value.scaling}
            options={[
              ['cover', 'cover'],
              ['contain', 'contain'],
            ]}
            onChange={(event) => onValue({ ...value, scaling: event.target.value as 'cover' })}
          />
        </span>
      )}
      {gradient && <Stops template={template} gradient={gradient} onValue={onValue} />}
    </div>
  )
}

function Stops({
  template,
  gradient,
  onValue,
}: {
  template: Template
  gradient: Gradient
  onValue: (value: Gradient, drag?: boolean) => void
}) {
  const { stops } = gradient
  const renew = (i: number, more: Partial<Gradient['stops'][number]>) =>
    onValue({ ...gradient, stops: stops.map((stop, n) => (n === i ? { ...stop, ...more } : stop)) }, true)
  const add = () => {
    const [a, b] = [stops[stops.length - 2]!, stops[stops.length - 1]!]
    const fresh = { at: (a.at + b.at) / 2, colour: b.colour }
    onValue({ ...gradient, stops: [...stops.slice(0, -1), fresh, b] })
  }
  return (
    <>
      {gradient.kind === 'linear' && (
        <span className="flex items-center gap-1.5">
          <NumberInput
            aria-label="Angle, degrees"
            bounds={described.angle}
            value={gradient.angle}
            onValue={(angle) => onValue({ ...gradient, angle }, true)}
          />
          <span className="w-14 text-xs text-soft">degrees</span>
        </span>
      )}
      {gradient.kind === 'radial' && (
        <span className="flex items-center gap-1 text-xs text-soft">
          {(['x', 'y'] as const).map((axis) => (
            <NumberInput
              key={axis}
              aria-label={`Middle ${axis === 'x' ? 'across' : 'down'}, %`}
              title={`Its middle ${axis === 'x' ? 'across' : 'down'}, % of the box`}
              className="!w-14 shrink-0"
              bounds={described.gradientShare}
              percent
              value={gradient.centre?.[axis] ?? 0.5}
              onValue={(value) =>
                onValue({ ...gradient, centre: { x: 0.5, y: 0.5, ...gradient.centre, [axis]: value } }, true)
              }
            />
          ))}
          <span>middle</span>
          <NumberInput
            aria-label="How far it reaches, %"
            title="How far it reaches, % of half the longer side"
            className="!w-14 shrink-0"
            bounds={described.gradientRadius}
            percent
            value={gradient.radius ?? 1}
            onValue={(radius) => onValue({ ...gradient, radius }, true)}
          />
          <span>reach</span>
        </span>
      )}
      {stops.map((stop, i) => (
        <span key={i} className="flex items-center gap-1">
          <NumberInput
            aria-label={`Place of colour ${i + 1}, %`}
            title="Place, %"
            className="!w-12 shrink-0"
            bounds={described.stopAt}
            percent
            value={stop.at}
            onValue={(at) => renew(i, { at })}
          />
          <ColourInput
            label={`Colour ${i + 1}`}
            template={template}
            value={stop.colour}
            onValue={(colour) => renew(i, { colour })}
          />
          {stops.length > 2 && (
            <Button
              small
              aria-label={`Remove colour ${i + 1}`}
              onClick={() => onValue({ ...gradient, stops: stops.filter((_, n) => n !== i) })}
            >
              ✕
            </Button>
          )}
        </span>
      ))}
      {stops.length < 16 && (
        <Button small variant="quiet" className="self-start" onClick={add}>
          + colour
        </Button>
      )}
    </>
  )
}
