import { valuesOf } from '@hoja/core/data'
import { spanStart } from '@hoja/core/motion'
import {
  durationOf,
  type FormatId,
  namer,
  type OutputSettings,
  outputFormats,
  parseRows,
  patternFor,
  patternWords,
  templateFor,
} from '@hoja/core/output'
import type { Template } from '@hoja/core/template'
import { secondsOf } from '@hoja/core/time'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useMemo, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { Backdrop } from '../preview/Backdrop.tsx'
import { FrameCanvas } from '../preview/FrameCanvas.tsx'
import { useScene } from '../preview/useScene.ts'
import { type ApiError, api, type ReadyFormat, type SheetDetail, type Version } from '../ui/api.ts'
import { Choice } from '../ui/Choice.tsx'
import { Button, Empty, Line, NumberInput, Select, TextInput, Tick } from '../ui/controls.tsx'
import { RateInput, SizeInput } from '../ui/FrameInputs.tsx'
import { Header } from '../ui/Header.tsx'
import { BackdropInput } from './BackdropInput.tsx'
import { FormatList } from './FormatList.tsx'
import { LayerList } from './LayerList.tsx'
import { PresetBar } from './PresetBar.tsx'

/** The format that was ordered last, for the next order. */
const remembered = 'hoja.format'

/** An order: which format, how, which rows, and what the files are called. */
export default function NewOutput() {
  const { id } = useParams()
  const [query] = useSearchParams()
  const sheetId = Number(query.get('sheet')) || undefined
  const template = useQuery({ queryKey: ['template', id], queryFn: () => api.template(id!) })
  const sheet = useQuery({
    queryKey: ['sheet to render', sheetId],
    queryFn: ({ signal }) => api.sheet(sheetId!, signal),
    enabled: sheetId !== undefined,
  })
  const versionId = sheet.data?.version ?? (sheetId === undefined ? template.data?.versions[0]?.id : undefined)
  const version = useQuery({
    queryKey: ['version', versionId],
    queryFn: () => api.version(versionId!),
    enabled: versionId !== undefined,
  })
  const formats = useQuery({ queryKey: ['formats'], queryFn: api.formats })
  const error = template.error ?? sheet.error ?? version.error ?? formats.error
  return (
    <div className="flex h-full flex-col">
      <Header {...(template.data ? { template: template.data } : {})} here="New output" />
      {error && <Empty title="This could not be opened">{error.message}</Empty>}
      {template.data && sheetId === undefined && template.data.versions.length === 0 && (
        <Empty title="There is no version yet">Publish one in Hand-off; outputs are made of versions.</Empty>
      )}
      {version.data && formats.data && (sheetId === undefined || sheet.data) && (
        <Order formats={formats.data} version={version.data} {...(sheet.data ? { sheet: sheet.data } : {})} />
      )}
    </div>
  )
}

/** Rows as a person names them; undefined while they name none. */
function rowsFrom(text: string, count: number): number[] | undefined {
  try {
    return parseRows(text, count)
  } catch {
    return undefined
  }
}

