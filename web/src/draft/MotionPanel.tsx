import { type Channel, channels, easePresets, moves, sortedKeys } from '@hoja/core/motion'
import { allParts, type Key, type Motion, type Part, type Template, type Track, type Units } from '@hoja/core/template'
import { useDraft } from '../session/draft.ts'
import { Button, Line, NumberInput, Select } from '../ui/controls.tsx'

const shiftUnits: [string, string][] = [
  ['px', 'px'],
  ['own', 'own sizes'],
  ['frame', 'frames'],
  ['off', 'off the frame'],
]
const newTrack: Record<Channel, object> = {
  shiftX: { unit: 'px' },
  shiftY: { unit: 'px' },
  scale: {},
  turn: {},
  fade: {},
  reveal: { from: 'left', soft: 0, slant: 0 },
  grow: { axis: 'x', from: 'start' },
}
const away: Record<Channel, number> = { shiftX: -40, shiftY: 40, scale: 0, turn: -10, fade: 0, reveal: 0, grow: 0 }
const easeOf = (key: Key) =>
  easePresets.find((preset) => JSON.stringify(preset.ease) === JSON.stringify(key.ease))?.id ?? 'own'

/** How the part gets there: a move to begin with, then every channel's keys. */
export function MotionPanel({ template, part }: { template: Template; part: Part }) {
  const { change } = useDraft()
  const { motion } = part
  const put = (value: Motion, drag?: string) =>
    change({ kind: 'motion', part: part.id, motion: value }, `the motion of ${part.name}`, drag)
  const tracks = Object.entries(motion.tracks) as [Channel, Track & Record<string, unknown>][]
  const putTrack = (channel: Channel, track: Track | undefined, drag?: string) => {
    const { [channel]: _, ...rest } = motion.tracks
    put({ ...motion, tracks: track ? { ...motion.tracks, [channel]: track } : rest }, drag)
  }
  const free = (Object.keys(channels) as Channel[]).filter((channel) => !motion.tracks[channel])
  return (
    <div className="px-3.5 py-2">
      <Line label="Move" note="Puts keys on the part; edit them below.">
        {(id) => (
          <Select
            id={id}
            value=""
            options={[
              ['', 'choose an arrival …'],
              ...moves.filter((m) => m.kinds.includes(part.kind)).map((m): [string, string] => [m.id, m.name]),
            ]}
            onChange={(event) => {
              const move = moves.find((m) => m.id === event.target.value)
              if (!move) return
              const { units: _, ...rest } = motion
              put({ ...rest, ...move.make(template.spans.in) })
            }}
          />
        )}
      </Line>
      <Line label="Out">
        {(id) => (
          <Select
            id={id}
            value={motion.out}
            options={[
              ['mirror', 'In run backwards'],
              ['own', 'has keys of its own'],
            ]}
            onChange={(event) => put({ ...motion, out: event.target.value as Motion['out'] })}
          />
        )}
      </Line>
      <Line label="Rides">
        {(id) => (
          <Select
            id={id}
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
        )}
      </Line>
      <Line label="Anchor, %">
        {(id) => (
          <span className="flex gap-1">
            <NumberInput
              id={id}
              value={motion.anchor.x * 100}
              onValue={(v) => put({ ...motion, anchor: { ...motion.anchor, x: v / 100 } })}
            />
            <NumberInput
              aria-label="Anchor down, %"
              value={motion.anchor.y * 100}
              onValue={(v) => put({ ...motion, anchor: { ...motion.anchor, y: v / 100 } })}
            />
          </span>
        )}
      </Line>
      {motion.units && (
        <UnitsEditor
          units={motion.units}
          onUnits={(units) => {
            const { units: _, ...rest } = motion
            put(units ? { ...rest, units } : rest)
          }}
        />
      )}
      {tracks.map(([channel, track]) => (
        <fieldset key={channel} className="mt-2 border-t border-rule pt-1.5">
          <legend className="float-left font-medium">{channels[channel].label}</legend>
          <div className="flex justify-end gap-1">
            {'unit' in track && (
              <Select
                aria-label="Unit"
                className="!h-6 !w-28 text-xs"
                value={track.unit as string}
                options={shiftUnits}
                onChange={(event) => putTrack(channel, { ...track, unit: event.target.value } as Track)}
              />
            )}
            {channel === 'reveal' && (
              <Select
                aria-label="From"
                className="!h-6 !w-20 text-xs"
                value={track.from as string}
                options={['left', 'right', 'top', 'bottom'].map((s) => [s, s])}
                onChange={(event) => putTrack(channel, { ...track, from: event.target.value } as Track)}
              />
            )}
            {channel === 'reveal' && (
              <NumberInput
                aria-label="Softness, px"
                title="Softness, px"
                className="!h-6 !w-14"
                min={0}
                value={track.soft as number}
                onValue={(soft) => putTrack(channel, { ...track, soft } as Track)}
              />
            )}
            {channel === 'reveal' && (
              <NumberInput
                aria-label="Slant, degrees"
                title="Slant, degrees"
                className="!h-6 !w-14"
                min={-80}
                max={80}
                value={track.slant as number}
                onValue={(slant) => putTrack(channel, { ...track, slant } as Track)}
              />
            )}
            {channel === 'grow' && (
              <Select
                aria-label="Axis"
                className="!h-6 !w-20 text-xs"
                value={track.axis as string}
                options={[
                  ['x', 'across'],
                  ['y', 'down'],
                ]}
                onChange={(event) => putTrack(channel, { ...track, axis: event.target.value } as Track)}
              />
            )}
            {channel === 'grow' && (
              <Select
                aria-label="From"
                className="!h-6 !w-24 text-xs"
                value={track.from as string}
                options={[
                  ['start', 'from start'],
                  ['middle', 'from middle'],
                  ['end', 'from end'],
                ]}
                onChange={(event) => putTrack(channel, { ...track, from: event.target.value } as Track)}
              />
            )}
            <Button small onClick={() => putTrack(channel, undefined)}>
              Remove
            </Button>
          </div>
          <KeyRows
            template={template}
            out={motion.out}
            keys={track.keys}
            onKeys={(keys) => putTrack(channel, { ...track, keys })}
            step={channels[channel].step}
          />
        </fieldset>
      ))}
      {free.length > 0 && (
        <div className="mt-2 border-t border-rule pt-2">
          <Select
            aria-label="Add a channel"
            className="!w-48"
            value=""
            options={[['', '+ channel'], ...free.map((c): [string, string] => [c, channels[c].label])]}
            onChange={(event) => {
              const channel = event.target.value as Channel
              if (!channel) return
              const keys: Key[] = [
                { span: 'in', at: 0, value: away[channel], ease: easePresets.find((p) => p.id === 'moor')!.ease },
                { span: 'in', at: template.spans.in, value: channels[channel].rest, ease: 'linear' },
              ]
              putTrack(channel, { ...newTrack[channel], keys } as Track)
            }}
          />
        </div>
      )}
    </div>
  )
}

