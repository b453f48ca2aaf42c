import { address, type Made as MadeFacts, type OutputDetail, type RenderedTitle } from '@hoja/core/api'
import { outputFormats } from '@hoja/core/output'
import { secondsOf } from '@hoja/core/time'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../api.ts'
import { counted } from '../ui/counted.ts'
import { sizeWords } from '../ui/words.ts'
import { FrameByFrame, fileWord } from './FrameByFrame.tsx'
import { Over, seen } from './Over.tsx'

/** The file itself, not a preview: played where the browser can, else frame by frame as the server decodes it. */
export function Made({ output, title }: { output: OutputDetail; title: RenderedTitle }) {
  const { format } = output.settings
  const facts = outputFormats[format]
  const made = useQuery({
    queryKey: ['made', output.id, title.row, title.result],
    queryFn: () => api.made({ id: output.id, row: title.row }),
  })
  const at = { id: output.id, row: title.row }
  const plays = format === 'webm' || format === 'mp4'
  const shown = plays || ['gif', 'apng', 'webp', 'still', 'still-webp', 'svg'].includes(format)
  const isFramed = !shown || output.settings.pieces === true
  const [broken, setBroken] = useState(false)
  const onError = () => setBroken(true)
  const files = made.data?.files ?? []
  return (
    <figure className="shrink-0">
      {isFramed && made.data && <FrameByFrame at={at} name={title.name} {...made.data} clear={format !== 'pair'} />}
      {!isFramed && !broken && (
        <Over clear={facts.alpha !== 'none'}>
          {plays ? (
            <video
              src={address.madeFile({ ...at, file: 0 })}
              className={seen}
              autoPlay
              loop
              muted
              controls
              onError={onError}
            />
          ) : (
            <img src={address.madeFile({ ...at, file: 0 })} alt={title.name} className={seen} onError={onError} />
          )}
        </Over>
      )}
      <figcaption className="mt-1">
        <span className="break-words">{title.file}</span>
        {made.data && <span className="block text-soft">{madeWords(made.data, facts.still)}</span>}
        {broken && <span className="block text-soft">This browser can't show it; fetch the file.</span>}
        {made.error && <span className="block text-stop">{made.error.message}</span>}
      </figcaption>
      {files
        .filter(({ isSequence }) => !isSequence)
        .map(({ suffix }, i) => (
          <a
            key={suffix}
            href={address.madeFile({ ...at, file: i, download: '' })}
            className="mt-1 mr-3 inline-block font-medium text-leaf hover:underline"
          >
            Download {files.length > 1 ? fileWord(suffix) : 'the file'}
          </a>
        ))}
    </figure>
  )
}

function madeWords({ frames, rate, files }: MadeFacts, still: boolean): string {
  const size = sizeWords(files.reduce((sum, { bytes }) => sum + bytes, 0))
  return still ? size : `${counted(frames, 'frame')}, ${secondsOf(frames, rate).toFixed(2)} s, ${size}`
}
