import type { Scene } from '@hoja/core/scene'
import { findPart, numberedParts, type Part, type Template } from '@hoja/core/template'
import { Frame as FrameIcon } from 'lucide-react'
import { Tabs } from 'radix-ui'
import { memo, type ReactElement, type ReactNode, useContext, useEffect, useMemo, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useParams } from 'react-router'
import { useShallow } from 'zustand/react/shallow'
import { type Player, usePlayer } from '../preview/usePlayer.ts'
import { useScene } from '../preview/useScene.ts'
import { useSounds } from '../preview/useSounds.ts'
import { useTransport } from '../preview/useTransport.ts'
import { DraftBar } from '../session/DraftBar.tsx'
import { useDraft } from '../session/draft.ts'
import { Header } from '../ui/Header.tsx'
import { MenuHere } from '../ui/Menu.tsx'
import { shortcutWords } from '../ui/shortcutWords.ts'
import { Trouble } from '../ui/Trouble.tsx'
import { Arrangement } from './Arrangement.tsx'
import { CommandPalette } from './CommandPalette.tsx'
import { type Command, commandsOf } from './commands.ts'
import { CommandsNow, forChosen, frameCommands, lyingHere, useCommandEntries } from './commandsNow.ts'
import { chosenParts, type Tab, tabs, untouched, useDesk } from './desk.ts'
import { FrameDialog } from './FrameDialog.tsx'
import { FrameView } from './frame/FrameView.tsx'
import { EasingPanel } from './panels/EasingPanel.tsx'
import { EdgesTable } from './panels/EdgesTable.tsx'
import { MattePanel } from './panels/MattePanel.tsx'
import { MotionPanel } from './panels/MotionPanel.tsx'
import { MovesPanel } from './panels/MovesPanel.tsx'
import { PasteLines } from './panels/PasteLines.tsx'
import { StylePanel } from './panels/StylePanel.tsx'
import { PartsList } from './parts/PartsList.tsx'
import { Proofs } from './proofs/Proofs.tsx'
import { SceneContext, SceneRef } from './sceneNow.ts'
import { Tour } from './Tour.tsx'
import { TimeView } from './time/TimeView.tsx'
import { useSpans } from './time/useSpans.ts'
import { TyingPanel } from './tying/TyingPanel.tsx'
import { useTying } from './tying/tying.ts'
import { UpdateDialog } from './UpdateDialog.tsx'

interface Drawing {
  template: Template
  scene: Scene
  player: Player
}
type Panel = (props: Drawing & { part: Part }) => ReactNode
const panels: Record<Tab, Panel> = {
  edges: EdgesTable,
  style: StylePanel,
  motion: MotionPanel,
  moves: MovesPanel,
  easing: EasingPanel,
  matte: MattePanel,
}

/** The drawing desk: parts, frame, where the chosen part rests and how it gets there, proofs. */
export default function Draft() {
  const { id } = useParams()
  const template = useDraft((draft) => draft.template)
  const trouble = useDraft((draft) => draft.trouble)
  const { open } = useDraft.getState()
  const { set } = useDesk.getState()
  const { scene, error } = useScene(template)
  const sceneNow = useRef(scene)
  sceneNow.current = scene
  useEffect(() => {
    set(untouched)
    void open(id!)
  }, [id, open, set])
  if (trouble && template?.id !== id) return <Trouble error={trouble} what="template" onAgain={() => void open(id!)} />
  if (error) return <Trouble error={error} what="template" onAgain={() => location.reload()} />
  if (!template || template.id !== id || !scene) return <p className="p-6 text-soft">Opening …</p>
  return (
    <SceneRef value={sceneNow}>
      <SceneContext value={scene}>
        <Desk />
      </SceneContext>
    </SceneRef>
  )
}

