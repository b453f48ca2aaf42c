import {
  framesOfRow,
  givenText,
  isGivenBy,
  isNow,
  type Marks,
  type Match,
  marksFor,
  type Row,
  type RowFound,
  standsWords,
  valuesOf,
  withoutOwn,
  withText,
  writeCell,
} from '@hoja/core/data'
import { fieldValue, readableCrop, type Scene } from '@hoja/core/scene'
import {
  entryParts,
  type Field,
  type FieldValue,
  firstShape,
  formOf,
  type ShapeId,
  shapesOf,
  type Template,
} from '@hoja/core/template'
import { lengthWords, type Rate } from '@hoja/core/time'
import { useMemo } from 'react'
import { Backdrop } from '../preview/Backdrop.tsx'
import { FrameCanvas } from '../preview/FrameCanvas.tsx'
import { usePlayer } from '../preview/usePlayer.ts'
import { useSounds } from '../preview/useSounds.ts'
import { useTransport } from '../preview/useTransport.ts'
import { FieldWriting } from '../preview/writing/FieldWriting.tsx'
import { Button, Checkbox, Select, StateWord, TextInput } from '../ui/controls.tsx'
import { FieldInput } from '../ui/FieldInput.tsx'
import { FindingLine } from '../ui/FindingLine.tsx'
import { LengthInput } from '../ui/FrameInputs.tsx'
import { ShapeChoice } from '../ui/ShapeChoice.tsx'
import { Strip } from '../ui/Strip.tsx'
import { useSize } from '../ui/useSize.ts'
import { EntriesGrid } from './EntriesGrid.tsx'
import { useRowAbout } from './useRowAbout.ts'