function KeyRows({
  template,
  out,
  keys,
  onKeys,
  step,
}: {
  template: Template
  out: Motion['out']
  keys: Key[]
  onKeys: (keys: Key[]) => void
  step: number
}) {
  const { spans } = template
  const longest = { in: spans.in, hold: spans.hold.frames, out: spans.out }
  const put = (i: number, key: Key) => onKeys(sortedKeys(keys.map((k, n) => (n === i ? key : k))))
  return (
    <table className="w-full">
      <tbody>
        {keys.map((key, i) => (
          <tr key={i}>
            <td className="w-20 py-0.5">
              <Select
                aria-label="Span"
                className="!h-6 text-xs"
                value={key.span}
                options={[
                  ['in', 'In'],
                  ...(spans.hold.gives === 'freeze' ? [] : [['hold', 'Hold'] as const]),
                  ...(out === 'own' ? [['out', 'Out'] as const] : []),
                ]}
                onChange={(event) => put(i, { ...key, span: event.target.value as Key['span'], at: 0 })}
              />
            </td>
            <td className="w-16 px-1">
              <NumberInput
                aria-label="Frame"
                title="Frame in its span"
                className="!h-6"
                value={key.at}
                min={0}
                max={longest[key.span]}
                onValue={(at) => put(i, { ...key, at: Math.round(at) })}
              />
            </td>
            <td className="w-20">
              <NumberInput
                aria-label="Value"
                title="Value"
                className="!h-6"
                step={step}
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
              <Button
                small
                aria-label="Remove this key"
                disabled={keys.length < 2}
                onClick={() => onKeys(keys.filter((_, n) => n !== i))}
              >
                ✕
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function UnitsEditor({ units, onUnits }: { units: Units; onUnits: (units: Units | undefined) => void }) {
  return (
    <fieldset className="mt-2 border-t border-rule pt-1.5">
      <legend className="float-left font-medium">One after another</legend>
      <div className="flex justify-end">
        <Button small onClick={() => onUnits(undefined)}>
          Remove
        </Button>
      </div>
      <Line label="By">
        {(id) => (
          <Select
            id={id}
            value={units.by}
            options={['character', 'word', 'line'].map((s) => [s, s])}
            onChange={(event) => onUnits({ ...units, by: event.target.value as Units['by'] })}
          />
        )}
      </Line>
      <Line label="Order">
        {(id) => (
          <Select
            id={id}
            value={units.order}
            options={[
              ['forward', 'forward'],
              ['backward', 'backward'],
              ['middle', 'from the middle'],
              ['random', 'random'],
            ]}
            onChange={(event) => onUnits({ ...units, order: event.target.value as Units['order'] })}
          />
        )}
      </Line>
      <Line label="Overlap, %">
        {(id) => (
          <NumberInput
            id={id}
            min={0}
            max={100}
            value={units.overlap * 100}
            onValue={(v) => onUnits({ ...units, overlap: v / 100 })}
          />
        )}
      </Line>
    </fieldset>
  )
}
