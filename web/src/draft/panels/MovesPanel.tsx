import { type Move, moveOf, moves, putMove, type SavedMove, saveMove } from '@hoja/core/motion'
import { boundsOf } from '@hoja/core/paint'
import { Scene } from '@hoja/core/scene'
import { allParts, edit, type Part, type Template } from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { toast } from 'sonner'
import { api } from '../../api.ts'
import { FrameCanvas } from '../../preview/FrameCanvas.tsx'
import { useDraft } from '../../session/draft.ts'
import { Choice } from '../../ui/Choice.tsx'
import { Button, TextInput } from '../../ui/controls.tsx'
import { useWrite } from '../../ui/useWrite.ts'
import { chosenParts, useDesk } from '../desk.ts'

const tile = { width: 112, height: 50 }

/** The library of moves, each shown on the chosen part itself; a click puts it on In, or backwards on Out. */
export function MovesPanel({ template, scene, part }: { template: Template; scene: Scene; part: Part }) {
  const desk = useDesk()
  const { attempt } = useDraft.getState()
  const [where, setWhere] = useState<'in' | 'out'>('in')
  const [name, setName] = useState('')
  const own = useQuery({ queryKey: ['moves'], queryFn: () => api.moves() })
  const ids = chosenParts(desk)
  const fits = (move: Move) => move.kinds.includes(part.kind)
  const put = (move: Move) =>
    attempt(
      (now) => putMove(now, ids, move, where),
      `${move.name} on ${ids.length > 1 ? `${ids.length} parts` : part.name}`,
    )
  const keeping = useWrite(
    async (named: string) => {
      const { id: _, ...move } = saveMove(template, part.id, '', named)
      return api.saveMove(move)
    },
    {
      changes: [['moves']],
      onDone: (move) => {
        toast.success(`"${move.name}" is in the library.`)
        setName('')
      },
    },
  )
  const keep = () => keeping.mutate(name.trim())
  const removing = useWrite(api.removeMove, { changes: [['moves']] })
  const remove = ({ id }: SavedMove) => removing.mutate({ id })
  return (
    <div className="px-3.5 py-2">
      <Choice
        label="Where the move goes"
        value={where}
        options={[
          ['in', `On In${part.motion.out === 'mirror' ? ', Out mirrors it' : ''}`],
          ['out', 'On Out, backwards'],
        ]}
        onValue={setWhere}
      />
      <div className="mt-2 grid grid-cols-[repeat(auto-fill,112px)] gap-2">
        {moves.filter(fits).map((move) => (
          <Tile key={move.id} move={move} scene={scene} part={part} onPut={() => put(move)} />
        ))}
      </div>
      {(own.data?.length ?? 0) > 0 && <h3 className="mt-3 text-xs font-medium text-soft">Your own</h3>}
      <div className="mt-1 grid grid-cols-[repeat(auto-fill,112px)] gap-2">
        {own.data
          ?.filter((saved) => fits(moveOf(saved)))
          .map((saved) => (
            <div key={saved.id}>
              <Tile move={moveOf(saved)} scene={scene} part={part} onPut={() => put(moveOf(saved))} />
              <button
                type="button"
                className="text-xs text-soft hover:text-stop"
                aria-label={`Remove the move ${saved.name}`}
                onClick={() => void remove(saved)}
              >
                remove
              </button>
            </div>
          ))}
      </div>
      <div className="mt-3 flex gap-1 border-t border-rule pt-2">
        <TextInput
          aria-label="Name of the new move"
          placeholder={`Name for the keys of ${part.name}`}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button small className="!h-7" disabled={name.trim() === ''} onClick={() => void keep()}>
          Save as a move
        </Button>
      </div>
    </div>
  )
}

/** A part alone, with a move on it. */
function useMoved(scene: Scene, part: Part, move: Move): Scene {
  return useMemo(() => {
    const alone = (other: Part): Part =>
      other.id === part.id
        ? other
        : other.parts
          ? { ...other, parts: other.parts.map(alone) }
          : ({ ...other, style: { ...other.style, opacity: 0 } } as Part)
    const isInside = new Set(allParts([part]).map((p) => p.id))
    const keep = (other: Part): Part => (isInside.has(other.id) ? other : alone(other))
    const base = { ...scene.template, parts: scene.template.parts.map(keep) }
    return new Scene(edit(base, putMove(base, [part.id], move, 'in')), scene.assets)
  }, [scene, part, move])
}

function Tile({ move, scene, part, onPut }: { move: Move; scene: Scene; part: Part; onPut: () => void }) {
  const { filling } = useDesk()
  const moved = useMoved(scene, part, move)
  const [playing, setPlaying] = useState(false)
  const [frame, setFrame] = useState<number>()
  const frames = scene.template.spans.in
  const rate = scene.template.frame.rate.num / scene.template.frame.rate.den
  useEffect(() => {
    if (!playing) {
      setFrame(undefined)
      return
    }
    const begun = performance.now()
    let request = requestAnimationFrame(function tick(now) {
      // In, then a rest of two thirds of a second, over and over.
      // A frame's own time can lie before the moment that asked for it.
      const at = Math.floor((Math.max(0, now - begun) / 1000) * rate) % Math.ceil(frames + rate * 0.66)
      setFrame(Math.min(frames, at))
      request = requestAnimationFrame(tick)
    })
    return () => cancelAnimationFrame(request)
  }, [playing, frames, rate])
  const layout = scene.layout(filling.values)
  const crop = useMemo(() => {
    const items = moved.restFrame(moved.layout(filling.values)).items
    const touched = boundsOf(items) ?? { x: 0, y: 0, width: 320, height: 140 }
    const width = Math.max(touched.width * 1.3, touched.height * 1.6 * (tile.width / tile.height), 60)
    const height = (width * tile.height) / tile.width
    return {
      x: touched.x + touched.width / 2 - width / 2,
      y: touched.y + touched.height / 2 - height / 2,
      width,
      height,
    }
  }, [moved, filling.values])
  const still = Math.max(0, Math.round(frames * 0.45))
  return (
    <button
      type="button"
      title={move.note}
      aria-label={`${move.name}: ${move.note}`}
      className="block text-left"
      onClick={onPut}
      onPointerEnter={() => setPlaying(true)}
      onPointerLeave={() => setPlaying(false)}
      onFocus={() => setPlaying(true)}
      onBlur={() => setPlaying(false)}
    >
      <span
        className="relative block overflow-hidden bg-grey outline-1 outline-rule hover:outline-2 hover:outline-leaf"
        style={tile}
      >
        {!layout.rest.gone[layout.rest.order.index.get(part.id)!] && (
          <FrameCanvas
            scene={moved}
            values={filling.values}
            frame={frame ?? still}
            width={tile.width}
            crop={crop}
            label={move.name}
          />
        )}
      </span>
      <span className="block truncate text-xs">{move.name}</span>
    </button>
  )
}
