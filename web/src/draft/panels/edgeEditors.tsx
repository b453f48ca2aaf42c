import { edgeWord, shareOf, targetWords } from '@hoja/core/layout'
import {
  type Axis,
  type AxisName,
  allParts,
  described,
  type Edge,
  type Part,
  type Size,
  type Target,
  type Template,
  type Tie,
  type WhenGone,
} from '@hoja/core/template'
import { useDraft } from '../../session/draft.ts'
import { Button, Line, Select } from '../../ui/controls.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { useDesk } from '../desk.ts'

const followWords: [Tie['follow'], string][] = [
  ['settled', 'where it comes to rest'],
  ['moving', 'while it moves'],
]
const goneWords: [WhenGone, string][] = [
  ['collapse', 'close up to where it would start'],
  ['hide', 'go too'],
  ['keep', 'stay as if it were there'],
]
const regionOptions: [string, string][] = [
  ['region:title', 'title-safe'],
  ['region:action', 'action-safe'],
  ['region:frame', 'the frame'],
  ['region:group', 'its group'],
]

const edgeOptions = (axis: AxisName): [string, string][] =>
  (['start', 'middle', 'end'] as Edge[]).map((edge) => [edge, edgeWord(axis, edge)])
const targetKey = (target: Target) => ('region' in target ? `region:${target.region}` : target.parts.join(','))

function TargetSelect({
  id,
  template,
  part,
  target,
  onTarget,
}: {
  id: string
  template: Template
  part: Part
  /** Undefined: nothing yet. */
  target: Target | undefined
  onTarget: (target: Target) => void
}) {
  const others = allParts(template.parts).filter((other) => other.id !== part.id)
  const key = target ? targetKey(target) : ''
  const several: [string, string][] =
    target && 'parts' in target && target.parts.length > 1 ? [[key, targetWords(template, others, target)]] : []
  return (
    <Select
      id={id}
      value={key}
      options={[
        ...(target ? [] : [['', 'nothing'] as [string, string]]),
        ...several,
        ...others.map((other): [string, string] => [other.id, other.name]),
        ...regionOptions,
      ]}
      onChange={(event) => {
        const value = event.target.value
        onTarget(value.startsWith('region:') ? ({ region: value.slice(7) } as Target) : { parts: value.split(',') })
      }}
    />
  )
}