/** Settings to put in place of others; undefined takes one away. */
type Change = { [K in keyof OutputSettings]?: OutputSettings[K] | undefined }

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
  const [busy, setBusy] = useState(false)
  const facts = outputFormats[settings.format]
  const change = (more: Change) =>
    setSettings((before) => {
      const next = { ...before, ...more } as Record<string, unknown>
      for (const [key, value] of Object.entries(next)) if (value === undefined) delete next[key]
      return next as unknown as OutputSettings
    })
  const drawn = useMemo(() => {
    try {
      return templateFor(settings, template)
    } catch {
      return template
    }
  }, [settings, template])
  const { scene } = useScene(drawn)
  const { frame, spans } = drawn
  const least = Math.max(1, spans.in + spans.out)
  const designed = spans.in + spans.hold.frames + spans.out
  const handles = settings.handles ?? { before: 0, after: 0 }
  const count = sheet?.rows.length ?? 0
  const chosen = rowsText === undefined ? undefined : rowsFrom(rowsText, count)
  const numbers = useMemo(
    () => chosen ?? sheet?.rows.flatMap((row, i) => (row.off ? [] : [i + 1])) ?? [],
    [chosen, sheet],
  )
  const pattern = settings.pattern ?? patternFor(template)
  const first = sheet?.rows[(numbers[0] ?? 1) - 1]
  const values = sheet && first ? valuesOf(template, sheet.match, first).values : template.poster.values
  const frames = facts.still
    ? 1
    : (durationOf(settings, template, first ?? {}) ?? designed) + handles.before + handles.after
  const names = useMemo(() => examples(sheet, numbers, version, settings), [sheet, numbers, version, settings])
  const ordered = (): OutputSettings => {
    const { backdrop, alpha, timecode, silent, handles: held, ...rest } = settings
    return {
      ...rest,
      ...(facts.alpha === 'either' && alpha ? { alpha } : {}),
      ...(facts.backdrop !== 'never' && backdrop ? { backdrop } : {}),
      ...(facts.timecode && timecode ? { timecode } : {}),
      ...(facts.sound && silent ? { silent } : {}),
      ...(held && !facts.still ? { handles: held } : {}),
      ...(chosen ? { rows: chosen } : {}),
    }
  }
  const order = async () => {
    setBusy(true)
    try {
      const output = sheet
        ? await api.render(sheet.id, ordered())
        : await api.flatten(version.id, { ...ordered(), parts: settings.parts ?? 'merged' })
      localStorage.setItem(remembered, settings.format)
      navigate(`/t/${version.template}/outputs/${output.id}`)
    } catch (error) {
      toast.error((error as ApiError).message)
      setBusy(false)
    }
  }
  const wide = Math.min(352, (300 * frame.width) / frame.height)
  const timing = scene?.timing(facts.still ? undefined : Math.max(least, frames - handles.before - handles.after))
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
            <PresetBar settings={ordered()} onTake={(taken) => setSettings(taken)} />
          </div>
          {sheet ? (
            <Section title="Rows">
              <Line
                label="Which"
                note={
                  rowsText !== undefined
                    ? chosen
                      ? `${chosen.length} of ${count}.`
                      : `Write rows from 1 to ${count} as 1-50 or 3,7,9.`
                    : `${numbers.length} of ${count}; rows that are switched off are left out.`
                }
              >
                {(id) => (
                  <span className="flex gap-1.5">
                    <Select
                      id={id}
                      value={rowsText === undefined ? 'all' : 'some'}
                      options={[
                        ['all', 'All of them'],
                        ['some', 'Some of them'],
                      ]}
                      onChange={(event) =>
                        setRowsText(event.target.value === 'all' ? undefined : `1-${Math.min(10, count)}`)
                      }
                    />
                    {rowsText !== undefined && (
                      <TextInput
                        aria-label="Rows to render"
                        value={rowsText}
                        onChange={(event) => setRowsText(event.target.value)}
                      />
                    )}
                  </span>
                )}
              </Line>
              <Tick
                label="Only changed"
                note="What the sheet's outputs in this format hold already is left out."
                checked={settings.changedOnly ?? false}
                onChange={(on) => change({ changedOnly: on || undefined })}
              />
              <Tick
                label="Without stops"
                note="Rows with a stop are left out; else they are held, each with its reason, until they are put right."
                checked={settings.withoutStops ?? false}
                onChange={(on) => change({ withoutStops: on || undefined })}
              />
            </Section>
          ) : (
            <Section title="Parts">
              <Line label="Clips">
                {() => (
                  <Choice
                    label="Clips"
                    value={settings.parts ?? 'merged'}
                    options={[
                      ['merged', 'Neighbours as one clip'],
                      ['apart', 'Every part by itself'],
                    ]}
                    onValue={(parts) => change({ parts })}
                  />
                )}
              </Line>
              <LayerList version={version.id} parts={settings.parts ?? 'merged'} />
            </Section>
          )}
          <Section title="Picture">
            <Line label="Frame size" note={sized(drawn, template)}>
              {(id) => (
                <SizeInput
                  id={id}
                  value={frame}
                  onValue={(size) => {
                    const same = size.width === template.frame.width && size.height === template.frame.height
                    const { width, height } = template.frame
                    const isOther = Math.abs(size.width / size.height - width / height) > 0.001
                    change({ size: same ? undefined : size, keepSizes: isOther || undefined })
                  }}
                />
              )}
            </Line>
            {settings.size && (
              <Tick
                label="Sizes grow"
                note="Sizes, gaps and strokes grow or shrink with the frame; else they stay as many px as they were drawn with."
                checked={!settings.keepSizes}
                onChange={(on) => change({ keepSizes: on ? undefined : true })}
              />
            )}
            {facts.alpha === 'either' && (
              <Line
                label="Alpha"
                note={
                  settings.alpha === 'premultiplied'
                    ? 'Colours are multiplied by alpha, as over black. Say so to the program that reads it.'
                    : 'Colours are kept whole under alpha. What most programs take for granted.'
                }
              >
                {() => (
                  <Choice
                    label="Alpha"
                    value={settings.alpha ?? 'straight'}
                    options={[
                      ['straight', 'straight'],
                      ['premultiplied', 'premultiplied'],
                    ]}
                    onValue={(alpha) => change({ alpha: alpha === 'straight' ? undefined : alpha })}
                  />
                )}
              </Line>
            )}
            {facts.backdrop !== 'never' && (
              <BackdropInput
                value={settings.backdrop}
                needed={facts.backdrop === 'always'}
                footage={settings.format === 'mp4'}
                onValue={(backdrop) => change({ backdrop })}
              />
            )}
          </Section>
          {!facts.still && (
            <Section title="Time">
              <Line label="Frames a second">
                {(id) => (
                  <RateInput
                    id={id}
                    value={frame.rate}
                    onValue={(rate) => {
                      const own = template.frame.rate
                      const same = rate.num * own.den === own.num * rate.den
                      change({ rate: same ? undefined : rate, frames: undefined })
                    }}
                  />
                )}
              </Line>
              <Line
                label="Frames each"
                note={`${secondsOf(settings.frames ?? designed, frame.rate).toFixed(2)} s; Hold gives, In and Out stay. At least ${least}.${sheet?.rows.some((row) => row.frames !== undefined) ? ' Rows with a length of their own keep it.' : ''}`}
              >
                {(id) => (
                  <NumberInput
                    id={id}
                    min={least}
                    value={settings.frames ?? designed}
                    onValue={(n) => {
                      const whole = Math.round(n)
                      change({ frames: whole === designed ? undefined : whole })
                    }}
                  />
                )}
              </Line>
              <Line label="Handles" note="Frames before and behind, the first and the last one held.">
                {(id) => (
                  <span className="flex items-center gap-1.5">
                    <NumberInput
                      id={id}
                      aria-label="Handle before, frames"
                      min={0}
                      max={10_000}
                      value={handles.before}
                      onValue={(n) => change({ handles: { ...handles, before: Math.round(n) } })}
                    />
                    +
                    <NumberInput
                      aria-label="Handle behind, frames"
                      min={0}
                      max={10_000}
                      value={handles.after}
                      onValue={(n) => change({ handles: { ...handles, after: Math.round(n) } })}
                    />
                  </span>
                )}
              </Line>
              {facts.timecode && (
                <Line label="Timecode" note="Of the file's first frame; empty: none.">
                  {(id) => (
                    <TextInput
                      id={id}
                      placeholder="10:00:00:00"
                      value={settings.timecode ?? ''}
                      onChange={(event) => change({ timecode: event.target.value || undefined })}
                    />
                  )}
                </Line>
              )}
              {facts.sound && template.sounds.length > 0 && (
                <Tick
                  label="Sound"
                  checked={!settings.silent}
                  onChange={(on) => change({ silent: on ? undefined : true })}
                />
              )}
            </Section>
          )}
          {sheet && (
            <Section title="Files">
              <Line
                label="File names"
                note={`Filled in: ${[...patternWords, ...template.fields.map(({ key }) => key)].map((word) => `{${word}}`).join(' ')}`}
              >
                {(id) => (
                  <TextInput id={id} value={pattern} onChange={(event) => change({ pattern: event.target.value })} />
                )}
              </Line>
              <Line label="Folders">
                {(id) => (
                  <Select
                    id={id}
                    value={settings.folders ?? ''}
                    options={[
                      ['', 'none'],
                      ['sheet', 'one for the sheet'],
                      ['template', 'one for the template'],
                    ]}
                    onChange={(event) =>
                      change({ folders: (event.target.value || undefined) as OutputSettings['folders'] })
                    }
                  />
                )}
              </Line>
            </Section>
          )}
        </div>
      </main>
      <aside className="flex min-h-0 flex-col overflow-auto border-l border-rule bg-paper px-5 py-4">
        <div
          className="relative mx-auto overflow-hidden border border-rule bg-[#7a7a77]"
          style={{ width: wide, height: (wide * frame.height) / frame.width }}
        >
          {facts.alpha === 'none' && settings.backdrop?.kind !== 'still' && settings.backdrop?.kind !== 'footage' ? (
            <span
              className="absolute inset-0"
              style={{ background: settings.backdrop?.kind === 'colour' ? settings.backdrop.colour : '#000' }}
            />
          ) : (
            <Backdrop frame={frame} />
          )}
          {scene && timing && (
            <FrameCanvas
              scene={scene}
              values={values}
              frame={Math.min(spanStart(timing, 'hold'), timing.total - 1)}
              duration={timing.total}
              width={wide}
              label="The first title as it will be"
            />
          )}
        </div>
        <dl className="mt-3 grid grid-cols-[92px_minmax(0,1fr)] gap-x-3 gap-y-1">
          <Fact name="Version">{version.number}</Fact>
          <Fact name="Frame">
            {frame.width} × {frame.height}
            {!facts.still && `, ${(frame.rate.num / frame.rate.den).toFixed(frame.rate.den === 1 ? 0 : 2)} a second`}
          </Fact>
          {!facts.still && (
            <Fact name="Length">
              {frames} frames, {secondsOf(frames, frame.rate).toFixed(2)} s
            </Fact>
          )}
          {names.length > 0 && (
            <Fact name="Files">
              {names.map((name) => (
                <span key={name} className="block truncate" title={name}>
                  {name}
                </span>
              ))}
              {numbers.length > names.length && (
                <span className="text-soft">and {numbers.length - names.length} more, with a manifest</span>
              )}
            </Fact>
          )}
        </dl>
        <div className="mt-auto flex items-center gap-3 pt-4">
          <Button
            look="primary"
            className="h-9 flex-1"
            disabled={busy || (sheet !== undefined && (numbers.length === 0 || (rowsText !== undefined && !chosen)))}
            onClick={order}
          >
            {busy
              ? 'Ordering …'
              : sheet
                ? `Render ${numbers.length} ${numbers.length === 1 ? 'row' : 'rows'}`
                : 'Render the clips'}
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

/** What the first few files will be called. */
function examples(
  sheet: SheetDetail | undefined,
  numbers: readonly number[],
  { content: template, number }: Version & { content: Template },
  settings: OutputSettings,
): string[] {
  if (!sheet) return []
  const nameOf = namer(template, settings, { sheet: sheet.name, version: number })
  const ending = outputFormats[settings.format].endings[0] ?? '/'
  return numbers
    .slice(0, 3)
    .map((n) => `${nameOf(n, valuesOf(template, sheet.match, sheet.rows[n - 1]!).values)}${ending}`)
}

function sized({ frame }: Template, template: Template): string {
  const { width, height } = template.frame
  if (frame.width === width && frame.height === height) return 'As designed.'
  const same = Math.abs(frame.width / frame.height - width / height) < 0.001
  return same ? 'Drawn anew at this size, not enlarged.' : 'Ties keep their meaning; look at the picture on the right.'
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="border-t border-rule py-2.5 first:border-t-0">
      <h2 className="pb-1 text-xs font-medium tracking-wide text-soft">{title}</h2>
      {children}
    </section>
  )
}

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd className="min-w-0">{children}</dd>
    </>
  )
}
