import {
  begunBy,
  type ClipId,
  changedMarker,
  clipsIn,
  copied,
  cutsOf,
  endOf,
  moved,
  type Placed,
  type Programme,
  secondsIn,
  slipped,
  type TrimEdge,
  timecodeIn,
  trimmed,
  trimRoom,
} from '@hoja/core/programme'
import {
  memo,
  type PointerEvent as ReactPointerEvent,
  useCallback,
  useEffect,
  useId,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from 'react'
import { classes } from '../ui/controls.tsx'
import { HatchPattern } from '../ui/SpanShape.tsx'
import { type DragPoint, usePointerDrag } from '../ui/usePointerDrag.ts'
import { useSize } from '../ui/useSize.ts'
import { ClipBlock } from './ClipBlock.tsx'
import type { Making } from './programmeSession.ts'
import { Ruler, rulerHeight } from './Ruler.tsx'
import { snapped, snapTargets } from './snapping.ts'
import { airAbove, headWidth, rowHeight, TrackHead } from './TrackHead.tsx'
import { joined } from './timescale.ts'
import { useSession, useView } from './useProgramme.ts'

/** px within which edges are drawn to what is near. */
const reach = 8
/** px at the ends of a clip that are its edges. */
const grip = 7
/** px below which clips are drawn together. */
const least = 4
const [closest, farthest] = [24, 0.002]
const openingSeconds = 90

export interface Zoom {
  pxPerFrame: number
  setPxPerFrame(px: number, about?: number): void
  fit(): void
}

/** What is held while something is dragged. */
type Held =
  | { kind: 'scrub' }
  | { kind: 'box'; from: { x: number; y: number }; also: readonly ClipId[] }
  | { kind: 'marker'; id: string; at: number; making: Making }
  | { kind: 'trim'; id: ClipId; edge: TrimEdge; making: Making; from: Programme; targets: number[] }
  | {
      kind: 'move'
      ids: readonly ClipId[]
      pressed: ClipId
      row: number
      from: Programme
      making: Making | undefined
      copy: 'own' | 'linked' | undefined
      slip: boolean
      targets: number[]
      made: ClipId[]
      wasChosen: boolean
      shift: boolean
    }

/** The tracks of a programme along time. */
export function Timeline({
  ripple,
  snaps,
  onWords,
  onHint,
  onZoom,
  menuFor,
}: {
  ripple: boolean
  snaps: boolean
  /** A title was pressed twice. */
  onWords: (id: ClipId) => void
  /** Why something goes no further. */
  onHint: (hint: string) => void
  onZoom: (zoom: Zoom) => void
  /** The menu of a clip, or of a place on a track. */
  menuFor: (id: ClipId | undefined) => void
}) {
  const session = useSession()
  const { playhead } = session
  const programme = useView((view) => view.programme)
  const chosen = useView((view) => view.chosen)
  const [box, size] = useSize<HTMLDivElement>()
  const [scroll, setScroll] = useState(0)
  const [pxPerFrame, setPx] = useState<number | 'all'>()
  const [line, setLine] = useState<number>()
  const [frame, setFrame] = useState<{ x: number; y: number; width: number; height: number }>()
  const hatch = useId()
  const { tracks } = programme
  const tops = useMemo(() => {
    let y = rulerHeight + airAbove
    return tracks.map((track) => {
      y += rowHeight[track.kind]
      return y - rowHeight[track.kind]
    })
  }, [tracks])
  const bottom = (tops.at(-1) ?? rulerHeight) + (tracks.length > 0 ? rowHeight[tracks.at(-1)!.kind] : 0)
  const length = Math.max(playhead.length, 1)
  const fitting = size.width > 0 ? Math.min(closest, Math.max(farthest, (size.width - 24) / length)) : 0
  // What was not zoomed yet shows two minutes, or all that is shorter.
  const { num, den } = programme.picture.rate
  const opening = Math.min(closest, Math.max(fitting, (size.width * den) / (openingSeconds * num)))
  const px = pxPerFrame === 'all' ? fitting : (pxPerFrame ?? opening)

  // Zoom keeps a frame where it is on the screen.
  const pending = useRef<number>(undefined)
  useLayoutEffect(() => {
    if (pending.current !== undefined && box.current) box.current.scrollLeft = pending.current
    pending.current = undefined
  })
  const zoomTo = (next: number, about = playhead.frame) => {
    const to = Math.min(closest, Math.max(Math.min(farthest, fitting), next))
    const at = about * px - scroll
    pending.current = Math.max(0, about * to - (at >= 0 && at <= size.width ? at : size.width / 2))
    setPx(to)
  }
  const zoomer = useRef(zoomTo)
  zoomer.current = zoomTo
  // biome-ignore lint/correctness/useExhaustiveDependencies: told again when what it tells has changed
  useEffect(() => {
    onZoom({ pxPerFrame: px, setPxPerFrame: (next, about) => zoomer.current(next, about), fit: () => setPx('all') })
  }, [px])
  useEffect(() => {
    const element = box.current!
    const onWheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.metaKey) return
      event.preventDefault()
      const { left } = element.getBoundingClientRect()
      zoomer.current(
        now.current.px * 1.0025 ** -event.deltaY,
        (element.scrollLeft + event.clientX - left) / now.current.px,
      )
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [box])
  const now = useRef({ px, width: size.width })
  now.current = { px, width: size.width }

  // What plays stays in sight.
  useEffect(
    () =>
      playhead.subscribe(() => {
        const element = box.current
        if (!element) return
        const x = playhead.frame * now.current.px
        if (x < element.scrollLeft || x > element.scrollLeft + now.current.width - 4)
          element.scrollLeft = Math.max(0, x - (playhead.speed < 0 ? now.current.width * 0.9 : now.current.width * 0.1))
      }),
    [playhead, box],
  )

  const frameAt = (clientX: number) => {
    const { left } = box.current!.getBoundingClientRect()
    return Math.max(0, (clientX - left + box.current!.scrollLeft) / px)
  }
  const rowAt = (clientY: number) => {
    const { top } = box.current!.getBoundingClientRect()
    const y = clientY - top + box.current!.scrollTop
    const i = tops.findLastIndex((one) => one <= y)
    return Math.max(0, i)
  }

  const drag = usePointerDrag<Held>({
    threshold: 3,
    move(held, at) {
      switch (held.kind) {
        case 'scrub':
          return playhead.go(Math.floor(frameAt(at.x)))
        case 'box':
          return select(held, at)
        case 'marker': {
          const by = snapFrames([held.at], at.dx / px, at, snapTargets(session.programme, playhead.frame, new Set()))
          const to = Math.max(0, held.at + by)
          held.making.set((from) => changedMarker(from, held.id, { at: to }))
          return
        }
        case 'trim':
          return trim(held, at)
        case 'move':
          return move(held, at)
      }
    },
    end(held, at, isMoved) {
      setLine(undefined)
      setFrame(undefined)
      if (held.kind === 'box' && !isMoved) {
        session.choose([])
        playhead.go(Math.floor(frameAt(at.x)))
      }
      if (held.kind === 'trim' || held.kind === 'marker') held.making.end()
      if (held.kind !== 'move') return
      held.making?.end()
      if (held.made.length > 0) session.choose(held.made)
      // A press that chose nothing else chooses what it was on.
      if (!isMoved && held.wasChosen && !held.shift) session.choose([held.pressed])
      if (!isMoved && held.wasChosen && held.shift) session.choose(chosen.filter((id) => id !== held.pressed))
    },
    cancel(held) {
      setLine(undefined)
      setFrame(undefined)
      if ('making' in held) held.making?.cancel()
    },
  })

  /** Frames that edges go, drawn to what is near unless that is not wanted. */
  const snapFrames = (
    edges: readonly number[],
    by: number,
    { free }: DragPoint,
    targets: readonly number[],
  ): number => {
    if (free || !snaps) {
      setLine(undefined)
      return Math.round(by)
    }
    const found = snapped(targets, edges, Math.round(by), Math.max(1, Math.round(reach / px)))
    setLine(found.to)
    return found.by
  }

  const trim = (held: Extract<Held, { kind: 'trim' }>, at: DragPoint) => {
    const clip = held.from.clips[held.id]!
    const edge = held.edge === 'start' ? clip.at : endOf(clip)
    const by = snapFrames([edge], at.dx / px, at, held.targets)
    const room = trimRoom(held.from, held.id, held.edge, ripple)
    const to = Math.min(room.most, Math.max(room.least, edge + by))
    onHint(edge + by > room.most ? room.why.most : edge + by < room.least ? room.why.least : '')
    held.making.set((from) => (to === edge ? from : trimmed(from, held.id, held.edge, to, ripple)))
  }

  const move = (held: Extract<Held, { kind: 'move' }>, at: DragPoint) => {
    const { from, ids, copy } = held
    if (held.slip) {
      held.making ??= session.begin('slip')
      const by = -Math.round(at.dx / px)
      onHint(held.making.set((own) => slipped(own, held.pressed, by)) ?? '')
      return
    }
    held.making ??= session.begin(
      copy ? (copy === 'linked' ? 'linked copy' : 'copy') : ids.length > 1 ? 'move clips' : 'move',
    )
    const edges = ids.flatMap((id) => [from.clips[id]!.at, endOf(from.clips[id]!)])
    const by = snapFrames(edges, at.dx / px, at, held.targets)
    const rows = rowAt(at.y) - held.row
    const tries = rows === 0 ? [0] : [rows, 0]
    let why: string | undefined
    for (const tracks of tries) {
      const isTried = held.making.set((own) => {
        if (!copy) return moved(own, ids, by, tracks)
        const made = copied(own, ids, { frames: by, tracks, linked: copy === 'linked' })
        held.made = made.ids
        return made.programme
      })
      if (isTried === undefined) {
        onHint(tracks === rows ? '' : (why ?? ''))
        return
      }
      why ??= isTried
    }
    onHint(why ?? '')
  }

  const select = (held: Extract<Held, { kind: 'box' }>, at: DragPoint) => {
    const { left, top } = box.current!.getBoundingClientRect()
    const x = at.x - left + box.current!.scrollLeft
    const y = at.y - top + box.current!.scrollTop
    const area = {
      x: Math.min(x, held.from.x),
      y: Math.min(y, held.from.y),
      width: Math.abs(x - held.from.x),
      height: Math.abs(y - held.from.y),
    }
    setFrame(area)
    const found = tracks.flatMap((track, i) => {
      const top = tops[i]!
      if (top + rowHeight[track.kind] < area.y || top > area.y + area.height) return []
      return clipsIn(programme, track.id).flatMap(({ id, clip }) =>
        clip.at * px < area.x + area.width && endOf(clip) * px > area.x ? [id] : [],
      )
    })
    session.choose([...new Set([...held.also, ...found])])
  }

  const pressClip = (event: ReactPointerEvent, id: ClipId) => {
    event.stopPropagation()
    if (event.button !== 0) {
      if (!chosen.includes(id)) session.choose([id])
      menuFor(id)
      return
    }
    const clip = programme.clips[id]!
    const wasChosen = chosen.includes(id)
    const shift = event.shiftKey && !event.altKey
    const next = wasChosen ? chosen : shift ? [...chosen, id] : [id]
    if (!wasChosen) session.choose(next)
    onHint('')
    const at = frameAt(event.clientX) * px
    const width = clip.frames * px
    const handle = Math.min(grip, width / 3)
    const edge: TrimEdge | undefined =
      at - clip.at * px < handle ? 'start' : endOf(clip) * px - at < handle ? 'end' : undefined
    const targets = snapTargets(programme, playhead.frame, new Set(edge ? [id] : next))
    if (edge && !event.altKey)
      drag(event, { kind: 'trim', id, edge, making: session.begin('trim'), from: programme, targets }, box.current!)
    else
      drag(
        event,
        {
          kind: 'move',
          ids: next,
          pressed: id,
          row: rowAt(event.clientY),
          from: programme,
          making: undefined,
          copy: event.altKey ? (event.shiftKey ? 'linked' : 'own') : undefined,
          slip: shift && clip.kind === 'footage',
          targets,
          made: [],
          wasChosen,
          shift,
        },
        box.current!,
      )
  }

  // Clips are drawn anew when they change, not when what would hear of them does.
  const latest = useRef({ pressClip, onWords })
  latest.current = { pressClip, onWords }
  const press = useCallback((event: ReactPointerEvent, id: ClipId) => latest.current.pressClip(event, id), [])
  const twice = useCallback((id: ClipId) => latest.current.onWords(id), [])

  const pressRest = (event: ReactPointerEvent) => {
    // A menu of something on it is elsewhere on the page, and is heard here all the same.
    if (!event.currentTarget.contains(event.target as Node)) return
    if (event.button !== 0) {
      menuFor(undefined)
      return
    }
    const { left, top } = box.current!.getBoundingClientRect()
    // The scroll bars are the browser's.
    if (event.clientY - top > box.current!.clientHeight || event.clientX - left > box.current!.clientWidth) return
    const y = event.clientY - top
    if (y < rulerHeight) {
      playhead.setSpeed(0)
      playhead.go(Math.floor(frameAt(event.clientX)))
      drag(event, { kind: 'scrub' }, box.current!)
      return
    }
    const from = { x: event.clientX - left + box.current!.scrollLeft, y: y + box.current!.scrollTop }
    drag(event, { kind: 'box', from, also: event.shiftKey ? chosen : [] }, box.current!)
  }

  const [first, last] = [Math.max(0, scroll / px - 200 / px), (scroll + size.width + 200) / px]
  const wide = Math.max(size.width, length * px + size.width / 2)
  return (
    <div className="flex min-h-0 flex-1">
      <div className="shrink-0 overflow-hidden border-r border-rule bg-paper" style={{ width: headWidth }}>
        <div style={{ height: rulerHeight + airAbove }} className="border-b border-rule" />
        {tracks.map((track) => (
          <TrackHead key={track.id} track={track} />
        ))}
      </div>
      <div
        ref={box}
        className="relative min-w-0 flex-1 touch-none overflow-auto bg-chalk select-none"
        onScroll={(event) => setScroll(event.currentTarget.scrollLeft)}
        onPointerDown={pressRest}
        role="presentation"
        data-timeline
        data-px={px}
        data-top={rulerHeight + airAbove}
      >
        <div className="relative" style={{ width: wide, height: Math.max(bottom, size.height - 12) }}>
          <svg width="0" height="0" className="absolute" aria-hidden="true">
            <defs>
              <HatchPattern id={hatch} height={rowHeight.title - 8} />
            </defs>
          </svg>
          {px > 0 && size.width > 0 && (
            <>
              <Ruler
                px={px}
                from={first}
                to={last}
                onMarker={(event, id) => {
                  event.stopPropagation()
                  const { at } = programme.markers[id]!
                  drag(event, { kind: 'marker', id, at, making: session.begin('move marker') }, box.current!)
                }}
              />
              <Cuts px={px} from={first} to={last} top={rulerHeight} height={bottom - rulerHeight} />
              {tracks.map((track, i) => (
                <Row key={track.id} top={tops[i]!} height={rowHeight[track.kind]} off={track.off === true}>
                  {visible(clipsIn(programme, track.id), first, last, least / px).map(({ from, to, items }) =>
                    items.length === 1 ? (
                      <ClipBlock
                        key={items[0]!.id}
                        id={items[0]!.id}
                        px={px}
                        height={rowHeight[track.kind] - 8}
                        hatch={hatch}
                        isChosen={chosen.includes(items[0]!.id)}
                        onPress={press}
                        onTwice={twice}
                      />
                    ) : (
                      <div
                        key={`${items[0]!.id} …`}
                        title={`${items.length} clips; zoom in to tell them apart`}
                        className="absolute bg-leaf/50"
                        style={{ left: from * px, width: Math.max(2, (to - from) * px), top: 8, bottom: 8 }}
                      />
                    ),
                  )}
                </Row>
              ))}
              <Measure programme={programme} chosen={chosen} px={px} tops={tops} />
              {line !== undefined && (
                <div
                  className="pointer-events-none absolute w-px bg-leaf"
                  style={{ left: line * px, top: rulerHeight, height: bottom - rulerHeight }}
                />
              )}
              {frame && (
                <div
                  className="pointer-events-none absolute border border-leaf bg-leaf/10"
                  style={{ left: frame.x, top: frame.y, width: frame.width, height: frame.height }}
                />
              )}
              <PlayheadLine px={px} />
            </>
          )}
        </div>
      </div>
    </div>
  )
}

/** The clips that lie in a stretch of time, as they can be drawn. */
function visible(clips: readonly Placed[], from: number, to: number, least: number) {
  const start = Math.max(0, begunBy(clips, from) - 1)
  const end = begunBy(clips, to)
  return joined(clips.slice(start, end), ({ clip }) => [clip.at, endOf(clip)], least)
}

function Row({ top, height, off, children }: { top: number; height: number; off: boolean; children: React.ReactNode }) {
  return (
    <div className={classes('absolute inset-x-0 border-b border-rule', off && 'opacity-40')} style={{ top, height }}>
      {children}
    </div>
  )
}

/** Cuts of the footage, as thin lines through all tracks. */
const Cuts = memo(function Cuts({
  px,
  from,
  to,
  top,
  height,
}: {
  px: number
  from: number
  to: number
  top: number
  height: number
}) {
  const programme = useView((view) => view.programme)
  const cuts = cutsOf(programme).filter((cut) => cut >= from && cut <= to)
  // Where they lie closer than can be told apart, they would be a grey field.
  if (cuts.length > 400) return null
  return (
    <>
      {cuts.map((cut) => (
        <div
          key={cut}
          className="pointer-events-none absolute border-l border-dashed border-soft/40"
          style={{ left: cut * px, top, height }}
        />
      ))}
    </>
  )
})

/** The length of the one title that is chosen, as a measure is drawn. */
function Measure({
  programme,
  chosen,
  px,
  tops,
}: {
  programme: Programme
  chosen: readonly ClipId[]
  px: number
  tops: readonly number[]
}) {
  const clip = chosen.length === 1 ? programme.clips[chosen[0]!] : undefined
  if (!clip) return null
  const top = tops[programme.tracks.findIndex(({ id }) => id === clip.track)]!
  const width = clip.frames * px
  return (
    <div
      className="pointer-events-none absolute flex items-center text-xs font-medium text-madder"
      style={{ left: clip.at * px, width, top: top - 9, height: 16 }}
    >
      <span className="h-2 border-l border-madder" />
      <span className="flex-1 border-t border-madder" />
      <span className="bg-chalk px-1 whitespace-nowrap" title={timecodeIn(programme, clip.at)}>
        {secondsIn(programme, clip.frames).toFixed(1)} s
      </span>
      <span className="flex-1 border-t border-madder" />
      <span className="h-2 border-r border-madder" />
    </div>
  )
}

/** Moved without drawing anything anew. */
function PlayheadLine({ px }: { px: number }) {
  const { playhead } = useSession()
  const ref = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const put = () => {
      if (ref.current) ref.current.style.transform = `translateX(${playhead.frame * px}px)`
    }
    put()
    return playhead.subscribe(put)
  }, [playhead, px])
  return (
    <div ref={ref} className="pointer-events-none absolute inset-y-0 left-0 z-20 w-px bg-madder">
      <div className="sticky top-0 -ml-[5px] h-2.5 w-[11px] bg-madder [clip-path:polygon(0_0,100%_0,50%_100%)]" />
    </div>
  )
}