/** One tie: what the edge holds to, and how. */
export function TieEditor({
  template,
  part,
  axis,
  edge,
}: {
  template: Template
  part: Part
  axis: AxisName
  edge: Edge
}) {
  const { change } = useDraft.getState()
  const { pick, set } = useDesk()
  const spec = part[axis]
  const tie = spec.ties.find((t) => t.edge === edge)
  const word = edgeWord(axis, edge)
  const put = (value: Axis, drag?: string) =>
    change({ kind: 'axis', part: part.id, axis, value }, `the ${word} of ${part.name}`, drag)
  const picking = pick?.for === 'edge' && pick.part === part.id && pick.axis === axis && pick.edge === edge
  const pickButton = (
    <Button
      small
      variant={picking ? 'primary' : 'plain'}
      onClick={() => set({ pick: picking ? undefined : { for: 'edge', part: part.id, axis, edge } })}
    >
      Pick on the frame
    </Button>
  )
  if (!tie)
    return (
      <div className="flex flex-wrap items-center gap-2">
        {spec.ties.length === 2 ? (
          <span className="text-soft">Two edges are tied already; tying this one lets go of the second.</span>
        ) : spec.ties.length === 0 && edge === 'start' ? (
          <span className="flex items-center gap-2">
            <label htmlFor="place">stands at</label>
            <NumberInput
              id="place"
              className="!w-20"
              bounds={described.gap}
              value={spec.place}
              onValue={(place) => put({ ...spec, place })}
            />
          </span>
        ) : null}
        <span className="flex items-center gap-2">
          <label htmlFor="holds" className="text-soft">
            Holds to
          </label>
          <TargetSelect
            id="holds"
            template={template}
            part={part}
            target={undefined}
            onTarget={(to) => {
              const fresh: Tie = { edge, to, at: edge, gap: 0, follow: 'settled', gone: 'collapse' }
              put({ ...spec, ties: [...spec.ties.slice(0, 1), fresh] })
            }}
          />
        </span>
        {pickButton}
        {edge !== 'middle' && !spec.ties.some((t) => t.edge === 'middle') && spec.ties.length < 2 && (
          <Button small onClick={() => set({ pick: { for: 'edge', part: part.id, axis, edge: 'middle' } })}>
            Hold by the {edgeWord(axis, 'middle')} instead
          </Button>
        )}
      </div>
    )
  const renew = (more: Partial<Tie>, drag?: string) =>
    put({ ...spec, ties: spec.ties.map((t) => (t === tie ? { ...tie, ...more } : t)) }, drag)
  return (
    <div>
      <Line label="Holds to">
        {(id) => (
          <TargetSelect id={id} template={template} part={part} target={tie.to} onTarget={(to) => renew({ to })} />
        )}
      </Line>
      <Line label="At its">
        {(id) => (
          <Select
            id={id}
            value={typeof tie.at === 'number' ? 'share' : tie.at}
            options={[...edgeOptions(axis), ['share', 'share across']]}
            onChange={(event) =>
              renew({ at: event.target.value === 'share' ? shareOf(tie.at) : (event.target.value as Edge) })
            }
          />
        )}
      </Line>
      {typeof tie.at === 'number' && (
        <Line label="Share, %">
          {(id) => (
            <NumberInput
              id={id}
              bounds={described.at}
              percent
              value={shareOf(tie.at)}
              onValue={(at) => renew({ at })}
            />
          )}
        </Line>
      )}
      <Line label="Gap, px">
        {(id) => (
          <NumberInput
            id={id}
            bounds={described.gap}
            value={tie.gap}
            onValue={(gap) => renew({ gap }, `gap ${part.id}${axis}${edge}`)}
          />
        )}
      </Line>
      <Line label="Follows it">
        {(id) => (
          <Select
            id={id}
            value={tie.follow}
            options={followWords}
            onChange={(event) => renew({ follow: event.target.value as Tie['follow'] })}
          />
        )}
      </Line>
      <Line label="When it is gone">
        {(id) => (
          <Select
            id={id}
            value={tie.gone}
            options={goneWords}
            onChange={(event) => renew({ gone: event.target.value as WhenGone })}
          />
        )}
      </Line>
      <div className="mt-1 flex gap-2">
        {pickButton}
        <Button small onClick={() => put({ ...spec, ties: spec.ties.filter((t) => t !== tie) })}>
          Untie
        </Button>
      </div>
    </div>
  )
}

