import { moveAll } from '@hoja/core/layout'
import { momentAt } from '@hoja/core/motion'
import { fieldValue, Scene } from '@hoja/core/scene'
import { allParts, inEntries, type Part, pageBreak, type Template, type Values, withoutRuns } from '@hoja/core/template'
import { useEffect, useMemo, useRef } from 'react'
import { FrameCanvas } from '../../preview/FrameCanvas.tsx'
import type { Player } from '../../preview/usePlayer.ts'
import { WritingLayer } from '../../preview/writing/WritingLayer.tsx'
import { useDraft } from '../../session/draft.ts'
import { Button, classes } from '../../ui/controls.tsx'
import { useSize } from '../../ui/useSize.ts'
import { chosenParts, type Desk, type Tab, useDesk } from '../desk.ts'
import { useSpans } from '../time/useSpans.ts'
import { Offer } from '../tying/Offer.tsx'
import { TyingMarks } from '../tying/TyingMarks.tsx'
import { useTying } from '../tying/tying.ts'
import { AimMarks } from './AimMarks.tsx'
import { frameOnScreen } from './aim.ts'
import { Behind } from './Behind.tsx'
import { EmptyFrame } from './EmptyFrame.tsx'
import { FrameBar } from './FrameBar.tsx'
import { Handles } from './Handles.tsx'
import { Labels } from './Labels.tsx'
import { MotionPath } from './MotionPath.tsx'
import { Overlays } from './Overlays.tsx'
import { PathPoints } from './PathPoints.tsx'
import { placedParts } from './placed.ts'
import { Guides, Rulers } from './Rulers.tsx'
import { StanceHandles } from './StanceHandles.tsx'
import { beginWriting, useDraftWriting } from './useDraftWriting.tsx'
import { useGestures } from './useGestures.ts'
import { seenArea, showsIn, viewOf, zoomedAt } from './view.ts'

/** Panels about movement: with them a part has the handles that turn and scale it. */
const moving: readonly Tab[] = ['motion', 'moves', 'easing']

/** A scene in which only some parts are seen; all rest where they do. */
/** Whether a part is chosen, or written in, that stands in what runs: it is seen where it was drawn, then. */
function useInRun(template: Template, { selected, writing }: Pick<Desk, 'selected' | 'writing'>): boolean {
  const id = writing ?? selected
  const of = id === undefined ? undefined : inEntries(template, id)
  return of !== undefined && of.way !== 'turn' && of.part.id !== id
}

/** Of each list what it says first, so that everything that can stand in an entry stands in one. */
function firstsOf(template: Template, values: Values): Values {
  const lists = template.fields.filter(({ type }) => type === 'texts')
  const first = (all: readonly string[]) => all.filter((one) => one !== '' && one !== pageBreak).slice(0, 1)
  return {
    ...values,
    ...Object.fromEntries(lists.map((field) => [field.key, first(fieldValue(field, values) as string[])])),
  }
}

/** The scene, or one in which nothing runs. */
function useStill(scene: Scene, isStill: boolean): Scene {
  return useMemo(() => (isStill ? new Scene(withoutRuns(scene.template), scene.assets) : scene), [scene, isStill])
}

function useSolo(scene: Scene, solo: readonly string[]): Scene {
  return useMemo(() => {
    if (solo.length === 0) return scene
    const seen = new Set(
      allParts(scene.template.parts)
        .filter((part) => solo.includes(part.id))
        .flatMap((part) => [part, ...allParts(part.parts ?? [])])
        .flatMap((part) => [part.id, part.matte?.part ?? part.id]),
    )
    const unseen = (part: Part): Part =>
      part.parts
        ? { ...part, parts: part.parts.map(unseen) }
        : seen.has(part.id)
          ? part
          : ({ ...part, style: { ...part.style, opacity: 0 } } as Part)
    return new Scene({ ...scene.template, parts: scene.template.parts.map(unseen) }, scene.assets)
  }, [scene, solo])
}

