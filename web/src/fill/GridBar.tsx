import { type Match, type Row, withText } from '@hoja/core/data'
import { checkKinds, type Template } from '@hoja/core/template'
import { useMemo, useState } from 'react'
import { Button, classes, Line, Select, TextInput } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import { LengthInput } from '../ui/FrameInputs.tsx'
import { Menu } from '../ui/Menu.tsx'
import { each, filledDown, type Marked } from './rowEdits.ts'
import type { Edit, Found } from './sheetSession.ts'
import { type View, withoutRows } from './view.ts'

const shows: [View['show'], string][] = [
  ['all', 'all rows'],
  ['flagged', 'stop and look'],
  ['stop', 'stop only'],
  ['look', 'look only'],
  ['fine', 'fine only'],
  ['off', 'switched off'],
  ['noted', 'with a note'],
  ['changed', 'just changed'],
]

/** The codes found, most often first. */
export function codesOf(findings: Found): { code: string; rows: number }[] {
  const counts = new Map<string, number>()
  for (const own of findings) {
    if (!own || own.findings.length === 0) continue
    for (const code of new Set(own.findings.map((finding) => finding.code)))
      counts.set(code, (counts.get(code) ?? 0) + 1)
  }
  return [...counts].map(([code, rows]) => ({ code, rows })).sort((a, b) => b.rows - a.rows)
}

const codeWords = (code: string) =>
  checkKinds[code]?.label ??
  checkKinds[code.split('.')[0]!]?.label ??
  { empty: 'A required field is empty', limit: 'A limit is passed', value: 'Of another kind' }[code] ??
  code

/** What is shown of the rows, and what can be done with those that are marked. */
export function GridBar({
  template,
  match,
  rows,
  order,
  findings,
  view,
  marked,
  linked,
  typing,
  onView,
  onEdit,
  onFind,
}: {
  template: Template
  match: Match
  rows: readonly Row[]
  order: readonly number[]
  findings: Found
  view: View
  marked: Marked | undefined
  linked: boolean
  typing: string
  onView: (view: View) => void
  onEdit: Edit
  onFind: () => void
}) {
  const put = (more: Partial<View>) => onView({ ...view, ...more })
  const several = marked && marked.to - marked.from > 1 ? marked : undefined
  const chosen = several ? new Set(order.slice(several.from, several.to)) : new Set<number>()
  const write = (what: string, change: (row: Row) => Row) => onEdit(each(rows, chosen, change), what)
  const [setting, setSetting] = useState<'frames' | 'text'>()
  const codes = useMemo(() => codesOf(findings), [findings])
  if (typing)
    return (
      <p role="alert" className="flex h-9 shrink-0 items-center border-b border-rule px-3 text-stop">
        {typing}
      </p>
    )
  return (
    <div className="flex h-9 shrink-0 items-center gap-2 border-b border-rule px-2">
      {several ? (
        <>
          <b className="pl-1 font-semibold">{counted(chosen.size, 'row')}</b>
          <Menu
            className="border border-rule bg-white"
            entries={() => [
              {
                label: 'Fill down from the first',
                keys: 'Ctrl D',
                onSelect: () => onEdit(filledDown(rows, order, several, match, linked), 'filling down'),
              },
              { label: 'Write one text into all …', onSelect: () => setSetting('text') },
              null,
              { label: 'Switch off', onSelect: () => write('switching rows off', (row) => ({ ...row, off: true })) },
              { label: 'Switch on', onSelect: () => write('switching rows on', ({ off: _, ...row }) => row) },
              { label: 'Frames of their own …', onSelect: () => setSetting('frames') },
              null,
              ...(linked
                ? []
                : [{ label: 'Take out', onSelect: () => onEdit(withoutRows(chosen), 'taking rows out') }]),
            ]}
          >
            With these rows ▾
          </Menu>
        </>
      ) : (
        <>
          <Select
            aria-label="Show"
            className="!h-6 !w-32 text-xs"
            value={view.show}
            options={shows}
            onChange={(event) => put({ show: event.target.value as View['show'] })}
          />
          <Select
            aria-label="With what was found"
            className="!h-6 !w-40 text-xs"
            value={view.code}
            options={[
              ['', 'whatever was found'],
              ...codes.map(({ code, rows: n }): [string, string] => [code, `${codeWords(code)} (${n})`]),
            ]}
            onChange={(event) => put({ code: event.target.value })}
          />
          <Select
            aria-label="Order"
            className="!h-6 !w-32 text-xs"
            value={view.sort && `${view.sort}${view.down ? ' down' : ''}`}
            options={[
              ['', 'as they stand'],
              ['state', 'flagged first'],
              ...template.fields.flatMap(({ key, name }): [string, string][] => [
                [key, `${name} upwards`],
                [`${key} down`, `${name} downwards`],
              ]),
            ]}
            onChange={(event) => {
              const [sort = '', down] = event.target.value.split(' ')
              put({ sort, down: down === 'down' })
            }}
          />
          <Select
            aria-label="Group"
            className="!h-6 !w-28 text-xs"
            value={view.group}
            options={[
              ['', 'no groups'],
              ...template.fields.map(({ key, name }): [string, string] => [key, `by ${name}`]),
            ]}
            onChange={(event) => put({ group: event.target.value, only: undefined })}
          />
          <TextInput
            type="search"
            aria-label="Rows with this text"
            placeholder="with this text"
            className="!h-6 !w-28 text-xs"
            value={view.search}
            onChange={(event) => put({ search: event.target.value })}
          />
        </>
      )}
      <span className={classes('text-xs whitespace-nowrap text-soft', order.length === rows.length && 'hidden')}>
        {order.length} shown
      </span>
      <Button small className="ml-auto" onClick={onFind}>
        Replace …
      </Button>
      {setting && several && (
        <SetRows
          kind={setting}
          template={template}
          keys={several.keys}
          rows={chosen.size}
          onClose={() => setSetting(undefined)}
          onText={(key, text) => write('one text in all', (row) => withText(match, key, row, text, linked))}
          onFrames={(frames) =>
            write('frames of their own', ({ frames: _, ...row }) => (frames === undefined ? row : { ...row, frames }))
          }
        />
      )}
    </div>
  )
}

