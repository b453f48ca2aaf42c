import type { MatchedPreview, Sheet } from '@hoja/core/api'
import { sourceWords, usedColumns } from '@hoja/core/data'
import { type DataPreview, encodings, type Link, type ReadOptions } from '@hoja/core/formats'
import type { Template } from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { RadioGroup } from 'radix-ui'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { Choice } from '../ui/Choice.tsx'
import { Button, Checkbox, Line, Select, TextInput } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import { useWrite } from '../ui/useWrite.ts'

const separators: [string, string][] = [
  [',', 'comma'],
  [';', 'semicolon'],
  ['\t', 'tab'],
  ['|', 'bar'],
]

/** Where rows come from: a file that is brought in, or what is followed from now on. */
export type Source = { kind: 'file'; file: File } | { kind: 'link'; link: Link }

function nameOf(source: Source): string {
  if (source.kind === 'file') return source.file.name
  const { link } = source
  return (link.kind === 'file' ? link.path : new URL(link.url).pathname).split('/').at(-1) || 'feed'
}

/** Rows looked at before anything of them is kept: which sheet, which row names the columns, what they fill. */
export function ImportSheet({
  source,
  version,
  onDone,
  onParts,
  onClose,
}: {
  source: Source
  version: { id: number; number: number }
  onDone: (sheet: Sheet) => void
  /** Its worksheets, or rows, for several templates. */
  onParts: (file: File) => void
  onClose: () => void
}) {
  const called = nameOf(source)
  const [options, setOptions] = useState<ReadOptions>({})
  const [name, setName] = useState(called)
  const stop = useRef<AbortController>(undefined)
  const primary = useRef<HTMLButtonElement>(null)
  const template = useQuery({
    queryKey: ['version', version.id],
    queryFn: () => api.version({ id: version.id }),
    staleTime: Number.POSITIVE_INFINITY,
  })
  const preview = useQuery({
    queryKey: [
      'preview',
      ...(source.kind === 'file'
        ? [called, source.file.size, source.file.lastModified]
        : [JSON.stringify(source.link)]),
      version.id,
      JSON.stringify(options),
    ],
    queryFn: ({ signal }) =>
      source.kind === 'file'
        ? api.previewSheet({ file: source.file, version: version.id, options: JSON.stringify(options) }, signal)
        : api.previewLink({ version: version.id, link: { ...source.link, options } }, signal),
    // What was seen last stays while another way of reading is tried.
    placeholderData: (previous) => previous,
    retry: false,
    gcTime: 0,
  })
  // A choice shows at once, what comes of it when the file has been read so.
  const data = preview.data && { ...preview.data, options: { ...preview.data.options, ...options } }
  const isSeen = !!preview.data
  const wasSeen = useRef(false)
  /** Whether a person has begun to do something here. */
  const touched = useRef(false)
  const touch = () => {
    touched.current = true
  }
  // Enter brings it in, once it can be seen what that is; nobody is called away from what they are typing or choosing.
  useEffect(() => {
    if (isSeen && !wasSeen.current && !touched.current) primary.current?.focus()
    wasSeen.current ||= isSeen
  }, [isSeen])
  /** Another choice; undefined is left to be found out. */
  const put = (more: { [K in keyof ReadOptions]: ReadOptions[K] | undefined }) =>
    setOptions((now) =>
      Object.fromEntries(Object.entries({ ...now, ...more }).filter(([, value]) => value !== undefined)),
    )
  const bring = useWrite(
    ({ signal }: AbortController) =>
      source.kind === 'file'
        ? api.importSheet({ file: source.file, version: version.id, options: JSON.stringify(options), name }, signal)
        : api.followLink({ version: version.id, name, link: { ...source.link, options } }),
    {
      onDone,
      onRefused: (error) => {
        if (!stop.current?.signal.aborted) toast.error(error.message, { duration: 10_000 })
      },
    },
  )
  const busy = bring.isPending || bring.isSuccess
  const start = () => {
    stop.current = new AbortController()
    bring.mutate(stop.current)
  }
  return (
    <Dialog
      open
      wide
      onOpenChange={onClose}
      title={source.kind === 'file' ? `Bring in ${called}` : `Follow ${called}`}
      footer={
        <>
          {source.kind === 'file' && (
            <Button variant="quiet" className="mr-auto" disabled={busy} onClick={() => onParts(source.file)}>
              For several templates …
            </Button>
          )}
          {busy && <progress aria-label="Bringing in" className="mr-2 h-7 w-40 accent-leaf" />}
          {busy ? (
            <Button onClick={() => stop.current?.abort()}>Stop</Button>
          ) : (
            <Button onClick={onClose}>Cancel</Button>
          )}
          <Button
            ref={primary}
            variant="primary"
            disabled={busy || !data || !!preview.error || preview.isPlaceholderData}
            onClick={() => start()}
          >
            {busy
              ? 'Bringing in …'
              : data
                ? `${source.kind === 'file' ? 'Bring in' : 'Follow'} ${data.options.together ? `one title of ${counted(data.entries ?? 0, 'row')}` : counted(data.count, 'row')}`
                : source.kind === 'file'
                  ? 'Bring in'
                  : 'Follow'}
          </Button>
        </>
      }
    >
      <div onPointerDown={touch} onInput={touch}>
        {preview.isPending && <p className="text-soft">Reading {called} …</p>}
        {preview.error && (
          <p className="pb-2 text-stop" role="alert">
            {preview.error.message}
          </p>
        )}
        {(isJson(called) || data?.kind === 'json' || (source.kind === 'link' && preview.error)) && (
          // In one place from the beginning: what is typed while the file is read stays.
          <PathLine path={data?.options.path ?? options.path} onPath={(path) => put({ path })} />
        )}
        {data && (
          <>
            {data.note && (
              <p className="mb-2 border border-leaf bg-leaf-pale px-2 py-1" role="status">
                {data.note}
              </p>
            )}
            <div className="grid grid-cols-2 gap-x-6">
              <Ways data={data} onOptions={put} />
              <Line label="Called">
                {(id) => <TextInput id={id} value={name} onChange={(event) => setName(event.target.value)} />}
              </Line>
            </div>
            {data.doubt && (
              <p className="mt-1 border border-look px-2 py-1 text-look" role="alert">
                {data.doubt}
              </p>
            )}
            {template.data && <Matched data={data} template={template.data.content} />}
            {data.head.length > 0 && <Head data={data} onHeader={(header) => put({ header })} />}
            <h3 className="pt-3 pb-1 text-xs font-medium text-soft">
              {data.options.together
                ? `${counted(data.entries ?? 0, 'row')}, as they come in: one title`
                : data.count === 1
                  ? 'The row, as it comes in'
                  : `The first of ${counted(data.count, 'row')}, as they come in`}
            </h3>
            <Table columns={data.columns} rows={data.rows} />
          </>
        )}
      </div>
    </Dialog>
  )
}

