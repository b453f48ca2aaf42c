import { commonRates, rateText } from '@hoja/core/time'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api } from '../api.ts'
import { Button, Line, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { RateInput, SizeInput } from '../ui/FrameInputs.tsx'
import { useWrite } from '../ui/useWrite.ts'

/** A title as it stands in an address. */
const slugOf = (title: string): string =>
  title
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60)

export function NewChannel({ production, onClose }: { production: number | null; onClose: () => void }) {
  const navigate = useNavigate()
  const [title, setTitle] = useState('')
  const [size, setSize] = useState({ width: 1920, height: 1080 })
  const [rate, setRate] = useState(commonRates.find(({ name }) => name === '50')!.rate)
  const [layers, setLayers] = useState('Titles')
  const [refused, setRefused] = useState('')
  const name = slugOf(title)
  const named = layers
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean)
  const make = useWrite(
    () =>
      api.newChannel({
        name,
        title: title.trim(),
        ...(production === null ? {} : { production }),
        ...size,
        rate: rateText(rate),
        layers: named,
      }),
    {
      changes: [['channels']],
      onDone: (made) => {
        onClose()
        navigate(`/air/${made.name}`)
      },
      onRefused: (error) => setRefused(error.message),
    },
  )
  const isReady = name !== '' && named.length > 0 && !make.isPending
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="New channel"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={!isReady} onClick={() => make.mutate(undefined)}>
            Make it
          </Button>
        </>
      }
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (isReady) make.mutate(undefined)
        }}
      >
        <Line label="Name" note={name ? `its page will be /out/${name}` : 'as the people at the desk call it'}>
          {(id) => <TextInput id={id} autoFocus value={title} onChange={(event) => setTitle(event.target.value)} />}
        </Line>
        <Line label="Picture">{(id) => <SizeInput id={id} value={size} onValue={setSize} />}</Line>
        <Line label="Frames per second">{(id) => <RateInput id={id} value={rate} onValue={setRate} />}</Line>
        <Line label="Layers" note="from the lowest up, with commas; on each one title is up at a time">
          {(id) => <TextInput id={id} value={layers} onChange={(event) => setLayers(event.target.value)} />}
        </Line>
        {refused && (
          <p role="alert" className="pt-1 text-stop">
            {refused}
          </p>
        )}
        <button type="submit" hidden />
      </form>
    </Dialog>
  )
}
