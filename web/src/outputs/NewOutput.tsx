import type { ReadyFormat, Version } from '@hoja/core/api'
import { framesOfRow, valuesOf } from '@hoja/core/data'
import {
  checkSettings,
  durationOf,
  type FormatId,
  notesOn,
  type OutputSettings,
  outputFormats,
  parseRows,
  rowInOrder,
  settingsByShape,
  templateFor,
} from '@hoja/core/output'
import { shapesOf, type Template } from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { api, type SheetDetail, wholeSheet } from '../api.ts'
import { Button, classes, Empty } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Header } from '../ui/Header.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { FormatList } from './FormatList.tsx'
import { FilesSection, KeepSection } from './order/FilesSection.tsx'
import { PartsSection } from './order/PartsSection.tsx'
import { PictureSection } from './order/PictureSection.tsx'
import { RowsSection } from './order/RowsSection.tsx'
import { Summary } from './order/Summary.tsx'
import { type Change, changed, exampleNames, orderedFrom, wrongWith } from './order/settings.ts'
import { TimeSection } from './order/TimeSection.tsx'
import { PresetBar } from './PresetBar.tsx'

/** The format that was ordered last, for the next order. */
const remembered = 'hoja.format'

/** An order: which format, how, which rows, and what the files are called. */
export default function NewOutput() {
  const { id } = useParams()
  const [query] = useSearchParams()
  const sheetId = Number(query.get('sheet')) || undefined
  const template = useQuery({ queryKey: ['template', id], queryFn: () => api.template({ id: id! }) })
  const sheet = useQuery({
    queryKey: ['sheet to render', sheetId],
    queryFn: ({ signal }) => wholeSheet(sheetId!, signal),
    enabled: sheetId !== undefined,
  })
  const versionId = sheet.data?.version ?? (sheetId === undefined ? template.data?.versions[0]?.id : undefined)
  const version = useQuery({
    queryKey: ['version', versionId],
    queryFn: () => api.version({ id: versionId! }),
    enabled: versionId !== undefined,
  })
  const formats = useQuery({ queryKey: ['formats'], queryFn: () => api.formats() })
  const error = template.error ?? sheet.error ?? version.error ?? formats.error
  return (
    <div className="flex h-full flex-col">
      <Header {...(template.data ? { template: template.data } : {})} here="New output" />
      {error && (
        <Trouble
          error={error}
          what={template.error ? 'template' : sheet.error ? 'sheet' : 'order'}
          onAgain={() => location.reload()}
        />
      )}
      {template.data && sheetId === undefined && template.data.versions.length === 0 && (
        <Empty title="There is no version yet">Publish one in Hand-off; outputs are made of versions.</Empty>
      )}
      {version.data && formats.data && (sheetId === undefined || sheet.data) && (
        <Order formats={formats.data} version={version.data} {...(sheet.data ? { sheet: sheet.data } : {})} />
      )}
    </div>
  )
}