/** The ways in which a file of its kind can be read. */
function Ways({
  data,
  onOptions,
}: {
  data: DataPreview
  onOptions: (more: { [K in keyof ReadOptions]: ReadOptions[K] | undefined }) => void
}) {
  const { options } = data
  return (
    <>
      {data.entries !== undefined && (
        <Line label="Rows">
          {() => (
            <Choice
              label="What the rows are"
              value={options.together ? 'together' : 'apart'}
              options={[
                ['together', 'one title together'],
                ['apart', 'a title each'],
              ]}
              onValue={(value) => onOptions({ together: value === 'together' })}
            />
          )}
        </Line>
      )}
      {data.sheets && (
        <Line label={data.kind === 'timeline' ? 'What of it' : 'Worksheet'}>
          {(id) => (
            <Select
              id={id}
              value={options.sheet ?? ''}
              options={data.sheets!.map((sheet): [string, string] => [
                sheet.name,
                `${sheet.name} (${sheet.rows} x ${sheet.columns}${sheet.hidden ? ', hidden' : ''}${matchedWords(sheet.matched)})`,
              ])}
              // Another sheet has its own row of names.
              onChange={(event) => onOptions({ sheet: event.target.value, header: undefined })}
            />
          )}
        </Line>
      )}
      {data.kind === 'workbook' && (
        <>
          <Line label="Cells">
            {() => (
              <Choice
                label="Cells"
                value={options.as ?? 'displayed'}
                options={[
                  ['displayed', 'as displayed'],
                  ['values', 'as kept'],
                ]}
                onValue={(as) => onOptions({ as })}
              />
            )}
          </Line>
          <Line label="Hidden ones">
            {(id) => (
              <label className="flex items-center gap-1.5 pt-1">
                <Checkbox
                  id={id}
                  checked={options.hidden === true}
                  onValue={(checked) => onOptions({ hidden: checked })}
                />
                hidden rows and columns too
              </label>
            )}
          </Line>
        </>
      )}
      {data.kind === 'text' && (
        <Line label="Written in">
          {(id) => (
            <Select
              id={id}
              value={options.encoding ?? 'utf-8'}
              options={Object.entries(encodings)}
              onChange={(event) => onOptions({ encoding: event.target.value })}
            />
          )}
        </Line>
      )}
      {data.kind === 'text' && (
        <Line label="Parted by">
          {(id) => (
            <Select
              id={id}
              value={options.separator ?? ','}
              options={
                separators.some(([mark]) => mark === options.separator)
                  ? separators
                  : [...separators, [options.separator ?? '', options.separator ?? '']]
              }
              onChange={(event) => onOptions({ separator: event.target.value })}
            />
          )}
        </Line>
      )}
      {data.kind === 'json' && (
        <Line label="Rows">
          {(id) => (
            <Select
              id={id}
              value={data.arrays!.some((array) => array.path === options.path) ? options.path! : ''}
              options={[
                ['', 'by a path of its own'],
                ...data.arrays!.map((array): [string, string] => [
                  array.path,
                  `${array.path === '$' ? 'the document itself' : array.path} (${counted(array.rows, 'row')}: ${array.columns.slice(0, 3).join(', ')}${array.columns.length > 3 ? ' …' : ''}${matchedWords(array.matched)})`,
                ]),
              ]}
              onChange={(event) => event.target.value && onOptions({ path: event.target.value })}
            />
          )}
        </Line>
      )}
    </>
  )
}