/** One row, large and playing, with what was found about it and its form. */
export function RowProof({
  scene,
  match,
  row,
  n,
  rows,
  found,
  linked,
  versions,
  version,
  asked,
  onShape,
  onRow,
  onUndo,
  onRedo,
}: {
  scene: Scene
  match: Match
  row: Row
  /** From 1. */
  n: number
  /** Of the sheet. */
  rows: number
  found: RowFound | undefined
  linked: boolean
  /** The versions that this row may stay on, and the one of its sheet. */
  versions: readonly { id: number; number: number }[]
  version: number
  /** The shape of the frame that is looked at, where the row's version has it. */
  asked: ShapeId
  onShape: (shape: ShapeId) => void
  /** @param step what belongs to one step of undo */
  onRow: (row: Row, step?: string) => void
  onUndo: () => void
  onRedo: () => void
}) {
  const { template } = scene
  const shapes = shapesOf(template)
  const shape = shapes.some(({ id }) => id === asked) ? asked : firstShape
  const shaped = scene.inShape(shape)
  const { frame } = shaped.template
  const among = useRowAbout(template, row, n, rows)
  const { values } = useMemo(() => valuesOf(template, match, among), [template, match, among])
  const layout = scene.layout(values)
  const frames = framesOfRow(match, row, template.frame.rate)
  const least = scene.shortest(layout)
  const timing = scene.timing(layout, frames !== undefined && frames >= least ? frames : undefined)
  const player = usePlayer(
    timing.total,
    template.frame.rate.num / template.frame.rate.den,
    scene.settled(layout, timing),
  )
  useTransport(player)
  useSounds(template, timing, player)
  const [ref, size] = useSize<HTMLDivElement>()
  const together = useMemo(() => listsTogether(template), [template])
  const put = (key: string, text: string) => onRow(withText(match, key, row, text, linked))
  const height = 190
  const crop = readableCrop(shaped, values, Math.max(1, size.width) / height)
  return (
    <section className="flex min-h-0 flex-col overflow-auto bg-paper" aria-label={`Row ${n}`}>
      <div ref={ref} className="relative shrink-0 overflow-hidden bg-grey" style={{ height }}>
        <Backdrop crop={crop} frame={frame} />
        {size.width > 0 && (
          <FieldWriting
            key={`${n} ${shape}`}
            scene={shaped}
            values={values}
            player={player}
            origin={crop}
            scale={size.width / crop.width}
            whose={`row ${n}`}
            onText={({ key }, text, step) => onRow(withText(match, key, row, text, linked), `${n}.${key}.${step}`)}
            onUndo={onUndo}
            onRedo={onRedo}
          >
            <FrameCanvas
              scene={shaped}
              values={values}
              frame={player.frame}
              width={size.width}
              crop={crop}
              within
              label={`Row ${n} at frame ${player.frame}`}
            />
          </FieldWriting>
        )}
      </div>
      <div className="flex items-center gap-2 border-b border-rule px-3.5 py-2">
        <Button small onClick={player.toggle} aria-label={player.speed ? 'Stop' : 'Play'}>
          {player.speed ? 'Stop' : 'Play'}
        </Button>
        <div className="flex-1">
          <Strip
            spans={{ in: timing.in, hold: timing.hold, out: timing.out }}
            turns={timing.turns}
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
      {shapes.length > 1 && (
        <div className="border-b border-rule px-3.5 py-2">
          <ShapeChoice shapes={shapes} shape={shape} onShape={onShape} />
        </div>
      )}
      <div className="border-b border-rule px-3.5 py-2">
        {!found && <p className="text-soft">Checking …</p>}
        {found?.findings.length === 0 && !found.isLooked && (
          <p className="text-soft">Checked; its picture is looked at …</p>
        )}
        {found?.findings.length === 0 && found.isLooked && (
          <p>
            <StateWord state="fine">Nothing to say about row {n}.</StateWord>
          </p>
        )}
        {found?.findings.map((finding) => (
          <FindingLine
            key={`${finding.code}${finding.field}${finding.part}${finding.message}`}
            finding={finding}
            onFix={put}
          />
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
              ) : together.get(line.field.id) ? (
                together.get(line.field.id)![0] === line.field && (
                  <EntriesGrid
                    key={line.field.id}
                    fields={together.get(line.field.id)!}
                    lists={Object.fromEntries(
                      together.get(line.field.id)!.map((field) => [field.key, fieldValue(field, values) as string[]]),
                    )}
                    label={`Entries of row ${n}`}
                    onLists={(lists) =>
                      onRow(
                        Object.entries(lists).reduce((own, [key, list]) => {
                          const field = template.fields.find((one) => one.key === key)!
                          return withText(match, key, own, writeCell(template, field, list), linked)
                        }, row),
                        `${n}.entries`,
                      )
                    }
                  />
                )
              ) : (
                <RowField
                  key={line.field.id}
                  template={template}
                  field={line.field}
                  cell={givenText(match, line.field.key, row).text}
                  isOwn={match[line.field.key] !== undefined && row.own?.[line.field.key] !== undefined}
                  value={fieldValue(line.field, values)}
                  row={n}
                  marks={marksFor(match, line.field.key)}
                  onCell={(value) => put(line.field.key, value)}
                  onData={() => onRow(withoutOwn(line.field.key, row))}
                />
              ),
            )}
          </section>
        ))}
      </div>
      <RowSettings
        row={row}
        n={n}
        rate={template.frame.rate}
        frames={frames}
        least={least}
        versions={versions}
        version={version}
        onRow={onRow}
      />
    </section>
  )
}

/** One field of a row, by its own control. */
function RowField({
  template,
  field,
  cell,
  isOwn,
  value,
  row,
  marks,
  onCell,
  onData,
}: {
  template: Template
  field: Field
  /** undefined: nothing fills it. */
  cell: string | undefined
  /** Set by hand in place of what the data says. */
  isOwn: boolean
  value: FieldValue
  row: number
  /** How the column writes numbers. */
  marks: Marks | undefined
  onCell: (cell: string) => void
  onData: () => void
}) {
  const asDesigned = !isGivenBy(field, cell)
  const isNowCell = field.type === 'moment' && cell !== undefined && isNow(cell)
  return (
    <div className="grid grid-cols-[84px_minmax(0,1fr)] gap-2 py-1">
      <span className="pt-1 text-soft">{field.name}</span>
      <div>
        <FieldInput
          label={`${field.name} of row ${row}`}
          template={template}
          field={field}
          value={field.type === 'text' ? (cell ?? field.default) : isNowCell ? 'now' : value}
          mayBeNow
          onValue={(next) => onCell(writeCell(template, field, next, marks))}
        />
        <p className="mt-0.5 text-xs text-soft">
          {field.note}
          {asDesigned && (field.stands ? ` Left empty: ${standsWords[field.stands]}.` : ' Stands at its default.')}
          {isOwn && (
            <>
              {' Set by hand. '}
              <button type="button" className="font-medium text-leaf hover:underline" onClick={onData}>
                As the data says
              </button>
            </>
          )}
        </p>
      </div>
    </div>
  )
}

