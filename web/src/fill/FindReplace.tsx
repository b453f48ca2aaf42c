import { givenText, type Match, type Row, withText } from '@hoja/core/data'
import { expressionOf, isFound, refusePatternText, replaced, type Search } from '@hoja/core/pattern'
import { inPlace } from '@hoja/core/session'
import type { Template } from '@hoja/core/template'
import { useMemo, useState } from 'react'
import { Button, Checkbox, Line, Select, TextInput } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import type { Edit } from './sheetSession.ts'

const ticks: ['case' | 'whole' | 'pattern', string][] = [
  ['case', 'capitals count'],
  ['whole', 'the whole cell'],
  ['pattern', 'as a pattern'],
]

/** Finds texts in the rows shown, and puts others in their place. */
export function FindReplace({
  template,
  match,
  rows,
  order,
  linked,
  onEdit,
  onChoose,
  onClose,
}: {
  template: Template
  match: Match
  rows: readonly Row[]
  order: readonly number[]
  linked: boolean
  onEdit: Edit
  onChoose: (row: number) => void
  onClose: () => void
}) {
  const [search, setSearch] = useState<Search>({ find: '', pattern: false, case: false, whole: false })
  const [put, setPut] = useState('')
  const [key, setKey] = useState('')
  const expression = useMemo(() => expressionOf(search), [search])
  const hits = useMemo(() => {
    if (!expression) return []
    const keys = key ? [key] : template.fields.map((field) => field.key)
    return order.flatMap((row) =>
      keys.flatMap((own) => {
        const { text } = givenText(match, own, rows[row]!)
        return text && isFound(text, expression) ? [{ row, key: own, text }] : []
      }),
    )
  }, [expression, key, template, match, rows, order])
  const all = () => {
    const written = new Map<number, Row>()
    for (const { row, key: own, text } of hits)
      written.set(
        row,
        withText(match, own, written.get(row) ?? rows[row]!, replaced(text, expression!, put, search.pattern), linked),
      )
    onEdit(inPlace(written), 'replacing')
    onClose()
  }
  const broken = search.find !== '' && !expression
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Find and replace"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={hits.length === 0} onClick={all}>
            Replace in {counted(hits.length, 'cell')}
          </Button>
        </>
      }
    >
      <Line label="Find">
        {(id) => (
          <TextInput
            id={id}
            value={search.find}
            onChange={(event) => setSearch({ ...search, find: event.target.value })}
          />
        )}
      </Line>
      <Line label="Put instead">
        {(id) => <TextInput id={id} value={put} onChange={(event) => setPut(event.target.value)} />}
      </Line>
      <Line label="In">
        {(id) => (
          <Select
            id={id}
            value={key}
            options={[
              ['', 'every field'],
              ...template.fields.map((field): [string, string] => [field.key, field.name]),
            ]}
            onChange={(event) => setKey(event.target.value)}
          />
        )}
      </Line>
      <Line label="So that">
        {() => (
          <span className="flex gap-4 pt-1">
            {ticks.map(([name, words]) => (
              <label key={name} className="flex items-center gap-1.5">
                <Checkbox checked={search[name]} onValue={(checked) => setSearch({ ...search, [name]: checked })} />
                {words}
              </label>
            ))}
          </span>
        )}
      </Line>
      {broken && (
        <p role="alert" className="pt-1 text-stop">
          "{search.find}" {refusePatternText(search.find) ?? 'is no pattern; look at its brackets'}.
        </p>
      )}
      <ul aria-label="What is found" className="mt-2 max-h-52 overflow-auto border-t border-rule">
        {hits.slice(0, 100).map((hit) => (
          <li key={`${hit.row} ${hit.key}`}>
            <button
              type="button"
              className="flex w-full gap-3 px-1 py-0.5 text-left hover:bg-leaf-pale"
              onClick={() => onChoose(hit.row)}
            >
              <span className="w-8 text-right text-soft">{hit.row + 1}</span>
              <span className="truncate">{hit.text}</span>
              <span className="ml-auto truncate text-leaf">{replaced(hit.text, expression!, put, search.pattern)}</span>
            </button>
          </li>
        ))}
      </ul>
    </Dialog>
  )
}
