import type { Link } from '@hoja/core/formats'
import { followSeconds } from '@hoja/core/limits'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../api.ts'
import { Choice } from '../ui/Choice.tsx'
import { Button, classes, Line, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { NumberInput } from '../ui/NumberInput.tsx'
import { day, sizeWords } from '../ui/words.ts'

/** The stand-ins that ship with Hoja, to try following with. */
const standIns: [path: string, name: string][] = [
  ['/stand-ins/tide-gauge.json', 'Tide gauge (simulated): JSON, every 3 s'],
  ['/stand-ins/notices.rss', 'Notices (simulated): RSS 2.0, every 10 s'],
  ['/stand-ins/notices.atom', 'Notices (simulated): Atom, every 10 s'],
]

/** Chooses a file or a feed whose rows a sheet follows from now on. */
export function FollowDialog({ onLink, onClose }: { onLink: (link: Link) => void; onClose: () => void }) {
  const [kind, setKind] = useState<'file' | 'feed'>('file')
  const files = useQuery({ queryKey: ['followable'], queryFn: () => api.followable(), gcTime: 0 })
  const [chosen, setChosen] = useState('')
  const [url, setUrl] = useState('')
  const [every, setEvery] = useState(5)
  const file = files.data?.find(({ root, path }) => `${root}/${path}` === chosen)
  const link: Link | undefined =
    kind === 'file'
      ? file && { kind, root: file.root, path: file.path, options: {} }
      : url.trim()
        ? { kind, url: url.trim(), every, options: {} }
        : undefined
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Follow a file or a feed"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={!link} onClick={() => link && onLink(link)}>
            Look at it
          </Button>
        </>
      }
    >
      <div className="flex items-center gap-3 pb-2">
        <Choice
          label="What to follow"
          value={kind}
          options={[
            ['file', 'A file on the server'],
            ['feed', 'A feed'],
          ]}
          onValue={setKind}
        />
        <span className="text-soft">When it changes, the rows do.</span>
      </div>
      {kind === 'file' ? (
        files.data?.length === 0 ? (
          <p className="py-2 text-soft">
            No data file lies in the folders that may be followed. Put one there, or start Hoja with --root NAME=FOLDER.
          </p>
        ) : (
          <ul aria-label="Files" className="max-h-72 overflow-auto border border-rule">
            {files.data?.map(({ root, path, size, changed }) => {
              const id = `${root}/${path}`
              return (
                <li key={id} className="border-b border-rule last:border-0">
                  <button
                    type="button"
                    aria-pressed={chosen === id}
                    className={classes(
                      'flex w-full gap-3 px-2 py-1 text-left',
                      chosen === id ? 'bg-leaf-pale' : 'hover:bg-chalk',
                    )}
                    onClick={() => setChosen(id)}
                  >
                    <span className="flex-1 truncate font-medium">{id}</span>
                    <span className="text-soft">{sizeWords(size)}</span>
                    <span className="w-28 text-right text-soft">{day(changed)}</span>
                  </button>
                </li>
              )
            })}
          </ul>
        )
      ) : (
        <>
          <Line label="Address" note="JSON, CSV, RSS 2.0 or Atom, of a host that Hoja was started with">
            {(id) => (
              <TextInput
                id={id}
                value={url}
                placeholder="http://127.0.0.1/rows.json"
                onChange={(event) => setUrl(event.target.value)}
              />
            )}
          </Line>
          <Line label="Looked at every">
            {(id) => (
              <span className="flex items-center gap-2">
                <NumberInput id={id} className="!w-20" bounds={followSeconds} value={every} onValue={setEvery} /> s
              </span>
            )}
          </Line>
          <p className="pt-2 text-xs text-soft">To try it with:</p>
          <ul>
            {standIns.map(([path, name]) => (
              <li key={path}>
                <button
                  type="button"
                  className="py-0.5 text-leaf hover:underline"
                  onClick={() => {
                    setUrl(`${location.origin}${path}`)
                    setEvery(1)
                  }}
                >
                  {name}
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </Dialog>
  )
}
