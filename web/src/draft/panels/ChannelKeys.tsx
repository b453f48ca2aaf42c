import { type Channel, channels, type DeadKeys, deadKeysWords, easePresets, hasWay } from '@hoja/core/motion'
import type { Bounds } from '@hoja/core/schema'
import { described, type Keyframe, type Motion, sortedKeys, type Template, type Track } from '@hoja/core/template'
import type { FontAxis } from '@hoja/core/text'
import { ColourInput } from '../../ui/ColourInput.tsx'
import { Button, Select } from '../../ui/controls.tsx'
import { LengthInput } from '../../ui/FrameInputs.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'

const easeOf = (key: Keyframe) =>
  easePresets.find((preset) => JSON.stringify(preset.ease) === JSON.stringify(key.ease))?.id ?? 'own'

/** Axes that have a channel of their own. */
export const axisOfChannel = ['wght', 'wdth']

/** Whether a channel does anything: those of axes only in fonts that have them. */
export function isOffered(channel: Channel, axes: readonly FontAxis[]): boolean {
  const has = (tag: string) => axes.some((axis) => axis.tag === tag)
  if (channel === 'weight') return has('wght')
  if (channel === 'stretch') return has('wdth')
  return channel !== 'axis' || axes.some(({ tag }) => !axisOfChannel.includes(tag))
}

type Setting = {
  key: string
  label: string
  options?: [string, string][]
  bounds?: Bounds
  colour?: boolean
}
const sides: [string, string][] = ['left', 'right', 'top', 'bottom'].map((side) => [side, `from ${side}`])
const edges: [string, string][] = [
  ['start', 'from its start'],
  ['middle', 'from its middle'],
  ['end', 'from its end'],
]
const shiftUnits: [string, string][] = [
  ['px', 'px'],
  ['own', 'own sizes'],
  ['frame', 'frames'],
  ['off', 'off the frame'],
]
/** What a channel works by, and how it is edited. */
const settingsOf: Partial<Record<Channel, Setting[]>> = {
  shiftX: [{ key: 'unit', label: 'Unit', options: shiftUnits }],
  shiftY: [{ key: 'unit', label: 'Unit', options: shiftUnits }],
  reveal: [
    { key: 'from', label: 'From', options: sides },
    { key: 'soft', label: 'Softness, px', bounds: described.channelSettings.reveal.soft },
    { key: 'slant', label: 'Slant, degrees', bounds: described.channelSettings.reveal.slant },
  ],
  grow: [
    {
      key: 'axis',
      label: 'Axis',
      options: [
        ['x', 'across'],
        ['y', 'down'],
      ],
    },
    { key: 'from', label: 'From', options: edges },
  ],
  colour: [{ key: 'to', label: 'Turns to', colour: true }],
  trim: [{ key: 'from', label: 'From', options: edges }],
  count: [{ key: 'start', label: 'Counts from', bounds: described.channelSettings.count.start }],
  settle: [
    {
      key: 'as',
      label: 'How letters change',
      options: [
        ['scramble', 'at random'],
        ['board', 'as on a board of flaps'],
      ],
    },
    {
      key: 'from',
      label: 'Letters that stand there',
      options: [
        ['alphabet', 'of the alphabet'],
        ['digits', 'digits'],
        ['own', 'its own letters'],
      ],
    },
  ],
}

const axisSetting = (axes: readonly FontAxis[]): Setting[] => [
  {
    key: 'tag',
    label: 'Axis of the font',
    options: axes
      .filter(({ tag }) => !axisOfChannel.includes(tag))
      .map(({ tag, name }): [string, string] => [tag, name]),
  },
]

