import { ChevronLeft, ChevronRight, Minus } from 'lucide-react'
import { Fragment, type ReactNode, useEffect } from 'react'
import { Group, Panel, Separator, useDefaultLayout, usePanelRef } from 'react-resizable-panels'
import { classes } from '../ui/controls.tsx'
import { type Foldable as FoldableName, useDesk } from './desk.ts'

/** What is kept per person is kept by the browser. */
const storage = {
  getItem: (key: string) => localStorage.getItem(key),
  setItem: (key: string, value: string) => {
    try {
      localStorage.setItem(key, value)
    } catch {
      // A browser that may keep nothing begins anew next time.
    }
  },
}

/** A place's element, which has its name for tests and tools as well. */
const placeId = (place: string) => `place-${place}`

/** Px that a folded panel keeps: a strip with its name, which brings it back. */
const strip = 26

/**
 * The desk's places: parts, the frame with the part's panels and time below or beside it, proofs. Every border is
 * dragged or moved by the arrow keys; panels fold to a strip; folds and sizes are kept per person, sizes for each of the
 * two arrangements.
 */
export function Arrangement({
  upright,
  parts,
  frame,
  panels,
  time,
  proofs,
}: {
  /** The frame is higher than wide: what belongs to a part stands beside it unless somebody wants it below. */
  upright: boolean
  parts: ReactNode
  frame: ReactNode
  panels: ReactNode
  time: ReactNode
  proofs: ReactNode
}) {
  const only = useDesk((desk) => desk.only)
  const chosen = useDesk((desk) => desk.beside[upright ? 'upright' : 'wide'])
  const beside = chosen && only !== 'time'
  const shape = beside ? 'beside' : 'below'
  return (
    <Kept id="desk" across places={only ? ['middle'] : ['parts', 'middle', 'proofs']}>
      {(place) =>
        ({
          parts: (
            <Foldable key="parts" id="parts" size={212} least={150} edge="left">
              {parts}
            </Foldable>
          ),
          middle: (
            <Panel key="middle" id={placeId('middle')} minSize={420}>
              <Kept
                key={shape}
                id={`middle-${shape}${only ? `-${only}` : ''}`}
                across={beside}
                places={only === 'frame' ? ['frame'] : ['frame', 'lower']}
              >
                {(place) =>
                  place === 'frame' ? (
                    <Panel key="frame" id={placeId('frame')} minSize={160} className="grid min-h-0 min-w-0">
                      {frame}
                    </Panel>
                  ) : (
                    <Panel
                      key="lower"
                      id={placeId('lower')}
                      defaultSize={beside ? 390 : 252}
                      minSize={beside ? 330 : 120}
                      groupResizeBehavior="preserve-pixel-size"
                    >
                      <Kept id={`lower-${shape}`} across={!beside} places={only ? ['time'] : ['panels', 'time']}>
                        {(place) =>
                          place === 'time' ? (
                            <Foldable key="time" id="time" size="55%" least={200} edge={beside ? 'bottom' : 'right'}>
                              {time}
                            </Foldable>
                          ) : (
                            <Panel
                              key="panels"
                              id={placeId('panels')}
                              minSize={beside ? 160 : 330}
                              className="grid min-h-0 bg-paper"
                            >
                              {panels}
                            </Panel>
                          )
                        }
                      </Kept>
                    </Panel>
                  )
                }
              </Kept>
            </Panel>
          ),
          proofs: (
            <Foldable key="proofs" id="proofs" size={236} least={170} edge="right">
              {proofs}
            </Foldable>
          ),
        })[place]
      }
    </Kept>
  )
}

/** Places in a row or a column, with a border to drag between two of them; their sizes are kept. */
function Kept<Place extends string>({
  id,
  across,
  places,
  children,
}: {
  id: string
  /** Beside each other, not below. */
  across: boolean
  places: Place[]
  children: (place: Place) => ReactNode
}) {
  const kept = useDefaultLayout({ id: `hoja.${id}`, storage, panelIds: places.map(placeId) })
  return (
    <Group
      id={placeId(id)}
      orientation={across ? 'horizontal' : 'vertical'}
      className="min-h-0 min-w-0 flex-1"
      {...kept}
    >
      {places.map((place, i) => (
        <Fragment key={place}>
          {i > 0 && (
            <Separator
              id={`${id}-${place}`}
              aria-label={`Border of ${named[places[i - 1]!] ?? places[i - 1]} and ${named[place] ?? place}`}
              className={classes(
                'relative bg-rule outline-none hover:bg-leaf focus-visible:bg-leaf data-[separator=active]:bg-leaf',
                across ? 'w-px' : 'h-px',
              )}
            />
          )}
          {children(place)}
        </Fragment>
      ))}
    </Group>
  )
}

const named: Partial<Record<string, string>> = {
  middle: 'the frame',
  frame: 'the frame',
  lower: 'what is below it',
  panels: 'the panels',
}

const arrows = { left: ChevronRight, right: ChevronLeft, bottom: ChevronRight }

/** A panel that folds to a strip with its name at an edge of the desk. */
function Foldable({
  id,
  size,
  least,
  edge,
  children,
}: {
  id: FoldableName
  size: number | string
  least: number
  edge: keyof typeof arrows
  children: ReactNode
}) {
  const panel = usePanelRef()
  const isAlone = useDesk((desk) => desk.only !== undefined)
  const folded = useDesk((desk) => desk.folded.includes(id)) && !isAlone
  const { fold } = useDesk.getState()
  // What the drawing desk says and what the border was dragged to are one.
  useEffect(() => {
    if (folded) panel.current?.collapse()
    else panel.current?.expand()
  }, [folded, panel])
  const Arrow = arrows[edge]
  return (
    <Panel
      id={placeId(id)}
      panelRef={panel}
      defaultSize={size}
      minSize={least}
      collapsible
      collapsedSize={strip}
      groupResizeBehavior={typeof size === 'number' ? 'preserve-pixel-size' : 'preserve-relative-size'}
      className="grid min-h-0 bg-paper"
      onResize={() => {
        const isFolded = panel.current?.isCollapsed() ?? false
        if (!isAlone && isFolded !== useDesk.getState().folded.includes(id)) fold(id, isFolded)
      }}
    >
      {folded ? (
        <button
          type="button"
          className={classes(
            'flex items-center gap-1.5 overflow-hidden text-xs text-soft hover:bg-chalk hover:text-ink',
            edge === 'bottom' ? 'px-2' : 'flex-col py-2.5 [&>span]:[writing-mode:vertical-rl]',
          )}
          title={`Bring ${id} back`}
          onClick={() => fold(id, false)}
        >
          <Arrow size={14} aria-hidden="true" className="shrink-0" />
          <span>{id[0]!.toUpperCase() + id.slice(1)}</span>
        </button>
      ) : (
        children
      )}
    </Panel>
  )
}

/** Folds a panel away; stands in its head. */
export function FoldButton({ of: panel, keys }: { of: FoldableName; keys: string }) {
  // What stands by itself, or with the frame alone, has nothing to make room for.
  const isAlone = useDesk((desk) => desk.only !== undefined)
  return isAlone ? null : (
    <button
      type="button"
      className="flex size-6 items-center justify-center rounded-[3px] text-soft hover:bg-chalk hover:text-ink"
      aria-label={`Fold ${panel} away`}
      title={`Fold ${panel} away: ${keys}`}
      onClick={() => useDesk.getState().fold(panel, true)}
    >
      <Minus size={13} aria-hidden="true" />
    </button>
  )
}
