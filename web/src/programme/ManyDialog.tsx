import { stateOf } from '@hoja/core/data'
import {
  type ClipId,
  type Done,
  designFrom,
  firstWords,
  moved,
  offTracks,
  type Programme,
  swapOf,
  swapped,
  timecodeIn,
  titleOf,
  titlesOf,
  withDurations,
  withField,
  withReplaced,
} from '@hoja/core/programme'
import { Refusal } from '@hoja/core/refusal'
import { shapesOf } from '@hoja/core/template'
import { lengthWords, parseLength } from '@hoja/core/time'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { Button, Checkbox, Line, Select, StateWord, TextInput } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import type { ProgrammeSession } from './programmeSession.ts'
import { usePlaceable } from './usePlaceable.ts'
import { useSession, useView } from './useProgramme.ts'

export type ManyKind = 'swap' | 'shift' | 'length' | 'replace' | 'field'

export const manyWords: Record<ManyKind, string> = {
  swap: 'Put on another template or version …',
  shift: 'Shift in time …',
  length: 'Set their length …',
  replace: 'Find and replace words …',
  field: 'Set a field: colours, a switch …',
}

/** What was done, and what stays as it is with the reason. */
function tell(session: ProgrammeSession, { done, left }: Done, what: string): void {
  if (left.length === 0) return void toast.success(`${counted(done.length, 'title')} ${what}.`)
  const names = left.slice(0, 2).map(({ id, why }) => `${nameOf(session.programme, id)}: ${why}`)
  toast.warning(`${counted(done.length, 'title')} ${what}; ${left.length} as before. ${names.join(' ')}`)
}
const nameOf = (programme: Programme, id: ClipId) => firstWords(programme, titleOf(programme, id))

/** One thing done to many titles at once: those that are chosen, or all. */
export function ManyDialog({ kind, onClose }: { kind: ManyKind; onClose: () => void }) {
  const programme = useView((view) => view.programme)
  const chosen = useView((view) => view.chosen)
  const own = titlesOf(programme).filter(({ id }) => chosen.includes(id))
  const [all, setAll] = useState(own.length < 2)
  const ids = (all ? titlesOf(programme) : own).map(({ id }) => id)
  const which = (
    <Line label="Which">
      {(id) => (
        <Select
          id={id}
          value={all ? 'all' : 'chosen'}
          options={[
            ...(own.length > 0 ? [['chosen', `the ${counted(own.length, 'title')} chosen`] as [string, string]] : []),
            ['all', `all ${counted(titlesOf(programme).length, 'title')}`],
          ]}
          onChange={(event) => setAll(event.target.value === 'all')}
        />
      )}
    </Line>
  )
  const Form = forms[kind]
  return <Form ids={ids} which={which} onClose={onClose} />
}

interface FormProps {
  ids: readonly ClipId[]
  which: ReactNode
  onClose: () => void
}

/** The frame of such a dialog. */
function Doing({
  title,
  action,
  can,
  onDo,
  onClose,
  children,
}: {
  title: string
  action: string
  can: boolean
  onDo: () => void
  onClose: () => void
  children: ReactNode
}) {
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={title}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={!can} onClick={onDo}>
            {action}
          </Button>
        </>
      }
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (can) onDo()
        }}
      >
        {children}
        <button type="submit" hidden />
      </form>
    </Dialog>
  )
}

/** Frames that somebody wrote; why they are none, in a sentence. */
function readFrames(text: string, rate: Programme['picture']['rate']): number | string {
  const isLess = text.trim().startsWith('-')
  try {
    const frames = parseLength(text.trim().replace(/^[-+]\s*/, ''), rate)
    return isLess ? -frames : frames
  } catch (error) {
    if (error instanceof Refusal) return error.message
    throw error
  }
}

const spelled = 'frames as 125, seconds as 5 s, or a timecode as 00:00:05:00'

function Shift({ ids, which, onClose }: FormProps) {
  const session = useSession()
  const { rate } = useView((view) => view.programme.picture)
  const [text, setText] = useState('')
  const by = text.trim() === '' ? undefined : readFrames(text, rate)
  return (
    <Doing
      title="Shift titles in time"
      action={`Shift ${counted(ids.length, 'title')}`}
      can={typeof by === 'number' && by !== 0 && ids.length > 0}
      onClose={onClose}
      onDo={() => {
        if (session.change((own) => moved(own, ids, by as number), 'shift')) onClose()
      }}
    >
      {which}
      <Line label="By" note={`later; earlier with a minus: ${spelled}`}>
        {(id) => <TextInput id={id} autoFocus value={text} onChange={(event) => setText(event.target.value)} />}
      </Line>
      {by !== undefined && <p className="text-soft">{typeof by === 'string' ? by : lengthWords(by, rate)}</p>}
    </Doing>
  )
}

