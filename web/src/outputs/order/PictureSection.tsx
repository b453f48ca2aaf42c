import { type OutputSettings, outputFormats } from '@hoja/core/output'
import { firstShape, type ShapeId, shapeOf, shapesOf, type Template } from '@hoja/core/template'
import { Choice } from '../../ui/Choice.tsx'
import { Checkbox, Line, Select, Tick } from '../../ui/controls.tsx'
import { LengthInput, SizeInput } from '../../ui/FrameInputs.tsx'
import { ShapeChoice, ShapeIcon } from '../../ui/ShapeChoice.tsx'
import { BackdropInput } from '../BackdropInput.tsx'
import { Section } from './Section.tsx'
import type { SectionProps } from './settings.ts'

/** Frame size, alpha, and what lies under titles. `drawn`: the template for the frame of the order */
export function PictureSection({
  settings,
  template,
  drawn,
  several,
  change,
}: SectionProps & {
  drawn: Template
  /** Whether an order may be made in several shapes. */
  several: boolean
}) {
  const facts = outputFormats[settings.format]
  const { frame } = drawn
  const { shapes = [firstShape] } = settings
  const designed = shapeOf(template, shapes[0])
  return (
    <Section title="Picture">
      {template.shapes && (
        <ShapesLine template={template} chosen={settings.shapes ?? [firstShape]} several={several} change={change} />
      )}
      {shapes.length > 1 ? (
        <Line label="Frame size">{() => <p className="pt-1 text-soft">Each as it is drawn.</p>}</Line>
      ) : (
        <Line label="Frame size" note={sized(drawn, designed)}>
          {(id) => (
            <SizeInput
              id={id}
              value={frame}
              onValue={(size) => {
                const { width, height } = designed.frame
                const same = size.width === width && size.height === height
                const isOther = Math.abs(size.width / size.height - width / height) > 0.001
                change({ size: same ? undefined : size, keepSizes: isOther || undefined })
              }}
            />
          )}
        </Line>
      )}
      {settings.size && (
        <Tick
          label="Sizes grow"
          note="Sizes, gaps and strokes grow or shrink with the frame; else they stay as many px as they were drawn with."
          checked={!settings.keepSizes}
          onChange={(on) => change({ keepSizes: on ? undefined : true })}
        />
      )}
      {facts.alpha === 'either' && (
        <Line
          label="Alpha"
          note={
            settings.alpha === 'premultiplied'
              ? 'Colours are multiplied by alpha, as over black. Say so to the program that reads it.'
              : 'Colours are kept whole under alpha. What most programs take for granted.'
          }
        >
          {() => (
            <Choice
              label="Alpha"
              value={settings.alpha ?? 'straight'}
              options={[
                ['straight', 'straight'],
                ['premultiplied', 'premultiplied'],
              ]}
              onValue={(alpha) => change({ alpha: alpha === 'straight' ? undefined : alpha })}
            />
          )}
        </Line>
      )}
      {facts.still && (
        <Line label="Shows" note={stillWords(settings.at)}>
          {(id) => (
            <span className="flex gap-1.5">
              <Select
                id={id}
                value={typeof settings.at === 'number' ? 'frame' : (settings.at ?? 'settled')}
                options={[
                  ['settled', 'the settled frame'],
                  ['poster', "the poster's frame"],
                  ['frame', 'a frame'],
                ]}
                onChange={(event) => {
                  const { value } = event.target
                  change({ at: value === 'frame' ? template.spans.in : value === 'poster' ? 'poster' : undefined })
                }}
              />
              {typeof settings.at === 'number' && (
                <LengthInput
                  aria-label="Frame of the still"
                  rate={frame.rate}
                  value={settings.at}
                  onValue={(at) => change({ at })}
                />
              )}
            </span>
          )}
        </Line>
      )}
      {facts.backdrop !== 'never' && (
        <BackdropInput
          value={settings.backdrop}
          needed={facts.backdrop === 'always'}
          footage={facts.backdrop === 'always'}
          onValue={(backdrop) => change({ backdrop })}
        />
      )}
    </Section>
  )
}

/** Which of the template's shapes are rendered: one at least. */
function ShapesLine({
  template,
  chosen,
  several,
  change,
}: Pick<SectionProps, 'template' | 'change'> & { chosen: readonly ShapeId[]; several: boolean }) {
  const all = shapesOf(template)
  const put = (ids: readonly ShapeId[]) =>
    change({
      shapes: ids.length === 1 && ids[0] === firstShape ? undefined : [...ids],
      size: undefined,
      keepSizes: undefined,
    })
  if (!several)
    return (
      <Line label="Shape">{() => <ShapeChoice shapes={all} shape={chosen[0]!} onShape={(id) => put([id])} />}</Line>
    )
  return (
    <Line label="Shapes" note={chosen.length > 1 ? 'An output of each; the files say which.' : ''}>
      {() => (
        <span className="flex flex-wrap gap-x-4 gap-y-1 pt-1" role="group" aria-label="Shapes of the frame">
          {all.map((shape) => (
            <label key={shape.id} className="flex items-center gap-1.5">
              <Checkbox
                checked={chosen.includes(shape.id)}
                disabled={chosen.length === 1 && chosen[0] === shape.id}
                onValue={(on) =>
                  put(all.map(({ id }) => id).filter((id) => (id === shape.id ? on : chosen.includes(id))))
                }
              />
              <ShapeIcon {...shape} /> {shape.name}
            </label>
          ))}
        </span>
      )}
    </Line>
  )
}

function stillWords(at: OutputSettings['at']): string {
  if (at === 'poster') return 'The one that the shelf shows.'
  return at === undefined ? 'The first in which every part has arrived.' : 'From 0; of a shorter title its last one.'
}

function sized({ frame }: Template, template: Template): string {
  const { width, height } = template.frame
  if (frame.width === width && frame.height === height) return 'As designed.'
  const same = Math.abs(frame.width / frame.height - width / height) < 0.001
  return same ? 'Drawn anew at this size, not enlarged.' : 'Ties keep their meaning; look at the picture on the right.'
}
