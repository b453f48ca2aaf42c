import { described, type Frame, firstShape, reframe, type Template } from '@hoja/core/template'
import { useState } from 'react'
import { useDraft } from '../session/draft.ts'
import { Button, Checkbox, Line, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { RateInput, SizeInput } from '../ui/FrameInputs.tsx'
import { LanguageInput } from '../ui/LanguageInput.tsx'
import { NumberInput } from '../ui/NumberInput.tsx'

/** Name, frame size, rate and safe areas of the template, changed at any time; ties keep their meaning. */
export function FrameDialog({ template, onClose }: { template: Template; onClose: () => void }) {
  const { attempt } = useDraft.getState()
  const [name, setName] = useState(template.name)
  const [note, setNote] = useState(template.note)
  const [language, setLanguage] = useState(template.language ?? '')
  const [frame, setFrame] = useState<Frame>(template.frame)
  const [scale, setScale] = useState(true)
  // Time is the same in every shape, and set in the first.
  const shape = useDraft((draft) => draft.shape)
  const sized = frame.width !== template.frame.width || frame.height !== template.frame.height
  const timed = frame.rate.num * template.frame.rate.den !== template.frame.rate.num * frame.rate.den
  const put = () => {
    const done = attempt(
      (now) => ({
        kind: 'several',
        changes: [{ kind: 'info', name: name.trim() || now.name, note, language }, reframe(now, frame, scale && sized)],
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
          <Button variant="primary" onClick={put}>
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
      <Line label="Language" note="Capitals, digits, quotation marks and letter shapes of its texts go by it.">
        {(id) => <LanguageInput id={id} value={language} onValue={setLanguage} />}
      </Line>
      <Line label="Frame size">
        {(id) => <SizeInput id={id} value={frame} onValue={(size) => setFrame({ ...frame, ...size })} />}
      </Line>
      {shape === firstShape && (
        <Line label="Frames a second">
          {(id) => <RateInput id={id} value={frame.rate} onValue={(rate) => setFrame({ ...frame, rate })} />}
        </Line>
      )}
      <Line label="Safe areas, %" note="Action and title, from each edge; SMPTE ST 2046-1 has 3.5 and 5.">
        {(id) => (
          <span className="flex gap-1.5">
            <NumberInput
              id={id}
              aria-label="Action-safe, % from each edge"
              bounds={described.safe}
              percent
              value={frame.safe.action}
              onValue={(v) => setFrame({ ...frame, safe: { ...frame.safe, action: v } })}
            />
            <NumberInput
              aria-label="Title-safe, % from each edge"
              bounds={described.safe}
              percent
              value={frame.safe.title}
              onValue={(v) => setFrame({ ...frame, safe: { ...frame.safe, title: v } })}
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