/** The desk itself is drawn once: what goes along with the drawing looks at it by itself. */
const Desk = memo(function Desk() {
  const { set } = useDesk.getState()
  const [calling, setCalling] = useState(false)
  const [framing, setFraming] = useState(false)
  const pasting = useDesk((desk) => desk.pasting)
  const updating = useDesk((desk) => desk.updating)
  const named = useDraft(useShallow(({ template }) => ({ id: template!.id, name: template!.name })))
  const spans = useSpans()
  const frame = useDraft((draft) => draft.template!.frame)
  const scene = useContext(SceneRef)
  const total = spans.in + spans.hold.frames + spans.out
  // Where it is seen as it is: what runs has filled its window by then.
  const [begin] = useState(() => scene.current?.settled(scene.current.layout({})) ?? spans.in)
  const player = usePlayer(total, frame.rate.num / frame.rate.den, begin)
  useTransport(player)
  useHotkeys('escape', () => set({ pick: undefined }))
  // Worked out when they are asked for: a drag changes the template at every step.
  const now = useRef<() => Command[]>(() => [])
  now.current = () => commandsOf(useDraft.getState().template!, scene.current!, player)
  const asked = useMemo(() => ({ current: () => now.current() }), [])
  const keyed = useMemo(() => now.current().filter((command) => command.keys), [])
  return (
    <CommandsNow value={asked}>
      <div className="flex h-full flex-col">
        <Header
          template={named}
          shortcuts={keyed.map((c): [string, string] => [shortcutWords(c.keys!), c.name.toLowerCase()])}
        >
          <button
            type="button"
            className="flex h-7 items-center gap-1.5 rounded-[3px] px-2 text-soft hover:bg-chalk hover:text-ink"
            title="Name, frame size, rate and safe areas"
            onClick={() => setFraming(true)}
          >
            <FrameIcon size={14} aria-hidden="true" /> {frame.width} × {frame.height}
          </button>
          <button
            type="button"
            className="flex h-7 items-center gap-1 rounded-[3px] px-2 text-soft hover:bg-chalk hover:text-ink"
            title="Everything that can be done here, by name: Ctrl K"
            onClick={() => setCalling(true)}
          >
            Commands
          </button>
          <DraftBar />
        </Header>
        <Arrangement
          upright={frame.height > frame.width}
          parts={<PartsList />}
          frame={
            // Here, so that a drag step does not draw the menu anew.
            <FrameMenu>
              <div className="grid min-h-0 min-w-0">
                <Drawn of={FrameView} player={player} />
              </div>
            </FrameMenu>
          }
          panels={<Below player={player} />}
          time={<TimeView player={player} />}
          proofs={<Proofs frame={player.frame} playing={player.speed !== 0} />}
        />
        <Drawn of={Timed} player={player} />
        <Shortcuts keyed={keyed} now={now} />
        <CommandPalette commands={calling ? now.current() : []} open={calling} onOpen={setCalling} />
        <Tour />
        {pasting && <PasteLines clipping={pasting} onClose={() => set({ pasting: undefined })} />}
        {updating && <UpdateDialog onClose={() => set({ updating: false })} />}
        {framing && <FrameDialog template={useDraft.getState().template!} onClose={() => setFraming(false)} />}
      </div>
    </CommandsNow>
  )
})

/** The menu where the pointer is on the frame: of the chosen parts, or of the frame where none is. */
function FrameMenu({ children }: { children: ReactElement }) {
  const entries = useCommandEntries()
  return (
    <MenuHere
      entries={() => [
        ...lyingHere(),
        ...entries(chosenParts(useDesk.getState()).length > 0 ? forChosen() : frameCommands),
      ]}
    >
      {children}
    </MenuHere>
  )
}

/** What goes along with the drawing: drawn anew with each of its states. */
function Drawn({ of: Shown, player }: { of: (props: Drawing) => ReactNode; player: Player }) {
  const template = useDraft((draft) => draft.template)
  const scene = useContext(SceneContext)
  return template && scene && <Shown template={template} scene={scene} player={player} />
}

