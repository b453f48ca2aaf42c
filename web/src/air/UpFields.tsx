import { cellsNow, designOfUp, type Up, valueKey } from '@hoja/core/air'
import { useCallback, useEffect, useRef, useState } from 'react'
import { CellsForm } from '../ui/CellsForm.tsx'
import { Button } from '../ui/controls.tsx'
import { useNow } from './AirPicture.tsx'
import { useAir, useDesk } from './airDesk.ts'
import { valuesOfUp } from './values.ts'
import { shownWords } from './words.ts'

/** The fields of a title that is up: those that may change, each with where its text comes from; the others say that they are locked. */
export function UpFields({
  up,
  layer,
  onReady,
}: {
  up: Up
  layer: string
  /** Is given what sends what was typed. */
  onReady: (send: () => void) => void
}) {
  const desk = useDesk()
  const channel = useAir((view) => view.channel)
  useAir((view) => view.scenes)
  const second = useNow(Object.keys(up.live).length > 0)
  /** What was typed and is not out yet. */
  const [typed, setShown] = useState<Readonly<Record<string, string>>>({})
  // The same at once: a number is given with the key that sends it.
  const pending = useRef(typed)
  const setTyped = useCallback((next: Readonly<Record<string, string>>) => {
    pending.current = next
    setShown(next)
  }, [])
  const isDirty = Object.keys(typed).length > 0
  const send = async () => {
    const cells = pending.current
    if (Object.keys(cells).length > 0 && (await desk.ask({ kind: 'update', layer, cells }))) setTyped({})
  }
  useEffect(() => onReady(() => void send()))
  // What was doubted and is out all the same stands in the title itself now.
  const said = cellsNow(up)
  useEffect(() => {
    const own = pending.current
    const left = Object.entries(own).filter(([key, text]) => said[key] !== text)
    if (left.length < Object.keys(own).length) setTyped(Object.fromEntries(left))
  }, [said, setTyped])
  const scene = desk.sceneOf(up.version)
  if (!scene) return <p className="pt-1.5 text-soft">Opening …</p>
  const { template } = scene
  const design = designOfUp(channel, up)
  const cells = { ...said, ...typed }
  const values = valuesOfUp(desk, channel, scene, { ...up, cells, changes: [] })
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the key goes through its controls
    <div
      className="pt-1.5"
      onKeyDown={(event) => {
        const target = event.target as HTMLElement
        // In a list of texts Enter begins the next one; elsewhere it sends, and Shift Enter begins a line.
        const label = target.getAttribute('aria-label')
        const isList = template.fields.some(({ name, type }) => name === label && type === 'texts')
        const sends = event.ctrlKey || event.metaKey || (!isList && !event.shiftKey)
        if (event.key === 'Enter' && sends && target.matches('input, textarea')) {
          event.preventDefault()
          void send()
        }
        if (event.key === 'Escape' && isDirty) {
          event.stopPropagation()
          setTyped({})
        }
      }}
    >
      <CellsForm
        template={template}
        cells={cells}
        values={values}
        onText={(key, text) => {
          const { [key]: _, ...rest } = pending.current
          setTyped((said[key] ?? '') === text ? rest : { ...rest, [key]: text })
        }}
        instead={(field) => {
          const { key, name } = field
          const clock = up.live[key]?.kind === 'clock'
          if (design.onAir.includes(key) && !clock) return undefined
          return (
            <output
              aria-label={name}
              className="h-7 truncate rounded-[3px] border border-rule bg-chalk px-2 py-[3px] text-soft"
            >
              {shownWords(template, field, values)}
            </output>
          )
        }}
        aside={({ key }) => {
          const binding = up.live[key]
          if (!design.onAir.includes(key)) return <span className="pt-1 text-xs text-soft">locked while it is up</span>
          if (typed[key] !== undefined) return <span className="pt-1 text-xs font-medium text-look">not out yet</span>
          if (binding?.kind === 'clock') return <span className="pt-1 text-xs text-leaf">a clock</span>
          if (binding?.kind !== 'value') return <span className="pt-1 text-xs text-soft">by hand</span>
          if (up.hand.includes(key))
            return (
              <button
                type="button"
                className="pt-1 text-left text-xs font-medium text-leaf hover:underline"
                title="It was set by hand; let its source say it again"
                onClick={() => void desk.ask({ kind: 'release', layer, field: key })}
              >
                by hand: release
              </button>
            )
          const value = channel.values[valueKey(binding)]
          const ago = value ? Math.max(0, Math.round((second - value.read) / 1000)) : 0
          return (
            <span
              className={value?.trouble ? 'truncate pt-1 text-xs text-stop' : 'truncate pt-1 text-xs text-leaf'}
              title={value?.trouble || binding.path}
            >
              {!value ? 'waits for its source' : value.trouble ? `source: ${value.trouble}` : `live, read ${ago} s ago`}
            </span>
          )
        }}
      />
      {isDirty && (
        <p className="flex items-center gap-2 pt-1.5">
          <Button variant="primary" small onClick={() => void send()}>
            Update
          </Button>
          <Button small onClick={() => setTyped({})}>
            As it is on air
          </Button>
          <span className="text-xs text-soft">It goes out with Update or Enter (in a list Ctrl Enter).</span>
        </p>
      )}
    </div>
  )
}
