import { apply, inverse, type Matrix } from '@hoja/core/paint'
import { type Scene, type Written, writtenText } from '@hoja/core/scene'
import type { PartId, Values } from '@hoja/core/template'
import { type Caret, type CaretStep, Carets } from '@hoja/core/text'
import { type ReactNode, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { usePointerDrag } from '../../ui/usePointerDrag.ts'
import { type Replaced, replacedWords } from './replaced.ts'

/** Offsets (UTF-16) in the words as they are written; the caret stands at `focus`. */
export interface Selection {
  anchor: number
  focus: number
  side: Caret['side']
}

export interface Writing {
  scene: Scene
  values: Values
  /** The frame shown, at which the text stands. */
  frame: number
  part: PartId
  /** What is written: the text, or the words of the field that is all of it. */
  own: 'text' | 'field'
  /** How a screen reader calls what is written. */
  label: string
  /** @param step what belongs to one step of undo */
  onWords: (replaced: Replaced, step: string) => void
  onUndo: () => void
  onRedo: () => void
  /** Escape, or something else was pressed. */
  onLeave: () => void
  /** Tab: to the next text, or, with Shift, the one before. */
  onNext?: (by: 1 | -1) => void
  /** Beside the text: what can be done with the words that are chosen. */
  bar?: (chosen: { from: number; to: number }) => ReactNode
}

/** What is known of a text while it is written in. */
interface Set {
  carets: Carets
  written: Written
  map: Matrix
  back: Matrix
  corners: [number, number][]
}

function useSet({ scene, values, frame, part, own }: Writing): Set | undefined {
  return useMemo(() => {
    const layout = scene.layout(values)
    const index = layout.rest.order.index.get(part)
    const block = index === undefined ? undefined : layout.blocks[index]
    const timing = scene.timing(layout)
    const map = block && scene.posed(layout, timing, Math.min(frame, timing.total - 1)).textMap(part)
    const back = map && inverse(map)
    if (index === undefined || !block || !back) return undefined
    const { x, y, width, height } = block.boxes.line
    const [dx, dy] = [height / 3, height / 8]
    const corners = [
      [x - dx, y - dy],
      [x + width + dx, y - dy],
      [x + width + dx, y + height + dy],
      [x - dx, y + height + dy],
    ].map(([cx, cy]) => apply(map, cx!, cy!))
    return { carets: new Carets(block), written: writtenText(layout.template, layout, index, own), map, back, corners }
  }, [scene, values, frame, part, own])
}

const mac = /Mac|iP(hone|ad)/.test(globalThis.navigator?.platform ?? '')

/** The step that a key means, as the machine's own texts have it. */
function stepOf(event: React.KeyboardEvent): CaretStep | undefined {
  const byWord = mac ? event.altKey : event.ctrlKey
  const toEnd = mac ? event.metaKey : event.ctrlKey
  switch (event.key) {
    case 'ArrowLeft':
      return mac && event.metaKey ? 'line start' : byWord ? 'word left' : 'left'
    case 'ArrowRight':
      return mac && event.metaKey ? 'line end' : byWord ? 'word right' : 'right'
    case 'ArrowUp':
      return mac && event.metaKey ? 'start' : 'up'
    case 'ArrowDown':
      return mac && event.metaKey ? 'end' : 'down'
    case 'Home':
      return toEnd ? 'start' : 'line start'
    case 'End':
      return toEnd ? 'end' : 'line end'
    default:
      return undefined
  }
}

/**
 * A caret in a text on the frame: what is typed goes into a text area that is not seen, so that the keyboard, input
 * methods, the clipboard and screen readers meet an ordinary one; what is seen is drawn where the glyphs stand.
 * @param scale screen px per frame px
 */
export function WritingLayer({ writing, scale }: { writing: Writing; scale: number }) {
  const set = useSet(writing)
  return set && <Layer key={writing.part} writing={writing} set={set} scale={scale} />
}

function Layer({ writing, set, scale }: { writing: Writing; set: Set; scale: number }) {
  const { carets, written, map, back } = set
  const { words } = written
  const area = useRef<HTMLTextAreaElement>(null)
  const beside = useRef<HTMLDivElement>(null)
  const [selection, setSelection] = useState<Selection>({ anchor: 0, focus: words.length, side: 'before' })
  /** px: where going up and down aims at. */
  const aim = useRef<number | undefined>(undefined)
  /** What is written in one go is one step of undo: a caret that is put elsewhere begins another. */
  const step = useRef(0)
  const composing = useRef(false)
  /** The words before an undo that is on its way. */
  const undone = useRef<string | undefined>(undefined)
  const within = (offset: number) => Math.min(offset, words.length)
  const [anchor, focus] = [within(selection.anchor), within(selection.focus)]
  const caret: Caret = { offset: written.toDrawn(focus), side: selection.side }
  const [from, to] = [Math.min(anchor, focus), Math.max(anchor, focus)]

  const select = (next: Selection, keepsAim = false) => {
    step.current++
    if (!keepsAim) aim.current = undefined
    setSelection(next)
  }
  /** Puts the caret somewhere; a field's words are gone over in one. */
  const putAt = (to: Caret, extends_: boolean, keepsAim = false) => {
    const offset = written.toWritten(to.offset)
    select({ anchor: extends_ ? anchor : offset, focus: offset, side: to.side }, keepsAim)
  }

  // Undo leads back to the place that it is about.
  // biome-ignore lint/correctness/useExhaustiveDependencies: when the words are others
  useLayoutEffect(() => {
    const before = undone.current
    undone.current = undefined
    const made = before === undefined ? undefined : replacedWords(before, words, words.length)
    if (made) select({ anchor: made.from + made.words.length, focus: made.from + made.words.length, side: 'before' })
  }, [words])

  // What is typed next is typed at the caret; while an input method writes, the text area is its own.
  useLayoutEffect(() => {
    const box = area.current!
    if (composing.current) return
    if (box.value !== words) box.value = words
    if (box.selectionStart !== from || box.selectionEnd !== to)
      box.setSelectionRange(from, to, focus < anchor ? 'backward' : 'forward')
  })
  useLayoutEffect(() => area.current!.focus({ preventScroll: true }), [])

  const typed = () => {
    const box = area.current!
    const at = box.selectionEnd
    const replaced = replacedWords(words, box.value, at)
    if (replaced) writing.onWords(replaced, String(step.current))
    setSelection({ anchor: at, focus: at, side: 'before' })
    aim.current = undefined
  }

  const go = (by: CaretStep, extends_: boolean) => {
    const isAside = by === 'left' || by === 'right'
    if (from !== to && !extends_ && isAside) {
      // What was chosen is left at the side that the key points to.
      const ends = [from, to].map((offset) => carets.from(written.toDrawn(offset)))
      const [a, b] = ends.map((end) => carets.place(end).x) as [number, number]
      putAt(a < b === (by === 'left') ? ends[0]! : ends[1]!, false)
      return
    }
    if (by === 'up' || by === 'down') aim.current ??= carets.place(caret).x
    let next = carets.move(caret, by, aim.current)
    // A field's words are one character here: it is left at its other end.
    for (
      let n = 0;
      isAside && written.toWritten(next.offset) === focus && next.offset !== caret.offset && n < 200;
      n++
    ) {
      const on = carets.move(next, by)
      if (on.offset === next.offset && on.side === next.side) break
      next = on
    }
    putAt(next, extends_, by === 'up' || by === 'down')
  }

  const travel = (act: () => void) => {
    undone.current = words
    act()
  }

  const keyDown = (event: React.KeyboardEvent) => {
    // Nothing that is typed here is a shortcut of the screen.
    event.stopPropagation()
    if (event.nativeEvent.isComposing) return
    const command = mac ? event.metaKey : event.ctrlKey
    const key = event.key.toLowerCase()
    const by = stepOf(event)
    if (by) go(by, event.shiftKey)
    else if (event.key === 'Escape') {
      // The frame has the keys again, if it takes any.
      const frame = area.current!.closest<HTMLElement>('[tabindex="0"]')
      writing.onLeave()
      frame?.focus({ preventScroll: true })
    } else if (event.key === 'Tab' && writing.onNext) writing.onNext(event.shiftKey ? -1 : 1)
    else if (command && key === 'a') select({ anchor: 0, focus: words.length, side: 'before' })
    else if (command && (key === 'y' || (key === 'z' && event.shiftKey))) travel(writing.onRedo)
    else if (command && key === 'z') travel(writing.onUndo)
    else return
    event.preventDefault()
  }

  const pointOf = (frame: DOMRect, x: number, y: number): Caret => {
    const [fx, fy] = apply(back, (x - frame.left) / scale, (y - frame.top) / scale)
    return carets.at(fx, fy)
  }
  const begin = usePointerDrag<{ frame: DOMRect; anchor: number }>({
    threshold: 2,
    move: (held, at) => {
      const to = pointOf(held.frame, at.x, at.y)
      select({ anchor: held.anchor, focus: written.toWritten(to.offset), side: to.side })
    },
  })
  const press = (event: React.PointerEvent<SVGElement>) => {
    if (event.button !== 0) return
    event.stopPropagation()
    const frame = event.currentTarget.ownerSVGElement!.getBoundingClientRect()
    const at = pointOf(frame, event.clientX, event.clientY)
    const offset = written.toWritten(at.offset)
    area.current!.focus({ preventScroll: true })
    if (event.detail >= 2) {
      const [a, b] = event.detail === 2 ? carets.word(at.offset) : carets.lineOf(at)
      select({ anchor: written.toWritten(a), focus: written.toWritten(b), side: 'before' })
      return
    }
    putAt(at, event.shiftKey)
    begin(event, { frame, anchor: event.shiftKey ? anchor : offset })
  }

  const { x, top, height } = carets.place(caret)
  const [head, foot] = [apply(map, x, top), apply(map, x, top + height)]
  const px = (point: readonly [number, number]) => point.map((v) => v * scale).join()
  const chosen = from === to ? [] : carets.boxes(written.toDrawn(from), written.toDrawn(to))
  const shapeOf = (box: { x: number; y: number; width: number; height: number }) =>
    [
      [box.x, box.y],
      [box.x + box.width, box.y],
      [box.x + box.width, box.y + box.height],
      [box.x, box.y + box.height],
    ]
      .map(([bx, by]) => px(apply(map, bx!, by!)))
      .join(' ')
  const high = Math.min(...set.corners.map(([, cy]) => cy)) * scale
  const left = Math.min(...set.corners.map(([cx]) => cx)) * scale
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it hears of the focus of what stands in it
    <div
      className="absolute inset-0"
      onBlur={(event) => {
        const to = event.relatedTarget as Node | null
        // Another window may come to the front meanwhile; what stands beside the text belongs to it.
        if (document.activeElement === area.current || beside.current?.contains(to)) return
        if (!event.currentTarget.contains(to)) writing.onLeave()
      }}
    >
      <svg className="pointer-events-none absolute inset-0 size-full overflow-visible" aria-hidden="true">
        {/* biome-ignore lint/a11y/noStaticElementInteractions: the text area is what has a role; this is where a pointer meets it */}
        <polygon
          points={set.corners.map(px).join(' ')}
          className="pointer-events-auto cursor-text fill-transparent stroke-leaf"
          strokeDasharray="2 3"
          onPointerDown={press}
          onMouseDown={(event) => event.preventDefault()}
        />
        {written.tokens.flatMap(({ start, end, field }) =>
          carets
            .boxes(start, end)
            .map((box, i) => (
              <polygon key={`${field}${i}`} points={shapeOf(box)} className="fill-leaf/15 stroke-leaf" />
            )),
        )}
        {chosen.map((box, i) => (
          <polygon key={i} points={shapeOf(box)} className="fill-leaf/30" />
        ))}
        <path d={`M${px(head)}L${px(foot)}`} stroke="#fff" strokeWidth="4" />
        <path
          data-testid="caret"
          d={`M${px(head)}L${px(foot)}`}
          className="animate-caret stroke-leaf"
          strokeWidth="2"
        />
      </svg>
      <textarea
        ref={area}
        aria-label={writing.label}
        defaultValue={words}
        spellCheck={false}
        className="absolute w-px resize-none overflow-hidden border-0 p-0 text-[1px] leading-none whitespace-pre opacity-0 outline-none"
        // Where input methods put what they offer.
        style={{ left: head[0] * scale, top: head[1] * scale, height: Math.max(1, (foot[1] - head[1]) * scale) }}
        onInput={typed}
        onCompositionStart={() => {
          composing.current = true
        }}
        onCompositionEnd={() => {
          composing.current = false
          typed()
        }}
        onKeyDown={keyDown}
        onSelect={() => {
          const { selectionStart, selectionEnd } = area.current!
          if (composing.current || (selectionStart === from && selectionEnd === to)) return
          select({ anchor: selectionStart, focus: selectionEnd, side: 'before' })
        }}
      />
      {writing.bar && (
        <div
          ref={beside}
          role="toolbar"
          aria-label="The chosen words"
          className="absolute z-30 flex items-center gap-1.5 border border-rule bg-paper px-2 py-1"
          style={{ left: Math.max(0, left), top: Math.max(-30, high - 44) }}
          onPointerDown={(event) => event.stopPropagation()}
          onKeyDown={(event) => {
            event.stopPropagation()
            if (event.key === 'Escape') area.current!.focus({ preventScroll: true })
          }}
        >
          {writing.bar({ from, to })}
        </div>
      )}
    </div>
  )
}