/** The keys of one channel, and what it works by. */
export function ChannelKeys({
  template,
  name,
  dead,
  motion,
  channel,
  axes,
  track,
  now,
  onNow,
  letters,
  onTrack,
}: {
  template: Template
  /** Of the part. */
  name: string
  motion: Motion
  /** Keys of the channel that never play. */
  dead: readonly DeadKeys[]
  channel: Channel
  /** Of characters, words or lines by themselves. */
  letters: boolean
  /** Of the part's font. */
  axes: readonly FontAxis[]
  track: Track
  now: number
  onNow: (value: number) => void
  onTrack: (track: Track | undefined) => void
}) {
  const { label, step, unit } = channels[channel]
  const settings = channel === 'axis' ? axisSetting(axes) : (settingsOf[channel] ?? [])
  const values = track as unknown as Record<string, string | number> & { leaving?: Record<string, string | number> }
  const leaves = motion.out === 'own' && settings.length > 0 && track.keys.some((key) => key.span === 'out')
  const editors = (from: Record<string, string | number>, put: (more: object) => void, prefix: string) =>
    settings.map((setting) =>
      setting.colour ? (
        <ColourInput
          key={setting.key}
          template={template}
          label={`${prefix}${setting.label}`}
          value={String(from[setting.key] ?? '#ffffff')}
          onValue={(value) => put({ [setting.key]: value })}
        />
      ) : setting.options ? (
        <Select
          key={setting.key}
          aria-label={`${prefix}${setting.label}`}
          className="!h-6 !w-auto max-w-24 text-xs"
          value={String(from[setting.key])}
          options={setting.options}
          onChange={(event) => put({ [setting.key]: event.target.value })}
        />
      ) : (
        <NumberInput
          key={setting.key}
          aria-label={`${prefix}${setting.label}`}
          title={setting.label}
          className="!h-6 !w-11"
          bounds={setting.bounds!}
          value={Number(from[setting.key])}
          onValue={(value) => put({ [setting.key]: value })}
        />
      ),
    )
  return (
    <fieldset className="border-b border-rule pt-0.5 pb-1">
      <legend className="float-left mr-3 leading-6 font-medium">{label}</legend>
      <div className="flex flex-wrap items-center gap-1">
        {settings.length > 0 && editors(values, (more) => onTrack({ ...track, ...more } as Track), '')}
        <span className="ml-auto text-xs text-soft">{settings.length > 1 ? '' : 'now'}</span>
        <NumberInput
          aria-label={`${label} at the playhead`}
          title="Its value at the playhead; a change sets a key there"
          className="!h-6 !w-14"
          bounds={{ ...described.keyValue, step }}
          value={now}
          onValue={onNow}
        />
        {unit && unit !== '0–1' && <span className="text-xs text-soft">{unit}</span>}
        <Button small aria-label={`Remove ${label}`} onClick={() => onTrack(undefined)}>
          ✕
        </Button>
      </div>
      {leaves && (
        <div className="flex flex-wrap items-center gap-1 py-0.5 text-xs">
          <span className="text-soft">in Out</span>
          {editors(
            { ...values, ...values.leaving } as Record<string, string | number>,
            (more) => {
              const base = Object.fromEntries(settings.map(({ key }) => [key, values[key]]))
              onTrack({ ...track, leaving: { ...base, ...values.leaving, ...more } } as Track)
            },
            'Out: ',
          )}
        </div>
      )}
      <KeyRows
        template={template}
        out={motion.out}
        keys={track.keys}
        ways={hasWay(channel) && !letters}
        onKeys={(keys) => onTrack(keys.length > 0 ? { ...track, keys } : undefined)}
        step={step}
      />
      {dead.map((one) => (
        <p key={one.why} role="status" className="pb-0.5 text-xs text-look">
          {deadKeysWords(name, one)}
        </p>
      ))}
    </fieldset>
  )
}

function withSpeed({ speed: _, ...key }: Keyframe, speed: number | undefined): Keyframe {
  return speed === undefined ? key : { ...key, speed }
}

function KeyRows({
  template,
  out,
  keys,
  ways,
  onKeys,
  step,
}: {
  template: Template
  out: Motion['out']
  keys: Keyframe[]
  /** The channel leads over a way, so that a key's time may come from a speed. */
  ways: boolean
  onKeys: (keys: Keyframe[]) => void
  step: number
}) {
  const { spans } = template
  const longest = { in: spans.in, hold: spans.hold.frames, out: spans.out }
  const put = (i: number, key: Keyframe) => onKeys(sortedKeys(keys.map((k, n) => (n === i ? key : k))))
  return (
    <table className="w-full">
      <thead>
        <tr className="text-left text-xs leading-4 text-soft">
          <th className="font-normal">Span</th>
          <th className="px-1 font-normal">Frame</th>
          {ways && <th className="font-normal">px/s</th>}
          <th className="font-normal">Value</th>
          <th className="pl-1 font-normal whitespace-nowrap">Easing</th>
          <th className="sr-only">Remove</th>
        </tr>
      </thead>
      <tbody>
        {keys.map((key, i) => (
          <tr key={i}>
            <td className="w-16 py-px">
              <Select
                aria-label="Span"
                className="!h-6 text-xs"
                value={key.span}
                options={[
                  ['in', 'In'],
                  ...(spans.hold.gives === 'freeze' ? [] : [['hold', 'Hold'] as const]),
                  ...(out === 'own' ? [['out', 'Out'] as const] : []),
                ]}
                onChange={(event) => put(i, { ...key, span: event.target.value as Keyframe['span'], at: 0 })}
              />
            </td>
            <td className="w-14 px-1">
              <LengthInput
                aria-label="Frame"
                title="Frame in its span; or seconds, or a timecode"
                className="!h-6"
                rate={template.frame.rate}
                value={key.at}
                max={longest[key.span]}
                onValue={(at) => put(i, withSpeed({ ...key, at }, undefined))}
              />
            </td>
            {ways && (
              <td className="w-14 pr-1">
                {i > 0 && (
                  <NumberInput
                    aria-label="Speed, px/s"
                    title="px a second: it comes as soon as the way from the key before it takes; 0: at its frame"
                    className="!h-6"
                    bounds={{ ...described.keySpeed, least: 0 }}
                    value={key.speed ?? 0}
                    onValue={(speed) => put(i, withSpeed(key, speed || undefined))}
                  />
                )}
              </td>
            )}
            <td className="w-16">
              <NumberInput
                aria-label="Value"
                title="Value"
                className="!h-6"
                bounds={{ ...described.keyValue, step }}
                value={key.value}
                onValue={(value) => put(i, { ...key, value })}
              />
            </td>
            <td className="pl-1">
              <Select
                aria-label="Easing"
                className="!h-6 text-xs"
                value={easeOf(key)}
                options={[
                  ...easePresets.map((p): [string, string] => [p.id, p.name]),
                  ...(easeOf(key) === 'own' ? [['own', 'its own'] as [string, string]] : []),
                ]}
                onChange={(event) =>
                  put(i, { ...key, ease: easePresets.find((p) => p.id === event.target.value)?.ease ?? key.ease })
                }
              />
            </td>
            <td className="w-7 pl-1 text-right">
              <Button small aria-label="Remove this key" onClick={() => onKeys(keys.filter((_, n) => n !== i))}>
                ✕
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
