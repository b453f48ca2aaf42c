import { boxOf } from '@hoja/core/layout'
import {
  begunTrack,
  type Channel,
  channels,
  channelsOf,
  type DeadKeys,
  deadKeysOf,
  deadKeysWords,
  easePresets,
  hasWay,
  isRest,
  keyMoment,
  type Lane,
  momentAt,
  segmentChannels,
  setKeyAt,
  timedTracks,
  valueAt,
  withOut,
} from '@hoja/core/motion'
import type { Scene } from '@hoja/core/scene'
import type { Bounds } from '@hoja/core/schema'
import {
  allParts,
  described,
  type Keyframe,
  type Motion,
  type Part,
  type Segments,
  sortedKeys,
  type Template,
  type Track,
} from '@hoja/core/template'
import type { FontAxis } from '@hoja/core/text'
import type { ReactNode } from 'react'
import type { Player } from '../../preview/usePlayer.ts'
import { useDraft } from '../../session/draft.ts'
import { ColourInput } from '../../ui/ColourInput.tsx'
import { Button, Checkbox, Line, Select } from '../../ui/controls.tsx'
import { LengthInput } from '../../ui/FrameInputs.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { useDesk } from '../desk.ts'
import { useAxes } from '../sceneNow.ts'

const easeOf = (key: Keyframe) =>
  easePresets.find((preset) => JSON.stringify(preset.ease) === JSON.stringify(key.ease))?.id ?? 'own'

/** How the part gets there: every channel with its value at the playhead and its keys. */
export function MotionPanel({
  template,
  scene,
  part,
  player,
}: {
  template: Template
  scene: Scene
  part: Part
  player: Player
}) {
  const { change, attempt } = useDraft.getState()
  const { motion } = part
  const axes = useAxes(part.kind === 'text' ? (part.style.font ?? '') : '')
  const offered = channelsOf(part.kind).filter(
    (channel) => (motion.tracks as Record<string, unknown>)[channel] !== undefined || isOffered(channel, axes),
  )
  const dead = deadKeysOf(template.spans, part)
  const { values } = useDesk((desk) => desk.filling)
  const timing = scene.timing(scene.layout(values))
  const moment = momentAt(timing, player.frame)
  const put = (value: Motion, drag?: string) =>
    change({ kind: 'motion', part: part.id, motion: value }, `the motion of ${part.name}`, drag)
  const setKey = (lane: Lane, value: number | undefined) =>
    attempt(
      (now) => setKeyAt(now, lane, moment.span, Math.round(moment.at), value),
      `a key of ${part.name}`,
      value === undefined ? undefined : `key ${part.id} ${lane.channel} ${player.frame}`,
    )
  const putTrack = (set: Lane['set'], channel: Channel, track: Track | undefined) => {
    const all = (set === 'segments' ? motion.segments!.tracks : motion.tracks) as Record<string, Track>
    const { [channel]: _, ...rest } = all
    const next = track ? { ...all, [channel]: track } : rest
    if (set === 'tracks') put({ ...motion, tracks: next })
    else if (Object.keys(next).length > 0) put({ ...motion, segments: { ...motion.segments!, tracks: next } })
    else dropSegments()
  }
  /** Keys that go by a speed stand where they are in the filling that is drawn. */
  const timed = (channel: Channel, track: Track | undefined): Track | undefined => {
    const { rest } = scene.layout({})
    const index = rest.order.index.get(part.id)
    if (!track || !hasWay(channel) || index === undefined) return track
    return timedTracks({ [channel]: track }, boxOf(rest, index), template)[channel]
  }
  const dropSegments = () => {
    const { segments: _, ...rest } = motion
    put(rest)
  }
  const lanes = (set: Lane['set'], offered: readonly Channel[]) => {
    const all = ((set === 'segments' ? motion.segments?.tracks : motion.tracks) ?? {}) as Record<
      string,
      Track | undefined
    >
    return (
      <>
        {offered.flatMap((channel) => {
          const track = all[channel]
          return track
            ? [
                <ChannelKeys
                  key={channel}
                  template={template}
                  name={part.name}
                  motion={motion}
                  dead={dead.filter((one) => one.channel === channel && one.segments === (set === 'segments'))}
                  channel={channel}
                  axes={axes}
                  letters={set === 'segments'}
                  track={track}
                  now={
                    track.keys.length > 0
                      ? valueAt(track, keyMoment(template.spans, timing.hold, moment, motion.out))
                      : channels[channel].rest
                  }
                  onNow={(value) => setKey({ part: part.id, set, channel }, value)}
                  onTrack={(next) => putTrack(set, channel, set === 'tracks' ? timed(channel, next) : next)}
                />,
              ]
            : []
        })}
        <div className="py-1">
          <Select
            aria-label={set === 'segments' ? 'Key a channel of its letters, words or lines' : 'Key a channel'}
            className="!w-full"
            value=""
            options={[
              ['', `+ key at frame ${player.frame} …`],
              ...offered
                .filter((channel) => !all[channel])
                .map((channel): [string, string] => [channel, channels[channel].label]),
            ]}
            onChange={(event) => {
              const channel = event.target.value as Channel
              if (!channel) return
              // In begins away from the rest and ends in it; the key under the playhead is the one that is away. Where Hold
              // freezes no key can stand, so In is begun from its start.
              if (moment.span === 'in' || isRest(template, moment)) startChannel(set, channel)
              else setKey({ part: part.id, set, channel }, undefined)
            }}
          />
        </div>
      </>
    )
  }
  const startChannel = (set: Lane['set'], channel: Channel) => {
    const { away } = channels[channel]
    const other = axes.find(({ tag }) => !axisOfChannel.includes(tag))
    const settings = channel === 'axis' && other ? { tag: other.tag } : channels[channel].settings
    const at = moment.span === 'in' ? Math.round(moment.at) : 0
    const track = begunTrack(template, channel, 'in', at, away, settings)
    if (set === 'segments') {
      const segments: Segments = motion.segments ?? {
        by: 'character',
        order: 'forward',
        seed: 1,
        overlap: 0.7,
        tracks: {},
      }
      put({ ...motion, segments: { ...segments, tracks: { ...segments.tracks, [channel]: track } } })
    } else put({ ...motion, tracks: { ...motion.tracks, [channel]: track } })
  }
  return (
    <div className="px-3.5 py-2">
      {lanes('tracks', offered)}
      {part.kind === 'text' && (
        <fieldset className="mt-3 border-t-2 border-rule pt-1.5">
          <legend className="float-left font-medium">One after another</legend>
          {motion.segments && (
            <div className="flex justify-end">
              <Button small onClick={dropSegments}>
                Remove
              </Button>
            </div>
          )}
          <div className="clear-both" />
          {motion.segments && (
            <SegmentsEditor segments={motion.segments} onSegments={(segments) => put({ ...motion, segments })} />
          )}
          {lanes('segments', segmentChannels)}
        </fieldset>
      )}
      <Whole>
        <label className="flex items-center gap-1.5" htmlFor={`${part.id}-out`}>
          <span className="text-soft">Out</span>
          <Select
            id={`${part.id}-out`}
            className="!h-6 !w-36 text-xs"
            value={motion.out}
            options={[
              ['mirror', 'In run backwards'],
              ['own', 'has keys of its own'],
            ]}
            onChange={(event) => put(withOut(motion, template.spans, event.target.value as Motion['out']))}
          />
        </label>
        <label className="flex items-center gap-1.5" htmlFor={`${part.id}-rides`}>
          <span className="text-soft">Rides</span>
          <Select
            id={`${part.id}-rides`}
            className="!h-6 !w-28 text-xs"
            value={motion.ride ?? ''}
            options={[
              ['', 'nothing'],
              ...allParts(template.parts)
                .filter((o) => o.id !== part.id)
                .map((o): [string, string] => [o.id, o.name]),
            ]}
            onChange={(event) => {
              const { ride: _, ...rest } = motion
              put(event.target.value ? { ...rest, ride: event.target.value } : rest)
            }}
          />
        </label>
        <label className="flex items-center gap-1.5" htmlFor={`${part.id}-anchor`}>
          <span className="text-soft">Anchor, %</span>
          <NumberInput
            id={`${part.id}-anchor`}
            className="!h-6 !w-12"
            bounds={described.slope}
            percent
            value={motion.anchor.x}
            onValue={(v) => put({ ...motion, anchor: { ...motion.anchor, x: v } })}
          />
          <NumberInput
            aria-label="Anchor down, %"
            className="!h-6 !w-12"
            bounds={described.slope}
            percent
            value={motion.anchor.y}
            onValue={(v) => put({ ...motion, anchor: { ...motion.anchor, y: v } })}
          />
        </label>
      </Whole>
    </div>
  )
}

