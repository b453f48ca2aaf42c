import { type AirItem, valueKey, valuesOfItem, withLive } from '@hoja/core/air'
import { useEffect, useRef, useState } from 'react'
import { CellsForm } from '../ui/CellsForm.tsx'
import { Select, TextInput } from '../ui/controls.tsx'
import { FindingLine } from '../ui/FindingLine.tsx'
import { useNow } from './AirPicture.tsx'
import { useAir, useDesk } from './airDesk.ts'
import { LiveDialog } from './LiveDialog.tsx'
import { shownWords } from './words.ts'

/** ms of quiet after which what was typed is sent. */
const settle = 350

/** The words of the next title, its time, and what changes by itself in it: nothing of this touches what is up. */
export function NextWords({ item }: { item: AirItem }) {
  const desk = useDesk()
  const channel = useAir((view) => view.channel)
  const found = useAir((view) => view.found[item.id])
  useAir((view) => view.scenes)
  const second = useNow(Object.values(item.live).some(({ kind }) => kind === 'clock'))
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({})
  const [live, setLive] = useState<string>()
  const waiting = useRef<ReturnType<typeof setTimeout>>(undefined)
  const pending = useRef(typed)
  const send = () => {
    clearTimeout(waiting.current)
    const cells = pending.current
    pending.current = {}
    if (Object.keys(cells).length > 0)
      void desk.ask({ kind: 'change', item: item.id, cells }).then(() => setTyped(pending.current))
  }
  const sendNow = useRef(send)
  sendNow.current = send
  // What is typed is never lost: it goes when another title is made the next one, too.
  useEffect(() => () => sendNow.current(), [])
  const scene = desk.sceneOf(item.version)
  if (!scene) return <p className="pt-1.5 text-soft">Opening …</p>
  const { template } = scene
  const cells = { ...item.cells, ...typed }
  const shown = withLive(channel, cells, item.live)
  const values = valuesOfItem(channel, { ...item, cells }, scene, { now: second, offset: desk.client.offset })
  const put = (key: string, text: string) => {
    const next = { ...pending.current, [key]: text }
    pending.current = next
    setTyped(next)
    clearTimeout(waiting.current)
    waiting.current = setTimeout(() => sendNow.current(), settle)
  }
  const design = channel.designs[item.version]
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what is typed is sent when the focus leaves
    <div className="pt-1.5" onBlur={send}>
      <CellsForm
        template={template}
        cells={shown}
        values={values}
        onText={put}
        instead={(field) =>
          item.live[field.key] ? (
            <output
              aria-label={field.name}
              className="h-7 truncate rounded-[3px] border border-rule bg-leaf-pale px-2 py-[3px]"
            >
              {shownWords(template, field, values)}
            </output>
          ) : undefined
        }
        aside={({ key }) => {
          const binding = item.live[key]
          const value = binding?.kind === 'value' ? channel.values[valueKey(binding)] : undefined
          const isOpen = design?.onAir.includes(key)
          return (
            <button
              type="button"
              disabled={!isOpen}
              className={
                value?.trouble
                  ? 'truncate pt-1 text-left text-xs text-stop'
                  : 'truncate pt-1 text-left text-xs text-leaf hover:underline disabled:text-soft disabled:no-underline'
              }
              title={
                value?.trouble || (isOpen ? 'Let something change it by itself' : 'It is locked while the title is up')
              }
              onClick={() => setLive(key)}
            >
              {binding?.kind === 'clock'
                ? 'a clock …'
                : binding
                  ? value?.trouble
                    ? 'its source …'
                    : 'live …'
                  : isOpen
                    ? 'by hand …'
                    : 'locked once up'}
            </button>
          )
        }}
      />
      <div className="grid grid-cols-[84px_minmax(0,1fr)_124px] items-center gap-2 py-0.5">
        <span className="text-soft">Held</span>
        <span className="flex items-center gap-1.5">
          <Select
            aria-label="How long it is held"
            className="!w-44"
            value={item.hold === undefined ? 'by hand' : 'time'}
            options={[
              ['by hand', 'until it is taken out'],
              ['time', 'for a time'],
            ]}
            onChange={(event) =>
              void desk.ask({ kind: 'change', item: item.id, hold: event.target.value === 'time' ? 6 : 'by hand' })
            }
          />
          {item.hold !== undefined && (
            <HoldInput
              key={item.hold}
              hold={item.hold}
              onHold={(hold) => void desk.ask({ kind: 'change', item: item.id, hold })}
            />
          )}
        </span>
        {channel.layers.length > 1 ? (
          <Select
            aria-label="Layer"
            value={item.layer}
            options={channel.layers.map((one) => [one.id, one.name] as const)}
            onChange={(event) => void desk.ask({ kind: 'change', item: item.id, layer: event.target.value })}
          />
        ) : (
          <span />
        )}
      </div>
      {found?.map((finding) => (
        <FindingLine key={finding.code + finding.message} finding={finding} onFix={put} />
      ))}
      {live !== undefined && <LiveDialog item={item} field={live} onClose={() => setLive(undefined)} />}
    </div>
  )
}

function HoldInput({ hold, onHold }: { hold: number; onHold: (hold: number) => void }) {
  const [text, setText] = useState(String(hold))
  const put = () => {
    const seconds = Number(text.replace(',', '.'))
    if (Number.isFinite(seconds) && seconds >= 0 && seconds <= 86_400) {
      if (seconds !== hold) onHold(seconds)
    } else setText(String(hold))
  }
  return (
    <>
      <TextInput
        aria-label="Seconds"
        className="!w-16"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={put}
        onKeyDown={(event) => event.key === 'Enter' && put()}
      />
      <span className="text-soft">s</span>
    </>
  )
}
