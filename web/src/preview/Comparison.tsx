import type { Template, Values } from '@hoja/core/template'
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { counted } from '../ui/counted.ts'
import { Backdrop } from './Backdrop.tsx'
import type { Compared, Question } from './compareWorker.ts'
import { TicketedWorker } from './TicketedWorker.ts'

/** A filling to compare: what each side is given. */
export interface ComparedFilling {
  name: string
  before: Values
  after: Values
}

const width = 288

/** Proofs drawn by two states of a template, those that differ first, with what changed marked. */
export function Comparison({
  before,
  after,
  fillings,
  words = ['before', 'after'],
  noun = 'proof',
}: {
  before: Template
  after: Template
  fillings: ComparedFilling[]
  words?: [string, string]
  /** What a filling is: a proof, a row. */
  noun?: string
}) {
  const [results, setResults] = useState<(Compared | undefined)[]>([])
  const [broken, setBroken] = useState<string>()
  const asked = useMemo(() => JSON.stringify(fillings), [fillings])
  useEffect(() => {
    let over = false
    const list = JSON.parse(asked) as ComparedFilling[]
    const worker = new TicketedWorker<Question, Compared>(
      new Worker(new URL('./compareWorker.ts', import.meta.url), { type: 'module' }),
    )
    worker.onBroken = setBroken
    setResults([])
    worker.tell({ kind: 'open', before, after })
    const ratio = Math.min(2, devicePixelRatio || 1)
    void (async () => {
      for (const [i, filling] of list.entries()) {
        const result = await worker.ask({
          kind: 'compare',
          before: filling.before,
          after: filling.after,
          width: Math.round(width * ratio),
        } as Question)
        if (over) return
        setResults((known) => Object.assign([...known], { [i]: result }))
      }
    })()
    return () => {
      over = true
      worker.close()
    }
  }, [before, after, asked])
  const done = results.filter(Boolean).length
  const changed = fillings.flatMap((filling, i) => {
    const result = results[i]
    return result && result.frames > 0 ? [{ filling, result }] : []
  })
  const order = [...changed].sort((a, b) => b.result.pixels - a.result.pixels)
  const same = done - changed.length
  return (
    <div>
      <p role="status" className="pb-1.5 text-soft">
        {broken
          ? `The ${noun}s could not be compared: ${broken}`
          : done < fillings.length
            ? `Comparing ${noun} ${done + 1} of ${fillings.length} …`
            : changed.length === 0
              ? `All ${done} ${noun}s look the same, frame for frame.`
              : `${changed.length} of ${done} ${noun}s ${changed.length === 1 ? 'changes' : 'change'}${same > 0 ? `; ${same} look the same` : ''}.`}
      </p>
      {order.length > 0 && (
        <div className="grid grid-cols-3 gap-x-2 pb-1 text-xs text-soft" aria-hidden="true">
          <span>{words[0]}</span>
          <span>{words[1]}</span>
          <span>what changed</span>
        </div>
      )}
      <ul aria-label="What changes" className="flex flex-col gap-2.5">
        {order.map(({ filling, result }) => (
          <li key={filling.name}>
            <div className="grid grid-cols-3 gap-2">
              <Shot picture={result.before} label={`${filling.name}, ${words[0]}`} />
              <Shot picture={result.after} label={`${filling.name}, ${words[1]}`} />
              <Shot picture={result.marked} label={`${filling.name}, what changed`} plain />
            </div>
            <p className="pt-0.5 text-xs">
              <b className="font-semibold">{filling.name}</b>{' '}
              <span className="text-soft">
                {result.pixels === 0
                  ? 'rests the same'
                  : `${result.pixels.toLocaleString('en')} pixels of the settled frame`}
                , {result.frames} of {counted(result.total, 'frame')}
              </span>
            </p>
          </li>
        ))}
      </ul>
    </div>
  )
}

function Shot({ picture, label, plain }: { picture: ImageBitmap; label: string; plain?: boolean }) {
  const ref = useRef<HTMLCanvasElement>(null)
  useLayoutEffect(() => {
    const canvas = ref.current!
    Object.assign(canvas, { width: picture.width, height: picture.height })
    canvas.getContext('2d')!.drawImage(picture, 0, 0)
  }, [picture])
  return (
    <div className="relative overflow-hidden bg-white" style={{ aspectRatio: picture.width / picture.height }}>
      {!plain && <Backdrop />}
      <canvas ref={ref} role="img" aria-label={label} className="absolute inset-0 size-full" />
    </div>
  )
}