function Order({
  formats,
  version,
  sheet,
}: {
  formats: ReadyFormat[]
  version: Version & { content: Template }
  sheet?: SheetDetail
}) {
  const navigate = useNavigate()
  const template = version.content
  const last = formats.find(({ format, ready }) => ready && format === localStorage.getItem(remembered))
  const [settings, setSettings] = useState<OutputSettings>({
    format: last?.format ?? (formats.some(({ format, ready }) => format === 'mov' && ready) ? 'mov' : 'png'),
  })
  const [rowsText, setRowsText] = useState<string>()
  const facts = outputFormats[settings.format]
  const change = (more: Change) => setSettings((before) => changed(before, more))
  // What is shown of an order in several shapes is the first of them.
  const shown = useMemo(() => {
    try {
      return settingsByShape(settings, template)[0]!
    } catch {
      return settings
    }
  }, [settings, template])
  const drawn = useMemo(() => {
    try {
      return templateFor(shown, template)
    } catch {
      return template
    }
  }, [shown, template])
  const rowCount = sheet?.rows.length ?? 0
  const wrongRows = wrongWith(() => rowsText !== undefined && parseRows(rowsText, rowCount))
  const chosen = useMemo(
    () => (rowsText === undefined || wrongRows ? undefined : parseRows(rowsText, rowCount)),
    [rowsText, wrongRows, rowCount],
  )
  const numbers = useMemo(() => {
    if (wrongRows || !sheet) return []
    return chosen ?? sheet.rows.flatMap((row, i) => (row.off ? [] : [i + 1]))
  }, [chosen, wrongRows, sheet])
  const first = sheet?.rows[(numbers[0] ?? 1) - 1]
  const among = sheet && first && rowInOrder(shown, template, sheet.match, first, [numbers[0] ?? 1, sheet.rows.length])
  const values = sheet && among ? valuesOf(template, sheet.match, among).values : template.poster.values
  const names = useMemo(
    () => (sheet ? exampleNames(sheet, numbers, version, shown) : []),
    [sheet, numbers, version, shown],
  )
  const ordering = useWrite(
    async (ordered: OutputSettings): Promise<{ id: number; also?: number[] }> =>
      sheet
        ? api.render({ sheet: sheet.id, ...ordered })
        : api.flatten({ version: version.id, ...ordered, parts: settings.parts ?? 'merged' }),
    {
      onDone: (output) => {
        localStorage.setItem(remembered, settings.format)
        const all = `/t/${version.template}/outputs`
        navigate(output.also?.length ? all : `${all}/${output.id}`)
      },
    },
  )
  // Settings under a name may come from a template of other shapes.
  const take = ({ shapes, ...taken }: OutputSettings) => {
    const known = shapesOf(template).map(({ id }) => id)
    const left = shapes?.filter((shape) => known.includes(shape)) ?? []
    if (shapes && left.length < shapes.length)
      toast(
        `${template.name} has no shape ${shapes.filter((shape) => !known.includes(shape)).join(', ')}; it is left out.`,
      )
    setSettings({ ...taken, ...(left.length > 0 ? { shapes: left } : {}) })
  }
  const order = () => ordering.mutate(orderedFrom(settings, chosen))
  const busy = ordering.isPending || ordering.isSuccess
  const count = numbers.length
  const each = () => settingsByShape(orderedFrom(settings, chosen), template)
  const wrong = wrongWith(() => {
    for (const one of each()) checkSettings(one, template)
  })
  const shapeCount = Math.max(1, settings.shapes?.length ?? 1)
  const ofRows = `${settings.changedOnly ? 'what changed of ' : ''}${counted(count, 'row')}`
  const section = { settings, template, change }
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[286px_minmax(0,1fr)_392px]">
      <aside className="min-h-0 overflow-auto border-r border-rule bg-paper pb-4">
        <FormatList
          formats={sheet ? formats : formats.filter(({ alpha }) => alpha !== 'none')}
          value={settings.format}
          onValue={(format: FormatId) => change({ format })}
        />
      </aside>
      <main className="min-h-0 overflow-auto px-6 py-4">
        <div className="max-w-[560px]">
          <h1 className="truncate text-lg font-semibold">
            {sheet ? sheet.name : `Parts of ${template.name}`} as {facts.name}
          </h1>
          <div className="py-2">
            <PresetBar settings={orderedFrom(changed(settings, { keep: undefined }), undefined)} onTake={take} />
          </div>
          {sheet ? (
            <RowsSection
              {...section}
              count={rowCount}
              numbers={numbers}
              text={rowsText}
              wrong={wrongRows}
              onText={setRowsText}
            />
          ) : (
            <PartsSection {...section} version={version.id} />
          )}
          <PictureSection {...section} drawn={drawn} several={sheet !== undefined} />
          {!facts.still && (
            <TimeSection
              {...section}
              drawn={drawn}
              sheet={sheet}
              someOwn={
                sheet?.rows.some((row) => framesOfRow(sheet.match, row, template.frame.rate) !== undefined) ?? false
              }
            />
          )}
          {sheet && <FilesSection {...section} />}
          {sheet && <KeepSection {...section} sheet={sheet.name} />}
        </div>
      </main>
      <aside className="flex min-h-0 flex-col overflow-auto border-l border-rule bg-paper px-5 py-4">
        <Summary
          settings={settings}
          drawn={drawn}
          values={values}
          own={durationOf(settings, template, sheet?.match ?? {}, first ?? { cells: {} })}
          version={version.number}
          names={names}
          more={count - names.length}
        />
        {!wrong &&
          [...new Set(each().flatMap((one) => notesOn(one, template)))].map((note) => (
            <p key={note} className="pt-3 text-look">
              {note}
            </p>
          ))}
        {wrong && <p className="mt-auto pt-4 text-stop">{wrong}</p>}
        <div className={classes('flex items-center gap-3 pt-4', !wrong && 'mt-auto')}>
          <Button
            variant="primary"
            className="h-9 flex-1"
            disabled={busy || wrong !== undefined || (sheet !== undefined && count === 0)}
            onClick={order}
          >
            {busy
              ? 'Ordering …'
              : `Render ${sheet ? ofRows : 'the clips'}${shapeCount > 1 ? ` in ${shapeCount} shapes` : ''}`}
          </Button>
          <Link
            className="text-leaf hover:underline"
            to={sheet ? `/t/${version.template}/fill/${sheet.id}` : `/t/${version.template}/outputs`}
          >
            Back
          </Link>
        </div>
      </aside>
    </div>
  )
}
