import {
  fromSource,
  givenText,
  isGivenBy,
  type Match,
  marksFor,
  type Row,
  readCell,
  refuseFieldValue,
  standsWords,
  withText,
  writeCell,
} from '@hoja/core/data'
import { colourOf } from '@hoja/core/scene'
import { type Field, noPictureWord, type Template } from '@hoja/core/template'
import { createContext, useContext, useLayoutEffect, useRef, useState } from 'react'
import type { CellProps } from 'react-datasheet-grid'
import { classes } from '../ui/controls.tsx'

/** What a cell of a field has to know. */
export interface FieldColumn {
  template: Template
  field: Field
  match: Match
  /** Names of pictures that a cell may call. */
  pictures: readonly string[]
  linked: boolean
  /** What is wrong with a text while it is typed. */
  onTyping: (message: string) => void
}

/** Field keys by row that came in just now. */
export const ChangedCells = createContext<ReadonlyMap<Row, ReadonlySet<string>>>(new Map())

type Props = CellProps<Row, FieldColumn>

/** Why a text may not stand in a field. */
const refusalOf = ({ template, field, match }: Pick<FieldColumn, 'template' | 'field' | 'match'>, text: string) =>
  text.trim() === ''
    ? field.required
      ? 'is empty and must not be'
      : undefined
    : refuseFieldValue(template, field, readCell(template, field, text, marksFor(match, field.key)))?.message

/** A field's text in a row, and whether it stands at the field's default. */
export function cellText(match: Match, field: Field, row: Row): { text: string; isDefault: boolean } {
  const { text } = givenText(match, field.key, row)
  return { text: text ?? '', isDefault: !isGivenBy(field, text) }
}

/** A cell of the grid: shown by the kind of its field, edited in place, looked at while it is typed. */
export function FieldCell(props: Props) {
  if (props.columnData.field.type === 'switch') return <SwitchCell {...props} />
  return props.focus ? <Editor {...props} /> : <Shown {...props} />
}

/** What stands in a cell, and what is to be said of it. */
function useCellState({ rowData, columnData }: Props) {
  const { template, field, match } = columnData
  const changed = useContext(ChangedCells).get(rowData)?.has(field.key)
  const { text, isDefault } = cellText(match, field, rowData)
  const isOwn = rowData.own?.[field.key] !== undefined
  const refused = isDefault ? (field.required ? 'is empty' : undefined) : refusalOf(columnData, text)
  const title = refused
    ? `${field.name} ${refused}`
    : isOwn
      ? `Set by hand; the data says "${fromSource(match[field.key], rowData.cells).text ?? ''}"`
      : isDefault
        ? 'At its default'
        : undefined
  const look = classes(
    'flex size-full items-center gap-1.5 overflow-hidden px-2',
    changed && 'bg-leaf-pale shadow-[inset_3px_0_0_var(--color-leaf)]',
    refused && !isDefault && 'text-stop underline decoration-wavy',
  )
  const shown = isDefault
    ? field.stands
      ? standsWords[field.stands]
      : writeCell(template, field, field.default)
    : text
  return { text: shown, isDefault, isOwn, refused, title, look }
}

/** A cell is one line high: where lines of a text end is marked. */
const inOneLine = (text: string) => text.replaceAll('\n', ' ⏎ ')

const ownMark = <span className="size-1.5 shrink-0 rounded-full bg-leaf" role="img" aria-label="set by hand" />

function Shown(props: Props) {
  const { field } = props.columnData
  const { text, isDefault, isOwn, refused, title, look } = useCellState(props)
  return (
    <span className={look} title={title}>
      {isOwn && ownMark}
      {refused || field.type === 'text' || (isDefault && field.stands) ? (
        <span className={classes('truncate', isDefault && 'text-soft italic')}>{inOneLine(text)}</span>
      ) : (
        <Kind column={props.columnData} text={text} isDefault={isDefault} />
      )}
    </span>
  )
}

/** A text that is right, shown as what it stands for. */
function Kind({ column, text, isDefault }: { column: FieldColumn; text: string; isDefault: boolean }) {
  const { template, field, match } = column
  const value = readCell(template, field, text, marksFor(match, field.key))
  if (Array.isArray(value) && field.type === 'numbers')
    return <Spark values={value as number[]} isDefault={isDefault} />
  if (Array.isArray(value) && field.type === 'texts')
    return (
      <span className={classes('truncate', isDefault && 'text-soft italic')}>
        {(value as string[]).filter((one) => one !== '').join(' · ')}
      </span>
    )
  const named = template.palette.find((entry) => `palette:${entry.id}` === value)
  return (
    <>
      {field.type === 'colour' && (
        <span
          className="size-3.5 shrink-0 border border-rule"
          style={{ background: colourOf(template, String(value)) }}
          aria-hidden="true"
        />
      )}
      <span className={classes('truncate', isDefault && 'text-soft italic')}>{named?.name ?? inOneLine(text)}</span>
    </>
  )
}

/** A switch, which turns over when it is entered. */
function SwitchCell(props: Props) {
  const { rowData, setRowData, columnData, focus, stopEditing } = props
  const { template, field, match, linked } = columnData
  const { text, isDefault, isOwn, refused, title, look } = useCellState(props)
  const isOn = readCell(template, field, text) === true
  const toggle = () => setRowData(withText(match, field.key, rowData, isOn ? 'no' : 'yes', linked))
  const turn = useRef(toggle)
  turn.current = toggle
  useLayoutEffect(() => {
    if (!focus) return
    turn.current()
    stopEditing({ nextRow: false })
  }, [focus, stopEditing])
  return (
    <span className={look} title={title}>
      {isOwn && ownMark}
      {refused ? (
        <span className="truncate">{text}</span>
      ) : (
        <input
          type="checkbox"
          tabIndex={-1}
          aria-label={`${field.name}: ${isOn ? 'yes' : 'no'}`}
          className={classes('size-4 accent-leaf', isDefault && 'opacity-50')}
          checked={isOn}
          onChange={toggle}
        />
      )}
    </span>
  )
}

