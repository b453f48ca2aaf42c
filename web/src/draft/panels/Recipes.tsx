import {
  type BesideSide,
  type Distances,
  distancesOf,
  followRecipe,
  type Padding,
  type Recipe,
  recipeNames,
} from '@hoja/core/layout'
import {
  type AxisName,
  described,
  type Edge,
  numberedParts,
  type Part,
  type PartId,
  type Target,
  type Template,
} from '@hoja/core/template'
import { useContext, useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { Button, Checkbox, classes, Line, Select } from '../../ui/controls.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { useDesk } from '../desk.ts'
import { SceneRef } from '../sceneNow.ts'

type Kind = Recipe['recipe']
const kinds = Object.keys(recipeNames) as Kind[]
/** Recipes that may look at several parts at once, and those that may look at a region of the frame. */
const ofSeveral: Kind[] = ['around', 'slide from']
const ofRegions: Kind[] = ['inside', 'beside', 'same size', 'share', 'centred on']
const regions: [string, string][] = [
  ['title', 'title-safe'],
  ['action', 'action-safe'],
  ['frame', 'the frame'],
  ['group', 'its group'],
]

interface Form {
  kind: Kind
  parts: PartId[]
  region: 'title' | 'action' | 'frame' | 'group' | ''
  padding: Padding
  linked: boolean
  axes: 'both' | AxisName
  side: BesideSide
  line: Edge | 'free'
  gap: number
  factor: number
  plus: number
}

const fresh: Form = {
  kind: 'around',
  parts: [],
  region: '',
  padding: { left: 24, right: 24, top: 16, bottom: 16 },
  linked: false,
  axes: 'both',
  side: 'after',
  line: 'middle',
  gap: 16,
  factor: 1,
  plus: 0,
}

/** What a filled form looks at; undefined while nothing is chosen. */
function targetOf(form: Form): Target | undefined {
  if (form.region && ofRegions.includes(form.kind)) return { region: form.region }
  return form.parts.length > 0 ? { parts: form.parts } : undefined
}

/** How a recipe begins: as the part was drawn. */
function asDrawn(kind: Kind, { around, side, gap, line }: Distances): Partial<Form> {
  if (kind === 'around') return { padding: around, linked: false }
  if (kind !== 'inside') return kind === 'beside' ? { side, gap, line } : {}
  const { left, right, top, bottom } = around
  return { padding: { left: -left, right: -right, top: -top, bottom: -bottom }, linked: false }
}

/** The recipe that a filled form means; undefined while something is missing. */
export function recipeOf(form: Form, frames: number): Recipe | undefined {
  const axes: AxisName[] = form.axes === 'both' ? ['x', 'y'] : [form.axes]
  const axis = axes[0]!
  const target = targetOf(form)
  if (!target) return undefined
  const { kind, padding, gap } = form
  switch (kind) {
    case 'around':
      return { recipe: kind, targets: form.parts, padding, axes }
    case 'inside':
      return { recipe: kind, target, padding, axes }
    case 'beside':
      return { recipe: kind, target, side: form.side, gap, line: form.line }
    case 'between': {
      const [first, second] = form.parts
      return second ? { recipe: kind, first: { parts: [first!] }, second: { parts: [second] }, axis, gap } : undefined
    }
    case 'same size':
    case 'centred on':
      return { recipe: kind, target, axes }
    case 'share':
      return { recipe: kind, target, axis, factor: form.factor, plus: form.plus }
    case 'slide from':
      return { recipe: kind, targets: form.parts, side: form.side === 'before' ? 'right' : 'left', gap, frames }
  }
}

/** Ties written in one breath: what the part should do about which others. */
export function Recipes({ template, part }: { template: Template; part: Part }) {
  const { attempt } = useDraft.getState()
  const { set } = useDesk()
  const [open, setOpen] = useState(false)
  const [form, setForm] = useState(fresh)
  const scenes = useContext(SceneRef)
  const put = (more: Partial<Form>) => setForm((old) => ({ ...old, ...more }))
  /** Another recipe or another target begins with the distances as they were drawn. */
  const aim = (more: Partial<Form>) =>
    setForm((old) => {
      const next = { ...old, ...more }
      const rest = scenes.current?.layout(useDesk.getState().filling.values).rest
      const target = targetOf(next)
      return rest && target ? { ...next, ...asDrawn(next.kind, distancesOf(template, rest, part.id, target)) } : next
    })
  const recipe = recipeOf(form, template.spans.in)
  const several = ofSeveral.includes(form.kind) || form.kind === 'between'
  const toggle = (id: PartId) =>
    aim({
      region: '',
      parts: form.parts.includes(id)
        ? form.parts.filter((other) => other !== id)
        : several
          ? [...form.parts, id]
          : [id],
    })
  const tie = () => {
    if (!recipe || !attempt((now) => followRecipe(now, part.id, recipe), `${form.kind}: ${part.name}`)) return
    setOpen(false)
    put({ parts: [], region: '' })
  }
  if (!open)
    return (
      <div className="border-b border-rule px-3.5 py-1.5">
        <Button small variant="quiet" className="!px-0" onClick={() => setOpen(true)}>
          Tie it by a recipe …
        </Button>
      </div>
    )
  const side = (key: keyof Padding, label: string) => (
    <NumberInput
      aria-label={`${label}, px`}
      title={`${label}, px`}
      bounds={described.gap}
      value={form.padding[key]}
      onValue={(v) =>
        put({
          padding: form.linked ? { left: v, right: v, top: v, bottom: v } : { ...form.padding, [key]: v },
        })
      }
    />
  )
  const has = (...list: Kind[]) => list.includes(form.kind)
  return (
    <fieldset className="border-b border-rule bg-chalk px-3.5 py-2" aria-label="Tie by a recipe">
      <Line label="Recipe" note={`${part.name} ${recipeNames[form.kind]}`}>
        {(id) => (
          <Select
            id={id}
            value={form.kind}
            options={kinds.map((kind) => [kind, kind])}
            onChange={(event) => aim({ kind: event.target.value as Kind, parts: form.parts.slice(0, 1) })}
          />
        )}
      </Line>
      <Line label={has('between') ? 'From, to' : several ? 'The parts' : 'The part'}>
        {() => (
          <div>
            <div className="flex flex-wrap gap-1">
              {numberedParts(template)
                .filter((row) => row.part.id !== part.id)
                .map((row) => (
                  <button
                    key={row.part.id}
                    type="button"
                    aria-pressed={form.parts.includes(row.part.id)}
                    onClick={() => toggle(row.part.id)}
                    className={classes(
                      'rounded-[3px] border px-1.5 text-xs leading-5',
                      form.parts.includes(row.part.id)
                        ? 'border-leaf bg-leaf text-white'
                        : 'border-rule bg-white hover:border-soft',
                    )}
                  >
                    {row.number} {row.part.name}
                  </button>
                ))}
              {ofRegions.includes(form.kind) &&
                regions.map(([region, label]) => (
                  <button
                    key={region}
                    type="button"
                    aria-pressed={form.region === region}
                    onClick={() => aim({ region: region as Form['region'], parts: [] })}
                    className={classes(
                      'rounded-[3px] border border-dashed px-1.5 text-xs leading-5',
                      form.region === region ? 'border-leaf bg-leaf text-white' : 'border-soft bg-white',
                    )}
                  >
                    {label}
                  </button>
                ))}
            </div>
            <Button
              small
              className="mt-1"
              onClick={() =>
                set({
                  pick: {
                    for: 'parts',
                    part: part.id,
                    several,
                    chosen: [],
                    done: (parts) => aim({ parts, region: '' }),
                  },
                })
              }
            >
              Pick on the frame
            </Button>
          </div>
        )}
      </Line>
      {has('around', 'inside') && (
        <Line label="Room, px">
          {() => (
            <div>
              <div className="grid grid-cols-4 gap-1">
                {side('left', 'left')}
                {side('right', 'right')}
                {side('top', 'top')}
                {side('bottom', 'bottom')}
              </div>
              <label className="mt-0.5 flex items-center gap-1 text-xs text-soft">
                <Checkbox checked={form.linked} onValue={(checked) => put({ linked: checked })} />
                left, right, top and bottom alike
              </label>
            </div>
          )}
        </Line>
      )}
      {has('around', 'inside', 'same size', 'centred on', 'share', 'between') && (
        <Line label="On">
          {(id) => (
            <Select
              id={id}
              value={has('share', 'between') && form.axes === 'both' ? 'x' : form.axes}
              options={[
                ...(has('share', 'between') ? [] : [['both', 'both axes'] as const]),
                ['x', has('same size', 'share') ? 'the width' : 'across'],
                ['y', has('same size', 'share') ? 'the height' : 'down'],
              ]}
              onChange={(event) => put({ axes: event.target.value as Form['axes'] })}
            />
          )}
        </Line>
      )}
      {has('beside') && (
        <Line label="Side">
          {(id) => (
            <span className="flex gap-1">
              <Select
                id={id}
                value={form.side}
                options={[
                  ['before', 'left of it'],
                  ['after', 'right of it'],
                  ['above', 'above it'],
                  ['below', 'below it'],
                ]}
                onChange={(event) => put({ side: event.target.value as BesideSide })}
              />
              <Select
                aria-label="Lined up"
                value={form.line}
                options={[
                  ['start', 'lined up at its start'],
                  ['middle', 'at its middle'],
                  ['end', 'at its end'],
                  ['free', 'across as it is'],
                ]}
                onChange={(event) => put({ line: event.target.value as Form['line'] })}
              />
            </span>
          )}
        </Line>
      )}
      {has('slide from') && (
        <Line label="From">
          {(id) => (
            <Select
              id={id}
              value={form.side === 'before' ? 'before' : 'after'}
              options={[
                ['after', 'the left frame edge'],
                ['before', 'the right frame edge'],
              ]}
              onChange={(event) => put({ side: event.target.value as BesideSide })}
            />
          )}
        </Line>
      )}
      {has('beside', 'between', 'slide from') && (
        <Line label="Gap, px">
          {(id) => <NumberInput id={id} bounds={described.gap} value={form.gap} onValue={(gap) => put({ gap })} />}
        </Line>
      )}
      {has('share') && (
        <>
          <Line label="Share, %">
            {(id) => (
              <NumberInput
                id={id}
                bounds={described.factor}
                percent
                value={form.factor}
                onValue={(factor) => put({ factor })}
              />
            )}
          </Line>
          <Line label="Plus, px">
            {(id) => <NumberInput id={id} bounds={described.gap} value={form.plus} onValue={(plus) => put({ plus })} />}
          </Line>
        </>
      )}
      <div className="mt-1 flex gap-2">
        <Button small variant="primary" disabled={!recipe} onClick={tie}>
          Tie it
        </Button>
        <Button small onClick={() => setOpen(false)}>
          Leave
        </Button>
      </div>
    </fieldset>
  )
}
