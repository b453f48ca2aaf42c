import { type Frame, reframe, type Template } from '@hoja/core/template'
import { useState } from 'react'
import { useDraft } from '../session/draft.ts'
import { Button, Checkbox, Line, NumberInput, Select, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'

const sizes: [string, number, number][] = [
  ['HD, 1920 × 1080', 1920, 1080],
  ['UHD, 3840 × 2160', 3840, 2160],
  ['HD 720, 1280 × 720', 1280, 720],
  ['upright, 1080 × 1920', 1080, 1920],
  ['square, 1080 × 1080', 1080, 1080],
  ['4:3, 1440 × 1080', 1440, 1080],
]
const rates: [string, number, number][] = [
  ['23.976', 24000, 1001],
  ['24', 24, 1],
  ['25', 25, 1],
  ['29.97', 30000, 1001],
  ['30', 30, 1],
  ['50', 50, 1],
  ['59.94', 60000, 1001],
  ['60', 60, 1],
]

/** Name, frame size, rate and safe areas of the template, changed at any time; ties keep their meaning. */
export function FrameDialog({ template, onClose }: { template: Template; onClose: () => void }) {
  const { attempt } = useDraft()
  const [name, setName] = useState(template.name)
  const [note, setNote] = useState(template.note)
  const [frame, setFrame] = useState<Frame>(template.frame)
  const [scale, setScale] = useState(true)
  const known = sizes.findIndex(([, w, h]) => w === frame.width && h === frame.height)
  const rate = rates.findIndex(([, num, den]) => num === frame.rate.num && den === frame.rate.den)
  const sized = frame.width !== template.frame.width || frame.height !== template.frame.height
  const timed = frame.rate.num * template.frame.rate.den !== template.frame.rate.num * frame.rate.den
  const put = () => {
    const done = attempt(
      (now) => ({
        kind: 'several',
        changes: [{ kind: 'info', name: name.trim() || now.name, note }, reframe(now, frame, scale && sized)],
      }),
      'the frame',
    )
    if (done) onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Template and frame"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button look="primary" onClick={put}>
            Change it
          </Button>
        </>
      }
    >
      <Line label="Name">
        {(id) => <TextInput id={id} value={name} onChange={(event) => setName(event.target.value)} />}
      </Line>
      <Line label="What it is for">
        {(id) => <TextInput id={id} value={note} onChange={(event) => setNote(event.target.value)} />}
      </Line>
      <Line label="Frame size">
        {(id) => (
          <Select
            id={id}
            value={String(known)}
            options={[
              ...sizes.map(([label], i): [string, string] => [String(i), label]),
              ...(known < 0 ? [['-1', 'another'] as [string, string]] : []),
            ]}
            onChange={(event) => {
              const size = sizes[Number(event.target.value)]
              if (size) setFrame({ ...frame, width: size[1], height: size[2] })
            }}
          />
        )}
      </Line>
      <Line label="px">
        {(id) => (
          <span className="flex items-center gap-1.5">
            <NumberInput
              id={id}
              min={16}
              max={8192}
              value={frame.width}
              onValue={(v) => setFrame({ ...frame, width: Math.round(v) })}
            />
            ×
            <NumberInput
              aria-label="Frame height, px"
              min={16}
              max={8192}
              value={frame.height}
              onValue={(v) => setFrame({ ...frame, height: Math.round(v) })}
            />
          </span>
        )}
      </Line>
      <Line label="Frames a second">
        {(id) => (
          <Select
            id={id}
            value={String(rate)}
            options={[
              ...rates.map(([label], i): [string, string] => [String(i), label]),
              ...(rate < 0 ? [['-1', `${frame.rate.num}/${frame.rate.den}`] as [string, string]] : []),
            ]}
            onChange={(event) => {
              const one = rates[Number(event.target.value)]
              if (one) setFrame({ ...frame, rate: { num: one[1], den: one[2] } })
            }}
          />
        )}
      </Line>
      <Line label="Safe areas, %" note="Action and title, from each edge; SMPTE ST 2046-1 has 3.5 and 5.">
        {(id) => (
          <span className="flex gap-1.5">
            <NumberInput
              id={id}
              aria-label="Action-safe, % from each edge"
              min={0}
              max={40}
              step={0.5}
              value={frame.safe.action * 100}
              onValue={(v) => setFrame({ ...frame, safe: { ...frame.safe, action: v / 100 } })}
            />
            <NumberInput
              aria-label="Title-safe, % from each edge"
              min={0}
              max={40}
              step={0.5}
              value={frame.safe.title * 100}
              onValue={(v) => setFrame({ ...frame, safe: { ...frame.safe, title: v / 100 } })}
            />
          </span>
        )}
      </Line>
      {sized && (
        <label className="flex items-center gap-2 py-1">
          <Checkbox checked={scale} onValue={setScale} />
          Sizes, gaps and strokes grow with the frame
        </label>
      )}
      {(sized || timed) && (
        <p className="pt-1 text-soft">
          {sized && 'What holds to the frame, a safe area or another part still does. '}
          {timed && 'In, Hold, Out and every key keep their seconds.'}
        </p>
      )}
    </Dialog>
  )
}
