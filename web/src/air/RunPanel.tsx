import { goneAt, type PlacedItem, runAt, type Up } from '@hoja/core/air'
import { useState } from 'react'
import { Button, TextInput } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { useNow } from './AirPicture.tsx'
import { useAir, useDesk } from './airDesk.ts'

const wordsOf = ({ texts }: Pick<PlacedItem, 'texts'>) => Object.values(texts).join(' · ')

/** A crawl that is up: how fast, what comes next, a pause, and a notice before all others. */
export function RunPanel({ up, layer }: { up: Up; layer: string }) {
  const desk = useDesk()
  const { rate } = useAir((view) => view.channel)
  useNow(true)
  const [text, setText] = useState('')
  const run = up.run!
  const now = runAt(run, desk.client.frame())
  const perSecond = rate.num / rate.den
  const next = now.first[0] ?? now.list[now.next]
  const left = Math.max(0, (now.nextAt - goneAt(now, now.frame)) / Math.max(1e-6, run.step) / perSecond)
  const send = async () => {
    if (text.trim() && (await desk.ask({ kind: 'first', layer, text: text.trim() }))) setText('')
  }
  return (
    <section aria-label="Crawl" className="pt-4">
      <h2 className="border-b border-rule pb-1 font-semibold">
        Crawl{' '}
        <span className="font-normal text-soft">
          {Math.round(run.step * perSecond)} px/s, {counted(run.list.length, 'item')}
          {run.paused ? ', paused' : next ? `, the next in ${left.toFixed(0)} s` : ''}
        </span>
      </h2>
      <p className="truncate pt-1.5 text-soft" title={next && wordsOf(next)}>
        Then: {next ? wordsOf(next) : 'nothing'}
      </p>
      <form
        className="flex items-center gap-1.5 pt-1.5"
        onSubmit={(event) => {
          event.preventDefault()
          void send()
        }}
      >
        <TextInput
          aria-label="A notice before all others"
          placeholder="A notice before all others"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <Button type="submit" disabled={!text.trim()}>
          Send it first
        </Button>
        <Button aria-pressed={run.paused} onClick={() => void desk.ask({ kind: 'pause', layer, paused: !run.paused })}>
          {run.paused ? 'Go on' : 'Pause'}
        </Button>
      </form>
    </section>
  )
}
