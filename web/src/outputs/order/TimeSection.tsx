import { type OutputSettings, outputFormats, settingBounds } from '@hoja/core/output'
import { entryParts, type Template, takesItsTime } from '@hoja/core/template'
import { frameOfTimecode, secondsOf } from '@hoja/core/time'
import type { SheetDetail } from '../../api.ts'
import { Button, Line, Select, TextInput, Tick } from '../../ui/controls.tsx'
import { LengthInput, RateInput } from '../../ui/FrameInputs.tsx'
import { ChangeLine } from './ChangeLine.tsx'
import { Section } from './Section.tsx'
import { type SectionProps, wrongWith } from './settings.ts'

/** Rate, length, handles, timecode, sound. */
export function TimeSection({
  settings,
  template,
  drawn,
  change,
  someOwn,
  sheet,
}: SectionProps & {
  /** Whose rows are rendered; absent: none, it is parts of a template. */
  sheet: SheetDetail | undefined
  /** The template for the frame of the order. */
  drawn: Template
  /** Whether some rows have a length of their own. */
  someOwn: boolean
}) {
  const facts = outputFormats[settings.format]
  const { frame, spans } = drawn
  const least = Math.max(1, spans.in + spans.out)
  const designed = spans.in + spans.hold.frames + spans.out
  const handles = settings.handles ?? { before: 0, after: 0 }
  const follows = entryParts(template).some(({ part }) => takesItsTime(part))
  const keepIt = someOwn ? ' Rows with a length of their own keep it.' : ''
  return (
    <Section title="Time">
      <Line label="Frames a second">
        {(id) => (
          <RateInput
            id={id}
            value={frame.rate}
            onValue={(rate) => {
              const own = template.frame.rate
              const same = rate.num * own.den === own.num * rate.den
              change({ rate: same ? undefined : rate, frames: undefined })
            }}
          />
        )}
      </Line>
      <Line
        label="Frames each"
        note={
          follows && settings.frames === undefined
            ? `Each title has its own.${keepIt}`
            : `${secondsOf(settings.frames ?? designed, frame.rate).toFixed(2)} s; Hold gives, In and Out stay. At least ${least}.${keepIt}`
        }
      >
        {(id) =>
          follows && settings.frames === undefined ? (
            <span className="flex items-center gap-1.5">
              as long as its lists take
              <Button small onClick={() => change({ frames: designed })}>
                Set a length
              </Button>
            </span>
          ) : (
            <span className="flex items-center gap-1.5">
              <LengthInput
                id={id}
                rate={frame.rate}
                min={least}
                value={settings.frames ?? designed}
                onValue={(frames) => change({ frames: !follows && frames === designed ? undefined : frames })}
              />
              {follows && (
                <Button small onClick={() => change({ frames: undefined })}>
                  As its lists take
                </Button>
              )}
            </span>
          )
        }
      </Line>
      <Line label="Handles" note="Frames before and behind, the first and the last one held.">
        {(id) => (
          <span className="flex items-center gap-1.5">
            <LengthInput
              id={id}
              rate={frame.rate}
              aria-label="Handle before, frames"
              max={settingBounds.handle[1]}
              value={handles.before}
              onValue={(before) => change({ handles: { ...handles, before } })}
            />
            +
            <LengthInput
              rate={frame.rate}
              aria-label="Handle behind, frames"
              max={settingBounds.handle[1]}
              value={handles.after}
              onValue={(after) => change({ handles: { ...handles, after } })}
            />
          </span>
        )}
      </Line>
      {sheet && <ChangeLine settings={settings} template={template} change={change} drawn={drawn} sheet={sheet} />}
      {facts.fields && (
        <Line
          label="Fields"
          note={
            settings.fields
              ? `Drawn ${Number(((2 * frame.rate.num) / frame.rate.den).toFixed(2))} times a second, two fields to a frame.`
              : 'Whole frames.'
          }
        >
          {(id) => (
            <Select
              id={id}
              value={settings.fields ?? ''}
              options={[
                ['', 'none'],
                ['top', 'top field first'],
                ['bottom', 'bottom field first'],
              ]}
              onChange={(event) => change({ fields: (event.target.value || undefined) as OutputSettings['fields'] })}
            />
          )}
        </Line>
      )}
      {facts.timecode && (
        <Line
          label="Timecode"
          note="Of the file's first frame; empty: none."
          wrong={wrongWith(() => settings.timecode && frameOfTimecode(settings.timecode, frame.rate))}
        >
          {(id) => (
            <TextInput
              id={id}
              placeholder="10:00:00:00"
              value={settings.timecode ?? ''}
              onChange={(event) => change({ timecode: event.target.value || undefined })}
            />
          )}
        </Line>
      )}
      {facts.sound && template.sounds.length > 0 && (
        <Tick label="Sound" checked={!settings.silent} onChange={(on) => change({ silent: on ? undefined : true })} />
      )}
    </Section>
  )
}
