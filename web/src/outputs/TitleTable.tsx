import type { OutputDetail, RenderedTitle, TitleState } from '@hoja/core/api'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef } from 'react'
import { Link } from 'react-router'
import { classes } from '../ui/controls.tsx'

const words: Record<TitleState, string> = {
  waiting: 'waiting',
  running: 'rendering',
  done: 'done',
  held: 'held',
  failed: 'failed',
  stopped: 'stopped',
}
const colours: Record<TitleState, string> = {
  waiting: 'text-soft',
  running: 'text-leaf',
  done: 'text-leaf',
  held: 'text-stop',
  failed: 'text-stop',
  stopped: 'text-look',
}

const columns = 'grid grid-cols-[48px_minmax(0,1fr)_132px_92px] items-start gap-x-3 px-3'

/** Every row and how it stands; only those in sight are drawn. */
export function TitleTable({
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
  const { titles } = output
  const frame = useRef<HTMLDivElement>(null)
  const rows = useVirtualizer({
    count: titles.length,
    getScrollElement: () => frame.current,
    estimateSize: () => 29,
    overscan: 12,
    getItemKey: (i) => titles[i]!.row,
  })
  return (
    <section aria-label="Rows" className="flex min-h-0 flex-col border-y border-rule bg-paper">
      <p aria-hidden className={classes(columns, 'border-b border-rule py-1 text-xs font-medium text-soft')}>
        <span className="text-right">
          {output.sheet !== null ? 'Row' : output.programme !== null ? 'Title' : 'Clip'}
        </span>
        <span>File</span>
        <span>State</span>
        <span className="text-right">Took</span>
      </p>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached with the keyboard */}
      <div ref={frame} tabIndex={0} className="min-h-0 flex-1 overflow-auto">
        <ul className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map((item) => {
            const title = titles[item.index]!
            return (
              <li
                key={item.key}
                ref={rows.measureElement}
                data-index={item.index}
                className={classes(
                  columns,
                  'absolute inset-x-0 top-0 border-b border-rule py-1',
                  shown === title.row && 'bg-leaf-pale',
                )}
                style={{ transform: `translateY(${item.start}px)` }}
              >
                <span className="text-right text-soft">{title.row}</span>
                <File output={output} title={title} onShow={onShow} onRetry={onRetry} />
                <State title={title} share={output.progress.rows[title.row]} />
                <span className="text-right text-soft">
                  {title.state === 'done' &&
                    (title.found ? 'found again' : `${((title.milliseconds ?? 0) / 1000).toFixed(1)} s`)}
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
  title,
  onShow,
  onRetry,
}: {
  output: OutputDetail
  title: RenderedTitle
  onShow: (row: number) => void
  onRetry: (row: number) => void
}) {
  const isOver = ['held', 'failed', 'stopped'].includes(title.state)
  return (
    <span className="min-w-0">
      {title.state === 'done' ? (
        <button
          type="button"
          className="max-w-full truncate text-left hover:underline"
          title={title.file}
          onClick={() => onShow(title.row)}
        >
          {title.file}
        </button>
      ) : (
        <span className="block truncate" title={title.file}>
          {title.file}
        </span>
      )}
      {title.reason && (
        <span className={classes('block text-xs', isOver ? 'text-stop' : 'text-look')}>
          {title.reason}{' '}
          {title.state === 'held' && output.sheet !== null && (
            <Link className="font-semibold text-leaf hover:underline" to={`/t/${output.template}/fill/${output.sheet}`}>
              Fix it in Fill
            </Link>
          )}{' '}
          {isOver && output.state !== 'paused' && (
            <button
              type="button"
              className="ml-1.5 font-semibold text-leaf hover:underline"
              onClick={() => onRetry(title.row)}
            >
              Try it again
            </button>
          )}
        </span>
      )}
    </span>
  )
}

function State({ title, share }: { title: RenderedTitle; share: number | undefined }) {
  if (title.state !== 'running' || share === undefined)
    return <span className={colours[title.state]}>{words[title.state]}</span>
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