/** How large the part is on an axis, where its ties leave that open. */
export function SizeEditor({
  template,
  part,
  axis,
  now,
}: {
  template: Template
  part: Part
  axis: AxisName
  now: number
}) {
  const { change } = useDraft.getState()
  const spec = part[axis]
  const put = (value: Axis) =>
    change({ kind: 'axis', part: part.id, axis, value }, `the ${edgeWord(axis, 'size')} of ${part.name}`)
  const kinds: [string, string][] = [
    ['fixed', 'fixed'],
    ...(part.kind === 'text' || part.kind === 'picture' || part.kind === 'group'
      ? [['content', part.kind === 'group' ? 'what it holds' : 'its own'] as [string, string]]
      : []),
    ['share', 'a share of something'],
  ]
  const size = spec.size
  const setKind = (kind: string) => {
    const next: Size =
      kind === 'fixed'
        ? { kind: 'fixed', value: Math.round(now) }
        : kind === 'content'
          ? { kind: 'content' }
          : { kind: 'share', of: { region: 'frame' }, factor: 0.5, plus: 0 }
    put({ ...spec, size: next })
  }
  const limit = (which: 'min' | 'max', text: string) => {
    const { [which]: _, ...rest } = spec
    const number = Number(text)
    put(text.trim() === '' || !Number.isFinite(number) ? (rest as Axis) : { ...spec, [which]: Math.max(0, number) })
  }
  return (
    <div>
      {spec.ties.length === 2 ? (
        <p className="pb-1 text-soft">Follows from its two ties.</p>
      ) : (
        <>
          <Line label="Size">
            {(id) => (
              <Select id={id} value={size.kind} options={kinds} onChange={(event) => setKind(event.target.value)} />
            )}
          </Line>
          {size.kind === 'fixed' && (
            <Line label="px">
              {(id) => (
                <NumberInput
                  id={id}
                  bounds={described.fixedSize}
                  value={size.value}
                  onValue={(value) => put({ ...spec, size: { kind: 'fixed', value } })}
                />
              )}
            </Line>
          )}
          {size.kind === 'share' && (
            <>
              <Line label="Of">
                {(id) => (
                  <TargetSelect
                    id={id}
                    template={template}
                    part={part}
                    target={size.of}
                    onTarget={(of) => put({ ...spec, size: { ...size, of } })}
                  />
                )}
              </Line>
              <Line label="Share, %">
                {(id) => (
                  <NumberInput
                    id={id}
                    bounds={described.factor}
                    percent
                    value={size.factor}
                    onValue={(factor) => put({ ...spec, size: { ...size, factor } })}
                  />
                )}
              </Line>
              <Line label="Plus, px">
                {(id) => (
                  <NumberInput
                    id={id}
                    bounds={described.gap}
                    value={size.plus}
                    onValue={(plus) => put({ ...spec, size: { ...size, plus } })}
                  />
                )}
              </Line>
            </>
          )}
        </>
      )}
      <Line label="At least, px">
        {(id) => (
          <input
            id={id}
            className="h-7 w-full rounded-[3px] border border-rule bg-white px-2 text-right"
            defaultValue={spec.min ?? ''}
            onBlur={(event) => limit('min', event.target.value)}
          />
        )}
      </Line>
      <Line label="At most, px">
        {(id) => (
          <input
            id={id}
            className="h-7 w-full rounded-[3px] border border-rule bg-white px-2 text-right"
            defaultValue={spec.max ?? ''}
            onBlur={(event) => limit('max', event.target.value)}
          />
        )}
      </Line>
      {spec.ties.length === 2 && (spec.min !== undefined || spec.max !== undefined) && (
        <Line label="Then it keeps" note="Where the least or the most decides, the other edge gives.">
          {(id) => (
            <Select
              id={id}
              value={spec.ties[0]!.edge}
              options={spec.ties.map((tie): [string, string] => [tie.edge, `its ${edgeWord(axis, tie.edge)}`])}
              onChange={(event) =>
                put({ ...spec, ties: [...spec.ties].sort((a) => (a.edge === event.target.value ? -1 : 1)) })
              }
            />
          )}
        </Line>
      )}
    </div>
  )
}

/** How far a text may run before its fit steps begin. */
export function RoomEditor({ template, part }: { template: Template; part: Part }) {
  const { change } = useDraft.getState()
  const room = part.room ?? { kind: 'free' as const }
  const put = (value: NonNullable<Part['room']>) =>
    change({ kind: 'room', part: part.id, room: value }, `the room of ${part.name}`)
  return (
    <div className="border-b border-rule px-3.5 py-1">
      <Line label="Room">
        {(id) => (
          <Select
            id={id}
            value={room.kind}
            options={[
              ['free', 'as much as it wants'],
              ['width', 'a width'],
              ['limit', 'as far as an edge'],
            ]}
            onChange={(event) => {
              const kind = event.target.value
              put(
                kind === 'width'
                  ? { kind: 'width', value: 800 }
                  : kind === 'limit'
                    ? { kind: 'limit', to: { region: 'title' }, at: 'end', gap: 0 }
                    : { kind: 'free' },
              )
            }}
          />
        )}
      </Line>
      {room.kind === 'width' && (
        <Line label="px">
          {(id) => (
            <NumberInput
              id={id}
              bounds={described.roomWidth}
              value={room.value}
              onValue={(value) => put({ kind: 'width', value })}
            />
          )}
        </Line>
      )}
      {room.kind === 'limit' && (
        <>
          <Line label="As far as">
            {(id) => (
              <TargetSelect
                id={id}
                template={template}
                part={part}
                target={room.to}
                onTarget={(to) => put({ ...room, to })}
              />
            )}
          </Line>
          <Line label="At its">
            {(id) => (
              <Select
                id={id}
                value={String(room.at)}
                options={edgeOptions('x')}
                onChange={(event) => put({ ...room, at: event.target.value as Edge })}
              />
            )}
          </Line>
          <Line label="Gap, px">
            {(id) => (
              <NumberInput id={id} bounds={described.gap} value={room.gap} onValue={(gap) => put({ ...room, gap })} />
            )}
          </Line>
        </>
      )}
    </div>
  )
}
