import { paint } from '@hoja/core/paint'
import {
  compositePieces,
  endOf,
  type Placed,
  seenAt,
  type TitleClip,
  timecodeIn,
  valuesOfClip,
  withCells,
} from '@hoja/core/programme'
import { Expand, Pause, Play } from 'lucide-react'
import { useLayoutEffect, useMemo, useRef, useState } from 'react'
import { frameResources, surfaceOf } from '../preview/rasterBackend.ts'
import { timed } from '../preview/timed.ts'
import type { Player } from '../preview/usePlayer.ts'
import { FieldWriting } from '../preview/writing/FieldWriting.tsx'
import { Button, Checkbox } from '../ui/controls.tsx'
import { useSize } from '../ui/useSize.ts'
import { useFrame, useSession, useSpeed, useView } from './useProgramme.ts'
import { useProgrammeSounds } from './useProgrammeSounds.ts'

/** The largest picture that is painted while something plays, px: what is larger is shown from that. */
const mostWidth = 960

/** The programme's picture at the playhead, with its transport. */
export function Monitor({ onWords }: { onWords: () => void }) {
  const picture = useView((view) => view.programme.picture)
  useProgrammeSounds()
  const [safe, setSafe] = useState(false)
  const [ref, size] = useSize<HTMLDivElement>()
  const full = useRef<HTMLElement>(null)
  const scale = Math.min(size.width / picture.width, size.height / picture.height)
  const [width, height] = [Math.floor(picture.width * scale), Math.floor(picture.height * scale)]
  return (
    <section ref={full} aria-label="Monitor" className="flex min-h-0 flex-1 flex-col bg-grey">
      <div ref={ref} className="relative min-h-0 flex-1 overflow-hidden">
        {width > 0 && (
          <div
            className="absolute"
            style={{ width, height, left: (size.width - width) / 2, top: (size.height - height) / 2 }}
          >
            <Writing scale={scale} onWords={onWords}>
              <Picture width={width} height={height} />
            </Writing>
            {safe && <SafeAreas />}
          </div>
        )}
      </div>
      <div className="flex h-9 shrink-0 items-center gap-3 border-t border-rule bg-paper px-3.5">
        <PlayButton />
        <TimeNow />
        <span className="text-soft">
          of <Total />
        </span>
        <span className="ml-auto flex items-center gap-3">
          <label className="flex items-center gap-1.5 text-soft">
            <Checkbox checked={safe} onValue={setSafe} /> safe areas
          </label>
          <Button
            small
            aria-label="Whole screen"
            title="Whole screen (Escape leaves it)"
            onClick={() =>
              void (document.fullscreenElement ? document.exitFullscreen() : full.current?.requestFullscreen())
            }
          >
            <Expand size={13} aria-hidden="true" />
          </Button>
        </span>
      </div>
    </section>
  )
}

function PlayButton() {
  const { playhead } = useSession()
  const speed = useSpeed()
  const Icon = speed === 0 ? Play : Pause
  return (
    <Button small aria-label={speed === 0 ? 'Play' : 'Stop'} title="Space" onClick={playhead.toggle}>
      <Icon size={13} aria-hidden="true" />
    </Button>
  )
}

function TimeNow() {
  const { playhead } = useSession()
  const ref = useRef<HTMLElement>(null)
  const start = useView((view) => view.programme.start)
  const picture = useView((view) => view.programme.picture)
  useLayoutEffect(() => {
    const put = () => {
      if (ref.current) ref.current.textContent = timecodeIn({ start, picture }, playhead.frame)
    }
    put()
    return playhead.subscribe(put)
  }, [playhead, start, picture])
  return <b ref={ref} role="timer" aria-label="Timecode" aria-live="off" className="w-[86px] font-semibold" />
}

function Total() {
  const programme = useView((view) => view.programme)
  const { playhead } = useSession()
  return <>{timecodeIn(programme, Math.max(0, playhead.length))}</>
}

/** ms that the playhead stands before a movie's frame is fetched from its original. */
const patience = 120

