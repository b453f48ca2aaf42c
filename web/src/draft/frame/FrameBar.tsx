import { type Frame, fixedAxis, type Part } from '@hoja/core/template'
import {
  AlignHorizontalJustifyStart,
  ChartSpline,
  Circle,
  Eye,
  Image as ImageIcon,
  Layers2,
  Link2,
  Minus,
  MousePointer2,
  PenTool,
  Plus,
  Shapes,
  Slash,
  Spline,
  Square,
  Type,
} from 'lucide-react'
import { memo, useContext, useRef } from 'react'
import { useShallow } from 'zustand/react/shallow'
import { bringFiles, takeIn } from '../../session/bringFiles.ts'
import { useDraft } from '../../session/draft.ts'
import { classes } from '../../ui/controls.tsx'
import { FilePicker } from '../../ui/files.tsx'
import { Menu, type MenuEntry } from '../../ui/Menu.tsx'
import { alignCommands, mirrorDesign, mirrorWords } from '../arrangeCommands.ts'
import { type Background, chosenParts, type Shown, type Tool, useDesk } from '../desk.ts'
import { SceneRef } from '../sceneNow.ts'
import { beginTying } from '../tying/tying.ts'
import { addDrawn } from './adding.ts'
import { freshPart } from './drawn.ts'
import { stepZoom } from './view.ts'

const tools: [Tool, string, typeof Square][] = [
  ['choose', 'Choose and move', MousePointer2],
  ['text', 'Draw a text', Type],
  ['box', 'Draw a box', Square],
  ['ellipse', 'Draw an ellipse', Circle],
  ['line', 'Draw a line', Slash],
  ['path', 'Draw a free path', PenTool],
  ['curve', 'Draw a curve through numbers', ChartSpline],
  ['points', 'Edit the points of a path', Spline],
]
const backgroundWords: [Background, string][] = [
  ['footage', 'demo footage'],
  ['grey', 'grey'],
  ['checks', 'checks'],
  ['white', 'white'],
  ['black', 'black'],
]
const shownWords: [keyof Shown, string][] = [
  ['safe', 'safe areas'],
  ['crop43', '4:3 crop'],
  ['crop916', '9:16 crop'],
  ['measures', 'dimension lines'],
  ['numbers', 'part numbers'],
  ['rulers', 'rulers'],
  ['way', "the chosen part's way"],
  ['onion', 'frames of In, faint'],
]