/** Axes that have a channel of their own. */
const axisOfChannel = ['wght', 'wdth']

/** Whether a channel does anything: those of axes only in fonts that have them. */
function isOffered(channel: Channel, axes: readonly FontAxis[]): boolean {
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

/** What holds for all movement of a part, in one line. */
const Whole = ({ children }: { children: ReactNode }) => (
  <div className="mt-3 flex flex-wrap items-center gap-x-3 gap-y-1 border-t-2 border-rule pt-2 text-xs">{children}</div>
)

function ChannelKeys({
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

function SegmentsEditor({ segments, onSegments }: { segments: Segments; onSegments: (segments: Segments) => void }) {
  return (
    <>
      <Line label="By">
        {(id) => (
          <Select
            id={id}
            value={segments.by}
            options={['character', 'word', 'line'].map((s) => [s, s])}
            onChange={(event) => onSegments({ ...segments, by: event.target.value as Segments['by'] })}
          />
        )}
      </Line>
      <Line label="Order">
        {(id) => (
          <Select
            id={id}
            value={segments.order}
            options={[
              ['forward', 'forward'],
              ['backward', 'backward'],
              ['middle', 'from the middle'],
              ['random', 'random'],
            ]}
            onChange={(event) => onSegments({ ...segments, order: event.target.value as Segments['order'] })}
          />
        )}
      </Line>
      <Line label="Caret">
        {(id) => (
          <Checkbox
            id={id}
            aria-label="Caret"
            checked={segments.caret ?? false}
            onValue={(on) => {
              const { caret: _, ...rest } = segments
              onSegments(on ? { ...rest, caret: true } : rest)
            }}
          />
        )}
      </Line>
      {(segments.order === 'random' || segments.tracks.settle?.as === 'scramble') && (
        <Line label="Draw of the lot">
          {(id) => (
            <NumberInput
              id={id}
              bounds={described.seed}
              value={segments.seed}
              onValue={(seed) => onSegments({ ...segments, seed })}
            />
          )}
        </Line>
      )}
      <Line label="Overlap, %">
        {(id) => (
          <NumberInput
            id={id}
            bounds={described.overlap}
            percent
            value={segments.overlap}
            onValue={(overlap) => onSegments({ ...segments, overlap })}
          />
        )}
      </Line>
    </>
  )
}
