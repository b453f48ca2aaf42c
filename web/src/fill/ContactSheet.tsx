import { type Finding, type Row, stateOfRow, worstOf } from '@hoja/core/data'
import { type Frame, firstShape, type ShapeId, shapeOf, type Template } from '@hoja/core/template'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Backdrop } from '../preview/Backdrop.tsx'
import type { SheetWorker } from '../preview/SheetWorker.ts'
import { Checkbox, classes } from '../ui/controls.tsx'
import { useSize } from '../ui/useSize.ts'
import type { Found } from './sheetSession.ts'
import { useRowAbout } from './useRowAbout.ts'

const rank = { stop: 0, look: 1, fine: 2, checked: 2 }
const plain = 'outline-1 outline-rule'
const outline = { stop: 'outline-2 outline-stop', look: 'outline-2 outline-look', fine: plain, checked: plain }
const word = { stop: 'text-stop', look: 'text-look', fine: 'text-leaf', checked: 'text-soft' }
const caption = 22
const gap = 10

/** Every row at its settled frame. Only what is in sight is drawn. */
export function ContactSheet({
  template,
  shape,
  rows: all,
  shown: order,
  findings,
  worker,
  chosen,
  onChoose,
}: {
  template: Template
  /** The shape of the frame that is looked at. */
  shape: ShapeId
  rows: readonly Row[]
  /** Indices of the rows that the grid shows, in its order. */
  shown: readonly number[]
  findings: Found
  worker: SheetWorker | undefined
  chosen: number
  onChoose: (row: number) => void
}) {
  const known = template.shapes?.some(({ id }) => id === shape) ? shape : firstShape
  const { frame } = shapeOf(template, known)
  const [ref, size] = useSize<HTMLDivElement>()
  const [top, setTop] = useState(0)
  const [isFlaggedFirst, setFlaggedFirst] = useState(true)
  const [wanted, setWanted] = useState(200)
  const shown = useMemo(() => {
    if (!isFlaggedFirst) return order
    const shelves: number[][] = [[], [], [], []]
    for (const i of order) {
      const own = findings[i]
      shelves[all[i]?.off ? 3 : own ? rank[stateOfRow(own)] : rank.fine]!.push(i)
    }
    return shelves.flat()
  }, [isFlaggedFirst, order, findings, all])
  const perLine = Math.max(1, Math.floor((size.width + gap) / (wanted + gap)))
  const width = Math.floor((size.width - gap * (perLine - 1)) / perLine)
  const height = Math.round(width * 0.36)
  const line = height + caption + gap
  const first = Math.max(0, Math.floor(top / line) - 1)
  const last = Math.ceil((top + size.height) / line) + 1
  return (
    <section className="flex min-h-0 flex-1 flex-col" aria-label="Contact sheet">
      <div className="flex items-center gap-3 pb-2 text-soft">
        <h2 className="text-xs font-medium">Every row at its settled frame</h2>
        <label className="ml-auto flex items-center gap-1.5 text-xs">
          <Checkbox checked={isFlaggedFirst} onValue={setFlaggedFirst} />
          flagged first
        </label>
        <label className="flex items-center gap-2 text-xs">
          size
          <input
            type="range"
            min={140}
            max={420}
            value={wanted}
            className="w-24 accent-leaf"
            onChange={(event) => setWanted(Number(event.target.value))}
          />
        </label>
      </div>
      <div
        ref={ref}
        className="min-h-0 flex-1 overflow-auto"
        onScroll={(event) => setTop(event.currentTarget.scrollTop)}
      >
        {shown.length === 0 && <p className="py-4 text-soft">No row is shown; show others above the grid.</p>}
        <ul className="relative" style={{ height: Math.ceil(shown.length / perLine) * line }}>
          {shown.slice(first * perLine, last * perLine).map((i, n) => {
            const own = all[i]
            if (!own) return null
            const at = first * perLine + n
            const found = findings[i]
            const s = found ? stateOfRow(found) : 'checked'
            const worst = found && worstOf(found.findings)
            return (
              <li
                key={i}
                className="absolute"
                style={{
                  left: (at % perLine) * (width + gap) + 2,
                  top: Math.floor(at / perLine) * line + 2,
                  width: width - 4,
                }}
              >
                <button
                  type="button"
                  className="block w-full text-left"
                  onClick={() => onChoose(i)}
                  aria-label={`Row ${i + 1}, ${found ? s : 'checking'}`}
                >
                  <span
                    className={classes(
                      'relative block overflow-hidden bg-grey',
                      i === chosen ? 'outline-2 outline-offset-1 outline-leaf' : outline[s],
                    )}
                    style={{ height }}
                  >
                    <Thumb
                      template={template}
                      frame={frame}
                      shape={known}
                      worker={worker}
                      row={own}
                      n={i + 1}
                      rows={all.length}
                      width={width - 4}
                      height={height}
                    />
                  </span>
                  <span className="mt-0.5 flex gap-2 text-xs">
                    <span>{i + 1}</span>
                    <span className={classes('truncate', found && !own.off ? word[s] : 'text-soft')}>
                      {own.off ? 'switched off' : found ? (worst ? shortly(worst) : s) : 'checking'}
                    </span>
                  </span>
                </button>
              </li>
            )
          })}
        </ul>
      </div>
    </section>
  )
}

function shortly(finding: Finding): string {
  return finding.message.length > 46 ? `${finding.message.slice(0, 44)}…` : finding.message
}

function Thumb({
  template,
  frame,
  shape,
  worker,
  row: own,
  n,
  rows,
  width,
  height,
}: {
  template: Template
  frame: Frame
  shape: ShapeId
  worker: SheetWorker | undefined
  row: Row
  /** Of the row, from 1. */
  n: number
  /** Of the sheet. */
  rows: number
  width: number
  height: number
}) {
  const ref = useRef<HTMLCanvasElement>(null)
  const row = useRowAbout(template, own, n, rows)
  const [crop, setCrop] = useState<{ x: number; y: number; width: number; height: number }>()
  useEffect(() => {
    if (!worker || width < 10) return
    let gone = false
    const ratio = devicePixelRatio
    void worker.thumb(row, shape, Math.round(width * ratio), Math.round(height * ratio)).then((result) => {
      if (!result || gone || !ref.current) return
      ref.current.width = result.picture.width
      ref.current.height = result.picture.height
      ref.current.getContext('2d')!.drawImage(result.picture, 0, 0)
      setCrop(result.crop)
    })
    return () => {
      gone = true
    }
  }, [worker, row, shape, width, height])
  return (
    <>
      {crop && <Backdrop crop={crop} frame={frame} />}
      <canvas ref={ref} className="absolute inset-0 size-full" />
    </>
  )
}
