import { type Channel, designOfUp, frameAt, layerPhase, phaseOf, stageOf, type Up } from '@hoja/core/air'
import { ChangingTitle } from '@hoja/core/scene'
import { useEffect, useMemo, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Button, classes, Select, StateWord } from '../ui/controls.tsx'
import { HatchPattern, SpanShape } from '../ui/SpanShape.tsx'
import { useSize } from '../ui/useSize.ts'
import { Footage, ItemCanvas, onStage, StageCanvas, useNow } from './AirPicture.tsx'
import { AsRunList } from './AsRunList.tsx'
import { leavingOf, nextOf, upsOf, useAir, useDesk } from './airDesk.ts'
import { NextWords } from './NextWords.tsx'
import { RunPanel } from './RunPanel.tsx'
import { UpFields } from './UpFields.tsx'
import { airValues } from './values.ts'
import { clockWords } from './words.ts'

/** What is up, what is next, and what is done about it. */
export function Desk() {
  const desk = useDesk()
  const channel = useAir((view) => view.channel)
  const doubt = useAir((view) => view.doubt)
  const isHeard = useAir((view) => view.isHeard)
  const [layer, setLayer] = useState<string>()
  const second = useNow(true, 100)
  const frame = Math.max(desk.client.frame(), frameAt(channel, second))
  const ups = upsOf(channel, stageOf(channel), frame)
  const next = nextOf(channel)
  // The layer that is chosen, while something is up on it; else the uppermost one on which something is.
  const shown = ups.find((one) => one.layer === layer) ?? ups.at(-1)
  // While nothing stays, what is just leaving is seen.
  const seen = shown ?? leavingOf(channel, stageOf(channel), frame)
  const [box, { width }] = useSize<HTMLDivElement>()
  const wide = Math.max(200, Math.floor((width - 14) / 2))
  const update = useRef<() => void>(() => {})
  const out = () => shown && void desk.ask({ kind: 'out', layer: shown.layer })
  // A key that is held is pressed once. Enter on a button that was reached by keys is that button's own, but for the rows of
  // the list; one that was pressed with the pointer does not keep it.
  const pressed = (act: () => void) => (event: KeyboardEvent) => {
    if (!event.repeat) act()
  }
  const byKeys = useReachedByKeys()
  const enter = (event: KeyboardEvent) => {
    const on = document.activeElement?.closest('button, a')
    if (on && byKeys.current && !on.hasAttribute('data-row')) return
    event.preventDefault()
    if (event.repeat) return
    if (doubt && doubt.asked.kind !== 'take') desk.decide(true)
    else void desk.take()
  }
  useHotkeys('enter', enter, [doubt])
  useHotkeys(
    'o',
    pressed(() => out()),
    [shown],
  )
  useHotkeys(
    'u',
    pressed(() => update.current()),
    [],
  )
  useHotkeys(
    'x',
    pressed(() => shown && void desk.ask({ kind: 'cut', layer: shown.layer })),
    [shown],
  )
  useHotkeys(
    'shift+x',
    pressed(() => void desk.ask({ kind: 'clear' })),
  )
  useHotkeys('esc', () => desk.decide(false), { enableOnFormTags: true })
  useHotkeys(['down', 'up'], (event) => step(event.key === 'ArrowDown' ? 1 : -1), [channel], { preventDefault: true })
  const step = (by: number) => {
    const at = channel.list.findIndex(({ id }) => id === next?.id)
    const to = channel.list[at < 0 ? 0 : at + by]
    if (to) void desk.ask({ kind: 'cue', item: to.id })
  }
  const height = Math.round((wide * channel.height) / channel.width)
  return (
    <main className="min-h-0 min-w-0 flex-1 overflow-auto px-4 pt-3 pb-4">
      <h1 className="sr-only">On air</h1>
      {!isHeard && (
        <p role="alert" className="mb-2 border border-stop bg-white px-3 py-1.5 text-stop">
          Hoja does not answer. What is on air stays as it is; nothing can be changed until it answers again.
        </p>
      )}
      <div ref={box} className="grid grid-cols-2 gap-3.5">
        <Monitor
          title={channel.rehearsal ? 'Rehearsal' : 'Up'}
          tone={channel.rehearsal ? 'look' : 'madder'}
          note={channel.rehearsal ? 'nothing of this goes out' : 'exactly what is going out'}
        >
          <div className="relative overflow-hidden" style={{ height }}>
            <Footage shot={0} width={wide} height={height} />
            <StageCanvas stageOf={onStage} width={wide} label="What is going out" />
          </div>
        </Monitor>
        <Monitor title="Next" tone="leaf" note={next ? 'exactly what will go' : 'nothing is next'}>
          <div className="relative overflow-hidden" style={{ height }}>
            <Footage shot={0} width={wide} height={height} />
            {next && <ItemCanvas item={next} width={wide} label="What will go" />}
          </div>
        </Monitor>
        <div className="h-[28px] pt-0.5">
          {seen ? (
            <UpStrip up={seen.up} layer={ups.length > 1 ? seen.name : ''} width={wide} />
          ) : (
            <p className="text-soft">Nothing is up.</p>
          )}
        </div>
        <p className="pt-0.5 text-soft">{next && <GoesOver channel={channel} frame={frame} />}</p>
      </div>
      {doubt && (
        <div role="alert" className="mt-2 flex items-center gap-3 border border-stop bg-white px-3 py-2">
          <span className="flex-1">
            <StateWord state="stop" /> {doubt.message}
          </span>
          <Button variant="danger" onClick={() => desk.decide(true)}>
            {doubt.asked.kind === 'take' ? 'Take it all the same' : 'Do it all the same'} <Key>Enter</Key>
          </Button>
          <Button onClick={() => desk.decide(false)}>
            Leave it <Key>Esc</Key>
          </Button>
        </div>
      )}
      <div className="flex items-center gap-2 pt-3">
        <Big primary disabled={!next || !isHeard} onClick={() => void desk.take()} label="Take" keys="Enter" />
        <Big disabled={!shown || !isHeard} onClick={out} label="Out" keys="O" />
        <Big disabled={!shown || !isHeard} onClick={() => update.current()} label="Update" keys="U" />
        <Big
          disabled={!shown || !isHeard}
          onClick={() => shown && void desk.ask({ kind: 'cut', layer: shown.layer })}
          label="Cut away"
          keys="X"
          small
        />
        {ups.length > 1 && (
          <fieldset className="flex items-center gap-1 pl-3">
            <legend className="sr-only">Layer</legend>
            <span className="text-xs text-soft">of</span>
            {ups.map((one) => (
              <Button
                key={one.layer}
                small
                aria-pressed={one.layer === shown?.layer}
                className={classes(one.layer === shown?.layer && '!border-madder !text-madder')}
                onClick={() => setLayer(one.layer)}
              >
                {one.name}
              </Button>
            ))}
          </fieldset>
        )}
        <span className="ml-auto flex items-center gap-1.5 text-xs text-soft">
          over another:
          <Select
            aria-label="What a title does that is taken over another"
            className="!w-40"
            value={channel.over}
            options={[
              ['goes over', 'it goes over'],
              ['out first', 'it waits for its Out'],
            ]}
            onChange={(event) => void desk.ask({ kind: 'set', over: event.target.value as Channel['over'] })}
          />
        </span>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-6 pt-3.5">
        <section aria-label="What may change while it is up">
          <SectionTitle>What may change while it is up</SectionTitle>
          {shown ? (
            <UpFields
              key={`${shown.layer} ${shown.up.n} ${shown.up.item}`}
              up={shown.up}
              layer={shown.layer}
              onReady={(send) => {
                update.current = send
              }}
            />
          ) : (
            <p className="pt-1.5 text-soft">Take a title; then the fields that its designer left open stand here.</p>
          )}
          {ups.map(({ layer: of, up }) => up.run && <RunPanel key={of} layer={of} up={up} />)}
        </section>
        <section aria-label="Words of the next title">
          <SectionTitle>The next one’s words</SectionTitle>
          {next ? (
            <NextWords key={next.id} item={next} />
          ) : (
            <p className="pt-1.5 text-soft">Press a title of the list.</p>
          )}
          <section aria-label="What was on air" className="pt-4">
            <SectionTitle>What was on air</SectionTitle>
            <AsRunList />
          </section>
        </section>
      </div>
    </main>
  )
}