/** The frame with the filling in it, part numbers, safe areas, and the measures of the chosen part. */
export function FrameView({ template, scene, player }: { template: Template; scene: Scene; player: Player }) {
  const desk = useDesk()
  const { change } = useDraft.getState()
  const refused = useDraft((draft) => draft.refused)
  const [ref, size] = useSize<HTMLDivElement>()
  showsIn(size)
  const { filling, show, pick } = desk
  const inRun = useInRun(template, desk)
  const shown = useStill(scene, inRun)
  const solo = useSolo(shown, desk.solo)
  const values = inRun ? firstsOf(template, filling.values) : filling.values
  const layout = shown.layout(values)
  const spans = useSpans()
  const placed = placedParts(template, shown, layout)
  const view = viewOf(size, template.frame, desk.zoom, desk.pan)
  const seen = seenArea(size, template.frame, view)
  const gestures = useGestures(template, placed, layout.rest, view)
  const tying = useTying(scene)
  const pointed = tying?.lines.find(({ proposal }) => proposal.id === tying.tying.pointed)
  const writing = useDraftWriting(template, scene, player)
  const chosenIds = chosenParts(desk)
  const chosen = chosenIds.flatMap((id) => placed.find((p) => p.part.id === id) ?? [])
  const [first] = chosen
  // One part that is there, and that can be taken hold of.
  const alone =
    first && chosen.length === 1 && !first.gone && desk.tool === 'choose' && !pick && !writing ? first : undefined
  // Where movement is looked at, its handles stand instead of dimension lines.
  const lever = alone && !alone.part.locked && moving.includes(desk.tab)
  const px = (v: number) => v * view.scale
  const canvas = (frame: number | undefined, label: string, of = solo) =>
    seen && (
      <div className="absolute" style={{ left: px(seen.x), top: px(seen.y) }}>
        <FrameCanvas
          scene={of}
          values={values}
          {...(frame === undefined ? {} : { frame })}
          width={px(seen.width)}
          crop={seen}
          label={label}
        />
      </div>
    )
  useWheel(ref, size, template)

  const keyDown = (event: React.KeyboardEvent) => {
    if (event.key === 'Enter' && desk.tool === 'path') gestures.endPen(false)
    else if (event.key === 'Enter' && !pick && first?.part.kind === 'text') {
      beginWriting(first.part.id)
      // Else it would be the first thing that is written.
      event.preventDefault()
    }
    if (event.key === 'Enter' && pick?.for === 'parts' && pick.chosen.length > 0) {
      desk.set({ pick: undefined })
      pick.done(pick.chosen)
    }
    if (event.key === 'Escape') {
      gestures.dropPen()
      desk.set({ tool: 'choose' })
    }
    const arrow = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
    if (!arrow || chosenIds.length === 0 || event.altKey) return
    // With the frame in focus the arrows move parts; everywhere else they step through the frames.
    event.preventDefault()
    event.stopPropagation()
    const step = event.shiftKey ? 10 : 1
    const what = first && chosenIds.length === 1 ? first.part.name : `${chosenIds.length} parts`
    change(moveAll(template, chosenIds, arrow[0]! * step, arrow[1]! * step), `moving ${what}`)
  }

  return (
    <section
      className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[34px_minmax(0,1fr)]"
      aria-label="Frame"
    >
      <FrameBar frame={template.frame} size={size} scale={view.scale} />
      <div
        ref={(element) => {
          ref.current = element
          frameOnScreen.view = element
        }}
        role="application"
        aria-label="The drawing: arrow keys move the chosen parts"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the drawing itself takes the arrow keys
        tabIndex={0}
        className={classes(
          'relative min-h-0 touch-none overflow-hidden bg-grey outline-none select-none focus-visible:outline-2 focus-visible:-outline-offset-2 focus-visible:outline-leaf',
          (pick || (desk.tool !== 'choose' && desk.tool !== 'points')) && 'cursor-crosshair',
        )}
        onPointerDown={gestures.press}
        onContextMenu={gestures.pointAt}
        onDoubleClick={() => {
          if (desk.tool === 'path') gestures.endPen(false)
          else if (first?.part.kind === 'path') desk.set({ tool: 'points' })
          else if (first?.part.kind === 'text') beginWriting(first.part.id)
        }}
        onKeyDown={keyDown}
      >
        {size.width > 0 && (
          <>
            <div
              className="absolute"
              style={{
                width: px(template.frame.width),
                height: px(template.frame.height),
                left: view.left,
                top: view.top,
              }}
              data-testid="frame"
              ref={(element) => {
                frameOnScreen.frame = element
              }}
            >
              <Behind background={desk.background} still={desk.still} />
              {show.onion &&
                onionFrames(template).map((frame, i, all) => (
                  <div key={frame} style={{ opacity: 0.08 + (0.22 * (i + 1)) / all.length }}>
                    {canvas(frame, i === all.length - 1 ? 'The settled pose, faint' : `Frame ${frame}, faint`, scene)}
                  </div>
                ))}
              {canvas(
                inRun ? undefined : player.frame,
                inRun
                  ? `One entry of ${template.name} as it was drawn, ${filling.name}`
                  : `Frame ${player.frame} of ${template.name}, ${filling.name}`,
              )}
              <Overlays
                template={template}
                placed={placed}
                chosen={chosen}
                scale={view.scale}
                show={show}
                picking={pick && { part: pick.part, chosen: pick.for === 'parts' ? pick.chosen : [] }}
                ring={refused?.code === 'ties.ring' ? refused.about : []}
                snaps={gestures.snaps}
              />
              <Labels
                template={template}
                rest={layout.rest}
                placed={placed}
                chosen={chosen}
                view={view}
                size={size}
                numbers={show.numbers}
                measures={show.measures && !writing && !lever && desk.tool !== 'points'}
                writing={desk.writing}
              />
              {alone && <Handles chosen={alone} view={view} />}
              {alone && lever && (
                <StanceHandles
                  template={template}
                  chosen={alone}
                  moment={momentAt(scene.timing(scene.layout(filling.values)), player.frame)}
                  view={view}
                  size={size}
                />
              )}
              {show.way && alone && (
                <MotionPath
                  template={template}
                  chosen={alone}
                  span={player.frame >= spans.in + spans.hold.frames ? 'out' : 'in'}
                  scale={view.scale}
                />
              )}
              {first?.part.kind === 'path' && desk.tool === 'points' && (
                <PathPoints chosen={first as Parameters<typeof PathPoints>[0]['chosen']} view={view} />
              )}
              <Drawing {...gestures} px={px} />
              {pointed && (
                <TyingMarks
                  template={template}
                  part={pointed.proposal.part}
                  option={pointed.option}
                  placed={placed}
                  scale={view.scale}
                />
              )}
              <AimMarks scene={scene} scale={view.scale} />
              {writing && <WritingLayer writing={writing} scale={view.scale} />}
            </div>
            <Guides template={template} view={view} />
            {show.rulers && <Rulers template={template} view={view} size={size} />}
          </>
        )}
        {template.parts.length === 0 && desk.tool === 'choose' && <EmptyFrame scene={scene} />}
        {filling.name !== 'as drawn' && (
          <p className="absolute bottom-2 left-3 flex h-6 items-center gap-2 rounded-[3px] bg-white px-2 text-xs">
            In the frame: <b className="font-semibold">{filling.name}</b>
            <button
              type="button"
              className="text-leaf hover:underline"
              onPointerDown={(event) => event.stopPropagation()}
              onClick={() => desk.set({ filling: { name: 'as drawn', values: {} } })}
            >
              as drawn again
            </button>
          </p>
        )}
        {desk.offer && !writing && !tying && !pick && gestures.isIdle && <Offer scene={scene} id={desk.offer} />}
        {pick && (
          <p
            role="status"
            className="absolute top-2 left-1/2 z-20 flex -translate-x-1/2 items-center gap-3 border border-rule bg-white px-3 py-1.5 whitespace-nowrap"
            onPointerDown={(event) => event.stopPropagation()}
          >
            {pick.for === 'edge'
              ? 'Click the part or safe area that this edge should hold to. Shift adds a part, Escape leaves.'
              : pick.several
                ? 'Click every part that it is about, then press Enter. Escape leaves.'
                : 'Click the part that it is about. Escape leaves.'}
            {pick.for === 'parts' && pick.several && (
              <Button
                small
                variant="primary"
                disabled={pick.chosen.length === 0}
                onClick={() => {
                  desk.set({ pick: undefined })
                  pick.done(pick.chosen)
                }}
              >
                These {pick.chosen.length}
              </Button>
            )}
          </p>
        )}
        {desk.tool === 'path' && (
          <p role="status" className="absolute top-2 left-1/2 -translate-x-1/2 bg-white px-3 py-1.5 whitespace-nowrap">
            Click to set points, drag to bend. Enter ends, a click on the first point closes, Escape drops it.
          </p>
        )}
      </div>
    </section>
  )
}