/** What goes by the time of the title in the frame: its sounds, and how long Hold is where its lists say so. */
function Timed({ template, scene, player }: Drawing) {
  const { values } = useDesk((desk) => desk.filling)
  const layout = scene.layout(values)
  const timing = scene.timing(layout)
  const { hold } = scene.entries(layout)
  useSounds(template, timing, player)
  const turns = useRef(timing.turns)
  if (JSON.stringify(turns.current) !== JSON.stringify(timing.turns)) turns.current = timing.turns
  const stood = turns.current
  useEffect(() => useDesk.getState().set({ hold, turns: stood }), [hold, stood])
  return null
}

/** The chosen part as the parts list numbers it. */
function useChosen(): { number: number; name: string; kind: string; id: string } | undefined {
  const selected = useDesk((desk) => desk.selected)
  return useDraft(
    useShallow((draft) => {
      const row = numberedParts(draft.template!).find(({ part }) => part.id === selected)
      return row && { number: row.number, name: row.part.name, kind: row.part.kind, id: row.part.id }
    }),
  )
}

/** Under the frame: what was read from the drawing, while somebody looks through it, or what is set on the chosen part. */
function Below({ player }: { player: Player }) {
  const isTying = useDesk((desk) => desk.tying !== undefined)
  return isTying ? <Drawn of={Tied} player={player} /> : <PartPanels player={player} />
}

function Tied({ scene }: Drawing) {
  const read = useTying(scene)
  return read && <TyingPanel scene={scene} {...read} />
}

/** What is set on the chosen part, by its tabs. */
function PartPanels({ player }: { player: Player }) {
  const { also, tab, set } = useDesk(useShallow(({ also, tab, set }) => ({ also, tab, set })))
  const chosen = useChosen()
  return (
    <Tabs.Root
      value={tab}
      onValueChange={(value) => set({ tab: value as Tab })}
      className="flex min-h-0 min-w-0 flex-col"
    >
      <Tabs.List
        className="flex h-[34px] shrink-0 items-stretch border-b border-rule px-1.5"
        aria-label="The selected part"
      >
        {tabs.map((one) => (
          <Tabs.Trigger
            key={one}
            value={one}
            className="border-b-2 border-transparent px-2 text-soft data-[state=active]:border-leaf data-[state=active]:font-semibold data-[state=active]:text-ink"
          >
            {one[0]!.toUpperCase() + one.slice(1)}
          </Tabs.Trigger>
        ))}
        {chosen && (
          <span className="ml-auto max-w-28 self-center truncate pl-2 text-xs text-soft" title={chosen.name}>
            of {chosen.number} {chosen.name}
            {also.length > 0 && ` + ${also.length}`}
          </span>
        )}
      </Tabs.List>
      <Tabs.Content value={tab} className="min-h-0 flex-1 overflow-auto">
        {chosen ? (
          <Drawn key={chosen.id} of={panelOf[tab]} player={player} />
        ) : (
          <p className="px-4 py-5 text-soft">
            Choose a part in the list or on the frame to see where it rests and why.
          </p>
        )}
      </Tabs.Content>
    </Tabs.Root>
  )
}

/** The panel of each tab, for the part that is chosen. */
const panelOf = Object.fromEntries(
  tabs.map((tab) => [
    tab,
    ({ template, ...drawing }: Drawing) => {
      const Shown = panels[tab]
      const selected = useDesk((desk) => desk.selected)
      const part = findPart(template, selected!)
      return part && <Shown template={template} {...drawing} part={part} />
    },
  ]),
) as Record<Tab, (props: Drawing) => ReactNode>

/** The keys of all commands; each runs what its command is at that moment. */
const Shortcuts = memo(function Shortcuts({
  keyed,
  now,
}: {
  keyed: readonly Command[]
  now: React.RefObject<() => Command[]>
}) {
  return keyed.map(({ id, keys }) => (
    <Shortcut
      key={id}
      keys={keys!}
      run={() =>
        now
          .current()
          .find((command) => command.id === id)
          ?.run()
      }
    />
  ))
})

function Shortcut({ keys, run }: { keys: string; run: () => void }) {
  useHotkeys(keys, run, { preventDefault: true })
  return null
}