/** Lists that go together, entry by entry, by the id of each of their fields; one by itself has its own lines. */
function listsTogether(template: Template): ReadonlyMap<string, readonly Field[]> {
  return new Map(
    entryParts(template).flatMap(({ lists }) => {
      const fields = template.fields.filter(({ id }) => lists.has(id))
      return fields.length > 1 ? fields.map(({ id }) => [id, fields] as const) : []
    }),
  )
}

/** What a person sets beside the row's data: whether it is rendered, how long, on which version, and why. */
function RowSettings({
  row,
  n,
  rate,
  frames,
  least,
  versions,
  version,
  onRow,
}: {
  row: Row
  n: number
  rate: Rate
  /** Of its title, as set by hand or said by its data. */
  frames: number | undefined
  least: number
  versions: readonly { id: number; number: number }[]
  version: number
  onRow: (row: Row) => void
}) {
  const without = (key: 'off' | 'note' | 'frames' | 'version'): Row => {
    const { [key]: _, ...rest } = row
    return rest
  }
  return (
    <section aria-label="This row" className="grid grid-cols-[84px_minmax(0,1fr)] gap-x-2 gap-y-1 px-3.5 pb-3">
      <h3 className="col-span-2 mt-1 mb-0.5 border-b border-rule font-semibold">This row</h3>
      <span className="text-soft">Rendered</span>
      <Checkbox
        aria-label={`Row ${n} is rendered`}
        className="mt-0.5"
        checked={!row.off}
        onValue={(on) => onRow(on ? without('off') : { ...row, off: true })}
      />
      <span className="pt-1 text-soft">Frames</span>
      <span className="flex items-center gap-2">
        {row.frames === undefined ? (
          <>
            <span className="text-soft">
              {frames === undefined ? 'as the output says' : `${lengthWords(frames, rate)}, by its data`}
            </span>
            <Button small onClick={() => onRow({ ...row, frames: frames ?? Math.max(1, least) })}>
              Its own
            </Button>
          </>
        ) : (
          <>
            <LengthInput
              aria-label={`Frames of row ${n}`}
              className="!w-24"
              rate={rate}
              min={1}
              value={row.frames}
              onValue={(own) => onRow({ ...row, frames: own })}
            />
            <Button small onClick={() => onRow(without('frames'))}>
              As before
            </Button>
          </>
        )}
      </span>
      {versions.length > 1 && (
        <>
          <span className="pt-1 text-soft">Version</span>
          <Select
            aria-label={`Version of row ${n}`}
            className="!w-48"
            value={row.version === undefined ? '' : String(row.version)}
            options={[
              ['', `the sheet's (${versions.find((one) => one.id === version)?.number ?? ''})`],
              ...versions
                .filter((one) => one.id !== version)
                .map((one): [string, string] => [String(one.id), `stays on ${one.number}`]),
            ]}
            onChange={(event) =>
              onRow(event.target.value ? { ...row, version: Number(event.target.value) } : without('version'))
            }
          />
        </>
      )}
      <span className="pt-1 text-soft">Note</span>
      <TextInput
        key={`${n} ${row.note ?? ''}`}
        aria-label={`Note on row ${n}`}
        placeholder="for whoever looks next"
        defaultValue={row.note ?? ''}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        onBlur={(event) => {
          const note = event.target.value.trim()
          if (note !== (row.note ?? '')) onRow(note ? { ...row, note } : without('note'))
        }}
      />
    </section>
  )
}
