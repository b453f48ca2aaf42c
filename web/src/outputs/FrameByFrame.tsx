import { address, type Made } from '@hoja/core/api'
import { type Rate, secondsOf } from '@hoja/core/time'
import { useState } from 'react'
import { Choice } from '../ui/Choice.tsx'
import { Over, seen } from './Over.tsx'

/** One of several files of a title, in a word: `_fill.mov` is the fill. */
export const fileWord = (suffix: string) => suffix.replace(/^_|\.\w+$/g, '')

/** A movie or sequence frame by frame, each read from the file. The next is asked for when the one before is there. */
export function FrameByFrame({
  at,
  name,
  rate,
  files,
  clear,
}: {
  /** The output and the row that it was made of. */
  at: { id: number; row: number }
  name: string
  rate: Rate
  files: Made['files']
  /** Whether it has alpha. */
  clear: boolean
}) {
  const [wanted, setWanted] = useState({ frame: Math.floor((files[0]?.frames ?? 1) / 2), file: 0 })
  const [asked, setAsked] = useState(wanted)
  const [isThere, setIsThere] = useState(false)
  const [broken, setBroken] = useState<typeof wanted>()
  if (isThere && asked !== wanted) {
    setAsked(wanted)
    setIsThere(false)
  }
  const frames = files[wanted.file]?.frames ?? 1
  const where = `${wanted.frame}, ${secondsOf(wanted.frame, rate).toFixed(2)} s`
  return (
    <>
      {broken === asked ? (
        <p className="border border-rule bg-white px-3 py-6 text-soft">
          Frame {asked.frame} can't be shown; fetch the file to look at it.
        </p>
      ) : (
        <Over clear={clear}>
          <img
            src={address.madeFrame({ ...at, frame: String(asked.frame), file: asked.file })}
            alt={`Frame ${asked.frame} of ${name}`}
            className={seen}
            onLoad={() => setIsThere(true)}
            onError={() => {
              setBroken(asked)
              setIsThere(true)
            }}
          />
        </Over>
      )}
      <div className="mt-1.5 flex items-center gap-2 text-xs">
        <span className="w-12 text-soft">Frame</span>
        <input
          type="range"
          className="min-w-0 flex-1 accent-leaf"
          min={0}
          max={frames - 1}
          value={wanted.frame}
          aria-label="Frame"
          aria-valuetext={where}
          onChange={(event) => setWanted({ ...wanted, frame: Number(event.target.value) })}
        />
        <span className="w-20 text-right tabular-nums">{where}</span>
      </div>
      {files.length > 1 && (
        <div className="mt-1.5">
          <Choice
            label="File"
            value={String(wanted.file)}
            options={files.map(({ suffix }, i): [string, string] => [String(i), fileWord(suffix)])}
            onValue={(one) => {
              const file = Number(one)
              setWanted({ file, frame: Math.min(wanted.frame, (files[file]?.frames ?? 1) - 1) })
            }}
          />
        </div>
      )}
    </>
  )
}
