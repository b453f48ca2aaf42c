import {
  copyKeys,
  gatherFirstKeys,
  keysOf,
  offsetKeys,
  pasteKeys,
  removeKeys,
  resetMotion,
  reverseKeys,
  spreadKeys,
  stagger,
  withOut,
} from '@hoja/core/motion'
import { findPart, type Part } from '@hoja/core/template'
import { lengthText } from '@hoja/core/time'
import { ChevronDown } from 'lucide-react'
import { useState } from 'react'
import type { Player } from '../../preview/usePlayer.ts'
import { useDraft } from '../../session/draft.ts'
import { Button } from '../../ui/controls.tsx'
import { counted } from '../../ui/counted.ts'
import { LengthInput } from '../../ui/FrameInputs.tsx'
import { Menu, type MenuEntry } from '../../ui/Menu.tsx'
import { timeWidth, useTimes } from '../../ui/times.ts'
import { chosenParts, useDesk } from '../desk.ts'
import { spanAt } from './spans.ts'
import { spansNow } from './useSpans.ts'

/** What can be done with chosen keys and the motion of chosen parts. */
export function useKeyEntries(player: Player): () => (MenuEntry | string | null)[] {
  const { attempt } = useDraft.getState()
  return () => {
    const desk = useDesk.getState()
    const now = () => useDraft.getState().template!
    const { keys } = desk
    const parts = chosenParts(desk)
    const here = () => spanAt(spansNow(), player.frame)
    const none = keys.length === 0
    const out = (to: Part['motion']['out']) =>
      attempt(
        (now) => ({
          kind: 'several',
          changes: parts.map((id) => ({
            kind: 'motion',
            part: id,
            motion: withOut(findPart(now, id)!.motion, now.spans, to),
          })),
        }),
        to === 'mirror' ? 'mirroring Out' : 'letting Out go',
      )
    return [
      none ? 'No keys are chosen' : `${counted(keys.length, 'key')} chosen`,
      {
        label: 'Copy',
        disabled: none,
        onSelect: () => desk.set({ copiedKeys: copyKeys(now(), keys) }),
      },
      {
        label: `Paste at frame ${player.frame} on the chosen part`,
        disabled: desk.copiedKeys.length === 0 || !desk.selected,
        onSelect: () =>
          attempt((now) => pasteKeys(now, desk.copiedKeys, desk.selected!, here().span, here().at), 'pasting keys'),
      },
      {
        label: 'Reverse in time',
        disabled: none,
        onSelect: () => attempt((now) => reverseKeys(now, keys), 'reversing keys') && desk.set({ keys: [] }),
      },
      {
        label: 'Remove',
        disabled: none,
        onSelect: () => attempt((now) => removeKeys(now, keys), 'removing keys') && desk.set({ keys: [] }),
      },
      null,
      parts.length === 0 ? 'No parts are chosen' : `${counted(parts.length, 'part')} chosen`,
      {
        label: 'All its keys',
        disabled: parts.length === 0,
        onSelect: () => desk.set({ keys: parts.flatMap((id) => keysOf(findPart(now(), id)!)) }),
      },
      {
        label: `First keys to frame ${here().span === 'in' ? here().at : 0}`,
        disabled: parts.length === 0,
        onSelect: () =>
          attempt(
            (now) => gatherFirstKeys(now, parts, here().span === 'in' ? here().at : 0),
            'first keys to one frame',
          ),
      },
      { label: 'Out mirrors In', disabled: parts.length === 0, onSelect: () => out('mirror') },
      { label: 'Out has keys of its own', disabled: parts.length === 0, onSelect: () => out('own') },
      {
        label: 'Reset the motion',
        disabled: parts.length === 0,
        onSelect: () => attempt((now) => resetMotion(now, parts), 'resetting motion') && desk.set({ keys: [] }),
      },
    ]
  }
}

export function KeyMenu({ player }: { player: Player }) {
  return (
    <span className="ml-auto">
      <Menu label="Keys" align="end" className="!text-leaf" entries={useKeyEntries(player)}>
        Keys <ChevronDown size={12} aria-hidden="true" />
      </Menu>
    </span>
  )
}

/** Under the lanes, when several parts or keys are chosen: stagger, offset, spread. */
export function Several({ player }: { player: Player }) {
  const desk = useDesk()
  const { attempt } = useDraft.getState()
  const [apart, setApart] = useState(3)
  const spelling = useTimes((times) => times.spelling)
  const { rate } = useDraft((draft) => draft.template!.frame)
  const parts = chosenParts(desk)
  const times = new Set(desk.keys.map((key) => `${key.part}${key.span}${key.at}`))
  if (parts.length < 2 && times.size < 2) return null
  const staggered = (ids: string[]) => attempt((now) => stagger(now, ids, apart), 'a stagger')
  const { keys } = desk
  return (
    <div className="flex shrink-0 flex-wrap items-center gap-1.5 border-t border-rule px-3 py-1">
      <span className="whitespace-nowrap text-soft">
        {parts.length > 1 ? `${counted(parts.length, 'part')},` : `${counted(times.size, 'key')},`}
      </span>
      <span>
        <LengthInput
          aria-label="How far apart"
          className="!h-6 !px-1"
          style={{ width: timeWidth[spelling] + 6 }}
          rate={rate}
          max={1000}
          value={apart}
          onValue={setApart}
        />
      </span>
      <span className="whitespace-nowrap text-soft">
        {spelling === 'frames' && 'frames'}
        {parts.length > 1 && ' apart'}
      </span>
      {parts.length > 1 && (
        <>
          <Button small onClick={() => staggered(parts)}>
            Stagger
          </Button>
          <Button small onClick={() => staggered([...parts].reverse())}>
            Stagger backwards
          </Button>
          <Button
            small
            disabled={keys.length === 0}
            onClick={() => attempt((now) => offsetKeys(now, keys, apart), 'offsetting keys') && desk.set({ keys: [] })}
          >
            Offset keys
          </Button>
          <Button
            small
            onClick={() =>
              attempt(
                (now) => gatherFirstKeys(now, parts, Math.min(player.frame, now.spans.in)),
                'first keys to one frame',
              )
            }
          >
            First keys here
          </Button>
        </>
      )}
      {times.size > 1 && (
        <Button
          small
          onClick={() => attempt((now) => spreadKeys(now, keys, apart), 'spreading keys') && desk.set({ keys: [] })}
        >
          Spread over {lengthText(apart, rate, spelling)}
        </Button>
      )}
    </div>
  )
}
