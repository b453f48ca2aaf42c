import type { Row } from '@hoja/core/data'
import type { Data, Layout, PlotMouseEvent } from 'plotly.js'
import { useEffect, useRef, useState } from 'react'
import type { SheetWorker } from '../preview/SheetWorker.ts'
import { useSize } from '../ui/useSize.ts'

/** Colours of the texts, told apart by their marks as well. */
const colours = ['#1f7a4d', '#b4472e', '#12343b', '#8f5200', '#5b6459']
const marks = ['circle', 'diamond', 'square', 'cross', 'triangle-up']

/** How much room every row's texts need against what there is: over 100 % a fit step has to help. */
export function FitChart({
  rows,
  worker,
  chosen,
  onChoose,
}: {
  rows: readonly Row[]
  worker: SheetWorker | undefined
  chosen: number
  onChoose: (row: number) => void
}) {
  const holder = useRef<HTMLDivElement>(null)
  const [box, size] = useSize<HTMLDivElement>()
  const [uses, setUses] = useState<{ row: number; name: string; share: number; needed: number; room: number }[]>()
  // biome-ignore lint/correctness/useExhaustiveDependencies: the worker has the rows; when they change, it measures anew
  useEffect(() => {
    if (!worker) return
    let stopped = false
    void worker.room().then((found) => {
      if (stopped) return
      setUses(
        found.flatMap(({ row, uses: own }) =>
          own.flatMap(({ name, needed, room }) =>
            room === undefined ? [] : [{ row, name, needed, room, share: (needed / room) * 100 }],
          ),
        ),
      )
    })
    return () => {
      stopped = true
    }
  }, [worker, rows])
  useEffect(() => {
    const element = holder.current
    if (!element || !uses || size.width === 0) return
    let gone = false
    const names = [...new Set(uses.map((use) => use.name))]
    const data: Data[] = names.map((name, i) => {
      const own = uses.filter((use) => use.name === name)
      return {
        type: 'scatter',
        mode: 'markers',
        name,
        x: own.map((use) => use.row),
        y: own.map((use) => use.share),
        customdata: own.map((use) => [Math.round(use.needed), Math.round(use.room)]),
        hovertemplate: `row %{x}, ${name}: needs %{customdata[0]} px of %{customdata[1]}<extra></extra>`,
        marker: { color: colours[i % colours.length]!, symbol: marks[i % marks.length]!, size: 7 },
      }
    })
    const layout: Partial<Layout> = {
      width: size.width,
      height: size.height,
      margin: { l: 52, r: 12, t: 8, b: 36 },
      paper_bgcolor: '#f2f1ec',
      plot_bgcolor: '#fbfaf7',
      font: { family: 'Instrument Sans Variable, sans-serif', size: 11, color: '#20261f' },
      xaxis: { title: { text: 'row' }, zeroline: false, gridcolor: '#d9d6cc', range: [0.4, rows.length + 0.6] },
      yaxis: { title: { text: 'of its room' }, ticksuffix: ' %', rangemode: 'tozero', gridcolor: '#d9d6cc' },
      legend: { orientation: 'h', x: 1, xanchor: 'right', y: 1.02, yanchor: 'bottom' },
      shapes: [
        {
          type: 'line',
          xref: 'paper',
          x0: 0,
          x1: 1,
          y0: 100,
          y1: 100,
          line: { color: '#b4472e', width: 1, dash: 'dash' },
        },
        {
          type: 'line',
          yref: 'paper',
          y0: 0,
          y1: 1,
          x0: chosen + 1,
          x1: chosen + 1,
          line: { color: '#1f7a4d', width: 1 },
        },
      ],
    }
    // A megabyte that only this view needs.
    void import('plotly.js-basic-dist-min').then(async ({ default: plotly }) => {
      if (gone) return
      const plot = await plotly.react(element, data, layout, { displayModeBar: false })
      plot.removeAllListeners('plotly_click')
      plot.on('plotly_click', (event: PlotMouseEvent) => {
        const row = event.points[0]?.x
        if (typeof row === 'number') onChoose(row - 1)
      })
    })
    return () => {
      gone = true
    }
  }, [uses, size, chosen, onChoose, rows.length])
  const over = uses?.filter((use) => use.share > 100) ?? []
  return (
    <section aria-label="Fit chart" className="flex min-h-0 flex-1 flex-col">
      <p role="status" className="pb-1 text-xs text-soft">
        {!uses
          ? 'Measuring …'
          : uses.length === 0
            ? 'No text of this template has a room to keep to.'
            : `${over.length} of ${uses.length} texts ${over.length === 1 ? 'needs' : 'need'} more room than there is, and ${over.length === 1 ? 'is' : 'are'} fitted. The widest needs ${Math.round(Math.max(...uses.map((use) => use.share)))} %.`}
      </p>
      <div ref={box} className="min-h-0 flex-1">
        <div ref={holder} role="img" aria-label="How much of its room each row's text needs" />
      </div>
    </section>
  )
}
