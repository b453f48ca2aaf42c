import { type Rate, secondsOf } from '@hoja/core/time'
import { useState } from 'react'
import { Choice } from '../ui/Choice.tsx'
import { Over, seen } from './Over.tsx'

/** A movie or sequence frame by frame, each read from the file. The next is asked for when the one before is there. */
export function FrameByFrame({
  at,
  name,
  frames,
  rate,
  files,
  clear,
}: {
  /** Address of the title. */
  at: string
  name: string
  frames: number
  rate: Rate
  /** What its files are, where it has several. */
  files: readonly string[]
  /** Whether it has alpha. */
  clear: boolean
}) {
  const [wanted, setWanted] = useState({ frame: Math.floor(frames / 2), file: 0 })
  const [asked, setAsked] = useState(wanted)
  const [isThere, setIsThere] = useState(false)
  const [broken, setBroken] = useState<typeof wanted>()
  if (isThere && asked !== wanted) {
    setAsked(wanted)
    setIsThere(false)
  }
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
            src={`${at}/frames/${asked.frame}?file=${asked.file}`}
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
            options={files.map((word, i): [string, string] => [String(i), word])}
            onValue={(one) => setWanted({ ...wanted, file: Number(one) })}
          />
        </div>
      )}
    </>
  )
}
