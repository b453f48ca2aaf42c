import { type OutputSettings, outputFormats } from '@hoja/core/output'
import type { Template } from '@hoja/core/template'
import { Choice } from '../../ui/Choice.tsx'
import { Line, Select, Tick } from '../../ui/controls.tsx'
import { LengthInput, SizeInput } from '../../ui/FrameInputs.tsx'
import { BackdropInput } from '../BackdropInput.tsx'
import { Section } from './Section.tsx'
import type { SectionProps } from './settings.ts'

/** Frame size, alpha, and what lies under titles. `drawn`: the template for the frame of the order */
export function PictureSection({ settings, template, drawn, change }: SectionProps & { drawn: Template }) {
  const facts = outputFormats[settings.format]
  const { frame } = drawn
  return (
    <Section title="Picture">
      <Line label="Frame size" note={sized(drawn, template)}>
        {(id) => (
          <SizeInput
            id={id}
            value={frame}
            onValue={(size) => {
              const same = size.width === template.frame.width && size.height === template.frame.height
              const { width, height } = template.frame
              const isOther = Math.abs(size.width / size.height - width / height) > 0.001
              change({ size: same ? undefined : size, keepSizes: isOther || undefined })
            }}
          />
        )}
      </Line>
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
