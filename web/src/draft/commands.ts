import { addGlint, behindContent, boxOf, moveAll, sideChoice, stack } from '@hoja/core/layout'
import { keysOf, moves, pasteMotion, putMove, setKeyAt } from '@hoja/core/motion'
import { unite } from '@hoja/core/paint'
import type { Scene } from '@hoja/core/scene'
import {
  allParts,
  type Change,
  type Clipping,
  clip,
  duplicate,
  findPart,
  group,
  kindNames,
  type PartId,
  paste,
  pasteStyle,
  readClipping,
  shapesOf,
  type Template,
  ungroup,
} from '@hoja/core/template'
import { toast } from 'sonner'
import type { Player } from '../preview/usePlayer.ts'
import { useDraft } from '../session/draft.ts'
import { alignCommands, mirrorDesign, mirrorWords, restOf } from './arrangeCommands.ts'
import { backgrounds, chosenParts, nearerBy, type Shown, type Tab, type Tool, tabs, useDesk } from './desk.ts'
import { addDrawn } from './frame/adding.ts'
import { freshPart } from './frame/drawn.ts'
import { beginWriting } from './frame/useDraftWriting.tsx'
import { zoomedTo } from './frame/view.ts'
import { addShape, missingShapes } from './parts/Shapes.tsx'
import { spanAt } from './time/spans.ts'
import { spansNow } from './time/useSpans.ts'
import { beginTying } from './tying/tying.ts'

/** One thing that can be done in Draft: in the palette by its name, in the sheet of shortcuts by its keys. */
export interface Command {
  id: string
  name: string
  /** Heading under which it is listed. */
  group: 'Parts' | 'Draw' | 'Frame' | 'Time' | 'Template'
  /** As react-hotkeys-hook writes them. */
  keys?: string
  run: () => void
}

/** Where copied parts are kept besides the system's clipboard, which a page may not always read. */
let copied = ''
const storage = 'hoja.copied'

async function copyParts(template: Template, ids: readonly PartId[]): Promise<void> {
  copied = JSON.stringify(clip(template, ids))
  try {
    localStorage.setItem(storage, copied)
  } catch {
    // Too large for the browser's own storage: this tab still has it.
  }
  await navigator.clipboard?.writeText(copied).catch(() => undefined)
  toast.success(`${ids.length === 1 ? 'One part is' : `${ids.length} parts are`} copied, with all they use.`)
}

/** What was copied last, here or in another tab; a sentence where that is nothing. */
async function withCopied(use: (clipping: Clipping) => void): Promise<void> {
  const fromSystem = await navigator.clipboard?.readText().catch(() => '')
  const clipping =
    readClipping(fromSystem ?? '') ?? readClipping(localStorage.getItem(storage) ?? '') ?? readClipping(copied)
  if (clipping) use(clipping)
  else toast.error('No parts were copied; choose some in a template and copy them.')
}

const put = (make: (now: Template) => Change, what: string) => useDraft.getState().attempt(make, what)

function pasteParts(clipping: Clipping): void {
  let ids: PartId[] = []
  const made = useDraft.getState().attempt((template) => {
    const pasted = paste(template, clipping)
    ids = pasted.ids
    return pasted.change
  }, 'pasting parts')
  if (made) useDesk.getState().set({ selected: ids[0], also: ids.slice(1) })
}

