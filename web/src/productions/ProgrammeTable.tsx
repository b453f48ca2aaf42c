import type { Production } from '@hoja/core/api'
import { commonRates, type Rate, rateText, secondsOf } from '@hoja/core/time'
import { useQuery } from '@tanstack/react-query'
import { Ellipsis } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api } from '../api.ts'
import { Button, Line, TextInput } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import { RateInput, SizeInput } from '../ui/FrameInputs.tsx'
import { Menu } from '../ui/Menu.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { day } from '../ui/words.ts'

/** The programmes of a production. */
export function ProgrammeTable({ production }: { production: Production }) {
  const programmes = useQuery({ queryKey: ['programmes'], queryFn: () => api.programmes() })
  const [making, setMaking] = useState(false)
  const remove = useWrite((id: number) => api.removeProgramme({ id }), { changes: [['programmes'], ['outputs']] })
  const own = programmes.data?.filter((programme) => programme.production === production.id) ?? []
  return (
    <section aria-label="Programmes" className="mb-6">
      <h2 className="mb-1.5 flex items-center gap-3 font-semibold">
        Programmes
        <Button small onClick={() => setMaking(true)}>
          New programme
        </Button>
      </h2>
      {own.length === 0 && programmes.data && (
        <p className="text-soft">None yet: a programme lays titles on the timeline of its footage.</p>
      )}
      <ul className="max-w-3xl">
        {own.map(({ id, name, titles, frames, rate, changed }) => (
          <li key={id} className="flex items-center gap-3 border-b border-rule py-1">
            <Link to={`/programmes/${id}`} className="w-72 truncate font-medium text-leaf hover:underline">
              {name}
            </Link>
            <span className="w-24">{counted(titles, 'title')}</span>
            <span className="w-28 text-soft">{lengthOf(frames, rate)}</span>
            <span className="flex-1 text-soft">{day(changed)}</span>
            <Menu
              label={`More for ${name}`}
              align="end"
              entries={() => [
                {
                  label: 'Remove …',
                  onSelect: () =>
                    window.confirm(`Remove the programme "${name}" and what was rendered of it?`) && remove.mutate(id),
                },
              ]}
            >
              <Ellipsis size={14} aria-hidden="true" />
            </Menu>
          </li>
        ))}
      </ul>
      {making && <NewProgramme production={production} onClose={() => setMaking(false)} />}
    </section>
  )
}

/** Minutes and seconds. */
function lengthOf(frames: number, rate: Rate): string {
  const seconds = Math.round(secondsOf(frames, rate))
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')} min`
}

function NewProgramme({ production, onClose }: { production: Production; onClose: () => void }) {
  const navigate = useNavigate()
  const [name, setName] = useState('')
  const [size, setSize] = useState({ width: 1920, height: 1080 })
  const [rate, setRate] = useState(commonRates.find(({ name: own }) => own === '25')!.rate)
  const [start, setStart] = useState('10:00:00:00')
  const [refused, setRefused] = useState('')
  const make = useWrite(
    () => api.newProgramme({ name: name.trim(), production: production.id, ...size, rate: rateText(rate), start }),
    {
      changes: [['programmes']],
      onDone: ({ id }) => navigate(`/programmes/${id}`),
      onRefused: (error) => setRefused(error.message),
    },
  )
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="New programme"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={!name.trim() || make.isPending} onClick={() => make.mutate(undefined)}>
            Begin it
          </Button>
        </>
      }
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (name.trim()) make.mutate(undefined)
        }}
      >
        <Line label="Name">
          {(id) => <TextInput id={id} autoFocus value={name} onChange={(event) => setName(event.target.value)} />}
        </Line>
        <Line label="Picture">{(id) => <SizeInput id={id} value={size} onValue={setSize} />}</Line>
        <Line label="Frames per second">{(id) => <RateInput id={id} value={rate} onValue={setRate} />}</Line>
        <Line label="Begins at" note="timecode of its first frame; a semicolon before the frames drops numbers">
          {(id) => <TextInput id={id} value={start} onChange={(event) => setStart(event.target.value)} />}
        </Line>
        {refused && (
          <p className="pt-1 text-stop" role="alert">
            {refused}
          </p>
        )}
        <button type="submit" hidden />
      </form>
    </Dialog>
  )
}