/** Frames that are drawn faint behind the one that is looked at: how it arrives, and where it comes to rest. */
const onionFrames = ({ spans }: Template): number[] => [
  ...new Set([0.25, 0.5, 0.75, 1].map((share) => Math.round(spans.in * share))),
]

/** Wheel: pans, with Ctrl zooms about the pointer. React listens passively to wheels, so this listens itself. */
function useWheel(
  ref: React.RefObject<HTMLDivElement | null>,
  size: { width: number; height: number },
  template: Template,
) {
  const latest = useRef({ size, template })
  latest.current = { size, template }
  useEffect(() => {
    const element = ref.current!
    const wheel = (event: WheelEvent) => {
      event.preventDefault()
      const { zoom, pan, set } = useDesk.getState()
      const { size, template } = latest.current
      const view = viewOf(size, template.frame, zoom, pan)
      if (event.ctrlKey || event.metaKey) {
        const box = element.getBoundingClientRect()
        const factor = Math.exp(-event.deltaY / 300)
        set(
          zoomedAt(size, template.frame, view, view.scale * factor, event.clientX - box.left, event.clientY - box.top),
        )
      } else if (zoom !== undefined) {
        const [dx, dy] = event.shiftKey ? [event.deltaY, 0] : [event.deltaX, event.deltaY]
        set({ pan: { x: pan.x - dx, y: pan.y - dy } })
      }
    }
    element.addEventListener('wheel', wheel, { passive: false })
    return () => element.removeEventListener('wheel', wheel)
  }, [ref])
}