/** Everything that can be done in Draft without a pointer; the one list behind palette, shortcuts and keys. */
export function commandsOf(template: Template, scene: Scene, player: Player): Command[] {
  const desk = useDesk.getState
  const { change, attempt, attemptWhole } = useDraft.getState()
  const ids = () => chosenParts(desk())
  const some = (act: (chosen: PartId[]) => void) => () => {
    const chosen = ids()
    if (chosen.length > 0) act(chosen)
    else toast('Choose a part first: in the parts list or on the frame.')
  }
  const choose = (list: readonly PartId[]) => desk().set({ selected: list[0], also: list.slice(1) })
  const nudge = (dx: number, dy: number) =>
    some((chosen) => {
      change(moveAll(template, chosen, dx, dy), 'moving by a step')
    })
  const tool = (one: Tool) => () => desk().set({ tool: one })
  const show = (key: keyof Shown) => () => desk().set({ show: { ...desk().show, [key]: !desk().show[key] } })
  const tab = (one: Tab) => () => desk().set({ tab: one })
  const spans = spansNow()
  const here = spanAt(spans, player.frame)
  const keyTimes = () => [...new Set(ids().flatMap((id) => keyFrames(template, id)))].sort((a, b) => a - b)
  const remove = (chosen: PartId[]) => {
    if (change({ kind: 'several', changes: chosen.map((part) => ({ kind: 'removePart', part })) }, 'removing parts'))
      desk().set({ selected: undefined })
  }
  const parts: Command[] = [
    {
      id: 'write',
      name: 'Write in the text',
      group: 'Parts',
      run: () => {
        const part = findPart(template, desk().selected ?? '')
        if (part?.kind === 'text') beginWriting(part.id)
        else toast('Choose a text first: in the parts list or on the frame.')
      },
    },
    { id: 'copy', name: 'Copy parts', group: 'Parts', keys: 'mod+c', run: some((c) => void copyParts(template, c)) },
    {
      id: 'cut',
      name: 'Cut parts',
      group: 'Parts',
      keys: 'mod+x',
      run: some((c) => void copyParts(template, c).then(() => remove(c))),
    },
    { id: 'paste', name: 'Paste parts', group: 'Parts', keys: 'mod+v', run: () => void withCopied(pasteParts) },
    {
      id: 'paste-style',
      name: 'Paste the style of what was copied',
      group: 'Parts',
      keys: 'mod+shift+v',
      run: some((c) => void withCopied((clipping) => put((now) => pasteStyle(now, clipping, c), 'a copied style'))),
    },
    {
      id: 'paste-lines',
      name: 'Paste chosen lines of the style …',
      group: 'Parts',
      run: some(() => void withCopied((clipping) => desk().set({ pasting: clipping }))),
    },
    {
      id: 'paste-motion',
      name: 'Paste the motion of what was copied',
      group: 'Parts',
      run: some((c) => void withCopied((clipping) => put((now) => pasteMotion(now, clipping, c), 'a copied motion'))),
    },
    {
      id: 'duplicate',
      name: 'Duplicate',
      group: 'Parts',
      keys: 'mod+d',
      run: some((c) => {
        const made = duplicate(template, c)
        if (change(made.change, 'duplicating')) choose(made.ids)
      }),
    },
    {
      id: 'group',
      name: 'Group',
      group: 'Parts',
      keys: 'g',
      run: some((c) => {
        let id: string | undefined
        const made = attempt((now) => {
          const grouped = group(now, c)
          id = grouped.id
          return grouped.change
        }, 'grouping')
        if (made && id) choose([id])
      }),
    },
    {
      id: 'ungroup',
      name: 'Ungroup',
      group: 'Parts',
      keys: 'shift+g',
      run: some((c) => {
        let inside: PartId[] = []
        const made = attempt((now) => {
          const apart = ungroup(now, c[0]!)
          inside = apart.ids
          return apart.change
        }, 'ungrouping')
        if (made) choose(inside)
      }),
    },
    {
      id: 'glint',
      name: 'Add a glint that sweeps across',
      group: 'Parts',
      run: some((c) => {
        const made = addGlint(template, c[0]!)
        if (change(made.change, 'a glint')) choose([made.id])
      }),
    },
    ...(
      [
        ['forward', 'Forward', 'pageup'],
        ['backward', 'Backward', 'pagedown'],
        ['front', 'To the front', 'shift+pageup'],
        ['back', 'Behind everything', 'shift+pagedown'],
      ] as const
    ).map(
      ([how, name, keys]): Command => ({
        id: `order-${how}`,
        name,
        group: 'Parts',
        keys,
        run: some((c) => {
          const made = stack(template, c, how)
          if (made) change(made, 'the layer order')
          else toast(`${c.length === 1 ? 'It stands' : 'They stand'} there already.`)
        }),
      }),
    ),
    {
      id: 'order-behind',
      name: 'Behind what it stands around',
      group: 'Parts',
      keys: 'q',
      run: some((c) => {
        const made = behindContent(template, scene.layout(desk().filling.values).rest, c)
        if (made) change(made.change, 'the layer order')
        else toast('Nothing that it stands around lies below it.')
      }),
    },
    { id: 'tie-as-drawn', name: 'Tie as drawn', group: 'Parts', keys: 'y', run: beginTying },
    ...shapesOf(useDraft.getState().whole!).map(
      (shape): Command => ({
        id: `shape-${shape.id}`,
        name: `Look at the shape ${shape.name}`,
        group: 'Frame',
        run: () => useDraft.getState().setShape(shape.id),
      }),
    ),
    ...missingShapes(useDraft.getState().whole!).map(
      ({ name, size }): Command => ({
        id: `add-shape-${name}`,
        name: `Add the shape ${name}`,
        group: 'Frame',
        run: () => addShape(size),
      }),
    ),
    {
      id: 'mirror',
      name: mirrorWords,
      group: 'Template',
      run: () => mirrorDesign(scene),
    },
    {
      id: 'mirror-choice',
      name: 'Mirrored across, as a choice for editors',
      group: 'Template',
      run: () => {
        if (attemptWhole((whole) => sideChoice(whole, restOf(scene)), 'the choice of sides'))
          toast('Editors choose the side: try it in Hand-off, or on a proof.')
      },
    },
    { id: 'remove', name: 'Remove parts', group: 'Parts', keys: 'delete', run: some(remove) },
    {
      id: 'all',
      name: 'Choose all parts',
      group: 'Parts',
      keys: 'mod+a',
      run: () => choose(template.parts.map((part) => part.id)),
    },
    {
      id: 'hide',
      name: 'Hide or show',
      group: 'Parts',
      keys: 'h',
      run: some((c) => {
        const hidden = c.every((id) => findPart(template, id)?.style.visible === false)
        change(
          {
            kind: 'several',
            changes: c.map((part) => ({ kind: 'style', part, key: 'visible', value: hidden ? undefined : false })),
          },
          'showing and hiding',
        )
      }),
    },
    {
      id: 'solo',
      name: 'Solo, or end solo',
      group: 'Parts',
      keys: 's',
      run: () => desk().set({ solo: desk().solo.length > 0 ? [] : ids() }),
    },
    {
      id: 'lock',
      name: 'Lock or unlock',
      group: 'Parts',
      keys: 'shift+l',
      run: some((c) => {
        const locked = c.every((id) => findPart(template, id)?.locked)
        change({ kind: 'several', changes: c.map((part) => ({ kind: 'lock', part, locked: !locked })) }, 'locking')
      }),
    },
    ...(
      [
        ['left', -1, 0],
        ['right', 1, 0],
        ['up', 0, -1],
        ['down', 0, 1],
      ] as const
    ).flatMap(([way, dx, dy]): Command[] => [
      { id: `move-${way}`, name: `Move ${way} by 1 px`, group: 'Parts', keys: `alt+${way}`, run: nudge(dx, dy) },
      {
        id: `move-${way}-10`,
        name: `Move ${way} by 10 px`,
        group: 'Parts',
        keys: `alt+shift+${way}`,
        run: nudge(dx * 10, dy * 10),
      },
    ]),
    ...alignCommands(template, scene, ['any', 'any', 'any']).flatMap((entry, i): Command[] =>
      entry && typeof entry === 'object'
        ? [
            {
              id: `align-${i}`,
              name: `Arrange: ${entry.label}`,
              group: 'Parts',
              run: some((c) => {
                const own = alignCommands(template, scene, c)[i]
                if (own && typeof own === 'object') own.onSelect()
              }),
            },
          ]
        : [],
    ),
    ...allParts(template.parts).map(
      (part): Command => ({
        id: `choose-${part.id}`,
        name: `Choose ${part.name}`,
        group: 'Parts',
        run: () => choose([part.id]),
      }),
    ),
  ]
  const draw: Command[] = [
    { id: 'tool-choose', name: 'Choose and move', group: 'Draw', keys: 'v', run: tool('choose') },
    ...(
      [
        ['text', 't'],
        ['box', 'b'],
        ['ellipse', 'e'],
        ['line', 'i'],
        ['path', 'p'],
        ['curve', 'u'],
        ['points', 'n'],
      ] as [Tool, string][]
    ).map(
      ([one, keys]): Command => ({
        id: `tool-${one}`,
        name: one === 'points' ? 'Edit the points of a path' : `Draw a ${one}`,
        group: 'Draw',
        keys,
        run: tool(one),
      }),
    ),
    ...(['text', 'box', 'ellipse', 'path', 'curve', 'picture'] as const).map(
      (kind): Command => ({
        id: `add-${kind}`,
        name: `Add a ${kindNames[kind]}`,
        group: 'Draw',
        run: () => addDrawn(template, freshPart(template, kind), scene.layout(desk().filling.values).rest),
      }),
    ),
  ]
  const frame: Command[] = [
    {
      id: 'fit',
      name: 'Fit the frame',
      group: 'Frame',
      keys: '0',
      run: () => desk().set({ zoom: undefined, pan: { x: 0, y: 0 } }),
    },
    {
      id: 'full',
      name: 'Zoom to 100 %',
      group: 'Frame',
      keys: '1',
      run: () => desk().set({ zoom: 1, pan: { x: 0, y: 0 } }),
    },
    {
      id: 'zoom-chosen',
      name: 'Zoom to what is chosen',
      group: 'Frame',
      keys: '2',
      run: some((c) => {
        const { rest } = scene.layout(desk().filling.values)
        const boxes = c.map((id) => boxOf(rest, rest.order.index.get(id)!))
        const box = boxes.reduce((all, one) => unite(all, one)!)
        desk().set(zoomedTo(template.frame, box))
      }),
    },
    {
      id: 'only-frame',
      name: 'The frame alone, or everything',
      group: 'Frame',
      keys: 'w',
      run: () => desk().set({ only: desk().only === 'frame' ? undefined : 'frame' }),
    },
    {
      id: 'only-time',
      name: 'The frame with time, or everything',
      group: 'Frame',
      keys: 'shift+w',
      run: () => desk().set({ only: desk().only === 'time' ? undefined : 'time' }),
    },
    ...(
      [
        ['parts', 'bracketleft'],
        ['proofs', 'bracketright'],
        ['time', 'backslash'],
      ] as const
    ).map(
      ([panel, keys]): Command => ({
        id: `fold-${panel}`,
        name: `Fold ${panel} away, or bring ${panel === 'time' ? 'it' : 'them'} back`,
        group: 'Frame',
        keys,
        run: () => desk().fold(panel, !desk().folded.includes(panel)),
      }),
    ),
    {
      id: 'tour',
      name: 'Show me around, in four steps',
      group: 'Frame',
      run: () => desk().set({ tour: 0, only: undefined, folded: [] }),
    },
    {
      id: 'beside',
      name: 'Panels beside the frame, or below it',
      group: 'Frame',
      keys: 'shift+b',
      run: () => {
        const shape = template.frame.height > template.frame.width ? 'upright' : 'wide'
        desk().set({ beside: { ...desk().beside, [shape]: !desk().beside[shape] } })
      },
    },
    { id: 'show-safe', name: 'Safe areas', group: 'Frame', keys: 'f', run: show('safe') },
    { id: 'show-43', name: '4:3 crop', group: 'Frame', run: show('crop43') },
    { id: 'show-916', name: '9:16 crop', group: 'Frame', run: show('crop916') },
    { id: 'show-measures', name: 'Dimension lines', group: 'Frame', keys: 'd', run: show('measures') },
    { id: 'show-numbers', name: 'Part numbers', group: 'Frame', run: show('numbers') },
    { id: 'show-rulers', name: 'Rulers', group: 'Frame', keys: 'r', run: show('rulers') },
    { id: 'show-way', name: "The chosen part's way", group: 'Frame', keys: 'shift+p', run: show('way') },
    {
      id: 'show-onion',
      name: 'Frames of In and the settled pose, faint',
      group: 'Frame',
      keys: 'o',
      run: show('onion'),
    },
    ...backgrounds
      .filter((background) => background !== 'still')
      .map(
        (background): Command => ({
          id: `behind-${background}`,
          name: `Behind the title: ${background}`,
          group: 'Frame',
          run: () => desk().set({ background }),
        }),
      ),
    ...tabs.map(
      (one, i): Command => ({
        id: `tab-${one}`,
        name: `Show ${one}`,
        group: 'Frame',
        keys: `alt+${i + 1}`,
        run: tab(one),
      }),
    ),
  ]
  const time: Command[] = [
    { id: 'first', name: 'Go to the first frame', group: 'Time', keys: 'home', run: () => player.go(0) },
    {
      id: 'settled',
      name: 'Go to the settled pose',
      group: 'Time',
      keys: 'end',
      run: () => player.go(scene.settled(scene.layout(desk().filling.values))),
    },
    {
      id: 'time-nearer',
      name: 'Look nearer at time',
      group: 'Time',
      keys: 'n',
      run: () => desk().set({ nearer: nearerBy(desk().nearer, 1.5) }),
    },
    {
      id: 'time-further',
      name: 'Look at time from further off',
      group: 'Time',
      keys: 'shift+n',
      run: () => desk().set({ nearer: nearerBy(desk().nearer, 1 / 1.5) }),
    },
    {
      id: 'key-before',
      name: 'Go to the key before',
      group: 'Time',
      keys: 'comma',
      run: () => {
        const at = keyTimes()
          .filter((frame) => frame < player.frame)
          .pop()
        if (at !== undefined) player.go(at)
      },
    },
    {
      id: 'key-after',
      name: 'Go to the next key',
      group: 'Time',
      keys: 'period',
      run: () => {
        const at = keyTimes().find((frame) => frame > player.frame)
        if (at !== undefined) player.go(at)
      },
    },
    {
      id: 'update',
      name: 'While it is up: how it goes from one filling to the next',
      group: 'Time',
      run: () => desk().set({ updating: true }),
    },
    {
      id: 'key-here',
      name: 'Set keys here on every channel that has some',
      group: 'Time',
      keys: 'm',
      run: some((c) => {
        attempt(
          (now) => ({
            kind: 'several',
            changes: c.flatMap((id) =>
              Object.keys(findPart(now, id)!.motion.tracks).map((channel) =>
                setKeyAt(now, { part: id, set: 'tracks', channel: channel as 'fade' }, here.span, here.at, undefined),
              ),
            ),
          }),
          'keys at the playhead',
        )
      }),
    },
    ...moves.map(
      (move): Command => ({
        id: `move-${move.id}`,
        name: `Move: ${move.name}`,
        group: 'Time',
        run: some((c) => {
          attempt((now) => putMove(now, c, move, 'in'), move.name)
        }),
      }),
    ),
  ]
  return [...parts, ...draw, ...frame, ...time]
}

/** The frames of the title at which a part has keys. */
function keyFrames(template: Template, id: PartId): number[] {
  const spans = spansNow()
  const starts = { in: 0, hold: spans.in, out: spans.in + spans.hold.frames }
  return keysOf(findPart(template, id)!).map((key) => starts[key.span] + key.at)
}
