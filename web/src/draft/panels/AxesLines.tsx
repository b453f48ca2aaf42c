import type { AxisPlace, Part, Run, Style } from '@hoja/core/template'
import type { FontAxis } from '@hoja/core/text'
import { Button, Checkbox, Line, Select } from '../../ui/controls.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { useAxes } from '../sceneNow.ts'

/** What a text, or a stretch of it, says of where its variable font stands. */
type Axes = Pick<Style<'text'>, 'weight' | 'stretch' | 'opticalSize' | 'axes'>
export const axisKeys: readonly string[] = ['weight', 'stretch', 'opticalSize', 'axes'] satisfies (keyof Axes)[]

/** Axes that OpenType registers and that a text has properties for. */
const registered: Record<string, keyof Axes> = { wght: 'weight', wdth: 'stretch', opsz: 'opticalSize' }

/** Every axis of a text's variable font, by the font's own names and between its own ends; nothing for other fonts. */
export function AxesLines({
  part,
  run,
  narrow,
  onValue,
}: {
  part: Part
  /** A stretch of the text, with what it has of its own. */
  run?: Run
  narrow?: boolean
  onValue: (key: keyof Axes, value: number | AxisPlace[] | undefined, label: string) => void
}) {
  const style: Style<'text'> = part.kind === 'text' ? part.style : {}
  const axes = useAxes(run?.font ?? style.font ?? '')
  const said: Axes = run ? { ...style, ...run } : style
  const others = (run ? run.axes : style.axes) ?? []
  const shown = axes.filter(
    ({ tag, hidden }) => !(run && tag === 'opsz') && (!hidden || others.some((one) => one.tag === tag)),
  )
  const more = axes.filter((axis) => !shown.includes(axis) && axis.hidden)
  const putOther = (axis: FontAxis, value: number | undefined) => {
    const rest = others.filter(({ tag }) => tag !== axis.tag)
    onValue('axes', value === undefined ? rest : [...rest, { tag: axis.tag, value }], axis.name.toLowerCase())
  }
  return (
    <>
      {shown.map((axis) => {
        const key = registered[axis.tag]
        const number = key && key !== 'axes' ? said[key] : undefined
        const value = key ? number || undefined : placeOn(said.axes, axis.tag)
        const put = (next: number | undefined) =>
          key && key !== 'axes' ? onValue(key, next, axis.name.toLowerCase()) : putOther(axis, next)
        return (
          <Line key={axis.tag} narrow={narrow ?? false} label={axis.name}>
            {(id) => <AxisInput id={id} axis={axis} size={style.size} value={value} onValue={put} />}
          </Line>
        )
      })}
      {more.length > 0 && (
        <Line narrow={narrow ?? false} label="More axes">
          {(id) => (
            <Select
              id={id}
              value=""
              options={[['', '+ axis'], ...more.map(({ tag, name }): [string, string] => [tag, name])]}
              onChange={(event) => {
                const axis = more.find(({ tag }) => tag === event.target.value)
                if (axis) putOther(axis, axis.standing)
              }}
            />
          )}
        </Line>
      )}
    </>
  )
}

const placeOn = (axes: readonly AxisPlace[] | undefined, tag: string) => axes?.find((one) => one.tag === tag)?.value

function AxisInput({
  id,
  axis,
  size = 48,
  value,
  onValue,
}: {
  id: string
  axis: FontAxis
  /** Of the text, px: what an optical size goes by when nothing is said. */
  size: number | undefined
  value: number | undefined
  onValue: (value: number | undefined) => void
}) {
  const { least, most, standing, tag, name } = axis
  const bySize = tag === 'opsz' ? Math.min(most, Math.max(least, size)) : undefined
  const bounds = { least, most, step: most - least > 20 ? 1 : 0.1, whole: false }
  if (bySize !== undefined)
    return (
      <span className="flex items-center gap-2">
        <NumberInput id={id} bounds={bounds} value={value ?? bySize} onValue={onValue} />
        <label className="flex items-center gap-1 text-xs whitespace-nowrap">
          <Checkbox checked={value === undefined} onValue={(checked) => onValue(checked ? undefined : bySize)} />
          by the size
        </label>
      </span>
    )
  return (
    <span className="flex items-center gap-1.5">
      <NumberInput id={id} bounds={bounds} value={value ?? standing} onValue={onValue} />
      <span className="w-20 text-xs whitespace-nowrap text-soft">
        {least} to {most}
      </span>
      {value !== undefined && (
        <Button
          small
          variant="quiet"
          aria-label={`${name} as the font is`}
          title="As the font is"
          onClick={() => onValue(undefined)}
        >
          ✕
        </Button>
      )}
    </span>
  )
}