/** What is being drawn or swept over at this moment. */
function Drawing({
  area,
  line,
  pen,
  px,
}: Pick<ReturnType<typeof useGestures>, 'area' | 'line' | 'pen'> & { px: (v: number) => number }) {
  return (
    <svg className="pointer-events-none absolute inset-0 size-full overflow-visible" aria-hidden="true">
      {area && (
        <rect
          x={px(area.x)}
          y={px(area.y)}
          width={px(area.width)}
          height={px(area.height)}
          fill="#1f7a4d"
          fillOpacity="0.15"
          stroke="#fff"
        />
      )}
      {line && (
        <path d={`M${px(line[0])} ${px(line[1])}L${px(line[2])} ${px(line[3])}`} stroke="#1f7a4d" strokeWidth="2" />
      )}
      {pen.length > 0 && (
        <>
          <path
            d={pen
              .map((p, i) => {
                const before = pen[i - 1]
                if (!before) return `M${px(p.x)} ${px(p.y)}`
                return `C${px(before.x + before.dx)} ${px(before.y + before.dy)} ${px(p.x - p.dx)} ${px(p.y - p.dy)} ${px(p.x)} ${px(p.y)}`
              })
              .join('')}
            fill="none"
            stroke="#b4472e"
            strokeWidth="1.5"
          />
          {pen.map((p, i) => (
            <rect key={i} x={px(p.x) - 4} y={px(p.y) - 4} width="8" height="8" fill="#fff" stroke="#b4472e" />
          ))}
        </>
      )}
    </svg>
  )
}
