import { stateOf } from '@hoja/core/data'
import { paint } from '@hoja/core/paint'
import {
  type ClipId,
  type FootageClip,
  firstWords,
  type Medium,
  secondsIn,
  sharedWords,
  shotFrame,
  spansOfClip,
  type TitleClip,
  timecodeIn,
} from '@hoja/core/programme'
import { Link2 } from 'lucide-react'
import { memo, type PointerEvent, useLayoutEffect, useRef, useSyncExternalStore } from 'react'
import { resources } from '../preview/rasterBackend.ts'
import { classes, StateMark } from '../ui/controls.tsx'
import { SpanShape } from '../ui/SpanShape.tsx'
import { useSession, useView } from './useProgramme.ts'

interface Props {
  id: ClipId
  px: number
  height: number
  hatch: string
  isChosen: boolean
  onPress: (event: PointerEvent, id: ClipId) => void
  onTwice: (id: ClipId) => void
}

/** A clip on its track. */
export const ClipBlock = memo(function ClipBlock(props: Props) {
  const clip = useView((view) => view.programme.clips[props.id])
  if (!clip) return null
  return clip.kind === 'title' ? <TitleBlock {...props} clip={clip} /> : <FootageBlock {...props} clip={clip} />
})

const edges = (width: number) =>
  width > 24 && (
    <>
      <span className="absolute inset-y-0 left-0 w-[7px] cursor-ew-resize" />
      <span className="absolute inset-y-0 right-0 w-[7px] cursor-ew-resize" />
    </>
  )

function TitleBlock({ id, clip, px, height, hatch, isChosen, onPress, onTwice }: Props & { clip: TitleClip }) {
  const session = useSession()
  const words = useView((view) => firstWords(view.programme, clip))
  const isLinked = useView((view) => sharedWords(view.programme).has(clip.words))
  const found = useView((view) => view.findings.get(id))
  const { programme } = session
  const width = clip.frames * px
  const spans = spansOfClip(programme, clip)
  const state = found ? stateOf(found) : 'fine'
  const [first, second] = [spans.in * px, (spans.in + spans.hold) * px]
  return (
    <div
      role="button"
      tabIndex={-1}
      aria-pressed={isChosen}
      aria-label={`${words}, ${timecodeIn(programme, clip.at)}, ${secondsIn(programme, clip.frames).toFixed(1)} s`}
      title={found?.map(({ message }) => message).join('\n') || words}
      className={classes('absolute top-1 bg-paper', isChosen && 'outline-2 outline-offset-1 outline-leaf')}
      style={{ left: clip.at * px, width, height }}
      onPointerDown={(event) => onPress(event, id)}
      onDoubleClick={() => onTwice(id)}
    >
      <svg width={width} height={height} className="block" aria-hidden="true">
        <SpanShape width={width} height={height} first={first} second={second} hatch={hatch} />
      </svg>
      {width > 30 && (
        <span
          className="pointer-events-none absolute inset-y-0 flex items-center gap-1 overflow-hidden text-xs font-medium"
          style={{ left: Math.max(4, first + 4), width: Math.max(0, Math.max(second - first, width - first - 10) - 8) }}
        >
          {state !== 'fine' && <StateMark state={state} />}
          {isLinked && <Link2 size={12} className="shrink-0 text-leaf" aria-label="linked" />}
          <span className="truncate rounded-[2px] bg-paper/85 px-0.5">{words}</span>
        </span>
      )}
      {edges(width)}
    </div>
  )
}

function FootageBlock({ id, clip, px, height, isChosen, onPress }: Props & { clip: FootageClip }) {
  const { programme } = useSession()
  const medium = useView((view) => view.programme.media[clip.medium])
  if (!medium) return null
  const width = clip.frames * px
  return (
    <div
      role="button"
      tabIndex={-1}
      aria-pressed={isChosen}
      aria-label={`${medium.name}, ${timecodeIn(programme, clip.at)}`}
      title={`${medium.name}; drag with Shift to slip it`}
      className={classes(
        'absolute top-1 overflow-hidden border-x border-paper text-xs',
        medium.kind === 'sound' ? 'bg-[#c9cdc3] text-ink' : 'bg-[#4f6661] text-white',
        isChosen && 'outline-2 outline-offset-1 outline-leaf',
      )}
      style={{ left: clip.at * px, width, height }}
      onPointerDown={(event) => onPress(event, id)}
    >
      {medium.kind === 'shot' && width > 30 && (
        <ShotThumb medium={medium} frame={clip.from} width={width} height={height} />
      )}
      {width > 40 && (
        <span
          className="pointer-events-none absolute bottom-0.5 truncate px-1 [text-shadow:0_1px_2px_#000a]"
          style={{ maxWidth: width - 6 }}
        >
          {medium.name}
          {medium.kind === 'movie' && <ProxyShare sha256={medium.sha256} />}
        </span>
      )}
      {edges(width)}
    </div>
  )
}

/** px up to which a shot's picture is repeated along its clip. */
const mostWide = 2400

/** The first frame of a drawn shot, over and over along its clip. */
function ShotThumb({
  medium,
  frame,
  width,
  height,
}: {
  medium: Extract<Medium, { kind: 'shot' }>
  frame: number
  width: number
  height: number
}) {
  const ref = useRef<HTMLCanvasElement>(null)
  const one = Math.round((height * 16) / 9)
  const wide = Math.min(mostWide, Math.max(1, Math.round(width)))
  useLayoutEffect(() => {
    const surface = resources.surface(one, height)
    const list = shotFrame(medium.scene, frame, '', { width: one, height })
    paint({ ...list, items: list.items.slice(0, 1) }, surface, resources)
    const context = ref.current!.getContext('2d')!
    for (let x = 0; x < wide; x += one + 1) context.drawImage(surface.canvas as OffscreenCanvas, x, 0)
  }, [medium.scene, frame, one, height, wide])
  return (
    <span aria-hidden="true" className="pointer-events-none absolute inset-0 opacity-80">
      <canvas ref={ref} width={wide} height={height} />
    </span>
  )
}

/** How far the proxy of a movie is, while it is made. */
function ProxyShare({ sha256 }: { sha256: string }) {
  const { footage } = useSession()
  const share = useSyncExternalStore(footage.subscribe, () => footage.reader(sha256).share)
  return share < 1 ? <>, proxy {Math.round(100 * share)} %</> : null
}
