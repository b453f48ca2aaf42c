import type { OutputDetail, Unit, UnitState } from '@hoja/core/api'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef } from 'react'
import { Link } from 'react-router'
import { classes } from '../ui/controls.tsx'

const words: Record<UnitState, string> = {
  waiting: 'waiting',
  running: 'rendering',
  done: 'done',
  held: 'held',
  failed: 'failed',
  stopped: 'stopped',
}
const colours: Record<UnitState, string> = {
  waiting: 'text-soft',
  running: 'text-leaf',
  done: 'text-leaf',
  held: 'text-stop',
  failed: 'text-stop',
  stopped: 'text-look',
}

const columns = 'grid grid-cols-[48px_minmax(0,1fr)_132px_92px] items-start gap-x-3 px-3'

/** Every row and how it stands; only those in sight are drawn. */
export function UnitTable({
  output,
  shown,
  onShow,
  onRetry,
}: {
  output: OutputDetail
  shown: number | undefined
  onShow: (row: number) => void
  onRetry: (row: number) => void
}) {
  const { units } = output
  const frame = useRef<HTMLDivElement>(null)
  const rows = useVirtualizer({
    count: units.length,
    getScrollElement: () => frame.current,
    estimateSize: () => 29,
    overscan: 12,
    getItemKey: (i) => units[i]!.row,
  })
  return (
    <section aria-label="Rows" className="flex min-h-0 flex-col border-y border-rule bg-paper">
      <p aria-hidden className={classes(columns, 'border-b border-rule py-1 text-xs font-medium text-soft')}>
        <span className="text-right">{output.sheet === null ? 'Clip' : 'Row'}</span>
        <span>File</span>
        <span>State</span>
        <span className="text-right">Took</span>
      </p>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached with the keyboard */}
      <div ref={frame} tabIndex={0} className="min-h-0 flex-1 overflow-auto">
        <ul className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map((item) => {
            const unit = units[item.index]!
            return (
              <li
                key={item.key}
                ref={rows.measureElement}
                data-index={item.index}
                className={classes(
                  columns,
                  'absolute inset-x-0 top-0 border-b border-rule py-1',
                  shown === unit.row && 'bg-leaf-pale',
                )}
                style={{ transform: `translateY(${item.start}px)` }}
              >
                <span className="text-right text-soft">{unit.row}</span>
                <File output={output} unit={unit} onShow={onShow} onRetry={onRetry} />
                <State unit={unit} share={output.progress.rows[unit.row]} />
                <span className="text-right text-soft">
                  {unit.state === 'done' &&
                    (unit.found ? 'found again' : `${((unit.milliseconds ?? 0) / 1000).toFixed(1)} s`)}
                </span>
              </li>
            )
          })}
        </ul>
      </div>
    </section>
  )
}

function File({
  output,
  unit,
  onShow,
  onRetry,
}: {
  output: OutputDetail
  unit: Unit
  onShow: (row: number) => void
  onRetry: (row: number) => void
}) {
  const isOver = ['held', 'failed', 'stopped'].includes(unit.state)
  return (
    <span className="min-w-0">
      {unit.state === 'done' ? (
        <button
          type="button"
          className="max-w-full truncate text-left hover:underline"
          title={unit.file}
          onClick={() => onShow(unit.row)}
        >
          {unit.file}
        </button>
      ) : (
        <span className="block truncate" title={unit.file}>
          {unit.file}
        </span>
      )}
      {unit.reason && (
        <span className={classes('block text-xs', isOver ? 'text-stop' : 'text-look')}>
          {unit.reason}{' '}
          {unit.state === 'held' && output.sheet !== null && (
            <Link className="font-semibold text-leaf hover:underline" to={`/t/${output.template}/fill/${output.sheet}`}>
              Fix it in Fill
            </Link>
          )}{' '}
          {isOver && output.state !== 'paused' && (
            <button
              type="button"
              className="ml-1.5 font-semibold text-leaf hover:underline"
              onClick={() => onRetry(unit.row)}
            >
              Try it again
            </button>
          )}
        </span>
      )}
    </span>
  )
}

function State({ unit, share }: { unit: Unit; share: number | undefined }) {
  if (unit.state !== 'running' || share === undefined)
    return <span className={colours[unit.state]}>{words[unit.state]}</span>
  const percent = Math.round(share * 100)
  return (
    <span className="flex items-center gap-2 pt-1.5">
      <span className="h-1.5 w-20 border border-rule bg-white">
        <span className="block h-full bg-leaf" style={{ width: `${percent}%` }} />
      </span>
      <span className="-mt-1 text-xs text-leaf">{percent} %</span>
    </span>
  )
}
