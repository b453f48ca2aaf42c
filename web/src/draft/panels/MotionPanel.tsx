import { boxOf } from '@hoja/core/layout'
import {
  begunTrack,
  type Channel,
  channels,
  channelsOf,
  deadKeysOf,
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
import {
  allParts,
  described,
  type Motion,
  type Part,
  type Segments,
  type Template,
  type Track,
} from '@hoja/core/template'
import type { ReactNode } from 'react'
import type { Player } from '../../preview/usePlayer.ts'
import { useDraft } from '../../session/draft.ts'
import { Button, Select } from '../../ui/controls.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { useDesk } from '../desk.ts'
import { useAxes } from '../sceneNow.ts'
import { axisOfChannel, ChannelKeys, isOffered } from './ChannelKeys.tsx'
import { SegmentsEditor } from './SegmentsEditor.tsx'

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

/** What holds for all movement of a part, in one line. */
const Whole = ({ children }: { children: ReactNode }) => (
  <div className="mt-3 flex flex-wrap items-center gap-x-3 gap-y-1 border-t-2 border-rule pt-2 text-xs">{children}</div>
)
