import { extentAlong } from '@hoja/core/geometry'
import { boxOf, dependents, dependsOn, edgeWord, explain, shareOf, targetWords } from '@hoja/core/layout'
import type { Scene } from '@hoja/core/scene'
import { type AxisName, allParts, type Edge, type Part, type Target, type Template } from '@hoja/core/template'
import { useState } from 'react'
import { classes } from '../../ui/controls.tsx'
import { useDesk } from '../desk.ts'
import { RoomEditor, SizeEditor, TieEditor } from './edgeEditors.tsx'
import { Recipes } from './Recipes.tsx'

type About = Edge | 'size'

const round = (value: number) => Number(value.toFixed(1)).toLocaleString('en')

/** Where the part rests and why: one sentence an edge, each with its value, each editable. */
export function EdgesTable({ template, scene, part }: { template: Template; scene: Scene; part: Part }) {
  const { filling } = useDesk()
  const [open, setOpen] = useState<string>()
  const [chain, setChain] = useState<[AxisName, About]>(['x', 'end'])
  const [whole, setWhole] = useState(false)
  const { rest } = scene.layout(filling.values)
  const box = boxOf(rest, rest.order.index.get(part.id)!)
  const lines = (axis: AxisName): About[] => [
    'start',
    ...(part[axis].ties.some((tie) => tie.edge === 'middle') ? (['middle'] as const) : []),
    'end',
    'size',
  ]
  const lineValue = (axis: AxisName, about: About) => {
    const [start, size] = extentAlong(box, axis)
    return about === 'size' ? size : start + size * shareOf(about)
  }
  const reasons = explain(template, rest, part.id, chain[0], chain[1])
  return (
    <div>
      <Recipes template={template} part={part} />
      <table className="w-full border-collapse">
        <tbody>
          {(['x', 'y'] as AxisName[]).flatMap((axis) =>
            lines(axis).map((about) => {
              const key = `${axis}.${about}`
              return [
                <tr
                  key={key}
                  className={classes('border-b border-rule', open === key ? 'bg-leaf-pale' : 'hover:bg-chalk')}
                >
                  <td className="w-[70px] py-0 pl-3.5 text-soft">{edgeWord(axis, about)}</td>
                  <td>
                    <button
                      type="button"
                      className="w-full py-[5px] text-left"
                      aria-expanded={open === key}
                      aria-label={`${edgeWord(axis, about)} of ${part.name}`}
                      onClick={() => {
                        setOpen(open === key ? undefined : key)
                        setChain([axis, about])
                      }}
                    >
                      <Sentence template={template} part={part} axis={axis} about={about} />
                    </button>
                  </td>
                  <td className="w-20 pr-3.5 text-right font-medium">{round(lineValue(axis, about))}</td>
                </tr>,
                open === key && (
                  <tr key={`${key} editor`} className="border-b border-rule bg-chalk">
                    <td colSpan={3} className="px-3.5 py-2">
                      {about === 'size' ? (
                        <SizeEditor template={template} part={part} axis={axis} now={lineValue(axis, 'size')} />
                      ) : (
                        <TieEditor template={template} part={part} axis={axis} edge={about} />
                      )}
                    </td>
                  </tr>
                ),
              ]
            }),
          )}
        </tbody>
      </table>
      {part.kind === 'text' && <RoomEditor template={template} part={part} />}
      <Related template={template} part={part} />
      <div className="px-3.5 py-2 text-xs text-soft">
        {(whole ? reasons : reasons.slice(0, 1)).map((reason) => (
          <p key={`${reason.part}${reason.about}${reason.sentence}`}>{reason.sentence}</p>
        ))}
        {reasons.length > 1 && (
          <button type="button" className="font-semibold text-leaf hover:underline" onClick={() => setWhole(!whole)}>
            {whole ? 'Show one line' : `Show the whole chain (${reasons.length})`}
          </button>
        )}
      </div>
    </div>
  )
}

/** What this part holds to and what holds to it, each a way to go there; on the frame they are outlined. */
function Related({ template, part }: { template: Template; part: Part }) {
  const { set } = useDesk()
  const parts = allParts(template.parts)
  const line = (label: string, ids: readonly string[], look: string) =>
    ids.length > 0 && (
      <p>
        <span className={look}>{label}</span>{' '}
        {ids.map((id, i) => (
          <span key={id}>
            {i > 0 && ', '}
            <button
              type="button"
              className="underline decoration-dotted underline-offset-2 hover:text-leaf"
              onClick={() => set({ selected: id })}
            >
              {parts.find((other) => other.id === id)?.name}
            </button>
          </span>
        ))}
      </p>
    )
  const [to, by] = [dependsOn(part), dependents(template, part.id)]
  if (to.length + by.length === 0) return null
  return (
    <div className="border-b border-rule px-3.5 py-1.5">
      {line('Holds to', to, 'font-medium text-madder')}
      {line('Held by', by, 'font-medium text-leaf')}
    </div>
  )
}

function Gap({ value }: { value: number }) {
  if (value === 0) return null
  return (
    <b className="font-semibold whitespace-nowrap text-madder">
      {value > 0 ? ' + ' : ' − '}
      {round(Math.abs(value))}
    </b>
  )
}

function Sentence({ template, part, axis, about }: { template: Template; part: Part; axis: AxisName; about: About }) {
  const parts = allParts(template.parts)
  const spec = part[axis]
  const named = (target: Target) => (
    <span className="underline decoration-dotted underline-offset-2">{targetWords(template, parts, target)}</span>
  )
  const limits =
    spec.min === undefined && spec.max === undefined
      ? ''
      : spec.min !== undefined && spec.max !== undefined
        ? `, from ${round(spec.min)} to ${round(spec.max)}`
        : spec.min !== undefined
          ? `, at least ${round(spec.min)}`
          : `, at most ${round(spec.max!)}`
  if (about === 'size') {
    if (spec.ties.length === 2) return <>follows{limits}</>
    if (spec.size.kind === 'content')
      return (
        <>
          {part.kind === 'group' ? 'what it holds' : 'its own'}
          {limits}
        </>
      )
    if (spec.size.kind === 'fixed') return <>fixed{limits}</>
    return (
      <>
        {round(spec.size.factor * 100)} % of {named(spec.size.of)}
        <Gap value={spec.size.plus} />
        {limits}
      </>
    )
  }
  const tie = spec.ties.find((t) => t.edge === about)
  if (tie)
    return (
      <>
        = {typeof tie.at === 'number' ? `${round(tie.at * 100)} % across` : edgeWord(axis, tie.at)} of {named(tie.to)}
        <Gap value={tie.gap} />
        {tie.follow === 'moving' && <span className="text-soft"> while it moves</span>}
      </>
    )
  if (spec.ties.length === 0 && about === 'start') return <span className="text-soft">by hand</span>
  return <span className="text-soft">follows</span>
}
