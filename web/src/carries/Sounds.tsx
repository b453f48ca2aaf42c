import { address } from '@hoja/core/api'
import { described, type SoundFile, type SpanName, type Template } from '@hoja/core/template'
import { useDraft } from '../session/draft.ts'
import { Button, Select } from '../ui/controls.tsx'
import { LengthInput } from '../ui/FrameInputs.tsx'
import { NumberInput } from '../ui/NumberInput.tsx'
import { Section } from './Section.tsx'

/** The sounds, each with its span, its place in it and its level. */
export function Sounds({ template }: { template: Template }) {
  const { change } = useDraft.getState()
  const put = (id: string, more: Partial<SoundFile>, what: string) =>
    change(
      { kind: 'sounds', sounds: template.sounds.map((one) => (one.id === id ? { ...one, ...more } : one)) },
      what,
      `sound ${id}`,
    )
  return (
    <Section
      title="Sounds"
      note="Each begins with a span, so that it keeps its place however long a title stands. Movies carry them."
    >
      {template.sounds.length === 0 && <p className="py-2 text-soft">None. Drop a WAV, MP3 or Ogg file here.</p>}
      <ul className="mt-2 border-t border-rule bg-paper empty:hidden">
        {template.sounds.map((sound) => (
          <li key={sound.id} className="flex flex-wrap items-center gap-3 border-b border-rule px-2.5 py-1.5">
            <b className="w-44 truncate font-semibold" title={sound.name}>
              {sound.name}
            </b>
            <span className="w-14 text-soft">{sound.seconds.toFixed(2)} s</span>
            {/* biome-ignore lint/a11y/useMediaCaption: a chime or a sweep says nothing that could be written down */}
            <audio
              controls
              preload="none"
              src={address.asset({ sha256: sound.sha256 })}
              className="h-8 w-52"
              aria-label={sound.name}
            />
            <span className="flex items-center gap-1.5">
              begins with
              <Select
                aria-label={`The span that ${sound.name} begins with`}
                className="!w-20"
                value={sound.span}
                options={[
                  ['in', 'In'],
                  ['hold', 'Hold'],
                  ['out', 'Out'],
                ]}
                onChange={(event) =>
                  put(sound.id, { span: event.target.value as SpanName }, `the place of ${sound.name}`)
                }
              />
              plus
              <span className="w-20">
                <LengthInput
                  aria-label={`How far into the span ${sound.name} begins`}
                  rate={template.frame.rate}
                  max={described.frames.most}
                  value={sound.at}
                  onValue={(at) => put(sound.id, { at }, `the place of ${sound.name}`)}
                />
              </span>
            </span>
            <span className="flex items-center gap-1.5">
              level
              <NumberInput
                aria-label={`Level of ${sound.name}, dB`}
                className="!w-16"
                bounds={described.soundLevel}
                value={sound.level}
                onValue={(level) => put(sound.id, { level }, `the level of ${sound.name}`)}
              />
              dB
            </span>
            <Button
              small
              className="ml-auto"
              aria-label={`Remove ${sound.name}`}
              onClick={() =>
                change(
                  { kind: 'sounds', sounds: template.sounds.filter((one) => one.id !== sound.id) },
                  `removing ${sound.name}`,
                )
              }
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
    </Section>
  )
}
