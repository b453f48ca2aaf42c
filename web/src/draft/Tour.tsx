import { Popover } from 'radix-ui'
import { useEffect, useMemo, useState } from 'react'
import { Button } from '../ui/controls.tsx'
import { useDesk } from './desk.ts'

/** What is pointed at, by what it is for anybody, and what is said of it. */
const stops: { at: string; side: 'top' | 'bottom' | 'left' | 'right'; says: string; more: string }[] = [
  {
    at: '[role=toolbar][aria-label="Frame tools"]',
    side: 'bottom',
    says: 'Draw as on paper',
    more: 'T and a click writes on the frame, B draws a box. An empty frame has drawings to begin with.',
  },
  {
    at: 'button[title^="Hoja reads what"]',
    side: 'bottom',
    says: 'Say what holds to what',
    more: 'Y reads the drawing back in sentences: this box stands around these words. Take those that are right, and the words that are to be filled become fields.',
  },
  {
    at: 'aside[aria-label="Proofs"]',
    side: 'left',
    says: 'See it with other names',
    more: 'The shortest, the longest, from right to left, an empty one: every change shows here with what its checks say.',
  },
  {
    at: 'section[aria-label="Time"]',
    side: 'top',
    says: 'Let it arrive, then publish',
    more: 'In, Hold and Out; Moves has ready ones. Publish, at the upper right, gives it to those who fill it.',
  },
]

/** Four steps that point at the controls themselves. Nothing waits for it: it can be left, and called again. */
export function Tour() {
  const at = useDesk((desk) => desk.tour)
  return at === undefined ? null : <Stop key={at} at={at} />
}

function Stop({ at }: { at: number }) {
  const { set } = useDesk.getState()
  const stop = stops[at]!
  const [box, setBox] = useState<DOMRect>()
  useEffect(() => {
    const element = document.querySelector(stop.at)
    const look = () => setBox(element?.getBoundingClientRect())
    look()
    const observer = new ResizeObserver(look)
    observer.observe(document.body)
    if (element) observer.observe(element)
    return () => observer.disconnect()
  }, [stop.at])
  const anchor = useMemo(() => ({ current: { getBoundingClientRect: () => box! } }), [box])
  const isLast = at === stops.length - 1
  const leave = () => set({ tour: undefined })
  if (!box) return null
  return (
    <>
      <div
        className="pointer-events-none fixed z-40 outline-2 outline-offset-2 outline-leaf"
        style={{ left: box.left, top: box.top, width: box.width, height: box.height }}
      />
      <Popover.Root open>
        <Popover.Anchor virtualRef={anchor} />
        <Popover.Portal>
          <Popover.Content
            side={stop.side}
            sideOffset={10}
            collisionPadding={10}
            className="z-50 w-72 border border-leaf bg-paper p-3 shadow-lg"
            aria-label={`${stop.says}, ${at + 1} of ${stops.length}`}
            onEscapeKeyDown={leave}
            // What is pointed at can be tried while it is read.
            onInteractOutside={(event) => event.preventDefault()}
          >
            <p className="font-semibold">{stop.says}</p>
            <p className="mt-1 text-soft">{stop.more}</p>
            <div className="mt-3 flex items-center gap-2">
              <span className="mr-auto text-xs text-soft">
                {at + 1} of {stops.length}
              </span>
              {!isLast && (
                <Button small onClick={leave}>
                  Leave
                </Button>
              )}
              <Button small variant="primary" onClick={() => (isLast ? leave() : set({ tour: at + 1 }))}>
                {isLast ? 'Done' : 'Next'}
              </Button>
            </div>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </>
  )
}
