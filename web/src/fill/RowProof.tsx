import { type Cells, type Finding, type Match, valuesOf, writeCell } from '@hoja/core/data'
import type { Scene } from '@hoja/core/scene'
import { fieldValue } from '@hoja/core/scene'
import { type Field, type FieldValue, formOf, type Template } from '@hoja/core/template'
import { type ReactNode, useMemo } from 'react'
import { Backdrop } from '../preview/Backdrop.tsx'
import { readableCrop } from '../preview/crop.ts'
import { FrameCanvas } from '../preview/FrameCanvas.tsx'
import { usePlayer } from '../preview/usePlayer.ts'
import { useSounds } from '../preview/useSounds.ts'
import { useTransport } from '../preview/useTransport.ts'
import { Button, StateWord } from '../ui/controls.tsx'
import { FieldInput } from '../ui/FieldInput.tsx'
import { Strip } from '../ui/Strip.tsx'
import { useSize } from '../ui/useSize.ts'
import { columnOf } from './Grid.tsx'

/** One row, large and playing, with what was found about it and its form. */
export function RowProof({
  scene,
  match,
  cells,
  row,
  findings,
  onCell,
  children,
}: {
  scene: Scene
  match: Match
  cells: Cells
  row: number
  findings: Finding[] | undefined
  onCell: (column: string, value: string) => void
  children?: ReactNode
}) {
  const { template } = scene
  const timing = scene.timing()
  const player = usePlayer(timing.total, template.frame.rate.num / template.frame.rate.den, timing.in)
  useTransport(player)
  useSounds(template, timing, player)
  const [ref, size] = useSize<HTMLDivElement>()
  const { values } = useMemo(() => valuesOf(template, match, cells), [template, match, cells])
  const height = 190
  const crop = readableCrop(scene, values, Math.max(1, size.width) / height)
  return (
    <section className="flex min-h-0 flex-col overflow-auto bg-paper" aria-label={`Row ${row}`}>
      <div ref={ref} className="relative shrink-0 overflow-hidden" style={{ height }}>
        <Backdrop crop={crop} frame={template.frame} />
        {size.width > 0 && (
          <FrameCanvas
            scene={scene}
            values={values}
            frame={player.frame}
            width={size.width}
            crop={crop}
            label={`Row ${row} at frame ${player.frame}`}
          />
        )}
      </div>
      <div className="flex items-center gap-2 border-b border-rule px-3.5 py-2">
        <Button small onClick={player.toggle} aria-label={player.speed ? 'Stop' : 'Play'}>
          {player.speed ? 'Stop' : 'Play'}
        </Button>
        <div className="flex-1">
          <Strip
            spans={{ in: timing.in, hold: timing.hold, out: timing.out }}
            frame={player.frame}
            height={20}
            onScrub={(frame) => {
              player.setSpeed(0)
              player.go(frame)
            }}
          />
        </div>
        <span className="w-8 text-right text-soft">{player.frame}</span>
      </div>
      <div className="border-b border-rule px-3.5 py-2">
        {!findings && <p className="text-soft">Checking …</p>}
        {findings?.length === 0 && (
          <p>
            <StateWord state="fine">Nothing to say about row {row}.</StateWord>
          </p>
        )}
        {findings?.map((finding) => (
          <p key={`${finding.code}${finding.field}${finding.part}`} className="py-0.5">
            <StateWord state={finding.level} /> {finding.message}{' '}
            {finding.fix !== undefined && finding.field && (
              <button
                type="button"
                className="font-semibold text-leaf hover:underline"
                onClick={() => onCell(columnOf(match, finding.field!), finding.fix!)}
              >
                Tidy it
              </button>
            )}
          </p>
        ))}
      </div>
      <div className="px-3.5 py-2">
        {formOf(template).map((section) => (
          <section key={section.id ?? 'none'} aria-label={section.name || 'Fields'}>
            {section.name && section.lines.length > 0 && (
              <h3 className="mt-2 mb-1 border-b border-rule font-semibold">{section.name}</h3>
            )}
            {section.lines.map((line) =>
              line.kind === 'comment' ? (
                <p key={line.comment.id} className="py-1 text-soft italic">
                  {line.comment.text}
                </p>
              ) : (
                <RowField
                  key={line.field.id}
                  template={template}
                  field={line.field}
                  cell={cells[columnOf(match, line.field.key)] ?? ''}
                  value={fieldValue(line.field, values)}
                  row={row}
                  onCell={(value) => onCell(columnOf(match, line.field.key), value)}
                />
              ),
            )}
          </section>
        ))}
      </div>
      {children}
    </section>
  )
}

/** One field of a row, by its own control. */
function RowField({
  template,
  field,
  cell,
  value,
  row,
  onCell,
}: {
  template: Template
  field: Field
  cell: string
  value: FieldValue
  row: number
  onCell: (cell: string) => void
}) {
  const asDesigned = field.type !== 'text' && cell === ''
  return (
    <div className="grid grid-cols-[84px_minmax(0,1fr)] gap-2 py-1">
      <span className="pt-1 text-soft">{field.name}</span>
      <div>
        <FieldInput
          label={`${field.name} of row ${row}`}
          template={template}
          field={field}
          value={field.type === 'text' ? cell : value}
          onValue={(next) => onCell(writeCell(template, field, next))}
        />
        <p className="mt-0.5 text-xs text-soft">
          {field.note}
          {asDesigned && ' Stands at its default.'}
        </p>
      </div>
    </div>
  )
}