function Lengths({ ids, which, onClose }: FormProps) {
  const session = useSession()
  const { rate } = useView((view) => view.programme.picture)
  const [text, setText] = useState('5 s')
  const frames = readFrames(text, rate)
  return (
    <Doing
      title="Set the length of titles"
      action={`Set ${counted(ids.length, 'title')}`}
      can={typeof frames === 'number' && frames > 0 && ids.length > 0}
      onClose={onClose}
      onDo={() => {
        const result = withDurations(session.programme, ids, frames as number)
        if (result.done.length > 0) session.change(() => result.programme, 'lengths')
        tell(session, result, `are ${lengthWords(frames as number, rate)} long`)
        onClose()
      }}
    >
      {which}
      <Line label="Length" note={spelled}>
        {(id) => <TextInput id={id} autoFocus value={text} onChange={(event) => setText(event.target.value)} />}
      </Line>
      <p className="text-soft">{typeof frames === 'string' ? frames : lengthWords(frames, rate)}</p>
    </Doing>
  )
}

function Replace({ ids, which, onClose }: FormProps) {
  const session = useSession()
  const programme = useView((view) => view.programme)
  const [search, setSearch] = useState({ find: '', pattern: false, case: false, whole: false })
  const [put, setPut] = useState('')
  const { changed } = withReplaced(programme, ids, search, put)
  return (
    <Doing
      title="Find and replace words"
      action={`Replace in ${counted(changed, 'text')}`}
      can={changed > 0}
      onClose={onClose}
      onDo={() => {
        if (session.change((own) => withReplaced(own, ids, search, put).programme, 'replace words')) onClose()
      }}
    >
      {which}
      <Line label="Find">
        {(id) => (
          <TextInput
            id={id}
            autoFocus
            value={search.find}
            onChange={(event) => setSearch({ ...search, find: event.target.value })}
          />
        )}
      </Line>
      <Line label="Put">
        {(id) => <TextInput id={id} value={put} onChange={(event) => setPut(event.target.value)} />}
      </Line>
      <p className="flex gap-4 pt-1">
        {(
          [
            ['case', 'capitals count'],
            ['whole', 'the whole text'],
            ['pattern', 'a pattern'],
          ] as const
        ).map(([key, label]) => (
          <label key={key} className="flex items-center gap-1.5">
            <Checkbox checked={search[key]} onValue={(on) => setSearch({ ...search, [key]: on })} /> {label}
          </label>
        ))}
      </p>
    </Doing>
  )
}

function FieldOfAll({ ids, which, onClose }: FormProps) {
  const session = useSession()
  const programme = useView((view) => view.programme)
  const templates = useView((view) => view.templates)
  const designs = [...new Set(ids.map((id) => titleOf(programme, id).design))]
  const [asked, setDesign] = useState<string>()
  const design = asked !== undefined && designs.includes(asked) ? asked : designs[0]
  const template = design === undefined ? undefined : templates.get(design)
  const fields =
    template?.fields.filter(({ type }) => ['choice', 'switch', 'colour', 'text', 'number'].includes(type)) ?? []
  const order = [...fields].sort((a, b) => Number(b.type === 'choice') - Number(a.type === 'choice'))
  const [askedKey, setKey] = useState<string>()
  const field = order.find(({ key }) => key === askedKey) ?? order[0]
  const options: [string, string][] | undefined =
    field?.type === 'choice'
      ? (field.options ?? []).map((option) => [option.value, option.name])
      : field?.type === 'switch'
        ? [
            ['yes', 'yes'],
            ['no', 'no'],
          ]
        : field?.type === 'colour' && !field.free
          ? (template?.palette ?? []).map(({ name }) => [name, name])
          : undefined
  const [text, setText] = useState<string>()
  const value = text ?? options?.[0]?.[0] ?? ''
  const own = ids.filter((id) => titleOf(programme, id).design === design)
  return (
    <Doing
      title="Set a field of many titles"
      action={`Set ${counted(own.length, 'title')}`}
      can={field !== undefined && own.length > 0}
      onClose={onClose}
      onDo={() => {
        if (session.change((now) => withField(now, own, field!.key, value), `set ${field!.name}`)) onClose()
      }}
    >
      {which}
      <Line label="Template">
        {(id) => (
          <Select
            id={id}
            value={design ?? ''}
            options={designs.map((one): [string, string] => [
              one,
              `${programme.designs[one]!.name}, version ${programme.designs[one]!.number}`,
            ])}
            onChange={(event) => setDesign(event.target.value)}
          />
        )}
      </Line>
      <Line label="Field">
        {(id) => (
          <Select
            id={id}
            value={field?.key ?? ''}
            options={order.map(({ key, name }): [string, string] => [key, name])}
            onChange={(event) => {
              setKey(event.target.value)
              setText(undefined)
            }}
          />
        )}
      </Line>
      <Line label="Is">
        {(id) =>
          options ? (
            <Select id={id} value={value} options={options} onChange={(event) => setText(event.target.value)} />
          ) : (
            <TextInput id={id} value={value} onChange={(event) => setText(event.target.value)} />
          )
        }
      </Line>
    </Doing>
  )
}

