import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Link, useParams } from 'react-router'
import { api } from '../api.ts'
import { Button, Checkbox, classes } from '../ui/controls.tsx'
import { Header } from '../ui/Header.tsx'
import { useSize } from '../ui/useSize.ts'
import { Footage } from './AirPicture.tsx'

const cameras = ['River mouth', 'Saltworks', 'Ferry', 'Marsh at dusk']

/** A mixer that is not there: footage, and over it the real output pages, as any mixer with a browser takes them. */
export default function Mixer() {
  const { channel } = useParams()
  const channels = useQuery({ queryKey: ['channels'], queryFn: () => api.channels() })
  const [programme, setProgramme] = useState(0)
  const [preview, setPreview] = useState(1)
  /** Channels that somebody took off its picture; all others lie over it. */
  const [off, setOff] = useState<ReadonlySet<string>>(new Set())
  const [box, { width }] = useSize<HTMLDivElement>()
  const wide = Math.max(240, Math.floor((width - 16) / 2))
  const cut = () => {
    setProgramme(preview)
    setPreview(programme)
  }
  useHotkeys('space', cut, [preview, programme], { preventDefault: true })
  const shown = channels.data?.filter(({ name }) => !off.has(name)) ?? []
  return (
    <div className="flex h-full flex-col">
      <Header here="Mixer" shortcuts={[['Space', 'cut: the preview becomes the programme']]}>
        <Link to={channel ? `/air/${channel}` : '/air'} className="text-leaf hover:underline">
          Back to On air
        </Link>
      </Header>
      <div className="min-h-0 flex-1 overflow-auto p-4">
        <p className="pb-3 text-soft">
          A mixer to try channels with: the programme shows their output pages over footage, as a real one would. Its
          preview shows what their next titles would look like.
        </p>
        <div ref={box} className="grid grid-cols-2 gap-4">
          {(
            [
              ['Preview', preview, 'next'],
              ['Programme', programme, 'picture'],
            ] as const
          ).map(([label, shot, view]) => (
            <section key={label} aria-label={label}>
              <p className={classes('pb-1 font-semibold', label === 'Programme' ? 'text-madder' : 'text-leaf')}>
                {label}
              </p>
              <div
                className={classes(
                  'relative overflow-hidden bg-grey outline-2',
                  label === 'Programme' ? 'outline-madder' : 'outline-leaf',
                )}
                style={{ height: Math.round((wide * 9) / 16) }}
              >
                <Footage shot={shot} width={wide} height={Math.round((wide * 9) / 16)} />
                {shown.map((one) => (
                  <iframe
                    key={one.name}
                    title={`${label}: ${one.title}`}
                    src={`/out/${one.name}${view === 'next' ? '?view=next' : ''}`}
                    className="absolute top-0 left-0 origin-top-left border-0"
                    style={{ width: one.width, height: one.height, transform: `scale(${wide / one.width})` }}
                  />
                ))}
              </div>
            </section>
          ))}
        </div>
        <div className="flex items-center gap-6 pt-4">
          <fieldset className="flex items-center gap-1.5">
            <legend className="sr-only">Preview</legend>
            <span className="text-soft">Preview</span>
            {cameras.map((name, i) => (
              <Button
                key={name}
                aria-pressed={preview === i}
                className={classes(preview === i && '!border-leaf !text-leaf')}
                onClick={() => setPreview(i)}
              >
                {name}
              </Button>
            ))}
          </fieldset>
          <Button variant="primary" className="!h-10 !px-6" onClick={cut}>
            Cut
          </Button>
          <fieldset className="flex items-center gap-3">
            <legend className="sr-only">Channels</legend>
            <span className="text-soft">Over it</span>
            {channels.data?.map((one) => (
              <label key={one.name} className="flex items-center gap-1.5">
                <Checkbox
                  checked={!off.has(one.name)}
                  onValue={(on) => {
                    const next = new Set(off)
                    if (on) next.delete(one.name)
                    else next.add(one.name)
                    setOff(next)
                  }}
                />
                {one.title}
              </label>
            ))}
          </fieldset>
        </div>
      </div>
    </div>
  )
}