/** Above the frame: what a press on it does, how parts are arranged, and how it is looked at. */
export const FrameBar = memo(function FrameBar({
  frame,
  size,
  scale,
}: {
  frame: Frame
  size: { width: number; height: number }
  scale: number
}) {
  const desk = useDesk(useShallow(({ tool, background, show, solo, set }) => ({ tool, background, show, solo, set })))
  const scenes = useContext(SceneRef)
  const now = () => useDraft.getState().template!
  const still = useRef<HTMLInputElement>(null)
  const artwork = useRef<HTMLInputElement>(null)
  const restNow = () => scenes.current!.layout(useDesk.getState().filling.values).rest
  const addPicture = (name: string) => {
    const media = now().media.find((m) => m.name === name)
    const part = freshPart(now(), 'picture')
    const k = media ? Math.min(1, (frame.height * 0.5) / media.height) : 1
    const picture = {
      ...part,
      x: fixedAxis(200, Math.round((media?.width ?? 320) * k)),
      y: fixedAxis(200, Math.round((media?.height ?? 180) * k)),
      style: { picture: name },
    } as Part
    addDrawn(now(), picture, restNow())
  }
  const bring = (files: readonly File[]) =>
    bringFiles(files, (brought, file) => {
      const stands = takeIn(brought, file)
      if (stands && brought.part) desk.set({ selected: brought.part.id })
      if (stands && brought.picture) addPicture(brought.picture)
      return stands
    })
  const pictures = (): (MenuEntry | string | null)[] => [
    ...(now().media.length > 0 ? ['carried by the template'] : []),
    ...now().media.map((media) => ({ label: media.name, onSelect: () => addPicture(media.name) })),
    ...(now().media.length > 0 ? [null] : []),
    { label: 'from a file: picture, layers or SVG artwork …', onSelect: () => artwork.current?.click() },
  ]
  return (
    <div
      className="@container flex min-w-0 items-center gap-0.5 overflow-hidden border-b border-rule bg-paper px-2"
      role="toolbar"
      aria-label="Frame tools"
    >
      {tools.map(([tool, name, Icon]) => (
        <button
          key={tool}
          type="button"
          aria-label={name}
          title={name}
          aria-pressed={desk.tool === tool}
          onClick={() => desk.set({ tool })}
          className={classes(
            'flex size-6 items-center justify-center rounded-[3px]',
            desk.tool === tool ? 'bg-leaf text-white' : 'text-ink hover:bg-leaf-pale',
          )}
        >
          <Icon size={15} strokeWidth={1.75} aria-hidden="true" />
        </button>
      ))}
      <Menu label="Add a picture or artwork" entries={pictures}>
        <ImageIcon size={15} strokeWidth={1.75} aria-hidden="true" />
      </Menu>
      <FilePicker
        ref={artwork}
        label="Picture or artwork"
        accept=".svg,.ora,.png,.jpg,.jpeg,.webp"
        onFiles={(files) => void bring(files)}
      />
      <span className="mx-1 h-4 border-l border-rule" />
      <Menu
        label="Arrange the chosen parts"
        entries={() => [
          ...alignCommands(now(), scenes.current!, chosenParts(useDesk.getState())),
          null,
          { label: mirrorWords, onSelect: () => mirrorDesign(scenes.current!) },
        ]}
      >
        <AlignHorizontalJustifyStart size={15} strokeWidth={1.75} aria-hidden="true" />
        <span className="whitespace-nowrap @max-[620px]:sr-only">Arrange</span>
      </Menu>
      <button
        type="button"
        title="Hoja reads what the chosen parts, or all, were drawn to hold to: Y"
        className="flex h-6 items-center gap-1 rounded-[3px] px-1.5 text-xs font-medium hover:bg-leaf-pale"
        onClick={beginTying}
      >
        <Link2 size={15} strokeWidth={1.75} aria-hidden="true" />
        <span className="whitespace-nowrap @max-[620px]:sr-only">Tie as drawn</span>
      </button>
      <span className="flex-1" />
      <Menu
        label="What stands behind the title"
        align="end"
        entries={() => [
          ...backgroundWords.map(([background, label]) => ({
            label,
            checked: desk.background === background,
            onSelect: () => desk.set({ background }),
          })),
          {
            label: 'a still of your own …',
            checked: desk.background === 'still',
            onSelect: () => still.current?.click(),
          },
        ]}
      >
        <Layers2 size={15} strokeWidth={1.75} aria-hidden="true" />
        <span className="whitespace-nowrap @max-[520px]:sr-only">Behind</span>
      </Menu>
      <FilePicker
        ref={still}
        label="A still to stand behind the title"
        accept="image/*"
        onFiles={([file]) => desk.set({ background: 'still', still: URL.createObjectURL(file!) })}
      />
      <Menu
        label="What is drawn over the frame"
        align="end"
        entries={() =>
          shownWords.map(([key, label]) => ({
            label,
            checked: desk.show[key],
            onSelect: () => desk.set({ show: { ...desk.show, [key]: !desk.show[key] } }),
          }))
        }
      >
        <Eye size={15} strokeWidth={1.75} aria-hidden="true" />
        <span className="whitespace-nowrap @max-[520px]:sr-only">Show</span>
      </Menu>
      {desk.solo.length > 0 && (
        <button
          type="button"
          className="flex h-6 items-center gap-1 rounded-[3px] bg-look px-1.5 text-xs font-medium text-white"
          onClick={() => desk.set({ solo: [] })}
        >
          <Shapes size={13} aria-hidden="true" /> Solo: end
        </button>
      )}
      <span className="mx-1 h-4 border-l border-rule" />
      <button
        type="button"
        aria-label="Zoom out"
        className="flex size-6 items-center justify-center rounded-[3px] hover:bg-leaf-pale"
        onClick={() => stepZoom(size, frame, 1 / 1.25)}
      >
        <Minus size={14} aria-hidden="true" />
      </button>
      <Menu
        label="Zoom"
        align="end"
        entries={() => [
          { label: 'fit', keys: '0', onSelect: () => desk.set({ zoom: undefined, pan: { x: 0, y: 0 } }) },
          ...[0.25, 0.5, 1, 2, 4].map((zoom) => ({
            label: `${zoom * 100} %`,
            ...(zoom === 1 ? { keys: '1' } : {}),
            onSelect: () => desk.set({ zoom, pan: { x: 0, y: 0 } }),
          })),
        ]}
      >
        <span className="w-11 text-right">{Math.round(scale * 100)} %</span>
      </Menu>
      <button
        type="button"
        aria-label="Zoom in"
        className="flex size-6 items-center justify-center rounded-[3px] hover:bg-leaf-pale"
        onClick={() => stepZoom(size, frame, 1.25)}
      >
        <Plus size={14} aria-hidden="true" />
      </button>
    </div>
  )
})
