import {
  allUnits,
  type Conversion,
  type ConversionKind,
  cellOf,
  columnsOf,
  conversionKinds,
  converted,
  fromSource,
  kindredUnits,
  type Match,
  type Mix,
  offeredSources,
  type Row,
  readCell,
  refuseConversion,
  refuseFieldValue,
  refuseMatch,
  type Source,
} from '@hoja/core/data'
import { described, type Field, languages, type Template } from '@hoja/core/template'
import { useState } from 'react'
import { Button, Checkbox, classes, Select, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { LanguageInput } from '../ui/LanguageInput.tsx'
import { Menu } from '../ui/Menu.tsx'
import { NumberInput } from '../ui/NumberInput.tsx'
import { TimeMatch } from '../ui/TimeMatch.tsx'

/** Which columns fill which field, put together and converted, each with what comes of the first rows. */
export function MatchDialog({
  template,
  columns,
  match: before,
  rows,
  onMatch,
  onClose,
}: {
  template: Template
  columns: readonly string[]
  match: Match
  /** Some rows to show what comes of them. */
  rows: readonly Row[]
  onMatch: (match: Match) => void
  onClose: () => void
}) {
  const [match, setMatch] = useState(before)
  const refused = refuseMatch(template, match)
  return (
    <Dialog
      open
      wide
      onOpenChange={onClose}
      title="What fills which field"
      footer={
        <>
          {refused && <span className="mr-auto self-center text-stop">{refused}</span>}
          <Button onClick={onClose}>Cancel</Button>
          <Button
            variant="primary"
            disabled={!!refused}
            onClick={() => {
              if (match !== before) onMatch(match)
              onClose()
            }}
          >
            Use this match
          </Button>
        </>
      }
    >
      <ul>
        {template.fields.map((field) => (
          <li
            key={field.id}
            aria-label={field.name}
            className="grid grid-cols-[120px_minmax(0,1fr)_minmax(0,300px)] gap-3 border-b border-rule py-1.5 last:border-0"
          >
            <span className="pt-1">
              <b className="font-semibold">{field.name}</b>
              {field.required && <span className="block text-xs text-soft">required</span>}
            </span>
            <SourceEditor
              field={field}
              language={field.language ?? template.language}
              columns={columns}
              source={match[field.key]}
              rows={rows}
              onSource={(source) => {
                const { [field.key]: _, ...rest } = match
                setMatch(source === undefined ? rest : { ...rest, [field.key]: source })
              }}
            />
            <Examples template={template} field={field} source={match[field.key]} rows={rows} />
          </li>
        ))}
      </ul>
      <TimeMatch template={template} columns={columns} match={match} rows={rows} onMatch={setMatch} />
    </Dialog>
  )
}

/** What comes of the first rows that say something. */
function Examples({
  template,
  field,
  source,
  rows,
}: {
  template: Template
  field: Field
  source: Source | undefined
  rows: readonly Row[]
}) {
  if (source === undefined) return <p className="pt-1 text-xs text-soft">Stands at its default.</p>
  const said = rows
    .map((row) => ({
      before: columnsOf(source).map((c) => cellOf(row.cells, c) ?? ''),
      ...fromSource(source, row.cells),
    }))
    .filter(({ text }) => text?.trim())
    .slice(0, 2)
  const marks = typeof source === 'object' ? source.marks : undefined
  if (said.length === 0) return <p className="pt-1 text-xs text-look">Empty in the first rows.</p>
  return (
    <ul className="pt-0.5 text-xs">
      {said.map(({ before, text, problem }, i) => {
        const refused = problem ?? refuseFieldValue(template, field, readCell(template, field, text!, marks))?.message
        const isSame = before.length === 1 && before[0] === text
        return (
          <li key={i} className="truncate" title={refused}>
            {!isSame && before.length > 0 && <span className="text-soft">{before.join(' + ')} → </span>}
            <span className={classes(refused && 'text-look')}>{text}</span>
          </li>
        )
      })}
    </ul>
  )
}

const mixOf = (source: Source | undefined): Mix =>
  source === undefined ? { columns: [], constant: '' } : typeof source === 'string' ? { columns: [source] } : source

/** A mix that is a column as it stands is that column. */
function plainest(mix: Mix): Source {
  return mix.columns.length === 1 && !mix.conversions?.length && !mix.marks ? mix.columns[0]! : mix
}

function SourceEditor({
  field,
  language,
  columns,
  source,
  rows,
  onSource,
}: {
  field: Field
  /** Of its words. */
  language: string | undefined
  columns: readonly string[]
  source: Source | undefined
  /** Some rows, by which it is told which columns have several lines. */
  rows: readonly Row[]
  onSource: (source: Source | undefined) => void
}) {
  const mix = mixOf(source)
  const kind = source === undefined ? 'none' : mix.columns.length === 0 ? 'constant' : 'columns'
  const put = (more: Partial<Mix>) => onSource(plainest({ ...mix, ...more }))
  const conversions = mix.conversions ?? []
  const putConversions = (next: Conversion[]) => {
    const { conversions: _, ...rest } = mix
    onSource(plainest(next.length > 0 ? { ...rest, conversions: next } : rest))
  }
  const options = columns.map((column): [string, string] => [`c ${column}`, column])
  const offered = offeredSources({
    columns,
    rows: rows.map(({ cells }) => columns.map((column) => cellOf(cells, column) ?? '')),
  })
  const at = offered.findIndex((one) => JSON.stringify(one.source) === JSON.stringify(source))
  return (
    <div>
      <div className="flex flex-wrap items-center gap-1.5">
        <Select
          aria-label={`What fills ${field.name}`}
          className="!w-48"
          value={kind !== 'columns' ? kind : at >= 0 ? `o ${at}` : `c ${mix.columns[0]}`}
          options={[
            ['none', 'its default'],
            ['constant', 'the same in every row'],
            ...offered.map(({ words }, i): [string, string] => [`o ${i}`, words]),
            ...(kind === 'columns' && at < 0 ? [[`c ${mix.columns[0]}`, mix.columns[0]!] as [string, string]] : []),
          ]}
          onChange={(event) => {
            const { value } = event.target
            if (value === 'none') onSource(undefined)
            else if (value === 'constant') onSource({ columns: [], constant: '' })
            else if (value.startsWith('o ')) {
              const { source: next } = offered[Number(value.slice(2))]!
              // Another column in the first place of several, or for the same steps; a piece is whole by itself.
              if (typeof next === 'string' && kind === 'columns' && at < 0)
                put({ columns: [next, ...mix.columns.slice(1)] })
              else onSource(next)
            }
          }}
        />
        {kind === 'constant' && (
          <TextInput
            aria-label={`${field.name} in every row`}
            className="!w-48"
            value={mix.constant ?? ''}
            onChange={(event) => put({ constant: event.target.value })}
          />
        )}
        {mix.columns.slice(1).map((column, i) => (
          <span key={column} className="flex items-center gap-1">
            <TextInput
              aria-label={`Between them, before ${column}`}
              title="Between them"
              className="!w-9 text-center"
              value={mix.between ?? ' '}
              onChange={(event) => put({ between: event.target.value })}
            />
            <Select
              aria-label={`Then, for ${field.name}`}
              className="!w-36"
              value={`c ${column}`}
              options={[['', 'none'], ...options]}
              onChange={(event) => {
                const next = [...mix.columns]
                if (event.target.value) next[i + 1] = event.target.value.slice(2)
                else next.splice(i + 1, 1)
                put({ columns: next })
              }}
            />
          </span>
        ))}
        {kind === 'columns' && (field.type === 'number' || field.type === 'numbers') && (
          <Select
            aria-label={`How ${field.name} writes numbers`}
            title="How this column writes numbers"
            className="!w-40"
            value={mix.marks ?? ''}
            options={[
              ['', 'each as it is written'],
              ['.', 'numbers as 1,204.5'],
              [',', 'numbers as 1.204,5'],
            ]}
            onChange={(event) => {
              const { marks: _, ...rest } = mix
              onSource(plainest(event.target.value ? { ...rest, marks: event.target.value as '.' } : rest))
            }}
          />
        )}
        {kind !== 'none' && (
          <Menu
            label={`More for ${field.name}`}
            className="border border-rule bg-white"
            entries={() => [
              ...(kind === 'columns' && mix.columns.length < columns.length
                ? [
                    {
                      label: 'Join another column',
                      onSelect: () =>
                        put({ columns: [...mix.columns, columns.find((c) => !mix.columns.includes(c))!] }),
                    },
                    null,
                  ]
                : []),
              'Convert',
              ...(Object.entries(conversionKinds) as [ConversionKind, (typeof conversionKinds)[ConversionKind]][]).map(
                ([, { label, first, example }]) => ({
                  label,
                  keys: `${example.trim().replace('\n', ' / ')} → ${converted(example, [first]).text}`,
                  onSelect: () =>
                    putConversions([
                      ...conversions,
                      first.kind === 'case' && language ? { ...first, language } : first,
                    ]),
                }),
              ),
            ]}
          >
            More ▾
          </Menu>
        )}
      </div>
      {conversions.map((conversion, i) => (
        <div key={i} className="flex flex-wrap items-center gap-1.5 pt-1">
          <span className="text-xs text-soft">then</span>
          <ConversionEditor
            conversion={conversion}
            onConversion={(next) => putConversions(conversions.map((one, n) => (n === i ? next : one)))}
          />
          <Button
            small
            variant="quiet"
            aria-label={`Without ${conversionKinds[conversion.kind].label}`}
            onClick={() => putConversions(conversions.filter((_, n) => n !== i))}
          >
            ✕
          </Button>
          {refuseConversion(conversion) && <span className="text-xs text-stop">{refuseConversion(conversion)}</span>}
        </div>
      ))}
    </div>
  )
}

const small = '!h-6 text-xs'

function ConversionEditor({
  conversion,
  onConversion,
}: {
  conversion: Conversion
  onConversion: (conversion: Conversion) => void
}) {
  const { label } = conversionKinds[conversion.kind]
  switch (conversion.kind) {
    case 'trim':
      return <span className="text-xs">{label}</span>
    case 'case':
      return (
        <>
          <Select
            aria-label={label}
            className={`${small} !w-40`}
            value={conversion.to}
            options={[
              ['words', 'Every Word'],
              ['sentence', 'As a sentence'],
              ['upper', 'ALL CAPITALS'],
              ['lower', 'no capitals'],
            ]}
            onChange={(event) => onConversion({ ...conversion, to: event.target.value as 'upper' })}
          />
          <span className="text-xs">in</span>
          <LanguageInput
            aria-label="Language of the capitals"
            value={conversion.language ?? ''}
            empty="no language"
            onValue={(language) => {
              const { language: _, ...rest } = conversion
              onConversion(language ? { ...rest, language } : rest)
            }}
          />
        </>
      )
    case 'number':
      return (
        <Select
          aria-label={label}
          className={`${small} !w-44`}
          value={conversion.mark}
          options={[
            [',', 'a number as 1.204,5'],
            ['.', 'a number as 1,204.5'],
          ]}
          onChange={(event) => onConversion({ kind: 'number', mark: event.target.value as ',' })}
        />
      )
    case 'date':
      return (
        <>
          <span className="text-xs">a date as</span>
          <TextInput
            aria-label="Date pattern"
            title="By UTS #35, as in d MMMM yyyy"
            className={`${small} !w-28`}
            value={conversion.as}
            onChange={(event) => onConversion({ ...conversion, as: event.target.value })}
          />
          <Select
            aria-label="Language of the date"
            className={`${small} !w-28`}
            value={conversion.language}
            options={Object.entries(languages).map(([tag, { name }]): [string, string] => [tag, name])}
            onChange={(event) => onConversion({ ...conversion, language: event.target.value })}
          />
          <span className="text-xs">written</span>
          <TextInput
            aria-label="Written as"
            placeholder="2026-11-26"
            className={`${small} !w-28`}
            value={conversion.to}
            onChange={(event) => onConversion({ ...conversion, to: event.target.value })}
          />
        </>
      )
    case 'words':
      return (
        <TextInput
          aria-label={label}
          title="Pairs: in service = yes; laid up = no"
          className={`${small} !w-72`}
          defaultValue={conversion.pairs.map((pair) => pair.join(' = ')).join('; ')}
          onBlur={(event) =>
            onConversion({
              kind: 'words',
              pairs: event.target.value
                .split(';')
                .map((pair) => pair.split('=').map((word) => word.trim()))
                .filter(([from]) => from)
                .map(([from, to = '']): [string, string] => [from!, to]),
            })
          }
        />
      )
    case 'unit':
      return (
        <>
          <Select
            aria-label="From unit"
            className={`${small} !w-20`}
            value={conversion.from}
            options={allUnits.map((unit): [string, string] => [unit, unit])}
            onChange={(event) => {
              const from = event.target.value
              const to = kindredUnits(from).includes(conversion.to) ? conversion.to : kindredUnits(from)[0]!
              onConversion({ ...conversion, from, to })
            }}
          />
          <span className="text-xs">in</span>
          <Select
            aria-label="To unit"
            className={`${small} !w-20`}
            value={conversion.to}
            options={kindredUnits(conversion.from).map((unit): [string, string] => [unit, unit])}
            onChange={(event) => onConversion({ ...conversion, to: event.target.value })}
          />
          <span className="text-xs">decimals</span>
          <NumberInput
            aria-label="Decimals"
            className={`${small} !w-12`}
            bounds={described.decimals}
            value={conversion.decimals}
            onValue={(decimals) => onConversion({ ...conversion, decimals })}
          />
        </>
      )
    case 'piece':
      return (
        <>
          <Select
            aria-label="Parted by"
            className={`${small} !w-24`}
            value={conversion.by}
            options={[
              ['line', 'line'],
              ['dash', 'dashes, part'],
              ['comma', 'commas, part'],
            ]}
            onChange={(event) => onConversion({ ...conversion, by: event.target.value as 'line' })}
          />
          <NumberInput
            aria-label="Which one"
            bounds={{ least: 1, most: 20, step: 1, whole: true }}
            value={conversion.at}
            onValue={(at) => onConversion({ ...conversion, at })}
          />
          <label className="flex items-center gap-1 text-xs">
            <Checkbox
              checked={conversion.rest === true}
              onValue={(rest) =>
                onConversion({ kind: 'piece', by: conversion.by, at: conversion.at, ...(rest ? { rest } : {}) })
              }
            />
            and what follows
          </label>
        </>
      )
    case 'replace':
      return (
        <>
          <TextInput
            aria-label="Find"
            className={`${small} !w-28`}
            value={conversion.find}
            onChange={(event) => onConversion({ ...conversion, find: event.target.value })}
          />
          <span className="text-xs">becomes</span>
          <TextInput
            aria-label="Put instead"
            className={`${small} !w-28`}
            value={conversion.put}
            onChange={(event) => onConversion({ ...conversion, put: event.target.value })}
          />
          <label className="flex items-center gap-1 text-xs">
            <Checkbox checked={conversion.pattern} onValue={(pattern) => onConversion({ ...conversion, pattern })} />
            as a pattern
          </label>
        </>
      )
  }
}
