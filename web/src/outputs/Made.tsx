import { outputFormats } from '@hoja/core/output'
import { useState } from 'react'
import { Backdrop } from '../preview/Backdrop.tsx'
import type { OutputDetail, Unit } from '../ui/api.ts'

/** The file itself, not a preview, where the browser can show it: a frame of the sequence, a picture, a movie. */
export function Made({ output, unit }: { output: OutputDetail; unit: Unit }) {
  const [broken, setBroken] = useState<string>()
  const { format } = output.settings
  const facts = outputFormats[format]
  const at = `/api/outputs/${output.id}/rows/${unit.row}`
  const source = format === 'png' ? `${at}/frames/middle` : `${at}/files/0`
  const isMovie = format === 'webm' || format === 'mp4'
  const isPicture = ['png', 'still', 'svg', 'apng', 'gif'].includes(format)
  const look = 'absolute inset-0 size-full object-contain'
  return (
    <figure className="shrink-0">
      {(isMovie || isPicture) && broken !== source && (
        <div className="relative aspect-video overflow-hidden border border-rule bg-[#7a7a77]">
          {facts.alpha !== 'none' && <Backdrop />}
          {isMovie ? (
            <video src={source} className={look} autoPlay loop muted controls onError={() => setBroken(source)} />
          ) : (
            <img
              src={source}
              alt={format === 'png' ? `The middle frame of ${unit.name}` : unit.name}
              className={look}
              onError={() => setBroken(source)}
            />
          )}
        </div>
      )}
      <figcaption className="mt-1 text-soft">
        {unit.file}
        {format === 'png' && ', its middle frame'}
        {!isMovie && !isPicture && <span className="block">Browsers can't play {facts.name}; fetch the file.</span>}
        {broken === source && <span className="block">This browser can't show it; fetch the file.</span>}
      </figcaption>
      {facts.endings.map((ending, i) => (
        <a
          key={ending}
          href={`${at}/files/${i}?download`}
          className="mt-1 mr-3 inline-block font-medium text-leaf hover:underline"
        >
          Download {facts.endings.length > 1 ? ending.replace(/^_|\.mov$/g, '') : 'the file'}
        </a>
      ))}
    </figure>
  )
}
