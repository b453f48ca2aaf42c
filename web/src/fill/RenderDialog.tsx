import type { Template } from '@hoja/core/template'
import { secondsOf } from '@hoja/core/time'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { type ApiError, api, type SheetDetail } from '../ui/api.ts'
import { Button, Line, NumberInput, Select, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'

/** The render order: format, length, names. */
export function RenderDialog({
  sheet,
  template,
  rows,
  stopped,
  onClose,
}: {
  sheet: SheetDetail
  template: Template
  rows: number
  stopped: number
  onClose: () => void
}) {
  const formats = useQuery({ queryKey: ['formats'], queryFn: api.formats })
  const [format, setFormat] = useState('png')
  const designed = template.spans.in + template.spans.hold.frames + template.spans.out
  const [frames, setFrames] = useState(designed)
  const [pattern, setPattern] = useState('{row:000}_{name}')
  const [busy, setBusy] = useState(false)
  const navigate = useNavigate()
  const chosen = formats.data?.find((f) => f.format === format)
  const least = Math.max(1, template.spans.in + template.spans.out)
  const order = async () => {
    setBusy(true)
    try {
      const output = await api.render(sheet.id, { format, pattern, ...(frames === designed ? {} : { frames }) })
      navigate(`/t/${sheet.template}/outputs/${output.id}`)
    } catch (error) {
      toast.error((error as ApiError).message)
      setBusy(false)
    }
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={`Render ${sheet.name}`}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button look="primary" disabled={busy || (chosen && !chosen.ready)} onClick={order}>
            {busy ? 'Ordering …' : `Render ${rows - stopped} rows`}
          </Button>
        </>
      }
    >
      {stopped > 0 && (
        <p className="mb-2 text-stop">
          {stopped} {stopped === 1 ? 'row has' : 'rows have'} a <b>stop</b> and will be held, each with its reason.
        </p>
      )}
      <Line label="Format" note={chosen && (chosen.ready ? chosen.note : 'Needs ffmpeg, which is not installed here.')}>
        {(id) => (
          <Select
            id={id}
            value={format}
            options={(formats.data ?? [{ format: 'png' }]).map((f) => [f.format, f.format])}
            onChange={(event) => setFormat(event.target.value)}
          />
        )}
      </Line>
      <Line
        label="Frames each"
        note={`${secondsOf(frames, template.frame.rate).toFixed(2)} s; Hold gives, In and Out stay. At least ${least}.`}
      >
        {(id) => <NumberInput id={id} min={least} value={frames} onValue={(n) => setFrames(Math.round(n))} />}
      </Line>
      <Line label="File names" note={`{row:000} and {${template.fields[0]?.key ?? 'name'}} are filled in.`}>
        {(id) => <TextInput id={id} value={pattern} onChange={(event) => setPattern(event.target.value)} />}
      </Line>
    </Dialog>
  )
}