const isJson = (name: string) => /\.json$/i.test(name)

/** Where the rows are in a JSON file: it can be said before the file was read, and when it can't be read as it is. */
function PathLine({ path, onPath }: { path: string | undefined; onPath: (path: string | undefined) => void }) {
  /** From when somebody is in it on: what it said then, and what is typed. What is found out meanwhile changes neither. */
  const [entry, setEntry] = useState<{ before: string; typed: string }>()
  const shown = path ?? ''
  return (
    <Line label="Path" note="RFC 9535, as in $..talks[?@.day == 2]; empty: found out">
      {(id) => (
        <TextInput
          id={id}
          value={entry?.typed ?? shown}
          placeholder="$.talks"
          // A dialog that opens takes the focus to itself for a moment: what was typed by then stays.
          onFocus={() => setEntry((own) => own ?? { before: shown, typed: shown })}
          onChange={(event) => setEntry({ before: entry?.before ?? shown, typed: event.target.value })}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          onBlur={() => {
            if (entry && entry.typed.trim() !== entry.before) onPath(entry.typed.trim() || undefined)
            setEntry(undefined)
          }}
        />
      )}
    </Line>
  )
}

/** How many of the template's fields rows would fill. */
const matchedWords = (matched: number | undefined) =>
  matched === undefined ? '' : matched === 0 ? ', matches nothing' : `, matches ${counted(matched, 'field')}`

/** What each field will be filled with. */
function Matched({ data, template }: { data: MatchedPreview; template: Template }) {
  const used = new Set(usedColumns(data.match))
  const unused = data.columns.filter((column) => !used.has(column))
  return (
    <p className="pt-2">
      {template.fields.map((field) => {
        const column = data.match[field.key]
        return (
          <span key={field.id} className="mr-3 inline-block">
            <b className="font-semibold">{field.name}</b>{' '}
            <span className={column ? '' : field.required ? 'text-look' : 'text-soft'}>
              {column ? `from ${sourceWords(column)}` : 'at its default'}
            </span>
          </span>
        )
      })}
      {unused.length > 0 && <span className="mr-3 text-soft">Not used: {unused.join(', ')}.</span>}
      {data.remembered && <span className="text-soft">Matched as you last matched these columns.</span>}
    </p>
  )
}

/** The top of the file as it stands, for choosing the row that names the columns. */
function Head({ data, onHeader }: { data: DataPreview; onHeader: (header: number) => void }) {
  const header = data.options.header ?? 1
  const shown = data.head.slice(0, Math.max(5, header + 1))
  return (
    <div className="pt-2">
      <h3 className="text-xs font-medium text-soft">
        {header === 0 ? 'No row names the columns' : `Row ${header} names the columns`}: choose another
      </h3>
      <RadioGroup.Root
        aria-label="The row that names the columns"
        className="mt-1 max-h-44 overflow-auto border border-rule"
        value={String(header)}
        onValueChange={(row) => onHeader(Number(row))}
      >
        {shown.map((row, i) => (
          <RadioGroup.Item
            key={i}
            value={String(i + 1)}
            className="flex w-full gap-3 border-b border-rule px-2 py-0.5 text-left last:border-0 hover:bg-chalk data-[state=checked]:bg-leaf-pale data-[state=checked]:font-semibold"
          >
            <span className="w-6 shrink-0 text-right text-soft">{i + 1}</span>
            <span className="truncate">{row.map((cell) => cell.trim() || '·').join('  |  ')}</span>
          </RadioGroup.Item>
        ))}
        <RadioGroup.Item
          value="0"
          className="w-full px-2 py-0.5 text-left hover:bg-chalk data-[state=checked]:bg-leaf-pale data-[state=checked]:font-semibold"
        >
          None of them: number the columns
        </RadioGroup.Item>
      </RadioGroup.Root>
    </div>
  )
}

function Table({ columns, rows }: { columns: string[]; rows: string[][] }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reached by keyboard (WCAG 2.2, 2.1.1)
    <div className="max-h-64 overflow-auto border border-rule" tabIndex={0} role="region" aria-label="The first rows">
      <table className="w-full border-collapse text-left">
        <thead>
          <tr>
            {columns.map((column) => (
              <th
                key={column}
                className="sticky top-0 border-b border-rule bg-chalk px-2 py-1 text-xs font-medium whitespace-nowrap"
              >
                {column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <tr key={i} className="border-b border-rule last:border-0">
              {columns.map((column, c) => (
                <td key={column} className="max-w-64 truncate px-2 py-0.5">
                  {row[c]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