/** Whether what has the focus was reached by keys, not pressed with the pointer. */
function useReachedByKeys(): { readonly current: boolean } {
  const byKeys = useRef(false)
  useEffect(() => {
    const pointer = () => {
      byKeys.current = false
    }
    const key = (event: KeyboardEvent) => {
      if (event.key === 'Tab') byKeys.current = true
    }
    document.addEventListener('pointerdown', pointer, true)
    document.addEventListener('keydown', key, true)
    return () => {
      document.removeEventListener('pointerdown', pointer, true)
      document.removeEventListener('keydown', key, true)
    }
  }, [])
  return byKeys
}

function SectionTitle({ children }: { children: React.ReactNode }) {
  return <h2 className="border-b border-rule pb-1 font-semibold">{children}</h2>
}

function Key({ children }: { children: React.ReactNode }) {
  return <span className="text-xs font-normal">{children}</span>
}

function Big({
  label,
  keys,
  primary,
  small,
  ...rest
}: {
  label: string
  keys: string
  primary?: boolean
  small?: boolean
  disabled: boolean
  onClick: () => void
}) {
  return (
    <button
      type="button"
      {...rest}
      className={classes(
        'h-12 rounded-[3px] border font-medium whitespace-nowrap disabled:border-rule disabled:bg-chalk disabled:text-soft',
        small ? 'px-4' : 'px-7 text-[17px]',
        primary
          ? 'border-transparent bg-leaf text-white hover:brightness-110'
          : 'border-rule bg-white hover:border-soft',
      )}
    >
      {label} <Key>{keys}</Key>
    </button>
  )
}