function SwapForm({ ids, which, onClose }: FormProps) {
  const session = useSession()
  const programme = useView((view) => view.programme)
  const templates = useView((view) => view.templates)
  const placeable = usePlaceable(Object.values(programme.designs).map(({ template }) => template))
  const [asked, setAsked] = useState<string>()
  const target = placeable.find(({ id }) => id === asked) ?? placeable[0]
  const detail = useQuery({
    queryKey: ['template', target?.id],
    queryFn: () => api.template({ id: target!.id }),
    enabled: !!target,
  })
  const versions = detail.data?.versions ?? []
  const [number, setNumber] = useState<number>()
  const version = versions.find((one) => one.number === number) ?? versions[0]
  const after = useQuery({
    queryKey: ['version', version?.id],
    queryFn: () => api.version({ id: version!.id }),
    enabled: !!version,
    staleTime: Number.POSITIVE_INFINITY,
  }).data?.content
  const designs = [...new Set(ids.map((id) => titleOf(programme, id).design))]
  const swaps = after
    ? designs.flatMap((design) => {
        const before = templates.get(design)
        return before ? [{ design, before, swap: swapOf(before, after) }] : []
      })
    : []
  const made =
    after && version && swaps.length === designs.length
      ? swapped(programme, ids, {
          key: String(version.id),
          design: designFrom(programme, version, after),
          swap: (from) => swaps.find(({ design }) => design === from)!.swap,
          shapes: new Set(shapesOf(after).map(({ id }) => id)),
        })
      : undefined
  return (
    <Doing
      title="Put titles on another template or version"
      action={`Put ${counted(made?.done.length ?? 0, 'title')} on it`}
      can={(made?.done.length ?? 0) > 0}
      onClose={onClose}
      onDo={() => {
        if (!made) return
        if (!session.change(() => made.programme, 'another template')) return
        tell(session, made, `are "${target!.name}" now`)
        onClose()
      }}
    >
      {which}
      <Line label="Template">
        {(id) => (
          <Select
            id={id}
            value={target?.id ?? ''}
            options={placeable.map((one): [string, string] => [one.id, one.name])}
            onChange={(event) => {
              setAsked(event.target.value)
              setNumber(undefined)
            }}
          />
        )}
      </Line>
      <Line label="Version">
        {(id) => (
          <Select
            id={id}
            value={String(version?.number ?? '')}
            options={versions.map((one): [string, string] => [String(one.number), `${one.number}: ${one.note}`])}
            onChange={(event) => setNumber(Number(event.target.value))}
          />
        )}
      </Line>
      <section aria-label="What becomes of the words">
        {swaps.map(({ design, before, swap }) => (
          <p key={design} className="pt-1.5">
            <b className="font-semibold">{before.name}</b>:{' '}
            {Object.entries(swap.to)
              .map(([from, to]) => {
                const [a, b] = [fieldName(before, from), fieldName(after!, to)]
                return a === b ? a : `${a} goes to ${b}`
              })
              .join(', ') || 'nothing stays'}
            .{' '}
            {swap.lost.length > 0 && (
              <StateWord state="look">
                {swap.lost.map(({ name }) => name).join(', ')} {swap.lost.length === 1 ? 'is' : 'are'} let go.
              </StateWord>
            )}{' '}
            {swap.fresh.length > 0 && (
              <span className="text-soft">
                {swap.fresh.map(({ name }) => name).join(', ')} {swap.fresh.length === 1 ? 'stands' : 'stand'} at the
                default.
              </span>
            )}
          </p>
        ))}
        {made?.left.slice(0, 4).map(({ id, why }) => (
          <p key={id} className="pt-1">
            <StateWord state="look">{timecodeIn(programme, titleOf(programme, id).at)}</StateWord> {why}
          </p>
        ))}
      </section>
    </Doing>
  )
}

const fieldName = ({ fields }: { fields: { key: string; name: string }[] }, key: string) =>
  fields.find((field) => field.key === key)?.name ?? key

const forms: Record<ManyKind, (props: FormProps) => ReactNode> = {
  swap: SwapForm,
  shift: Shift,
  length: Lengths,
  replace: Replace,
  field: FieldOfAll,
}

/** How many titles stop, are to be looked at, and are fine. */
export function useStates() {
  const programme = useView((view) => view.programme)
  const findings = useView((view) => view.findings)
  const counts = { stop: 0, look: 0, fine: 0 }
  const off = offTracks(programme)
  for (const { id, clip } of titlesOf(programme)) if (!off.has(clip.track)) counts[stateOf(findings.get(id) ?? [])]++
  return counts
}
