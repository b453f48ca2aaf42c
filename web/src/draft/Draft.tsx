import type { Scene } from '@hoja/core/scene'
import { findPart, numberedParts, type Part, type Template } from '@hoja/core/template'
import { Tabs } from 'radix-ui'
import { type ReactNode, useEffect, useRef } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useParams } from 'react-router'
import { usePlayer } from '../preview/usePlayer.ts'
import { useScene } from '../preview/useScene.ts'
import { useTransport } from '../preview/useTransport.ts'
import { DraftBar } from '../session/DraftBar.tsx'
import { useDraft } from '../session/draft.ts'
import { classes, Empty } from '../ui/controls.tsx'
import { Header } from '../ui/Header.tsx'
import { useDesk } from './desk.ts'
import { EdgesTable } from './EdgesTable.tsx'
import { FrameView } from './FrameView.tsx'
import { LookPanel } from './LookPanel.tsx'
import { MattePanel } from './MattePanel.tsx'
import { MotionPanel } from './MotionPanel.tsx'
import { moveBy } from './nudge.ts'
import { PartsList } from './PartsList.tsx'
import { Proofs } from './Proofs.tsx'
import { TimeView } from './TimeView.tsx'

type Panel = (props: { template: Template; scene: Scene; part: Part }) => ReactNode
const panels: [string, Panel][] = [
  ['edges', EdgesTable],
  ['look', LookPanel],
  ['motion', MotionPanel],
  ['matte', MattePanel],
]

/** The drawing desk: parts, frame, where the chosen part rests and how it gets there, proofs. */
export default function Draft() {
  const { id } = useParams()
  const { template, open, change } = useDraft()
  const { selected, set, pick } = useDesk()
  const { scene, error } = useScene(template)
  useEffect(() => {
    set({ selected: undefined, filling: { name: 'as drawn', values: {} }, pick: undefined })
    void open(id!)
  }, [id, open, set])
  const spans = template?.spans
  const total = spans ? spans.in + spans.hold.frames + spans.out : 1
  const rate = template ? template.frame.rate.num / template.frame.rate.den : 25
  const player = usePlayer(total, rate, spans?.in ?? 0)
  useTransport(player)
  // The playhead goes to the settled pose once, when a template is opened.
  const opened = useRef<string>(undefined)
  useEffect(() => {
    if (!spans || opened.current === template?.id) return
    opened.current = template?.id
    player.go(spans.in)
  })
  useHotkeys('escape', () => set({ pick: undefined }))
  useHotkeys(
    [
      'alt+left',
      'alt+right',
      'alt+up',
      'alt+down',
      'alt+shift+left',
      'alt+shift+right',
      'alt+shift+up',
      'alt+shift+down',
    ],
    (event) => {
      event.preventDefault()
      const step = event.shiftKey ? 10 : 1
      const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key] ?? [
        0, 0,
      ]
      const part = template && findPart(template, selected ?? '')
      if (part) change(moveBy(part, dx! * step, dy! * step), `moving ${part.name}`)
    },
  )

  if (error) return <Empty title="This template could not be opened">{error.message}</Empty>
  if (!template || template.id !== id || !scene) return <p className="p-6 text-soft">Opening …</p>
  const chosen = numberedParts(template).find((row) => row.part.id === selected)
  return (
    <div className="flex h-full flex-col">
      <Header template={template}>
        <DraftBar />
      </Header>
      <div className="grid min-h-0 flex-1 grid-cols-[212px_minmax(0,1fr)_236px]">
        <PartsList template={template} />
        <main className="grid min-h-0 grid-rows-[minmax(0,3fr)_minmax(250px,2fr)] border-x border-rule">
          <FrameView template={template} scene={scene} player={player} />
          <div className="grid min-h-0 grid-cols-[minmax(380px,9fr)_minmax(0,10fr)] border-t border-rule bg-paper">
            <Tabs.Root defaultValue="edges" className="flex min-h-0 flex-col border-r border-rule">
              <Tabs.List className="flex shrink-0 border-b border-rule px-2" aria-label="The selected part">
                {panels.map(([tab]) => (
                  <Tabs.Trigger
                    key={tab}
                    value={tab}
                    className={classes(
                      'border-b-2 border-transparent px-2.5 py-1.5 text-soft data-[state=active]:border-leaf data-[state=active]:font-semibold data-[state=active]:text-ink',
                    )}
                  >
                    {tab === 'edges'
                      ? `Edges${chosen ? ` of ${chosen.number} ${chosen.part.name}` : ''}`
                      : tab[0]!.toUpperCase() + tab.slice(1)}
                  </Tabs.Trigger>
                ))}
              </Tabs.List>
              <div className="min-h-0 flex-1 overflow-auto">
                {panels.map(([tab, Panel]) => (
                  <Tabs.Content key={tab} value={tab}>
                    {chosen ? (
                      <Panel key={chosen.part.id} template={template} scene={scene} part={chosen.part} />
                    ) : (
                      <p className="px-4 py-5 text-soft">
                        Choose a part in the list or on the frame to see where it rests and why.
                      </p>
                    )}
                  </Tabs.Content>
                ))}
              </div>
            </Tabs.Root>
            <TimeView template={template} player={player} />
          </div>
        </main>
        <Proofs template={template} scene={scene} frame={player.frame} playing={player.speed !== 0} />
      </div>
      {pick && (
        <p
          role="status"
          className="fixed top-14 left-1/2 z-20 -translate-x-1/2 border border-rule bg-white px-3 py-1.5"
        >
          Click the part or safe area that this edge should hold to. Shift adds a part, Escape leaves.
        </p>
      )}
    </div>
  )
}