const tones = {
  madder: { text: 'text-madder', line: 'outline-madder' },
  leaf: { text: 'text-leaf', line: 'outline-leaf' },
  look: { text: 'text-look', line: 'outline-dashed outline-look' },
}

function Monitor({
  title,
  note,
  tone,
  children,
}: {
  title: string
  note: string
  /** On air, next, or neither: a rehearsal. */
  tone: keyof typeof tones
  children: React.ReactNode
}) {
  return (
    <section aria-label={title}>
      <p className="flex justify-between pb-1">
        <b className={classes('font-semibold', tones[tone].text)}>{title}</b>
        <span className="text-soft">{note}</span>
      </p>
      <div className={classes('bg-grey outline-2', tones[tone].line)}>{children}</div>
    </section>
  )
}

/** Where the title that is up stands in its time. */
function UpStrip({ up, layer, width }: { up: Up; layer: string; width: number }) {
  const desk = useDesk()
  const channel = useAir((view) => view.channel)
  useNow(true, 100)
  const design = designOfUp(channel, up)
  const frame = desk.client.frame()
  const phase = phaseOf(up, design, frame)
  const seconds = (frames: number) => (frames * channel.rate.den * 1000) / channel.rate.num
  const [height, first] = [26, 56]
  const second = width - first
  const held = Math.max(0, seconds(frame - up.began))
  const left = up.out === undefined ? undefined : Math.max(0, seconds(up.out - frame))
  const says =
    phase === 'coming in' || phase === 'waiting'
      ? phase
      : phase === 'updating'
        ? `going over · ${clockWords(held)}`
        : left !== undefined && phase !== 'leaving'
          ? `leaves in ${clockWords(left)}`
          : phase === 'leaving'
            ? 'leaving'
            : `holds until it is taken out · ${clockWords(held)}`
  return (
    <div className="relative" style={{ height }}>
      <svg width={width} height={height} aria-hidden="true" className="block">
        <HatchPattern id="air-hold" height={height} />
        <SpanShape width={width} height={height} first={first} second={second} hatch="air-hold" />
      </svg>
      <span className="absolute inset-y-0 left-0 flex items-center pl-5 text-xs text-white">In</span>
      <span className="absolute inset-y-0 flex items-center" style={{ left: first + 6 }}>
        <span className="bg-paper px-1.5 text-xs" role="status" aria-label="Where it stands">
          {layer && `${layer}: `}
          {says}
        </span>
      </span>
      <span className="absolute inset-y-0 right-0 flex items-center pr-4 text-xs text-white">Out</span>
    </div>
  )
}

/** What will be seen when the next title is taken over the one that is up. */
function GoesOver({ channel, frame }: { channel: Channel; frame: number }) {
  const desk = useDesk()
  const next = nextOf(channel)!
  const stage = stageOf(channel)
  useAir((view) => view.scenes)
  const up = (stage.layers[next.layer] ?? []).at(-1)
  const design = channel.designs[next.version]
  const scene = desk.sceneOf(next.version)
  const isUp = up && ['holding', 'updating', 'coming in'].includes(layerPhase(channel, stage, next.layer, frame))
  const isOver = isUp && up.version === next.version && channel.over === 'goes over'
  const way = useMemo(() => {
    if (!isOver || !scene) return undefined
    const { before, after } = airValues(desk, channel, scene, up, next)
    const timing = scene.open(scene.layout(before))
    return ChangingTitle.of(scene, () => before).changed(() => after, timing.in, timing)
  }, [isOver, scene, desk, channel, up, next])
  if (!design) return null
  if (!isUp)
    return (
      <>
        It comes in over {design.in} frames, and holds
        {next.hold === undefined ? ' until it is taken out' : ` for ${next.hold} s`}.
      </>
    )
  if (channel.over === 'out first') return <>It waits until what is up has left, and then comes in.</>
  if (!isOver) return <>What is up leaves while it comes in: it is of another template.</>
  if (!way?.longest) return <>Going over: the words change; nothing else moves.</>
  const { part, from, to } = way.longest
  const isWider = Math.abs(to.width - from.width) >= Math.abs(to.height - from.height)
  const [a, b] = isWider ? [from.width, to.width] : [from.height, to.height]
  return (
    <>
      Going over: {part} travels from {Math.round(a)} to {Math.round(b)} px in {Math.ceil(way.frames)} frames.
    </>
  )
}