/** Painted where the playhead is, by the painter that renders. */
function Picture({ width, height }: { width: number; height: number }) {
  const session = useSession()
  const ref = useRef<HTMLCanvasElement>(null)
  const programme = useView((view) => view.programme)
  const scenes = useView((view) => view.scenes)
  const { playhead, footage } = session
  const drawn = Math.min(mostWidth, Math.round(width * (window.devicePixelRatio || 1)))
  const scale = drawn / programme.picture.width
  const high = Math.round(programme.picture.height * scale)
  // biome-ignore lint/correctness/useExhaustiveDependencies: painted again when a scene has come in
  useLayoutEffect(() => {
    const canvas = ref.current!
    if (canvas.width !== drawn || canvas.height !== high) Object.assign(canvas, { width: drawn, height: high })
    const surface = surfaceOf(canvas)
    const { pixelsOf } = footage
    const sources = { sceneOf: session.sceneOf, pixelsOf, now: session.now }
    let standing: ReturnType<typeof setTimeout> | undefined
    const draw = () =>
      timed('hoja programme frame', () => {
        clearTimeout(standing)
        const { frame, speed } = playhead
        const pieces = compositePieces(programme, frame, sources)
        let isExact = true
        for (const piece of pieces) {
          if (piece.kind === 'items') {
            paint({ ...programme.picture, items: piece.items }, surface, frameResources, { scale })
            continue
          }
          const { sha256, bounds } = piece
          const pixels = speed === 0 ? pixelsOf(sha256, piece.frame) : undefined
          if (pixels) {
            const items = [{ kind: 'picture' as const, pixels, bounds }]
            paint({ ...programme.picture, items }, surface, frameResources, { scale })
            continue
          }
          isExact = false
          const reader = footage.reader(sha256)
          reader.want(piece.frame)
          const picture = reader.at(piece.frame)
          if (!picture) continue
          const { x, y, width: wide, height: tall } = bounds
          surface.context.setTransform(scale, 0, 0, scale, 0, 0)
          surface.context.drawImage(picture as never, x, y, wide, tall)
        }
        canvas.dataset.exact = String(isExact && speed === 0)
        if (!isExact && speed === 0)
          standing = setTimeout(() => {
            for (const piece of pieces) if (piece.kind === 'movie') footage.wantExact(piece.sha256, piece.frame)
          }, patience)
      })
    for (const medium of Object.values(programme.media)) if (medium.kind === 'still') footage.wantStill(medium.sha256)
    draw()
    let shown = `${playhead.frame} ${playhead.speed}`
    const ends = [
      playhead.subscribe(() => {
        const now = `${playhead.frame} ${playhead.speed}`
        if (now === shown) return
        shown = now
        draw()
      }),
      footage.subscribe(draw),
    ]
    return () => {
      clearTimeout(standing)
      for (const end of ends) end()
    }
  }, [programme, scenes, drawn, high, scale, playhead, footage, session])
  return (
    <canvas
      ref={ref}
      style={{ width, height }}
      className="absolute inset-0"
      role="img"
      aria-label="The programme's picture"
    />
  )
}

/** Action-safe and title-safe, by SMPTE ST 2046-1: 93 % and 90 % of the picture. */
function SafeAreas() {
  return (
    <>
      {[3.5, 5].map((inset) => (
        <span
          key={inset}
          className="pointer-events-none absolute border border-white/70"
          style={{ inset: `${inset}%` }}
        />
      ))}
    </>
  )
}

/** A double click on a title's words puts a caret among them; one on a title elsewhere opens its words as a form. */
function Writing({ scale, onWords, children }: { scale: number; onWords: () => void; children: React.ReactNode }) {
  const session = useSession()
  const frame = useFrame()
  const programme = useView((view) => view.programme)
  useView((view) => view.scenes)
  const titles = seenAt(programme, frame).filter((placed): placed is Placed<TitleClip> => placed.clip.kind === 'title')
  // The uppermost one that is chosen, else the uppermost one.
  const chosen = useView((view) => view.chosen)
  const title = titles.findLast(({ id }) => chosen.includes(id)) ?? titles.at(-1)
  const scene = title && session.sceneOf(title.clip.design, title.clip.shape)
  const clip = title?.clip
  const player = useMemo(() => clip && playerFor(session, clip), [session, clip])
  if (!title || !clip || !scene || !player) return <div className="absolute inset-0">{children}</div>
  const { id } = title
  return (
    <FieldWriting
      key={id}
      scene={scene}
      values={valuesOfClip(scene, programme, title, session.now)}
      player={{ ...player, frame: frame - clip.at }}
      origin={{ x: 0, y: 0 }}
      scale={scale}
      whose="this title"
      onText={({ key }, text, step) =>
        session.change((own) => withCells(own, id, { [key]: text }), 'words', `${id}.${key}.${step}`)
      }
      onUndo={session.undo}
      onRedo={session.redo}
      onElsewhere={() => {
        session.choose([id])
        onWords()
      }}
    >
      {children}
    </FieldWriting>
  )
}

/** A title's own time, as whoever writes in it knows it. */
function playerFor(session: ReturnType<typeof useSession>, clip: TitleClip): Omit<Player, 'frame'> {
  const { playhead } = session
  return {
    speed: 0,
    setSpeed: (next) => playhead.setSpeed(Number(next)),
    pace: 1,
    setPace: () => {},
    loop: undefined,
    setLoop: () => {},
    go: (frame) => playhead.go(Math.min(endOf(clip) - 1, clip.at + frame)),
    toggle: playhead.toggle,
  }
}