/** A list of numbers as the line that it draws. */
function Spark({ values, isDefault }: { values: readonly number[]; isDefault: boolean }) {
  const [low, high] = [Math.min(...values), Math.max(...values)]
  const points = values
    .map((value, i) => {
      const x = values.length > 1 ? (i / (values.length - 1)) * 100 : 50
      return `${x.toFixed(1)},${(high === low ? 10 : 18 - ((value - low) / (high - low)) * 16).toFixed(1)}`
    })
    .join(' ')
  return (
    <svg
      role="img"
      aria-label={`${values.length} numbers from ${low} to ${high}`}
      viewBox="0 0 100 20"
      preserveAspectRatio="none"
      className={classes('h-5 w-full', isDefault ? 'text-soft' : 'text-ink')}
    >
      <polyline
        points={points}
        fill="none"
        stroke="currentColor"
        strokeWidth="1.2"
        vectorEffect="non-scaling-stroke"
        strokeDasharray={isDefault ? '3 2' : undefined}
      />
    </svg>
  )
}

/** The texts that a cell is chosen among, with what they are called; undefined: it is written freely. */
function choicesOf({ template, field, pictures }: FieldColumn, text: string): [string, string][] | undefined {
  const named = (list: [string, string][]): [string, string][] => [
    ['', field.type === 'picture' && field.empty === 'none' ? 'none' : 'default'],
    ...(text === '' || list.some(([value]) => value === text) ? [] : [[text, text] as [string, string]]),
    ...list,
  ]
  if (field.type === 'choice') return named((field.options ?? []).map((option) => [option.value, option.name]))
  if (field.type === 'colour' && !field.free) return named(template.palette.map(({ name }) => [name, name]))
  if (field.type === 'picture' && !text.startsWith('{'))
    return named([
      ...(field.empty === 'none' ? [] : [[noPictureWord(field), 'none'] as [string, string]]),
      ...pictures.map((name): [string, string] => [name, name]),
    ])
  return undefined
}

const editorClasses = 'size-full bg-white px-2 outline-2 -outline-offset-2 outline-leaf'

function Editor({ rowData, setRowData, columnData, stopEditing }: Props) {
  const { field, match, linked, onTyping } = columnData
  const { text } = cellText(match, field, rowData)
  const [draft, setDraft] = useState(text)
  const input = useRef<HTMLInputElement & HTMLSelectElement & HTMLTextAreaElement>(null)
  const isCancelled = useRef(false)
  /** Where the caret goes once a line has been put in. */
  const caret = useRef<number>(undefined)
  const refused = refusalOf(columnData, draft)
  const commit = useRef(() => {})
  commit.current = () => {
    onTyping('')
    if (!isCancelled.current && draft !== text) setRowData(withText(match, field.key, rowData, draft, linked))
  }
  useLayoutEffect(() => {
    input.current?.focus()
    input.current?.select?.()
    return () => commit.current()
  }, [])
  // biome-ignore lint/correctness/useExhaustiveDependencies: after every change of the text
  useLayoutEffect(() => {
    if (caret.current !== undefined) input.current?.setSelectionRange(caret.current, caret.current)
    caret.current = undefined
  }, [draft])
  const put = (next: string) => {
    setDraft(next)
    const message = refusalOf(columnData, next)
    onTyping(message ? `${field.name} ${message}.` : '')
  }
  const choices = choicesOf(columnData, text)
  const common = {
    ref: input,
    'aria-label': field.name,
    'aria-invalid': refused !== undefined,
    className: classes(editorClasses, refused && 'text-stop outline-stop'),
  }
  if (choices)
    return (
      <select
        {...common}
        value={draft}
        onChange={(event) => {
          put(event.target.value)
        }}
        onKeyDown={(event) => {
          if (event.key === 'Escape') isCancelled.current = true
          if (event.key === 'Escape' || event.key === 'Enter') stopEditing({ nextRow: event.key === 'Enter' })
        }}
      >
        {choices.map(([value, label]) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
    )
  if (field.type === 'texts' || (field.type === 'text' && (field.lines !== 1 || text.includes('\n'))))
    return (
      <textarea
        {...common}
        rows={draft.split('\n').length}
        placeholder={field.placeholder}
        title="Alt Enter begins another line"
        className={classes(common.className, '!absolute top-0 left-0 z-10 min-h-full resize-none py-1 leading-5')}
        style={{ height: 9 + 20 * draft.split('\n').length }}
        value={draft}
        onChange={(event) => put(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Escape') isCancelled.current = true
          if (event.key !== 'Enter') return
          // Enter is the grid's own, as in any other cell; with Alt it is the text's.
          event.preventDefault()
          if (!event.altKey) return
          event.stopPropagation()
          const { selectionStart: from, selectionEnd: to } = event.currentTarget
          put(`${draft.slice(0, from)}\n${draft.slice(to)}`)
          caret.current = from + 1
        }}
      />
    )
  const isMoment = field.type === 'moment' && (text === '' || /^\d{4}-\d{2}-\d{2}/.test(text))
  return (
    <input
      {...common}
      type={isMoment ? (String(field.default).length > 10 ? 'datetime-local' : 'date') : 'text'}
      inputMode={field.type === 'number' ? 'decimal' : undefined}
      placeholder={field.placeholder}
      value={draft}
      onChange={(event) => put(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Escape') isCancelled.current = true
      }}
    />
  )
}