function SetRows({
  kind,
  template,
  keys,
  rows,
  onText,
  onFrames,
  onClose,
}: {
  kind: 'frames' | 'text'
  template: Template
  keys: readonly string[]
  rows: number
  onText: (key: string, text: string) => void
  onFrames: (frames: number | undefined) => void
  onClose: () => void
}) {
  const { spans } = template
  const least = Math.max(1, spans.in + spans.out)
  const [frames, setFrames] = useState(spans.in + spans.hold.frames + spans.out)
  const [key, setKey] = useState(keys[0] ?? template.fields[0]?.key ?? '')
  const [text, setText] = useState('')
  const done = (work: () => void) => () => {
    work()
    onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={kind === 'frames' ? `Frames of ${counted(rows, 'row')}` : `One text in ${counted(rows, 'row')}`}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {kind === 'frames' && <Button onClick={done(() => onFrames(undefined))}>As the output says</Button>}
          <Button variant="primary" onClick={done(() => (kind === 'frames' ? onFrames(frames) : onText(key, text)))}>
            Set {counted(rows, 'row')}
          </Button>
        </>
      }
    >
      {kind === 'frames' ? (
        <Line label="Frames each" note={`At least ${least}; Hold gives, In and Out stay.`}>
          {(id) => <LengthInput id={id} rate={template.frame.rate} min={least} value={frames} onValue={setFrames} />}
        </Line>
      ) : (
        <div className="flex items-center gap-2">
          <Select
            aria-label="Field"
            className="!w-40"
            value={key}
            options={template.fields.map((field): [string, string] => [field.key, field.name])}
            onChange={(event) => setKey(event.target.value)}
          />
          <TextInput aria-label="Text" value={text} onChange={(event) => setText(event.target.value)} />
        </div>
      )}
    </Dialog>
  )
}
